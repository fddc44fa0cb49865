"""What a plan itself says should be looked at, each with a remedy."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from functools import lru_cache
from itertools import pairwise

from plectrum.core.advice.out_of_reach import OutOfReach, out_of_reach
from plectrum.core.advice.words import dynamic_words, length_words
from plectrum.core.document.choices import Join
from plectrum.core.document.places import LEAST_STROKE, span_of, words_of
from plectrum.core.errors import ChoiceError
from plectrum.core.planning.fingering.grips import Fingered
from plectrum.core.planning.plan import Plan
from plectrum.core.planning.rules import CELLS_N, REACH_DB
from plectrum.core.planning.strokes.amounts import school_range
from plectrum.core.planning.strokes.costs import usable_cells
from plectrum.core.planning.strokes.planned import JOINS, PlannedNote
from plectrum.core.planning.strokes.stroke_tables import held_by, keeps
from plectrum.core.score.model import Articulation, Direction, Note
from plectrum.core.wording import in_words, say, sentence_like, several, tr

RUNS_OUT = 0.6  # own default: less than this part of the wished-for bow is running out
TOLERANCE = 1.02  # a speed within two per cent of a limit is not spoken of


class Severity(StrEnum):
    """How much a warning matters."""

    NOTE = "note"
    CAUTION = "caution"
    PROBLEM = "problem"


@dataclass(frozen=True, slots=True)
class PlanWarning:
    """One thing to look at. `note` is an index, None for the whole piece; where one thing is said
    of several, `notes`, it is the one where it is worst."""

    code: str
    severity: Severity
    bar: int | None
    note: int | None
    text: str
    remedy: str
    notes: tuple[int, ...] = ()

    def is_about(self, note: int) -> bool:
        """Whether it speaks of a note."""
        return note == self.note or note in self.notes


_TAUGHT = frozenset(
    {
        Articulation.STACCATO,
        Articulation.ACCENT,
        Articulation.TENUTO,
        Articulation.PORTATO,
        Articulation.SPICCATO,
        Articulation.RICOCHET,
    }
)
Warn = Callable[[str, Severity, str, str], PlanWarning]


@lru_cache(maxsize=4)
def warnings_of(plan: Plan) -> tuple[PlanWarning, ...]:
    """All warnings of a plan, in the order of the music; those of the whole piece first."""
    found = [
        PlanWarning(
            "reading", Severity.NOTE, None, None, text, tr("Check these notes in the score")
        )
        for text in plan.part.notices
    ]
    if plan.tempo_window is None and plan.units:
        found.append(
            PlanWarning(
                "no_tempo",
                Severity.CAUTION,
                None,
                None,
                tr("There is no tempo at which the whole plan stays within this player's speeds"),
                tr("Split the longest slurs, or let the player use more of the bow"),
            )
        )
    timed = [w for unit in range(len(plan.units)) for w in _unit_warnings(plan, unit)]
    timed += list(_note_warnings(plan))
    return (*found, *_grouped(sorted(timed, key=lambda w: w.note or 0)))


# What is said once, of all the notes it is true of, because the player is what it is about.
_ONCE = ("not_on_instrument", "finger_not_learnt", "slur_not_learnt")


def _grouped(found: Sequence[PlanWarning]) -> Iterator[PlanWarning]:
    """The same warnings, each of those that are said once at its first note."""
    notes = {code: [w.note for w in found if w.code == code and w.note is not None]
             for code in _ONCE}  # fmt: skip
    for warning in found:
        of = notes.get(warning.code)
        if of is None:
            yield warning
        elif warning.note == of[0]:
            text = warning.text + _and_others(len(of), slurs=warning.code == "slur_not_learnt")
            yield replace(warning, text=text, notes=tuple(of))


def _note_warnings(plan: Plan) -> Iterator[PlanWarning]:
    for note, fingered in zip(plan.part.notes, plan.fingered, strict=True):
        yield from _hand_warnings(plan, note, fingered)
    for before, after in pairwise(plan.part.notes):
        yield from _slur_crossing(plan, before, after)
    yield from _technique_warnings(plan)
    yield from _reach_warnings(plan)


def _too_slow(plan: Plan, index: int) -> bool:
    """Whether the bow itself is below the player's limit; that is then the thing to mend."""
    step, unit = plan.steps[index], plan.units[index]
    length_mm = abs(step.end - step.start) / CELLS_N * plan.choices.bow.hair_mm
    return length_mm / max(unit.moving_s, 1e-3) * TOLERANCE < plan.player.slowest_mm_s


def _at(note: Note, code: str, severity: Severity, text: str, remedy: str) -> PlanWarning:
    place = sentence_like(note.place)
    return PlanWarning(code, severity, note.bar, note.index, f"{place}: {text}", remedy)


def _hand_warnings(plan: Plan, note: Note, fingered: Fingered) -> Iterator[PlanWarning]:
    player = plan.choices.player
    pin = plan.choices.pins.get(note.id)
    if fingered.grip is None or len(fingered.grip.fingers) < len(note.pitches):
        yield _at(
            note, "not_on_instrument", Severity.PROBLEM,
            say("not playable on the {instrument} in "
                "this player's positions", instrument=in_words(plan.choices.instrument)),
            tr("Change the note, the instrument or the positions"),
        )  # fmt: skip
        return
    main = fingered.grip.main
    wanted = pin is not None and (
        (pin.string is not None and pin.string != main.string)
        or (pin.finger is not None and pin.finger != main.finger)
    )
    if wanted:
        yield _at(
            note, "pin_not_kept", Severity.PROBLEM,
            tr("the pinned string or finger cannot play this note"), tr("Let it go (P)"),
        )  # fmt: skip
    if not all(player.knows_finger(f.finger, plan.instrument) for f in fingered.grip.fingers):
        yield _at(
            note, "finger_not_learnt", Severity.NOTE,
            say("needs finger {finger}, which this "
                "player has not learnt", finger=fingered.finger_words),
            tr("Use another string, or teach the finger first"),
        )  # fmt: skip


def _technique_warnings(plan: Plan) -> Iterator[PlanWarning]:
    """What the player has not learnt, once for each, with all the notes that need it."""
    needed: dict[str, list[int]] = {}
    for note, planned, fingered in zip(plan.part.notes, plan.notes, plan.fingered, strict=True):
        if planned is None or fingered.grip is None:
            continue
        kinds = {str(a) for a in note.articulations & _TAUGHT}
        kinds |= {tr("double stops")} if len(fingered.grip.fingers) > 1 else set()
        for kind in kinds - set(plan.choices.player.techniques):
            needed.setdefault(kind, []).append(note.index)
    for kind, notes in sorted(needed.items()):
        text = say("{kind}, which this player has not learnt", kind=kind)
        said = _at(plan.part.notes[notes[0]], "technique_not_learnt", Severity.NOTE,
                   text + _and_others(len(notes)), tr("Leave it out, or teach it "
                                                      "first"))  # fmt: skip
        yield replace(said, notes=tuple(notes))


def _and_others(count: int, *, slurs: bool = False) -> str:
    more = count - 1
    if not more:
        return ""
    return (
        several(" (and {n} more slur)", " (and {n} more slurs)", more)
        if slurs
        else several(" (and {n} more note)", " (and {n} more notes)", more)
    )


def _slur_crossing(plan: Plan, before: Note, after: Note) -> Iterator[PlanWarning]:
    a, b = plan.fingered[before.index].level, plan.fingered[after.index].level
    planned = plan.notes[after.index]
    if planned is None or planned.join is not Join.SLUR or a is None or b is None:
        return
    if abs(a - b) > 2:
        yield _at(
            after, "slur_skips_string", Severity.CAUTION,
            tr("a string is skipped inside a slur"), tr("Split the slur here (X), or "
                                                        "change the finger"),
        )  # fmt: skip


def _reach_warnings(plan: Plan) -> Iterator[PlanWarning]:
    """Dynamics that do not come out, a warning for each stretch that misses to the same side."""
    stretch: list[OutOfReach] = []
    for reach in out_of_reach(plan):
        unit = plan.unit_of(reach.note)
        if unit is None or _too_slow(plan, unit) or _runs_out(plan, unit):
            continue
        if stretch and not _goes_on(plan, stretch[-1], reach):
            yield _reach_warning(plan, stretch)
            stretch = []
        stretch.append(reach)
    if stretch:
        yield _reach_warning(plan, stretch)


def _goes_on(plan: Plan, a: OutOfReach, b: OutOfReach) -> bool:
    """Whether two notes miss alike, with no more than a bar between them."""
    one, other = plan.part.notes[a.note], plan.part.notes[b.note]
    same = one.dynamic == other.dynamic and (a.missing_db > 0) == (b.missing_db > 0)
    return same and other.bar_index - one.bar_index <= 1


def _reach_warning(plan: Plan, stretch: Sequence[OutOfReach]) -> PlanWarning:
    """The worst of a stretch, in dynamics and in shares of the bow."""
    worst = max(stretch, key=lambda r: abs(r.missing_db))
    note, planned = plan.part.notes[worst.note], plan.notes[worst.note]
    wanted = dynamic_words(note.level_db)
    sounds = dynamic_words(note.level_db - worst.missing_db)
    hair_mm = plan.choices.bow.hair_mm
    have = length_words(planned.length_mm / hair_mm) if planned is not None else tr("this bow")
    if sounds != wanted:
        text = say("{wanted} comes out as {sounds} with {have}", wanted=wanted, sounds=sounds,
                   have=have)  # fmt: skip
    elif worst.missing_db > 0:
        text = say("{wanted} comes out too soft with {have}", wanted=wanted, have=have)
    else:
        text = say("{wanted} comes out too loud with {have}", wanted=wanted, have=have)
    text += _where_used(plan, planned)
    said = _at(note, "reach", Severity.NOTE, text + _and_others(len(stretch)),
               _reach_remedy(plan, worst))  # fmt: skip
    return replace(said, notes=tuple(r.note for r in stretch))


def _where_used(plan: Plan, planned: PlannedNote | None) -> str:
    """Which part of the bow a note uses, where it is in one half alone."""
    if planned is None:
        return ""
    low, high = sorted((planned.start, planned.end))
    if low >= 0.5:
        return tr(": only the upper half is used there, the lower half is not")
    return tr(": only the lower half is used there, the upper half is not") if high <= 0.5 else ""


def _reach_remedy(plan: Plan, reach: OutOfReach) -> str:
    """Never more bow than there is, nor faster or slower than the player draws it."""
    low, high = usable_cells(plan.choices)
    whole_mm = (high - low) / CELLS_N * plan.choices.bow.hair_mm
    speed_mm_s = reach.length_mm / max(reach.moving_s, 1e-3)
    ways = []
    can = plan.player.slowest_mm_s <= speed_mm_s <= plan.player.fastest_mm_s
    if reach.length_mm <= whole_mm and can:
        hair_mm, planned = plan.choices.bow.hair_mm, plan.notes[reach.note]
        wanted = length_words(reach.length_mm / hair_mm)
        if planned is None or wanted != length_words(planned.length_mm / hair_mm):
            ways.append(say("use {wanted}", wanted=wanted))
    if reach.lane in plan.player.lanes:
        ways.append(say("play in lane {lane}", lane=reach.lane))
    if not ways:
        ways.append(
            tr("let it be softer here, or take another tempo")
            if reach.missing_db > 0
            else tr("let it be louder here, or take another tempo")
        )
    words = tr(", or ").join(ways)
    return sentence_like(words)


def _unit_warnings(plan: Plan, index: int) -> Iterator[PlanWarning]:
    head = plan.head_of(index)

    def warn(code: str, severity: Severity, text: str, remedy: str) -> PlanWarning:
        return PlanWarning(
            code, severity, head.bar, head.index, f"{_place(plan, index)}: {text}", remedy
        )

    yield from _kept(plan, index, warn)
    yield from _learnt(plan, index, warn)
    yield from _slur_or_slow(plan, index, warn)
    yield from _fast_or_short(plan, index, warn)


def _length_and_speed(plan: Plan, index: int) -> tuple[float, float]:
    """What a bow takes of the hair, and its speed in millimetres a second."""
    length = abs(plan.steps[index].end - plan.steps[index].start) / CELLS_N
    return length, length * plan.choices.bow.hair_mm / max(plan.units[index].moving_s, 1e-3)


def _slur_or_slow(plan: Plan, index: int, warn: Warn) -> Iterator[PlanWarning]:
    unit = plan.units[index]
    length, speed_mm_s = _length_and_speed(plan, index)
    low, high = usable_cells(plan.choices)
    full_s = (high - low) / CELLS_N * plan.choices.bow.hair_mm / plan.player.slowest_mm_s
    if unit.last > unit.first and unit.duration_s > full_s * TOLERANCE:
        text = say(
            "the slur is longer than this player's slowest bow: it lasts {duration:.1f} s, "
            "the bow {full:.1f} s",
            duration=unit.duration_s,
            full=full_s,
        )
        remedy = say("Split it at {place} (X)", place=_split_place(plan, index))
        yield warn("slur_too_long", Severity.PROBLEM, text, remedy)
    elif (notes_n := _slurred_n(plan, index)) > plan.player.slur_notes_n:
        text = say(
            "a slur of {notes} notes; this player slurs up to {slur_notes}",
            notes=notes_n,
            slur_notes=plan.player.slur_notes_n,
        )
        remedy = say("Split it at {place} (X)", place=_split_place(plan, index))
        yield warn("slur_not_learnt", Severity.NOTE, text, remedy)
    elif speed_mm_s * TOLERANCE < plan.player.slowest_mm_s:
        text = say(
            "too little bow for so long a note: {length} in {moving:.1f} s, "
            "where this player needs {least}",
            length=length_words(length),
            moving=unit.moving_s,
            least=_cm(plan.player.slowest_mm_s * unit.moving_s),
        )
        remedy = tr("Use more bow, split the note, or play faster")
        yield warn("too_slow", Severity.CAUTION, text, remedy)


def _fast_or_short(plan: Plan, index: int, warn: Warn) -> Iterator[PlanWarning]:
    unit, hair_mm = plan.units[index], plan.choices.bow.hair_mm
    length, speed_mm_s = _length_and_speed(plan, index)
    if speed_mm_s > plan.player.fastest_mm_s * TOLERANCE:
        text = say(
            "too much bow for so short a note: {length} in {moving:.2f} s, "
            "where this player draws {most}",
            length=length_words(length),
            moving=unit.moving_s,
            most=_cm(plan.player.fastest_mm_s * unit.moving_s),
        )
        yield warn("too_fast", Severity.CAUTION, text, tr("Use less bow, or play slower"))
    if _runs_out(plan, index):
        text = say(
            "the bow runs out: {length} ({left}) is left of the {wanted} it wants",
            length=length_words(length),
            left=_cm(length * hair_mm),
            wanted=_cm(unit.ideal_length * hair_mm),
        )
        remedy = tr("Turn or lift the bow earlier, or give the notes before it less")
        yield warn("runs_out", Severity.CAUTION, text, remedy)


def _cm(length_mm: float) -> str:
    return say("{length:.0f} cm", length=length_mm / 10)


def _runs_out(plan: Plan, index: int) -> bool:
    """Whether a bow is much shorter than it would like because of what is marked or pinned, or so
    that it is heard; where the plan saves bow and the note sounds, there is nothing to say."""
    unit, step = plan.units[index], plan.steps[index]
    if abs(step.end - step.start) / CELLS_N >= RUNS_OUT * unit.ideal_length:
        return False
    if unit.pin.amount is not None or unit.pin.length_cells is not None:
        return False  # so much bow is what the teacher has said
    if unit.mark is not None or not unit.pin.is_empty:
        return True
    rows = (plan.contact_rows[i] for i in range(unit.first, unit.last + 1))
    return any(plan.contact.left_over_db[row] > REACH_DB for row in rows)


def _slurred_n(plan: Plan, index: int) -> int:
    unit = plan.units[index]
    return sum(1 for n in plan.part.notes[unit.first : unit.last + 1] if not n.grace)


def _place(plan: Plan, index: int) -> str:
    place = plan.head_of(index).place
    return sentence_like(place)


def _kept(plan: Plan, index: int, warn: Warn) -> Iterator[PlanWarning]:
    unit, step = plan.units[index], plan.steps[index]
    direction = (Direction.DOWN, Direction.UP)[step.direction]
    if unit.mark is not None and unit.mark is not direction:
        reason = (
            tr("your pin says otherwise")
            if unit.pin.direction
            else tr("there is no bow left for it")
        )
        yield warn(
            "mark_not_kept",
            Severity.NOTE if unit.pin.direction else Severity.PROBLEM,
            say("the score marks it {mark}; {reason}", mark=unit.mark, reason=reason),
            tr("Let go of the pin to follow the score")
            if unit.pin.direction
            else tr("Change the marks"),
        )
    pin = unit.pin
    length = abs(step.end - step.start)
    broken = [
        pin.direction is not None and pin.direction is not direction,
        index > 0 and pin.join is not None and pin.join is not JOINS[step.join],
        pin.start_cell is not None and pin.start_cell != step.start,
        pin.length_cells is not None and pin.length_cells != length,
    ]
    if pin.place is not None or pin.amount is not None:
        yield from _placed(plan, index, warn)
    if any(broken):
        why = _why_refused(plan, index)
        yield warn(
            "pin_not_kept",
            Severity.PROBLEM,
            say("your pin cannot be kept: {why}", why=why),
            tr("Let it go (P)"),
        )


def _placed(plan: Plan, index: int, warn: Warn) -> Iterator[PlanWarning]:
    """A place or an amount of bow that the teacher named and that cannot be."""
    pin, step, bow = plan.units[index].pin, plan.steps[index], plan.choices.bow
    words = tr(" and ").join(words_of(word) for word in (pin.place, pin.amount) if word is not None)
    usable = school_range(plan.choices)
    try:
        span = span_of(pin.place, pin.amount, bow, usable)
    except ChoiceError as error:
        remedy = error.remedy or tr("Choose another place, or another player")
        yield warn(
            "place_not_kept",
            Severity.PROBLEM,
            say("“{words}” cannot be: {what}", words=words, what=error.what),
            remedy,
        )
        return
    own = replace(pin, start_cell=None, length_cells=None)
    if keeps(step, held_by(own, bow, usable)):
        return
    reach = plan.units[index].moving_s * plan.player.fastest_mm_s / bow.hair_mm
    asked = LEAST_STROKE if span.length is None else span.length
    if span.start is not None and span.end is not None:
        asked = abs(span.end - span.start)
    too_short = reach < asked - 1 / CELLS_N
    why = (
        tr("this note's time does not allow so much bow")
        if too_short
        else tr("what stands before or after it leaves the bow elsewhere")
    )
    yield warn(
        "place_not_kept", Severity.PROBLEM,
        say("“{words}” cannot be kept: {why}", words=words, why=why),
        tr("Say the place of the notes around it too, or let it go (P)"),
    )  # fmt: skip


def _why_refused(plan: Plan, index: int) -> str:
    unit = plan.units[index]
    if unit.pin.join is Join.RETAKE and unit.free_s < plan.player.lift_s:
        return say("no time to lift, it needs {lift_s:.1f} s", lift_s=plan.player.lift_s)
    if unit.pin.start_cell is not None or unit.pin.length_cells is not None:
        return tr("it would leave the part of the bow this player uses, or not meet its neighbours")
    return tr("it does not go together with the pins and marks around it")


def _learnt(plan: Plan, index: int, warn: Warn) -> Iterator[PlanWarning]:
    step = plan.steps[index]
    join = JOINS[step.join] if index else Join.START
    if join is Join.HOOK and not plan.player.can_hook and plan.stops_for_hook(index):
        yield warn(
            "not_learnt",
            Severity.PROBLEM,
            tr("a hook, which this player has not learnt"),
            tr("Turn the bow instead, or change the marks"),
        )
    if join is Join.RETAKE and not plan.player.can_retake:
        yield warn(
            "not_learnt",
            Severity.PROBLEM,
            tr("a lift, which this player has not learnt"),
            tr("Turn the bow instead"),
        )


def split_note(plan: Plan, index: int) -> int:
    """The note at which a long slur is best split: on the strongest beat nearest its middle."""
    unit = plan.units[index]
    notes = plan.part.notes[unit.first + 1 : unit.last + 1]
    middle_s = plan.head_of(index).onset_s + unit.duration_s / 2
    best = min(
        notes, key=lambda n: abs(n.onset_s - middle_s) / unit.duration_s - 0.25 * n.metric_weight
    )
    return best.index


def _split_place(plan: Plan, index: int) -> str:
    return plan.part.notes[split_note(plan, index)].place
