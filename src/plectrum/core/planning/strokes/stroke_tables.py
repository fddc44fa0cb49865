"""What a bow costs by itself, by direction, length and place: amount, place, limits, tape marks,
crossings and pinned places.

Bows that wish for the same share a kind, and a kind its tables. A stroke is given by its length and
by the end that lies nearer the frog, both in cells.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from plectrum.core.document.choices import Pin
from plectrum.core.document.places import Span, span_of
from plectrum.core.errors import ChoiceError
from plectrum.core.instrument.bow import Bow
from plectrum.core.planning import rules
from plectrum.core.planning.strokes.bow_columns import BowColumns, Crossings
from plectrum.core.planning.strokes.problem import POSITIONS_N, Ints, Step
from plectrum.core.planning.strokes.stroke_costs import StrokeCosts, by_halves
from plectrum.core.player.player import Player
from plectrum.core.player.school import DirectionSchool

Floats = NDArray[np.float64]
_CELLS = np.arange(POSITIONS_N)
_LENGTH = _CELLS[:, None]
_LOW = _CELLS[None, :]
_HIGH = np.minimum(_LENGTH + _LOW, POSITIONS_N - 1)
_ON_BOW = (_LENGTH > 0) & (_LENGTH + _LOW < POSITIONS_N)
_LENGTHS = np.maximum(_CELLS, 1) / rules.CELLS_N


class Held(NamedTuple):
    """What a pin holds of a stroke, in cells; None leaves it free. `inside` are parts of it that
    are held too, each with the shares of the stroke at which it begins and ends. `written` is what
    words over the staff ask for: that is left sooner than what the teacher pins."""

    start: int | None = None
    end: int | None = None
    low: int | None = None
    high: int | None = None
    length: int | None = None
    inside: tuple[tuple[float, float, Held], ...] = ()
    written: bool = False


NOT_HELD = Held()
INSIDE_CELLS = 1.0  # how near a part of a stroke is held: it begins and ends between cells


@lru_cache(maxsize=512)
def held_by(pin: Pin, bow: Bow, usable: tuple[float, float]) -> Held:
    """What a pin holds on this bow. A place the player cannot come to holds nothing: that is said
    (see `advice.warnings`)."""
    held = NOT_HELD
    if pin.place is not None or pin.amount is not None:
        try:
            span = span_of(pin.place, pin.amount, bow, usable)
        except ChoiceError:
            span = Span()
        held = in_cells(span)
    return held._replace(
        start=held.start if pin.start_cell is None else pin.start_cell,
        length=held.length if pin.length_cells is None else pin.length_cells,
    )


def in_cells(span: Span) -> Held:
    """What a place and an amount hold."""
    start, end, low, high, length = (None if v is None else round(v * rules.CELLS_N) for v in span)
    return Held(start, end, low, high, length)


def lies_in(start: float, end: float, held: Held) -> bool:
    """Whether a part of a stroke is where and as long as it is held, as near as that goes."""
    cells = np.array((start, end)) * rules.CELLS_N
    return bool(_away_from(held, *cells) <= 1 + INSIDE_CELLS)


def keeps(step: Step, held: Held) -> bool:
    """Whether a stroke is where and as long as it is held, to the cell."""
    place = step.direction, step.length, min(step.start, step.end)
    return not _leaving(held)[place]


class Kind(NamedTuple):
    """What bows must share to have the same costs; lengths and places are fractions of the hair."""

    ideal_length: float
    ideal_place: float
    moving_s: float
    crossings: Crossings


def near_kinds_of(bows: BowColumns, usual: bool) -> tuple[Ints, tuple[Kind, ...]]:
    """The kind of each bow, and the kinds, to what no ear or eye would tell apart, their crossings
    as one: where the bows are chosen there are very many."""
    fine = np.round(bows.moving_s, 2)
    seconds = np.where(bows.moving_s > 1, np.round(bows.moving_s, 1), fine)
    trouble = np.round(np.round(bows.trouble, 6), 1)  # equal bows must not part by the last digit
    share = np.rint(np.round(4 * bows.share, 6)) / 4 * (trouble > 0)
    lengths, places = np.round(_wished(bows, usual), 2), np.round(bows.ideal_place, 2)
    of_bow, rows = _distinct(lengths, places, seconds, share, trouble)
    lengths, places, seconds, share, trouble = rows.T
    crossings = (
        ((a, t),) if t else () for a, t in zip(share.tolist(), trouble.tolist(), strict=True)
    )
    return of_bow, tuple(_kinds(lengths, places, seconds, crossings))


def numbered(crossings: Iterable[Crossings]) -> tuple[Floats, tuple[Crossings, ...]]:
    """The number of each among the different ones, and those."""
    numbers: dict[Crossings, int] = {}
    of_each = [numbers.setdefault(c, len(numbers)) for c in crossings]
    return np.array(of_each, dtype=float), tuple(numbers)


def kinds_of(
    bows: BowColumns, crossings: tuple[Floats, tuple[Crossings, ...]], usual: bool
) -> tuple[Ints, tuple[Kind, ...]]:
    """The kind of each bow, and the kinds.

    Args:
        crossings: of each bow, as `numbered` gives them.
    """
    lengths, places = np.round(_wished(bows, usual), 4), np.round(bows.ideal_place, 3)
    number, every = crossings
    of_bow, rows = _distinct(lengths, places, np.round(bows.moving_s, 4), number)
    lengths, places, seconds, number = rows.T
    return of_bow, tuple(_kinds(lengths, places, seconds, (every[int(k)] for k in number)))


def _distinct(*columns: Floats) -> tuple[Ints, Floats]:
    """The number of each row of some columns among the distinct ones, and those."""
    table = np.stack(columns, axis=1)
    order = np.lexsort(table.T)
    new = np.ones(len(order), dtype=bool)
    new[1:] = (table[order[1:]] != table[order[:-1]]).any(axis=1)
    of_row = np.empty(len(order), dtype=np.int64)
    of_row[order] = np.cumsum(new) - 1
    return of_row, table[order[new]]


def _wished(bows: BowColumns, usual: bool) -> Floats:
    """The length bows wish for: on their strings, or as if on the usual one."""
    return bows.usual_length if usual else bows.ideal_length


def _kinds(
    lengths: Floats, places: Floats, seconds: Floats, crossings: Iterable[Crossings]
) -> Iterator[Kind]:
    numbers = lengths.tolist(), places.tolist(), seconds.tolist()
    return map(Kind._make, zip(*numbers, crossings, strict=True))


@dataclass(frozen=True, slots=True)
class StrokeTables:
    """Costs of the strokes of each of U kinds in millionths, term by term and in all, and their
    speed classes; nothing is written into them.

    Attributes:
        amount, limit: shape (U, K+1), by length.
        place: shape (U, 2K+1), by the sum of both ends.
        tape: shape (K+1,), of one end.
        speed_of: shape (U, K+1), the speed class of each length.
        crossings, held: of each kind; held is nothing until `holding` is asked for.
        strokes: all of these together.
        asked: shape (U, 2K+1), what other parts ask, by the sum of both ends; None if nothing.
    """

    amount: Ints
    limit: Ints
    place: Ints
    tape: Ints
    speed_of: Ints
    crossings: tuple[Crossings, ...]
    held: tuple[Held, ...]
    strokes: StrokeCosts
    asked: Ints | None = None

    def firm(self) -> StrokeTables:
        """The same with strokes beyond the player's limits put out of reach of what others ask."""
        guard = rules.millionths(rules.GUARD) * (self.limit > 0)
        strokes = replace(self.strokes, by_length=self.strokes.by_length + guard)
        return replace(self, limit=self.limit + guard, strokes=strokes)

    def asking(self, kind: Ints, place: Ints) -> tuple[Ints, StrokeTables]:
        """A kind of its own for every unit of which a place is asked.

        Args:
            kind: shape (N,). place: shape (N, 2K+1).

        Returns:
            The kinds of the units, and the tables with the new ones.
        """
        numbers: dict[tuple[int, bytes], int] = {}
        of_unit, old, rows = kind.copy(), list(range(len(self.amount))), []
        for i in np.flatnonzero(place.any(axis=1)).tolist():
            key = int(kind[i]), place[i].tobytes()
            if key not in numbers:
                numbers[key] = len(old)
                old.append(key[0])
                rows.append(place[i])
            of_unit[i] = numbers[key]
        if not rows:
            return kind, self
        asked = np.zeros((len(old), place.shape[1]), dtype=np.int64)
        asked[len(self.amount) :] = rows
        mine = self.strokes
        strokes = mine.with_kinds(
            np.array(old), mine.by_length[old], mine.by_place[old] + by_halves(asked)
        )
        held = tuple(self.held[kind] for kind in old)
        return of_unit, replace(self._like(old, held, strokes), asked=asked)

    def holding(self, kind: Ints, held: Mapping[int, Held]) -> tuple[Ints, StrokeTables]:
        """A kind of its own for every bow that is held.

        Args:
            kind: of each bow, shape (B,). held: bow to what a pin holds of it.

        Returns:
            The kinds of the bows, and the tables with the new ones.
        """
        numbers: dict[tuple[int, Held], int] = {}
        of_bow, kinds_n = kind.copy(), len(self.amount)
        for bow, where in held.items():
            if where != NOT_HELD:
                key = int(kind[bow]), where
                of_bow[bow] = numbers.setdefault(key, kinds_n + len(numbers))
        if not numbers:
            return kind, self
        old = np.array([k for k, _ in numbers])
        extra = np.array([_crossing(self.crossings[k]) + _leaving(h) for k, h in numbers])
        every = self.held + tuple(where for _, where in numbers)
        return of_bow, self._like(
            [*range(kinds_n), *old], every, self.strokes.with_extra(old, extra)
        )

    def _like(
        self, old: Sequence[int], held: tuple[Held, ...], strokes: StrokeCosts
    ) -> StrokeTables:
        """The tables of kinds that are like old ones, but for what they hold and cost in all."""
        crossings = tuple(self.crossings[kind] for kind in old)
        return StrokeTables(
            self.amount[old], self.limit[old], self.place[old], self.tape, self.speed_of[old],
            crossings, held, strokes,
        )  # fmt: skip

    def terms_of(self, kind: Ints, rows: Ints) -> dict[str, int]:
        """What strokes, given by kind and as rows (see `problem`), cost by themselves, by term."""
        direction, start, end = rows.T[[2, 4, 5]]
        length, low = np.abs(end - start), np.minimum(start, end)
        places = list(zip(kind.tolist(), direction, length, low, strict=True))
        held = [(self.held[k], tuple(at)) for k, *at in places if self.held[k] != NOT_HELD]
        crossed = [(self.crossings[k], tuple(at)) for k, *at in places if self.crossings[k]]
        return {
            "amount": int(self.amount[kind, length].sum()),
            "limit": int(self.limit[kind, length].sum()),
            "place": int(self.place[kind, start + end].sum()),
            "tape": int((self.tape[start] + self.tape[end]).sum()),
            "crossing": sum(int(_crossing(crossings)[at]) for crossings, at in crossed),
            "pin": sum(int(_leaving(of_kind)[at]) for of_kind, at in held),
            "together": 0 if self.asked is None else int(self.asked[kind, start + end].sum()),
        }


@lru_cache(maxsize=4)
def stroke_tables(
    kinds: tuple[Kind, ...],
    bow: Bow,
    player: Player,
    usable: tuple[int, int],
    direction: DirectionSchool,
) -> StrokeTables:
    """Kept, because most edits change the way of a stroke and not what it wishes for.

    Args:
        usable: the lowest and highest cell of the bow that may be used.
    """
    ratio = np.log(_LENGTHS[None, :] / _ideal(kinds))
    amount = whole(_amount(ratio))
    place = whole(rules.PLACE[direction] * _away(kinds))
    limit = whole(_limit(kinds, player, bow.hair_mm))
    tape = whole(player.mark_weight * _tape(bow))
    low, high = usable
    inside = _ON_BOW & (low <= _LOW) & (high >= _LENGTH + _LOW)
    ends = np.where(inside, tape[_LOW] + tape[_HIGH], rules.IMPOSSIBLE)
    crossings, held = tuple(kind.crossings for kind in kinds), (NOT_HELD,) * len(kinds)
    extra, extra_of = _extra(crossings)
    strokes = StrokeCosts(amount + limit, by_halves(place), ends, extra, extra_of)
    return StrokeTables(amount, limit, place, tape, speed_classes(ratio), crossings, held, strokes)


def _extra(crossings: Sequence[Crossings]) -> tuple[Ints, Ints]:
    """The tables of what crossings cost, and which each kind has; −1 for none."""
    numbers: dict[Crossings, int] = {(): -1}
    found = [numbers.setdefault(of_kind, len(numbers) - 1) for of_kind in crossings]
    tables = [_crossing(of_kind) for of_kind, number in numbers.items() if number >= 0]
    extra = np.array(tables, dtype=np.int64).reshape(-1, *_START.shape)
    return extra, np.array(found, dtype=np.int64)


def whole(costs: Floats) -> Ints:
    """Costs as whole millionths."""
    return np.rint(costs * rules.MILLIONTHS).astype(np.int64)


def speed_classes(ratio: Floats) -> Ints:
    """The class of each log of length over wished length; the middle class is as wished."""
    middle = rules.SPEED_CLASSES_N // 2
    classes = np.rint(ratio / np.log(rules.SPEED_CLASS_RATIO)) + middle
    found: Ints = np.clip(classes, 0, rules.SPEED_CLASSES_N - 1).astype(np.int64)
    return found


def _ideal(kinds: Sequence[Kind]) -> Floats:
    wished = np.array([k.ideal_length for k in kinds], dtype=float).reshape(-1, 1)
    least: Floats = np.maximum(wished, 0.25 / rules.CELLS_N)
    return least


def _amount(ratio: Floats) -> Floats:
    costs: Floats = np.where(ratio < 0, rules.AMOUNT_LESS, rules.AMOUNT_MORE) * ratio**2
    return costs


def _away(kinds: Sequence[Kind]) -> Floats:
    """Squared distance of the middle of a stroke from where it wishes to be."""
    middle = np.arange(2 * POSITIONS_N - 1) / (2 * rules.CELLS_N)
    wished = np.array([k.ideal_place for k in kinds], dtype=float).reshape(-1, 1)
    away: Floats = (middle[None, :] - wished) ** 2
    return away


def _limit(kinds: Sequence[Kind], player: Player, hair_mm: float) -> Floats:
    """Strokes faster or slower than the player can; the shortest of all is never too fast enough
    to be forbidden, because nothing shorter could stand in its place."""
    moving_s = np.array([k.moving_s for k in kinds], dtype=float).reshape(-1, 1)
    speed = _LENGTHS[None, :] * hair_mm / np.maximum(moving_s, 1e-3)
    fast = np.maximum(np.log(speed / player.fastest_mm_s), 0.0)
    slow = np.maximum(np.log(player.slowest_mm_s / speed), 0.0)
    beyond = (slow > 0) | ((fast > 0) & (_CELLS > 1)[None, :])
    costs: Floats = rules.LIMIT * beyond + rules.TOO_FAST * fast**2 + rules.TOO_SLOW * slow**2
    return costs


def _tape(bow: Bow) -> Floats:
    """Distance of an end to the nearest tape mark; frog and tip count as marks."""
    places = np.array([0.0, 1.0, *(mark.at for mark in bow.marks)])
    distance: Floats = np.abs(_CELLS[:, None] / rules.CELLS_N - places[None, :]).min(axis=1)
    return distance


def _ends() -> NDArray[np.int64]:
    """Start and end cell by direction, length and lower end, shape (2, 2, K+1, K+1)."""
    low, high = np.broadcast_arrays(_LOW, _HIGH)
    return np.stack([np.stack([low, high]), np.stack([high, low])])


_START, _END = _ends().transpose(1, 0, 2, 3)


@lru_cache(maxsize=512)
def _crossing(crossings: Crossings) -> Ints:
    """What some crossings cost by direction, length and lower end: they want the middle of the bow,
    where the arm's way is short and balanced."""
    costs = np.zeros(_START.shape)
    for share, trouble in crossings:
        off = (_START + share * (_END - _START)) / rules.CELLS_N - 0.5
        costs += rules.CROSSING * trouble * (off * off)
    return whole(costs)


@lru_cache(maxsize=128)
def _leaving(held: Held) -> Ints:
    """Cost of leaving what is held, growing with the distance."""
    away = _away_from(held, _START, _END)
    for first, last, part in held.inside:
        way = _END - _START
        beyond = _away_from(part, _START + first * way, _START + last * way) - INSIDE_CELLS
        away = away + np.maximum(beyond, 0.0)
    cost = rules.WRITTEN_PLACE if held.written else rules.PIN
    return rules.millionths(cost) * np.ceil(away).astype(np.int64)


def _away_from(held: Held, start: Floats | Ints, end: Floats | Ints) -> Floats:
    """How far strokes are from where and as long as they are held, in cells."""
    low, high = np.minimum(start, end), np.maximum(start, end)
    away = np.zeros(np.shape(start))
    if held.start is not None:
        away += np.abs(start - held.start)
    if held.end is not None:
        away += np.abs(end - held.end)
    if held.length is not None:
        away += np.abs(high - low - held.length)
    if held.low is not None:
        away += np.maximum(held.low - low, 0)
    if held.high is not None:
        away += np.maximum(high - held.high, 0)
    return away


def evenness_tables() -> Ints:
    """Cost of going from one speed class to another: none, half, whole; shape (3, S, S).

    Up to half a class apart nothing is heard; beyond it costs the square.
    """
    step = np.log(rules.SPEED_CLASS_RATIO)
    classes = np.arange(rules.SPEED_CLASSES_N)
    apart = step * np.maximum(np.abs(classes[:, None] - classes) - 0.5, 0.0)
    costs = rules.EVEN * apart**2
    return whole(np.stack([0 * costs, rules.EVEN_AFTER_REST * costs, costs]))
