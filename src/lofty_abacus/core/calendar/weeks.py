"""Weeks: week 1 holds 4 January, whatever weekday they start on (section 3)."""

from __future__ import annotations

from datetime import date

from lofty_abacus.core.days import add_days


def week_first(day: date, week_start: int) -> date:
    """First day of the week that holds `day`."""
    return add_days(day, -((day.weekday() - week_start) % 7))


def week_one(year: int, week_start: int) -> date:
    """First day of week 1 of a week-numbering year."""
    return week_first(date(year, 1, 4), week_start)


def week_number(day: date, week_start: int) -> tuple[int, int]:
    """(week-numbering year, week) of a day."""
    year = day.year
    if day >= week_one(year + 1, week_start):
        year += 1
    elif day < week_one(year, week_start):
        year -= 1
    return year, (day - week_one(year, week_start)).days // 7 + 1


def weeks_in(year: int, week_start: int) -> int:
    """Number of weeks of a week-numbering year: 52 or 53."""
    return (week_one(year + 1, week_start) - week_one(year, week_start)).days // 7


def day_in_week(year: int, week: int, offset: int, week_start: int) -> date | None:
    """The day `offset` days into a numbered week; None if the year has no such week."""
    if week > weeks_in(year, week_start):
        return None
    return add_days(week_one(year, week_start), 7 * (week - 1) + offset)
