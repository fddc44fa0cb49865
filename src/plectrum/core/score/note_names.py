"""Names of notes and keys in the user's language: what is B in English is H in German."""

from __future__ import annotations

from plectrum.core.wording import in_words, say, tr

STEPS = "CDEFGAB"
SIGNS = {-2: "♭♭", -1: "♭", 0: "", 1: "♯", 2: "♯♯"}
WORDS = {-2: " double flat", -1: " flat", 0: "", 1: " sharp", 2: " double sharp"}
SMALL_OCTAVE = 3  # of c without a stroke
STROKES = ("", "′", "″", "‴", "⁗")
ABOUT = "note"  # what the one-letter texts of the catalogue are about
# Every name; the catalogue holds them all, because not every language makes them by a rule.
WRITTEN = tuple(f"{step}{sign}" for step in STEPS for sign in SIGNS.values())
SPOKEN = tuple(f"{step}{word}" for step in STEPS for word in WORDS.values())


def spelt(name: str) -> tuple[str, int]:
    """Step and alteration of a name with plain signs: "Bb", "F#"."""
    return name[0], {"": 0, "#": 1, "b": -1}[name[1:]]


def note_name(step: str, alter: int = 0) -> str:
    """As it is written short: "F♯"."""
    return tr(f"{step}{SIGNS[alter]}", ABOUT)


def note_words(step: str, alter: int = 0) -> str:
    """As it is said: "F sharp"."""
    return tr(f"{step}{WORDS[alter]}", ABOUT)


def pitch_written(step: str, alter: int, octave: int) -> str:
    """With its octave, as the language counts them: F♯4 by number, fis′ by strokes."""
    name = note_name(step, alter)
    if tr("by number", "octaves") == "by number":
        return f"{name}{octave}"
    if octave < SMALL_OCTAVE:
        return name + "₁" * (SMALL_OCTAVE - 1 - octave)
    strokes = STROKES[min(octave - SMALL_OCTAVE, len(STROKES) - 1)]
    return name[:1].lower() + name[1:] + strokes


def major_words(step: str, alter: int = 0) -> str:
    """A major key: "D major"."""
    return say("{key} major", key=note_name(step, alter))


def minor_words(step: str, alter: int = 0) -> str:
    """A minor key: "F♯ minor"; a language may want it in small letters."""
    name = note_name(step, alter)
    return say("{key} minor", key=name, small=name[:1].lower() + name[1:])


def mode_words(step: str, alter: int, mode: str) -> str:
    """A key of any mode: "D dorian"."""
    plain = {"major": major_words, "minor": minor_words}.get(mode)
    return plain(step, alter) if plain else f"{note_name(step, alter)} {in_words(mode)}"
