"""Working days: the working weekdays that are no holidays (section 6, *same number of working days*)."""

from __future__ import annotations

from datetime import date

from lofty_abacus.core.calendar.settings import CalendarSettings
from lofty_abacus.core.days import add_days


def is_working_day(day: date, calendar: CalendarSettings) -> bool:
    """Whether a day is worked on."""
    return day.weekday() in calendar.working_weekdays and day not in calendar.free_days


def working_days(first: date, last: date, calendar: CalendarSettings) -> int:
    """Number of working days of first..last; 0 if last is before first."""
    return sum(is_working_day(add_days(first, n), calendar) for n in range((last - first).days + 1))


def working_day(first: date, last: date, number: int, calendar: CalendarSettings) -> date | None:
    """The number-th working day (from 1) of first..last; None if there are fewer."""
    day = first
    while day <= last:
        number -= is_working_day(day, calendar)
        if number == 0:
            return day
        day = add_days(day, 1)
    return None
