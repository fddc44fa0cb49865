"""The sound-fault finder: from what is heard to what to change, by the plan's own numbers.

For a note and a symptom it ranks the likely causes. How likely is told by how near the plan's
numbers are to the limit that the symptom means (Schelleng's limits of weight, the player's
speeds, the ends of the bow); what to change is the number that would bring it inside. Which
causes belong to which symptom is common practice.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from enum import StrEnum

from plectrum.core.advice.louder import next_lane, ways_to_sound
from plectrum.core.advice.out_of_reach import out_of_reach
from plectrum.core.advice.region_words import region_of
from plectrum.core.document.choices import Join
from plectrum.core.instrument.specification import FRICTION_DIFFERENCE
from plectrum.core.planning import rules
from plectrum.core.planning.contact.limits import LANES_N
from plectrum.core.planning.plan import Plan
from plectrum.core.planning.strokes.costs import usable_cells
from plectrum.core.planning.strokes.planned import PlannedNote
from plectrum.core.wording import say, sentence_like, tr

MIDDLE = 3
NOTICED = 0.05  # a change of speed that is one (own default)


class Symptom(StrEnum):
    """What is heard or felt."""

    CHOKED = "scratches or chokes"
    WHISTLING = "squeaks or whistles"
    TWO_STRINGS = "buzzes: two strings at once"
    WEAK = "too soft"
    UNEVEN = "uneven"
    RUNS_OUT = "runs out"
    SHAKES = "shakes at the tip"
    ROUGH_CHANGE = "rough change"


@dataclass(frozen=True, slots=True)
class Cause:
    """One likely cause. `likelihood` only ranks; the targets are None where they do not help.

    Attributes:
        speed_mm_s, weight_n, lane, place: what would bring the note inside its limits; none that
            the bow or the player has not.
    """

    code: str
    likelihood: float
    text: str
    remedy: str
    speed_mm_s: float | None = None
    weight_n: float | None = None
    lane: int | None = None
    place: str | None = None


@dataclass(frozen=True, slots=True)
class _Facts:
    """The numbers of one note that the causes look at."""

    plan: Plan
    planned: PlannedNote
    weight_n: float
    low_n: float
    high_n: float
    share: float
    speed_m_s: float
    impedance: float
    lane: int
    beta: float
    length_mm: float
    hand_nmm: float
    level: int
    level_before: int | None

    @property
    def place(self) -> float:
        return (self.planned.start + self.planned.end) / 2

    def lane_to(self, *, nearer: bool) -> int | None:
        """The next lane of the player's to the bridge, or away from it."""
        return next_lane(self.plan, self.planned.note.index, nearer=nearer)

    def speed_to(self, wanted_mm_s: float) -> float | None:
        """So much speed as bow and player have of it; None where it is what there is."""
        low, high = usable_cells(self.plan.choices)
        whole_mm = (high - low) / rules.CELLS_N * self.plan.choices.bow.hair_mm
        player, unit = self.plan.player, self.plan.units[self.planned.unit]
        most = min(player.fastest_mm_s, whole_mm / max(unit.moving_s, 1e-3))
        found = min(max(wanted_mm_s, player.slowest_mm_s), most)
        now = max(self.planned.speed_mm_s, 1e-3)
        return found if abs(found / now - 1) > NOTICED else None

    def bow_at(self, speed_mm_s: float) -> str:
        """The bow that its stroke takes at a speed: "12 cm"."""
        length_mm = speed_mm_s * self.plan.units[self.planned.unit].moving_s
        return say("{length:.0f} cm", length=length_mm / 10)


def _facts(plan: Plan, note_index: int) -> _Facts | None:
    planned = plan.notes[note_index]
    if planned is None:
        return None
    k, c = plan.contact_rows[note_index], plan.contact
    levels = [f.level for f in plan.fingered[:note_index] if f.level is not None]
    return _Facts(
        plan,
        planned,
        float(c.weight_n[k]),
        float(c.weight_min_n[k]),
        float(c.weight_max_n[k]),
        float(c.share[k]),
        float(c.speed_m_s[k]),
        float(c.impedance_kg_s[k]),
        int(c.lane[k]),
        float(c.beta[k]),
        float(c.contact_mm[k] / c.beta[k]),
        float(c.hand_nmm[k]),
        plan.fingered[note_index].level or 0,
        levels[-1] if levels else None,
    )


def find_faults(plan: Plan, note_index: int, symptom: Symptom) -> tuple[Cause, ...]:
    """Likely causes of a symptom at a note, likeliest first; none for a plucked note."""
    facts = _facts(plan, note_index)
    if facts is None:
        return ()
    causes = {
        Symptom.CHOKED: _choked,
        Symptom.WHISTLING: _whistling,
        Symptom.TWO_STRINGS: _two_strings,
        Symptom.WEAK: _weak,
        Symptom.UNEVEN: _uneven,
        Symptom.RUNS_OUT: _runs_out,
        Symptom.SHAKES: _shakes,
        Symptom.ROUGH_CHANGE: _rough_change,
    }[symptom](facts)
    # Equally likely ones in the order of the table: not as the last digit of a sum falls out.
    return tuple(sorted(causes, key=lambda c: -round(c.likelihood, 9)))


def _choked(f: _Facts) -> Iterator[Cause]:
    """Too heavy, too slow for the weight, too near the fingerboard; mostly in the lower half."""
    nearness = f.weight_n / f.high_n
    lighter = math.sqrt(f.low_n * f.high_n)
    yield Cause(
        "too_heavy",
        nearness + (0.2 if f.place < 0.5 else 0.0),
        say("more than {high:.1f} N chokes here; near the frog the bow is heaviest", high=f.high_n),
        say("Let the little finger carry: about {lighter:.2g} N", lighter=lighter),
        weight_n=lighter,
    )
    per_force = f.weight_n * FRICTION_DIFFERENCE / (2 * f.impedance)
    wanted = max(f.speed_m_s * rules.FAULT_CLEARLY, per_force * f.beta / rules.FAULT_MARGIN) * 1000
    faster = f.speed_to(wanted)
    slow = f.plan.player.comfortable_mm_s / max(f.planned.speed_mm_s, 1.0)
    if faster is not None and faster >= per_force * f.beta * 1000:
        yield Cause(
            "too_slow",
            nearness * min(2.0, slow),
            say("{speed:.0f} cm/s is slow for its weight", speed=f.planned.speed_mm_s / 10),
            say("Use more bow: {length}", length=f.bow_at(faster)),
            speed_mm_s=faster,
        )
    nearer = f.lane_to(nearer=True)
    if nearer is not None:
        yield Cause(
            "too_near_fingerboard",
            nearness * f.lane / MIDDLE,
            say("lane {lane}: the farther from the bridge, the less weight it bears", lane=f.lane),
            say("Move towards the bridge, to lane {nearer}", nearer=nearer),
            lane=nearer,
        )
    yield _STIFF
    yield _CROOKED


_STIFF = Cause(
    "stiff_thumb",
    0.45,
    tr("a straight thumb or a raised shoulder presses"),
    tr("Bend the thumb, let the shoulder hang"),
)
_CROOKED = Cause(
    "crooked",
    0.4,
    tr("a crooked bow slides off its lane"),
    tr("Keep the hair parallel to the bridge"),
)


def _whistling(f: _Facts) -> Iterator[Cause]:
    """Too fast, or too near the bridge, or too light."""
    nearness = f.low_n / f.weight_n
    loss = f.plan.instrument.loss_kg_s
    bearable = f.weight_n * 2 * loss * FRICTION_DIFFERENCE * f.beta**2 / f.impedance**2
    wanted = min(f.speed_m_s / rules.FAULT_CLEARLY, bearable * rules.FAULT_MARGIN) * 1000
    slower = f.speed_to(wanted)
    if slower is not None and slower <= bearable * 1000:
        yield Cause(
            "too_fast",
            nearness + f.planned.speed_mm_s / f.plan.player.fastest_mm_s,
            say("{speed:.0f} cm/s is fast for its weight", speed=f.planned.speed_mm_s / 10),
            say("Use less bow: {length}", length=f.bow_at(slower)),
            speed_mm_s=slower,
        )
    farther = f.lane_to(nearer=False)
    if farther is not None:
        yield Cause(
            "too_near_bridge",
            nearness * (LANES_N + 1 - f.lane) / MIDDLE,
            say("lane {lane}: the nearer the bridge, the more weight it needs", lane=f.lane),
            say("Move away from the bridge, to lane {farther}", farther=farther),
            lane=farther,
        )
    yield _CROOKED
    yield _STIFF
    heavier = math.sqrt(f.low_n * f.high_n)
    yield Cause(
        "too_light",
        nearness + (0.3 if f.place > 0.7 else 0.0),
        say("less than {low:.2g} N whistles here; towards the tip the bow is light", low=f.low_n),
        say("Let the index finger lean: about {heavier:.2g} N", heavier=heavier),
        weight_n=heavier,
    )


def _two_strings(f: _Facts) -> Iterator[Cause]:
    if f.level % 2 == 0 and f.level:
        yield Cause(
            "meant", 2.0, tr("two strings are meant here"), tr("Nothing: it is a double stop")
        )
        return
    crossing = f.level_before is not None and f.level_before != f.level
    if crossing and f.level_before is not None:
        apart = abs(f.level - f.level_before) / 2
        time_s = f.plan.player.level_change_s * apart
        yield Cause(
            "late_crossing",
            0.8 + apart / 2,
            tr("the arm is not yet on its level when the note begins"),
            say("Roll {time:.2f} s earlier, the bow still, then play", time=time_s),
        )
    spacing = math.degrees(
        f.plan.instrument.string_spacing_mm / f.plan.instrument.bridge_radius_mm / 2
    )
    yield Cause(
        "arm_level",
        0.6,
        say("the neighbour is only {spacing:.0f}° away", spacing=spacing),
        say(
            "Bring the arm to level {level} of {levels} before the bow moves",
            level=f.level,
            levels=f.plan.instrument.levels_n,
        ),
    )
    nearer = f.lane_to(nearer=True)
    if nearer is not None and f.lane > MIDDLE:
        yield Cause(
            "over_fingerboard",
            0.3 + 0.2 * (f.lane - MIDDLE),
            tr("over the fingerboard the strings lie flat and the hair touches two"),
            say("Play in lane {lane}", lane=nearer),
            lane=nearer,
        )


def _weak(f: _Facts) -> Iterator[Cause]:
    """The ways that the list gives, in its order; then the arm."""
    note = f.planned.note.index
    reach = next((r for r in out_of_reach(f.plan) if r.note == note and r.missing_db > 0), None)
    wanted_mm = f.planned.length_mm * rules.FAULT_CLEARLY if reach is None else reach.length_mm
    for k, way in enumerate(ways_to_sound(f.plan, note, louder=True, wanted_mm=wanted_mm)):
        where = region_of(f.plan.steps[f.planned.unit])
        speed_mm_s = None
        if way.length_cells is not None:
            length_mm = way.length_cells / rules.CELLS_N * f.plan.choices.bow.hair_mm
            speed_mm_s = length_mm / max(f.plan.units[f.planned.unit].moving_s, 1e-3)
        yield Cause(
            "too_little_bow" if speed_mm_s else "too_far_from_bridge" if way.lane else "light_part",
            2.0 - 0.1 * k,
            say("played with the {where} in lane {lane}", where=where, lane=f.lane),
            sentence_like(way.text),
            speed_mm_s=speed_mm_s,
            lane=way.lane,
            place=way.place,
        )
    heavier = f.high_n * rules.FAULT_MARGIN * 0.7
    yield Cause(
        "too_light",
        1.0 - f.share + (0.3 if f.place > 0.6 else 0.0),
        tr("the arm does not hang into the string"),
        say("Lean the index finger: up to {heavier:.2g} N is sound here", heavier=heavier),
        weight_n=heavier,
    )


def _uneven(f: _Facts) -> Iterator[Cause]:
    bow = f.plan.choices.bow
    swing_nmm = f.weight_n * abs(f.planned.end - f.planned.start) * bow.hair_mm
    yield Cause(
        "hand_balance",
        swing_nmm / 200,
        say(
            "from end to end the hand must shift {swing:.0f} N·mm between the fingers",
            swing=swing_nmm,
        ),
        tr("Hand over from little finger to index as the bow travels to the tip"),
    )
    unit = f.plan.units[f.planned.unit]
    if unit.last > unit.first:
        notes_n = unit.last - unit.first + 1
        yield Cause(
            "slur_division",
            0.9,
            say("{notes} notes share one bow", notes=notes_n),
            tr("Stop the bow between the notes first, then leave the stops out"),
        )
    speed = f.planned.speed_mm_s
    if speed < 1.5 * f.plan.player.slowest_mm_s:
        yield Cause(
            "too_slow",
            1.0,
            say("{speed:.1f} cm/s is near the slowest this player keeps even", speed=speed / 10),
            tr("Use more bow or play a little faster"),
            speed_mm_s=f.speed_to(1.5 * f.plan.player.slowest_mm_s),
        )
    yield _CROOKED


def _runs_out(f: _Facts) -> Iterator[Cause]:
    unit, hair_mm = f.plan.units[f.planned.unit], f.plan.choices.bow.hair_mm
    wished_mm = f.plan.wished_length(unit) * hair_mm
    step = f.plan.steps[f.planned.unit]
    given_mm = abs(step.end - step.start) / rules.CELLS_N * hair_mm
    yield Cause(
        "too_much_at_first",
        0.8,
        say(
            "{given:.0f} cm must last {duration:.1f} s",
            given=given_mm / 10,
            duration=unit.duration_s,
        ),
        say(
            "Begin slower: {given:.0f} cm/s from the start",
            given=given_mm / max(unit.moving_s, 0.001) / 10,
        ),
        speed_mm_s=given_mm / max(unit.moving_s, 1e-3),
    )
    if given_mm < wished_mm:
        yield Cause(
            "started_late",
            wished_mm / given_mm,
            say(
                "the note wants {wished:.0f} cm and has {given:.0f} cm",
                wished=wished_mm / 10,
                given=given_mm / 10,
            ),
            tr("Turn or lift earlier, or give the notes before it less bow"),
        )
    if unit.last > unit.first:
        yield Cause(
            "slur_too_long",
            0.7,
            tr("the slur is long for one bow"),
            tr("Split it at a beat, or play faster"),
        )


def _shakes(f: _Facts) -> Iterator[Cause]:
    near_tip = max(f.planned.start, f.planned.end)
    yield Cause(
        "index_tension",
        max(0.0, f.hand_nmm) / 150 + max(0.0, near_tip - 0.7),
        say("the index must lean with {hand:.0f} N·mm here", hand=f.hand_nmm)
        if f.hand_nmm >= 1
        else tr("a tight thumb or shoulder lets every tremble through"),
        tr("Loosen thumb and shoulder; let the arm's weight do it"),
    )
    yield Cause(
        "too_near_tip",
        2 * max(0.0, near_tip - 0.75),
        tr("the last part of the bow is hard to hold still"),
        tr("Turn 5 cm before the tip until it is calm"),
    )
    speed = f.planned.speed_mm_s
    if speed < 2 * f.plan.player.slowest_mm_s:
        yield Cause(
            "too_slow", 0.6, say("{speed:.0f} cm/s is slow", speed=speed / 10),
            tr("Use a little more bow"),
            speed_mm_s=f.speed_to(2 * f.plan.player.slowest_mm_s),
        )  # fmt: skip


def _rough_change(f: _Facts) -> Iterator[Cause]:
    planned = f.planned
    came = f.plan.note_before(planned.note.index)
    before = f.plan.notes[came] if came >= 0 else None
    if planned.join is Join.HOOK:
        yield Cause(
            "hook", 1.0, tr("the bow stops here"), tr("Stop with the bow still on the string")
        )
    if before is not None and planned.join is Join.TURN:
        ratio = planned.speed_mm_s / max(before.speed_mm_s, 1.0)
        yield Cause(
            "speed_jump",
            abs(math.log(max(ratio, 1e-3))),
            say(
                "from {before:.0f} to {after:.0f} cm/s",
                before=before.speed_mm_s / 10,
                after=planned.speed_mm_s / 10,
            ),
            tr("Slow down before the turn, begin the new bow gently"),
            speed_mm_s=f.speed_to(before.speed_mm_s),
        )
    if f.level_before is not None and f.level_before != f.level:
        yield Cause(
            "crossing_at_turn",
            0.7 + abs(f.level - f.level_before) / 4,
            tr("turn and string crossing fall together"),
            tr("Roll to the new string at the end of the stroke, then turn"),
        )
    yield Cause(
        "near_the_frog",
        0.8 * max(0.0, 0.3 - planned.start) / 0.3,
        tr("at the frog the whole weight of the bow is in the hand"),
        tr("Let the fingers give; little finger curved"),
    )
    yield Cause(
        "stiff_hand", 0.35, tr("a stiff wrist turns late"), tr("Let the hand follow the arm")
    )
