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
from plectrum.ui.drawing import signs
from plectrum.ui.drawing.timeline import Segment
from plectrum.ui.engraving.system import System
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
    notes = plan.notes

    def join(k: int) -> Join | None:
        planned = notes[k] if 0 < k < len(notes) else None
        bound = planned is not None and notes[k - 1] is not None
        return planned.join if bound and planned.join in (Join.SLUR, Join.HOOK) else None  # type: ignore[union-attr]

    k = first
    while join(k) is not None and join(k) is join(k - 1):
        k -= 1
    while k <= last + 1:
        kind, begin = join(k), k
        while kind is not None and join(k + 1) is kind:
            k += 1
        if kind is not None:
            own = [n for n in range(begin, k + 1) if not plan.part.notes[n].slurred]
            if own and not all(plan.part.notes[n - 1].grace for n in own):
                pins = plan.choices.pins
                kept = all(plan.part.notes[n].id in pins for n in own)
                yield Bound(kind, begin - 1, k, kept)
        k += 1


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
        system: System,
        segments: Sequence[Segment],
        *,
        pins_shown: bool = False,
        proposals_shown: bool = False,
    ) -> None:
        self.plan, self.system = plan, system
        self.pins_shown, self.proposals_shown = pins_shown, proposals_shown
        self._begun = [s for s in segments if s.share_from == 0]
        self._xs = {s.note: self._head_x(s) for s in self._begun}

    def _head_x(self, segment: Segment) -> float:
        box = self.system.notes.get(self.plan.part.notes[segment.note].id)
        return box[0] + box[2] / 2 if box is not None else segment.left

    def signs(self) -> Iterator[Sign]:
        """All that is drawn, arcs first."""
        if not self._begun:
            return
        for bound in bounds_over(self.plan, self._begun[0].note, self._begun[-1].note):
            rect = self._arc(bound)
            if rect is not None:
                yield Sign("slur" if bound.join is Join.SLUR else "hook", bound.first, rect, bound)
        before_x = None
        for note, x in self._xs.items():
            planned = self.plan.notes[note]
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

    def paint(self, painter: QPainter, top: float, span: tuple[float, float] | None = None) -> None:
        """Paint the row; with a span only what touches it, for a part of it painted anew."""
        painter.save()
        painter.translate(0, top)
        for sign in self.signs():
            if span is None or (sign.rect.right() >= span[0] and sign.rect.left() <= span[1]):
                self._paint(painter, sign)
        painter.restore()

    def _paint(self, painter: QPainter, sign: Sign) -> None:
        planned = self.plan.notes[sign.note]
        if sign.bound is not None:
            self._paint_arc(painter, sign.rect, sign.bound)
        elif sign.kind == "lift":
            signs.paint_lift(painter, sign.rect)
        elif sign.kind == "pin":
            signs.paint_pin(painter, QPointF(sign.rect.center().x(), PIN_Y))
        elif planned is not None:
            signs.paint_bow(painter, planned.direction, sign.rect.center())

    def _paint_arc(self, painter: QPainter, rect: QRectF, bound: Bound) -> None:
        if bound.join is Join.HOOK:
            notes = range(bound.first, bound.last + 1)
            paint_hook(painter, rect, [self._xs[n] for n in notes if n in self._xs])
        else:
            _paint_slur(painter, rect, self.proposals_shown and not bound.kept)


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
