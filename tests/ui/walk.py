"""A walk through the whole window in one language: every screen and dialog with the demo tunes,
what can be read on them, and what is cut off.

    PLECTRUM_LANGUAGE=pseudo python -m tests.ui.walk FILE.json [--scale 1.5] [--pictures FOLDER]

A process of its own, because the language is fixed when the program starts.
"""

from __future__ import annotations

import argparse
import json
import os
import sys
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PySide6.QtCore import (
    QAbstractListModel,
    QAbstractTableModel,
    QModelIndex,
    Qt,
)
from PySide6.QtGui import QAccessible, QAction, QFontMetrics, QPainter
from PySide6.QtWidgets import (
    QAbstractButton,
    QAbstractItemView,
    QComboBox,
    QDialog,
    QGroupBox,
    QHeaderView,
    QLabel,
    QLineEdit,
    QSpinBox,
    QTabBar,
    QToolButton,
    QWidget,
)
from scripts.screenshots import Camera

from plectrum.core.tracking.simulated import Clumsiness
from plectrum.demo import demo_paths

painted: set[str] = set()


def _note_what_is_painted() -> None:
    """From now on every text that is painted is noted."""
    paint = QPainter.drawText

    def noted(painter: QPainter, *values: Any) -> Any:
        painted.update(v for v in values if isinstance(v, str))
        return paint(painter, *values)

    QPainter.drawText = noted  # type: ignore[method-assign]


def texts(widget: QWidget) -> Iterator[str]:
    """Every text a widget shows or says."""
    yield from (widget.toolTip(), widget.accessibleName(), widget.windowTitle())
    if isinstance(widget, QLabel | QAbstractButton):
        yield widget.text()
    elif isinstance(widget, QComboBox):
        yield from (widget.itemText(k) for k in range(widget.count()))
    elif isinstance(widget, QTabBar):
        yield from (widget.tabText(k) for k in range(widget.count()))
    elif isinstance(widget, QGroupBox):
        yield widget.title()
    elif isinstance(widget, QLineEdit):
        yield widget.placeholderText()
    elif isinstance(widget, QSpinBox):
        yield from (widget.prefix(), widget.suffix(), widget.specialValueText())
    elif isinstance(widget, QAbstractItemView) and widget.model() is not None:
        yield from _items(widget)
    elif hasattr(widget, "placeholderText"):
        yield widget.placeholderText()


def _columns_n(view: QAbstractItemView) -> int:
    model = view.model()
    columns = model.columnCount(view.rootIndex()) if isinstance(model, QAbstractTableModel) else 1
    return max(columns, getattr(view, "columnCount", lambda: 1)())


def _items(view: QAbstractItemView) -> Iterator[str]:
    model, root, columns = view.model(), view.rootIndex(), _columns_n(view)
    for column in range(columns):
        yield str(model.headerData(column, Qt.Orientation.Horizontal) or "")

    def below(parent: QModelIndex) -> Iterator[str]:
        for row in range(model.rowCount(parent)):
            for column in range(columns):
                yield str(model.index(row, column, parent).data() or "")
            yield from below(model.index(row, 0, parent))

    if not isinstance(model, QAbstractListModel):
        yield from below(root)
    else:
        yield from (str(model.index(row, 0).data() or "") for row in range(model.rowCount(root)))


def cut(widget: QWidget) -> str:
    """The text of a widget that has not the room for it, and no tip to show it whole."""
    text = _without_room(widget)
    return "" if text and text in widget.toolTip() else text


def _widest(metrics: QFontMetrics, text: str) -> int:
    return max((metrics.horizontalAdvance(line) for line in text.splitlines()), default=0)


def _without_room(widget: QWidget) -> str:
    metrics = widget.fontMetrics()
    room = widget.width()
    if isinstance(widget, QLabel) and not widget.pixmap():
        if widget.wordWrap():
            needs = widget.heightForWidth(room)
            return widget.text() if needs > widget.height() + 3 else ""
        return widget.text() if widget.minimumSizeHint().width() > room + 2 else ""
    if isinstance(widget, QToolButton | QAbstractButton):
        return widget.text() if widget.text() and widget.sizeHint().width() > room + 2 else ""
    if isinstance(widget, QComboBox):
        shown = widget.currentText()
        return shown if metrics.horizontalAdvance(shown) > room - 24 else ""
    if isinstance(widget, QTabBar):
        longer = widget.sizeHint().width() > room + 2
        return widget.tabText(widget.count() - 1) if longer else ""
    if isinstance(widget, QHeaderView) and widget.model() is not None:
        for k in range(widget.count()):
            text = str(widget.model().headerData(k, widget.orientation()) or "")
            if not widget.isSectionHidden(k) and _widest(metrics, text) > (
                widget.sectionSize(k) - 2
            ):
                return text
    if isinstance(widget, QAbstractItemView) and widget.model() is not None:
        return next(_items_without_room(widget), "")
    return ""


def _items_without_room(view: QAbstractItemView) -> Iterator[str]:
    """The items in sight that end in dots and have no tip."""
    model, columns = view.model(), _columns_n(view)
    deeper = not isinstance(model, QAbstractListModel)

    def below(parent: QModelIndex) -> Iterator[QModelIndex]:
        for row in range(model.rowCount(parent)):
            for column in range(columns):
                yield model.index(row, column, parent)
            if deeper:
                yield from below(model.index(row, 0, parent))

    wraps = getattr(view, "wordWrap", lambda: False)()
    for index in below(view.rootIndex()):
        text, place = str(index.data() or ""), view.visualRect(index)
        if not text or place.isEmpty() or isinstance(view, QHeaderView):
            continue
        needs = view.sizeHintForIndex(index)
        short = needs.height() > place.height() + 2 if wraps else needs.width() > place.width() + 2
        if short and not index.data(Qt.ItemDataRole.ToolTipRole):
            yield text


REST_N = 10  # looks at what is cut off: words that come later have their room a moment after


def _seen(top: QWidget) -> list[QWidget]:
    return [w for w in (top, *top.findChildren(QWidget)) if w.isVisibleTo(top)]


def unnamed(widget: QWidget) -> str:
    """What takes the focus without a name that a screen reader could say, or with its value as
    its name."""
    if not widget.focusPolicy() & Qt.FocusPolicy.TabFocus or widget.focusProxy() is not None:
        return ""
    told = QAccessible.queryAccessibleInterface(widget)
    name, value = told.text(QAccessible.Text.Name), told.text(QAccessible.Text.Value)
    asked = isinstance(widget, QComboBox) and name == value
    return "" if name and not asked else f"{type(widget).__name__} {widget.objectName()} {value}"


class Walk(Camera):
    """One window that is walked through."""

    rest_s = 0.4

    def __init__(self, scale: float, pictures: Path | None) -> None:
        _note_what_is_painted()
        super().__init__(scale)
        self.pictures = pictures
        self.read: dict[str, set[str]] = {}
        self.cut: dict[str, set[str]] = {}
        self.unnamed: dict[str, set[str]] = {}

    def look(self, where: str, whole: QWidget | None = None) -> None:
        """Read what is in sight."""
        self.settle(0.06)
        top = whole or self.window
        read = self.read.setdefault(where, set())
        painted.clear()
        picture = top.grab()
        if self.pictures:
            picture.save(str(self.pictures / f"{where.replace(' ', '-')}.png"))
        read.update(painted)
        for widget in _seen(top):
            read.update(texts(widget))
        self.cut.setdefault(where, set()).update(self._cut_in(top))
        self.unnamed.setdefault(where, set()).update(filter(None, map(unnamed, _seen(top))))
        for action in top.findChildren(QAction):
            read.update((action.text(), action.toolTip(), action.statusTip()))

    def _cut_in(self, top: QWidget) -> set[str]:
        """What is still cut off when the layout has come to rest."""
        for _ in range(REST_N):
            found = {lost for widget in _seen(top) if (lost := cut(widget))}
            if not found:
                break
            self.settle(0.2)
        return found

    def ask(self, where: str, dialog: QDialog) -> None:
        """Read a dialog and close it."""
        dialog.show()
        self.look(where, dialog)
        dialog.reject()


def everywhere(walk: Walk) -> None:
    """All screens and dialogs."""
    walk.look("welcome")
    _without_a_tune(walk)
    for path in (demo_paths()[0], demo_paths()[2]):
        _with_a_tune(walk, path)
    _dialogs(walk)


def _without_a_tune(walk: Walk) -> None:
    window = walk.window
    window.choose_exercise()
    practice, show = window.screen_of("practice"), window.screen_of("show")
    practice.exercises.list.choose("straight-bow")
    walk.until(lambda: not practice.busy and not practice.exercises.busy)
    walk.look("exercises")
    practice.do_it()
    walk.until(lambda: practice.timer.moving.play is not None)
    walk.look("today")
    for k in range(practice.tabs.count()):
        practice.tabs.setCurrentIndex(k)
        walk.look(f"practice {k}")
    practice.tabs.setCurrentIndex(1)
    practice.exercises.list.choose("landings")
    walk.until(lambda: not practice.exercises.busy)
    practice.show_it()
    walk.until(lambda: show.exercise.moving.play is not None)
    walk.look("exercise")
    window.show_screen("log")
    log = window.screen_of("log")
    for k in range(1, log.who.count()):
        log.who.setCurrentIndex(k)
        log.who.activated.emit(k)
        for tab in range(log.tabs.count()):
            log.tabs.setCurrentIndex(tab)
            walk.look(f"log {tab}")


def _with_a_tune(walk: Walk, path: Path) -> None:
    window, name = walk.window, path.stem
    walk.open(path, "piece")
    walk.look(f"{name} piece")
    window.show_screen("player")
    walk.look(f"{name} player")
    window.show_screen("bowing")
    screen = window.screen_of("bowing")
    for action in window.menus.strip_actions.values():
        action.setChecked(True)
    for k in (0, 5, 11):
        screen.select(min(k, len(window.session.plan.part.notes) - 1))  # type: ignore[union-attr]
        walk.look(f"{name} bowing {k}")
    for action in window.menus.strip_actions.values():
        action.setChecked(False)
    screen.start_comparing()
    walk.settle(0.2)
    walk.look(f"{name} comparing")
    screen.stop_comparing()
    _shown(walk, name)
    window.show_screen("handout")
    handout = window.screen_of("handout")
    walk.until(lambda: bool(handout.pages) and not handout.busy)
    walk.look(f"{name} handout")
    window.show_screen("practice")
    practice = window.screen_of("practice")
    walk.until(lambda: practice.programme is not None and not practice.busy)
    for k in range(practice.tabs.count()):
        practice.tabs.setCurrentIndex(k)
        walk.look(f"{name} practice {k}")
    window.show_screen("together")
    walk.settle(0.3)
    walk.look(f"{name} together")


def _shown(walk: Walk, name: str) -> None:
    window = walk.window
    window.show_screen("show")
    show = window.screen_of("show")
    walk.settle(0.2)
    walk.look(f"{name} show")
    show.controls.count_in.setChecked(False)
    show.following.simulated(Clumsiness.ALL)
    walk.settle(0.2)
    show.play()
    walk.settle(1.2)
    walk.look(f"{name} followed")
    show.play()
    show.following.nobody()
    show.open_try_it()
    walk.settle(0.2)
    walk.look(f"{name} try it")
    show.close_try_it()


def _dialogs(walk: Walk) -> None:
    from plectrum.core.files.marking import Marking
    from plectrum.core.score.reading.abc_book import tunes_of
    from plectrum.ui.shell.key_sheet import KeySheet
    from plectrum.ui.shell.marking_dialog import MarkingDialog
    from plectrum.ui.shell.opening_dialogs import AbcDialog, BookDialog
    from plectrum.ui.shell.palette import Palette, commands_of
    from plectrum.ui.shell.preferences import Preferences
    from plectrum.ui.shell.shelf import ShelfDialog
    from plectrum.ui.shell.trouble import ReportDialog
    from plectrum.ui.together.class_dialog import ClassDialog
    from plectrum.ui.together.easier_dialog import EasierDialog
    from plectrum.ui.together.hand_out import HandOutDialog

    window = walk.window
    document = window.session.document
    assert document is not None
    book = "X:1\nT:Low tide\nK:D\nD2\n\nX:2\nT:Ebb\nK:G\nG2\n"
    made: dict[str, Callable[[], QDialog]] = {
        "keys": lambda: KeySheet(window.menuBar(), window),
        "paste ABC": lambda: AbcDialog("", window),
        "book": lambda: BookDialog(tunes_of(book), window),
        "preferences": lambda: Preferences(window.settings, window),
        "marking": lambda: MarkingDialog(Marking.from_dict(window.settings.marking), window),
        "report": lambda: ReportDialog(window),
        "shelf": lambda: ShelfDialog([demo_paths()[0].parent], None, window),
        "palette": lambda: Palette(commands_of(window.menuBar()), None, window),
        "class": lambda: ClassDialog([], "violin", window),
        "easier": lambda: EasierDialog("P1", document.seat_of("P1"), [], window),
        "hand out": lambda: HandOutDialog(3, routine=True, parent=window),
    }
    for where, make in made.items():
        dialog = make()
        if where == "shelf":
            dialog.show()
            walk.settle(2.0)
        walk.ask(where, dialog)


def main() -> None:
    parser = argparse.ArgumentParser()
    parser.add_argument("target", type=Path)
    parser.add_argument("--scale", type=float, default=1.0)
    parser.add_argument("--pictures", type=Path)
    args = parser.parse_args()
    walk = Walk(args.scale, args.pictures)
    everywhere(walk)
    args.target.write_text(
        json.dumps(
            {
                "read": {k: sorted(v) for k, v in walk.read.items()},
                "cut": {k: sorted(v) for k, v in walk.cut.items()},
                "unnamed": {k: sorted(v) for k, v in walk.unnamed.items()},
            },
            ensure_ascii=False,
            indent=1,
        )
    )
    sys.stdout.flush()
    walk.window.end_at_once()
    os._exit(0)


if __name__ == "__main__":
    main()
