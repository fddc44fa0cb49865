"""Days as the language writes them: "16 November", "12 Oct", "Monday 30"."""

from __future__ import annotations

from datetime import date

from plectrum.core.wording.texts import say, tr

MONTHS = (
    tr("January"), tr("February"), tr("March"), tr("April"), tr("May"), tr("June"), tr("July"),
    tr("August"), tr("September"), tr("October"), tr("November"), tr("December"),
)  # fmt: skip
MONTHS_SHORT = (
    tr("Jan"), tr("Feb"), tr("Mar"), tr("Apr"), tr("May", "short"), tr("Jun"), tr("Jul"),
    tr("Aug"), tr("Sep"), tr("Oct"), tr("Nov"), tr("Dec"),
)  # fmt: skip
WEEKDAYS = (
    tr("Monday"), tr("Tuesday"), tr("Wednesday"), tr("Thursday"), tr("Friday"), tr("Saturday"),
    tr("Sunday"),
)  # fmt: skip
WEEKDAYS_SHORT = (
    tr("Mo", "day"), tr("Tu", "day"), tr("We", "day"), tr("Th", "day"), tr("Fr", "day"),
    tr("Sa", "day"), tr("Su", "day"),
)  # fmt: skip


def day_month(on: date) -> str:
    """As "16 November"."""
    return say("{day} {month}", day=on.day, month=MONTHS[on.month - 1])


def day_month_year(on: date) -> str:
    """As "16 November 2026"."""
    return f"{day_month(on)} {on.year}"


def day_month_short(on: date) -> str:
    """As "16 Nov"."""
    return say("{day} {month}", day=on.day, month=MONTHS_SHORT[on.month - 1])


def day_month_short_year(on: date) -> str:
    """As "16 Nov 2026"."""
    return f"{day_month_short(on)} {on.year}"


def month_short(on: date) -> str:
    """As "Nov"."""
    return MONTHS_SHORT[on.month - 1]


def weekday_and_day(on: date) -> str:
    """As "Monday 30"."""
    return say("{weekday} {day}", weekday=WEEKDAYS[on.weekday()], day=on.day)


def weekday_short_and_day(on: date) -> str:
    """As "Mo 30"."""
    return say("{weekday} {day}", weekday=WEEKDAYS_SHORT[on.weekday()], day=on.day)
