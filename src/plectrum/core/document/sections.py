"""The sections and figures of a piece: the teacher's own, or the phrases found in it.

A section is learnt and named as one; a figure is a few notes within, with steps of their own.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache

from plectrum.core.document.phrases import phrases_of
from plectrum.core.score.model import Note, Part
from plectrum.core.wording import in_figures, say

ALIKE_SHARE = 0.5  # a section is a variant of another if this share of its notes is the same
MOST_NAME, MOST_SECTIONS = 40, 2000


@dataclass(frozen=True, slots=True)
class OwnSection:
    """A section or figure that the teacher has set.

    Attributes:
        key: tells it from others as long as it is there, also in what is logged of its steps.
        first_id, last_id: its first and last note.
        name: the teacher's name; empty where its letter is found.
    """

    key: str
    first_id: str
    last_id: str
    name: str = ""
    figure: bool = False


@dataclass(frozen=True, slots=True)
class Section:
    """A run of notes, by index; sections with the same letter are alike, with a dash after it
    nearly alike.

    Attributes:
        bars: its bars in words. own: whether the teacher has set it, else it is proposed.
    """

    key: str
    name: str
    first_note: int
    last_note: int
    bars: str
    repeated: bool = False
    own: bool = False
    figure: bool = False


def bars_name(first: int, last: int) -> str:
    """Bars by their printed numbers: "bar 3", "bars 5–8", "pickup to bar 4"."""
    if first == last:
        return say("bar {bar}", bar=first)
    return (
        say("bars {first}–{last}", first=first, last=last)
        if first
        else say("pickup to bar {last}", last=last)
    )


def section_bars(part: Part, first_bar: int, last_bar: int) -> str:
    """The name of a run of bars given by index."""
    return bars_name(part.bars[first_bar].number, part.bars[last_bar].number)


def notes_name(part: Part, first: int, last: int) -> str:
    """A run of notes by its bars, and by its beats where it begins or ends within one. A pickup
    at its start is named; one after its end belongs to what follows."""
    a, b = part.notes[first], part.notes[last]
    after = part.notes[last + 1] if last + 1 < len(part.notes) else None
    begins = first == 0 or part.notes[first - 1].bar_index < a.bar_index
    split = part.bars[a.bar_index].pad_q > 0 and part.bars[a.bar_index].number > 0
    leads_in = (split or (not begins and _leads_in(part, a))) and a.bar_index < b.bar_index
    ends = after is None or after.bar_index > b.bar_index
    led = leads_in or part.bars[a.bar_index].number == 0
    lead_q = _to_bar_line(part, a) if led else None
    evenly = after is not None and _to_bar_line(part, after) == lead_q
    if (begins or leads_in) and (ends or evenly):
        if leads_in:
            return say(
                "{bars} with pickup",
                bars=section_bars(part, a.bar_index + 1, b.bar_index),
            )
        if a.bar_index < b.bar_index or ends:
            return section_bars(part, a.bar_index, b.bar_index)
    if a.bar_index == b.bar_index:
        return (
            say("bar {bar}, beats {first}–{last}", bar=a.bar, first=_beat(a), last=_beat(b))
            if last > first
            else _place(a)
        )
    end = say("bar {bar}", bar=b.bar) if ends else _place(b)
    begin = say("bar {bar}", bar=a.bar) if begins else _place(a)
    return say("{begin} to {end}", begin=begin, end=end)


def _beat(note: Note) -> str:
    return in_figures(float(note.beat))


def _place(note: Note) -> str:
    return say("bar {bar}, beat {beat}", bar=note.bar, beat=_beat(note))


def _to_bar_line(part: Part, note: Note) -> Fraction:
    bar = part.bars[note.bar_index]
    return bar.onset_q + bar.duration_q - note.onset_q


def _leads_in(part: Part, note: Note) -> bool:
    """Whether a note stands in the second half of its bar."""
    bar = part.bars[note.bar_index]
    return note.onset_q - bar.onset_q >= bar.duration_q / 2


def notes_in_bars(part: Part, first_bar: int, last_bar: int) -> tuple[int, int] | None:
    """First and last note of a run of bars given by index; None where it has none."""
    inside = [n.index for n in part.notes if first_bar <= n.bar_index <= last_bar]
    return (inside[0], inside[-1]) if inside else None


@lru_cache(maxsize=16)
def form_of(part: Part, own: tuple[OwnSection, ...] = ()) -> tuple[Section, ...]:
    """Sections and figures in the order of the piece, figures before the section they are in.

    Args:
        own: what the teacher has set; notes that this part does not have are passed over.
    """
    places = {note.id: note.index for note in part.notes}
    kept = [s for s in own if s.first_id in places and s.last_id in places]
    found = list(_found(part)) if all(s.figure for s in kept) else []
    names = _letters(part, [(s.first_note, s.last_note, "") for s in found])
    rows = [Section(s.key, n, s.first_note, s.last_note, s.bars, s.repeated)
            for s, n in zip(found, names, strict=True)]  # fmt: skip
    for figure in (False, True):
        chosen = sorted((s for s in kept if s.figure is figure), key=lambda s: places[s.first_id])
        spans = [(places[s.first_id], places[s.last_id], s.name) for s in chosen]
        names = (
            [s.name or say("figure {number}", number=k) for k, s in enumerate(chosen, start=1)]
            if figure
            else _letters(part, spans)
        )
        rows += [
            Section(s.key, n, first, last, notes_name(part, first, last), _repeated(part, last),
                    own=True, figure=figure)
            for s, n, (first, last, _) in zip(chosen, names, spans, strict=True)
        ]  # fmt: skip
    return tuple(sorted(rows, key=lambda s: _order(s, rows)))


def _order(section: Section, rows: Sequence[Section]) -> tuple[int, bool, int]:
    """A figure comes with the section its first note is in."""
    holding = (
        r.first_note
        for r in rows
        if not r.figure and r.first_note <= section.first_note <= r.last_note
    )
    begin = next(holding, section.first_note) if section.figure else section.first_note
    return begin, not section.figure, section.first_note


def _found(part: Part) -> Iterator[Section]:
    for number, (first, last) in enumerate(phrases_of(part), start=1):
        yield Section(
            str(number), "", first, last, notes_name(part, first, last), _repeated(part, last)
        )


def _repeated(part: Part, last: int) -> bool:
    """Whether a section ends at a repeat."""
    return part.bars[part.notes[last].bar_index].repeat_end > 0


def _letters(part: Part, spans: Sequence[tuple[int, int, str]]) -> list[str]:
    """Names of sections: those that are given, else A, B, A′ by what is alike."""
    taken = {name for _, _, name in spans if name}
    letters: list[tuple[str, list[object]]] = []
    names = []
    for first, last, given in spans:
        content = _content(part, first, last)
        name = given
        for letter, other in letters if not given else ():
            if content == other:
                name = letter
                break
            same = sum(1 for a, b in zip(content, other, strict=False) if a == b)
            if not name and same >= ALIKE_SHARE * max(len(content), len(other)):
                name = f"{letter}′"
        if not name:
            name = next(n for k in range(10**6) if (n := _letter(k)) not in taken)
            taken.add(name)
        if not name.endswith("′"):
            letters.append((name, content))
        names.append(name)
    return names


def _content(part: Part, first: int, last: int) -> list[object]:
    """What is to be heard of a section, note by note, from its first full bar."""
    begin = part.notes[first]
    bar = part.bars[begin.bar_index]
    later = begin.onset_q > bar.onset_q and begin.bar_index + 1 < len(part.bars)
    start_q = part.bars[begin.bar_index + 1].onset_q if later else bar.onset_q
    return [
        (n.onset_q - start_q, n.duration_q, n.pitches, n.slurred, n.articulations)
        for n in part.notes[first : last + 1]
    ]


def _letter(k: int) -> str:
    """A to Z, then AA to AZ and so on."""
    name = chr(ord("A") + k % 26)
    return name if k < 26 else _letter(k // 26 - 1) + name
