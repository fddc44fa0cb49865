"""Where each bow stands: its place in the bar and what its neighbours are.

These are the features that the direction of a bow and the way it joins the one before depend on.
What each is worth is learnt from printed bow marks: a row of the rule table by the same name.
A bow is given by its first and last note, so that the same features serve printed bows and
bows that are still to be chosen.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from fractions import Fraction
from functools import lru_cache
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from plectrum.core.planning import rules
from plectrum.core.score.model import Articulation, Bar, Part, note_table
from plectrum.core.score.playing_order import played
from plectrum.core.score.timeline import FERMATA_SHARE

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
Bools = NDArray[np.bool_]
Features = dict[str, Bools]

PLACES = ("bar", "mid", "beat", "off", "sub")
_LEAST_WEIGHT = (0.9, -0.01, -0.5, -0.9)  # of the metric weights, for each place but the last
CHORD_N = 3  # notes at once that want the weight of a down-bow
_ALIKE = 1e-6
_NEARLY = 0.01


class Columns(NamedTuple):
    """What the features need of every note of a part, an array each; seconds and quarters.

    Seconds are those of playing: `before` is the note that is played before each (−1 before the
    first), and what the page has between the two counts for nothing. `place` is 0 at a first beat
    to 4 between the beats; `leads` marks notes of a bar that is a pickup; `opens` those of the
    first bar of a repeated section or of what follows one; `rest_s` is how long the bow has rested
    before a note; `held_s` what a fermata adds to one, which is time to lift, and counts as rest
    before the next; `chord` marks three notes or more at once.
    """

    before: Ints
    onset_s: Floats
    end_s: Floats
    onset_q: Floats
    end_q: Floats
    duration_q: Floats
    bar: Ints
    bar_q: Floats
    beat_q: Floats
    place: Ints
    compound: Bools
    leads: Bools
    opens: Bools
    grace: Bools
    rest_s: Floats
    held_s: Floats
    chord: Bools


@lru_cache(maxsize=8)
def columns_of(part: Part) -> Columns:
    """The columns of a part, one row a note; kept, because no choice changes them."""
    table, bars = note_table(part), part.bars
    bar = np.array(table["bar_index"], dtype=np.int64)
    way = played(part)
    before = np.array(way.before, dtype=np.int64)
    onset_s = np.array(table["onset_s"], dtype=float) - np.array(way.skipped_s, dtype=float)
    onset_q, duration_q = as_quarters(table["onset_q"]), as_quarters(table["duration_q"])
    weight = np.array(table["metric_weight"], dtype=float)
    opening = _opening(bars)
    counted = {m: (m.length_q, m.beat_q, m.is_compound) for m in {b.metre for b in bars}}
    metres = [counted[b.metre] for b in bars]
    of_bar = {
        "bar_q": as_quarters(length_q for length_q, _, _ in metres),
        "beat_q": as_quarters(beat_q for _, beat_q, _ in metres),
        "compound": np.array([compound for _, _, compound in metres], dtype=bool),
        "leads": np.array([_is_pickup(b) for b in bars], dtype=bool),
        "opens": np.array([b.index in opening for b in bars], dtype=bool),
    }
    end_s = onset_s + np.array(table["duration_s"], dtype=float)
    fermata = np.array([Articulation.FERMATA in a for a in table["articulations"]], dtype=bool)
    held_s = np.where(fermata, FERMATA_SHARE / (1 + FERMATA_SHARE) * (end_s - onset_s), 0.0)
    bowed = ~np.array(table["pizzicato"], dtype=bool)
    until_s = _until_s(before, np.where(bowed, end_s - held_s, 0.0), way.as_written)
    return Columns(
        before=before,
        onset_s=onset_s,
        end_s=end_s,
        rest_s=np.maximum(onset_s - until_s, 0.0),
        held_s=held_s,
        chord=np.array([len(p) >= CHORD_N for p in table["pitches"]], dtype=bool),
        onset_q=onset_q,
        end_q=onset_q + duration_q,
        duration_q=duration_q,
        bar=bar,
        place=(weight[:, None] <= np.array(_LEAST_WEIGHT)[None, :]).sum(axis=1),
        grace=np.array(table["grace"], dtype=bool),
        **{name: values[bar] for name, values in of_bar.items()},
    )


def _until_s(before: Ints, end_s: Floats, as_written: bool) -> Floats:
    """Until when the bow has played before each note."""
    if as_written:
        latest: Floats = np.maximum.accumulate(np.append(0.0, end_s))[:-1]
        return latest
    found: list[float] = []
    ends = end_s.tolist()
    for came in before.tolist():
        found.append(max(found[came], ends[came]) if came >= 0 else 0.0)
    return np.array(found)


def forks(c: Columns) -> Bools:
    """The notes before which the way parts, as into a first ending, or comes from elsewhere."""
    follow_n = np.bincount(c.before[c.before >= 0], minlength=len(c.before))
    found: Bools = c.before != np.arange(-1, len(c.before) - 1)
    found |= (c.before >= 0) & (follow_n[np.maximum(c.before, 0)] > 1)
    return found


def as_quarters(values: Iterable[Fraction]) -> Floats:
    """As floats, in a third of the time that they take by themselves."""
    return np.array([v.numerator / v.denominator for v in values], dtype=np.float64)


def _is_pickup(bar: Bar) -> bool:
    return bar.number == 0 or (bar.index == 0 and bar.duration_q < bar.metre.length_q)


def _opening(bars: Sequence[Bar]) -> set[int]:
    starts = {b.index for b in bars if b.repeat_start}
    return starts | {b.index + 1 for b in bars if b.repeat_end}


class Bows(NamedTuple):
    """Some bows of a part by their first and last notes; `before` and `after` are the bows
    beside each of them, −1 where there is none."""

    first: Ints
    last: Ints


def _seconds(c: Columns, bows: Bows) -> Floats:
    taken: Floats = c.end_s[bows.last] - c.onset_s[bows.first]
    return taken


def _takes_bar(c: Columns, bows: Bows) -> Bools:
    quarters = c.end_q[bows.last] - c.onset_q[bows.first]
    found: Bools = quarters >= rules.WHOLE_BAR_SHARE * c.bar_q[bows.first]
    return found


def resets(c: Columns, bows: Bows, lift_s: float) -> Bools:
    """Where a rest before a bow is so long that a phrase begins as it would alone. A single note
    between rests inside a bar begins none: there the bow waits on the string.

    Args:
        lift_s: what the player needs to lift and set down.
    """
    long = c.rest_s[bows.first] >= max(rules.RESET_S, lift_s)
    found: Bools = long & (bows.first > bows.first.min(initial=0))
    found &= (c.place[bows.first] == 0) | goes_on(c, bows)
    return found


def goes_on(c: Columns, bows: Bows) -> Bools:
    """Whether another note follows a bow without a rest."""
    following = np.minimum(bows.last + 1, len(c.rest_s) - 1)
    found: Bools = c.rest_s[following] < rules.STOPPING_REST_S
    found &= following > bows.last
    return found


def direction_features(c: Columns, bows: Bows, following: Ints, lift_s: float) -> Features:
    """What makes a bow go down rather than up.

    Args:
        following: the note after each bow; −1 at the end.
        lift_s: what the player needs to lift and set down.
    """
    place, compound = c.place[bows.first], c.compound[bows.first]
    whole = _takes_bar(c, bows)
    found: Features = {"down_whole_bar": whole}
    for code, name in enumerate(PLACES):
        here = (place == code) & ~whole
        found[f"down_on_{name}"] = here
        if name != "beat":  # a compound bar has none
            found[f"down_on_{name}_compound"] = here & compound
    last_in_bar = (following >= 0) & (c.bar[following] != c.bar[bows.first])
    reset = resets(c, bows, lift_s)
    single = bows.first == bows.last
    into = last_in_bar & (c.place[following] == 0)
    pickup = c.leads[bows.first] | (reset & (place != 0))
    found["down_pickup"] = pickup & into & single
    found["down_pickup_slur"] = pickup & into & ~single
    quick = _seconds(c, bows) < rules.QUICK_S
    found["down_quick_on_bar"] = (place == 0) & quick & ~whole
    begins = bows.first == bows.first.min(initial=0)
    found["down_start"] = (begins | reset) & (place == 0)
    found["down_slow_on_bar"] = (place == 0) & (_seconds(c, bows) >= rules.SLOW_BOW_S)
    found["down_last_in_bar"] = (place != 0) & into & single
    chord, earlier = c.chord[bows.first], np.maximum(c.before[bows.first], 0)
    again = c.chord[earlier] & (c.rest_s[bows.first] < rules.CHORD_REST_S) & ~begins
    found["down_chord"] = chord & ~again
    return found


def rest_before_s(c: Columns, before: Bows, bows: Bows) -> Floats:
    """Seconds of rest between each bow and the one before it."""
    rest: Floats = c.onset_s[bows.first] - c.end_s[before.last] + c.held_s[before.last]
    return np.maximum(rest, 0.0)


def hook_features(c: Columns, before: Bows, bows: Bows, pair: Bools, lift_s: float) -> Features:
    """What going on the same way, after a stop, costs; nothing after a rest that resets.

    Args:
        before: the bow before each of `bows`.
        pair: whether it is a short note after a long one.
        lift_s: what the player needs to lift and set down.
    """
    place = c.place[bows.first]
    rest_s = rest_before_s(c, before, bows)
    rests = rest_s > rules.REST_S
    new_bar = c.bar[bows.first] != c.bar[before.first]
    opens = c.opens[bows.first] & new_bar
    found: Features = {"hook": np.ones(len(place), dtype=bool)}
    for code, name in enumerate(PLACES):
        found[f"hook_on_{name}"] = place == code
    found["hook_over_bar"] = new_bar & ~opens
    found["hook_at_seam"] = opens
    found["hook_over_rest"] = rests
    found["hook_over_rest_on_sub"] = rests & (place == len(PLACES) - 1)
    shorter_s = np.minimum(_seconds(c, before), _seconds(c, bows))
    found["hook_quick"] = ~rests & (shorter_s < rules.QUICK_S)
    found["hook_after_long"] = _seconds(c, before) > rules.LONG_S
    found["hook_pair"] = pair
    was_slur = before.first != before.last
    singles = ~was_slur & (bows.first == bows.last)
    was_q = c.end_q[before.last] - c.onset_q[before.first]
    ratio = was_q / np.maximum(c.end_q[bows.last] - c.onset_q[bows.first], _ALIKE)
    found["hook_equal_notes"] = singles & (np.abs(ratio - 1) < _NEARLY)
    found["hook_to_longer"] = singles & (ratio < 0.5 + _NEARLY)
    found["hook_after_slur_on_sub"] = was_slur & (place == len(PLACES) - 1)
    slow = ~rests & (shorter_s >= rules.SLOW_HOOK_S)
    found["hook_slow"] = slow
    found["hook_slow_plain"] = slow & singles
    found["hook_slow_pair"] = slow & pair
    plain = ~rests & singles
    found["hook_plain"] = plain
    found["hook_plain_inside"] = plain & ~new_bar
    found["hook_plain_pair"] = plain & pair
    found["hook_second"] = before.first == before.first.min(initial=0)
    on = ~resets(c, bows, lift_s)
    return {name: here & on for name, here in found.items()}


def up_features(c: Columns, before: Bows, bows: Bows, lift_s: float) -> Features:
    """What going on upwards costs more than going on downwards."""
    rests = rest_before_s(c, before, bows) > rules.REST_S
    on = ~resets(c, bows, lift_s)
    return {"hook_up": on, "hook_up_over_rest": rests & on}
