"""Players' signs as outlines: ⊓ for down, V for up, the comma of a lift, the pin of a choice."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPainterPath, QPen

from plectrum.core.score.model import Direction
from plectrum.ui.look import theme

WIDTH = 11.0
HEIGHT = 11.0


def down_sign(centre: QPointF) -> QPainterPath:
    """The down-bow sign: a heavy top, two legs."""
    left, top = centre.x() - WIDTH / 2, centre.y() - HEIGHT / 2
    path = QPainterPath()
    path.setFillRule(Qt.FillRule.WindingFill)
    path.addRect(QRectF(left, top, WIDTH, 4))
    path.addRect(QRectF(left, top, 2, HEIGHT))
    path.addRect(QRectF(left + WIDTH - 2, top, 2, HEIGHT))
    return path


def up_sign(centre: QPointF) -> QPainterPath:
    """The up-bow sign: a V."""
    left, top = centre.x() - WIDTH / 2, centre.y() - HEIGHT / 2
    path = QPainterPath(QPointF(left, top))
    path.lineTo(QPointF(centre.x(), top + HEIGHT + 1))
    path.lineTo(QPointF(left + WIDTH, top))
    return path


def paint_bow(painter: QPainter, direction: Direction, centre: QPointF) -> None:
    """The sign of one bow."""
    if direction is Direction.DOWN:
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.colours().down)
        painter.drawPath(down_sign(centre))
    else:
        pen = QPen(theme.colours().up, 2.2)
        pen.setJoinStyle(Qt.PenJoinStyle.MiterJoin)
        painter.setPen(pen)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPath(up_sign(centre))


def paint_lift(painter: QPainter, rect: QRectF) -> None:
    """A comma: a head and a tail that curls under it."""
    head = rect.width() * 0.36
    path = QPainterPath()
    path.setFillRule(Qt.FillRule.WindingFill)
    path.addEllipse(QPointF(rect.left() + head, rect.top() + head), head, head)
    tail = QPainterPath(QPointF(rect.left() + 2 * head, rect.top() + head))
    tail.quadTo(QPointF(rect.right() + 1, rect.center().y() + 1), rect.bottomLeft())
    tail.quadTo(
        QPointF(rect.right() - 2, rect.center().y()),
        QPointF(rect.left() + head, rect.top() + 2 * head),
    )
    path.addPath(tail)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(theme.colours().ink)
    painter.drawPath(path)


def paint_pin(painter: QPainter, at: QPointF) -> None:
    """A small pin: a filled head on a short needle."""
    painter.setPen(QPen(theme.colours().accent, 1.4))
    painter.drawLine(at, QPointF(at.x(), at.y() + 5))
    painter.setBrush(theme.colours().accent)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.drawEllipse(at, 3.2, 3.2)
