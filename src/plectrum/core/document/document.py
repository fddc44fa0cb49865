"""A document: a score, the part chosen from it, and the teacher's choices."""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import TYPE_CHECKING, Any, Concatenate, ParamSpec

from plectrum.core.document.choices import Choices, Join, Pin
from plectrum.core.document.homework import Homework
from plectrum.core.document.kept_bows import still_written
from plectrum.core.document.places import (
    OF_BOWS,
    check_command,
    for_notes,
    for_strokes,
    inside_of,
    said,
)
from plectrum.core.document.seats import Seat
from plectrum.core.document.section_edits import carried_over
from plectrum.core.document.sections import OwnSection, Section, form_of
from plectrum.core.errors import ChoiceError
from plectrum.core.incoming.numbers import decimal, only_whole
from plectrum.core.instrument.bow import Bow
from plectrum.core.plain_text import one_line
from plectrum.core.player.player import Player
from plectrum.core.score.model import Direction, Note, Part
from plectrum.core.score.scorefile import PartInfo, ScoreFile, ids_of_notes, read_part
from plectrum.core.wording import say, tr

if TYPE_CHECKING:
    from plectrum.core.player.records import NamedPlayer

P = ParamSpec("P")


@dataclass(frozen=True)
class Document:
    """Immutable.

    Attributes:
        unknown: keys of a newer plan file, to be written back as they were.
        variants: other choices for the same part, by the teacher's name for them.
        homework: what is set for practice.
        kept_before: whether it comes from a file of before bows were kept, and of a planner that
            may have decided otherwise.
        sections: those that the teacher has set, of any part; `form` has all of this one.
        together: whether all string parts are planned as one.
        seats: who plays the other parts, by part id; one that is not there is for this player.
    """

    score: ScoreFile
    part_id: str
    choices: Choices
    part: Part = field(repr=False)
    unknown: Mapping[str, Any] = field(default_factory=dict)
    variants: Mapping[str, Choices] = field(default_factory=dict)
    homework: Homework = field(default_factory=Homework)
    kept_before: bool = False
    sections: tuple[OwnSection, ...] = ()
    together: bool = False
    seats: Mapping[str, Seat] = field(default_factory=dict)

    @classmethod
    def from_score(
        cls, score: ScoreFile, part: str | None = None, instrument: str | None = None
    ) -> Document:
        """A new document with default choices.

        Args:
            part: name, id or number; None for the first part of a string instrument, or,
                with an instrument given, the first part with notes.

        Raises:
            ScoreError: no such part, no notes, or no string instrument.
        """
        if part is None and instrument is not None:
            with_notes = [p for p in score.parts if p.notes_n]
            matching = [p for p in with_notes if p.instrument == instrument]
            info = next(iter(matching or with_notes), None) or score.part_named(None)
        else:
            info = score.part_named(part)
        read = read_part(score, info.id, instrument)
        return cls(score, info.id, Choices.default(read.instrument or "violin"), read)

    @classmethod
    def for_typing(cls, score: ScoreFile, instrument: str) -> Document:
        """A document of one part without notes yet."""
        part_id = score.parts[0].id
        read = read_part(score, part_id, instrument, empty=True)
        return cls(score, part_id, Choices.default(instrument), read)

    def __repr__(self) -> str:
        part, who = self.part, self.choices.player.title
        return f"<Document {self.title!r}: {part.name}, {part.bars_n} bars, {who}>"

    @property
    def title(self) -> str:
        return self.score.title

    @property
    def form(self) -> tuple[Section, ...]:
        """The sections and figures of the part: the teacher's, or the phrases found."""
        return form_of(self.part, self.sections)

    def with_sections(
        self,
        edit: Callable[Concatenate[Part, tuple[OwnSection, ...], P], tuple[OwnSection, ...]],
        *args: P.args,
        **kwargs: P.kwargs,
    ) -> Document:
        """The document with an edit of `section_edits` made.

        Raises:
            ChoiceError: it cannot be made.
        """
        return replace(self, sections=edit(self.part, self.sections, *args, **kwargs))

    def with_choices(self, choices: Choices) -> Document:
        """The same document with other choices; the part is read anew for another instrument."""
        part = self.part
        if choices.instrument != self.choices.instrument:
            part = read_part(self.score, self.part_id, choices.instrument, empty=True)
        return replace(self, choices=choices, part=part)

    def with_score(self, score: ScoreFile) -> Document:
        """The same choices for an edited score; pins of notes that are gone go with them.

        Raises:
            ScoreError: the part has no notes left.
        """
        part = read_part(score, self.part_id, self.choices.instrument, empty=True)
        ids = ids_of_notes(score)
        parts = self.part, part
        variants = {name: _written_on(c, ids, *parts) for name, c in self.variants.items()}
        choices = _written_on(self.choices, ids, *parts)
        sections = carried_over(self.part, part, self.sections)
        return replace(
            self, score=score, part=part, choices=choices, variants=variants, sections=sections
        )

    def for_player(self, named: NamedPlayer) -> Document:
        """The same piece for a named player, with that player's bow and school."""
        return self.with_choices(
            replace(self.choices, player=named.player, bow=named.bow, school=named.school)
        )

    def with_homework(self, homework: Homework) -> Document:
        return replace(self, homework=homework)

    def with_variant(self, name: str, choices: Choices | None) -> Document:
        """The document with a named variant added or replaced, or with None taken out."""
        variants = {k: c for k, c in self.variants.items() if k != name}
        if choices is not None:
            variants[name] = choices
        return replace(self, variants=variants)

    def variant(self, name: str) -> Choices:
        """The choices of a variant; kept for another instrument, they take this one's bow.

        Raises:
            KeyError: no variant of that name.
        """
        choices = self.variants[name]
        if choices.instrument == self.choices.instrument:
            return choices
        return replace(choices, instrument=self.choices.instrument, bow=self.choices.bow)

    @property
    def string_parts(self) -> tuple[PartInfo, ...]:
        """The parts that have notes and are for a string instrument; this one is always among
        them."""
        return tuple(
            p
            for p in self.score.parts
            if p.id == self.part_id or (p.notes_n and p.instrument is not None)
        )

    @property
    def settings(self) -> tuple[Choices, ...]:
        """The choices, pins apart, under which the string parts are planned."""
        seats = (self.seat_of(info.id) for info in self.string_parts)
        return tuple(
            replace(self.choices, instrument=s.bow.instrument, bow=s.bow, player=s.player).settings
            for s in seats
        )

    @property
    def notes_n(self) -> int:
        """How many notes the string parts have together."""
        return sum(info.notes_n for info in self.string_parts)

    def seat_of(self, part_id: str) -> Seat:
        """Who plays a part: this part's own, one that is set, or this player on the usual bow."""
        choices = self.choices
        if part_id == self.part_id:
            return Seat(choices.player, choices.bow)
        if part_id in self.seats:
            return self.seats[part_id]
        name = self.score.part_named(part_id).instrument or choices.instrument
        return Seat(choices.player, Bow.sized(name, choices.bow.size))

    def with_seat(self, part_id: str, seat: Seat) -> Document:
        """The same with another player of a part, or another bow."""
        if part_id == self.part_id:
            return self.with_choices(replace(self.choices, player=seat.player, bow=seat.bow))
        return replace(self, seats={**self.seats, part_id: seat})

    def all_seated(self) -> Document:
        """The same with every other string part's player set, so that another player of this part
        is no other player of theirs."""
        others = (info.id for info in self.string_parts if info.id != self.part_id)
        return replace(self, seats={part_id: self.seat_of(part_id) for part_id in others})

    def with_everybody(self, player: Player) -> Document:
        """The same with one player, or stage, at all parts; the bows stay."""
        seated = self.all_seated()
        seats = {k: replace(seat, player=player) for k, seat in seated.seats.items()}
        return replace(self, choices=replace(self.choices, player=player), seats=seats)

    def with_part(self, part_id: str) -> Document:
        """Another part of the same score, for who plays it, in the same school; pins are kept.

        Raises:
            ScoreError: no such part, no notes, or not for a string instrument.
        """
        seat = self.seat_of(part_id)
        seats = {k: s for k, s in self.seats.items() if k != part_id}
        seats[self.part_id] = self.seat_of(self.part_id)
        part = read_part(self.score, part_id, seat.bow.instrument)
        choices = replace(
            self.choices, instrument=seat.bow.instrument, bow=seat.bow, player=seat.player
        )
        return replace(self, part_id=part_id, part=part, choices=choices, seats=seats)

    def note_at(self, place: str) -> Note:
        """The note at BAR.BEAT; the place splits at the first dot.

        Raises:
            ChoiceError: not of that form, or no note starts there.
        """
        bar_text, dot, beat_text = place.partition(".")
        bar, beat = only_whole(bar_text), decimal(beat_text) if dot else 1.0
        if bar is None or beat is None:
            raise ChoiceError(
                say("{place!r} is not a place", place=one_line(place, 40)),
                remedy=tr("Write BAR.BEAT, such as 3.1 or 3.2.5"),
            )
        for note in self.part.notes:
            if note.bar == bar and abs(float(note.beat) - beat) < 0.01 and not note.grace:
                return note
        raise ChoiceError(
            say("no note starts in bar {bar} on beat {beat:g}", bar=bar, beat=beat),
            remedy=tr("Pin a place where a note starts"),
        )

    def pinned(self, place: str, what: str) -> Document:
        """The document with a pin such as "3.2.5" = "up" added.

        Raises:
            ChoiceError: unknown place or word, or the note is plucked.
        """
        note = self.note_at(place)
        pin = self.choices.pins.get(note.id, Pin())
        if note.pizzicato:
            raise ChoiceError(say("the note at {place} is plucked and takes no bow", place=place))
        if what in set(Direction):
            pin = replace(pin, direction=Direction(what))
        elif what in (Join.TURN, Join.HOOK, Join.RETAKE):
            pin = replace(pin, join=Join(what))
        else:
            raise ChoiceError(
                say("{what!r} cannot be pinned", what=what),
                remedy=tr("Use down, up, turn, hook or retake"),
            )
        return self.with_choices(self.choices.with_pin(note.id, pin))

    def heads_in(self, where: str) -> list[Note]:
        """The notes that begin a bow as written, of bars such as "3", "1-4", or "3.2-3.4".

        Raises:
            ChoiceError: not of that form, or no bowed note there.
        """
        found = [n for n in self._notes_in(where) if not n.slurred]
        if not found:
            raise ChoiceError(say("no bow begins in {where}", where=one_line(where, 40)))
        return found

    def _inside_of(self, where: str) -> list[Note]:
        """The notes that are named if they are some of one bow as written, not all of them."""
        found = self._notes_in(where)
        if not found or any(not n.slurred for n in found[1:]):
            return []
        notes = self.part.notes
        after = notes[found[-1].index + 1 : found[-1].index + 2]
        return found if found[0].slurred or any(n.slurred for n in after) else []

    def _notes_in(self, where: str) -> list[Note]:
        """The bowed notes of bars such as "3", "1-4", or "3.2-3.4"; no grace notes."""
        first, dash, last = where.replace("–", "-").partition("-")
        low, high = _place_of(first), _place_of(last if dash else first)
        if low is None or high is None:
            raise ChoiceError(
                say("{where!r} names no bars", where=one_line(where, 40)),
                remedy=tr("Write 3, 1-4 or 3.2-3.4"),
            )
        begin = low[0], 0.0 if low[1] is None else low[1]
        end = high[0], math.inf if high[1] is None else high[1]
        return [
            n
            for n in self.part.notes
            if begin <= (n.bar, float(n.beat)) <= end and not (n.grace or n.pizzicato)
        ]

    def _same_way(self, heads: Sequence[Note]) -> bool:
        """Whether some bows are marked or pinned to go the same way."""
        pins = [self.choices.pins.get(n.id, Pin()) for n in heads]
        hooked = all(p.join is Join.HOOK for p in pins[1:])
        ways = {p.direction or n.mark for p, n in zip(pins, heads, strict=True)}
        return len(heads) > 1 and (hooked or (len(ways) == 1 and None not in ways))

    def placed(self, where: str, word: str) -> Document:
        """The document with a place or an amount of bow said for some bars.

        Raises:
            ChoiceError: unknown bars or word.
        """
        try:
            check_command(word)
        except ValueError as error:
            raise ChoiceError(
                say("{word!r} is no place", word=one_line(word, 40)), remedy=str(error)
            ) from error
        inside = self._inside_of(where) if "." in where else []
        if inside and word not in OF_BOWS:
            begins = not inside[0].slurred
            return self._with_said(inside, for_notes(word, len(inside), from_first=begins))
        heads = self.heads_in(where)
        first = heads[0].index
        slurred = itertools.takewhile(lambda n: n.slurred, self.part.notes[first + 1 :])
        word = inside_of(word, len(heads), 1 + sum(1 for _ in slurred))
        return self._with_said(heads, for_strokes(word, len(heads), in_one=self._same_way(heads)))

    def _with_said(
        self, notes: Sequence[Note], words: Sequence[tuple[str | None, str | None]]
    ) -> Document:
        """The document with a place and an amount said of each of some notes."""
        pins = {
            n.id: said(self.choices.pins.get(n.id, Pin()), *both)
            for n, both in zip(notes, words, strict=True)
        }
        return self.with_choices(self.choices.with_pins(pins))


def _place_of(text: str) -> tuple[int, float | None] | None:
    """Bar, and beat if it is said: "3" or "3.2"; None if it is neither."""
    bar_text, dot, beat_text = text.strip().partition(".")
    bar, beat = only_whole(bar_text), decimal(beat_text) if dot else None
    return None if bar is None or (dot and beat is None) else (bar, beat)


def _written_on(choices: Choices, ids: set[str], before: Part, after: Part) -> Choices:
    """Choices for edited notes, without the pins of notes that are gone."""
    kept = choices.kept
    if kept is not None and before is not after:
        kept = still_written(before, after, kept)
    return replace(choices, pins={k: p for k, p in choices.pins.items() if k in ids}, kept=kept)
