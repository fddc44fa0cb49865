"""A practice programme as calendar events (iCalendar, RFC 5545), one for every practice day."""

from __future__ import annotations

import hashlib
from collections.abc import Sequence
from datetime import UTC, datetime, time, timedelta

from icalendar import Calendar, Event

from plectrum.core.advice.care import CAUTION
from plectrum.core.practice.programme import Programme
from plectrum.core.practice.week import Day
from plectrum.core.wording import say

PRODUCT = "-//Plectrum//practice calendar//EN"


def programme_as_ics(
    programme: Programme, title: str, at: time | None = None, now: datetime | None = None
) -> bytes:
    """The days of a programme.

    Args:
        title: of the piece.
        at: when practice begins, in whatever zone the calendar is in; None for whole days.
        now: the time it is written, for the stamp.
    """
    return days_as_ics(programme.days, title, programme.players, at, now)


def days_as_ics(
    days: Sequence[Day],
    title: str,
    players: tuple[str, ...] = (),
    at: time | None = None,
    now: datetime | None = None,
) -> bytes:
    """Days of practice, as `programme_as_ics` has them."""
    calendar = Calendar()
    calendar.add("prodid", PRODUCT)
    calendar.add("version", "2.0")
    stamp = now or datetime.now(UTC)
    for day in days:
        if day.entries:
            calendar.add_component(_event(day, title, players, at, stamp))
    data: bytes = calendar.to_ical()
    return data


def _event(
    day: Day, title: str, players: tuple[str, ...], at: time | None, stamp: datetime
) -> Event:
    who = ", ".join(players)
    event = Event()
    digest = hashlib.blake2b(f"{title}\n{who}".encode(), digest_size=8).hexdigest()
    event.add("uid", f"{day.on.isoformat()}-{digest}@plectrum")
    event.add("dtstamp", stamp)
    if at is None:
        event.add("dtstart", day.on)
        event.add("dtend", day.on + timedelta(days=1))
    else:
        begin = datetime.combine(day.on, at)
        event.add("dtstart", begin)
        event.add("dtend", begin + timedelta(minutes=day.minutes))
    event.add("summary", say("Practice: {title}, {minutes} min", title=title, minutes=day.minutes))
    lines = [
        say("{title}, {minutes} min", title=entry.title, minutes=entry.minutes)
        for entry in day.entries
    ]
    event.add("description", "\n".join([*lines, "", CAUTION]))
    return event
