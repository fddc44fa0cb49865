"""How the notes of one unit share its bow: by the time in which the bow moves and by level, so
that an even slur is even, also before a stop, and a crescendo grows."""

from __future__ import annotations

from collections.abc import Sequence

from plectrum.core.document.places import INSIDE


def share_unit(
    moving_s: Sequence[float],
    gains: Sequence[float],
    start: float,
    end: float,
    amount: str | None = None,
) -> list[tuple[float, float]]:
    """Start and end of each note on the bow.

    Args:
        moving_s: how long the bow moves on each note; gains: times the bow for its level.
        start: where the unit starts, a fraction of the hair.
        end: where it ends.
        amount: the word said of how much bow the notes take; growing and shrinking count.

    Returns:
        One (start, end) a note; they meet, and the last end is `end` exactly.
    """
    if len(moving_s) == 1:
        return [(start, end)]
    shares = [seconds * gain for seconds, gain in zip(moving_s, gains, strict=True)]
    if amount in INSIDE:
        steps = range(1, len(moving_s) + 1)
        growing = steps if amount == "growing-inside" else reversed(steps)
        shares = [s * k for s, k in zip(moving_s, growing, strict=True)]
    whole = sum(shares)
    places = []
    at = start
    done = 0.0
    for share in shares[:-1]:
        done += share
        then = start + (end - start) * done / whole
        places.append((at, then))
        at = then
    places.append((at, end))
    return places
