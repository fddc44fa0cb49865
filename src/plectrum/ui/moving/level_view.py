"""The string levels as a tilting bow, seen along the strings from the player's end."""

from __future__ import annotations

import math

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPainterPath, QPen

from plectrum.core.instrument.specification import Instrument
from plectrum.core.wording import tr
from plectrum.ui.look import theme


def string_angle(own: Instrument, level: float) -> float:
    """Angle of the bridge's curve at a level, in radians; 0 in the middle of the strings."""
    per_string = own.string_spacing_mm / own.bridge_radius_mm
    return ((level - 1) / 2 - (len(own.open_midis) - 1) / 2) * per_string


class LevelGeometry:
    """The curve of the bridge inside a rectangle.

    Attributes:
        side: 1 with the lowest string at the left, −1 at the right.
    """

    def __init__(self, rect: QRectF, unit: float, own: Instrument, hand_right: bool) -> None:
        """Lay the curve out.

        Args:
            hand_right: the bow hand at the right; else everything is mirrored.
        """
        self.rect, self.unit, self.own, self.hand_right = rect, unit, own, hand_right
        self.side = 1.0 if own.on_the_shoulder == hand_right else -1.0
        self.spread = string_angle(own, own.levels_n)
        self._radius = rect.width() * 0.30 / math.sin(self.spread)
        top = QPointF(rect.center().x(), rect.top() + rect.height() * 0.40)
        self._centre = QPointF(top.x(), top.y() + self._radius)

    def on_curve(self, angle: float, out: float = 0.0) -> QPointF:
        """A place on the curve, or so far outside it."""
        reach = self._radius + out
        return QPointF(
            self._centre.x() + self.side * reach * math.sin(angle),
            self._centre.y() - reach * math.cos(angle),
        )

    def string(self, number: int, out: float) -> QPointF:
        return self.on_curve(string_angle(self.own, 2 * number + 1), out * self.unit)


def paint_bridge(painter: QPainter, geometry: LevelGeometry) -> None:
    """The bridge with its strings at rest."""
    now, unit = theme.colours(), geometry.unit
    painter.save()
    painter.setClipRect(geometry.rect)
    wide = geometry.spread * 1.35
    bridge = QPainterPath(geometry.on_curve(-wide))
    for k in range(1, 21):
        bridge.lineTo(geometry.on_curve(-wide + k * wide / 10))
    for end in (wide, -wide):
        bridge.lineTo(QPointF(geometry.on_curve(end).x(), geometry.rect.bottom()))
    bridge.closeSubpath()
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(now.wood)
    painter.drawPath(bridge)
    painter.setFont(theme.label_font(22 * unit))
    for number, name in enumerate(geometry.own.string_names):
        _paint_string(painter, geometry, number, sounding=False)
        painter.setPen(now.paper)
        under = geometry.string(number, -22)
        box = QRectF(under.x() - 20 * unit, under.y() - 16 * unit, 40 * unit, 32 * unit)
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, name)
    painter.restore()


def _paint_string(
    painter: QPainter, geometry: LevelGeometry, number: int, *, sounding: bool
) -> None:
    now = theme.colours()
    painter.setBrush(now.accent if sounding else now.muted)
    painter.setPen(QPen(now.paper, 2))
    size = (8 if sounding else 6) * geometry.unit
    painter.drawEllipse(geometry.string(number, 5), size, size)


def paint_level(painter: QPainter, geometry: LevelGeometry, level: float) -> None:
    """The strings that sound, and the bow lying on the curve.

    Args:
        level: of the bow, 1 to 7, between two while it rolls.
    """
    painter.save()
    painter.setClipRect(geometry.rect)
    for number in range(len(geometry.own.open_midis)):
        if abs(level - (2 * number + 1)) < 1.0 or level == 2 * number + 2 or level == 2 * number:
            _paint_string(painter, geometry, number, sounding=True)
    angle = string_angle(geometry.own, level)
    touch = geometry.on_curve(angle, 15 * geometry.unit)
    _paint_bow(
        painter, touch, geometry.rect, geometry.unit, geometry.side * angle, geometry.hand_right
    )
    painter.restore()


def _paint_bow(
    painter: QPainter, touch: QPointF, rect: QRectF, unit: float, tilt: float, hand_right: bool
) -> None:
    """A line along the curve where it touches, with the hand at its frog end."""
    now = theme.colours()
    way = QPointF(math.cos(tilt), math.sin(tilt))
    room = 15 * unit
    right = (rect.right() - room - touch.x()) / way.x()
    left = (touch.x() - rect.left() - room) / way.x()
    if way.y() > 0:
        left = min(left, (touch.y() - rect.top() - room) / way.y())
    elif way.y() < 0:
        right = min(right, (touch.y() - rect.top() - room) / -way.y())
    painter.setPen(QPen(now.ink, 7 * unit, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
    painter.drawLine(touch - way * left, touch + way * right)
    hand = touch + way * (right if hand_right else -left)
    painter.setPen(QPen(now.paper, 2))
    painter.setBrush(now.accent)
    painter.drawEllipse(hand, 13 * unit, 13 * unit)


def paint_balance(
    painter: QPainter, rect: QRectF, unit: float, hand_nmm: float, most_nmm: float
) -> None:
    """A small scale from little finger to index with the hand's balance on it."""
    now = theme.colours()
    painter.setFont(theme.label_font(17 * unit))
    painter.setPen(now.muted)
    painter.drawText(
        rect, Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignTop, tr("little finger")
    )
    painter.drawText(
        rect, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignTop, tr("index", "finger")
    )
    y = rect.bottom() - 12 * unit
    left, right = rect.left() + 10 * unit, rect.right() - 10 * unit
    painter.setPen(QPen(now.edge, 6 * unit, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
    painter.drawLine(QPointF(left, y), QPointF(right, y))
    middle = (left + right) / 2
    painter.setPen(QPen(now.muted, 2 * unit))
    painter.drawLine(QPointF(middle, y - 9 * unit), QPointF(middle, y + 9 * unit))
    share = max(-1.0, min(1.0, hand_nmm / most_nmm))
    painter.setPen(QPen(now.paper, 2))
    painter.setBrush(now.ink)
    painter.drawEllipse(QPointF(middle + share * (right - left) / 2, y), 9 * unit, 9 * unit)
