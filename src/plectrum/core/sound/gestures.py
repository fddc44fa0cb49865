"""What is done to each string in a performance, gesture by gesture."""

from __future__ import annotations

from dataclasses import dataclass, replace

from plectrum.core.document.choices import Join
from plectrum.core.planning.contact import reference_ratio
from plectrum.core.planning.plan import Plan
from plectrum.core.planning.strokes.amounts import string_gain
from plectrum.core.playing.performance import Kind, Performance, PlayedNote
from plectrum.core.sound.touch import Touch, touch

PLUCK_MM_OVER_LENGTH = 0.2  # where a finger plucks (own default)


@dataclass(frozen=True, slots=True)
class Gesture:
    """A bow stroke's note, or a pluck, on one string.

    Attributes:
        start_s, moved_s, until_s: begin, bow has arrived, string is touched anew or left.
        speed_m_s: positive down; 0 for a pluck.
        begins: the bow starts from rest; ends: it comes to rest.
        rests: after it the bow stays on the string.
        loud: of a pluck, 1 being mf.
    """

    string: int
    start_s: float
    moved_s: float
    until_s: float
    speed_m_s: float
    touch: Touch
    begins: bool = True
    ends: bool = True
    rests: bool = True
    loud: float = 0.0


class _Maker:
    """Makes gestures of played notes."""

    def __init__(self, plan: Plan) -> None:
        self.plan = plan
        self._own = plan.instrument
        self._reference = reference_ratio(plan)

    def _reference_on(self, string: int) -> float:
        return self._reference * string_gain(self._own, (string,))

    def bowed(self, played: PlayedNote) -> list[Gesture]:
        planned = played.planned
        if planned is None or played.moving_s <= 0:
            return []
        contact, row = self.plan.contact, self.plan.contact_rows[played.note.index]
        sign = 1.0 if played.end >= played.start else -1.0
        speed = sign * planned.length_mm / 1000 / played.moving_s
        contact_mm = float(contact.contact_mm[row])
        made = []
        for string, midi in played.strings:
            on_string = touch(
                self._own, string, midi, speed, contact_mm, float(contact.share[row]),
                self._reference_on(string),
            )  # fmt: skip
            made.append(
                Gesture(string, played.onset_s, played.moved_s, played.end_s, speed, on_string)
            )
        return made

    def plucked(self, played: PlayedNote) -> list[Gesture]:
        made = []
        for string, midi in played.strings:
            length_mm = self._own.string_length_mm * 2.0 ** (
                (self._own.open_midis[string] - midi) / 12
            )
            on_string = touch(
                self._own, string, midi, 0.0, PLUCK_MM_OVER_LENGTH * length_mm, 0.5, 1.0
            )
            loud = 10.0 ** (played.note.level_db / 20)
            made.append(
                Gesture(
                    string, played.onset_s, played.onset_s, played.end_s, 0.0, on_string, loud=loud
                )
            )
        return made


def gestures_of(performance: Performance) -> list[list[Gesture]]:
    """For each string, lowest first, what is done to it in the order of time. In the turns in
    which the student answers, and in silent rehearsal, nothing is."""
    strings: list[list[Gesture]] = [[] for _ in performance.plan.instrument.open_midis]
    if performance.rehearsal.kind is Kind.SILENT:
        return strings
    maker = _Maker(performance.plan)
    notes = performance.notes
    for k, played in enumerate(notes):
        if performance.turns[played.turn].answering:
            continue
        if played.planned is None:
            made = maker.plucked(played)
        else:
            following = notes[k + 1] if k + 1 < len(notes) else None
            before = notes[k - 1] if k else None
            made = [_joined(g, before, played, following) for g in maker.bowed(played)]
        for gesture in made:
            row = strings[gesture.string]
            if row and row[-1].until_s > gesture.start_s:
                row[-1] = replace(row[-1], until_s=gesture.start_s)
            row.append(gesture)
    return strings


def _joined(
    gesture: Gesture, before: PlayedNote | None, played: PlayedNote, following: PlayedNote | None
) -> Gesture:
    """A gesture with what comes before and after it: slurred notes run on without rest, and the
    bow stays on a string until it is lifted or rolls to another."""
    own = {string for string, _ in played.strings}
    slurred_in = played.join is Join.SLUR and before is not None and _same_turn(before, played)
    new_string = before is None or gesture.string not in {s for s, _ in before.strings}
    slurred_out = (
        following is not None and following.join is Join.SLUR and _same_turn(played, following)
    )
    stays, until_s = True, played.end_s
    if following is not None and _same_turn(played, following):
        next_strings = {string for string, _ in following.strings}
        stays = following.join is not Join.RETAKE and bool(own & next_strings)
        until_s = following.onset_s
    return replace(
        gesture,
        until_s=until_s,
        begins=not slurred_in or new_string,
        ends=not slurred_out,
        rests=stays,
    )


def _same_turn(a: PlayedNote, b: PlayedNote) -> bool:
    return a.turn == b.turn
