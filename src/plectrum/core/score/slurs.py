"""Slurs rewritten where a plan splits or joins them; all others stay as they are."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from lxml import etree

from plectrum.core.score.edit import append_child, ensure_notations, remove_element

NEW_NUMBER = "6"  # rarely used by notation programs, so it meets no open slur


@dataclass(frozen=True, slots=True)
class _Span:
    """One written slur, by the places of its notes in the part."""

    start: int
    stop: int
    elements: tuple[etree._Element, etree._Element]


def _spans(notes: Sequence[etree._Element]) -> list[_Span]:
    """The closed slurs of a run of notes."""
    opened: dict[str, tuple[int, etree._Element]] = {}
    found = []
    for k, note in enumerate(notes):
        slurs = note.findall("notations/slur")
        for slur in (s for s in slurs if s.get("type") == "stop"):
            begun = opened.pop(slur.get("number", "1"), None)
            if begun is not None:
                found.append(_Span(begun[0], k, (begun[1], slur)))
        for slur in (s for s in slurs if s.get("type") == "start"):
            opened[slur.get("number", "1")] = (k, slur)
    return found


def rewrite_slurs(
    notes: Sequence[etree._Element], runs: Sequence[tuple[int, int]], changed: Sequence[int]
) -> None:
    """Make the slurs around changed notes agree with the bows that play them.

    Args:
        notes: the `<note>` elements of the part, in order.
        runs: first and last place of every bow that takes several notes.
        changed: places where a bow begins inside a written slur, or goes on where none is.
    """
    touched = {
        span for span in _spans(notes) for k in changed if span.start - 1 <= k <= span.stop + 1
    }
    covered = {k for span in touched for k in range(span.start, span.stop + 1)} | set(changed)
    for span in touched:
        for element in span.elements:
            remove_element(element)
    for first, last in runs:
        if last > first and covered & set(range(first, last + 1)):
            _add(notes[first], "start")
            _add(notes[last], "stop")


def _add(note: etree._Element, kind: str) -> None:
    slur = etree.Element("slur", {"type": kind, "number": NEW_NUMBER})
    append_child(ensure_notations(note), slur)
