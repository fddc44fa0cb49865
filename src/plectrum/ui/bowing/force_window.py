"""The picture of speed and weight: the playable wedge of one note, and the note in it.

Limits are Schelleng's, for this string, this lane and this stopped length: straight lines
through nothing, because both grow with speed.
"""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QFontMetricsF, QPainter, QPaintEvent, QPen, QPolygonF
from PySide6.QtWidgets import QSizePolicy, QWidget

from plectrum.core.planning.plan import Plan
from plectrum.core.wording import say, tr
from plectrum.ui.look import theme

HEIGHT = 168
MOST_SHARE = 1.9  # of the note's speed, shown at the right edge
TOP_SHARE = 1.25  # of the greatest weight at the note's speed, shown at the top


class ForceWindow(QWidget):
    """Paints one note of one plan."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._plan: Plan | None = None
        self._row = 0
        self.setAccessibleName(tr("Speed and weight"))
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)

    def sizeHint(self) -> QSize:
        return QSize(theme.px(260), theme.px(HEIGHT))

    def show_note(self, plan: Plan, index: int) -> None:
        """Show a note; a plucked one shows nothing."""
        row = plan.contact_rows.get(index)
        self._plan = plan if row is not None else None
        self.setVisible(row is not None)
        if row is None:
            return
        self._row = row
        c = plan.contact
        self.setAccessibleDescription(
            say(
                "At {speed_m_s:.0f} centimetres a second between {weight_min_n:.2f} and "
                "{weight_max_n:.2f} newtons sound clean; this note takes {weight_n:.2f}.",
                speed_m_s=c.speed_m_s[row] * 100,
                weight_min_n=c.weight_min_n[row],
                weight_max_n=c.weight_max_n[row],
                weight_n=c.weight_n[row],
            )
        )
        self.update()

    def point(self) -> QPointF:
        """Where the note lies in the picture."""
        frame = self._frame()
        if self._plan is None:
            return frame.center()
        return self._place(frame, 1.0, float(self._plan.contact.weight_n[self._row]))

    def _frame(self) -> QRectF:
        left, bottom = theme.px(26), theme.px(26)
        return QRectF(left, 6, self.width() - left - 6, self.height() - bottom - 6)

    def _top_n(self) -> float:
        if self._plan is None:
            return 1.0
        return float(self._plan.contact.weight_max_n[self._row]) * TOP_SHARE

    def _place(self, frame: QRectF, speed_share: float, weight_n: float) -> QPointF:
        """A point at a share of the note's own speed and a weight."""
        x = frame.left() + speed_share / MOST_SHARE * frame.width()
        return QPointF(x, frame.bottom() - weight_n / self._top_n() * frame.height())

    def paintEvent(self, event: QPaintEvent) -> None:
        if self._plan is None:
            return
        now, frame = theme.colours(), self._frame()
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        c, row = self._plan.contact, self._row
        low, high = float(c.weight_min_n[row]), float(c.weight_max_n[row])
        painter.save()
        painter.setClipRect(frame)
        wedge = QPolygonF(
            [
                self._place(frame, 0, 0),
                self._place(frame, MOST_SHARE, high * MOST_SHARE),
                self._place(frame, MOST_SHARE, low * MOST_SHARE),
            ]
        )
        painter.setPen(QPen(now.muted, 1.2))
        painter.setBrush(now.good_wash)
        painter.drawPolygon(wedge)
        painter.restore()
        self._paint_words(painter, frame, low)
        painter.setPen(QPen(now.ink, 1.4))
        painter.drawLine(frame.bottomLeft(), frame.topLeft())
        painter.drawLine(frame.bottomLeft(), frame.bottomRight())
        point = self.point()
        painter.setPen(QPen(now.accent, 1, Qt.PenStyle.DotLine))
        painter.drawLine(point, QPointF(point.x(), frame.bottom()))
        painter.drawLine(point, QPointF(frame.left(), point.y()))
        painter.setPen(QPen(now.paper, 2))
        painter.setBrush(now.accent)
        painter.drawEllipse(point, theme.px(6), theme.px(6))
        painter.end()

    def _paint_words(self, painter: QPainter, frame: QRectF, low: float) -> None:
        now = theme.colours()
        font = theme.label_font(theme.px(12))
        painter.setFont(font)
        painter.setPen(now.muted)
        metrics = QFontMetricsF(font)
        chokes = QPointF(frame.left() + theme.px(8), frame.top() + metrics.ascent())
        painter.drawText(chokes, tr("chokes"))
        whistles = tr("whistles")
        width = metrics.horizontalAdvance(whistles)
        spot = self._place(frame, MOST_SHARE, low * MOST_SHARE)
        room = frame.bottom() - spot.y() > metrics.height()
        y = frame.bottom() - theme.px(4) if room else frame.bottom() + metrics.ascent() + 2
        painter.drawText(QPointF(frame.right() - width, y), whistles)
        under = frame.bottom() + metrics.ascent() + theme.px(3)
        painter.drawText(QPointF(frame.left(), under), tr("speed →"))
        painter.save()
        painter.translate(frame.left() - theme.px(8), frame.bottom())
        painter.rotate(-90)
        painter.drawText(QPointF(0, 0), tr("weight →"))
        painter.restore()
