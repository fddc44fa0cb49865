"""Why a note is bowed as it is: which cost terms decided, in the teacher's words."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from plectrum.core.advice.words import FINGERS, at_place_words, way_words
from plectrum.core.document.choices import NO_PIN, Join
from plectrum.core.document.places import words_of
from plectrum.core.planning import rules
from plectrum.core.planning.plan import Alternative, Change, Plan
from plectrum.core.planning.rules import CELLS_N, MILLIONTHS, SLUR_WORTH, TABLE, TERM_WORDS
from plectrum.core.planning.strokes.amounts import STOPPED
from plectrum.core.planning.strokes.planned import PlannedNote
from plectrum.core.planning.strokes.slur_columns import slur_columns
from plectrum.core.planning.strokes.slur_features import join_features
from plectrum.core.score.model import Direction
from plectrum.core.wording import in_words, say, several, tr

LESS_THAN_WISHED = 0.8  # own default: say so when a stroke is this much shorter or longer
MORE_THAN_WISHED = 1.25
MOVED_TO_MIDDLE = 0.005  # a crossing that costs no more lies near the middle


@dataclass(frozen=True, slots=True)
class Reason:
    """One reason: a fixed code for programs, a sentence for people."""

    code: str
    text: str


def reasons_for(plan: Plan, note_index: int) -> tuple[Reason, ...]:
    """The reasons of one note, the weightiest first; none for a note without bow."""
    across = _across(plan, note_index)
    planned = plan.notes[note_index]
    if planned is None:
        return (Reason("pizzicato", tr("plucked: no bow")), *across)
    if planned.join is Join.SLUR:
        head = plan.notes[plan.units[planned.unit].first]
        way = way_words(head.direction) if head is not None else ""
        inside = Reason(
            "slur", say("inside a slur: shares its {way}, by length and loudness", way=way)
        )
        said = _pinned(plan.choices.pins.get(planned.note.id, NO_PIN).where_words)
        return (*said, *_proposed(plan, planned), inside, *across)
    found = [*_pins(plan, planned), *_direction(plan, planned), *_join(plan, planned)]
    found += _dropped(plan, planned)
    found += [*_terms(plan, planned), *_amount(plan, planned), *_place(plan, planned)]
    return (*found, *across)


def _across(plan: Plan, note_index: int) -> list[Reason]:
    """That a finger lies across two strings, from the note before or on for the next."""
    words = across_words(plan, note_index)
    return [Reason("across", say("{words}: only the bow moves", words=words))] if words else []


def across_words(plan: Plan, note_index: int) -> str:
    """Such as "first finger across D and A"; empty where no finger lies across."""
    notes, here = plan.part.notes, plan.fingered[note_index]
    for other in (note_index - 1, note_index + 1):
        if not 0 <= other < len(notes):
            continue
        later = notes[max(note_index, other)]
        strings = here.across(plan.fingered[other]) if later.gap_before_s == 0 else None
        if strings is not None and here.grip is not None:
            low, high = (plan.instrument.string_names[s] for s in strings)
            finger = next(f for f in here.grip.fingers if f.string in strings)
            return say(
                "{fingers} across {low} and {high}",
                fingers=FINGERS[finger.finger],
                low=low,
                high=high,
            )
    return ""


def is_proposed(plan: Plan, planned: PlannedNote) -> bool:
    """Whether a note is slurred to the one before though the page does not say so."""
    pin = plan.choices.pins.get(planned.note.id)
    pinned = pin is not None and pin.join is not None
    return planned.join is Join.SLUR and not planned.note.slurred and not pinned


def _proposed(plan: Plan, planned: PlannedNote) -> list[Reason]:
    """Why a slur is proposed, and what parting its notes would cost."""
    if not is_proposed(plan, planned):
        return []
    notes = [plan.part.notes[u.first] for u in plan.tables.units]
    rows = slur_columns(plan.part, notes, plan.fingered)
    row = next((k for k, n in enumerate(notes) if n.index == planned.note.index), None)
    cost = plan.parted_cost(planned.note.index)
    if row is None or cost is None:
        return []
    joins = join_features(rows).items()
    likes = [(SLUR_WORTH[n] * float(here[row]), n) for n, here in joins if n in SLUR_WORTH]
    worth, name = max(likes, default=(0.0, ""))
    why = say(": {why}, as print has it", why=in_words(TABLE[name].why)) if worth > 0 else ""
    text = say(
        "proposed slur{why}; parted, it would cost {cost:.1f} more (S keeps it, X parts it)",
        why=why,
        cost=cost,
    )
    return [Reason("slur_proposed", text)]


def _dropped(plan: Plan, planned: PlannedNote) -> list[Reason]:
    pin = plan.choices.pins.get(planned.note.id)
    if not planned.note.slurred or (pin is not None and pin.join is not None):
        return []
    if plan.unit_of(planned.note.index - 1) is None or planned.note.gap_before_s > 0:
        return []
    if planned.join is Join.HOOK:  # stopped, and still in one bow
        return []
    if planned.note.articulations & STOPPED:
        text = tr("in one bow with stops on the page; parted here to keep the bows in order")
    else:
        text = tr("slurred on the page; parted here to keep the bows in order")
    return [Reason("slur_dropped", text)]


# What is said where a term of the cost alone decides the way of a stroke.
_DECIDING = {
    "same": tr("as in the bars like it"),
    "together": tr("as the other part goes in the same rhythm"),
}


def _pinned(words: Iterable[str]) -> list[Reason]:
    said = ", ".join(dict.fromkeys(words))
    return [Reason("pin", say("you pinned it: {list}", list=said))] if said else []


def _pins(plan: Plan, planned: PlannedNote) -> list[Reason]:
    unit = plan.units[planned.unit]
    pin, own = plan.own_pin(unit), plan.choices.pins.get(planned.note.id, NO_PIN)
    if found := _pinned((*pin.words(), *own.where_words)):
        return found
    written = plan.part.notes[unit.first].written_part
    if unit.pin.place == written and planned.strokes_n > 1:
        return [Reason("tremolo", tr("tremolo: short quick strokes, middle to tip"))]
    if unit.pin.place and unit.pin.place == written:
        return [Reason("written", say("written over it: {place}", place=words_of(written)))]
    if not unit.pin.is_empty:
        return [Reason("kept", tr("as it was when the plan was kept"))]
    if unit.mark is planned.direction:
        return [
            Reason(
                "score_mark", say("marked {direction} in the score", direction=planned.direction)
            )
        ]
    return []


def _direction(plan: Plan, planned: PlannedNote) -> list[Reason]:
    metre = planned.note.metric_weight
    down = planned.direction is Direction.DOWN
    if metre == 1.0 and down:
        return [Reason("first_beat", tr("first beat of the bar: down"))]
    if metre == 1.0 and goes_with_others(plan, planned):
        return []  # that is said
    if metre == 1.0:
        cost = _extra(plan, planned.unit, Direction.DOWN)
        if cost <= 0:
            return []
        text = say("first beat, yet up: a down-bow here would cost {cost:.1f} elsewhere", cost=cost)
        return [Reason("first_beat_up", text)]
    following = planned.unit + 1
    if following < len(plan.units) and plan.head_of(following).metric_weight == 1.0:
        after = plan.steps[following]
        if not down and after.direction == 0:
            return [Reason("leads_in", tr("leads up to a down-bow on the next first beat"))]
    return []


NEARLY_ALL = 0.9  # own default: of what a change costs, then what others ask has decided


def goes_with_others(plan: Plan, planned: PlannedNote) -> bool:
    """Whether a stroke would go the other way if other parts in the same rhythm did not ask: here
    or at what the change would carry with it."""
    ways = plan.asked_ways(planned.unit)
    if ways is None or ways[planned.direction.other] <= ways[planned.direction]:
        return False
    others = [
        a for a in plan.alternatives_at_once(planned.unit) if a.direction is planned.direction.other
    ]
    other = min(others, key=lambda a: a.extra_cost, default=None)
    if other is None or not other.possible or other.extra_cost <= 0:
        return False
    change = plan.change_by(planned.unit, other.direction, other.join)
    return dict(change.terms).get("together", 0.0) >= NEARLY_ALL * other.extra_cost


def _terms(plan: Plan, planned: PlannedNote) -> list[Reason]:
    """Terms without which the stroke would go the other way, or that moved it on the bow."""
    unit, step = plan.units[planned.unit], plan.steps[planned.unit]
    mine = plan.unit_terms(planned.unit, step)  # the join is the same both ways
    turned = step._replace(direction=1 - step.direction, start=step.end, end=step.start)
    theirs = plan.unit_terms(planned.unit, turned)
    gains = {t: (theirs.get(t, 0) - mine.get(t, 0)) / MILLIONTHS for t in _DECIDING}
    found = []
    if max(gains.values()) > 0:
        saved = _extra(plan, planned.unit, planned.direction.other)
        alike = gains.pop("same") > 0 >= saved  # without what equal bars ask it costs no more
        found = [Reason(t, _DECIDING[t]) for t, gain in gains.items() if 0 < saved <= gain]
        found += [Reason("same", _DECIDING["same"])] if alike else []
    said = any(reason.code == "together" for reason in found)
    if gains["together"] > 0 and not said and goes_with_others(plan, planned):
        found.append(Reason("together", _DECIDING["together"]))
    if mine.get("limit", 0):
        found.append(
            Reason("limit", tr("beyond what this player's bow does cleanly: nothing better"))
        )
    if unit.crossings and mine.get("crossing", 0) < MOVED_TO_MIDDLE * MILLIONTHS:
        found.append(Reason("crossing", tr("the string is crossed near the middle of the bow")))
    if plan.player.mark_weight and not mine.get("tape", 0):
        found.append(Reason("tape", tr("from mark to mark")))
    return found


def _extra(plan: Plan, unit: int, direction: Direction) -> float:
    costs = [a.extra_cost for a in plan.alternatives_at_once(unit) if a.direction is direction]
    return min(costs, default=0.0)


def _join(plan: Plan, planned: PlannedNote) -> list[Reason]:
    unit = plan.units[planned.unit]
    if planned.join is Join.TURN:
        before = plan.steps[plan.unit_before[planned.unit]].direction
        return [
            Reason(
                "turn",
                tr("the bow turns after an up-bow")
                if before
                else tr("the bow turns after a down-bow"),
            )
        ]
    if planned.join is Join.HOOK and planned.note.gap_before_s >= rules.STOPPING_REST_S:
        return [
            Reason("rest_hook", tr("the same way again: the bow stands still in the rest anyway"))
        ]
    if planned.join is Join.HOOK and unit.short_after_long:
        return [
            Reason("hook", tr("short note after a long one: hooked, so the beats stay in order"))
        ]
    if planned.join is Join.HOOK:
        return [
            Reason("hook", tr("same way again after a stop, so the following beats come right"))
        ]
    if planned.join is Join.RETAKE:
        return [
            Reason(
                "retake",
                say("there are {free_s:.1f} s to lift and start afresh", free_s=unit.free_s),
            )
        ]
    return []


def _amount(plan: Plan, planned: PlannedNote) -> list[Reason]:
    unit, step = plan.units[planned.unit], plan.steps[planned.unit]
    ratio = abs(step.end - step.start) / CELLS_N / plan.wished_length(unit)
    dynamic = planned.note.dynamic
    if ratio < LESS_THAN_WISHED:
        return [Reason("less_bow", tr("less bow than it would like, to share with its neighbours"))]
    if ratio > MORE_THAN_WISHED:
        return [Reason("more_bow", tr("a quick, light stroke: the bow has to get back"))]
    if planned.note.in_hairpin:
        return [Reason("hairpin", tr("the hairpin shapes how much bow each note gets"))]
    if dynamic in ("f", "ff", "fff"):
        return [Reason("loud", say("{dynamic}: more bow", dynamic=dynamic))]
    if dynamic in ("p", "pp", "ppp"):
        return [Reason("soft", say("{dynamic}: less bow", dynamic=dynamic))]
    return [Reason("comfortable", tr("as much bow as is comfortable in its time"))]


def _place(plan: Plan, planned: PlannedNote) -> list[Reason]:
    if planned.unit == 0 or planned.join is Join.RETAKE:
        return [Reason("free_start", tr("free to start where the next notes need it"))]
    return [
        Reason(
            "follows",
            say(
                "the note before ended {place}",
                place=at_place_words(planned.start, plan.choices.bow),
            ),
        )
    ]


def alternative_words(alternative: Alternative, change: Change | None) -> str:
    """What an alternative costs and changes, in a line."""
    if not alternative.possible or change is None:
        return alternative.obstacle or tr("not possible here")
    parts = []
    if alternative.obstacle:
        parts.append(alternative.obstacle)
    if change.flipped_bars:
        parts.append(say("the other way round in {bars}", bars=bars_words(change.flipped_bars)))
    elif change.bars:
        parts.append(say("moves the bow in {bars}", bars=bars_words(change.bars)))
    # The note's own mark and pin are left out of what an alternative costs, so of why, too.
    worse = [name for name, cost in change.terms if cost > 0 and name not in ("pin", "score_mark")]
    if worse:
        parts.append(say("costs mostly {term}", term=in_words(TERM_WORDS[worse[0]])))
    return "; ".join(parts)


def bars_words(bars: tuple[int, ...]) -> str:
    """Bar numbers as a short list with runs: "bars 3, 5–8"."""
    if bars and bars[0] == 0:
        if len(bars) == 1:
            return tr("the pickup")
        return say("the pickup and {bars}", bars=bars_words(bars[1:]))
    runs: list[list[int]] = []
    for bar in bars:
        if runs and bar == runs[-1][1] + 1:
            runs[-1][1] = bar
        elif not runs or bar != runs[-1][1]:
            runs.append([bar, bar])
    said = [str(a) if a == b else f"{a}–{b}" if b > a + 1 else f"{a}, {b}" for a, b in runs]
    if len(said) > 4:
        said = [*said[:3], say("and {count} more places", count=len(said) - 3)]
    return several("bar {list}", "bars {list}", len(bars), list=", ".join(said))
