"""The list of things to look at, a line a kind: each leads to its places, and many mend
themselves on a press."""

from __future__ import annotations

from collections.abc import Iterator

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QKeyEvent, QResizeEvent
from PySide6.QtWidgets import (
    QHBoxLayout,
    QPushButton,
    QTreeWidget,
    QTreeWidgetItem,
    QVBoxLayout,
    QWidget,
)

from plectrum.core.advice.plan_warning import PlanWarning, Severity
from plectrum.core.advice.things import Thing, things_of
from plectrum.core.wording import several, tr
from plectrum.ui.look import theme
from plectrum.ui.look.plain import tip

SHOWN_N = 3
SIGNS = {Severity.PROBLEM: "▲", Severity.CAUTION: "◆", Severity.NOTE: "·"}
WARNING = Qt.ItemDataRole.UserRole


class _Tree(QTreeWidget):
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
        self.head = QPushButton()
        self.head.setObjectName("fold")
        self.head.setToolTip(tr("Show the list, or put it away"))
        self.head.clicked.connect(self._fold)
        self.mend_button = QPushButton(tr("Mend this  (Enter)"))
        self.mend_button.setObjectName("small")
        self.mend_button.setToolTip(
            tr("Find the gentlest change that makes it go away, and take it")
        )
        self.mend_button.clicked.connect(self._mend)
        self.list = _Tree()
        self.list.setHeaderHidden(True)
        self.list.setAccessibleName(tr("Things to look at"))
        self.list.setWordWrap(True)
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.list.currentItemChanged.connect(lambda *_: self._jump())
        self.list.itemClicked.connect(lambda *_: self._jump())
        self.list.itemExpanded.connect(lambda _: self._fit())
        self.list.itemCollapsed.connect(lambda _: self._fit())
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
        things = things_of(warnings)
        now = self.list.currentItem()
        kept = self.list.indexOfTopLevelItem(now) if now is not None else -1
        open_codes = {
            item.data(0, WARNING).code for item in self._rows() if item.isExpanded()
        }  # as they were opened before
        self.list.blockSignals(True)
        self.list.clear()
        self.list.setRootIsDecorated(any(len(t.warnings) > 1 for t in things))
        for thing in things:  # what mends it is said when it has been tried
            self.list.addTopLevelItem(_row(thing))
        for item in self._rows():
            item.setExpanded(item.data(0, WARNING).code in open_codes)
        chosen = self.list.topLevelItem(min(max(kept, 0), len(things) - 1))
        if chosen is not None:
            self.list.setCurrentItem(chosen)
        self.list.blockSignals(False)
        self._say_count()
        self._fit()
        self.setVisible(bool(warnings))

    def show_remedy(self, row: int, warning: PlanWarning) -> None:
        """Say of one of the warnings what was found to mend it."""
        if row >= len(self.warnings) or self.warnings[row].text != warning.text:
            return
        for item in self._rows(deep=True):
            own: PlanWarning = item.data(0, WARNING)
            if own is self.warnings[row] and item.childCount() == 0:
                _say(item, f"{warning.text}. {warning.remedy}.", warning.severity)
        self._fit()

    def _rows(self, *, deep: bool = False) -> Iterator[QTreeWidgetItem]:
        for k in range(self.list.topLevelItemCount()):
            item = self.list.topLevelItem(k)
            if item is not None:
                yield item
                if deep:
                    yield from filter(None, (item.child(c) for c in range(item.childCount())))

    def _say_count(self) -> None:
        count = self.list.topLevelItemCount()
        sign = "▾" if self.list.isVisibleTo(self) else "▸"
        self.head.setText(
            several(
                "{sign}  {n} THING TO LOOK AT", "{sign}  {n} THINGS TO LOOK AT", count, sign=sign
            )
        )

    def _fold(self) -> None:
        shown = not self.list.isVisibleTo(self)
        self.list.setVisible(shown)
        self.mend_button.setVisible(shown)
        self._say_count()

    def _fit(self) -> None:
        """As tall as the first few lines, which wrap where the window is narrow."""
        self.list.doItemsLayout()
        rows = list(self._rows(deep=any(i.isExpanded() for i in self._rows())))[: 2 * SHOWN_N]
        heights = [self.list.visualItemRect(item).height() for item in rows]
        shown = sum(1 for i in self._rows() if i.isExpanded()) * SHOWN_N + SHOWN_N
        self.list.setFixedHeight(sum(heights[: min(shown, 2 * SHOWN_N)]) + theme.px(8))

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._fit()

    def _current(self) -> PlanWarning | None:
        item = self.list.currentItem()
        return item.data(0, WARNING) if item is not None else None

    def _jump(self) -> None:
        warning = self._current()
        if warning is not None and warning.note is not None:
            self.note_wanted.emit(warning.note)

    def _mend(self) -> None:
        warning = self._current()
        if warning is not None:
            self.mend_wanted.emit(warning)


def _row(thing: Thing) -> QTreeWidgetItem:
    """A line; one of several places opens to a line a place, and mends the first."""
    item = QTreeWidgetItem()
    item.setData(0, WARNING, thing.warnings[0])
    _say(item, f"{thing.text}.", thing.severity)
    if len(thing.warnings) > 1:
        for warning in thing.warnings:
            child = QTreeWidgetItem(item)
            child.setData(0, WARNING, warning)
            _say(child, f"{warning.text}.", warning.severity)
    return item


def _say(item: QTreeWidgetItem, text: str, severity: Severity) -> None:
    item.setText(0, f"{SIGNS[severity]}  {text}")
    item.setToolTip(0, tip(text))
