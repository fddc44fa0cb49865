"""*Simile* and *segue*: the slurs, dots and marks of the bars before go on in bars of their rhythm,
until other signs are written (common practice)."""

from __future__ import annotations

import re
from collections.abc import Iterable, Sequence
from itertools import groupby
from operator import attrgetter

from plectrum.core.score.model import Articulation, Bar, Note
from plectrum.core.score.raw import RawDirection

_WORD = re.compile(r"^\W*(sim\b|simil[ei]|segue|sempre simil)", re.IGNORECASE)
_FIGURE_BARS = 4  # looked back at for what goes on (own default)
_PASSING = frozenset({Articulation.FERMATA, Articulation.BREATH, Articulation.SFORZANDO})


def carried_on(
    notes: Sequence[Note], bars: Sequence[Bar], said: Iterable[tuple[float, RawDirection]]
) -> list[Note]:
    """The notes, with what such words carry on.

    Args:
        said: what stands over the staff, with its time in quarters.
    """
    times = sorted(at_q for at_q, d in said if d.kind == "words" and _WORD.match(d.value))
    if not times:
        return list(notes)
    by_bar = {k: list(own) for k, own in groupby(notes, attrgetter("bar_index"))}
    for at_q in times:
        here = max((b.index for b in bars if b.onset_q <= at_q), default=0)
        first = here + 1 if _is_signed(by_bar.get(here, ())) else here
        figures = {
            _rhythm(by_bar[k], bars[k]): by_bar[k]
            for k in range(max(0, first - _FIGURE_BARS), first)
            if _is_signed(by_bar.get(k, ()))
        }
        for k in range(first, len(bars)):
            own = by_bar.get(k, [])
            if _is_signed(own):
                break
            figure = figures.get(_rhythm(own, bars[k]))
            if figure is not None:
                by_bar[k] = [_like(n, model) for n, model in zip(own, figure, strict=True)]
    return [note for own in by_bar.values() for note in own]


def _is_signed(notes: Sequence[Note]) -> bool:
    return any(n.slurred or n.mark or n.articulations - _PASSING for n in notes)


def _rhythm(notes: Sequence[Note], bar: Bar) -> tuple[object, ...]:
    return tuple((n.onset_q - bar.onset_q, n.duration_q, n.grace, n.pizzicato) for n in notes)


def _like(note: Note, model: Note) -> Note:
    signs = note.articulations | (model.articulations - _PASSING)
    return note._replace(slurred=model.slurred, articulations=signs, mark=model.mark)
