"""What is done to each string in a performance, gesture by gesture."""

from __future__ import annotations

from dataclasses import dataclass, replace

from plectrum.core.document.choices import Join
from plectrum.core.planning import rules
from plectrum.core.planning.contact.contact import Touched
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


@dataclass(frozen=True, slots=True)
class _At:
    """Speed as a share of the note's mean, distance from the bridge, and share of the weight."""

    speed: float
    contact_mm: float
    share: float


def _at(touched: Touched, row: int) -> _At:
    return _At(1.0, float(touched.contact_mm[row]), float(touched.share[row]))


class _Maker:
    """Makes gestures of played notes."""

    def __init__(self, plan: Plan) -> None:
        self.plan = plan
        self._own = plan.instrument
        self._reference = plan.contact.reference_per_mm

    def _reference_on(self, string: int) -> float:
        return self._reference * string_gain(self._own, (string,))

    def bowed(self, played: PlayedNote) -> list[list[Gesture]]:
        """What is done to each string: one gesture, or several where the note grows, fades or
        bites."""
        planned = played.planned
        if planned is None or played.moving_s <= 0:
            return []
        sign = 1.0 if played.end >= played.start else -1.0
        mean = planned.strokes_n * planned.length_mm / 1000 / played.moving_s
        parts = self._parts(played)
        made = []
        for string, midi in played.strings:
            gestures = []
            for k, (share_from, share_to, at) in enumerate(parts):
                speed = sign * mean * at.speed * (-1) ** (k if planned.strokes_n > 1 else 0)
                on_string = touch(
                    self._own, string, midi, speed, at.contact_mm, at.share,
                    self._reference_on(string),
                )  # fmt: skip
                last = k == len(parts) - 1
                until_s = played.end_s if last else played.onset_s + share_to * played.moving_s
                gestures.append(
                    Gesture(
                        string,
                        played.onset_s + share_from * played.moving_s,
                        played.moved_s if last else until_s,
                        until_s,
                        speed,
                        on_string,
                        begins=k == 0,
                        ends=last,
                    )
                )
            made.append(gestures)
        return made

    def _parts(self, played: PlayedNote) -> list[tuple[float, float, _At]]:
        """The parts of a note's moving time, and what the bow does in each; speeds are shares of
        the mean."""
        contact, row = self.plan.contact, self.plan.contact_rows[played.note.index]
        swell = played.planned.swell if played.planned is not None else 0.0
        body = _At(1.0, float(contact.contact_mm[row]), float(contact.share[row]))
        strokes_n = played.planned.strokes_n if played.planned is not None else 1
        if strokes_n > 1:
            return [(k / strokes_n, (k + 1) / strokes_n, body) for k in range(strokes_n)]
        start, end = _at(contact.start, row), _at(contact.end, row)
        if swell:
            thirds = [start, body, end]
            return [
                (k / 3, (k + 1) / 3, replace(at, speed=1 + swell * (2 * k - 2) / 3))
                for k, at in enumerate(thirds)
            ]
        mean = float(contact.speed_m_s[row])
        quick = float(contact.start.speed_m_s[row]) / mean
        if start == end or not played.moving_s:
            return [(0.0, 1.0, body)]
        bite = min(rules.BITE_S, rules.BITE_SHARE * played.moving_s) / played.moving_s
        rest = max((1 - quick * bite) / (1 - bite), 0.1)
        return [(0.0, bite, replace(start, speed=quick)), (bite, 1.0, replace(end, speed=rest))]

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
        echoed = performance.rehearsal.is_echo(played.note.onset_q)
        if performance.turns[played.turn].answering or echoed:
            continue
        if played.planned is None:
            made = maker.plucked(played)
        else:
            following = notes[k + 1] if k + 1 < len(notes) else None
            before = notes[k - 1] if k else None
            made = [
                g
                for on_string in maker.bowed(played)
                for g in _joined(on_string, before, played, following)
            ]
        for gesture in made:
            row = strings[gesture.string]
            if row and row[-1].until_s > gesture.start_s:
                row[-1] = replace(row[-1], until_s=gesture.start_s)
            row.append(gesture)
    return strings


def _joined(
    gestures: list[Gesture],
    before: PlayedNote | None,
    played: PlayedNote,
    following: PlayedNote | None,
) -> list[Gesture]:
    """A note's gestures with what comes before and after it: slurred notes run on without rest,
    and the bow stays on a string until it is lifted or rolls to another."""
    own = {string for string, _ in played.strings}
    slurred_in = played.join is Join.SLUR and before is not None and _same_turn(before, played)
    new_string = before is None or gestures[0].string not in {s for s, _ in before.strings}
    slurred_out = (
        following is not None and following.join is Join.SLUR and _same_turn(played, following)
    )
    stays, until_s = True, played.end_s
    if following is not None and _same_turn(played, following):
        next_strings = {string for string, _ in following.strings}
        stays = following.join is not Join.RETAKE and bool(own & next_strings)
        until_s = following.onset_s
    gestures[0] = replace(gestures[0], begins=not slurred_in or new_string)
    gestures[-1] = replace(gestures[-1], until_s=until_s, ends=not slurred_out, rests=stays)
    return gestures


def _same_turn(a: PlayedNote, b: PlayedNote) -> bool:
    return a.turn == b.turn
