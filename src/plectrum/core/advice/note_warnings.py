"""What should be looked at about single notes: the hand, what is not learnt, and loudness that does
not come out."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace

from plectrum.core.advice.bow_warnings import runs_out, too_slow
from plectrum.core.advice.louder import ways_to_sound
from plectrum.core.advice.out_of_reach import OutOfReach, out_of_reach
from plectrum.core.advice.plan_warning import PlanWarning, Severity, and_others, at
from plectrum.core.advice.words import dynamic_words, length_words
from plectrum.core.document.choices import Join
from plectrum.core.planning.fingering.grips import Fingered
from plectrum.core.planning.plan import Plan
from plectrum.core.planning.strokes.planned import PlannedNote
from plectrum.core.score.model import Articulation, Note
from plectrum.core.wording import in_words, say, sentence_like, several, tr

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


def note_warnings(plan: Plan) -> Iterator[PlanWarning]:
    pins = plan.choices.pins
    ways = {id(f): f for f in plan.fingered}.values()  # few, so each is looked at once
    plain = {id(f) for f in ways if _is_single(f) and not _unlearnt(plan, f)}
    for note, fingered in zip(plan.part.notes, plan.fingered, strict=True):
        if id(fingered) not in plain or len(note.pitches) > 1 or note.id in pins:
            yield from _hand_warnings(plan, note, fingered)
    for planned in plan.notes[1:]:
        if planned is not None and planned.join is Join.SLUR:
            yield from _slur_crossing(plan, planned.note)
    yield from _technique_warnings(plan)
    yield from _reach_warnings(plan)


def _is_single(fingered: Fingered) -> bool:
    return fingered.grip is not None and len(fingered.grip.fingers) == 1


def _unlearnt(plan: Plan, fingered: Fingered) -> bool:
    """Whether it needs a finger that the player has not learnt."""
    fingers = () if fingered.grip is None else fingered.grip.fingers
    return not all(plan.choices.player.knows_finger(f.finger, plan.instrument) for f in fingers)


def _hand_warnings(plan: Plan, note: Note, fingered: Fingered) -> Iterator[PlanWarning]:
    pin = plan.choices.pins.get(note.id)
    below = plan.instrument.open_midis[0] - min(pitch.midi for pitch in note.pitches)
    if below > 0:
        yield at(
            note, "not_on_instrument", Severity.PROBLEM,
            say("below the lowest string of the {instrument}",
                instrument=in_words(plan.choices.instrument)),
            several("Move it up an octave (Piece, Ctrl+Up), or choose another instrument",
                    "Move it up {n} octaves (Piece, Ctrl+Up), or choose another instrument",
                    -(-below // 12)),
        )  # fmt: skip
        return
    if fingered.grip is None or len(fingered.grip.fingers) < len(note.pitches):
        yield at(
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
        yield at(
            note, "pin_not_kept", Severity.PROBLEM,
            tr("the pinned string or finger cannot play this note"), tr("Let it go (P)"),
        )  # fmt: skip
    if _unlearnt(plan, fingered):
        yield at(
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
        if not note.articulations and _is_single(fingered):
            continue
        kinds = {str(a) for a in note.articulations & _TAUGHT}
        kinds |= {tr("double stops")} if len(fingered.grip.fingers) > 1 else set()
        for kind in kinds - set(plan.choices.player.techniques):
            needed.setdefault(kind, []).append(note.index)
    for kind, notes in sorted(needed.items()):
        text = say("{kind}, which this player has not learnt", kind=kind)
        said = at(plan.part.notes[notes[0]], "technique_not_learnt", Severity.NOTE,
                   text + and_others(len(notes)), tr("Leave it out, or teach it "
                                                      "first"))  # fmt: skip
        yield replace(said, notes=tuple(notes))


def _slur_crossing(plan: Plan, note: Note) -> Iterator[PlanWarning]:
    """A string skipped between a note and the one before it, in one slur."""
    a, b = (plan.fingered[k].level for k in (note.index - 1, note.index))
    if a is not None and b is not None and abs(a - b) > 2:
        yield at(
            note, "slur_skips_string", Severity.CAUTION,
            tr("a string is skipped inside a slur"), tr("Split the slur here (X), or "
                                                        "change the finger"),
        )  # fmt: skip


def _reach_warnings(plan: Plan) -> Iterator[PlanWarning]:
    """Dynamics that do not come out, a warning for each stretch that misses to the same side."""
    stretch: list[OutOfReach] = []
    for reach in out_of_reach(plan):
        unit = plan.unit_of(reach.note)
        if unit is None or too_slow(plan, unit) or runs_out(plan, unit):
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
    if worst.missing_db > 0:
        text += _where_used(plan, planned)
    said = at(note, "reach", Severity.NOTE, text + and_others(len(stretch)),
               _reach_remedy(plan, worst))  # fmt: skip
    return replace(said, notes=tuple(r.note for r in stretch))


def _where_used(plan: Plan, planned: PlannedNote | None) -> str:
    """Which part of the bow the note's stroke uses, where it is in one half alone."""
    if planned is None:
        return ""
    low, high = sorted(plan.stroke_ends(planned))
    if low >= 0.5:
        return tr(": only the upper half is used there, the lower half is not")
    return tr(": only the lower half is used there, the upper half is not") if high <= 0.5 else ""


def _reach_remedy(plan: Plan, reach: OutOfReach) -> str:
    louder = reach.missing_db > 0
    ways = ways_to_sound(plan, reach.note, louder=louder, wanted_mm=reach.length_mm)
    general = (
        tr("let it be softer here, or take another tempo")
        if louder
        else tr("let it be louder here, or take another tempo")
    )
    return sentence_like(next((way.text for way in ways), general))
