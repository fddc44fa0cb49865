"""The drawn bow: frog to tip, tape marks, the part a note uses and an arrow along it."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QBrush, QColor, QPainter, QPainterPath, QPaintEvent, QPen, QPolygonF
from PySide6.QtWidgets import QWidget

from plectrum.core.advice.words import note_sentence
from plectrum.core.instrument.bow import Bow
from plectrum.core.planning.strokes.planned import PlannedNote
from plectrum.core.score.model import Direction
from plectrum.core.wording import tr
from plectrum.ui.look import theme

SIDE = 16.0
HEIGHT = 92.0


class BowPicture(QWidget):
    """Paints one bow across its width."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._bow: Bow | None = None
        self._note: PlannedNote | None = None
        self.setAccessibleName(tr("The bow"))

    def sizeHint(self) -> QSize:
        return QSize(theme.px(260), theme.px(HEIGHT))

    def minimumSizeHint(self) -> QSize:
        return QSize(theme.px(200), theme.px(HEIGHT))

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
        painter.scale(theme.scale(), theme.scale())
        hair = QRectF(SIDE + 14, 46, self.width() / theme.scale() - 2 * SIDE - 18, 5)
        paint_stick(painter, hair)
        if self._note is not None:
            self._paint_used(painter, hair, self._note)
        paint_marks(painter, hair, self._bow)
        painter.setPen(theme.colours().muted)
        painter.setFont(theme.label_font(12))
        painter.drawText(QRectF(hair.left() - 18, 68, 60, 20), tr("frog"))
        right = Qt.AlignmentFlag.AlignRight
        painter.drawText(QRectF(hair.right() - 56, 68, 60, 20), right, tr("tip"))
        painter.end()

    @staticmethod
    def _x(hair: QRectF, at: float) -> float:
        return hair.left() + at * hair.width()

    def _paint_used(self, painter: QPainter, hair: QRectF, note: PlannedNote) -> None:
        a, b = self._x(hair, note.start), self._x(hair, note.end)
        used = QRectF(min(a, b), hair.top() - 2, abs(b - a), hair.height() + 4)
        down = note.direction is Direction.DOWN
        colour = theme.colours().down if down else theme.colours().up
        painter.setPen(QPen(colour, 1.4))
        painter.setBrush(colour if down else theme.colours().up_wash)
        painter.drawRect(used)
        if not down:
            painter.setBrush(QBrush(theme.colours().up, Qt.BrushStyle.BDiagPattern))
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


def paint_stick(painter: QPainter, hair: QRectF) -> None:
    """A bow lying over its hair: stick, frog and head."""
    path = QPainterPath(QPointF(hair.left() - 18, hair.top() - 11))
    path.cubicTo(
        QPointF(hair.left() + hair.width() * 0.3, hair.top() - 2),
        QPointF(hair.left() + hair.width() * 0.7, hair.top() - 2),
        QPointF(hair.right() + 2, hair.top() - 10),
    )
    path.lineTo(QPointF(hair.right() + 4, hair.bottom()))
    painter.setPen(QPen(theme.colours().wood, 3.0, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawPath(path)
    painter.setPen(QPen(theme.colours().edge, 1))
    painter.setBrush(theme.colours().field)
    painter.drawRect(hair)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(theme.colours().ink)
    painter.drawRoundedRect(QRectF(hair.left() - 16, hair.top() - 9, 16, 16), 2, 2)


def paint_marks(painter: QPainter, hair: QRectF, bow: Bow) -> None:
    """The tapes on the stick, and where they cross the hair."""
    for mark in bow.marks:
        x = hair.left() + mark.at * hair.width()
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(mark.colour))
        painter.drawRect(QRectF(x - 2, hair.top() - 9, 4, 9))
        painter.setPen(QPen(QColor(mark.colour), 1.2))
        painter.drawLine(QPointF(x, hair.bottom() + 2), QPointF(x, hair.bottom() + 10))
