"""New limits for a player, proposed from what was measured, with the evidence; the teacher takes
them or leaves them.

A wild value (a stopped clock, a slip of the finger) must not move a limit, so medians are used and
values far from the median are left out: more than three times the usual spread, where the spread is
the median distance from the median times 1.4826, which equals the standard deviation of normal
errors (published statistics, quoted from memory). How many values are asked for, and how much must
change, are own defaults.
"""

from __future__ import annotations

import statistics
from collections import defaultdict
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta
from typing import Any

from plectrum.core.advice.words import way_words
from plectrum.core.instrument.bow import Bow
from plectrum.core.instrument.specification import instrument
from plectrum.core.log.records import Measure, Measured
from plectrum.core.player.player import Player
from plectrum.core.score.model import Direction
from plectrum.core.wording import say, tr
from plectrum.core.wording.dates import day_month

SPREADS, NORMAL = 3.0, 1.4826
LEAST_SPREAD = 0.1  # of the median: closer than this nothing is wild
VALUES_N = 3  # so many values at least
RECENT = timedelta(weeks=3)
CHANGE = 0.05  # a smaller change is not worth a proposal
SPEED_MARGIN = 1.15  # between slowest, comfortable and fastest


@dataclass(frozen=True, slots=True)
class Proposal:
    """One limit that measurements speak for.

    Attributes:
        field: of the player. now, proposed: its values, as the player's file has them.
        text: what is proposed, in the instrument's own numbers. evidence: what it rests on.
    """

    field: str
    now: float
    proposed: float
    text: str
    evidence: str


def robust(values: Sequence[float]) -> tuple[float, list[float]]:
    """The median of values without the wild ones, and those that were kept.

    Raises:
        ValueError: no values.
    """
    if not values:
        raise ValueError("no values to take a median of")
    middle = statistics.median(values)
    spread = NORMAL * statistics.median(abs(v - middle) for v in values)
    limit = SPREADS * max(spread, LEAST_SPREAD * abs(middle))
    kept = [v for v in values if abs(v - middle) <= limit]
    return statistics.median(kept), kept


def proposals(
    measured: Iterable[Measured], player: Player, bow: Bow, today: date
) -> tuple[Proposal, ...]:
    """What the measurements of the last weeks propose for a player.

    Args:
        measured: of this player on this instrument.
        player: as in the file, not yet on the instrument.
    """
    recent = [m for m in measured if today - RECENT <= m.on <= today]
    groups: dict[str, list[Measured]] = defaultdict(list)
    for m in recent:
        groups[m.measure].append(m)
    ratio = instrument(bow.instrument, bow.size).speed_ratio
    found = [
        *_reach(groups, player, bow),
        *_slowest(groups[Measure.LONGEST_BOW], player, bow, ratio),
        *_quick(groups, player, bow),
    ]
    return tuple(p for p in found if abs(p.proposed - p.now) > CHANGE * max(abs(p.now), 0.05))


def with_proposals(player: Player, taken: Iterable[Proposal]) -> Player:
    """The player with proposals taken; what they are pushed against gives way, so that slowest,
    comfortable and fastest stay in this order."""
    wanted: dict[str, Any] = {p.field: p.proposed for p in taken}
    new = replace(player, **wanted)
    slowest, fastest = new.slowest_mm_s, new.fastest_mm_s
    if fastest < slowest * SPEED_MARGIN**2:
        fastest = slowest * SPEED_MARGIN**2
    comfortable = min(fastest / SPEED_MARGIN, max(slowest * SPEED_MARGIN, new.comfortable_mm_s))
    low, high = new.usable_from, new.usable_to
    if high - low < 0.1:
        low, high = player.usable_from, player.usable_to
    return replace(
        new, comfortable_mm_s=comfortable, fastest_mm_s=fastest, usable_from=low, usable_to=high
    )


def _tries(group: Iterable[Measured]) -> list[float]:
    return [t for m in group for t in (m.tries or (m.value,))]


def _days(group: Sequence[Measured]) -> str:
    days = sorted({m.on for m in group})
    first, last = days[0], days[-1]
    if first == last:
        return say("on {day}", day=day_month(first))
    return say(
        "from {first} to {last}",
        first=day_month(first),
        last=day_month(last),
    )


def _slowest(
    group: Sequence[Measured], player: Player, bow: Bow, ratio: float
) -> Iterable[Proposal]:
    """The slowest clean speed: the whole usable bow in the longest time that every string and
    way allows, so it is the shortest of their medians."""
    by_kind: dict[tuple[int | None, str | None], list[Measured]] = defaultdict(list)
    for m in group:
        by_kind[m.string, m.direction].append(m)
    usable_mm = (player.usable_to - player.usable_from) * bow.hair_mm
    names = instrument(bow.instrument).string_names
    medians = []
    count = 0
    for kind, rows in by_kind.items():
        tries = _tries(rows)
        if len(tries) >= VALUES_N:
            middle, kept = robust(tries)
            medians.append((middle, kind, len(kept)))
            count += len(kept)
    if not medians:
        return
    shortest_s, (string, direction), _ = min(medians, key=lambda row: row[0])
    speed = usable_mm / shortest_s
    where = " ".join(
        part
        for part in (
            way_words(Direction(direction)) if direction else "",
            say("on the {string} string", string=names[string]) if string is not None else "",
        )
        if part
    )
    yield Proposal(
        "slowest_mm_s",
        player.slowest_mm_s,
        speed / ratio,
        say("slowest clean bow {speed:.1f} cm/s", speed=speed / 10),
        say(
            "{count} tries {days}: {shortest_s:.1f} s for {usable_mm:.0f} cm, the shortest{where}",
            count=count,
            days=_days(group),
            shortest_s=shortest_s,
            usable_mm=usable_mm / 10,
            where=f", {where}" if where else "",
        ),
    )


def _reach(groups: dict[str, list[Measured]], player: Player, bow: Bow) -> Iterable[Proposal]:
    for measure, name, now, words in (
        (Measure.REACH_FROM, "usable_from", player.usable_from, tr("usable bow from")),
        (Measure.REACH_TO, "usable_to", player.usable_to, tr("usable bow to")),
    ):
        for at_mm, evidence in _median(groups[measure]):
            share = min(1.0, max(0.0, at_mm / bow.hair_mm))
            text = say("{words} {at:.1f} cm", words=words, at=at_mm / 10)
            yield Proposal(name, now, share, text, evidence)


def _quick(groups: dict[str, list[Measured]], player: Player, bow: Bow) -> Iterable[Proposal]:
    """How fast the bow goes, how quickly it speaks again, and how soon it is on the next string;
    a player is kept as he would be on the violin."""
    ratio = instrument(bow.instrument, bow.size).speed_ratio
    for speed, evidence in _median(groups[Measure.FASTEST_BOW]):
        text = say("fastest clean bow {speed:.0f} cm/s", speed=speed / 10)
        yield Proposal("fastest_mm_s", player.fastest_mm_s, speed / ratio, text, evidence)
    for count, evidence in _median(groups[Measure.STROKES]):
        text = say("{count:.1f} clean strokes a second", count=count)
        own = count / instrument(bow.instrument).speed_ratio
        yield Proposal("strokes_per_s", player.strokes_per_s, own, text, evidence)
    for seconds, evidence in _median(groups[Measure.LEVEL_CHANGE]):
        text = say("to the next string in {seconds:.2f} s", seconds=seconds)
        seconds = min(5.0, max(0.02, seconds))
        yield Proposal("level_change_s", player.level_change_s, seconds, text, evidence)


def _median(group: Sequence[Measured]) -> Iterable[tuple[float, str]]:
    """What measurements come to, with what that rests on; nothing of too few."""
    tries = _tries(group)
    if len(tries) >= VALUES_N:
        value, kept = robust(tries)
        days = _days(group)
        yield value, say("{count} tries {days}, their median", count=len(kept), days=days)
