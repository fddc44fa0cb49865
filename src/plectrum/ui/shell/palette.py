"""The command palette: every command by a few letters of its name."""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import dataclass

from PySide6.QtCore import QEvent, QObject, QSize, Qt
from PySide6.QtGui import QAction, QKeyEvent, QKeySequence
from PySide6.QtWidgets import (
    QDialog,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QMenu,
    QMenuBar,
    QVBoxLayout,
    QWidget,
)

from plectrum.core.wording import say, tr
from plectrum.ui.look.labels import label
from plectrum.ui.look.room import open_within

SHOWN_N = 12
WHOLE_WORD = 79.0  # scores from here on hold the very letters that were typed


@dataclass(frozen=True)
class Command:
    """One thing that can be done, where it is in the menus, and its key."""

    text: str
    keys: str
    run: Callable[[], object]


def commands_of(menu_bar: QMenuBar) -> list[Command]:
    """Every enabled command of the menus, those of submenus too."""
    found: list[Command] = []
    for top in menu_bar.actions():
        menu = top.menu()
        if isinstance(menu, QMenu):
            _collect(menu, plain(top.text()), found)
    return found


def _collect(menu: QMenu, path: str, found: list[Command]) -> None:
    menu.aboutToShow.emit()  # menus that fill themselves do so now
    for action in menu.actions():
        inner = action.menu()
        if isinstance(inner, QMenu):
            _collect(inner, f"{path} › {plain(action.text())}", found)
        elif not action.isSeparator() and action.isEnabled() and action.text():
            found.append(_command(action, path))


def _command(action: QAction, path: str) -> Command:
    text = f"{path} › {plain(action.text())}"
    return Command(
        text, action.shortcut().toString(QKeySequence.SequenceFormat.NativeText), action.trigger
    )


def plain(text: str) -> str:
    """A menu text without its mnemonic and dots."""
    return text.replace("&", "").removesuffix(" …")


def score(query: str, text: str) -> float:
    """How well letters typed in order fit a text: words and beginnings count most; below zero
    where they do not fit at all."""
    query, text = query.lower().strip(), text.lower()
    if not query:
        return 0.0
    if query in text:
        starts = re.search(rf"\b{re.escape(query)}", text) is not None
        return 100.0 + 20 * starts - len(text) / 100
    words = query.split()
    if len(words) > 1 and all(w in text for w in words):
        return 80.0 - len(text) / 100
    at, gaps = -1, 0
    for letter in query.replace(" ", ""):
        following = text.find(letter, at + 1)
        if following < 0:
            return -1.0
        gaps += following - at - 1 if at >= 0 else 0
        at = following
    return 40.0 - gaps


class Palette(QDialog):
    """A line to type in and the commands that fit; Enter does the first."""

    def __init__(
        self,
        commands: list[Command],
        go_to_bar: Callable[[int], object] | None = None,
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("Commands"))
        self._commands = commands
        self._go_to_bar = go_to_bar
        self.line = QLineEdit()
        self.line.setPlaceholderText(tr("What to do, or a bar number"))
        self.line.setAccessibleName(tr("Search for a command"))
        self.list = QListWidget()
        self.list.setObjectName("boxed")
        self.list.setAccessibleName(tr("Commands that fit"))
        self.hint = label("muted", tr("Up and Down choose, Enter does it, Esc closes."))
        column = QVBoxLayout(self)
        column.setContentsMargins(16, 16, 16, 12)
        for widget in (self.line, self.list, self.hint):
            column.addWidget(widget)
        open_within(self, QSize(560, 420))
        self.line.textChanged.connect(self._fill)
        self.line.installEventFilter(self)
        self.list.itemActivated.connect(lambda _: self._run())
        self._found: list[Command] = []
        self._fill("")

    def _fill(self, query: str) -> None:
        ranked = [(score(query, c.text), k, c) for k, c in enumerate(self._commands)]
        ranked = [row for row in ranked if row[0] >= 0]
        ranked.sort(key=lambda row: (-row[0], row[1]))
        if ranked and ranked[0][0] >= WHOLE_WORD:  # then letters strewn about are not meant
            ranked = [row for row in ranked if row[0] >= WHOLE_WORD]
        self._found = [c for _, _, c in ranked[:SHOWN_N]]
        number = re.fullmatch(r"\s*(?:bar\s+)?(\d+)\s*", query)
        if number is not None and self._go_to_bar is not None:
            bar, go = int(number.group(1)), self._go_to_bar
            self._found.insert(0, Command(say("Go to bar {bar}", bar=bar), "", lambda: go(bar)))
        self.list.clear()
        for command in self._found:
            item = QListWidgetItem(command.text + (f"    {command.keys}" if command.keys else ""))
            self.list.addItem(item)
        self.list.setCurrentRow(0)
        if not self._found:
            self.list.addItem(tr("Nothing fits. Try another word."))

    def _run(self) -> None:
        row = self.list.currentRow()
        if 0 <= row < len(self._found):
            command = self._found[row]
            self.accept()
            command.run()

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            step = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}.get(Qt.Key(event.key()))
            if step is not None and self._found:
                self.list.setCurrentRow((self.list.currentRow() + step) % len(self._found))
                return True
            if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
                self._run()
                return True
        return super().eventFilter(watched, event)
