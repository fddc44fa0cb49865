"""The hand on the bow: the whole bow with the hand where it stands, and the hold from two sides.

The pictures show one common way for each kind of instrument (common practice, no source): over the
stick on violin and viola with the little finger on top, further over it on cello and bass with the
little finger at the side. Where teachers differ, theirs counts.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPainterPath, QPen, QPolygonF

from plectrum.core.practice.exercises.drills import Moves
from plectrum.core.wording import tr
from plectrum.ui.look import theme

STICK, THICK = 11.0, 27.0  # the stick and a finger, thick
FROG = (118.0, 46.0)
SIDES = tr("as the player sees it"), tr("from the other side")
CAPTION = 20.0  # room over the hold for what side it is
COUNT_ROOM = 130.0  # at the left, where the count stands
HAND = (74.0, 46.0)  # the hand on the whole bow
# By finger: where it leaves the back of the hand and where its joint and its tip lie, from where
# the stick meets the frog's front edge; x towards the tip, y down. The hand comes from above.
_Fingers = Mapping[str, tuple[tuple[int, int], ...]]
_OVER: _Fingers = {
    "index": ((58, -88), (80, -44), (58, 12)),
    "middle": ((8, -104), (20, -50), (12, 24)),
    "ring": ((-44, -102), (-34, -46), (-36, 26)),
    "little": ((-98, -84), (-96, -46), (-92, -12)),
}
_DEEP: _Fingers = {
    "index": ((58, -84), (74, -30), (54, 28)),
    "middle": ((8, -96), (20, -36), (12, 42)),
    "ring": ((-44, -94), (-36, -34), (-38, 44)),
    "little": ((-96, -80), (-84, -30), (-82, 36)),
}
_THUMB = ((-16, 92), (24, 62), (12, 10))  # comes from below, bent, its tip beside the frog
_NAMES = {
    "index": tr("index", "finger"),
    "middle": tr("middle", "finger"),
    "ring": tr("ring", "finger"),
    "little": tr("little", "finger"),
    "thumb": tr("thumb"),
}


@dataclass(frozen=True, slots=True)
class Hand:
    """The hand at a moment.

    Attributes:
        place: where it stands on the stick, a fraction of the hair from the frog.
        finger: the one that moves, if any. on_the_shoulder: of a violin or viola.
    """

    place: float
    moves: Moves
    finger: str = ""
    word: str = ""
    on_the_shoulder: bool = True


def paint_hand(painter: QPainter, rect: QRectF, unit: float, hand: Hand, frog_right: bool) -> None:
    """The whole bow above; under it the hold from the player's side and from the other."""
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(theme.colours().field)
    painter.drawRoundedRect(rect, 12 * unit, 12 * unit)
    beside = rect.adjusted(COUNT_ROOM * unit, 0, 0, 0)
    if hand.moves is not Moves.HAND:
        _paint_whole(painter, beside, unit, hand, frog_right)
        return
    if hand.place > 0.02:
        top = QRectF(rect.left(), rect.top(), rect.width(), rect.height() * 0.36)
        _paint_whole(painter, top, unit, hand, frog_right)
        beside.setTop(top.bottom())
    paint_hold(painter, beside, unit, hand, frog_right)


def paint_hold(painter: QPainter, rect: QRectF, unit: float, hand: Hand, frog_right: bool) -> None:
    """The hold from the player's side, and beside it from the other."""
    half = rect.width() / 2
    for k, words in enumerate(SIDES):
        panel = QRectF(rect.left() + k * half, rect.top(), half, rect.height())
        _Hold(painter, panel, unit, hand, other_side=k == 1, frog_right=frog_right).paint(words)


def _paint_whole(
    painter: QPainter, rect: QRectF, unit: float, hand: Hand, frog_right: bool
) -> None:
    """The bow from end to end with the hand on it, and the other hand where it holds the tip."""
    now, u = theme.colours(), unit
    room = 110 * u
    left, right = rect.left() + room, rect.right() - room
    y = rect.center().y() - (14 if hand.moves is Moves.HAND else -10) * u

    def x(place: float) -> float:
        return right - place * (right - left) if frog_right else left + place * (right - left)

    side = 1 if frog_right else -1
    painter.setPen(QPen(now.ink, STICK * u, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
    painter.drawLine(QPointF(x(0) + side * 46 * u, y), QPointF(x(1), y))
    painter.setPen(QPen(now.muted, 5 * u))
    painter.drawLine(QPointF(x(0), y + 26 * u), QPointF(x(1), y + 26 * u))
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(now.ink)
    painter.drawRect(QRectF(min(x(0), x(0) + side * 40 * u), y, 40 * u, 30 * u))
    painter.drawPolygon(QPolygonF([QPointF(x(1), y), QPointF(x(1), y + 28 * u),
                                   QPointF(x(1) - side * 14 * u, y)]))  # fmt: skip
    painter.setFont(theme.label_font(18 * u))
    painter.setPen(now.muted)
    for words, at in ((tr("frog"), 0.0), (tr("tip"), 1.0)):
        box = QRectF(x(at) - 50 * u, y + 38 * u, 100 * u, 26 * u)
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, words)
    if hand.moves is Moves.CARE:
        _paint_screw(painter, QPointF(x(0) + side * 52 * u, y), u, hand.word)
        return
    _paint_fist(painter, QPointF(x(hand.place), y), u, now.accent)
    if hand.moves is Moves.GLIDE:
        _paint_fist(painter, QPointF(x(1.0), y), u, now.muted)


def _paint_fist(painter: QPainter, at: QPointF, u: float, colour: QColor) -> None:
    """A hand on the stick, as a rounded block with four fingers."""
    now = theme.colours()
    painter.setPen(QPen(now.paper, 2 * u))
    painter.setBrush(colour)
    box = QRectF(at.x() - HAND[0] / 2 * u, at.y() - HAND[1] * 0.72 * u, HAND[0] * u, HAND[1] * u)
    painter.drawRoundedRect(box, 16 * u, 16 * u)
    for k in range(1, 4):
        line = box.left() + k * box.width() / 4
        painter.drawLine(QPointF(line, box.top() + 12 * u), QPointF(line, box.bottom()))


def _paint_screw(painter: QPainter, at: QPointF, u: float, word: str) -> None:
    """The screw; an arrow round it while it is turned."""
    now = theme.colours()
    painter.setPen(QPen(now.ink, 3 * u))
    painter.setBrush(now.accent if word in ("tighten", "loosen") else now.panel)
    painter.drawEllipse(at, 13 * u, 13 * u)
    if word not in ("tighten", "loosen"):
        return
    turn = 1 if word == "tighten" else -1
    ring = QRectF(at.x() - 34 * u, at.y() - 34 * u, 68 * u, 68 * u)
    painter.setPen(QPen(now.accent, 5 * u))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawArc(ring, 16 * 20, 16 * 280)
    end = QPointF(ring.center().x() + 32 * u, ring.center().y() - turn * 12 * u)
    painter.setBrush(now.accent)
    painter.drawPolygon(QPolygonF([end + QPointF(-10 * u, 0), end + QPointF(10 * u, 0),
                                   end + QPointF(0, turn * 18 * u)]))  # fmt: skip


class _Hold:
    """The hold in one panel, large."""

    def __init__(
        self, painter: QPainter, panel: QRectF, unit: float, hand: Hand, *, other_side: bool,
        frog_right: bool,
    ) -> None:  # fmt: skip
        self._p, self._hand, self._other = painter, hand, other_side
        self._panel, self._caption = panel, CAPTION * unit
        height = panel.height() - self._caption
        self._u = min(1.5 * unit, height / 282, panel.width() / 440)
        # Seen from the other side, what was at the right is at the left.
        self._side = (1.0 if frog_right else -1.0) * (-1.0 if other_side else 1.0)
        self._zero = QPointF(
            panel.center().x() + self._side * 10 * self._u,
            panel.center().y() + self._caption / 2 + 20 * self._u,
        )

    def _at(self, point: tuple[float, float]) -> QPointF:
        x, y = point
        return QPointF(self._zero.x() - self._side * x * self._u, self._zero.y() + y * self._u)

    def paint(self, words: str) -> None:
        """The fingers that are behind the stick first, then the stick, then those before it."""
        fingers = _OVER if self._hand.on_the_shoulder else _DEEP
        if self._other:
            self._paint_fingers(fingers)
            self._paint_stick()
            self._finger("thumb", _THUMB)
            self._paint_tips(fingers)
        else:
            self._finger("thumb", _THUMB, behind=True)
            self._paint_stick()
            self._paint_fingers(fingers)
        self._p.setPen(theme.colours().muted)
        self._p.setFont(theme.label_font(0.8 * self._caption))
        side = Qt.AlignmentFlag.AlignRight if self._other else Qt.AlignmentFlag.AlignLeft
        room = self._panel.adjusted(0, 2, -14 * self._u, 0)
        self._p.drawText(room, side | Qt.AlignmentFlag.AlignTop, words)

    def _paint_stick(self) -> None:
        now, u = theme.colours(), self._u
        self._p.setPen(QPen(now.muted, 5 * u))
        hair = self._at((0, FROG[1] - 6))
        self._p.drawLine(hair, self._at((200, FROG[1] - 6)))
        self._p.setPen(QPen(now.ink, STICK * u, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
        self._p.drawLine(self._at((-FROG[0] - 34, 0)), self._at((200, 0)))
        self._p.setPen(Qt.PenStyle.NoPen)
        self._p.setBrush(now.ink)
        a, b = self._at((0, 3)), self._at((-FROG[0], FROG[1]))
        self._p.drawRoundedRect(QRectF(a, b).normalized(), 6 * u, 6 * u)
        self._p.setBrush(now.field)
        self._p.drawEllipse(self._at((-FROG[0] / 2, FROG[1] / 2 + 2)), 7 * u, 7 * u)
        self._p.setPen(QPen(now.panel, 3 * u))
        for k in range(6):  # where the index finger lies the stick is wound
            x = 34 + 8 * k
            self._p.drawLine(self._at((x, -5)), self._at((x, 5)))

    def _paint_fingers(self, fingers: _Fingers) -> None:
        for name in ("little", "ring", "middle", "index"):
            self._finger(name, fingers[name])

    def _paint_tips(self, fingers: _Fingers) -> None:
        """From the other side only the ends that come over the stick are before it."""
        for name in ("ring", "middle", "index"):
            joint, tip = fingers[name][1:]
            start = (joint[0] + (tip[0] - joint[0]) * 0.62, -4.0)
            self._finger(name, (start, start, tip), named=False)

    def _finger(
        self, name: str, points: tuple[tuple[float, float], ...], *, behind: bool = False,
        named: bool = True,
    ) -> None:  # fmt: skip
        now, u = theme.colours(), self._u
        root, joint, tip = (self._at(p) for p in points)
        moves = self._hand.finger == name
        path = QPainterPath(root)
        path.quadTo(joint, tip)
        width = THICK * u * (0.92 if name == "little" else 1.12 if name == "thumb" else 1.0)
        style = Qt.PenStyle.SolidLine
        cap, join = Qt.PenCapStyle.RoundCap, Qt.PenJoinStyle.RoundJoin
        self._p.setBrush(Qt.BrushStyle.NoBrush)
        self._p.setPen(QPen(now.ink if not behind else now.edge, width + 4 * u, style, cap, join))
        self._p.drawPath(path)
        colour = now.accent if moves else now.panel if behind else now.paper
        self._p.setPen(QPen(colour, width, style, cap, join))
        self._p.drawPath(path)
        if not named:
            return
        self._p.setFont(theme.label_font(17 * u))
        self._p.setPen(now.accent if moves else now.ink)
        lift = -36 * u if name != "thumb" else -6 * u
        aside = self._side * 58 * u if name == "thumb" else 0.0
        box = QRectF(root.x() + aside - 50 * u, root.y() + lift, 100 * u, 22 * u)
        self._p.drawText(box, Qt.AlignmentFlag.AlignCenter, name)
