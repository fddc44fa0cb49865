"""A tune with nothing in it yet, ready to be typed."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction

from lxml import etree

from plectrum.core.instrument.specification import instrument
from plectrum.core.score.model import COMMON_TIME, Metre
from plectrum.core.score.scorefile import ScoreFile, score_from_xml
from plectrum.core.score.writing.elements import element
from plectrum.core.score.writing.line import Line
from plectrum.core.wording import tr

PART_ID = "P1"


@dataclass(frozen=True, slots=True)
class TuneHead:
    """What a new tune begins with. `fifths` counts sharps, or flats below zero."""

    title: str = tr("New tune")
    instrument: str = "violin"
    metre: Metre = COMMON_TIME
    fifths: int = 0
    bpm: float = 80.0
    pickup_q: Fraction = Fraction(0)


def blank_tune(head: TuneHead) -> ScoreFile:
    """A score of one part with one empty bar.

    Raises:
        ScoreError: never for a sound head; the reader checks what was made.
    """
    root = element("score-partwise", version="4.0")
    work = element("work")
    work.append(element("work-title", head.title))
    root.append(work)
    parts = element("part-list")
    named = element("score-part", id=PART_ID)
    named.append(element("part-name", head.instrument.capitalize()))
    parts.append(named)
    root.append(parts)
    part = element("part", id=PART_ID)
    measure = element("measure", number="0" if head.pickup_q else "1")
    if head.pickup_q:
        measure.set("implicit", "yes")
    measure.append(attributes(head))
    measure.append(tempo_direction(head.bpm, head.metre.beat_q))
    part.append(measure)
    root.append(part)
    line = Line(part, head.title)
    line.pickup_q = head.pickup_q
    line.flow()
    data: bytes = etree.tostring(root, xml_declaration=True, encoding="UTF-8")
    return score_from_xml(data, f"{head.title}.musicxml")


def attributes(head: TuneHead) -> etree._Element:
    """Divisions, key, metre and clef of the first bar."""
    made = element("attributes")
    made.append(element("divisions", "1"))
    key = element("key")
    key.append(element("fifths", str(head.fifths)))
    made.append(key)
    made.append(time_element(head.metre))
    clef = element("clef")
    sign, line = instrument(head.instrument).clef
    clef.append(element("sign", sign))
    clef.append(element("line", str(line)))
    made.append(clef)
    return made


def time_element(metre: Metre) -> etree._Element:
    time = element("time")
    time.append(element("beats", "+".join(map(str, metre.groups))))
    time.append(element("beat-type", str(metre.beat_type)))
    return time


_UNITS = {
    Fraction(4): ("whole", False),
    Fraction(3): ("half", True),
    Fraction(2): ("half", False),
    Fraction(3, 2): ("quarter", True),
    Fraction(1): ("quarter", False),
    Fraction(3, 4): ("eighth", True),
    Fraction(1, 2): ("eighth", False),
    Fraction(1, 4): ("16th", False),
}


def tempo_direction(bpm: float, beat_q: Fraction) -> etree._Element:
    """A metronome mark, in beats so many quarters long."""
    unit, dotted = _UNITS.get(beat_q, ("quarter", False))
    direction = element("direction", placement="above")
    kind = element("direction-type")
    metronome = element("metronome")
    metronome.append(element("beat-unit", unit))
    if dotted:
        metronome.append(element("beat-unit-dot"))
    metronome.append(element("per-minute", f"{bpm:g}"))
    kind.append(metronome)
    direction.append(kind)
    return direction
