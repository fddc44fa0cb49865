"""Patterns of notes without typing: scales, arpeggios, finger patterns, echoes, a rhythm on every
pitch. Each becomes a tune like any other."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from fractions import Fraction

from plectrum.core.document.choices import Choices, Pin
from plectrum.core.document.document import Document
from plectrum.core.errors import ChoiceError
from plectrum.core.instrument.specification import Instrument
from plectrum.core.plain_text import one_line
from plectrum.core.score.model import Metre, Pitch
from plectrum.core.score.note_names import major_words, minor_words, spelt
from plectrum.core.score.writing.sheet import SheetBar, SheetNote, SheetPart, write_sheet
from plectrum.core.wording import say, tr

STEPS = "CDEFGAB"
NATURAL = {"C": 0, "D": 2, "E": 4, "F": 5, "G": 7, "A": 9, "B": 11}
SHARPS = "FCGDAEB"  # the order in which sharps come; flats come the other way round
MAJOR = {"C": 0, "G": 1, "D": 2, "A": 3, "E": 4, "B": 5, "F#": 6,
         "F": -1, "Bb": -2, "Eb": -3, "Ab": -4, "Db": -5, "Gb": -6}  # fmt: skip
MINOR = {"A": 0, "E": 1, "B": 2, "F#": 3, "C#": 4, "G#": 5, "D": -1, "G": -2, "C": -3, "F": -4,
         "Bb": -5, "Eb": -6}  # fmt: skip
WORDS = {"long": Fraction(1), "short": Fraction(1, 2), "quick": Fraction(1, 4)}  # quarters
# Semitones over the open string in first position, and the pattern taken where none is asked for
# (common practice, no source): the hand of the violin, of the cello, of the bass.
_VIOLIN = {"0": 0, "1": 2, "low2": 3, "2": 4, "3": 5, "4": 7}, "0 1 2 3 2 1"
_CELLO = {"0": 0, "1": 2, "2": 3, "3": 4, "4": 5}, "0 1 3 4 3 1"
_BASS = {"0": 0, "1": 2, "2": 3, "4": 4}, "0 1 4 1"
WELL_LYING = {"bass": "G", "viola": "G"}  # keys to begin with; else D
FINGERS = {"violin": _VIOLIN, "viola": _VIOLIN, "cello": _CELLO, "bass": _BASS}
MOST_FINGERS = 16
CALLS = (0, 1, 2, 4)  # degrees on which the phrases of an echo begin
BAR = Metre((4,), 4)
MOST_OCTAVES, MOST_BOW_NOTES = 3, 8


@dataclass(frozen=True, slots=True)
class Asked:
    """What a pattern is to be.

    Attributes:
        key: "D", "Bb", "a minor"; empty for one that lies well.
        bow_notes: so many notes in a bow. fingers: as "0 1 3 1"; empty for the usual ones.
        rhythm: words as "long short short", on every pitch.
    """

    key: str = ""
    octaves: int = 1
    bow_notes: int = 1
    rhythm: str = "long"
    fingers: str = ""
    bpm: float = 72.0


def scale(own: Instrument, asked: Asked) -> tuple[str, SheetPart]:
    """Up and down, from the lowest tonic that leaves room for the octaves."""
    line = _degrees(own, asked, range(7 * _octaves(asked) + 1))
    fifths, name = key_of(asked.key)
    return say("Scale in {name}", name=name), _part(
        own, [*line, *reversed(line[:-1])], asked, fifths
    )


def arpeggio(own: Instrument, asked: Asked) -> tuple[str, SheetPart]:
    """Tonic, third, fifth and octave, up and down."""
    degrees = [7 * octave + d for octave in range(_octaves(asked)) for d in (0, 2, 4)]
    line = _degrees(own, asked, [*degrees, 7 * _octaves(asked)])
    fifths, name = key_of(asked.key)
    return say("Arpeggio in {name}", name=name), _part(
        own, [*line, *reversed(line[:-1])], asked, fifths
    )


def finger_pattern(own: Instrument, asked: Asked) -> tuple[str, SheetPart]:
    """The same fingers on each string, in first position."""
    semitones, usual = FINGERS[own.name]
    text = asked.fingers or usual
    wanted = text.replace("low 2", "low2").split()
    if not wanted or not set(wanted) <= set(semitones) or len(wanted) > MOST_FINGERS:
        raise ChoiceError(
            say(
                "{text!r} is no finger pattern of the {name}",
                text=one_line(text, 40),
                name=own.name,
            ),
            remedy=say("Write {usual}, of {list}", usual=usual, list=", ".join(semitones)),
        )
    above = [semitones[finger] for finger in wanted]
    pitches = [_spelt(own, own.open_midis[s] + a) for s in range(own.strings_n) for a in above]
    return say("Fingers {fingers} on each string", fingers=text), _part(own, pitches, asked, 0)


def echo(own: Instrument, asked: Asked) -> tuple[str, SheetPart]:
    """Phrases of four notes, each called and answered."""
    line = _degrees(own, asked, range(8))
    phrases = [[*line[k : k + 3], line[k]] for k in CALLS]
    fifths, name = key_of(asked.key)
    pitches = [p for phrase in phrases for p in (*phrase, *phrase)]
    return say("Echo in {name}", name=name), _part(own, pitches, asked, fifths)


def echo_spans(document: Document) -> tuple[tuple[Fraction, Fraction], ...]:
    """From where to where the answers of an echo stand, in quarters."""
    notes = document.part.notes
    size = len(notes) // (2 * len(CALLS))
    firsts = range(size, len(notes), 2 * size)
    return tuple((notes[k].onset_q, notes[k + size - 1].end_q) for k in firsts)


Make = Callable[[Instrument, Asked], tuple[str, SheetPart]]


@dataclass(frozen=True, slots=True)
class Pattern:
    """A pattern of notes: its words, and the function that makes its part."""

    title: str
    purpose: str
    what: str
    good: str
    make: Make


PATTERNS: dict[str, Pattern] = {
    "scale": Pattern(
        tr("Scale"), tr("fingers and even bows in a key"), tr("From the lowest tonic up and "
                                                          "back, evenly."),
        tr("every note rings, and each bow is as long as the one before"), scale,
    ),
    "arpeggio": Pattern(
        tr("Arpeggio"), tr("string crossings in a key"), tr("The notes of the chord, up "
                                                        "and back, evenly."),
        tr("the arm is at each string before it sounds, none is touched between"), arpeggio,
    ),
    "finger-pattern": Pattern(
        tr("Fingers on each string"), tr("one finger pattern, string after string"),
        tr("The same fingers on every string, the lowest first."),
        tr("the fingers fall in the same places on every string"), finger_pattern,
    ),
    "echo": Pattern(
        tr("Echo phrases"), tr("called and answered by ear"),
        tr("The teacher plays four notes, the student answers without looking."),
        tr("the answer has the notes, the bows and the sound of the call"), echo,
    ),
}  # fmt: skip


def pattern_document(name: str, choices: Choices, asked: Asked) -> Document:
    """A pattern as a tune for a player.

    Raises:
        ChoiceError: no such pattern or key, or it does not lie on the instrument.
    """
    own = choices.own
    asked = asked if asked.key else replace(asked, key=WELL_LYING.get(own.name, "D"))
    title, part = PATTERNS[name].make(own, asked)
    score = write_sheet(title, [part], asked.bpm)
    document = Document.from_score(score, None, own.name)
    pins: dict[str, Pin] = {}
    if name == "finger-pattern":  # each stays on its string
        per_n = len(document.part.notes) // own.strings_n
        pins = {n.id: Pin(string=k // per_n) for k, n in enumerate(document.part.notes)}
    kept = Choices(own.name, choices.bow, choices.player, choices.school, None, pins)
    return document.with_choices(kept)


def key_of(text: str) -> tuple[int, str]:
    """The signature of a key, in sharps, or flats below zero, and its name.

    Raises:
        ChoiceError: there is no such key.
    """
    word, _, mode = text.strip().partition(" ")
    name = word[:1].upper() + word[1:].lower()
    minor = mode.strip().lower() in ("minor", "min", "m")
    table = MINOR if minor else MAJOR
    if name not in table or (mode.strip() and not minor and mode.strip().lower() != "major"):
        keys = ", ".join(MAJOR)
        raise ChoiceError(
            say("{text!r} is no key", text=one_line(text, 20)),
            remedy=say("Use {keys}, or A minor and the like", keys=keys),
        )
    words = minor_words if minor else major_words
    return table[name], words(*spelt(name))


def _octaves(asked: Asked) -> int:
    if not 1 <= asked.octaves <= MOST_OCTAVES:
        raise ChoiceError(
            say("a pattern has one to {most_octaves} octaves", most_octaves=MOST_OCTAVES)
        )
    return asked.octaves


def _altered(fifths: int) -> dict[str, int]:
    sharp = dict.fromkeys(SHARPS[: max(0, fifths)], 1)
    return sharp | dict.fromkeys(SHARPS[::-1][: max(0, -fifths)], -1)


def _degrees(own: Instrument, asked: Asked, degrees: Sequence[int]) -> list[Pitch]:
    """Notes of a key counted from its lowest tonic on the instrument."""
    fifths, _ = key_of(asked.key)
    altered = _altered(fifths)
    tonic = asked.key.strip()[0].upper()
    first = STEPS.index(tonic)
    lowest = own.open_midis[0]
    octave = lowest // 12 - 1
    while _midi(tonic, altered.get(tonic, 0), octave) < lowest:
        octave += 1
    found = []
    for degree in degrees:
        step = STEPS[(first + degree) % 7]
        up = octave + (first + degree) // 7
        found.append(_written(own, step, altered.get(step, 0), up))
    return found


def _midi(step: str, alter: int, octave: int) -> int:
    return 12 * (octave + 1) + NATURAL[step] + alter


def _written(own: Instrument, step: str, alter: int, octave: int) -> Pitch:
    """A sounding pitch as it is written for the instrument."""
    above = own.written_above_semitones
    return Pitch(step, alter, octave + above // 12, -above)


def _spelt(own: Instrument, midi: int) -> Pitch:
    """A sounding pitch with a sharp where it needs one."""
    octave, inside = midi // 12 - 1, midi % 12
    step = max((s for s in STEPS if NATURAL[s] <= inside), key=lambda s: NATURAL[s])
    return _written(own, step, inside - NATURAL[step], octave)


def _part(own: Instrument, pitches: Sequence[Pitch], asked: Asked, fifths: int) -> SheetPart:
    """The pitches in a rhythm, so many notes in a bow."""
    rhythm = [WORDS.get(word) for word in asked.rhythm.split()]
    if not rhythm or None in rhythm or len(rhythm) > 16:
        raise ChoiceError(
            say("{rhythm!r} is no rhythm", rhythm=one_line(asked.rhythm, 40)),
            remedy=say("Use the words {list}", list=", ".join(WORDS)),
        )
    if not 1 <= asked.bow_notes <= MOST_BOW_NOTES:
        raise ChoiceError(
            say("a bow has one to {most_bow_notes} notes here", most_bow_notes=MOST_BOW_NOTES)
        )
    lengths = [length for length in rhythm if length is not None]
    notes: list[SheetNote] = []
    at_q = Fraction(0)
    total_n = len(pitches) * len(lengths)
    for k in range(total_n):
        place, size = k % asked.bow_notes, min(asked.bow_notes, total_n - k + k % asked.bow_notes)
        notes.append(
            SheetNote(
                f"p{k + 1}", at_q, lengths[k % len(lengths)], (pitches[k // len(lengths)],),
                slur_starts=size > 1 and place == 0,
                slur_stops=size > 1 and place == size - 1,
            )
        )  # fmt: skip
        at_q += lengths[k % len(lengths)]
    bars_n = -(-at_q // BAR.length_q)
    bars = tuple(SheetBar(k + 1, BAR, BAR.length_q, fifths) for k in range(int(bars_n)))
    return SheetPart(own.title, own.name, bars, tuple(notes))
