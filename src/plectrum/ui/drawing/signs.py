"""Players' signs as outlines: ⊓ for down, V for up, the comma of a lift, the pin of a choice."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPainterPath, QPen

from plectrum.core.score.model import Direction
from plectrum.ui.look import theme

WIDTH = 11.0
HEIGHT = 11.0


def down_sign(centre: QPointF) -> QPainterPath:
    """The down-bow sign: a heavy top, two legs."""
    path = QPainterPath()
    path.setFillRule(Qt.FillRule.WindingFill)
    for bar in _bars_of_down(centre.x() - WIDTH / 2, centre.y() - HEIGHT / 2):
        path.addRect(bar)
    return path


def _bars_of_down(left: float, top: float) -> list[QRectF]:
    return [
        QRectF(left, top, WIDTH, 4),
        QRectF(left, top, 2, HEIGHT),
        QRectF(left + WIDTH - 2, top, 2, HEIGHT),
    ]


def up_sign(centre: QPointF) -> QPainterPath:
    """The up-bow sign: a V."""
    first, *others = _corners_of_up(centre.x() - WIDTH / 2, centre.y() - HEIGHT / 2)
    path = QPainterPath(first)
    for corner in others:
        path.lineTo(corner)
    return path


def _corners_of_up(left: float, top: float) -> list[QPointF]:
    foot = QPointF(left + WIDTH / 2, top + HEIGHT + 1)
    return [QPointF(left, top), foot, QPointF(left + WIDTH, top)]


def paint_bow(painter: QPainter, direction: Direction, centre: QPointF) -> None:
    """The sign of one bow."""
    paint_bows(painter, {direction: [centre]})


def paint_bows(painter: QPainter, centres: Mapping[Direction, Sequence[QPointF]]) -> None:
    """The signs of bows in each direction; the same shapes as the outlines, in half the time."""
    corners = [(c.x() - WIDTH / 2, c.y() - HEIGHT / 2) for c in centres.get(Direction.DOWN, ())]
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(theme.colours().down)
    painter.drawRects([bar for corner in corners for bar in _bars_of_down(*corner)])
    pen = QPen(theme.colours().up, 2.2)
    pen.setJoinStyle(Qt.PenJoinStyle.MiterJoin)
    painter.setPen(pen)
    for c in centres.get(Direction.UP, ()):
        painter.drawPolyline(_corners_of_up(c.x() - WIDTH / 2, c.y() - HEIGHT / 2))


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
