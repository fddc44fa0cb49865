"""What the teacher does to the sections of a piece: begin, join, choose, name, move, take away.

Every edit takes the part and its own sections and gives other ones. The first edit takes the
phrases that were found as the teacher's own.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace

from plectrum.core.document.sections import MOST_NAME, OwnSection, form_of
from plectrum.core.errors import ChoiceError
from plectrum.core.plain_text import one_line
from plectrum.core.score.model import Part
from plectrum.core.wording import say, tr

FIGURE_NOTES = (2, 12)  # how many notes a figure may have (own default; three to five are usual)
Own = tuple[OwnSection, ...]


@dataclass(frozen=True, slots=True)
class _Span:
    """A section by note indices."""

    key: str
    first: int
    last: int
    name: str
    figure: bool


def begun_at(part: Part, own: Own, note: int) -> Own:
    """A section begins at a note; the one that went on over it ends before.

    Raises:
        ChoiceError: one begins there already.
    """
    sections, figures = _taken(part, own)
    if any(s.first == note for s in sections):
        raise ChoiceError(tr("a section begins here already"))
    made = []
    last = note
    for span in sections:
        if span.first < note <= span.last:
            last = span.last
            span = replace(span, last=note - 1)
        made.append(span)
    if last == note:  # in a gap: up to the next section
        later = [s.first for s in sections if s.first > note]
        last = min(later, default=len(part.notes)) - 1
    return _kept(part, own, [*made, _new(sections, note, last), *figures])


def joined(part: Part, own: Own, note: int) -> Own:
    """The section of a note becomes one with the section before it.

    Raises:
        ChoiceError: there is none, or none before.
    """
    sections, figures = _taken(part, own)
    here = next((k for k, s in enumerate(sections) if s.first <= note <= s.last), None)
    if not here:
        raise ChoiceError(tr("there is no section before this one to join it to"))
    before = replace(sections[here - 1], last=sections[here].last)
    return _kept(part, own, [*sections[: here - 1], before, *sections[here + 1 :], *figures])


def section_of(part: Part, own: Own, first: int, last: int) -> Own:
    """A run of notes becomes a section; others keep what they have outside it."""
    sections, figures = _taken(part, own)
    made = [_new(sections, first, last)]
    for span in sections:
        before, after = replace(span, last=first - 1), replace(span, first=last + 1)
        if span.last < first or span.first > last:
            made.append(span)
            continue
        if span.first < first:
            made.append(before)
        if span.last > last:
            key = span.key if span.first >= first else _new([*made, *sections], 0, 0).key
            made.append(replace(after, key=key))
    return _kept(part, own, [*made, *figures])


def figure_of(part: Part, own: Own, first: int, last: int) -> Own:
    """A few notes become a figure with steps of its own.

    Raises:
        ChoiceError: too few or too many, or they are one already.
    """
    least, most = FIGURE_NOTES
    if not least <= last - first + 1 <= most:
        raise ChoiceError(
            say("a figure has {least} to {most} notes", least=least, most=most),
            remedy=tr("Select a few notes"),
        )
    ids = part.notes[first].id, part.notes[last].id
    if any(s.figure and (s.first_id, s.last_id) == ids for s in own):
        raise ChoiceError(tr("these notes are a figure already"))
    key = _free_key((s.key for s in own), "f")
    return (*own, OwnSection(key, *ids, figure=True))


def named(part: Part, own: Own, key: str, name: str) -> Own:
    """A section under another name; an empty one gives its letter back."""
    sections, figures = _taken(part, own)
    name = one_line(name.strip(), MOST_NAME)
    spans = [replace(s, name=name) if s.key == key else s for s in [*sections, *figures]]
    return _kept(part, own, spans)


def moved(part: Part, own: Own, key: str, note: int) -> Own:
    """A section or figure begins at another note; the section before it ends there.

    Raises:
        ChoiceError: it would end before it begins, or swallow the one before.
    """
    sections, figures = _taken(part, own)
    span = next((s for s in [*sections, *figures] if s.key == key), None)
    if span is None or note > span.last:
        raise ChoiceError(tr("a section cannot begin after its end"))
    before = next((s for s in reversed(sections) if s.last < span.first), None)
    if not span.figure and before is not None and note <= before.first:
        raise ChoiceError(tr("the section before would have no notes left"))
    made = []
    for s in [*sections, *figures]:
        if s.key == key:
            s = replace(s, first=note)
        elif not span.figure and s is before and (s.last >= note or s.last == span.first - 1):
            s = replace(s, last=note - 1)
        made.append(s)
    return _kept(part, own, made)


def without(part: Part, own: Own, key: str) -> Own:
    """A figure or section less; what it held is in none."""
    sections, figures = _taken(part, own)
    return _kept(part, own, [s for s in [*sections, *figures] if s.key != key])


def carried_over(before: Part, after: Part, own: Own) -> Own:
    """Sections after notes have changed: where an end is gone, the nearest note inside counts;
    those without a note left go."""
    if not own:
        return own
    there = {n.id for n in after.notes}
    places = {n.id: n.index for n in before.notes}
    made = []
    for section in own:
        if section.first_id not in places or section.last_id not in places:
            made.append(section)  # of another part of the score
            continue
        inside = before.notes[places[section.first_id] : places[section.last_id] + 1]
        left = [n.id for n in inside if n.id in there]
        if left:
            made.append(replace(section, first_id=left[0], last_id=left[-1]))
    return tuple(made)


def _taken(part: Part, own: Own) -> tuple[list[_Span], list[_Span]]:
    """Sections and figures by index, in order; the phrases found, where none are own."""
    names = {s.key: s.name for s in own}
    spans = [
        _Span(s.key, s.first_note, s.last_note, names.get(s.key, ""), s.figure)
        for s in form_of(part, own)
    ]
    spans.sort(key=lambda s: s.first)
    return [s for s in spans if not s.figure], [s for s in spans if s.figure]


def _new(sections: Iterable[_Span], first: int, last: int) -> _Span:
    return _Span(_free_key((s.key for s in sections), ""), first, last, "", figure=False)


def _free_key(taken: Iterable[str], prefix: str) -> str:
    keys = set(taken)
    return next(key for k in range(1, 10**6) if (key := f"{prefix}{k}") not in keys)


def _kept(part: Part, own: Own, spans: Iterable[_Span]) -> Own:
    ids = [note.id for note in part.notes]
    return tuple(
        OwnSection(s.key, ids[s.first], ids[s.last], s.name, s.figure)
        for s in sorted(spans, key=lambda s: (s.figure, s.first))
    ) + _elsewhere(part, own)


def _elsewhere(part: Part, own: Own) -> Own:
    """Sections of another part of the score."""
    there = {note.id for note in part.notes}
    return tuple(s for s in own if not {s.first_id, s.last_id} <= there)
