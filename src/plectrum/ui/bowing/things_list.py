"""The list of things to look at: each leads to its place, and many mend themselves on a press."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QKeyEvent, QResizeEvent
from PySide6.QtWidgets import (
    QHBoxLayout,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from plectrum.core.advice.warnings import PlanWarning, Severity
from plectrum.ui.look import theme
from plectrum.ui.look.labels import label
from plectrum.ui.look.plain import tip

SHOWN_N = 3
SIGNS = {Severity.PROBLEM: "▲", Severity.CAUTION: "◆", Severity.NOTE: "·"}


class _List(QListWidget):
    """Enter mends, a click or the arrows lead to the place."""

    mend_wanted = Signal()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.mend_wanted.emit()
            return
        super().keyPressEvent(event)


class ThingsList(QWidget):
    """Warnings of a plan with a button that mends the chosen one."""

    note_wanted = Signal(int)
    mend_wanted = Signal(object)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.warnings: tuple[PlanWarning, ...] = ()
        self.head = label("section", "THINGS TO LOOK AT")
        self.mend_button = QPushButton("Mend this  (Enter)")
        self.mend_button.setObjectName("small")
        self.mend_button.setToolTip("Find the gentlest change that makes it go away, and take it")
        self.mend_button.clicked.connect(self._mend)
        self.list = _List()
        self.list.setAccessibleName("Things to look at")
        self.list.setWordWrap(True)
        self.list.setResizeMode(QListWidget.ResizeMode.Adjust)
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.list.currentRowChanged.connect(self._jump)
        self.list.itemClicked.connect(lambda _: self._jump(self.list.currentRow()))
        self.list.mend_wanted.connect(self._mend)
        top = QHBoxLayout()
        top.setContentsMargins(16, 6, 12, 2)
        top.addWidget(self.head)
        top.addStretch(1)
        top.addWidget(self.mend_button)
        whole = QVBoxLayout(self)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.setSpacing(0)
        whole.addLayout(top)
        whole.addWidget(self.list)

    def show_warnings(self, warnings: tuple[PlanWarning, ...]) -> None:
        """List these; the whole list hides while there is nothing."""
        if warnings == self.warnings:
            return
        self.warnings = warnings
        kept = self.list.currentRow()
        self.list.blockSignals(True)
        self.list.clear()
        for warning in warnings:  # what mends it is said when it has been tried
            item = QListWidgetItem(f"{SIGNS[warning.severity]}  {warning.text}.")
            item.setToolTip(tip(f"{warning.text}."))
            self.list.addItem(item)
        if warnings:
            self.list.setCurrentRow(min(max(kept, 0), len(warnings) - 1))
        self.list.blockSignals(False)
        self._fit()
        self.setVisible(bool(warnings))

    def show_remedy(self, row: int, warning: PlanWarning) -> None:
        """Say of one of the list what was found to mend it."""
        item = self.list.item(row)
        if item is not None and self.warnings[row].text == warning.text:
            item.setText(f"{SIGNS[warning.severity]}  {warning.text}. {warning.remedy}.")
            item.setToolTip(tip(f"{warning.text}. {warning.remedy}."))
            self._fit()

    def _fit(self) -> None:
        """As tall as the first few lines, which wrap where the window is narrow."""
        self.list.doItemsLayout()
        rows = range(min(len(self.warnings), SHOWN_N))
        height = sum(self.list.visualItemRect(self.list.item(k)).height() for k in rows)
        self.list.setFixedHeight(height + theme.px(8))

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._fit()

    def _current(self) -> PlanWarning | None:
        row = self.list.currentRow()
        return self.warnings[row] if 0 <= row < len(self.warnings) else None

    def _jump(self, _row: int) -> None:
        warning = self._current()
        if warning is not None and warning.note is not None:
            self.note_wanted.emit(warning.note)

    def _mend(self) -> None:
        warning = self._current()
        if warning is not None:
            self.mend_wanted.emit(warning)
