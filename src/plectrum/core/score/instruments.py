"""Which string instrument a part is for, told from its name, else from clef and range."""

from __future__ import annotations

import re
from collections.abc import Sequence

INSTRUMENTS = ("violin", "viola", "cello", "bass")

# Names of the four instruments in the languages scores come in (common knowledge).
_NAMES = {
    "viola": r"violas?|viole|vla|bratschen?|altos?|altviool|altówka|альт|ヴィオラ",
    "cello": r"(violon)?cell[oi]s?|violoncelles?|vlc|vc|wiolonczela|виолончель|チェロ",
    "bass": (
        r"(double|string|contra|kontra)[ -]?b[aä]s{1,2}e?s?|contrabajos?|contrebasses?|"
        r"contrabbass[oi]|basses|bass|basso|cb|db|kb|контрабас|コントラバス"
    ),
    "violin": (
        r"violin[oi]?s?|violinen?|violons?|geigen?|fiddles?|vln|vl|vn|viool|skrzypce|"
        r"скрипка|ヴァイオリン"
    ),
}
# Words that name something else; such a part is not guessed from its range.
_OTHERS = (
    r"flute|flöte|piccolo|oboe|clarinet|klarinette|bassoon|fagott|horn|trumpet|trompete|"
    r"trombone|posaune|tuba|piano|klavier|organ|harps?|guitar|gitarre|voice|vocals?|soprano|tenor|"
    r"baritone|choir|drums?|timpani|percussion|marimba|xylophone|recorder|accordion|sax\w*|"
    r"saxophone|mandolin|ukulele|banjo|celesta|whistle|pipes?|electric bass|bass guitar"
)
_LETTER = r"[^\W\d_]"


def _has_word(text: str, pattern: str) -> bool:
    return re.search(rf"(?<!{_LETTER})(?:{pattern})(?!{_LETTER})", text) is not None


def named_instrument(name: str) -> str | None:
    """The string instrument a name says, "other" for another instrument, None if it says none."""
    lowered = name.lower().replace("strings.", " ").replace(".", " ")
    if _has_word(lowered, r"viola da gamba|bass guitar|electric bass|bass clarinet|bass drum"):
        return "other"
    for instrument, pattern in _NAMES.items():
        if _has_word(lowered, pattern):
            return instrument
    return "other" if _has_word(lowered, _OTHERS) else None


# Lowest open string of each instrument as MIDI number: tunings are a published standard.
LOWEST_MIDI = {"violin": 55, "viola": 48, "cello": 36, "bass": 28}


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
    if 41 <= midi_program <= 44:
        return INSTRUMENTS[midi_program - 41]
    if clef_octaves < 0:
        return "bass" if clef.startswith("F") else None
    by_clef = {"G2": "violin", "C3": "viola", "F4": "cello", "C4": "cello", "": "violin"}
    guess = by_clef.get(clef)
    if guess is not None and lowest_midi < LOWEST_MIDI[guess]:
        return None
    return guess
