"""The log as pictures, each with its table beside it."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from datetime import UTC, date, datetime
from functools import cached_property
from typing import Any

import pyqtgraph as pg
from PySide6.QtCore import QAbstractTableModel, QModelIndex, QObject, QPersistentModelIndex, Qt
from PySide6.QtGui import QBrush, QPen
from PySide6.QtWidgets import (
    QAbstractItemView,
    QComboBox,
    QHBoxLayout,
    QHeaderView,
    QTableView,
    QVBoxLayout,
    QWidget,
)

from plectrum.core.instrument.specification import instrument
from plectrum.core.log.records import Student
from plectrum.core.log.store import LogStore
from plectrum.core.log.summaries import (
    PLACES_N,
    Series,
    class_overview,
    fault_places,
    longest_bows,
    minutes_by_week,
    tempos_reached,
)
from plectrum.ui.look import theme
from plectrum.ui.look.labels import label

# Lines differ by hue, by dash and by the shape of their points: colour alone is never needed.
# The hues are Okabe and Ito's for colour-blind eyes (published, quoted from memory).
HUES = ("#0072B2", "#D55E00", "#009E73", "#CC79A7", "#56B4E9", "#E69F00", "#7f7f7f", "#B8A200")
DASHES = (Qt.PenStyle.SolidLine, Qt.PenStyle.DashLine, Qt.PenStyle.DotLine,
          Qt.PenStyle.DashDotLine)  # fmt: skip
MARKED_N = 60  # a line of more points has none marked: they would hide it
SHAPES = ("o", "s", "t", "d", "+", "x", "p", "star")
CHARTS = (
    "Longest bow over the weeks",
    "Tempo reached, by section",
    "Minutes practised a week",
    "Where on the bow it goes wrong",
    "In which bars it goes wrong",
    "What goes wrong",
    "The class this week",
)
Index = QModelIndex | QPersistentModelIndex
ASIDE_S = 4 * 86_400.0  # days left free beside the first and the last
LEAST_BARS_N = 5  # a bar that stands alone is no wider than one of five
NARROW, WIDE = 400, 600
EMPTY = "Nothing is in the log for this picture yet."


@dataclass(frozen=True)
class Chart:
    """A picture and its table: lines over days, or bars with names."""

    unit: str
    lines: tuple[Series, ...] = ()
    bars: tuple[tuple[str, float], ...] = ()
    goals: tuple[float, ...] = ()
    head: tuple[str, ...] = ()
    rows: tuple[tuple[str, ...], ...] = field(default_factory=tuple)

    @property
    def empty(self) -> bool:
        return not any(line.days for line in self.lines) and not any(v for _, v in self.bars)


def _when(on: date) -> float:
    return datetime(on.year, on.month, on.day, 12, tzinfo=UTC).timestamp()


def _lines(unit: str, lines: Sequence[Series], goals: Sequence[float] = ()) -> Chart:
    rows = tuple(
        (line.name, on.isoformat(), f"{value:.3g}")
        for line in lines
        for on, value in zip(line.days, line.values, strict=True)
    )
    return Chart(unit, tuple(lines), goals=tuple(goals), head=("line", "day", unit), rows=rows)


def _bars(unit: str, bars: Sequence[tuple[str, float]], head: tuple[str, ...]) -> Chart:
    return Chart(unit, bars=tuple(bars), head=head, rows=tuple((n, f"{v:g}") for n, v in bars))


def chart_of(store: LogStore, student: Student, number: int, today: date) -> Chart:
    """What a chart shows of a student, by its number in `CHARTS`."""
    if number == 0:
        return _lines(
            "s", longest_bows(store, student, instrument(student.instrument).string_names)
        )
    if number == 1:
        found = tempos_reached(store, student)
        series = [
            Series(f"{t.piece}, {t.section}", t.reached.days, t.reached.values) for t in found
        ]
        return _lines("beats a minute", series, sorted({t.goal_bpm for t in found}))
    if number == 2:
        weeks = minutes_by_week(store, student)
        bars = [(f"{d.day} {d:%b}", v) for d, v in zip(weeks.days, weeks.values, strict=True)]
        return _bars("minutes", bars, ("week from", "minutes"))
    if number == 6:
        return _class(store, today)
    faults = fault_places(store, student)
    if number == 3:
        names = ["frog", *(f"{k}/10" for k in range(1, PLACES_N - 1)), "tip"]
        return _bars("times", list(zip(names, map(float, faults.by_place), strict=True)),
                     ("tenth of the bow", "times"))  # fmt: skip
    if number == 4:
        return _bars("times", [(f"bar {b}", n) for b, n in faults.by_bar], ("bar", "times"))
    return _bars("times", list(faults.by_kind), ("what", "times"))


def _class(store: LogStore, today: date) -> Chart:
    rows = class_overview(store, today)
    return Chart(
        "minutes this week",
        bars=tuple((r.student.name, float(r.minutes_week)) for r in rows),
        head=("name", "minutes", "days", "week before", "longest bow", "last lesson", "again"),
        rows=tuple(
            (
                r.student.name + (" (pain)" if r.student.pain_since else ""),
                str(r.minutes_week), str(r.days_week), str(r.minutes_before),
                f"{r.longest_s:.1f} s" if r.longest_s is not None else "–",
                r.last_lesson.isoformat() if r.last_lesson is not None else "–",
                str(r.again_n),
            )
            for r in rows
        ),
    )  # fmt: skip


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
        self.choose.setAccessibleName("Picture")
        self.choose.currentIndexChanged.connect(lambda _: self.refresh())
        self.nothing = label("banner", EMPTY, wrap=True)
        self.rows = _Rows(self)
        self.table = QTableView()
        self.table.setModel(self.rows)
        self.table.setAccessibleName("The numbers of the picture")
        self.table.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.table.verticalHeader().hide()
        self.table.horizontalHeader().setSectionResizeMode(QHeaderView.ResizeMode.Stretch)
        self._lay_out()

    def _lay_out(self) -> None:
        row = QHBoxLayout()
        row.setContentsMargins(16, 8, 16, 4)
        row.addWidget(self.choose)
        row.addStretch(1)
        body = self._body = QHBoxLayout()
        body.setContentsMargins(16, 0, 0, 8)
        body.addWidget(self.table)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addLayout(row)
        self.nothing.setContentsMargins(16, 0, 16, 0)
        column.addWidget(self.nothing)
        column.addLayout(body, 1)
        self.setFocusProxy(self.choose)
        self.fit()

    @cached_property
    def plot(self) -> pg.PlotWidget:
        """Lines over days; made when first needed."""
        return self._placed(pg.PlotWidget(axisItems={"bottom": pg.DateAxisItem(utcOffset=0)}))

    @cached_property
    def bars_plot(self) -> pg.PlotWidget:
        """Bars with names; made when first needed."""
        return self._placed(pg.PlotWidget())

    def _placed(self, plot: pg.PlotWidget) -> pg.PlotWidget:
        plot.setMenuEnabled(False)
        plot.setMouseEnabled(x=False, y=False)
        plot.hideButtons()
        plot.setAccessibleName("Picture; the same numbers are in the table beside it")
        self._body.insertWidget(0, plot, 1)
        return plot

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
        self.plot.setVisible(bool(chart.lines) and not chart.empty)
        self.bars_plot.setVisible(bool(chart.bars) and not chart.empty)
        self.table.setVisible(not chart.empty)
        if self.plot.isVisibleTo(self):
            self._paint_lines(chart)
        if self.bars_plot.isVisibleTo(self):
            self._paint_bars(chart)
        self._fill(chart)

    def _dress(self, plot: pg.PlotWidget, unit: str) -> None:
        now = theme.colours()
        plot.clear()
        plot.setBackground(now.paper)
        for side in ("left", "bottom"):
            axis = plot.getAxis(side)
            axis.setPen(now.muted)
            axis.setTextPen(now.ink)
            axis.setStyle(tickFont=theme.label_font(theme.px(12)))
        plot.setLabel("left", unit, color=now.ink.name())
        plot.showGrid(x=False, y=True, alpha=0.25)

    def _paint_lines(self, chart: Chart) -> None:
        plot = self.plot
        self._dress(plot, chart.unit)
        legend = plot.addLegend(offset=(-16, -16), labelTextColor=theme.colours().ink)
        legend.clear()
        for k, line in enumerate(chart.lines):
            hue = HUES[k % len(HUES)]
            pen = pg.mkPen(hue, width=2, style=DASHES[k // 2 % len(DASHES)])
            plot.plot(
                [_when(on) for on in line.days], list(line.values), pen=pen, name=line.name,
                symbol=SHAPES[k % len(SHAPES)] if len(line.days) <= MARKED_N else None,
                symbolSize=9, symbolBrush=hue, symbolPen=None,
            )  # fmt: skip
        for goal in chart.goals:
            pen = QPen(theme.colours().ink, 0, Qt.PenStyle.DashLine)
            text = {"color": theme.colours().ink, "position": 0.92}
            plot.addItem(
                pg.InfiniteLine(goal, angle=0, pen=pen, label=f"goal {goal:.0f}", labelOpts=text)
            )
        top = max([v for line in chart.lines for v in line.values] + list(chart.goals), default=1.0)
        days = [_when(on) for line in chart.lines for on in line.days]
        plot.setXRange(min(days) - ASIDE_S, max(days) + ASIDE_S)
        plot.setYRange(0.0, 1.06 * top)  # from nought, so that growth is not made larger than it is

    def _paint_bars(self, chart: Chart) -> None:
        plot = self.bars_plot
        self._dress(plot, chart.unit)
        places = list(range(len(chart.bars)))
        plot.addItem(
            pg.BarGraphItem(
                x=places, height=[v for _, v in chart.bars], width=0.7,
                brush=QBrush(theme.colours().down), pen=pg.mkPen(theme.colours().ink),
            )
        )  # fmt: skip
        every = max(1, len(chart.bars) // 12)
        ticks = [(k, name) for k, (name, _) in enumerate(chart.bars) if k % every == 0]
        plot.getAxis("bottom").setTicks([ticks])
        plot.setXRange(-0.6, max(LEAST_BARS_N, len(chart.bars)) - 0.4)
        plot.setYRange(0.0, max(5.0, 1.06 * max(v for _, v in chart.bars)))

    def _fill(self, chart: Chart) -> None:
        table = self.table
        rows = chart.rows[::-1] if chart.lines else chart.rows
        self.rows.show_rows(chart.head, rows)
        wide = len(chart.head) > 3
        table.setFixedWidth(theme.px(WIDE if wide else NARROW))
        mode = QHeaderView.ResizeMode.ResizeToContents if wide else QHeaderView.ResizeMode.Stretch
        table.horizontalHeader().setSectionResizeMode(mode)
