"""A small upright bow: frog below, tip above, the part that a note uses, and an arrow.

Upright, because notes stand close to one another, and because the bow path has its frog below
too. Down-bows are filled and point up towards the tip, up-bows are hatched and point down: they
differ without colour.
"""

from __future__ import annotations

from PySide6.QtCore import QLineF, QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPen, QPolygonF

from plectrum.core.instrument.bow import Bow
from plectrum.core.score.model import Direction
from plectrum.ui.drawing.path_painter import HATCH_WIDTH, hatch_lines
from plectrum.ui.look import theme

WIDTH, HEIGHT = 13.0, 66.0
BAND = 6.5
ARROW = 6.0
FROG, TIP = 6.0, 3.0
HATCH_STEP = 2.8


def place_y(rect: QRectF, at: float) -> float:
    """y of a place on the hair, 0 at the frog, in a bow's rectangle."""
    bottom, top = rect.bottom() - FROG, rect.top() + TIP
    return bottom - at * (bottom - top)


def paint_mini_bow(
    painter: QPainter,
    rect: QRectF,
    bow: Bow,
    ends: tuple[float, float] | None,
    direction: Direction = Direction.DOWN,
) -> None:
    """A bow in a rectangle, with the part from one end to the other if there is one."""
    x = rect.center().x()
    _paint_stick(painter, rect, x)
    if ends is not None:
        _paint_part(painter, x, place_y(rect, ends[0]), place_y(rect, ends[1]), direction)
    for mark in bow.marks:  # over the part, so that it is seen where in it a mark lies
        painter.setPen(QPen(QColor(mark.colour), 1.6))
        y = place_y(rect, mark.at)
        painter.drawLine(QLineF(x - WIDTH / 2, y, x + WIDTH / 2, y))


def _paint_stick(painter: QPainter, rect: QRectF, x: float) -> None:
    colours = theme.colours()
    painter.setPen(QPen(colours.muted, 1.1))
    painter.drawLine(QLineF(x, rect.top(), x, rect.bottom() - FROG))
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(colours.ink)
    painter.drawRect(QRectF(x - 3.6, rect.bottom() - FROG, 7.2, FROG))
    painter.drawPolygon(
        QPolygonF([QPointF(x - 2.4, rect.top() + TIP), QPointF(x + 2.4, rect.top() + TIP),
                   QPointF(x, rect.top() - 1)])
    )  # fmt: skip


def _paint_part(
    painter: QPainter, x: float, start: float, end: float, direction: Direction
) -> None:
    """The part used, its arrow ending where the bow ends."""
    colours = theme.colours()
    down = direction is Direction.DOWN
    colour = colours.down if down else colours.up
    sense = -1.0 if end < start else 1.0  # up the page is towards the tip
    head = min(ARROW, abs(end - start) * 0.7)
    shaft = QRectF(
        QPointF(x - BAND / 2, min(start, end - sense * head)),
        QPointF(x + BAND / 2, max(start, end - sense * head)),
    )
    arrow = QPolygonF([QPointF(x - BAND, end - sense * head), QPointF(x + BAND, end - sense * head),
                       QPointF(x, end)])  # fmt: skip
    if down:
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(colour)
        painter.drawRect(shaft)
        painter.drawPolygon(arrow)
        return
    painter.setPen(QPen(colour, 1.2))
    painter.setBrush(colours.paper)
    painter.drawRect(shaft)
    painter.setPen(QPen(colour, HATCH_WIDTH))
    painter.drawLines(hatch_lines(_corners(shaft), HATCH_STEP))
    painter.setPen(QPen(colour, 1.2))
    painter.setBrush(colours.paper)
    painter.drawPolygon(arrow)


def _corners(rect: QRectF) -> tuple[QPointF, ...]:
    return rect.topLeft(), rect.topRight(), rect.bottomRight(), rect.bottomLeft()
