"""One change that mends a warning: tried on the plan itself before it is offered.

For every kind of warning a few changes come into question, the gentlest first. Each is planned
in full; the first that makes the warning go away, and brings no new problem, is the remedy.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from itertools import product

from plectrum.core.advice.bow_warnings import split_note
from plectrum.core.advice.louder import ways_to_sound
from plectrum.core.advice.out_of_reach import out_of_reach
from plectrum.core.advice.plan_warning import PlanWarning, Severity
from plectrum.core.advice.upside_down import ways_out
from plectrum.core.advice.warnings import warnings_of
from plectrum.core.advice.words import length_words, way_words
from plectrum.core.document.choices import Choices, Join, Pin
from plectrum.core.planning.fingering.grips import grips_for
from plectrum.core.planning.plan import Plan, make_plan
from plectrum.core.planning.rules import CELLS_N
from plectrum.core.planning.strokes.costs import usable_cells
from plectrum.core.planning.tempo_window import runs_of_strokes
from plectrum.core.score.model import Direction, Note
from plectrum.core.wording import say, sentence_like, tr

MARGIN = 1.03  # past a limit, so that it is clearly kept
OTHER_TEMPOS = (1.12, 0.88, 1.25, 0.75)  # own default: what is tried last, the nearest first
TRIED_NOTES_N = 6_000  # notes planned in all before the rest of a list keeps its general words
TRIES_N = 3  # plans that a remedy takes on the average
SLOWEST_BPM = 20  # own default: slower is no tempo
_LIMITS = ("too_quick", "too_slow", "too_fast", "slur_too_long")

# What is left where no single change of the plan mends it.
_NOTHING = {
    "reach": tr("Nothing the bow does here makes it: let the dynamic be nearer to what comes"),
    "runs_out": tr("No other bow or tempo near it has more: let this note be shorter or softer"),
    "too_slow": tr("This bow is too long for this player at any tempo near: break the note"),
    "too_fast": tr("No tempo near it is slow enough: leave the passage for later"),
    "too_quick": tr("No tempo near it is slow enough: leave the passage for later"),
    "upside_down": tr("No single slur or lift mends it: take it as it comes, or teach the hook"),
    "slur_too_long": tr("Parting it once is not enough: mark the bows of this passage by hand"),
    "slur_not_learnt": tr("Parting it once is not enough: mark the bows of this passage by hand"),
    "slur_skips_string": tr("No other finger avoids it: part the slur, or roll early and silently"),
    "pin_not_kept": tr("What holds it here is pinned or marked around it: let go of those first"),
    "place_not_kept": tr("What stands around it holds the bow: say the place of those notes too"),
    "mark_not_kept": tr("The marks around it leave no bow for it: change one of them"),
}


@dataclass(frozen=True, slots=True)
class Remedy:
    """A change in words, the choices it leads to, and the plan they give."""

    text: str
    choices: Choices
    plan: Plan


@lru_cache(maxsize=12)
def find_remedy(plan: Plan, warning: PlanWarning) -> Remedy | None:
    """The gentlest single change after which a warning is gone; None if there is none."""
    broken, alike = _broken_n(plan), _alike_n(plan, warning.code)
    for text, choices in _candidates(plan, warning):
        other = make_plan(plan.part, choices, plan.goes_with)
        gone = not any(_is_still(w, warning) for w in warnings_of(other))
        fewer = _alike_n(other, warning.code) < alike
        if gone and fewer and _broken_n(other) <= broken:
            return Remedy(text, choices, other)
    return None


def tried_warnings(plan: Plan) -> tuple[PlanWarning, ...]:
    """The warnings of a plan with remedies that were tried; in a long list the gravest first, and
    those that are left keep their general words."""
    found = list(warnings_of(plan))
    gravest = list(Severity)[::-1]
    order = sorted(range(len(found)), key=lambda k: gravest.index(found[k].severity))
    for k in order[: TRIED_NOTES_N // max(len(plan.part.notes), 1) // TRIES_N]:
        found[k] = with_remedy(plan, found[k])
    return tuple(found)


def with_remedy(plan: Plan, warning: PlanWarning) -> PlanWarning:
    """The warning with the remedy that was found for it; with what is left where none is."""
    if warning.code == "not_on_instrument" and warning.note is not None:
        return replace(warning, remedy=_where_it_lies(plan, plan.part.notes[warning.note]))
    remedy = find_remedy(plan, warning)
    if remedy is None:
        return replace(warning, remedy=_NOTHING.get(warning.code, warning.remedy))
    return replace(warning, remedy=sentence_like(remedy.text))


def _where_it_lies(plan: Plan, note: Note) -> str:
    """The lowest position that has a note without a stretch, else with one, or that none has."""
    midis = tuple(p.midi for p in note.pitches)
    known = set(plan.player.positions)
    others = sorted(set(plan.instrument.hand.positions) - known)
    for stretched, position in product((False, True), others):
        grips = grips_for(plan.choices.instrument, midis, (*sorted(known), position))
        if any(stretched or not any(f.stretched for f in grip.fingers) for grip in grips):
            return say(
                "It lies in position {position}: let the player use that, or change the note",
                position=position,
            )
    return tr("It lies in no position known here: change the note, or the instrument")


def _is_still(said: PlanWarning, warning: PlanWarning) -> bool:
    """Whether a warning is still said of the note it was said of first."""
    if said.code != warning.code:
        return False
    return said.note == warning.note or (warning.note is not None and said.is_about(warning.note))


def _alike_n(plan: Plan, code: str) -> int:
    """Of how many notes it is said."""
    return sum(max(len(w.notes), 1) for w in warnings_of(plan) if w.code == code)


def _broken_n(plan: Plan) -> int:
    """How many problems and limits that are not kept are spoken of."""
    found = warnings_of(plan)
    return sum(w.severity is Severity.PROBLEM or w.code in _LIMITS for w in found)


def _candidates(plan: Plan, warning: PlanWarning) -> Iterator[tuple[str, Choices]]:
    if warning.note is None:
        if warning.code == "no_tempo":
            yield from _split_slowest(plan)
        return
    note = plan.part.notes[warning.note]
    unit = plan.unit_of(warning.note)
    if unit is None:
        return
    code = warning.code
    if code in ("pin_not_kept", "place_not_kept", "mark_not_kept"):
        yield from _let_go(plan, unit, note)
    elif code == "not_learnt":
        yield _pinned(plan, note, tr("turn the bow instead"), join=Join.TURN, direction=None)
        yield from _other_ways(plan, unit)
    elif code == "slur_too_long":
        yield from _split(plan, unit)
    elif code == "slur_not_learnt":
        if len(warning.notes) == 1:
            yield from _split(plan, unit)
        yield from _split_all(plan, warning)
    elif code == "slur_skips_string":
        yield _pinned(
            plan, note, say("split the slur at {place}", place=note.place), join=Join.TURN
        )
        yield from _other_grips(plan, note)
    elif code == "too_slow":
        yield from _length(plan, unit, more=True)
        yield from _split(plan, unit)
        yield from _tempo(plan, unit, plan.player.slowest_mm_s, faster=True)
    elif code == "too_fast":
        yield from _length(plan, unit, more=False)
        yield from _tempo(plan, unit, plan.player.fastest_mm_s, faster=False)
    elif code == "upside_down":
        yield from ways_out(plan, warning)
    elif code == "too_quick":
        yield from _spoken(plan)
        yield from _in_pairs(plan, warning)
    elif code == "runs_out":
        yield from _room(plan, unit)
        yield from _other_ways(plan, unit)
        yield from _split(plan, unit)
        yield from _other_tempos(plan)
    elif code == "reach":
        yield from _reach(plan, note, warning.notes or (note.index,))
        yield from _other_tempos(plan)
    elif code == "finger_not_learnt":
        yield from _other_grips(plan, note)


def _pinned(plan: Plan, note: Note, text: str, **changes: object) -> tuple[str, Choices]:
    pin = replace(plan.choices.pins.get(note.id, Pin()), **changes)  # type: ignore[arg-type]
    return text, plan.choices.with_pin(note.id, pin)


def _let_go(plan: Plan, unit: int, note: Note) -> Iterator[tuple[str, Choices]]:
    members = plan.part.notes[plan.units[unit].first : plan.units[unit].last + 1]
    ids = {m.id for m in members} | {note.id}
    yield tr("let go of the pin"), plan.choices.with_pins({note_id: Pin() for note_id in ids})


def _split(plan: Plan, unit: int) -> Iterator[tuple[str, Choices]]:
    """The slur in two at its best place; in three or four if that is not enough."""
    first, last = plan.units[unit].first, plan.units[unit].last
    if last == first:
        return
    best = plan.part.notes[split_note(plan, unit)]
    yield _pinned(plan, best, say("split the slur at {place}", place=best.place), join=Join.TURN)
    for parts_n in (3, 4):
        span = last - first + 1
        if span < parts_n:
            return
        at = [plan.part.notes[first + round(k * span / parts_n)] for k in range(1, parts_n)]
        pins = {n.id: replace(plan.choices.pins.get(n.id, Pin()), join=Join.TURN) for n in at}
        yield say("split the slur in {parts_n}", parts_n=parts_n), plan.choices.with_pins(pins)


def _split_all(plan: Plan, warning: PlanWarning) -> Iterator[tuple[str, Choices]]:
    """All slurs of too many notes, each in as few parts as will do."""
    pins: dict[str, Pin] = {}
    most_n = plan.player.slur_notes_n
    for note in warning.notes or (warning.note or 0,):
        unit = plan.unit_of(note)
        if unit is None:
            continue
        members = plan.part.notes[plan.units[unit].first : plan.units[unit].last + 1]
        parts_n = math.ceil(sum(not n.grace for n in members) / most_n)
        for k in range(1, parts_n):
            at = members[round(k * len(members) / parts_n)]
            pins[at.id] = replace(plan.choices.pins.get(at.id, Pin()), join=Join.TURN)
    count = len(warning.notes)
    text = say("split the {count} slurs", count=count) if count > 1 else tr("split the slur")
    yield (
        say("{split} into bows of at most {most} notes", split=text, most=most_n),
        plan.choices.with_pins(pins),
    )


def _split_slowest(plan: Plan) -> Iterator[tuple[str, Choices]]:
    slurs = [u for u in plan.units if u.last > u.first]
    for unit in sorted(slurs, key=lambda u: -u.duration_s)[:3]:
        yield from _split(plan, unit.index)


def _length(plan: Plan, unit: int, *, more: bool) -> Iterator[tuple[str, Choices]]:
    """So much bow that the speed is just inside the player's limit."""
    head, wanted = plan.head_of(unit), plan.units[unit]
    limit = plan.player.slowest_mm_s * MARGIN if more else plan.player.fastest_mm_s / MARGIN
    cells = limit * wanted.moving_s / plan.choices.bow.hair_mm * CELLS_N
    low, high = usable_cells(plan.choices)
    length = math.ceil(cells) if more else math.floor(cells)
    if 1 <= length <= high - low:
        words = tr("use more bow") if more else tr("use less bow")
        centimetres = length / CELLS_N * plan.choices.bow.hair_mm / 10
        yield _pinned(
            plan,
            head,
            say("{words}: {centimetres:.0f} cm", words=words, centimetres=centimetres),
            length_cells=length,
        )


def _tempo(plan: Plan, unit: int, limit: float, *, faster: bool) -> Iterator[tuple[str, Choices]]:
    step, wanted = plan.steps[unit], plan.units[unit]
    length_mm = abs(step.end - step.start) / CELLS_N * plan.choices.bow.hair_mm
    ratio = limit * wanted.moving_s / max(length_mm, 1e-6)
    bpm = plan.part.tempo.bpm * ratio
    bpm = math.ceil(bpm * MARGIN) if faster else math.floor(bpm / MARGIN)
    if 20 <= bpm <= 240:
        yield (
            _at_tempo(bpm, faster=faster),
            replace(plan.choices, tempo_bpm=float(bpm)),
        )


def _in_pairs(plan: Plan, warning: PlanWarning) -> Iterator[tuple[str, Choices]]:
    """A passage of single notes slurred two by two, from the beat on."""
    notes, most_n = plan.part.notes, plan.player.slur_notes_n
    single = [notes[k] for k in warning.notes if not (notes[k].slurred or notes[k].grace)]
    if most_n < 2:
        return
    pins = {}
    before: Note | None = None
    for note in single:
        joins = before is not None and note.index == before.index + 1 and note.gap_before_s == 0
        if joins and before is not None and before.id not in pins and before.beat < note.beat:
            pins[note.id] = replace(plan.choices.pins.get(note.id, Pin()), join=Join.SLUR)
        before = note
    if pins:
        yield tr("slur the notes in pairs"), plan.choices.with_pins(pins)


def _spoken(plan: Plan) -> Iterator[tuple[str, Choices]]:
    """A tempo at which all of the piece is spoken."""
    quickest_s = runs_of_strokes(plan)[0].min(initial=math.inf)
    bpm = math.floor(plan.part.tempo.bpm * quickest_s * plan.player.strokes_per_s)
    if bpm >= SLOWEST_BPM:
        yield _at_tempo(bpm, faster=False), replace(plan.choices, tempo_bpm=float(bpm))


def _at_tempo(bpm: float, *, faster: bool) -> str:
    return (
        say("play faster, at {bpm:.0f}", bpm=bpm)
        if faster
        else say("play slower, at {bpm:.0f}", bpm=bpm)
    )


def _other_tempos(plan: Plan) -> Iterator[tuple[str, Choices]]:
    for ratio in OTHER_TEMPOS:
        bpm = float(round(plan.part.tempo.bpm * ratio))
        if 20 <= bpm <= 240:
            yield (
                _at_tempo(bpm, faster=ratio > 1),
                replace(plan.choices, tempo_bpm=bpm),
            )


def _room(plan: Plan, unit: int) -> Iterator[tuple[str, Choices]]:
    """Start where there is bow enough: at the near end of the usable bow."""
    low, high = usable_cells(plan.choices)
    down = plan.steps[unit].direction == 0
    head = plan.head_of(unit)
    text = tr("start nearer the frog") if down else tr("start nearer the tip")
    yield _pinned(plan, head, text, start_cell=low if down else high)


def _other_ways(plan: Plan, unit: int) -> Iterator[tuple[str, Choices]]:
    words = {Join.HOOK: tr("hook"), Join.RETAKE: tr("lift"), Join.TURN: tr("turn"),
             Join.START: tr("begin")}  # fmt: skip
    for a in plan.alternatives_at_once(unit):
        if a.possible and a.extra_cost != 0:
            join = None if a.join is Join.START else a.join
            text = say("{action}, then {way}", action=words[a.join], way=way_words(a.direction))
            direction = Direction(a.direction)
            yield _pinned(plan, plan.head_of(unit), text, join=join, direction=direction)


def _reach(plan: Plan, note: Note, notes: Sequence[int]) -> Iterator[tuple[str, Choices]]:
    """What makes a passage louder or softer; at its worst note alone where that does not do."""
    reach = next((r for r in out_of_reach(plan) if r.note == note.index), None)
    if reach is None:
        return
    louder = reach.missing_db > 0
    for way in ways_to_sound(plan, note.index, louder=louder, wanted_mm=reach.length_mm):
        yield way.text, way.pinned(plan, notes)
        if len(notes) > 1:
            yield way.text, way.pinned(plan, [note.index])
    planned = plan.notes[note.index]
    unit = plan.unit_of(note.index)
    if planned is None or unit is None:
        return
    low, high = usable_cells(plan.choices)
    step = plan.steps[unit]
    ratio = reach.length_mm / max(planned.length_mm, 1e-6)
    length = min(high - low, max(1, round(abs(step.end - step.start) * ratio)))
    centimetres = length / CELLS_N * plan.choices.bow.hair_mm / 10
    bow = say(
        "{length} ({centimetres:.0f} cm)",
        length=length_words(length / CELLS_N),
        centimetres=centimetres,
    )
    head = plan.head_of(unit)
    yield _pinned(plan, head, say("use {bow}", bow=bow), length_cells=length)
    for lane in sorted(plan.player.lanes, key=lambda k: k if reach.missing_db > 0 else -k):
        text = say("use {bow} in lane {lane}", bow=bow, lane=lane)
        both = replace(
            plan.choices.pins.get(head.id, Pin()),
            length_cells=length,
            lane=lane if head is note else None,
        )
        choices = plan.choices.with_pin(head.id, both)
        if head is not note:
            own = replace(plan.choices.pins.get(note.id, Pin()), lane=lane)
            choices = choices.with_pin(note.id, own)
        yield text, choices
    if reach.missing_db > 0:
        yield from _split(plan, unit)


def _other_grips(plan: Plan, note: Note) -> Iterator[tuple[str, Choices]]:
    midis = tuple(p.midi for p in note.pitches)
    now = plan.fingered[note.index].grip
    for grip in grips_for(plan.choices.instrument, midis, plan.player.positions):
        if grip != now:
            name = plan.instrument.string_names[grip.main.string]
            finger = grip.main.finger
            text = say("play it on the {name} string, ", name=name) + (
                say("finger {finger}", finger=finger) if finger else tr("open", "string")
            )
            yield _pinned(plan, note, text, string=grip.main.string, finger=finger)
