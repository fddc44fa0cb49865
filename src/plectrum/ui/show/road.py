"""The road between bridge and fingerboard, with the bow driving on it.

One string runs from the fingerboard at the top to the bridge at the bottom; the bow lies across
it in its lane and goes to and fro, so that the place of the hair that touches the string is the
place the plan says.
"""

from __future__ import annotations

from dataclasses import dataclass

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QPainter, QPainterPath, QPen, QPolygonF

from plectrum.core.instrument.bow import Bow
from plectrum.core.planning.contact import LANES_N, MIDDLE_LANE
from plectrum.core.playing.cards import StrokeCard
from plectrum.core.playing.motion import BowState
from plectrum.core.score.model import Direction
from plectrum.ui import theme

HAIR = 13.0  # thickness of the hair
STICK = 24.0  # of the stick above the hair
FROG = (46.0, 40.0)  # the frog behind the hair, beyond its end
HEAD = 16.0
SIDE = 20.0
LIFT = 34.0  # how far a lifted bow rises
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
        ("fingerboard", geometry.rect.top()),
        ("bridge", road.bottom()),
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


def bow_band(geometry: RoadGeometry, state: BowState) -> QRectF:
    """The part of the picture that the bow, its arrow and its lane take."""
    u = geometry.unit
    y = geometry.lane_y(state.lane)
    top = y - (STICK + 82) * u - state.lifted * LIFT * u
    return QRectF(geometry.rect.left(), top, geometry.rect.width(), y + 92 * u - top)


class BowPainter:
    """Paints the bow at a moment."""

    def __init__(self, painter: QPainter, geometry: RoadGeometry, bow: Bow) -> None:
        self._p = painter
        self._g = geometry
        self._bow = bow
        self._u = geometry.unit

    def paint(self, state: BowState, card: StrokeCard | None, angle_deg: float = 0.0) -> None:
        """The bow where the plan has it, with the part of it that this stroke uses."""
        y = self._g.lane_y(state.lane) - state.lifted * LIFT * self._u
        p = self._p
        p.save()
        p.translate(self._g.string_x, y)
        p.rotate(angle_deg)
        p.translate(-self._g.string_x, 0)
        self._paint_wood(state.position)
        hair = self._hair(state.position)
        p.setPen(QPen(theme.colours().edge, 1))
        p.setBrush(theme.colours().field)
        p.drawRect(hair)
        if card is not None and card.direction is not None:
            self._paint_used(state.position, card)
        self._paint_marks(state.position)
        self._paint_ends(state.position)
        if state.lifted > 0.02:
            p.setPen(QPen(theme.colours().muted, 2 * self._u, Qt.PenStyle.DotLine))
            gap = state.lifted * LIFT * self._u
            p.drawLine(QPointF(self._g.string_x, HAIR * self._u),
                       QPointF(self._g.string_x, gap))  # fmt: skip
        p.restore()

    def paint_way(self, direction: Direction, lane: float) -> None:
        """A large arrow beside the string: which way the hand goes."""
        u, now = self._u, theme.colours()
        down = direction is Direction.DOWN
        way = self._g.sign * (1 if down else -1)
        below = lane >= MIDDLE_LANE
        y = self._g.lane_y(lane) + (58 if below else -STICK - 52) * u
        a = self._g.string_x + way * 26 * u
        b = a + way * 120 * u
        shaft = QPolygonF(
            [
                QPointF(a, y - 9 * u), QPointF(b - way * 34 * u, y - 9 * u),
                QPointF(b - way * 34 * u, y - 24 * u), QPointF(b, y),
                QPointF(b - way * 34 * u, y + 24 * u), QPointF(b - way * 34 * u, y + 9 * u),
                QPointF(a, y + 9 * u),
            ]
        )  # fmt: skip
        colour = now.down if down else now.up
        self._p.setPen(QPen(colour, 3 * u))
        self._p.setBrush(colour if down else now.up_wash)
        self._p.drawPolygon(shaft)
        if not down:
            self._p.setBrush(QBrush(colour, Qt.BrushStyle.BDiagPattern))
            self._p.drawPolygon(shaft)

    def _hair(self, position: float) -> QRectF:
        a, b = self._g.x(0.0, position), self._g.x(1.0, position)
        thick = HAIR * self._u
        return QRectF(min(a, b), -thick / 2, abs(b - a), thick)

    def _paint_wood(self, position: float) -> None:
        now, u, s = theme.colours(), self._u, self._g.sign
        frog, tip = self._g.x(0.0, position), self._g.x(1.0, position)
        stick = QPainterPath(QPointF(frog + s * FROG[0] * u, -STICK * u))
        middle = (frog + tip) / 2
        stick.quadTo(QPointF(middle, -0.62 * STICK * u), QPointF(tip, -STICK * u))
        stick.lineTo(QPointF(tip - s * HEAD * u, -STICK * u))
        self._p.setPen(
            QPen(now.wood, 7 * u, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap,
                 Qt.PenJoinStyle.RoundJoin)
        )  # fmt: skip
        self._p.setBrush(Qt.BrushStyle.NoBrush)
        self._p.drawPath(stick)
        head = QPainterPath(QPointF(tip, HAIR / 2 * u))
        head.lineTo(QPointF(tip, -STICK * u))
        head.lineTo(QPointF(tip - s * HEAD * u, -STICK * u))
        head.closeSubpath()
        self._p.setPen(Qt.PenStyle.NoPen)
        self._p.setBrush(now.wood)
        self._p.drawPath(head)
        self._p.setBrush(now.ink)
        block = QRectF(min(frog, frog + s * FROG[0] * u), -STICK * u, FROG[0] * u,
                       FROG[1] * u * 0.82)  # fmt: skip
        self._p.drawRoundedRect(block, 4 * u, 4 * u)
        self._p.setBrush(now.paper)
        self._p.drawEllipse(block.center(), 5 * u, 5 * u)

    def _paint_used(self, position: float, card: StrokeCard) -> None:
        """The part of the hair that this stroke takes: solid down, hatched up; a flag at the end
        it goes to."""
        now, u = theme.colours(), self._u
        down = card.direction is Direction.DOWN
        colour = now.down if down else now.up
        a, b = self._g.x(card.start, position), self._g.x(card.end, position)
        thick = HAIR * u
        used = QRectF(min(a, b), -thick / 2, abs(b - a), thick)
        self._p.setPen(QPen(colour, 1.5 * u))
        self._p.setBrush(colour if down else now.up_wash)
        self._p.drawRect(used)
        if not down:
            self._p.setBrush(QBrush(colour, Qt.BrushStyle.BDiagPattern))
            self._p.drawRect(used)
        self._p.setPen(Qt.PenStyle.NoPen)
        self._p.setBrush(colour)
        self._p.drawPolygon(
            QPolygonF(
                [
                    QPointF(b, thick / 2 + 3 * u),
                    QPointF(b - 9 * u, thick / 2 + 19 * u),
                    QPointF(b + 9 * u, thick / 2 + 19 * u),
                ]
            )
        )

    def _paint_marks(self, position: float) -> None:
        u = self._u
        for mark in self._bow.marks:
            x = self._g.x(mark.at, position)
            self._p.setPen(Qt.PenStyle.NoPen)
            self._p.setBrush(QColor(mark.colour))
            self._p.drawRect(QRectF(x - 4 * u, -STICK * u - 5 * u, 8 * u, 16 * u))
            self._p.drawRect(QRectF(x - 1.5 * u, -HAIR / 2 * u, 3 * u, HAIR * u))

    def _paint_ends(self, position: float) -> None:
        """The names of the two ends, carried along; kept inside the picture."""
        u, rect = self._u, self._g.rect
        self._p.setPen(theme.colours().ink)
        self._p.setFont(theme.label_font(18 * u))
        wide = 90 * u
        for words, x in (("frog", self._g.x(0.0, position)), ("tip", self._g.x(1.0, position))):
            left = min(max(x - wide / 2, rect.left()), rect.right() - wide)
            box = QRectF(left, -STICK * u - 32 * u, wide, 24 * u)
            self._p.drawText(box, Qt.AlignmentFlag.AlignCenter, words)


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
