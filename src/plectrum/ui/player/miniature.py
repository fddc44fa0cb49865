"""The current tune in small: its bow path over time, with the path before the last change."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QSizePolicy, QWidget

from plectrum.core.planning.plan import Plan
from plectrum.core.planning.strokes.amounts import school_range
from plectrum.core.score.model import Direction
from plectrum.core.wording import tr
from plectrum.ui.drawing.path_painter import PathGeometry, band_corners, paint_ground
from plectrum.ui.look import theme

BARS_N = 4  # bars a line
LINES_N = 4
LINE, GAP, LEFT = 66.0, 24.0, 44.0


class Miniature(QWidget):
    """Draws the first bars of a plan, four to a line; a thin line shows where it ran before."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._plan: Plan | None = None
        self._before: Plan | None = None
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName(tr("The tune in small"))

    def sizeHint(self) -> QSize:
        return QSize(theme.px(300), theme.px(8 + self._lines_n() * (LINE + GAP)))

    def _lines_n(self) -> int:
        bars_n = len(self._plan.part.bars) if self._plan is not None else BARS_N
        return min(LINES_N, -(-bars_n // BARS_N))

    def show_plans(self, plan: Plan, before: Plan | None) -> None:
        """Show a plan, and under it the one before if it is of the same notes."""
        same = before is not None and [n.id for n in before.part.notes] == [
            n.id for n in plan.part.notes
        ]
        self._plan, self._before = plan, before if same else None
        self.updateGeometry()
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        if self._plan is None:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.scale(theme.scale(), theme.scale())
        for line in range(self._lines_n()):
            self._paint_line(painter, self._plan, line)
        painter.end()

    def _paint_line(self, painter: QPainter, plan: Plan, line: int) -> None:
        bars = plan.part.bars[line * BARS_N : (line + 1) * BARS_N]
        if not bars:
            return
        start, end = float(bars[0].onset_q), float(bars[-1].onset_q + bars[-1].duration_q)
        width = self.width() / theme.scale() - LEFT - 8
        rect = QRectF(LEFT, 18 + line * (LINE + GAP), width, LINE)
        geometry = PathGeometry(rect)
        paint_ground(painter, geometry, plan.choices.bow, school_range(plan.choices))
        now = theme.colours()

        def x(at_q: float) -> float:
            return rect.left() + (at_q - start) / max(end - start, 1e-9) * rect.width()

        painter.setFont(theme.label_font(11))
        for bar in bars:
            left = x(float(bar.onset_q))
            painter.setPen(QPen(now.edge, 1))
            painter.drawLine(QPointF(left, rect.top()), QPointF(left, rect.bottom()))
            painter.setPen(now.muted)
            painter.drawText(QPointF(left + 2, rect.top() - 4), str(bar.number))
        for text, at in ((tr("tip"), 1.0), (tr("frog"), 0.0)):
            place = QRectF(0, geometry.y(at) - 8, LEFT - 6, 16)
            painter.drawText(place, Qt.AlignmentFlag.AlignRight, text)
        first, last = bars[0].index, bars[-1].index
        for note in plan.part.notes:
            if not first <= note.bar_index <= last or note.grace:
                continue
            a, b = x(float(note.onset_q)), x(float(note.end_q))
            self._paint_note(painter, geometry, plan, note.index, a, b)

    def _paint_note(
        self,
        painter: QPainter,
        geometry: PathGeometry,
        plan: Plan,
        index: int,
        left: float,
        right: float,
    ) -> None:
        now, planned = theme.colours(), plan.notes[index]
        if planned is None:
            return
        down = planned.direction is Direction.DOWN
        a = QPointF(left, geometry.y(planned.start))
        b = QPointF(max(right - 1.5, left + 1.5), geometry.y(planned.end))
        painter.setPen(QPen(now.down if down else now.up, 1))
        painter.setBrush(now.down if down else now.up_wash)
        painter.drawPolygon(band_corners(a, b, 2.4))
        before = self._before.notes[index] if self._before is not None else None
        if before is not None and (before.start, before.end) != (planned.start, planned.end):
            painter.setPen(QPen(now.muted, 1.2, Qt.PenStyle.DotLine))
            painter.drawLine(
                QPointF(left, geometry.y(before.start)), QPointF(b.x(), geometry.y(before.end))
            )
