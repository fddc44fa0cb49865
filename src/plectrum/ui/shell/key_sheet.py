"""All keys on one sheet, made from the menus themselves."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QSize
from PySide6.QtGui import QKeySequence
from PySide6.QtWidgets import (
    QDialog,
    QDialogButtonBox,
    QGridLayout,
    QHBoxLayout,
    QMenu,
    QMenuBar,
    QVBoxLayout,
    QWidget,
)

from plectrum.core.wording import NOTE_VALUE, tr
from plectrum.ui.look import theme
from plectrum.ui.look.labels import label, scrolling

_WALKING = (
    (tr("Left, Right"), tr("the note before, the next note")),
    (tr("Ctrl+Left, Ctrl+Right"), tr("the bar before, the next bar")),
    (tr("Home, End"), tr("first note, last note")),
    (tr("Shift with these"), tr("extend the selection")),
    (tr("Enter"), tr("keep what is being tried")),
    (tr("Esc"), tr("go back to the plan")),
)

_TYPING = (
    ("a … g", tr("type a note, or change the selected")),
    (tr("Shift with these"), tr("add to the chord")),
    ("1 2 4 8 6", tr("whole, half, quarter, eighth, sixteenth", NOTE_VALUE)),
    (". 3 r", tr("dot, triplet, rest")),
    (tr("Up, Down · Ctrl"), tr("a step · an octave up or down")),
    ("# - n", tr("sharp, flat, natural")),
    ("t s", tr("tie to the next, slur")),
    ("' ^ _", tr("staccato, accent, tenuto")),
    (tr("< > · Alt+Up, Down"), tr("hairpins · louder, softer")),
    ("{ }", tr("repeat from here, repeat to here")),
    (tr("Backspace, Delete"), tr("take out before, after")),
)

Rows = Sequence[tuple[str, str]]
Group = tuple[str, Rows]
COLUMNS_N = 3


class KeySheet(QDialog):
    """Lists every action that has a key, by menu."""

    def __init__(self, menu_bar: QMenuBar, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("Keys"))
        groups: list[Group] = [
            (tr("Walking"), _WALKING),
            (tr("Typing on the Piece screen"), _TYPING),
        ]
        for top in menu_bar.actions():
            menu = top.menu()
            if isinstance(menu, QMenu) and (rows := _keys_of(menu)):
                groups.append((top.text().replace("&", ""), rows))
        groups.sort(key=lambda group: -len(group[1]))
        columns = QHBoxLayout()
        columns.setSpacing(theme.px(32))
        piles: list[list[Group]] = [[] for _ in range(COLUMNS_N)]
        for group in groups:  # the longest first, each on the shortest pile
            min(piles, key=lambda pile: sum(len(rows) + 2 for _, rows in pile)).append(group)
        for pile in piles:
            column = QVBoxLayout()
            column.setSpacing(16)
            for title, rows in pile:
                column.addWidget(_column(title, rows))
            column.addStretch(1)
            columns.addLayout(column)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Close)
        buttons.rejected.connect(self.reject)
        inner = QWidget()
        inner.setLayout(columns)
        scroll = scrolling(inner, "plain", tr("Keys"))
        layout = QVBoxLayout(self)
        layout.setContentsMargins(24, 16, 24, 16)
        layout.addWidget(scroll)
        layout.addWidget(buttons)
        wanted = inner.sizeHint() + QSize(theme.px(72), theme.px(96))
        room = parent.size() if parent is not None else wanted
        self.resize(wanted.boundedTo(room))


def _keys_of(menu: QMenu) -> Rows:
    return [
        (
            a.shortcut().toString(QKeySequence.SequenceFormat.NativeText),
            a.text().replace("&", "").removesuffix(" …"),
        )
        for a in menu.actions()
        if not a.shortcut().isEmpty()
    ]


def _column(title: str, rows: Rows) -> QWidget:
    widget = QWidget()
    grid = QGridLayout(widget)
    grid.setContentsMargins(0, 0, 0, 0)
    grid.setHorizontalSpacing(12)
    grid.setVerticalSpacing(2)
    grid.setColumnStretch(1, 1)
    head = label("section", title.upper())
    grid.addWidget(head, 0, 0, 1, 2)
    for k, (keys, text) in enumerate(rows, start=1):
        name = label("key", keys)
        grid.addWidget(name, k, 0)
        grid.addWidget(label("", text, wrap=True), k, 1)
    return widget
