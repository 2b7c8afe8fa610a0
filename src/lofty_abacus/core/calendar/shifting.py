"""Shifting days and windows (section 3): one shift of n units, never n shifts."""

from __future__ import annotations

from datetime import date

from lofty_abacus.core.calendar.settings import MONTHS, CalendarSettings, Grain
from lofty_abacus.core.calendar.week_years import shift_in_weeks
from lofty_abacus.core.days import add_days, is_month_end, month_length
from lofty_abacus.core.errors import BeyondCalendarError
from lofty_abacus.core.saying import say


def shift_day(day: date, n: int, unit: Grain, calendar: CalendarSettings) -> date:
    """Shift a day by n units, with the month-end rule where the calendar has it.

    Days and weeks are exact. By months the day of the month is kept, cut to the target month's length; the last day of a month
    goes to the last day of the target month. In years of whole weeks a day keeps week and weekday, cut at the period's last.
    Raises QuestionError where the calendar has no such year.
    """
    return _shift(day, n, unit, calendar, month_end=calendar.month_end_rule)


def shift_first_day(day: date, n: int, unit: Grain, calendar: CalendarSettings) -> date:
    """Shift the first day of a window: as `shift_day`, but never by the month-end rule."""
    return _shift(day, n, unit, calendar, month_end=False)


def shift_bounds(first: date, last: date, n: int, unit: Grain, calendar: CalendarSettings) -> tuple[date, date]:
    """Shift a window: its last day follows the month-end rule, its first does not; one day shifts as a day."""
    moved = shift_day(last, n, unit, calendar)
    return (moved if first == last else min(shift_first_day(first, n, unit, calendar), moved)), moved


def cuts_day_number(day: date, n: int, unit: Grain, calendar: CalendarSettings) -> bool:
    """Whether the shift changes the day of the month (or of the period) because the target is too short for it.

    A last day that goes to a last day by the month-end rule is not cut: the two lengths differ by the calendar only.
    """
    if unit not in MONTHS:
        return False
    if calendar.week_years is not None:
        return shift_in_weeks(day, n, unit, calendar.week_years)[1]
    if calendar.month_end_rule and is_month_end(day):
        return False
    return _shift(day, n, unit, calendar, month_end=False).day < day.day


def month_end_rule_matters(day: date, n: int, unit: Grain, calendar: CalendarSettings) -> bool:
    """Whether the shift with the month-end rule gives another day than without it (proof says so)."""
    return _shift(day, n, unit, calendar, month_end=True) != _shift(day, n, unit, calendar, month_end=False)


def _shift(day: date, n: int, unit: Grain, calendar: CalendarSettings, *, month_end: bool) -> date:
    try:
        if unit == "day":
            return add_days(day, n)
        if unit == "week":
            return add_days(day, 7 * n)
        if calendar.week_years is not None:
            return shift_in_weeks(day, n, unit, calendar.week_years)[0]
        months = day.year * 12 + day.month - 1 + n * MONTHS[unit]
        year, month = months // 12, months % 12 + 1
        length = month_length(year, month)
        number = length if month_end and is_month_end(day) else min(day.day, length)
        return date(year, month, number)
    except (ValueError, OverflowError) as error:
        raise BeyondCalendarError(
            "bases", say("{n} {unit}s from {day} is no date of this calendar.", n=n, unit=unit, day=day), say("Take fewer.")
        ) from error
