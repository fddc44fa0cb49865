"""The log as pictures, each with its table beside it."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date
from typing import Any

from PySide6.QtCore import QAbstractTableModel, QModelIndex, QObject, QPersistentModelIndex, Qt
from PySide6.QtWidgets import (
    QAbstractItemView,
    QComboBox,
    QHBoxLayout,
    QHeaderView,
    QTableView,
    QVBoxLayout,
    QWidget,
)

from plectrum.core.log.records import Student
from plectrum.core.log.store import LogStore
from plectrum.core.wording import tr
from plectrum.ui.log.charts import CHARTS, Chart, chart_of
from plectrum.ui.log.plot import Plot
from plectrum.ui.look import theme
from plectrum.ui.look.labels import label

Index = QModelIndex | QPersistentModelIndex
NARROW, WIDE = 400, 600
EMPTY = tr("Nothing is in the log for this picture yet.")


class _Rows(QAbstractTableModel):
    """The numbers of a picture, as many as there are."""

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._head: tuple[str, ...] = ()
        self._rows: tuple[tuple[str, ...], ...] = ()

    def show_rows(self, head: tuple[str, ...], rows: tuple[tuple[str, ...], ...]) -> None:
        self.beginResetModel()
        self._head, self._rows = head, rows
        self.endResetModel()

    def rowCount(self, parent: Index | None = None) -> int:
        return 0 if parent is not None and parent.isValid() else len(self._rows)

    def columnCount(self, parent: Index | None = None) -> int:
        return 0 if parent is not None and parent.isValid() else len(self._head)

    def data(self, index: Index, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        if role != Qt.ItemDataRole.DisplayRole or not index.isValid():
            return None
        return self._rows[index.row()][index.column()]

    def headerData(
        self,
        section: int,
        orientation: Qt.Orientation,
        role: int = Qt.ItemDataRole.DisplayRole,
    ) -> Any:
        shown = role == Qt.ItemDataRole.DisplayRole and orientation is Qt.Orientation.Horizontal
        return self._head[section] if shown and section < len(self._head) else None


class PicturesPage(QWidget):
    """Chooses and paints one chart at a time."""

    def __init__(
        self, store: LogStore, today: Callable[[], date] = date.today, parent: QWidget | None = None
    ) -> None:
        super().__init__(parent)
        self._store, self._today = store, today
        self.student: Student | None = None
        self.chart: Chart | None = None
        self.choose = QComboBox()
        self.choose.addItems(list(CHARTS))
        self.choose.setAccessibleName(tr("Picture"))
        self.choose.currentIndexChanged.connect(lambda _: self.refresh())
        self.nothing = label("banner", EMPTY, wrap=True)
        self.plot = Plot()
        self.rows = _Rows(self)
        self.table = QTableView()
        self.table.setModel(self.rows)
        self.table.setAccessibleName(tr("The numbers of the picture"))
        self.table.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.table.verticalHeader().hide()
        self.table.horizontalHeader().setSectionResizeMode(QHeaderView.ResizeMode.Stretch)
        self._lay_out()

    @property
    def focus_target(self) -> QWidget:
        """What answers the keys of the page. No proxy: the Tab key would pass by what is before."""
        return self.choose

    def _lay_out(self) -> None:
        row = QHBoxLayout()
        row.setContentsMargins(16, 8, 16, 4)
        row.addWidget(self.choose)
        row.addStretch(1)
        body = QHBoxLayout()
        body.setContentsMargins(16, 0, 0, 8)
        body.addWidget(self.plot, 1)
        body.addWidget(self.table)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addLayout(row)
        self.nothing.setContentsMargins(16, 0, 16, 0)
        column.addWidget(self.nothing)
        column.addLayout(body, 1)
        self.fit()

    def fit(self) -> None:
        """As wide as the interface scale wants it, and in the theme's colours."""
        if self.chart is not None:
            self._paint(self.chart)

    def show_student(self, student: Student) -> None:
        self.student = student
        self.refresh()

    def refresh(self) -> None:
        """Read and paint the chosen chart."""
        if self.student is None:
            return
        self.chart = chart_of(self._store, self.student, self.choose.currentIndex(), self._today())
        self._paint(self.chart)

    def _paint(self, chart: Chart) -> None:
        self.nothing.setVisible(chart.empty)
        self.table.setVisible(not chart.empty)
        self.plot.setVisible(not chart.empty)
        self.plot.show_chart(chart)
        self._fill(chart)

    def _fill(self, chart: Chart) -> None:
        table = self.table
        rows = chart.rows[::-1] if chart.lines else chart.rows
        self.rows.show_rows(chart.head, rows)
        wide = len(chart.head) > 3
        table.setFixedWidth(theme.px(WIDE if wide else NARROW))
        mode = QHeaderView.ResizeMode.ResizeToContents if wide else QHeaderView.ResizeMode.Stretch
        table.horizontalHeader().setSectionResizeMode(mode)
