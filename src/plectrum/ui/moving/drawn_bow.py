"""The bow on the road: what of it never changes is kept as a picture that is moved along."""

from __future__ import annotations

from collections.abc import Hashable

from PySide6.QtCore import QPointF, QRectF, QSizeF, Qt
from PySide6.QtGui import QBrush, QColor, QPainter, QPainterPath, QPen, QPixmap, QPolygonF

from plectrum.core.instrument.bow import Bow
from plectrum.core.planning.contact.limits import MIDDLE_LANE
from plectrum.core.playing.cards import StrokeCard
from plectrum.core.playing.motion import BowState
from plectrum.core.score.model import Direction
from plectrum.core.wording import tr
from plectrum.ui.look import theme
from plectrum.ui.moving.road import FROG, RoadGeometry

HAIR = 13.0  # thickness of the hair
STICK = 24.0  # of the stick above the hair
HEAD = 16.0
LIFT = 34.0  # how far a lifted bow rises
BESIDE = FROG[0] + 50.0  # room in the picture on either side of the hair
ABOVE, BELOW = STICK + 36.0, 24.0  # and over and under its middle


def bow_band(geometry: RoadGeometry, state: BowState) -> QRectF:
    """The part of the picture that the bow, its arrow and its lane take."""
    u = geometry.unit
    y = geometry.lane_y(state.lane)
    top = y - (STICK + 82) * u - state.lifted * LIFT * u
    return QRectF(geometry.rect.left(), top, geometry.rect.width(), y + 92 * u - top)


class DrawnBow:
    """Paints a bow at a moment; kept by the widget that shows it."""

    def __init__(self) -> None:
        self._key: Hashable = None
        self._picture = QPixmap()

    def paint(
        self,
        painter: QPainter,
        geometry: RoadGeometry,
        bow: Bow,
        state: BowState,
        card: StrokeCard | None,
    ) -> None:
        """The bow where the plan has it, with the part of it that this stroke uses."""
        u, position = geometry.unit, state.position
        y = geometry.lane_y(state.lane) - state.lifted * LIFT * u
        left = min(geometry.x(0.0, position), geometry.x(1.0, position))
        corner = QPointF(round(left - BESIDE * u), round(y - ABOVE * u))
        painter.drawPixmap(corner, self._kept(painter, geometry, bow))
        painter.save()
        painter.translate(0, y)
        if card is not None and card.direction is not None:
            _paint_used(painter, geometry, position, card)
        for mark in bow.marks:
            x = geometry.x(mark.at, position)
            painter.fillRect(
                QRectF(x - 1.5 * u, -HAIR / 2 * u, 3 * u, HAIR * u), QColor(mark.colour)
            )
        if state.lifted > 0.02:
            painter.setPen(QPen(theme.colours().muted, 2 * u, Qt.PenStyle.DotLine))
            x, gap = geometry.string_x, state.lifted * LIFT * u
            painter.drawLine(QPointF(x, HAIR * u), QPointF(x, gap))
        painter.restore()

    def _kept(self, painter: QPainter, geometry: RoadGeometry, bow: Bow) -> QPixmap:
        device = painter.device()
        ratio = device.devicePixelRatioF() if device is not None else 1.0
        key = (geometry.hair_px, geometry.unit, geometry.frog_right, bow, theme.is_dark(), ratio)
        if key != self._key:
            self._key = key
            u = geometry.unit
            size = QSizeF(geometry.hair_px + 2 * BESIDE * u, (ABOVE + BELOW) * u)
            self._picture = QPixmap((size * ratio).toSize())
            self._picture.setDevicePixelRatio(ratio)
            self._picture.fill(Qt.GlobalColor.transparent)
            own = QPainter(self._picture)
            own.setRenderHint(QPainter.RenderHint.Antialiasing)
            own.translate(BESIDE * u, ABOVE * u)
            _paint_whole(own, geometry, bow)
            own.end()
        return self._picture


def _paint_whole(painter: QPainter, geometry: RoadGeometry, bow: Bow) -> None:
    """The bow with the left end of its hair at the origin: wood, hair, tapes, names of the
    ends."""
    u, hair_px, now = geometry.unit, geometry.hair_px, theme.colours()
    frog, tip = (hair_px, 0.0) if geometry.frog_right else (0.0, hair_px)
    _paint_wood(painter, u, geometry.sign, frog, tip)
    painter.setPen(QPen(now.edge, 1))
    painter.setBrush(now.field)
    painter.drawRect(QRectF(0, -HAIR / 2 * u, hair_px, HAIR * u))
    for mark in bow.marks:
        x = frog + (tip - frog) * mark.at
        painter.fillRect(QRectF(x - 4 * u, -STICK * u - 5 * u, 8 * u, 16 * u), QColor(mark.colour))
    painter.setPen(now.ink)
    painter.setFont(theme.label_font(18 * u))
    for words, x in ((tr("frog"), frog), (tr("tip"), tip)):
        box = QRectF(x - 45 * u, -STICK * u - 32 * u, 90 * u, 24 * u)
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, words)


def _paint_wood(painter: QPainter, u: float, side: float, frog: float, tip: float) -> None:
    """Stick, head and frog; `side` is 1 with the frog at the right."""
    now = theme.colours()
    stick = QPainterPath(QPointF(frog + side * FROG[0] * u, -STICK * u))
    stick.quadTo(QPointF((frog + tip) / 2, -0.62 * STICK * u), QPointF(tip, -STICK * u))
    stick.lineTo(QPointF(tip - side * HEAD * u, -STICK * u))
    painter.setPen(
        QPen(now.wood, 7 * u, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap,
             Qt.PenJoinStyle.RoundJoin)
    )  # fmt: skip
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawPath(stick)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(now.wood)
    painter.drawPolygon(
        QPolygonF([QPointF(tip, HAIR / 2 * u), QPointF(tip, -STICK * u),
                   QPointF(tip - side * HEAD * u, -STICK * u)])
    )  # fmt: skip
    painter.setBrush(now.ink)
    left = min(frog, frog + side * FROG[0] * u)
    block = QRectF(left, -STICK * u, FROG[0] * u, FROG[1] * u * 0.82)
    painter.drawRoundedRect(block, 4 * u, 4 * u)
    painter.setBrush(now.paper)
    painter.drawEllipse(block.center(), 5 * u, 5 * u)


def _paint_used(
    painter: QPainter, geometry: RoadGeometry, position: float, card: StrokeCard
) -> None:
    """The part of the hair that this stroke takes: solid down, hatched up; a flag at the end it
    goes to."""
    now, u = theme.colours(), geometry.unit
    down = card.direction is Direction.DOWN
    colour = now.down if down else now.up
    a, b = geometry.x(card.start, position), geometry.x(card.end, position)
    thick = HAIR * u
    used = QRectF(min(a, b), -thick / 2, abs(b - a), thick)
    painter.setPen(QPen(colour, 1.5 * u))
    painter.setBrush(colour if down else now.up_wash)
    painter.drawRect(used)
    if not down:
        painter.setBrush(QBrush(colour, Qt.BrushStyle.BDiagPattern))
        painter.drawRect(used)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(colour)
    foot = thick / 2 + 19 * u
    painter.drawPolygon(
        QPolygonF(
            [QPointF(b, thick / 2 + 3 * u), QPointF(b - 9 * u, foot), QPointF(b + 9 * u, foot)]
        )
    )


def paint_way(painter: QPainter, geometry: RoadGeometry, direction: Direction, lane: float) -> None:
    """A large arrow beside the string: which way the hand goes."""
    u, now = geometry.unit, theme.colours()
    down = direction is Direction.DOWN
    way = geometry.sign * (1 if down else -1)
    below = lane >= MIDDLE_LANE
    y = geometry.lane_y(lane) + (58 if below else -STICK - 52) * u
    a = geometry.string_x + way * 26 * u
    neck, b = a + way * 86 * u, a + way * 120 * u
    shaft = QPolygonF(
        [
            QPointF(a, y - 9 * u), QPointF(neck, y - 9 * u), QPointF(neck, y - 24 * u),
            QPointF(b, y), QPointF(neck, y + 24 * u), QPointF(neck, y + 9 * u),
            QPointF(a, y + 9 * u),
        ]
    )  # fmt: skip
    colour = now.down if down else now.up
    painter.setPen(QPen(colour, 3 * u))
    painter.setBrush(colour if down else now.up_wash)
    painter.drawPolygon(shaft)
    if not down:
        painter.setBrush(QBrush(colour, Qt.BrushStyle.BDiagPattern))
        painter.drawPolygon(shaft)
