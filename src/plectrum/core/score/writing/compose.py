"""Whole tunes written at once from a list of notes."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

from lxml import etree

from plectrum.core.score.model import Pitch
from plectrum.core.score.scorefile import ScoreFile, parse_record, score_from_xml
from plectrum.core.score.writing.blank import TuneHead, blank_tune
from plectrum.core.score.writing.elements import element, fresh_id, new_rest, set_pitch, set_ties
from plectrum.core.score.writing.line import Event, Line


@dataclass(frozen=True, slots=True)
class Sound:
    """One note, chord or rest (no pitches) to be written; `tied` goes on into the next."""

    length_q: Fraction
    pitches: tuple[Pitch, ...]
    tuplet: tuple[int, int] | None = None
    tied: bool = False


def compose(head: TuneHead, sounds: Sequence[Sound]) -> ScoreFile:
    """A score of one part with these sounds in order.

    Raises:
        ScoreError: lengths that no note values make.
    """
    tree = parse_record(blank_tune(head).xml, head.title)
    part = tree.getroot().find("part")
    if part is None:
        raise ValueError("a blank tune has a part")
    line = Line(part, head.title)
    taken: set[str] = set()
    tied = False
    line.events = []
    for sound in sounds:
        notes = []
        for k, pitch in enumerate(sound.pitches or (None,)):
            note = new_rest(fresh_id(taken))
            if pitch is not None:
                set_pitch(note, pitch)
                set_ties(note, ({"stop"} if tied else set()) | ({"start"} if sound.tied else set()))
            if k:
                note.insert(0, element("chord"))
            notes.append(note)
        line.events.append(Event(sound.length_q, sound.tuplet, [notes]))
        tied = sound.tied
    line.flow()
    data: bytes = etree.tostring(tree, xml_declaration=True, encoding="UTF-8")
    return score_from_xml(data, f"{head.title}.musicxml")
