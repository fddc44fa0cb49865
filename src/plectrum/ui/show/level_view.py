"""The string levels as a tilting bow, seen along the strings from the player's end."""

from __future__ import annotations

import math

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPainterPath, QPen

from plectrum.core.instrument.tables import Instrument
from plectrum.ui import theme

LOW_ON_THE_LEFT = frozenset({"violin", "viola"})


def string_angle(own: Instrument, level: float) -> float:
    """Angle of the bridge's curve at a level, in radians; 0 in the middle of the four strings."""
    per_string = own.string_spacing_mm / own.bridge_radius_mm
    return ((level - 1) / 2 - (len(own.open_midis) - 1) / 2) * per_string


def paint_levels(
    painter: QPainter, rect: QRectF, unit: float, own: Instrument, level: float, hand_right: bool
) -> None:
    """The curve of the bridge with its strings, and the bow lying on it.

    Args:
        level: of the bow, 1 to 7, between two while it rolls.
        hand_right: the bow hand at the right; else everything is mirrored.
    """
    now = theme.colours()
    side = 1.0 if (own.name in LOW_ON_THE_LEFT) == hand_right else -1.0
    spread = string_angle(own, 7)
    radius = rect.width() * 0.30 / math.sin(spread)
    top = QPointF(rect.center().x(), rect.top() + rect.height() * 0.40)
    centre = QPointF(top.x(), top.y() + radius)

    def on_curve(angle: float, out: float = 0.0) -> QPointF:
        reach = radius + out
        return QPointF(
            centre.x() + side * reach * math.sin(angle), centre.y() - reach * math.cos(angle)
        )

    painter.save()
    painter.setClipRect(rect)
    wide = spread * 1.35
    bridge = QPainterPath(on_curve(-wide))
    for k in range(1, 21):
        bridge.lineTo(on_curve(-wide + k * wide / 10))
    bridge.lineTo(QPointF(on_curve(wide).x(), rect.bottom()))
    bridge.lineTo(QPointF(on_curve(-wide).x(), rect.bottom()))
    bridge.closeSubpath()
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(now.wood)
    painter.drawPath(bridge)
    names = own.string_names
    painter.setFont(theme.label_font(22 * unit))
    for k, name in enumerate(names):
        at = on_curve(string_angle(own, 2 * k + 1), 5 * unit)
        sounding = abs(level - (2 * k + 1)) <= 1.0 - 1e-9 or level == 2 * k + 1
        painter.setBrush(now.accent if sounding else now.muted)
        painter.setPen(QPen(now.paper, 2))
        size = (8 if sounding else 6) * unit
        painter.drawEllipse(at, size, size)
        painter.setPen(now.paper)
        under = on_curve(string_angle(own, 2 * k + 1), -22 * unit)
        box = QRectF(under.x() - 20 * unit, under.y() - 16 * unit, 40 * unit, 32 * unit)
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, name)
    _paint_bow(painter, on_curve(string_angle(own, level), 15 * unit), rect, unit,
               side * string_angle(own, level), hand_right)  # fmt: skip
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
    painter.drawText(rect, Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignTop, "little finger")
    painter.drawText(rect, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignTop, "index")
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
