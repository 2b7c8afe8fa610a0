"""Years of 52 or 53 whole weeks, and the months, quarters and halves they are made of (section 3)."""

from __future__ import annotations

from datetime import date
from functools import lru_cache
from itertools import accumulate

from lofty_abacus.core.calendar.settings import MONTHS, Grain, WeekYears
from lofty_abacus.core.days import add_days, month_length


def year_end(number: int, years: WeekYears) -> date:
    """Last day of the year whose anchor date lies in a calendar year."""
    anchor = date(number, years.anchor_month, month_length(number, years.anchor_month))
    back = (anchor.weekday() - years.last_weekday) % 7
    return add_days(anchor, 7 - back if years.end == "nearest" and back > 3 else -back)


def year_number(day: date, years: WeekYears) -> int:
    """The calendar year of the anchor date of the year that holds a day."""
    number = day.year - 1
    while year_end(number, years) < day:
        number += 1
    return number


@lru_cache(maxsize=1000)
def month_firsts(number: int, years: WeekYears) -> tuple[date, ...]:
    """First days of a year's twelve months, and of the next year."""
    first = add_days(year_end(number - 1, years), 1)
    return (*(add_days(first, 7 * weeks) for weeks in accumulate((0, *years.weeks[:-1]))), add_days(year_end(number, years), 1))


def place_of(day: date, grain: Grain, years: WeekYears) -> int:
    """The running number of the period of months that holds a day: neighbours differ by one, whatever the year."""
    number = year_number(day, years)
    month = sum(first <= day for first in month_firsts(number, years)[1:-1])
    return (number * 12 + month) // MONTHS[grain]


def bounds_at(place: int, grain: Grain, years: WeekYears) -> tuple[date, date]:
    """First and last day of the period of a running number."""
    number, month = divmod(place * MONTHS[grain], 12)
    firsts = month_firsts(number, years)
    return firsts[month], add_days(firsts[month + MONTHS[grain]], -1)


def name_of(place: int, grain: Grain, years: WeekYears) -> tuple[int, int]:
    """(year, number in it, from 1) that a period is called by."""
    in_year = 12 // MONTHS[grain]
    return place // in_year - (years.named == "before"), place % in_year + 1


def shift_in_weeks(day: date, n: int, grain: Grain, years: WeekYears) -> tuple[date, bool]:
    """A day n periods later: it keeps its week and weekday in the period, cut at the period's last; and whether it was cut."""
    place = place_of(day, grain, years)
    first, _ = bounds_at(place, grain, years)
    to_first, to_last = bounds_at(place + n, grain, years)
    moved = add_days(to_first, (day - first).days)
    return min(moved, to_last), moved > to_last
