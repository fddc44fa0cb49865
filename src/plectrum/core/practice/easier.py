"""A part for a player who cannot play his own yet: a proposal that keeps its bows.

Every bow of the part stays, with its rhythm, way and string crossings as far as the notes allow:
either each note becomes the open string it lies on, or the left hand plays fewer notes: one for
a slur, one for the quick notes of a beat.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from enum import StrEnum
from fractions import Fraction

from lxml import etree

from plectrum.core.advice.plan_warning import Severity
from plectrum.core.advice.warnings import warnings_of
from plectrum.core.document.document import Document
from plectrum.core.document.seats import Seat
from plectrum.core.errors import ChoiceError
from plectrum.core.incoming.numbers import only_whole, whole
from plectrum.core.planning.plan import Plan, make_plan
from plectrum.core.practice.class_tune import reaches
from plectrum.core.score.edit import remove_element
from plectrum.core.score.instruments import open_pitch
from plectrum.core.score.model import Note, Pitch
from plectrum.core.score.writing.elements import (
    drop,
    set_pitch,
    set_ties,
    set_value,
    show_part_accidentals,
)
from plectrum.core.score.writing.part_copies import Copy, with_copy
from plectrum.core.score.writing.values import single_value
from plectrum.core.wording import say, tr

PROPOSED = tr("easier (proposed)")
SUFFIX = "-e"


class Easier(StrEnum):
    """What is made easier."""

    OPEN = "open strings"
    FEWER = "fewer notes"


@dataclass(frozen=True, slots=True)
class Proposal:
    """An easier part, ready to be looked at.

    Attributes:
        document: the score with the part in it, that part being open.
        bars: printed numbers of the bars that are easier.
        before_n, after_n: how many notes the player could not play, and still cannot.
    """

    document: Document
    bars: tuple[int, ...]
    before_n: int
    after_n: int

    @property
    def words(self) -> str:
        """Such as "12 notes out of reach before, none now"."""
        if not self.before_n:
            return tr("nothing was out of reach; all bars are easier now")
        left = say("{after_n} still are", after_n=self.after_n) if self.after_n else tr("none now")
        return say("{before_n} out of reach before, {left}", before_n=self.before_n, left=left)


def easier_part(
    document: Document, seat: Seat, kind: Easier, *, everywhere: bool = False
) -> Proposal:
    """The open part made easier for a player, as a new part under it.

    Args:
        seat: who is to play it, on the instrument of the part.
        everywhere: all bars; else only those with something the player cannot do.

    Raises:
        ChoiceError: there is nothing to make easier.
    """
    part = document.part
    choices = replace(document.choices, player=seat.player, bow=seat.bow)
    plan = make_plan(part, choices)
    hard = hard_notes(plan, seat)
    bars = {part.notes[i].bar_index for i in hard}
    if everywhere:
        bars = {note.bar_index for note in part.notes}
    if not bars:
        raise ChoiceError(
            say("{title} can play all of {name}", title=seat.player.called, name=part.name),
            remedy=tr("Choose all bars, or another player"),
        )
    pitches, held = _new_notes(plan, kind, bars)
    copy = Copy(f"{part.name}, {PROPOSED}", SUFFIX, "", _changed(pitches, held))
    score, new_id = with_copy(document.score, document.part_id, copy)
    made = replace(document.with_score(score), together=True).with_seat(new_id, seat)
    made = made.with_part(new_id)
    after = make_plan(made.part, made.choices)
    numbers = tuple(sorted({part.bars[k].number for k in bars}))
    return Proposal(made, numbers, len(hard), len(hard_notes(after, seat)))


def hard_notes(plan: Plan, seat: Seat) -> set[int]:
    """Notes that a player cannot finger, or bow as it is asked."""
    found = {
        note.index
        for note in plan.part.notes
        if not note.pizzicato and not all(reaches(p.midi, seat) for p in note.pitches)
    }
    warned = (w for w in warnings_of(plan) if w.note is not None and w.severity != Severity.NOTE)
    return found | {w.note for w in warned if w.note is not None}


def _new_notes(
    plan: Plan, kind: Easier, bars: set[int]
) -> tuple[dict[str, Pitch], list[tuple[str, ...]]]:
    """The new pitch of every note that changes, by the ids it is written with, and runs of ids
    that become one held note."""
    pitches: dict[str, Pitch] = {}
    held: list[tuple[str, ...]] = []
    beat: tuple[object, ...] = ()
    shown: Pitch | None = None
    for note in plan.part.notes:
        if note.bar_index not in bars or note.grace:
            continue
        if kind is Easier.OPEN:
            pitch = _open(plan, note)
        else:
            here = note.bar_index, int(note.beat)
            goes_on = note.slurred or here == beat
            pitch = shown if goes_on and shown is not None else note.pitches[0]
            if note.slurred and held and pitches.get(held[-1][-1]) == pitch:
                held[-1] = (*held[-1], *note.ids)
            else:
                held.append(tuple(note.ids))
            beat, shown = here, pitch
        pitches.update(dict.fromkeys(note.ids, pitch))
    return pitches, [ids for ids in held if len(ids) > 1]


def _open(plan: Plan, note: Note) -> Pitch:
    """The open string a note lies on; the nearest one where it cannot be fingered."""
    own, strings = plan.instrument, plan.fingered[note.index].strings
    if strings:
        return open_pitch(own, strings[0])
    midi = note.pitches[0].midi
    nearest = min(range(own.strings_n), key=lambda s: (abs(own.open_midis[s] - midi), s))
    return open_pitch(own, nearest)


def _changed(
    pitches: dict[str, Pitch], held: list[tuple[str, ...]]
) -> Callable[[etree._Element], None]:
    """What is done to the copied part."""

    def change(part: etree._Element) -> None:
        by_id = {note.get("id", "")[: -len(SUFFIX)]: note for note in part.iter("note")}
        touched = {i for i in pitches if i in by_id}
        _thin(part, by_id, touched)
        for note_id in touched:
            note = by_id[note_id]
            set_pitch(note, pitches[note_id])
            for tag in ("technical", "ornaments", "slide", "glissando"):
                for found in note.findall(f"notations/{tag}"):
                    remove_element(found)
        divisions = _divisions(part)
        for ids in held:
            _hold(
                [by_id[i] for i in ids if i in by_id and by_id[i].getparent() is not None],
                divisions,
            )
        show_part_accidentals(part)

    return change


def _divisions(part: etree._Element) -> dict[etree._Element, int]:
    """Parts of a quarter in which each bar counts."""
    now, found = 1, {}
    for measure in part.iterfind("measure"):
        now = whole(measure.findtext("attributes/divisions")) or now
        found[measure] = now
    return found


def _thin(part: etree._Element, by_id: dict[str, etree._Element], touched: set[str]) -> None:
    """One note a chord, and no grace notes before what is changed."""
    for note_id in touched:
        note = by_id[note_id]
        following = note.getnext()
        while following is not None and following.find("chord") is not None:
            after = following.getnext()
            remove_element(following)
            following = after
        before = note.getprevious()
        while before is not None and before.tag == "note" and before.find("grace") is not None:
            earlier = before.getprevious()
            remove_element(before)
            before = earlier


def _hold(notes: list[etree._Element], divisions: dict[etree._Element, int]) -> None:
    """Some notes of one pitch as one: one value where the page has one for it, else tied; the slurs
    over them go."""
    for note in notes:
        for slur in note.findall("notations/slur"):
            remove_element(slur)
    runs: list[list[etree._Element]] = []
    for note in notes:
        follows = runs and runs[-1][-1].getnext() is note
        runs[-1].append(note) if follows else runs.append([note])
    heads = [note for run in runs for note in _as_one(run, divisions)]
    for k, note in enumerate(heads):
        set_ties(note, ({"stop"} if k else set()) | ({"start"} if k < len(heads) - 1 else set()))


def _as_one(
    run: list[etree._Element], divisions: dict[etree._Element, int]
) -> list[etree._Element]:
    """Neighbouring notes of a bar as the one value they last together, if there is one."""
    first, last, measure = run[0], run[-1], run[0].getparent()
    if len(run) == 1 or measure is None:
        return run
    lengths = [only_whole(note.findtext("duration")) or 0 for note in run]
    value = single_value(Fraction(sum(lengths), divisions[measure]))
    if any(note.find("time-modification") is not None for note in run) and not (
        first.find("notations/tuplet[@type='start']") is not None
        and last.find("notations/tuplet[@type='stop']") is not None
    ):
        value = None  # a part of a tuplet stays one
    if value is None:
        return run
    set_value(first, value, divisions[measure])
    drop(first, "beam")
    for tuplet in first.findall("notations/tuplet"):
        remove_element(tuplet)
    for note in run[1:]:
        remove_element(note)
    return [first]
