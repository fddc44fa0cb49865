"""The road between bridge and fingerboard, with the bow driving on it.

One string runs from the fingerboard at the top to the bridge at the bottom; the bow lies across
it in its lane and goes to and fro, so that the place of the hair that touches the string is the
place the plan says.
"""

from __future__ import annotations

from dataclasses import dataclass

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPainterPath, QPen, QPolygonF

from plectrum.core.planning.contact.limits import LANES_N
from plectrum.core.wording import tr
from plectrum.ui.look import theme

FROG = (46.0, 40.0)  # the frog behind the hair, beyond its end: length and height
SIDE = 20.0
BOARD = (64.0, 40.0)  # half width and height of fingerboard and bridge


@dataclass(frozen=True, slots=True)
class RoadGeometry:
    """Turns places on the bow and lanes into pixels inside a rectangle.

    Attributes:
        unit: size of everything; 1 in a window of 1280 × 800.
        frog_right: the frog to the right of the string, as in a mirror; else as a teacher who
            stands opposite sees it.
    """

    rect: QRectF
    unit: float
    frog_right: bool = True

    @property
    def string_x(self) -> float:
        return self.rect.center().x()

    @property
    def hair_px(self) -> float:
        """Length of the hair: whole bows fit on either side of the string."""
        beyond = (FROG[0] + SIDE) * self.unit
        return self.rect.width() / 2 - beyond

    @property
    def sign(self) -> float:
        return 1.0 if self.frog_right else -1.0

    def x(self, place: float, position: float) -> float:
        """x of a place on the bow while the string is touched at `position`."""
        return self.string_x + self.sign * (position - place) * self.hair_px

    @property
    def road(self) -> QRectF:
        board = BOARD[1] * self.unit
        return self.rect.adjusted(0, board, 0, -board)

    def lane_y(self, lane: float) -> float:
        """y of the middle of a lane; 1 lies at the bridge, below."""
        road = self.road
        return road.bottom() - (lane - 0.5) / LANES_N * road.height()


def paint_ground(painter: QPainter, geometry: RoadGeometry) -> None:
    """All that does not move: lanes, bridge, fingerboard."""
    now, road, unit = theme.colours(), geometry.road, geometry.unit
    painter.setPen(Qt.PenStyle.NoPen)
    for lane in range(1, LANES_N + 1):
        painter.setBrush(now.lanes[lane - 1])
        height = road.height() / LANES_N
        y = geometry.lane_y(lane) - height / 2
        painter.drawRect(QRectF(road.left(), y, road.width(), height + 0.5))
    painter.setPen(QPen(now.paper, 1.5 * unit, Qt.PenStyle.DashLine))
    for lane in range(1, LANES_N):
        y = geometry.lane_y(lane + 0.5)
        painter.drawLine(QPointF(road.left(), y), QPointF(road.right(), y))
    _paint_boards(painter, geometry)
    painter.setPen(now.muted)
    painter.setFont(theme.label_font(18 * unit))
    half = BOARD[0] * unit + 12 * unit
    left = QRectF(road.left(), geometry.rect.top(), geometry.string_x - half - road.left(), 0)
    for words, top in (
        (tr("fingerboard"), geometry.rect.top()),
        (tr("bridge"), road.bottom()),
    ):
        left.setTop(top)
        left.setHeight(BOARD[1] * unit)
        flags = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
        painter.drawText(left, flags, words)


def _paint_boards(painter: QPainter, geometry: RoadGeometry) -> None:
    now, unit, x = theme.colours(), geometry.unit, geometry.string_x
    half, tall = BOARD[0] * unit, BOARD[1] * unit
    top, bottom = geometry.rect.top(), geometry.rect.bottom()
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(now.ink)
    board = QPolygonF(
        [
            QPointF(x - half * 0.8, top),
            QPointF(x + half * 0.8, top),
            QPointF(x + half, top + tall),
            QPointF(x - half, top + tall),
        ]
    )
    painter.drawPolygon(board)
    painter.setBrush(now.wood)
    bridge = QPainterPath(QPointF(x - half * 1.2, bottom))
    bridge.quadTo(QPointF(x, bottom - 1.6 * tall), QPointF(x + half * 1.2, bottom))
    bridge.closeSubpath()
    painter.drawPath(bridge)


def paint_lane(painter: QPainter, geometry: RoadGeometry, lane: float) -> None:
    """The lane to drive in: its edges drawn out."""
    now, road = theme.colours(), geometry.road
    height = road.height() / LANES_N
    y = geometry.lane_y(lane)
    painter.fillRect(QRectF(road.left(), y - height / 2, road.width(), height), now.accent_wash)
    painter.setPen(QPen(now.accent, 2.4 * geometry.unit))
    for edge in (y - height / 2, y + height / 2):
        painter.drawLine(QPointF(road.left(), edge), QPointF(road.right(), edge))


def paint_guide(painter: QPainter, geometry: RoadGeometry, lane: float) -> None:
    """What the bow is looked at against: lines along it, and a right angle at the string."""
    now, u, road = theme.colours(), geometry.unit, geometry.road
    y, x = geometry.lane_y(lane), geometry.string_x
    painter.setPen(QPen(now.accent, 2.5 * u, Qt.PenStyle.DashLine))
    for line in (y - 44 * u, y + 44 * u):
        painter.drawLine(QPointF(road.left(), line), QPointF(road.right(), line))
    painter.setPen(QPen(now.accent, 3.5 * u))
    corner = 24 * u
    painter.drawPolyline(
        QPolygonF([QPointF(x + corner, y), QPointF(x + corner, y + corner),
                   QPointF(x, y + corner)])
    )  # fmt: skip


def paint_string(painter: QPainter, geometry: RoadGeometry, string: int, vibrates: bool) -> None:
    """The string under the bow; a low one is thicker, a sounding one has an edge of light."""
    now, unit, x = theme.colours(), geometry.unit, geometry.string_x
    width = (6.0 - string) * unit
    top = geometry.rect.top() + 2
    bottom = geometry.rect.bottom() - 0.8 * BOARD[1] * unit
    if vibrates:
        painter.setPen(QPen(now.accent_wash, width + 12 * unit))
        painter.drawLine(QPointF(x, geometry.road.top()), QPointF(x, bottom))
    painter.setPen(QPen(now.muted, width + 2))
    painter.drawLine(QPointF(x, top), QPointF(x, bottom))
    painter.setPen(QPen(now.paper, max(1.0, width - 2)))
    painter.drawLine(QPointF(x, top), QPointF(x, bottom))


def paint_ghost(
    painter: QPainter, geometry: RoadGeometry, position: float, lane: float, angle_deg: float
) -> None:
    """The bow that is being followed: an outline over the planned one."""
    now, u = theme.colours(), geometry.unit
    painter.save()
    painter.translate(geometry.string_x, geometry.lane_y(lane))
    painter.rotate(angle_deg)
    painter.translate(-geometry.string_x, 0)
    a, b = geometry.x(0.0, position), geometry.x(1.0, position)
    painter.setPen(QPen(now.problem, 3 * u, Qt.PenStyle.DashLine))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawRect(QRectF(min(a, b), -7 * u, abs(b - a), 14 * u))
    painter.setBrush(now.problem)
    painter.setPen(Qt.PenStyle.NoPen)
    frog = QRectF(a - 6 * u if geometry.frog_right else a - 10 * u, -12 * u, 16 * u, 24 * u)
    painter.drawRect(frog)
    painter.restore()
