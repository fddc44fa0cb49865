"""The drawn bow: frog to tip, tape marks, the part a note uses and an arrow along it."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QBrush, QColor, QPainter, QPainterPath, QPaintEvent, QPen, QPolygonF
from PySide6.QtWidgets import QWidget

from plectrum.core.instrument.bow import Bow
from plectrum.core.planning.plan import PlannedNote
from plectrum.core.planning.words import note_sentence
from plectrum.core.score.model import Direction
from plectrum.ui import theme
from plectrum.ui.bowing.signs import label_font

SIDE = 16.0


class BowPicture(QWidget):
    """Paints one bow across its width."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._bow: Bow | None = None
        self._note: PlannedNote | None = None
        self.setMinimumHeight(92)
        self.setAccessibleName("The bow")

    def sizeHint(self) -> QSize:
        return QSize(260, 92)

    def show_note(self, bow: Bow, note: PlannedNote | None) -> None:
        self._bow, self._note = bow, note
        if note is not None:
            self.setAccessibleDescription(note_sentence(note, bow))
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        if self._bow is None:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        hair = QRectF(SIDE + 14, 46, self.width() - 2 * SIDE - 18, 5)
        self._paint_stick(painter, hair)
        if self._note is not None:
            self._paint_used(painter, hair, self._note)
        self._paint_marks(painter, hair, self._bow)
        painter.setPen(theme.MUTED)
        painter.setFont(label_font(12))
        painter.drawText(QRectF(hair.left() - 18, 68, 60, 20), "frog")
        right = Qt.AlignmentFlag.AlignRight
        painter.drawText(QRectF(hair.right() - 56, 68, 60, 20), right, "tip")
        painter.end()

    @staticmethod
    def _x(hair: QRectF, at: float) -> float:
        return hair.left() + at * hair.width()

    def _paint_stick(self, painter: QPainter, hair: QRectF) -> None:
        path = QPainterPath(QPointF(hair.left() - 18, hair.top() - 11))
        path.cubicTo(
            QPointF(hair.left() + hair.width() * 0.3, hair.top() - 2),
            QPointF(hair.left() + hair.width() * 0.7, hair.top() - 2),
            QPointF(hair.right() + 2, hair.top() - 10),
        )
        path.lineTo(QPointF(hair.right() + 4, hair.bottom()))
        painter.setPen(QPen(theme.WOOD, 3.0, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPath(path)
        painter.setPen(QPen(theme.EDGE, 1))
        painter.setBrush(QColor("#fffdf8"))
        painter.drawRect(hair)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.INK)
        painter.drawRoundedRect(QRectF(hair.left() - 16, hair.top() - 9, 16, 16), 2, 2)

    def _paint_used(self, painter: QPainter, hair: QRectF, note: PlannedNote) -> None:
        a, b = self._x(hair, note.start), self._x(hair, note.end)
        used = QRectF(min(a, b), hair.top() - 2, abs(b - a), hair.height() + 4)
        down = note.direction is Direction.DOWN
        colour = theme.DOWN if down else theme.UP
        painter.setPen(QPen(colour, 1.4))
        painter.setBrush(colour if down else theme.UP_WASH)
        painter.drawRect(used)
        if not down:
            painter.setBrush(QBrush(theme.UP, Qt.BrushStyle.BDiagPattern))
            painter.drawRect(used)
        y = hair.top() - 22
        painter.setPen(QPen(colour, 2.4))
        painter.drawLine(QPointF(a, y), QPointF(b, y))
        sign = 1 if b > a else -1
        painter.setBrush(colour)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.drawPolygon(
            QPolygonF(
                [
                    QPointF(b + sign * 3, y),
                    QPointF(b - sign * 7, y - 5),
                    QPointF(b - sign * 7, y + 5),
                ]
            )
        )

    def _paint_marks(self, painter: QPainter, hair: QRectF, bow: Bow) -> None:
        for mark in bow.marks:
            x = self._x(hair, mark.at)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(QColor(mark.colour))
            painter.drawRect(QRectF(x - 2, hair.top() - 9, 4, 9))
            painter.setPen(QPen(QColor(mark.colour), 1.2))
            painter.drawLine(QPointF(x, hair.bottom() + 2), QPointF(x, hair.bottom() + 10))
