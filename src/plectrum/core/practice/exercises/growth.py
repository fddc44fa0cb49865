"""How far an exercise has grown: from what the log says of it, not set by hand.

Every day on which it went well makes the next day one more. After a pause it goes back, never on;
after pain it begins again. The lengths are own defaults.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from datetime import date

PAUSE_DAYS = 7  # a week without it is a pause
BACK_EVERY_DAYS = 3  # of a pause, one day's growth is taken back


def practice_day(done: Iterable[tuple[date, bool]], today: date, pain: Iterable[date] = ()) -> int:
    """Which day of practice today is for an exercise, from 1 on.

    Args:
        done: days on which it was done before, and whether it went well; the last of a day counts.
        pain: days on which something hurt.
    """
    went: dict[date, bool] = dict(sorted(done, key=lambda row: row[0]))
    hurt = sorted(pain)
    day, last = 1, date.min
    for on, well in went.items():
        if on >= today:
            break
        day = 1 if any(last < p < on for p in hurt) else _after_pause(day, last, on)
        day = 1 if on in hurt else day + well
        last = on
    if any(last < p <= today for p in hurt):
        return 1
    return _after_pause(day, last, today)


def _after_pause(day: int, last: date, on: date) -> int:
    if last == date.min:
        return day
    over = (on - last).days - PAUSE_DAYS
    return max(1, day - (1 + over // BACK_EVERY_DAYS)) if over > 0 else day


def practice_days(
    done: Mapping[str, Iterable[tuple[date, bool]]], today: date, pain: Iterable[date] = ()
) -> dict[str, int]:
    """The day of practice for each exercise, by its name."""
    hurt = list(pain)
    return {name: practice_day(rows, today, hurt) for name, rows in done.items()}
