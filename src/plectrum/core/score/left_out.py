"""What a score holds that is not read, counted and said once: never left out silently.

What does not touch the bow and that nobody misses (lay-out, lyrics, beams) is no row here.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

from plectrum.core.plain_text import one_line
from plectrum.core.wording import in_words, say, tr

MOST_TAG = 40  # letters of a name that a file gives
VOICES = tr("notes of another voice")
SLURS = tr("slurs without an end")
CUES = tr("cue notes")
UNPITCHED = tr("notes without a pitch")
HIDDEN = tr("hidden notes")
MICROTONES = tr("microtones, read as the nearest semitone")
HARMONICS = tr("natural harmonics, planned as stopped notes")
LAST_GRACES = tr("grace notes after the last note")


def _names(text: str) -> frozenset[str]:
    return frozenset(text.split())


# Elements of MusicXML that are understood, or that say nothing to a bow, by what they stand in.
_READ = {
    "note": _names(
        "pitch rest duration voice notations chord grace tie staff cue unpitched type dot "
        "accidental stem beam lyric time-modification notehead notehead-text instrument level "
        "footnote play listen"
    ),
    "notations": _names(
        "slur tied tuplet articulations fermata dynamics technical ornaments footnote level "
        "accidental-mark"
    ),
    "articulations": _names(
        "staccato staccatissimo spiccato tenuto detached-legato accent strong-accent breath-mark "
        "caesura"
    ),
    "technical": _names("down-bow up-bow fingering open-string string fret pluck harmonic"),
    "ornaments": _names("accidental-mark wavy-line tremolo"),
    "direction-type": _names(
        "dynamics wedge words coda segno metronome rehearsal bracket dashes octave-shift pedal "
        "image symbol"
    ),
    "measure": _names(
        "note backup forward attributes direction sound barline print bookmark link grouping "
        "listening"
    ),
}
# Those that are known and not read, in words.
_NAMED = {
    "trill-mark": tr("trills, played as one note"),
    "mordent": tr("mordents, played as one note"),
    "inverted-mordent": tr("mordents, played as one note"),
    "turn": tr("turns, played as one note"),
    "inverted-turn": tr("turns, played as one note"),
    "delayed-turn": tr("turns, played as one note"),
    "arpeggiate": tr("broken chords"),
    "non-arpeggiate": tr("chords that are not broken"),
    "glissando": tr("slides"),
    "slide": tr("slides"),
    "snap-pizzicato": tr("snap pizzicatos"),
    "thumb-position": tr("thumb positions"),
    "stopped": tr("left-hand pizzicatos"),
    "string-mute": tr("mutes"),
    "scordatura": tr("other tunings of the strings"),
    "harmony": tr("chord symbols"),
    "figured-bass": tr("figured bass"),
    "damp": tr("damping"),
    "damp-all": tr("damping"),
    "other-articulation": tr("signs of the publisher's own"),
    "other-technical": tr("signs of the publisher's own"),
    "other-direction": tr("signs of the publisher's own"),
    "other-ornament": tr("signs of the publisher's own"),
    "other-notation": tr("signs of the publisher's own"),
}


@dataclass(frozen=True, slots=True)
class LeftOut:
    """One kind of thing that was not read. `where` is the first bar, as printed."""

    what: str
    how_many: int
    where: str

    @property
    def words(self) -> str:
        """Such as "12 × cue notes (from bar 3)"."""
        if self.how_many == 1:
            return say("{what} (bar {where})", what=self.what, where=self.where)
        return say(
            "{n} × {what} (from bar {where})", n=self.how_many, what=self.what, where=self.where
        )


class Ledger:
    """Counts what is left out of a part as it is read."""

    def __init__(self) -> None:
        self._found: dict[str, tuple[int, str]] = {}

    def copy(self) -> Ledger:
        """Another that goes on from here: a part is read once and built often."""
        other = Ledger()
        other._found = dict(self._found)
        return other

    def count(self, what: str, bar: str, how_many: int = 1) -> None:
        """So many more of a kind, the first of them in a bar."""
        if how_many > 0:
            n, where = self._found.get(what, (0, bar))
            self._found[what] = n + how_many, where

    def look(self, inside: str, tags: Sequence[object], bar: str) -> None:
        """Count the elements in another that are not read."""
        read = _READ[inside]
        if read.issuperset(tags):
            return
        for tag in tags:
            if isinstance(tag, str) and tag not in read:
                self.count(_NAMED.get(tag) or one_line(tag, MOST_TAG), bar)

    @property
    def lines(self) -> tuple[LeftOut, ...]:
        """In the order in which they were found first."""
        return tuple(
            LeftOut(in_words(what), n, one_line(where, MOST_TAG) or "?")
            for what, (n, where) in self._found.items()
        )


def as_rows(lines: Iterable[LeftOut]) -> list[Mapping[str, object]]:
    """In the published form."""
    return [{"what": x.what, "how_many": x.how_many, "where": x.where} for x in lines]


def in_one_line(lines: tuple[LeftOut, ...]) -> str:
    """Such as "not read from the score: 12 × cue notes (from bar 3); trills (bar 4)"."""
    if not lines:
        return ""
    return say("not read from the score: {list}", list="; ".join(line.words for line in lines))
