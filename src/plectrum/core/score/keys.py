"""Key signatures as they are said."""

from __future__ import annotations

from plectrum.core.score.note_names import major_words, minor_words, mode_words, spelt
from plectrum.core.score.scorefile import ScoreFile, parse_record
from plectrum.core.wording import several, tr

_MAJORS = ["Cb", "Gb", "Db", "Ab", "Eb", "Bb", "F", "C", "G", "D", "A", "E", "B", "F#", "C#"]
_MINORS = ["Ab", "Eb", "Bb", "F", "C", "G", "D", "A", "E", "B", "F#", "C#", "G#", "D#", "A#"]
MOST_SIGNS = 7
# Fifths from the major of the same signs; the order of the modes is common practice, no source.
MODES = {
    "major": 0, "ionian": 0, "mixolydian": 1, "dorian": 2, "minor": 3, "aeolian": 3,
    "phrygian": 4, "locrian": 5, "lydian": -1,
}  # fmt: skip


def key_words(fifths: int) -> str:
    """A key signature as said: "D major, b minor"."""
    major, minor = (spelt(names[fifths + MOST_SIGNS]) for names in (_MAJORS, _MINORS))
    return f"{major_words(*major)}, {minor_words(*minor)}"


def signs_words(fifths: int) -> str:
    """How many signs a key signature has: "2 sharps"."""
    count = abs(fifths)
    if not count:
        return tr("no signs")
    if fifths > 0:
        return several("{n} sharp", "{n} sharps", count)
    return several("{n} flat", "{n} flats", count)


def key_of_part(score: ScoreFile, part_id: str) -> str:
    """The key a part begins in: "D dorian" where its mode is written, else its signs.

    Returns:
        Empty where there is none.
    """
    root = parse_record(score.xml, score.name).getroot()
    key = root.find(f"part[@id='{part_id}']/measure/attributes/key")
    try:
        fifths = int((key.findtext("fifths") or "").strip()) if key is not None else None
    except ValueError:
        fifths = None
    if key is None or fifths is None or abs(fifths) > MOST_SIGNS:
        return ""
    mode = (key.findtext("mode") or "").strip().lower()
    place = fifths + MOST_SIGNS + MODES.get(mode, 0)
    if mode not in MODES or not 0 <= place < len(_MAJORS):
        return signs_words(fifths)
    return mode_words(*spelt(_MAJORS[place]), mode)
