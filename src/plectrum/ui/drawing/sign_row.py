"""The row of players' signs over a staff: bows, lifts, and under them the slurs and hooks of the
plan that the page does not have.

A hook is a slur with dots, as players pencil it: the same way, with a stop. Where the teacher
works, a slur that the plan proposes is dashed until it is kept; the student sees a slur.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPainterPath, QPen

from plectrum.core.document.choices import Join
from plectrum.core.planning.plan import Plan
from plectrum.core.score.model import Direction
from plectrum.ui.drawing import signs
from plectrum.ui.drawing.timeline import SystemTimeline
from plectrum.ui.engraving.engraved_item import Span
from plectrum.ui.look import theme

LETTERS = 18.0  # over the row: the letters of sections
ROW = 34.0
SIGN_Y = 14.0  # the middle of the bow signs, from the row's top
PIN_Y = 2.5
ARC_TOP, ARC_FOOT, DOT_BELOW = 22.5, 28.0, 3.0
LIFT_WIDTH, LIFT_HEIGHT = 6.0, 11.0
LIFT_AWAY = 15.0  # how far before its note a lift stands, where there is room
OVER_THE_LINE = 22.0  # how far an arc goes on where the line breaks


@dataclass(frozen=True, slots=True)
class Bound:
    """Notes that a slur or a hook of the plan binds, `first` to `last`; `kept` if pinned."""

    join: Join
    first: int
    last: int
    kept: bool


def bounds_over(plan: Plan, first: int, last: int) -> Iterator[Bound]:
    """What binds notes `first` to `last` and is not on the page, whole also where it begins
    before them or goes on after them."""
    k, last = bound_reach(plan, first, last)
    while k <= last:
        kind, begin = _bound_on(plan, k), k
        while kind is not None and _bound_on(plan, k + 1) is kind:
            k += 1
        if kind is not None:
            own = [n for n in range(begin, k + 1) if not plan.part.notes[n].slurred]
            if own and not all(plan.part.notes[n - 1].grace for n in own):
                pins = plan.choices.pins
                kept = all(plan.part.notes[n].id in pins for n in own)
                yield Bound(kind, begin - 1, k, kept)
        k += 1


def bound_reach(plan: Plan, first: int, last: int) -> tuple[int, int]:
    """From the note to the note, or the one after the last, whose joins bind notes `first` to
    `last`."""
    kind = _bound_on(plan, first)
    while kind is not None and _bound_on(plan, first - 1) is kind:
        first -= 1
    last += 1
    kind = _bound_on(plan, last)
    while kind is not None and _bound_on(plan, last + 1) is kind:
        last += 1
    return first, last


def _bound_on(plan: Plan, k: int) -> Join | None:
    """How a note is bound to the one before it; None if it is not."""
    planned = plan.notes[k] if 0 < k < len(plan.notes) else None
    if planned is None or planned.join not in (Join.SLUR, Join.HOOK):
        return None
    follows = plan.note_before(k) == k - 1
    return planned.join if follows and plan.notes[k - 1] is not None else None


@dataclass(frozen=True, slots=True)
class Sign:
    """One sign and the rectangle it fills; `kind` is "bow", "lift", "pin", "slur" or "hook"."""

    kind: str
    note: int
    rect: QRectF
    bound: Bound | None = None


class SignRow:
    """The signs of one plan over one system. x counts from the engraved picture's left edge, y
    from the row's top."""

    def __init__(
        self,
        plan: Plan,
        timeline: SystemTimeline,
        *,
        pins_shown: bool = False,
        proposals_shown: bool = False,
    ) -> None:
        self.plan = plan
        self.pins_shown, self.proposals_shown = pins_shown, proposals_shown
        self._xs = timeline.heads

    def signs(self, span: Span | None = None) -> Iterator[Sign]:
        """All that is drawn, or that touches a span of x; arcs first."""
        notes = list(self._xs)
        if span is not None:
            reach = signs.WIDTH + LIFT_AWAY
            near = [
                k
                for k, n in enumerate(notes)
                if span[0] <= self._xs[n] + reach and self._xs[n] - reach <= span[1]
            ]
            notes = notes[max(0, near[0] - 1) : near[-1] + 2] if near else []
        if not notes:
            return
        for bound in bounds_over(self.plan, notes[0], notes[-1]):
            rect = self._arc(bound)
            if rect is not None:
                yield Sign("slur" if bound.join is Join.SLUR else "hook", bound.first, rect, bound)
        before_x = None
        for note in notes:
            planned, x = self.plan.notes[note], self._xs[note]
            if planned is not None and planned.join is not Join.SLUR:
                yield Sign("bow", note, _around(x, SIGN_Y, signs.WIDTH, signs.HEIGHT))
                if planned.join is Join.RETAKE:
                    yield Sign("lift", note, self._lift(x, before_x))
                if self.pins_shown and planned.note.id in self.plan.choices.pins:
                    yield Sign("pin", note, _around(x, PIN_Y + 1.5, 6.4, 8))
            before_x = x

    def _lift(self, x: float, before_x: float | None) -> QRectF:
        """Nearer to its note than to the one before; between the signs where it is narrow."""
        room = signs.WIDTH if before_x is None else x - before_x - signs.WIDTH
        width = max(2.0, min(LIFT_WIDTH, room - 1))
        at = x - min(LIFT_AWAY, signs.WIDTH / 2 + max(room / 2, width / 2))
        return _around(at, SIGN_Y, width, LIFT_HEIGHT)

    def _arc(self, bound: Bound) -> QRectF | None:
        """From note to note; open to the side where the line breaks within it."""
        here = [self._xs[n] for n in range(bound.first, bound.last + 1) if n in self._xs]
        if not here:
            return None
        left = self._xs.get(bound.first, here[0] - OVER_THE_LINE)
        right = self._xs.get(bound.last, here[-1] + OVER_THE_LINE)
        return QRectF(left, ARC_TOP, max(4.0, right - left), ARC_FOOT - ARC_TOP)

    def paint(self, painter: QPainter, top: float, span: Span | None = None) -> None:
        """Paint the row; with a span only what touches it, for a part of it painted anew."""
        painter.save()
        painter.translate(0, top)
        bows: dict[Direction, list[QPointF]] = {way: [] for way in Direction}
        for sign in self.signs(span):
            if span is not None and not _touches(sign.rect, span):
                continue
            planned = self.plan.notes[sign.note]
            if sign.kind == "bow" and planned is not None:
                bows[planned.direction].append(sign.rect.center())
            else:
                self._paint(painter, sign)
        signs.paint_bows(painter, bows)
        painter.restore()

    def _paint(self, painter: QPainter, sign: Sign) -> None:
        if sign.bound is not None:
            self._paint_arc(painter, sign.rect, sign.bound)
        elif sign.kind == "lift":
            signs.paint_lift(painter, sign.rect)
        elif sign.kind == "pin":
            signs.paint_pin(painter, QPointF(sign.rect.center().x(), PIN_Y))

    def _paint_arc(self, painter: QPainter, rect: QRectF, bound: Bound) -> None:
        if bound.join is Join.HOOK:
            notes = range(bound.first, bound.last + 1)
            paint_hook(painter, rect, [self._xs[n] for n in notes if n in self._xs])
        else:
            _paint_slur(painter, rect, self.proposals_shown and not bound.kept)


def _touches(rect: QRectF, span: Span) -> bool:
    return rect.right() >= span[0] and rect.left() <= span[1]


def paint_hook(painter: QPainter, rect: QRectF, dots: Sequence[float] = ()) -> None:
    """A slur with dots under it, at these x; without any, at its ends."""
    _paint_slur(painter, rect, proposed=False)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(theme.colours().ink)
    for x in dots or (rect.left(), rect.right()):
        painter.drawEllipse(QPointF(x, rect.bottom() + DOT_BELOW), 1.8, 1.8)


def _paint_slur(painter: QPainter, rect: QRectF, proposed: bool) -> None:
    now = theme.colours()
    pen = QPen(now.accent if proposed else now.ink, 1.6)
    pen.setStyle(Qt.PenStyle.DashLine if proposed else Qt.PenStyle.SolidLine)
    painter.setPen(pen)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    bend = min(10.0, rect.width() / 3)
    arc = QPainterPath(rect.bottomLeft())
    tops = rect.topLeft() + QPointF(bend, -2), rect.topRight() + QPointF(-bend, -2)
    arc.cubicTo(*tops, rect.bottomRight())
    painter.drawPath(arc)


def _around(x: float, y: float, width: float, height: float) -> QRectF:
    return QRectF(x - width / 2, y - height / 2, width, height)
