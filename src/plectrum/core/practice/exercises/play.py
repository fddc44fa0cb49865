"""An exercise in time: where the bow and the hand are, what is said, and which step comes next.

What sounds is played as its plan has it. Silent rolls, the bow carried through the air, a thrown
bow and the hand on the stick are moved here.
"""

from __future__ import annotations

import bisect
import math
from dataclasses import dataclass, replace
from functools import cached_property

from plectrum.core.advice.words import at_place_words, length_words, place_words
from plectrum.core.instrument.bow import Bow
from plectrum.core.instrument.specification import Instrument
from plectrum.core.planning.contact.limits import MIDDLE_LANE
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.playing.cards import StrokeCard
from plectrum.core.playing.cues import Cue
from plectrum.core.playing.motion import RESTING, BowState, Motion, eased
from plectrum.core.playing.performance import Beat, Kind, Performance, Rehearsal
from plectrum.core.practice.exercises.catalogue import Made
from plectrum.core.practice.exercises.drill_music import Written, written
from plectrum.core.practice.exercises.drills import Drill, DrillStep, Moves, level_sign
from plectrum.core.practice.exercises.said import said_in_steps
from plectrum.core.wording import in_words, say, several, tr

LEAD_BEATS, SLOW_BEAT_S = 4, 1.4  # counted before it begins; half of them where a beat is slow
FLIGHT = (0.0, 0.6)  # of a step in which a bow is carried, the part in which it flies
CALLED_FLIGHT = (0.55, 0.85)  # after a call: first the student finds it
ROLL_SHARE, ROLL_S = 0.5, 0.6  # of a silent roll, and at most
RISE, FALL = 0.4, 0.25  # of a wait in which a thrown bow is lifted, and let go
BACK = 0.6  # of its height to which it comes back by itself
RETURN = (0.15, 0.75)  # of the count-in, in which the bow comes back to where it begins
HAND_SHARE = 0.85  # of a step in which the hand moves
FULL_LIFT_MM = 60.0  # drawn as high as the picture has room
LOOK = "look"
ON_THE_STICK = {Moves.HAND, Moves.GLIDE, Moves.CARE}


@dataclass(frozen=True, slots=True)
class Moment:
    """An exercise at one time.

    Attributes:
        index: of the step; −1 while it is counted in. share: of the step that is over.
        hand: where the hand stands on the stick, a fraction of the hair; None where it holds the
            frog. finger: the one that moves. says: the last word or count of this step.
        hidden: where the bow is to go has been called and is not shown yet.
    """

    bow: BowState
    step: DrillStep
    index: int
    share: float
    hand: float | None
    finger: str
    says: str
    hidden: bool


class ExercisePlay:
    """Plays the steps of an exercise, once or over and over. Immutable once made.

    Attributes:
        music_s: when its first step begins, after the count-in; a loop counts in again.
        length_s: when its last step ends.
    """

    def __init__(self, made: Made, *, loop: bool = False) -> None:
        """Lay an exercise out in time.

        Raises:
            ValueError: it has no steps: a pattern of notes is played as a tune.
        """
        if made.drill is None or not made.drill.steps:
            raise ValueError(f"{made.title} is played as a tune")
        self.made, self.choices, self.loop = made, made.choices, loop
        self.drill: Drill = made.drill
        self.rows: tuple[Written, ...] = written(self.drill)
        self.beat_s = 60.0 / self.drill.bpm
        self.lead_n = LEAD_BEATS if self.beat_s < SLOW_BEAT_S else LEAD_BEATS // 2
        self.music_s = self.lead_n * self.beat_s
        self._starts = [self.music_s + float(row.at_q) * self.beat_s for row in self.rows]
        last = self.rows[-1]
        self.length_s = self.music_s + float(last.at_q + last.length_q) * self.beat_s
        self._place_before, self._hand_before = self._find_places(), self._find_hands()

    @property
    def instrument(self) -> Instrument:
        return self.choices.own

    @property
    def bow(self) -> Bow:
        return self.choices.bow

    @property
    def moves(self) -> Moves:
        exercise = self.made.exercise
        return exercise.moves if exercise is not None else Moves.SOUND

    @cached_property
    def performance(self) -> Performance | None:
        """What sounds, as its plan plays it; None where nothing does."""
        if self.made.document is None or self.made.kind is Kind.SILENT:
            return None
        return Performance(plan_of(self.made.document), Rehearsal(count_in=False))

    @cached_property
    def sounds_from_s(self) -> float:
        """When the first sounding step begins, which is where the performance does."""
        sounding = (k for k, row in enumerate(self.rows) if row.step.direction is not None)
        return self._starts[next(sounding, 0)]

    @cached_property
    def _motion(self) -> Motion | None:
        return Motion(self.performance) if self.performance is not None else None

    @cached_property
    def beats(self) -> tuple[Beat, ...]:
        """Clicks: counted in, then every beat, strong where a step begins."""
        lead = [Beat(k * self.beat_s, k == 0, True) for k in range(self.lead_n)]
        ends = round((self.length_s - self.music_s) / self.beat_s)
        starts = {round(float(row.at_q), 6) for row in self.rows}
        return (*lead, *(Beat(self.music_s + k * self.beat_s, k in starts, False)
                         for k in range(ends)))  # fmt: skip

    @cached_property
    def cues(self) -> tuple[Cue, ...]:
        """What is said, and when; with the text that is shown."""
        lead = [Cue(k * self.beat_s, str(k + 1)) for k in range(self.lead_n)]
        names = self.instrument.string_names
        return (*lead, *said_in_steps(self.rows, self.music_s, self.beat_s, names))

    @cached_property
    def _cue_times(self) -> list[float]:
        return [cue.at_s for cue in self.cues]

    @cached_property
    def cards(self) -> tuple[StrokeCard, ...]:
        """One card for every step."""
        return tuple(self._card(k) for k in range(len(self.rows)))

    # asking

    def fold(self, at_s: float) -> float:
        """A time inside the loop, count-in included, or not after the end."""
        return at_s % self.length_s if self.loop else min(at_s, self.length_s)

    def round_at(self, at_s: float) -> int:
        """Which time through it is, from 1."""
        return 1 + max(0, int(at_s // self.length_s)) if self.loop else 1

    def index_at(self, at_s: float) -> int:
        """Index of the step at a time; −1 before the first."""
        return bisect.bisect_right(self._starts, self.fold(at_s) + 1e-9) - 1

    def start_of(self, index: int) -> float:
        return self._starts[index]

    def seconds_of(self, index: int) -> float:
        """How long a step lasts."""
        return float(self.rows[index].length_q) * self.beat_s

    def at(self, at_s: float) -> Moment:
        """The bow and the hand at a time since the count-in began."""
        again = self.round_at(at_s) > 1
        at_s = self.fold(at_s)
        index = self.index_at(at_s)
        k = max(index, 0)
        step = self.rows[k].step
        share = (at_s - self._starts[k]) / self.seconds_of(k) if index >= 0 else 0.0
        share = min(1.0, max(0.0, share))
        hidden = step.late and share < CALLED_FLIGHT[0] and index >= 0
        hand = self._hand(k, share) if self.moves in ON_THE_STICK else None
        says = self._says(at_s, self._starts[k] if index >= 0 else 0.0)
        bow = self._bow_state(at_s, k, share)
        if index < 0 and again:
            bow, hand = self._returning(at_s / self.music_s, bow, hand)
        return Moment(bow, step, index, share, hand, step.finger, says, hidden)

    def _returning(
        self, share: float, first: BowState, hand: float | None
    ) -> tuple[BowState, float | None]:
        """From where the last time through has ended to where the next begins."""
        last_k = len(self.rows) - 1
        last = self._bow_state(self.length_s - 1e-6, last_k, 1.0)
        came = eased((share - RETURN[0]) / (RETURN[1] - RETURN[0]))

        def between(a: float, b: float) -> float:
            return a + (b - a) * came

        far = abs(first.position - last.position) > 0.02
        lifted = math.sin(math.pi * came) if far else 0.0
        if hand is not None:
            hand = between(self._hand(last_k, 1.0), hand)
        return replace(
            first,
            position=between(last.position, first.position),
            level=between(last.level, first.level),
            lane=between(last.lane, first.lane),
            lifted=max(lifted, between(last.lifted, first.lifted)),
        ), hand

    def upcoming(self, at_s: float, count_n: int) -> list[tuple[StrokeCard, float]]:
        """The present card and those after it, with the seconds until each begins."""
        at_s = self.fold(at_s)
        k, wrap_s = max(0, self.index_at(at_s)), 0.0
        found: list[tuple[StrokeCard, float]] = []
        while len(found) < count_n:
            if k == len(self.cards):
                if not self.loop:
                    break
                k, wrap_s = 0, wrap_s + self.length_s
            found.append((self.cards[k], self._starts[k] + wrap_s - at_s))
            k += 1
        return found

    def _says(self, at_s: float, since_s: float) -> str:
        k = bisect.bisect_right(self._cue_times, at_s + 1e-9) - 1
        if k < 0 or self._cue_times[k] < since_s - 1e-9:
            return ""
        return in_words(self.cues[k].text or self.cues[k].word)

    # moving

    def _bow_state(self, at_s: float, k: int, share: float) -> BowState:
        if self._motion is not None:
            state = self._motion.at(at_s - self.sounds_from_s)
            if self.moves is Moves.THROW:
                state = replace(state, lifted=self._thrown(k, share))
            return replace(state, direction=self.rows[k].step.direction)
        step = self.rows[k].step
        before = self.rows[k - 1].step if k else None
        place, lifted, way = self._carried(k, share, before)
        level = float(step.level or 1)
        if before is None and step.late and step.level is not None:  # in the middle, to be found
            level = (1 + self.instrument.levels_n) / 2 * (1 - way) + level * way
        elif before is not None and before.level is not None and step.level is not None:
            level = before.level + (step.level - before.level) * way
        return BowState(
            note=None, turn=0, answering=False, at_q=0.0, direction=None, position=place,
            speed_mm_s=0.0, lifted=lifted, level=level, lane=float(MIDDLE_LANE), weight_n=0.0,
            share=0.5, hand_nmm=0.0,
        )  # fmt: skip

    def _find_places(self) -> list[float]:
        """Where the bow has been left before each step."""
        steps = [row.step for row in self.rows]
        at = next((s.start for s in steps if s.start is not None), RESTING)
        found = []
        for step in steps:
            found.append(at)
            at = step.end if step.end is not None else at
        return found

    def _carried(
        self, k: int, share: float, before: DrillStep | None
    ) -> tuple[float, float, float]:
        """Place, height, and how far the arm has come to its level, for what is silent."""
        step = self.rows[k].step
        came_from = self._place_before[k]
        if step.moves is Moves.CARRY and not step.looks and step.end is not None:
            begins, ends = CALLED_FLIGHT if step.late else FLIGHT
            flown = min(1.0, max(0.0, (share - begins) / (ends - begins)))
            if step.late:  # it hovers until the string is found
                height = min(1.0, share / 0.15) if share < begins else math.cos(flown * math.pi / 2)
                return came_from, height if flown < 1 else 0.0, eased(flown)
            lifted = math.sin(math.pi * flown) if flown < 1 else 0.0
            return came_from + (step.end - came_from) * eased(flown), lifted, eased(flown)
        roll = min(ROLL_SHARE, ROLL_S / self.seconds_of(k))
        place = step.end if step.end is not None else came_from
        return place, 0.0, eased(share / roll) if before is not step else 1.0

    def _thrown(self, k: int, share: float) -> float:
        """How high a thrown bow is: held up while it waits, let go so that it touches as its note
        begins, an arc at each bounce, and caught after the last."""
        step = self.rows[k].step
        follows = self.rows[(k + 1) % len(self.rows)].step
        top = min(1.0, self._height_mm / FULL_LIFT_MM)
        back = BACK * top * step.height_mm / self._height_mm
        if step.direction is not None:
            if follows.direction is None:
                return back * math.sin(share * math.pi / 2)
            return back * 4 * share * (1 - share)
        before = self.rows[k - 1].step if k else None
        held = top
        if before is not None and before.direction is not None and share < RISE:
            caught = BACK * top * before.height_mm / self._height_mm
            held = caught + (top - caught) * share / RISE
        if follows.direction is not None and share > 1 - FALL:
            return top * (1 - ((share - 1 + FALL) / FALL) ** 2)  # faster and faster
        return held

    @property
    def _height_mm(self) -> float:
        exercise = self.made.exercise
        return exercise.height_mm if exercise is not None else FULL_LIFT_MM

    def _find_hands(self) -> list[float]:
        """Where the hand stands before each step."""
        exercise = self.made.exercise
        hand_mm = exercise.hand_mm if exercise is not None else 0.0
        at, found = hand_mm / self.choices.bow.hair_mm, []
        for row in self.rows:
            found.append(at)
            at = row.step.hand if row.step.hand is not None else at
        return found

    def _hand(self, k: int, share: float) -> float:
        start, end = self._hand_before[k], self.rows[k].step.hand
        return start if end is None else start + (end - start) * eased(share / HAND_SHARE)

    # cards

    def _card(self, k: int) -> StrokeCard:
        step, row = self.rows[k].step, self.rows[k]
        names = self.instrument.string_names
        string = level_sign(step.level, names) if step.level else ""
        action = (
            tr("listen")
            if step.late
            else in_words(step.word or step.direction or "") or _doing(step)
        )
        sounding = step.direction is not None and step.start is not None and step.end is not None
        amount = several("{n:g} count", "{n:g} counts", float(row.length_q))
        if sounding:
            amount = f"{length_words(abs(step.end - step.start))}, {amount}"  # type: ignore[operator]
        return StrokeCard(
            self._starts[k], self._starts[k] + self.seconds_of(k), 0, step.direction, None,
            step.start or 0.0, step.end or 0.0, () if step.level is None else (step.level,), 1,
            float(row.length_q), "?" if step.late else string, amount, self._goal(step), action,
            lands=step.end if step.moves is Moves.CARRY and not step.late else None,
        )  # fmt: skip

    def looks(self, step: DrillStep) -> bool:
        """Whether the student looks how the bow lies on the string."""
        return step.looks and step.word == LOOK and self.moves is Moves.SOUND

    def _goal(self, step: DrillStep) -> str:
        if step.looks:
            return tr("is it straight?") if self.looks(step) else ""
        if step.late:
            return tr("set it down there")
        if step.end is None or step.moves in ON_THE_STICK:
            return "" if step.finger in step.word else in_words(f"{step.finger} finger")
        place = place_words(step.end, self.bow)
        at = at_place_words(step.end, self.bow)
        if step.moves is Moves.CARRY:
            return say("set down {at}", at=at)
        return (
            say("stays {at}", at=at) if step.direction is None else say("to {place}", place=place)
        )


def _doing(step: DrillStep) -> str:
    """The one word for what is done in silence."""
    words = {Moves.ROLL: tr("roll"), Moves.CARRY: tr("set down"), Moves.THROW: tr("hold it up")}
    return tr("wait") if step.looks else words.get(step.moves) or tr("wait")
