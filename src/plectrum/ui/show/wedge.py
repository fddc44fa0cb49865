"""Speed and weight on one open string at one contact point: the playable wedge, large."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QFontMetricsF, QPainter, QPaintEvent, QPen, QPolygonF
from PySide6.QtWidgets import QSizePolicy, QWidget

from plectrum.core.sound.live import Answer
from plectrum.core.wording import in_words, say, tr
from plectrum.ui.look import theme


class Wedge(QWidget):
    """Paints the two limits, which are straight lines through nothing, and the bow as a point."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._slopes = (0.1, 1.0)  # N per m/s, lightest and heaviest
        self._most = (1.0, 1.0)  # m/s and N at the edges
        self._at = (0.0, 0.0)
        self._answer = Answer.SILENT
        self.setAccessibleName(tr("Speed and weight: what the string bears"))
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)

    def sizeHint(self) -> QSize:
        return QSize(theme.px(420), theme.px(320))

    def minimumSizeHint(self) -> QSize:
        return QSize(220, 150)

    def show_point(
        self,
        slopes: tuple[float, float],
        most: tuple[float, float],
        at: tuple[float, float],
        answer: Answer,
    ) -> None:
        """Show a wedge and where the bow is in it.

        Args:
            slopes: lightest and heaviest weight over speed; most: speed and weight at the edges.
            at: speed and weight now.
        """
        self._slopes, self._most, self._at, self._answer = slopes, most, at, answer
        self.setAccessibleDescription(
            say(
                "At {speed:.0f} centimetres a second {low:.2f} to {high:.2f} newtons "
                "sing; now {weight:.2f}: the string {answer}.",
                speed=at[0] * 100,
                low=slopes[0] * at[0],
                high=slopes[1] * at[0],
                weight=at[1],
                answer=answer,
            )
        )
        self.update()

    def _frame(self) -> QRectF:
        return QRectF(
            theme.px(30), theme.px(8), self.width() - theme.px(38), self.height() - theme.px(38)
        )

    def place(self, speed_m_s: float, weight_n: float) -> QPointF:
        """Where a speed and weight lie in the picture."""
        frame = self._frame()
        return QPointF(
            frame.left() + speed_m_s / self._most[0] * frame.width(),
            frame.bottom() - weight_n / self._most[1] * frame.height(),
        )

    def paintEvent(self, event: QPaintEvent) -> None:
        now, frame = theme.colours(), self._frame()
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(frame, now.field)
        painter.setClipRect(frame)
        end = self._most[0]
        low, high = (self.place(end, slope * end) for slope in self._slopes)
        painter.setPen(QPen(now.muted, 1.6))
        painter.setBrush(now.good_wash)
        painter.drawPolygon(QPolygonF([self.place(0, 0), high, low]))
        painter.setClipping(False)
        self._paint_words(painter, frame)
        painter.setPen(QPen(now.ink, 1.6))
        painter.drawLine(frame.bottomLeft(), frame.topLeft())
        painter.drawLine(frame.bottomLeft(), frame.bottomRight())
        point = self.place(*self._at)
        point.setY(max(frame.top(), point.y()))
        painter.setPen(QPen(now.accent, 1.4, Qt.PenStyle.DotLine))
        painter.drawLine(point, QPointF(point.x(), frame.bottom()))
        painter.drawLine(point, QPointF(frame.left(), point.y()))
        painter.setPen(QPen(now.paper, 3))
        painter.setBrush(now.accent if self._answer is Answer.SINGS else now.problem)
        painter.drawEllipse(point, theme.px(11), theme.px(11))
        painter.end()

    def _paint_words(self, painter: QPainter, frame: QRectF) -> None:
        now = theme.colours()
        font = theme.label_font(theme.px(18))
        font.setBold(True)
        painter.setFont(font)
        metrics = QFontMetricsF(font)
        for answer, where in ((Answer.CHOKES, frame.topLeft()), (Answer.WHISTLES, None)):
            chosen = self._answer is answer
            painter.setPen(now.problem if chosen else now.muted)
            if where is not None:
                painter.drawText(
                    where + QPointF(theme.px(12), metrics.ascent() + 4), in_words(answer)
                )
            else:
                width = metrics.horizontalAdvance(in_words(answer))
                spot = frame.bottomRight() + QPointF(-width, metrics.ascent() + theme.px(2))
                painter.drawText(spot, in_words(answer))
        painter.setFont(theme.label_font(theme.px(14)))
        painter.setPen(now.muted)
        under = QRectF(frame.left(), frame.bottom() + theme.px(4), frame.width(), theme.px(22))
        painter.drawText(under, Qt.AlignmentFlag.AlignLeft, tr("speed →"))
        painter.save()
        painter.translate(frame.left() - theme.px(10), frame.bottom())
        painter.rotate(-90)
        painter.drawText(QPointF(0, 0), tr("weight →"))
        painter.restore()
