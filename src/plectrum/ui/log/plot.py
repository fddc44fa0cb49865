"""Paints a chart: lines over days, or bars with names, always from nought up, so that growth is
not made larger than it is.

Lines differ by hue, by dash and by the shape of their points: colour alone is never needed.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from PySide6.QtCore import QLineF, QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QFontMetricsF, QPainter, QPaintEvent, QPen, QPolygonF
from PySide6.QtWidgets import QSizePolicy, QWidget

from plectrum.core.wording import say, tr
from plectrum.core.wording.dates import day_month_short, month_short
from plectrum.ui.log.charts import Chart
from plectrum.ui.look import theme

# The hues are Okabe and Ito's for colour-blind eyes (published, quoted from memory).
HUES = ("#0072B2", "#D55E00", "#009E73", "#CC79A7", "#56B4E9", "#E69F00", "#7f7f7f", "#B8A200")
DASHES = (Qt.PenStyle.SolidLine, Qt.PenStyle.DashLine, Qt.PenStyle.DotLine,
          Qt.PenStyle.DashDotLine)  # fmt: skip
CORNERS = (0, 4, 3, -4, 2, -2, 5, -5)  # of the points of a line; see `_marker`
MARKED_N = 24  # a line of more points has some of them marked, evenly spread
LONG_N = 120
POINT = 4.5
ASIDE = timedelta(days=4)  # left free beside the first and the last day
LEAST_BARS_N = 5  # a bar that stands alone is no wider than one of five
LEAST_TOP = 5.0
LEGEND_SHARE = 0.3  # of the height, at most
WIDE_LABEL = 64.0  # room a day or a bar's name needs along the bottom


@dataclass(frozen=True, slots=True)
class LineLook:
    """How one line is told from the others; `corners` is the shape of its points."""

    hue: str
    dash: Qt.PenStyle
    corners: int

    def pen(self, width: float = 2.0) -> QPen:
        return QPen(QColor(self.hue), width, self.dash)


def look_of(number: int) -> LineLook:
    """Of a line by its number."""
    dash = DASHES[number // 2 % len(DASHES)]
    return LineLook(HUES[number % len(HUES)], dash, CORNERS[number % len(CORNERS)])


def number_steps(top: float, most_n: int) -> list[float]:
    """Round numbers from nought to `top`, about so many at most, and one above nought at least."""
    least = top / most_n
    power = 10.0 ** math.floor(math.log10(least))
    wide = next(s for s in (1, 2, 5, 10) if s * power >= least * (1 - 1e-9))
    if wide * power > top:
        wide = {2: 1, 5: 2, 10: 5}[wide]
    step = wide * power
    return [k * step for k in range(math.floor(top / step * (1 + 1e-9)) + 1)]


def day_steps(first: date, last: date, most_n: int) -> list[tuple[date, str]]:
    """Days to be named between two others, so many at most: days, weeks, months or years."""
    span = (last - first).days
    for days_n in (1, 2, 7, 14):
        if span / days_n <= most_n:
            begin = first + timedelta(days=-first.weekday() % 7 if days_n >= 7 else 0)
            found = [begin + timedelta(days=k) for k in range(0, (last - begin).days + 1, days_n)]
            return [(on, day_month_short(on)) for on in found]
    for months_n in (1, 2, 3, 6, 12, 24, 60, 120):
        if span / 30.4 / months_n <= most_n:
            break
    numbers = range(12 * first.year + first.month - 1, 12 * last.year + last.month)
    months = (date(n // 12, n % 12 + 1, 1) for n in numbers if n % months_n == 0)
    return [(on, _month_words(on, months_n)) for on in months if first <= on <= last]


def _month_words(on: date, months_n: int) -> str:
    if months_n >= 12:
        return str(on.year)
    return f"{month_short(on)} {on.year}" if on.month == 1 else month_short(on)


class Plot(QWidget):
    """Shows one chart."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.chart: Chart | None = None
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName(tr("Picture; the same numbers are in the table beside it"))

    def sizeHint(self) -> QSize:
        return QSize(theme.px(480), theme.px(360))

    def minimumSizeHint(self) -> QSize:
        return QSize(theme.px(240), theme.px(200))

    def show_chart(self, chart: Chart) -> None:
        self.chart = chart
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), theme.colours().paper)
        if self.chart is not None and not self.chart.empty:
            _Painting(painter, QRectF(self.rect()), self.chart).paint()
        painter.end()


class _Painting:
    """One painting of a chart: where things are, then the things."""

    def __init__(self, painter: QPainter, whole: QRectF, chart: Chart) -> None:
        self.painter, self.chart = painter, chart
        self.font = theme.label_font(theme.px(12))
        self.metrics = QFontMetricsF(self.font)
        self.line = self.metrics.height()
        values = [v for line in chart.lines for v in line.values] + [v for _, v in chart.bars]
        self.top = 1.06 * max([*values, *chart.goals], default=1.0)
        if chart.bars:
            self.top = max(LEAST_TOP, self.top)
        self.top = self.top or 1.0
        self.steps = number_steps(self.top, max(2, int(whole.height() / (3 * self.line))))
        left = max(self.metrics.horizontalAdvance(f"{s:g}") for s in self.steps) + self.line + 14
        self.legend_most = whole.height() * LEGEND_SHARE
        legend = self._legend(QRectF(left, 0, whole.width() - left - 12, 0), paint=False)
        self.area = QRectF(
            left, legend + self.line / 2, whole.width() - left - 12,
            max(1.0, whole.height() - legend - 2.5 * self.line),
        )  # fmt: skip
        days = [on for line in chart.lines for on in line.days]
        self.first = min(days) - ASIDE if days else date.min
        self.last = max(days) + ASIDE if days else date.min

    def paint(self) -> None:
        p = self.painter
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        p.setFont(self.font)
        self._paint_numbers()
        if self.chart.lines:
            self._paint_days()
            self._paint_goals()
            for number, line in enumerate(self.chart.lines):
                pairs = zip(line.days, line.values, strict=True)
                self._paint_line(look_of(number), [QPointF(self.x(d), self.y(v)) for d, v in pairs])
            self._legend(QRectF(self.area.left(), 0, self.area.width(), 0), paint=True)
        else:
            self._paint_bars()
        p.setPen(QPen(theme.colours().muted, 1.0))
        p.drawLine(self.area.topLeft(), self.area.bottomLeft())
        p.drawLine(self.area.bottomLeft(), self.area.bottomRight())

    # places

    def y(self, value: float) -> float:
        return self.area.bottom() - value / self.top * self.area.height()

    def x(self, on: date) -> float:
        share = (on - self.first) / (self.last - self.first)
        return self.area.left() + share * self.area.width()

    def _below(self, x: float, text: str) -> None:
        """A name under the picture, with a short line to its place, kept inside."""
        self.painter.setPen(QPen(theme.colours().muted, 1.0))
        bottom = self.area.bottom()
        self.painter.drawLine(QPointF(x, bottom), QPointF(x, bottom + 4))
        wide = self.metrics.horizontalAdvance(text)
        left = min(max(x - wide / 2, 0.0), self.area.right() + 12 - wide)
        self.painter.setPen(theme.colours().ink)
        self.painter.drawText(QPointF(left, bottom + 5 + self.metrics.ascent()), text)

    # things

    def _paint_numbers(self) -> None:
        p, now, area = self.painter, theme.colours(), self.area
        for step in self.steps:
            y = self.y(step)
            p.setPen(QPen(now.edge, 1.0))
            p.drawLine(QPointF(area.left(), y), QPointF(area.right(), y))
            p.setPen(now.ink)
            box = QRectF(0, y - self.line / 2, area.left() - 6, self.line)
            p.drawText(
                box, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, f"{step:g}"
            )
        p.save()
        p.translate(self.metrics.ascent(), area.center().y())
        p.rotate(-90)
        wide = self.metrics.horizontalAdvance(self.chart.unit)
        p.drawText(QPointF(-wide / 2, 0), self.chart.unit)
        p.restore()

    def _paint_days(self) -> None:
        most_n = max(2, int(self.area.width() / theme.px(WIDE_LABEL)))
        for on, text in day_steps(self.first, self.last, most_n):
            self._below(self.x(on), text)

    def _paint_goals(self) -> None:
        p = self.painter
        for goal in self.chart.goals:
            y, text = self.y(goal), say("goal {goal:.0f}", goal=goal)
            p.setPen(QPen(theme.colours().ink, 1.0, Qt.PenStyle.DashLine))
            p.drawLine(QPointF(self.area.left(), y), QPointF(self.area.right(), y))
            wide = self.metrics.horizontalAdvance(text)
            p.drawText(QPointF(self.area.right() - wide - 6, y - 4), text)

    def _paint_line(self, look: LineLook, points: Sequence[QPointF]) -> None:
        p = self.painter
        if len(points) > LONG_N:  # a fine line; a thick one of so many corners is slow and blots
            p.setPen(look.pen(1.0))
            p.drawPolyline(list(points))
        else:
            p.setPen(look.pen())
            p.drawLines([QLineF(a, b) for a, b in itertools.pairwise(points)])
        for k in range(0, len(points), max(1, math.ceil(len(points) / MARKED_N))):
            _paint_marker(p, look, points[k])

    def _paint_bars(self) -> None:
        p, bars = self.painter, self.chart.bars
        each = self.area.width() / max(LEAST_BARS_N, len(bars))
        widest = max(self.metrics.horizontalAdvance(name) for name, _ in bars) + 8
        every = max(1, math.ceil(widest / each))
        for k, (name, value) in enumerate(bars):
            middle = self.area.left() + (k + 0.5) * each
            y = self.y(value)
            p.setPen(QPen(theme.colours().ink, 1.0))
            p.setBrush(theme.colours().down)
            if value:
                p.drawRect(QRectF(middle - 0.35 * each, y, 0.7 * each, self.area.bottom() - y))
            if k % every == 0:
                self._below(middle, name)

    def _legend(self, at: QRectF, *, paint: bool) -> float:
        """The lines' names over the picture, in as many rows as they need and it has room for;
        long names are shortened. The table beside the picture names all.

        Returns:
            How tall it is.
        """
        if not self.chart.lines:
            return 0.0
        sample, row = 2.4 * self.line, 1.3 * self.line
        x, y = at.left(), 4.0
        for number, line in enumerate(self.chart.lines):
            room = at.width() - sample - 6 - self.line
            name = self.metrics.elidedText(line.name, Qt.TextElideMode.ElideRight, max(room, 0.0))
            wide = sample + 6 + self.metrics.horizontalAdvance(name) + self.line
            if x > at.left() and x + wide > at.right():
                x, y = at.left(), y + row
            if y + row > self.legend_most:
                left_n = len(self.chart.lines) - number
                if paint:
                    self._paint_name(
                        QRectF(x, y, at.width(), row), say("and {left_n} more", left_n=left_n)
                    )
                return y + row
            if paint:
                self._paint_look(look_of(number), QRectF(x, y, sample, row))
                self._paint_name(QRectF(x + sample + 6, y, wide, row), name)
            x += wide
        return y + row

    def _paint_name(self, at: QRectF, name: str) -> None:
        self.painter.setPen(theme.colours().ink)
        self.painter.drawText(at, Qt.AlignmentFlag.AlignVCenter, name)

    def _paint_look(self, look: LineLook, at: QRectF) -> None:
        middle = at.center()
        self.painter.setPen(look.pen())
        self.painter.drawLine(QPointF(at.left(), middle.y()), QPointF(at.right(), middle.y()))
        _paint_marker(self.painter, look, middle)


def _paint_marker(painter: QPainter, look: LineLook, at: QPointF) -> None:
    """A point of a line: a disc for no corners, a cross for ±2, a polygon for 3, 4 and 5, a square
    on its corner for −4 and a star for −5."""
    hue = QColor(look.hue)
    if abs(look.corners) == 2:
        painter.setPen(QPen(hue, 2.0))
        turn = 0.0 if look.corners > 0 else math.pi / 4
        for k in range(2):
            arm = _around(QPointF(0, 0), POINT + 0.5, turn + k * math.pi / 2)
            painter.drawLine(at - arm, at + arm)
        return
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(hue)
    if look.corners == 0:
        painter.drawEllipse(at, POINT, POINT)
    else:
        painter.drawPolygon(_polygon(look.corners, at))


def _polygon(corners: int, at: QPointF) -> QPolygonF:
    n, size = abs(corners), POINT + 1.0
    if corners == -5:
        radii = (size + 1.0, 0.45 * size) * 5
        return QPolygonF([_around(at, r, k * math.pi / 5) for k, r in enumerate(radii)])
    turn = math.pi / n if corners == 4 else 0.0
    return QPolygonF([_around(at, size, turn + 2 * math.pi * k / n) for k in range(n)])


def _around(at: QPointF, radius: float, turn: float) -> QPointF:
    """A point at a distance, clockwise from straight up."""
    return QPointF(at.x() + radius * math.sin(turn), at.y() - radius * math.cos(turn))
