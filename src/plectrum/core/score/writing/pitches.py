"""Pitches spelled and moved by intervals on the line of fifths."""

from __future__ import annotations

from collections.abc import Sequence

from plectrum.core.score.model import STEP_SEMITONES, Pitch

_SHARP_NAMES = (
    ("C", 0), ("C", 1), ("D", 0), ("D", 1), ("E", 0), ("F", 0),
    ("F", 1), ("G", 0), ("G", 1), ("A", 0), ("A", 1), ("B", 0),
)  # fmt: skip
_FLAT_NAMES = (
    ("C", 0), ("D", -1), ("D", 0), ("E", -1), ("E", 0), ("F", 0),
    ("G", -1), ("G", 0), ("A", -1), ("A", 0), ("B", -1), ("B", 0),
)  # fmt: skip


def spelled(midi: int, *, prefer_sharps: bool = True) -> Pitch:
    """A written pitch for a MIDI number."""
    step, alter = (_SHARP_NAMES if prefer_sharps else _FLAT_NAMES)[midi % 12]
    return Pitch(step, alter, midi // 12 - 1)


_LINE_OF_FIFTHS = "FCGDAEB"


def by_interval(pitch: Pitch, fifths: int, semitones: int) -> Pitch:
    """A pitch moved by an interval, spelled by its steps on the line of fifths."""
    place = _LINE_OF_FIFTHS.index(pitch.step) + 7 * pitch.alter + fifths
    alter, letter = divmod(place, 7)
    midi = 12 * (pitch.octave + 1) + STEP_SEMITONES[pitch.step] + pitch.alter + semitones
    step = _LINE_OF_FIFTHS[letter]
    if abs(alter) > 2:
        return spelled(midi, prefer_sharps=alter > 0)
    return Pitch(step, alter, (midi - alter - STEP_SEMITONES[step]) // 12 - 1)


def spell_in_key(midi: int, fifths: int) -> Pitch:
    """The spelling of a sound that lies nearest to a key on the line of fifths."""
    middle = fifths + 2  # of the scale's seven steps, which run from fifths − 1 to fifths + 5
    places = [p for p in range(middle - 8, middle + 9) if (7 * p) % 12 == midi % 12]
    place = min(places, key=lambda p: (abs(p - middle), p < middle))
    alter, letter = divmod(place + 1, 7)
    step = _LINE_OF_FIFTHS[letter]
    return Pitch(step, alter, (midi - alter - STEP_SEMITONES[step]) // 12 - 1)


def likely_fifths(midis: Sequence[int]) -> int:
    """The major key whose scale holds most of these notes, the plainest among equals."""

    def missed(fifths: int) -> tuple[int, int]:
        scale = {(7 * p) % 12 for p in range(fifths - 1, fifths + 6)}
        return sum(1 for m in midis if m % 12 not in scale), abs(fifths)

    return min(range(-5, 6), key=missed)
