"""Strips under the bow path: contact point, strings, hand, speed. Each can be shown or hidden.

Every strip says in a small picture what one row of numbers says; a strip holds no state.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING, TypeAlias

from PySide6.QtCore import QLineF, QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPen

from plectrum.core.wording import tr
from plectrum.ui.look import theme

if TYPE_CHECKING:
    from plectrum.core.planning.plan import Plan
    from plectrum.ui.drawing.timeline import Segment

GAP = 10.0
MOST_HAND_NMM = 150.0  # a strip is full at this torque (own default)
Shown: TypeAlias = (
    "Sequence[tuple[Segment, int]]"  # a note's stretch on the line, and its row in the contact
)


@dataclass(frozen=True, slots=True)
class Strip:
    """One kind of strip: its name in the menu, its height, its labels and how it is painted.

    `labels` gives (text, height in the strip from 0 at the bottom to 1) for a plan.
    """

    key: str
    title: str
    height: float
    labels: Callable[[Plan], Sequence[tuple[str, float]]]
    paint: Callable[[QPainter, QRectF, Plan, Shown], None]


def _y(rect: QRectF, share: float) -> float:
    return rect.bottom() - share * rect.height()


def _paint_contact(painter: QPainter, rect: QRectF, plan: Plan, shown: Shown) -> None:
    """Five lanes, the bridge at the bottom; a line where the hair runs, from start to end."""
    step = rect.height() / 5
    for k, tint in enumerate(theme.colours().lanes):
        lane = QRectF(rect.left(), rect.bottom() - (k + 1) * step, rect.width(), step)
        painter.fillRect(lane, tint)
    contact, room_mm = plan.contact, plan.instrument.bridge_to_fingerboard_mm
    pen = QPen(theme.colours().ink, 4)
    pen.setCapStyle(Qt.PenCapStyle.RoundCap)
    painter.setPen(pen)
    for segment, row in shown:
        left, right = segment.left + 1, max(segment.right - 2, segment.left + 4)
        ends = [
            QPointF(x, rect.bottom() - float(at.contact_mm[row]) / room_mm * rect.height())
            for x, at in ((left, contact.start), (right, contact.end))
        ]
        painter.drawLine(*ends)


def _paint_strings(painter: QPainter, rect: QRectF, plan: Plan, shown: Shown) -> None:
    """Levels as steps, the lowest string at the bottom; open strings ringed, crossings marked."""
    painter.fillRect(rect, theme.colours().panel)
    painter.setPen(QPen(theme.colours().edge, 1))
    for string in range(plan.instrument.strings_n):
        y = _y(rect, _level_share(2 * string + 1))
        painter.drawLine(QPointF(rect.left(), y), QPointF(rect.right(), y))
    before: QPointF | None = None
    for segment, row in shown:
        fingered = plan.fingered[int(plan.contact.notes[row])]
        if fingered.level is None or fingered.grip is None:
            before = None
            continue
        y = _y(rect, _level_share(fingered.level))
        if before is not None and before.y() != y:
            painter.setPen(QPen(theme.colours().accent, 1.6))
            painter.drawLine(QLineF(segment.left, before.y(), segment.left, y))
        painter.setPen(QPen(theme.colours().ink, 2.6))
        painter.drawLine(QPointF(segment.left + 1, y), QPointF(segment.right - 2, y))
        if segment.share_from == 0 and any(f.finger == 0 for f in fingered.grip.fingers):
            painter.setPen(QPen(theme.colours().ink, 1.4))
            painter.setBrush(theme.colours().paper)
            painter.drawEllipse(QPointF(segment.left + 4, y), 3.4, 3.4)
        before = QPointF(segment.right, y)


def _level_share(level: int) -> float:
    return (level - 0.4) / 7.2


def _paint_hand(painter: QPainter, rect: QRectF, plan: Plan, shown: Shown) -> None:
    """Above the line the index leans, below it the little finger carries."""
    painter.fillRect(rect, theme.colours().panel)
    middle = rect.center().y()
    for segment, row in shown:
        share = max(-1.0, min(1.0, float(plan.contact.hand_nmm[row]) / MOST_HAND_NMM))
        top = middle - max(share, 0.0) * rect.height() / 2
        height = abs(share) * rect.height() / 2
        bar = QRectF(segment.left + 1, top, max(segment.right - segment.left - 3, 3), height)
        painter.setPen(QPen(theme.colours().ink, 1))
        painter.setBrush(theme.colours().ink if share > 0 else theme.colours().carried)
        painter.drawRect(bar)
    painter.setPen(QPen(theme.colours().muted, 1.2))
    painter.drawLine(QPointF(rect.left(), middle), QPointF(rect.right(), middle))


def _paint_speed(painter: QPainter, rect: QRectF, plan: Plan, shown: Shown) -> None:
    """Bars from the bottom; the dashed line is the player's comfortable speed."""
    painter.fillRect(rect, theme.colours().panel)
    comfortable = plan.player.comfortable_mm_s
    painter.setPen(QPen(theme.colours().ink, 1))
    painter.setBrush(theme.colours().bars)
    for segment, row in shown:
        width = max(segment.right - segment.left - 3, 3)
        left = segment.left + 1
        heights = [
            min(1.0, float(at.speed_m_s[row]) * 1000 / (2 * comfortable)) * rect.height()
            for at in (plan.contact.start, plan.contact.end)
        ]
        corners = [
            QPointF(left, rect.bottom()),
            QPointF(left, rect.bottom() - heights[0]),
            QPointF(left + width, rect.bottom() - heights[1]),
            QPointF(left + width, rect.bottom()),
        ]
        painter.drawPolygon(corners)
    painter.setPen(QPen(theme.colours().muted, 1, Qt.PenStyle.DashLine))
    y = rect.center().y()
    painter.drawLine(QPointF(rect.left(), y), QPointF(rect.right(), y))


def _string_labels(plan: Plan) -> Sequence[tuple[str, float]]:
    names = plan.instrument.string_names
    return [(name, _level_share(2 * k + 1)) for k, name in enumerate(names)]


STRIPS = (
    Strip(
        "contact",
        tr("&Contact: lanes from bridge to fingerboard"),
        50.0,
        lambda _plan: [(tr("bridge"), 0.12), (tr("board"), 0.84)],
        _paint_contact,
    ),
    Strip("strings", tr("&Strings: levels and crossings"), 60.0, _string_labels, _paint_strings),
    Strip(
        "hand",
        tr("&Hand: little finger or index"),
        44.0,
        lambda _plan: [(tr("little", "strip"), 0.2), (tr("index", "strip"), 0.8)],
        _paint_hand,
    ),
    Strip(
        "speed",
        tr("S&peed"),
        44.0,
        lambda _plan: [(tr("slow"), 0.14), (tr("fast"), 0.84)],
        _paint_speed,
    ),
)


def paint_strip(
    painter: QPainter, strip: Strip, rect: QRectF, plan: Plan, segments: Sequence[Segment]
) -> None:
    """One strip of one system, its labels to the left of it.

    Args:
        rect: where the strip lies, in the coordinates of the segments.
    """
    rows = plan.contact_rows
    strip.paint(painter, rect, plan, [(s, rows[s.note]) for s in segments if s.note in rows])
    painter.setPen(theme.colours().muted)
    painter.setFont(theme.label_font(11))
    for text, share in strip.labels(plan):
        place = QRectF(rect.left() - 56, _y(rect, share) - 8, 50, 16)
        painter.drawText(place, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, text)
