"""How the notes of one unit share its bow: by the time in which the bow moves and by level, so
that an even slur is even, also before a stop, and a crescendo grows; and by what the teacher says
of single notes in it."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from itertools import accumulate
from typing import NamedTuple

from plectrum.core.document.choices import NO_PIN, Pin
from plectrum.core.document.places import INSIDE, LEAST_STROKE, Span, bare, is_of_note
from plectrum.core.score.model import Note


class Inside(NamedTuple):
    """What is said of one note of a bow, k-th in it from 0."""

    k: int
    place: str | None
    amount: str | None


def said_inside(members: Sequence[Note], pins: Mapping[str, Pin]) -> tuple[Inside, ...]:
    """What is said of single notes of a bow of several: of its first note only what is said to be
    of the note. A place that already holds is not said again."""
    if len(members) < 2 or not any(note.id in pins for note in members):
        return ()
    found = []
    holds = None
    for k, note in enumerate(members):
        pin = pins.get(note.id, NO_PIN)
        place, amount = (
            None if word is None or (k == 0 and not is_of_note(word)) else bare(word)
            for word in (pin.place, pin.amount)
        )
        amount = None if amount in INSIDE else amount
        if place is not None and place == note.written_part:
            place = None  # words over the staff are no pins
        place, holds = (None if place == holds else place), place or bare(pin.place)
        if place is not None or amount is not None:
            found.append(Inside(k, place, amount))
    return tuple(found)


def lengths_said(inside: Sequence[Inside], spans: Sequence[Span]) -> dict[int, float]:
    """How much of the hair single notes are said to take, by their number in the bow."""
    found = {}
    for said, span in zip(inside, spans, strict=True):
        if span.start is not None and span.end is not None:
            found[said.k] = abs(span.end - span.start)
        elif span.length is not None:
            found[said.k] = span.length
    return found


def shares_of(weights: Sequence[float], lengths: Mapping[int, float], length: float) -> list[float]:
    """What part of a bow each note takes, beside each other. The notes of which nothing is said
    are left a little each, if half the bow allows.

    Args:
        weights: of the notes of which nothing is said.
        lengths: of the others, as fractions of the hair; length: of the whole bow.
    """
    if not lengths:
        return list(weights)
    said = sum(lengths.values())
    others = [w for k, w in enumerate(weights) if k not in lengths]
    left = min(0.5, LEAST_STROKE * len(others) / max(length, LEAST_STROKE))
    taken = min(said / length, 1 - left) if others else 1.0
    return [
        lengths[k] / said * taken if k in lengths else w / sum(others) * (1 - taken)
        for k, w in enumerate(weights)
    ]


def weights_of(
    moving_s: Iterable[float], gains: Iterable[float], amount: str | None = None
) -> list[float]:
    """How much of a bow its notes take, beside each other.

    Args:
        moving_s: how long the bow moves on each note; gains: times the bow for its level.
        amount: the word said of how much bow the notes take; growing and shrinking count.
    """
    weights = [seconds * gain for seconds, gain in zip(moving_s, gains, strict=True)]
    if amount not in INSIDE:
        return weights
    steps = range(1, len(weights) + 1)
    growing = steps if amount == "growing-inside" else reversed(steps)
    return [w * k for w, k in zip(weights, growing, strict=True)]


def share_unit(
    weights: Sequence[float], start: float, end: float, lengths: Mapping[int, float]
) -> list[tuple[float, float]]:
    """Start and end of each note on the bow; they meet, and the last end is `end` exactly.

    Args:
        weights, lengths: as in `shares_of`. start: where the unit starts, a fraction of the hair.
        end: where it ends.
    """
    shares = shares_of(weights, lengths, abs(end - start))
    ends = [start + (end - start) * done / sum(shares) for done in accumulate(shares)]
    ends[-1] = end
    return list(zip([start, *ends[:-1]], ends, strict=True))
