"""The events of one part over its own XML elements, and their flow into bars.

An event is a note, chord or rest with everything that hangs on it. Changing lengths moves what
follows, as words move in a text: events flow into bars anew, and what crosses a barline is tied.
Only parts of one voice on one staff can flow; others say so.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from copy import deepcopy
from dataclasses import dataclass, field
from fractions import Fraction
from itertools import pairwise

from lxml import etree

from plectrum.core.errors import ScoreError
from plectrum.core.incoming.numbers import fraction, whole
from plectrum.core.score.model import COMMON_TIME, Metre
from plectrum.core.score.writing.elements import (
    bracket_tuplets,
    drop,
    element,
    fresh_id,
    metre_in,
    new_rest,
    pitch_of,
    set_beams,
    set_ties,
    set_value,
    show_part_accidentals,
    tie_types,
    value_of,
)
from plectrum.core.score.writing.values import Value, values_of
from plectrum.core.score.xml_text import integer
from plectrum.core.wording import say, tr

ELSEWHERE = tr("Change lengths in a notation program, or keep only this part")


@dataclass
class Event:
    """One note, chord or rest.

    Attributes:
        pieces: its tied pieces, each the `<note>` elements of one chord.
        leading, trailing: directions, graces and the like before and after it.
    """

    length_q: Fraction
    tuplet: tuple[int, int] | None
    pieces: list[list[etree._Element]]
    leading: list[etree._Element] = field(default_factory=list)
    trailing: list[etree._Element] = field(default_factory=list)

    @property
    def heads(self) -> list[etree._Element]:
        """The notes it begins with."""
        return self.pieces[0]

    @property
    def is_rest(self) -> bool:
        return self.heads[0].find("rest") is not None

    @property
    def ids(self) -> set[str]:
        return {note.get("id", "") for piece in self.pieces for note in piece}


@dataclass
class BarFrame:
    """What a bar holds besides its events."""

    measure: etree._Element
    metre: Metre
    head: list[etree._Element]
    tail: list[etree._Element]


class Line:
    """One part as events and bar frames. `pickup_q` is 0 where the first bar is full."""

    def __init__(self, part: etree._Element, where: str) -> None:
        self.part = part
        self.where = where
        self.frames: list[BarFrame] = []
        self.events: list[Event] = []
        self.divisions = 1
        self.pickup_q = Fraction(0)
        self._taken: set[str] = set()
        self._read()

    # reading

    def _read(self) -> None:
        divisions = 1
        metre = COMMON_TIME
        for measure in self.part.iterfind("measure"):
            frame = BarFrame(measure, metre, [], [])
            waiting: list[etree._Element] = []
            first_of_bar = len(self.events)
            for child in measure:
                divisions = self._attributes(child, divisions)
                metre = metre_in(child, metre)
                self._take(child, frame, waiting, divisions, first_of_bar)
            if waiting and len(self.events) > first_of_bar:
                self.events[-1].trailing += waiting
            else:
                frame.head += waiting
            frame.metre = metre
            self.frames.append(frame)
            self.divisions = math.lcm(self.divisions, divisions)
            if len(self.frames) == 1:
                self._note_pickup()
        self._merge_over_barlines()

    def _attributes(self, child: etree._Element, divisions: int) -> int:
        if child.tag == "attributes" and child.find("divisions") is not None:
            return max(1, integer(child, "divisions", 1))
        return divisions

    def _fail(self, what: str) -> None:
        raise ScoreError(
            say("{what}, so lengths cannot be changed here", what=what), remedy=ELSEWHERE
        )

    def _take(
        self,
        child: etree._Element,
        frame: BarFrame,
        waiting: list[etree._Element],
        divisions: int,
        first_of_bar: int,
    ) -> None:
        number = frame.measure.get("number", "?")
        begun = len(self.events) > first_of_bar
        if child.tag in ("backup", "forward"):
            self._fail(say("bar {number} has more than one voice", number=number))
        elif child.tag == "note" and child.find("grace") is not None:
            waiting.append(child)
        elif child.tag == "note" and child.find("chord") is not None:
            if begun:
                self.events[-1].heads.append(child)
        elif child.tag == "note":
            length_q = Fraction(integer(child, "duration"), divisions)
            value = value_of(child, length_q)
            tuplet = value.tuplet if value is not None else None
            self.events.append(Event(length_q, tuplet, [[child]], list(waiting)))
            waiting.clear()
        elif child.tag == "barline" and child.get("location", "right") != "left":
            frame.tail.append(child)
        elif child.tag in ("attributes", "barline", "print"):
            if begun:
                self._fail(say("bar {number} changes inside", number=number))
            frame.head.append(child)
        elif not begun and child.tag == "direction" and not _hangs_on_note(child):
            frame.head.append(child)
        else:
            waiting.append(child)

    def _note_pickup(self) -> None:
        frame = self.frames[0]
        content_q = sum((e.length_q for e in self.events), Fraction(0))
        implicit = frame.measure.get("implicit") == "yes"
        short = 0 < content_q < frame.metre.length_q
        if short and (implicit or frame.measure.get("number") == "0"):
            self.pickup_q = content_q

    def _merge_over_barlines(self) -> None:
        """Notes tied over a barline become one event again, so that they can flow anew."""
        onset_q = Fraction(0)
        walls = set(self.barlines_q())
        merged: list[Event] = []
        for event in self.events:
            last = merged[-1] if merged else None
            joins = last is not None and onset_q in walls and _continues(last, event)
            if joins and last is not None and not event.leading and last.tuplet == event.tuplet:
                last.length_q += event.length_q
                last.pieces += event.pieces
                last.trailing += event.trailing
            else:
                merged.append(event)
            onset_q += event.length_q
        self.events = merged

    # asking

    def capacity_q(self, bar: int) -> Fraction:
        """How much a bar holds; bars after the last are like it."""
        if bar == 0 and self.pickup_q:
            return self.pickup_q
        return self.frames[min(bar, len(self.frames) - 1)].metre.length_q

    def barlines_q(self) -> Iterator[Fraction]:
        """Onsets of the bars that there are, after the first."""
        at_q = Fraction(0)
        for k in range(len(self.frames)):
            at_q += self.capacity_q(k)
            yield at_q

    def find(self, note_id: str) -> int:
        """Which event a note belongs to.

        Raises:
            ScoreError: no such note in the part.
        """
        for k, event in enumerate(self.events):
            if note_id in event.ids:
                return k
        raise ScoreError(tr("that note is not in this part"))

    def end_of(self, note_id: str) -> int:
        """The last event of those a note is tied on to.

        Raises:
            ScoreError: no such note in the part.
        """
        k = self.find(note_id)
        while k + 1 < len(self.events) and _continues(self.events[k], self.events[k + 1]):
            k += 1
        return k

    # flowing

    def flow(self) -> None:
        """Write all events into bars: values, ties, beams, accidentals, bars added or dropped.
        What the last bar lacks is filled with rests, but for the beats that a pickup has taken."""
        self._taken = {n.get("id", "") for n in self.part.iter("note")}
        for event in self.events:
            self._taken |= event.ids
        self._mend_ties()
        self._pad()
        plan = self._pieces_by_bar()
        self._fit_divisions(plan)
        self._fit_frames(max(1, len(plan)))
        for k, frame in enumerate(self.frames):
            self._write_bar(frame, plan[k] if k < len(plan) else [])
        self._number()
        self.show_accidentals()
        etree.indent(self.part, level=1)

    def _pad(self) -> None:
        total_q = sum((e.length_q for e in self.events), Fraction(0))
        bar = 0
        while total_q >= self.capacity_q(bar) and total_q > 0:
            total_q -= self.capacity_q(bar)
            bar += 1
        if total_q == 0 and self.events:
            return
        lacking_q = self.capacity_q(bar) - total_q
        if bar and lacking_q == self.pickup_q:
            return
        for value in self._values(lacking_q, None):
            rest = new_rest(fresh_id(self._taken))
            self.events.append(Event(value.length_q, None, [[rest]]))

    def strip_padding(self, after: int) -> None:
        """Take out the rests after an event if nothing else follows it; flowing fills up anew."""
        if all(e.is_rest and not e.leading and not e.trailing for e in self.events[after + 1 :]):
            del self.events[after + 1 :]

    def _pieces_by_bar(self) -> list[list[tuple[Event, int, Value]]]:
        """For every bar its pieces: the event, which piece of it, and its written value."""
        bars: list[list[tuple[Event, int, Value]]] = []
        bar, room_q = 0, self.capacity_q(0)
        for event in self.events:
            left_q, piece = event.length_q, 0
            while left_q > 0:
                if room_q == 0:
                    bar, room_q = bar + 1, self.capacity_q(bar + 1)
                part_q = min(left_q, room_q)
                for value in self._values(part_q, event.tuplet):
                    while len(bars) <= bar:
                        bars.append([])
                    bars[bar].append((event, piece, value))
                    piece += 1
                left_q -= part_q
                room_q -= part_q
            self._fit_pieces(event, piece)
        return bars

    def _values(self, length_q: Fraction, tuplet: tuple[int, int] | None) -> list[Value]:
        try:
            return values_of(length_q, tuplet)
        except ValueError as error:
            raise ScoreError(
                tr("a note would have to be split where no note value fits"),
                remedy=tr("Change the notes before it first"),
            ) from error

    def _fit_divisions(self, plan: list[list[tuple[Event, int, Value]]]) -> None:
        needed = self.divisions
        for bar in plan:
            for _, _, value in bar:
                needed = math.lcm(needed, value.length_q.denominator)
        for found in self.part.iter("divisions"):
            factor = needed // max(1, whole(found.text) or 1)
            if factor > 1:
                for offset in self.part.iter("offset"):
                    offset.text = str(round((fraction(offset.text) or 0) * factor))
            found.text = str(needed)
        self.divisions = needed

    def _fit_frames(self, count: int) -> None:
        last = self.frames[-1]
        final = [b for b in last.tail if b.findtext("bar-style") == "light-heavy"]
        final = [b for b in final if b.find("repeat") is None]
        while len(self.frames) < count:
            measure = element("measure")
            self.part.append(measure)
            self.frames.append(BarFrame(measure, self.frames[-1].metre, [], []))
        while len(self.frames) > count and not self.frames[-1].head:
            self.part.remove(self.frames.pop().measure)
        if self.frames[-1] is not last:
            last.tail = [b for b in last.tail if b not in final]
            self.frames[-1].tail += final

    def _write_bar(self, frame: BarFrame, pieces: list[tuple[Event, int, Value]]) -> None:
        measure = frame.measure
        for child in list(measure):
            measure.remove(child)
        measure.extend(frame.head)
        onset_q = Fraction(0)
        beamed: list[tuple[Fraction, Value, etree._Element, bool]] = []
        for event, number, value in pieces:
            notes = event.pieces[number]
            last = number == len(event.pieces) - 1
            measure.extend(event.leading if number == 0 else [])
            for note in notes:
                set_value(note, value, self.divisions)
                measure.append(note)
            measure.extend(event.trailing if last else [])
            beamed.append((onset_q, value, notes[0], event.is_rest))
            onset_q += value.length_q
        measure.extend(frame.tail)
        set_beams(beamed, frame.metre)
        bracket_tuplets(beamed)

    def _fit_pieces(self, event: Event, count: int) -> None:
        """Give an event so many tied pieces; new ones are like its first, without its signs."""
        if len(event.pieces) == count:
            return
        from_before = "stop" in tie_types(event.heads[0])
        to_next = "start" in tie_types(event.pieces[-1][0])
        del event.pieces[count:]
        while len(event.pieces) < count:
            copies = [deepcopy(note) for note in event.heads]
            for note in copies:
                drop(note, "notations", "lyric", "accidental", "beam")
                note.set("id", fresh_id(self._taken))
                note.tail = None
            event.pieces.append(copies)
        for number, piece in enumerate(event.pieces):
            wanted = {"stop"} if number or from_before else set()
            wanted |= {"start"} if number < count - 1 or to_next else set()
            for note in piece:
                set_ties(note, set() if event.is_rest else wanted)

    def _mend_ties(self) -> None:
        """Take away ties to a neighbour that is no longer of the same pitch."""
        for before, after in pairwise([None, *self.events, None]):
            if before is not None and after is not None and _continues(before, after):
                continue
            for note in before.pieces[-1] if before is not None else ():
                set_ties(note, tie_types(note) - {"start"})
            for note in after.heads if after is not None else ():
                set_ties(note, tie_types(note) - {"stop"})

    def _number(self) -> None:
        first = 0 if self.pickup_q else 1
        for k, frame in enumerate(self.frames):
            frame.measure.set("number", str(first + k))
            if k == 0 and self.pickup_q:
                frame.measure.set("implicit", "yes")
            elif frame.measure.get("implicit") is not None:
                del frame.measure.attrib["implicit"]

    def show_accidentals(self) -> None:
        """Set every bar's accidentals anew."""
        show_part_accidentals(self.part)


def _continues(before: Event, after: Event) -> bool:
    """Whether every note of an event is tied on into the next."""
    a, b = before.pieces[-1], after.heads
    return (
        len(a) == len(b)
        and [pitch_of(n) for n in a] == [pitch_of(n) for n in b]
        and all("start" in tie_types(n) for n in a)
        and all("stop" in tie_types(n) for n in b)
    )


def _hangs_on_note(direction: etree._Element) -> bool:
    """Whether a direction moves with the note after it; tempo and words stay with the bar."""
    kinds = ("dynamics", "wedge")
    return any(direction.find(f"direction-type/{kind}") is not None for kind in kinds)
