"""Which string instrument a part is for, told from its name, else from clef and range."""

from __future__ import annotations

import re
from collections.abc import Sequence

from plectrum.core.instrument.specification import TABLE, Instrument
from plectrum.core.score.model import Pitch

# Words that name something else; such a part is not guessed from its range.
_OTHERS = (
    r"flute|flöte|piccolo|oboe|clarinet|klarinette|bassoon|fagott|horn|trumpet|trompete|"
    r"trombone|posaune|tuba|piano|klavier|organ|harps?|guitar|gitarre|voice|vocals?|soprano|tenor|"
    r"baritone|choir|drums?|timpani|percussion|marimba|xylophone|recorder|accordion|sax\w*|"
    r"saxophone|mandolin|ukulele|banjo|celesta|whistle|pipes?|electric bass|bass guitar"
)
_LETTER = r"[^\W\d_]"


def _words(text: str, pattern: str) -> list[str]:
    return [m[0] for m in re.finditer(rf"(?<!{_LETTER})(?:{pattern})(?!{_LETTER})", text)]


def _has_word(text: str, pattern: str) -> bool:
    return bool(_words(text, pattern))


def named_instrument(name: str) -> str | None:
    """The string instrument a name says, "other" for another instrument, None if it says none."""
    lowered = name.lower().replace("strings.", " ").replace(".", " ")
    if _has_word(lowered, r"viola da gamba|bass guitar|electric bass|bass clarinet|bass drum"):
        return "other"
    found = [(len(m), own.name) for own in TABLE.values() for m in _words(lowered, own.names)]
    if found:
        return max(found, key=lambda row: row[0])[1]  # "double bass" says more than "bass"
    return "other" if _has_word(lowered, _OTHERS) else None


def open_pitch(own: Instrument, string: int) -> Pitch:
    """The written pitch of an open string, 0 the lowest."""
    written = own.open_midis[string] + own.written_above_semitones
    return Pitch(own.string_names[string], 0, written // 12 - 1, -own.written_above_semitones)


def guess_instrument(
    names: Sequence[str],
    *,
    clef: str,
    clef_octaves: int,
    percussion: bool,
    midi_program: int,
    lowest_midi: int,
) -> str | None:
    """The instrument of a part, or None if it is not for a string instrument.

    Args:
        names: part name first, then instrument name, abbreviation and sound id.
        clef: sign and line of the first clef, such as "G2".
        clef_octaves: octave change of that clef.
        midi_program: 1 to 128 as MusicXML counts; 41 to 44 are the four instruments.
        lowest_midi: the lowest note.
    """
    if percussion:
        return None
    for name in names:
        said = named_instrument(name)
        if said is not None:
            return None if said == "other" else said
    by_program = {own.midi_program: own.name for own in reversed(TABLE.values())}
    if midi_program in by_program:
        return by_program[midi_program]
    if clef_octaves < 0:
        return _written_above(clef)
    fits = [o for o in TABLE.values() if clef in (f"{o.clef[0]}{o.clef[1]}", *o.other_clefs)]
    own_clef = [o for o in fits if clef == f"{o.clef[0]}{o.clef[1]}"]
    for own in own_clef or fits:  # of several that are read in a clef the range decides
        if lowest_midi >= own.open_midis[0]:
            return own.name
    return None


def _written_above(clef: str) -> str | None:
    """The instrument written above its sound in this kind of clef."""
    fits = (o for o in TABLE.values() if o.written_above_semitones and clef.startswith(o.clef[0]))
    return next((own.name for own in fits), None)
