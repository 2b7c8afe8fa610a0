"""Civil days as numbers: days since 1 January 1970, so that columns and calendars speak of the same thing."""

from __future__ import annotations

import calendar
from datetime import date, timedelta

EPOCH = date(1970, 1, 1)
#: The years of the calendar: windows and as-of dates lie within them.
FIRST_DAY, LAST_DAY = date(1900, 1, 1), date(2199, 12, 31)
_EPOCH_ORDINAL = EPOCH.toordinal()


def day_number(day: date) -> int:
    """Days since 1970-01-01."""
    return day.toordinal() - _EPOCH_ORDINAL


def day_of(number: int) -> date:
    """The civil day of a day number."""
    return date.fromordinal(int(number) + _EPOCH_ORDINAL)


def add_days(day: date, days: int) -> date:
    """The day so many days later (earlier, if negative)."""
    return day + timedelta(days=days)


def month_length(year: int, month: int) -> int:
    """Number of days of a calendar month."""
    return calendar.monthrange(year, month)[1]


def is_month_end(day: date) -> bool:
    """Whether the day is the last of its month."""
    return day.day == month_length(day.year, day.month)
