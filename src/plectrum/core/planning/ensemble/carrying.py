"""What is corrected in one part, in the parts that move with it."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

from plectrum.core.planning.ensemble.ensemble import Ensemble


def matching_notes(ensemble: Ensemble, part: int, note: int) -> dict[int, int]:
    """The notes of other parts whose bows begin and end with the one that a note begins.

    Returns:
        Part number to note index; empty where the note begins no bow, or nobody moves with it.
    """
    for moment in _moments_of(ensemble, part, [note]):
        return _heads(ensemble, moment, part)
    return {}


def carried(ensemble: Ensemble, part: int, notes: Iterable[int]) -> dict[str, int]:
    """The ids of the notes of other parts that move with some of this one, each with the index of
    the note it goes with."""
    found: dict[str, int] = {}
    for note in notes:
        for other, index in matching_notes(ensemble, part, note).items():
            found[ensemble.plans[other].part.notes[index].id] = note
    return found


def _moments_of(ensemble: Ensemble, part: int, notes: Iterable[int]) -> Iterator[int]:
    units = ensemble.plans[part].tables.units
    column = ensemble.matched.units[:, part].tolist()
    by_note = {units[unit].first: m for m, unit in enumerate(column) if unit >= 0}
    yield from (by_note[n] for n in notes if n in by_note)


def _heads(ensemble: Ensemble, moment: int, part: int) -> dict[int, int]:
    row = ensemble.matched.units[moment].tolist()
    return {
        q: ensemble.plans[q].tables.units[unit].first
        for q, unit in enumerate(row)
        if unit >= 0 and q != part
    }
