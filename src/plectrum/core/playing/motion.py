"""Where the bow is at any moment of a performance, to the letter of the plan.

Within a note the bow moves from where the plan starts it to where the plan ends it, in the time
the plan lets it move: evenly, or faster and faster where the note grows; then it stands. Before a
lift it is carried through the air. The arm rolls to the next string so that it is there when the
note begins, and the hair slides to the next lane in the same way.
"""

from __future__ import annotations

import bisect
import math
from dataclasses import dataclass

from plectrum.core.document.choices import Join
from plectrum.core.instrument.specification import GRAVITY_M_S2
from plectrum.core.planning import rules
from plectrum.core.planning.contact.contact import Touched
from plectrum.core.planning.contact.limits import LANES_N, MIDDLE_LANE
from plectrum.core.planning.strokes.planned import PlannedNote
from plectrum.core.playing.performance import Performance, PlayedNote
from plectrum.core.score.model import Direction

SAME_PLACE = 1e-6
UNHURRIED = 1.5  # where there is time, the bow is carried this much slower than it could be
ROLL_SHARE = 0.5  # of a short note at most, for the roll to the next string (own default)
LANE_S = 0.15  # to slide to the next lane (own default)
RESTING = 0.5  # where the bow lies for silent crossings: in the middle


@dataclass(frozen=True, slots=True)
class BowState:
    """The bow at one moment.

    Attributes:
        note: index of the note that sounds, or sounded last; None before the first.
        turn: index of the turn of the performance.
        at_q: time of the music in quarters.
        position: fraction of the hair from the frog.
        speed_mm_s: positive towards the tip; 0 while it stands or is in the air.
        lifted: 0 on the string to 1 highest in the air.
        level: of the strings, 1 to 7, between two while the arm rolls.
        lane: 1 at the bridge to 5, between two while the hair slides.
        weight_n, share: the weight, and where it lies between its limits, 0 to 1.
        hand_nmm: torque of the hand; negative, the little finger carries.
    """

    note: int | None
    turn: int
    answering: bool
    at_q: float
    direction: Direction | None
    position: float
    speed_mm_s: float
    lifted: float
    level: float
    lane: float
    weight_n: float
    share: float
    hand_nmm: float

    @property
    def moving(self) -> bool:
        return self.speed_mm_s != 0


_Touch = tuple[float, float, float]  # lane, weight in N, and its share between the limits


@dataclass(frozen=True, slots=True)
class _Carry:
    """The bow in the air from one place to another."""

    from_s: float
    until_s: float
    start: float
    to: PlayedNote


class Motion:
    """Answers where the bow is. Immutable; asking costs some microseconds."""

    def __init__(self, performance: Performance) -> None:
        self.performance = performance
        self._notes = performance.notes
        self._all = list(range(len(self._notes)))
        self._onsets = [p.onset_s for p in self._notes]
        self._bowed = [k for k, p in enumerate(self._notes) if p.planned is not None]
        self._bowed_onsets = [self._onsets[k] for k in self._bowed]
        self._carries = self._find_carries()
        self._quarters_of = self._find_quarters()
        self._touch_of = self._find_touches()
        self._turn_starts = [t.start_s for t in performance.turns]
        bow = performance.plan.choices.bow
        self._hair_mm = bow.hair_mm
        self._own_nmm = bow.mass_g / 1000 * GRAVITY_M_S2 * bow.balance * bow.hair_mm

    def _following(self, k: int, among: list[int]) -> tuple[PlayedNote, float] | None:
        """The note after the k-th of some, and when it begins; after the last of a loop comes the
        first."""
        if k + 1 < len(among):
            played = self._notes[among[k + 1]]
            return played, played.onset_s
        if self.performance.rehearsal.loop:
            first = self._notes[among[0]]
            return first, self.performance.length_s + first.onset_s - self.performance.music_s
        return None

    def _find_carries(self) -> dict[int, _Carry]:
        """By the place among the bowed notes of the one it comes after."""
        found = {}
        for k in range(len(self._bowed)):
            following = self._following(k, self._bowed)
            if following is None:
                continue
            a, (b, onset_s) = self._notes[self._bowed[k]], following
            goes_on = a.turn == b.turn and k + 1 < len(self._bowed)
            lifts = b.join is Join.RETAKE if goes_on else abs(a.end - b.start) > SAME_PLACE
            if lifts:
                needed_s = UNHURRIED * self.performance.carry_s(a.end, b.start)
                until_s = min(onset_s, a.moved_s + needed_s)
                found[k] = _Carry(a.moved_s, until_s, a.end, b)
        return found

    def _find_quarters(self) -> list[tuple[float, float, float]]:
        """For every note the quarter it begins at, and when and at which quarter the next one of
        its turn begins, or it ends. As numbers, since they are asked for at every frame."""
        found = []
        for k, now in enumerate(self._notes):
            until_s, until_q = now.end_s, now.note.end_q
            if k + 1 < len(self._notes) and self._notes[k + 1].turn == now.turn:
                until_s, until_q = self._onsets[k + 1], self._notes[k + 1].note.onset_q
            found.append((float(now.note.onset_q), until_s, float(until_q)))
        return found

    def _find_touches(self) -> dict[int, tuple[_Touch, _Touch]]:
        """How every bowed note, by its index, is touched at its beginning and at its end."""
        if not self._bowed:
            return {}
        plan = self.performance.plan
        contact, rows = plan.contact, plan.contact_rows
        room_mm = plan.instrument.bridge_to_fingerboard_mm

        def touch(at: Touched, row: int) -> _Touch:
            lane = float(at.contact_mm[row]) / room_mm * LANES_N + 0.5
            return lane, float(at.weight_n[row]), float(at.share[row])

        bowed = {self._notes[k].note.index for k in self._bowed}
        return {n: (touch(contact.start, rows[n]), touch(contact.end, rows[n])) for n in bowed}

    # asking

    def at(self, at_s: float) -> BowState:
        """The bow at a time since the start of the performance, count-in included."""
        at_s = self.performance.fold(at_s)
        k = bisect.bisect_right(self._onsets, at_s) - 1
        position, speed, lifted, bowed = self._place(at_s)
        now = self._notes[max(k, 0)]
        turn = max(0, bisect.bisect_right(self._turn_starts, at_s + 1e-9) - 1)
        weight, share = self._weight(bowed, at_s)
        return BowState(
            note=now.note.index if k >= 0 else None,
            turn=turn,
            answering=self.performance.turns[turn].answering,
            at_q=self._quarters(k, at_s),
            direction=bowed.direction if bowed is not None else None,
            position=position,
            speed_mm_s=speed,
            lifted=lifted,
            level=self._level(k, at_s),
            lane=self._lane(at_s),
            weight_n=weight,
            share=share,
            hand_nmm=weight * position * self._hair_mm - self._own_nmm,
        )

    def place_at(self, at_s: float) -> tuple[float, float]:
        """Position and speed alone, as in `at`: the fraction of the hair, and mm/s."""
        return self._place(self.performance.fold(at_s))[:2]

    def _place(self, at_s: float) -> tuple[float, float, float, PlayedNote | None]:
        """Position, speed, height, and the bowed note in whose hands the bow is."""
        if not self._bowed:
            return RESTING, 0.0, 0.0, None
        b = bisect.bisect_right(self._bowed_onsets, at_s) - 1
        if b < 0:
            first = self._notes[self._bowed[0]]
            return first.start, 0.0, 0.0, first
        played = self._notes[self._bowed[b]]
        if at_s < played.moved_s:
            share = (at_s - played.onset_s) / played.moving_s
            swell = played.planned.swell if played.planned is not None else 0.0
            done = share * (1 - swell) + swell * share**2
            if played.planned is not None and played.planned.strokes_n > 1:
                return *self._to_and_fro(played.planned, played.moving_s, share), 0.0, played
            position = played.start + (played.end - played.start) * done
            mean = (played.end - played.start) * self._hair_mm / played.moving_s
            return position, mean * (1 + swell * (2 * share - 1)), 0.0, played
        carry = self._carries.get(b)
        if carry is None or at_s < carry.from_s:
            return played.end, 0.0, 0.0, played
        if at_s >= carry.until_s:
            return carry.to.start, 0.0, 0.0, carry.to
        share = (at_s - carry.from_s) / (carry.until_s - carry.from_s)
        place = carry.start + (carry.to.start - carry.start) * eased(share)
        return place, 0.0, math.sin(math.pi * share), carry.to

    def _to_and_fro(
        self, planned: PlannedNote, moving_s: float, share: float
    ) -> tuple[float, float]:
        """Position and speed in a tremolo."""
        turns, n = planned.turns, planned.strokes_n
        k = min(int(share * n), n - 1)
        way = turns[k + 1] - turns[k]
        return turns[k] + way * (share * n - k), way * self._hair_mm * n / moving_s

    def _quarters(self, k: int, at_s: float) -> float:
        if k < 0:
            return self._quarters_of[0][0]
        onset_s = self._onsets[k]
        from_q, until_s, until_q = self._quarters_of[k]
        share = min(1.0, max(0.0, (at_s - onset_s) / max(until_s - onset_s, 1e-9)))
        return from_q + share * (until_q - from_q)

    def _level(self, k: int, at_s: float) -> float:
        if k < 0:
            return float(self._notes[0].level)
        now = self._notes[k]
        following = self._following(k, self._all)
        if following is None or following[0].level == now.level:
            return float(now.level)
        change = following[0].level - now.level
        roll_s = self.performance.player.level_change_s * abs(change) / 2
        return now.level + change * _on_the_way(at_s, now.onset_s, following[1], roll_s)

    def _lane(self, at_s: float) -> float:
        if not self._bowed:
            return float(MIDDLE_LANE)
        b = max(0, bisect.bisect_right(self._bowed_onsets, at_s) - 1)
        now = self._notes[self._bowed[b]]
        lane = self._touched(now, at_s)[0]
        following = self._following(b, self._bowed)
        if following is None:
            return lane
        change = self._touch_of[following[0].note.index][0][0] - lane
        return lane + change * _on_the_way(at_s, now.onset_s, following[1], LANE_S)

    def _touched(self, played: PlayedNote, at_s: float) -> _Touch:
        """How a note is touched at a time: a note that grows or fades changes all the while, an
        accent after its bite."""
        start, end = self._touch_of[played.note.index]
        if start == end:
            return start
        share = (at_s - played.onset_s) / max(played.moving_s, 1e-6)
        if played.planned is not None and not played.planned.swell:
            share *= max(1 / rules.BITE_SHARE, played.moving_s / rules.BITE_S)
        share = min(1.0, max(0.0, share))
        lane, weight_n, of_range = (a + share * (b - a) for a, b in zip(start, end, strict=True))
        return lane, weight_n, of_range

    def _weight(self, bowed: PlayedNote | None, at_s: float) -> tuple[float, float]:
        if bowed is None:
            return 0.0, 0.5
        _, weight_n, share = self._touched(bowed, at_s)
        return weight_n, share


def _on_the_way(at_s: float, from_s: float, until_s: float, takes_s: float) -> float:
    """How far a change has gone that is to be over when the next note begins, 0 to 1."""
    takes_s = min(takes_s, ROLL_SHARE * (until_s - from_s))
    if takes_s <= 0:
        return 0.0
    return eased(1 - (until_s - at_s) / takes_s)


def eased(share: float) -> float:
    """A share of a way gone softly off and softly on."""
    share = min(1.0, max(0.0, share))
    return share * share * (3 - 2 * share)
