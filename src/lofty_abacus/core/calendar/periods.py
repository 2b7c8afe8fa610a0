"""Periods: the day, week, month, quarter, half-year or year that holds a day (section 3)."""

from __future__ import annotations

import re
from dataclasses import dataclass
from datetime import date

from lofty_abacus.core.calendar.settings import MONTHS, CalendarSettings, Grain
from lofty_abacus.core.calendar.shifting import shift_first_day
from lofty_abacus.core.calendar.week_years import bounds_at, name_of, place_of
from lofty_abacus.core.calendar.weeks import day_in_week, week_first, week_number
from lofty_abacus.core.days import FIRST_DAY, LAST_DAY, add_days
from lofty_abacus.core.errors import BeyondCalendarError, QuestionError
from lofty_abacus.core.saying import say

_KEY = re.compile(r"(\d{4})(?:-(?:([HQPW])(\d{1,2})|(\d{2})(?:-(\d{2}))?))?")
_LETTERS: dict[str, Grain] = {"H": "half_year", "Q": "quarter", "P": "month", "W": "week"}


@dataclass(frozen=True, order=True)
class Period:
    """One period; periods sort by time, never by label. `year` and `number` are what it is called by.

    of_weeks: a month of a year of whole weeks, which is no calendar month.
    """

    first: date
    last: date
    grain: Grain
    year: int
    number: int
    of_weeks: bool = False

    @property
    def key(self) -> str:
        """A sortable name: 2026, 2026-H1, 2026-Q4, 2026-03 (2026-P03 of whole weeks), 2026-W07, 2026-03-14."""
        match self.grain:
            case "year":
                return f"{self.year}"
            case "half_year":
                return f"{self.year}-H{self.number}"
            case "quarter":
                return f"{self.year}-Q{self.number}"
            case "month":
                return f"{self.year}-P{self.number:02d}" if self.of_weeks else f"{self.first:%Y-%m}"
            case "week":
                return f"{self.year}-W{self.number:02d}"
            case "day":
                return self.first.isoformat()


def fiscal_year_first(day: date, calendar: CalendarSettings) -> date:
    """First day of the fiscal year that holds `day`."""
    year = day.year - (day.month < calendar.fiscal_start_month)
    return date(year, calendar.fiscal_start_month, 1)


def fiscal_year_name(first: date, calendar: CalendarSettings) -> int:
    """The year a fiscal year that starts on `first` is named after."""
    return first.year + (calendar.fiscal_year_named == "end" and calendar.fiscal_start_month > 1)


def period_of(day: date, grain: Grain, calendar: CalendarSettings) -> Period:
    """The period of a grain that holds a day. Fiscal quarters and halves count from the fiscal year's start."""
    if grain == "day":
        return Period(day, day, grain, day.year, day.timetuple().tm_yday)
    if grain == "week":
        first = week_first(day, calendar.week_start)
        year, number = week_number(day, calendar.week_start)
        return Period(first, add_days(first, 6), grain, year, number)
    if calendar.week_years is not None:
        place = place_of(day, grain, calendar.week_years)
        return Period(*bounds_at(place, grain, calendar.week_years), grain, *name_of(place, grain, calendar.week_years), True)
    year_first = fiscal_year_first(day, calendar)
    length = MONTHS[grain]
    index = ((day.year - year_first.year) * 12 + day.month - year_first.month) // length
    first = shift_first_day(year_first, index * length, "month", calendar)
    last = add_days(shift_first_day(first, length, "month", calendar), -1)
    return Period(first, last, grain, fiscal_year_name(year_first, calendar), index + 1)


def step_period(period: Period, n: int, calendar: CalendarSettings) -> Period:
    """The period n steps later (earlier, if negative), by calendar position."""
    return period_of(shift_first_day(period.first, n, period.grain, calendar), period.grain, calendar)


def periods_between(first: date, last: date, grain: Grain, calendar: CalendarSettings) -> list[Period]:
    """Every period that holds a day of first..last, sold in or not, in time order; [] if last is before first."""
    found: list[Period] = []
    day = first
    while day <= last:
        found.append(period_of(day, grain, calendar))
        day = add_days(found[-1].last, 1)
    return found


def position_in(period: Period, parent: Grain, calendar: CalendarSettings) -> int:
    """Which of its parent's periods of that grain a period is, from 0: March is the third month of a calendar year."""
    outer = period_of(period.first, parent, calendar)
    return len(periods_between(outer.first, period.first, period.grain, calendar)) - 1


def period_named(key: str, calendar: CalendarSettings, part: str) -> Period:
    """The period of a sortable name. Raises QuestionError where there is none of that name in this calendar."""
    match = _KEY.fullmatch(key)
    found = None if match is None else _named(match, calendar, part)
    if found is not None and not FIRST_DAY <= found.first <= found.last <= LAST_DAY:
        raise QuestionError(
            part,
            say("{key} is beyond the calendar's years.", key=key),
            say("Take periods from {year} to {year2}.", year=FIRST_DAY.year, year2=LAST_DAY.year),
        )
    if found is None or found.key != key:
        month = "2026-P03" if calendar.week_years else "2026-03"
        raise QuestionError(
            part,
            say("{key!r} is no period of this ledger's calendar.", key=key),
            say("Write 2026, 2026-H1, 2026-Q4, {month}, 2026-W07 or 2026-03-14.", month=month),
        )
    return found


def _named(match: re.Match[str], calendar: CalendarSettings, part: str) -> Period | None:
    year = int(match[1])
    grain = _LETTERS[match[2]] if match[2] else "day" if match[5] else "month" if match[4] else "year"
    try:
        if grain == "day":
            return period_of(date(year, int(match[4]), int(match[5])), "day", calendar)
        if grain == "week":
            day = day_in_week(year, int(match[3]), 0, calendar.week_start)
            return None if day is None else period_of(day, "week", calendar)
        if grain == "month" and match[4]:
            return period_of(date(year, int(match[4]), 1), "month", calendar)
        number = int(match[3] or 1)
        if calendar.week_years is not None:
            place = (year + (calendar.week_years.named == "before")) * 12 // MONTHS[grain] + number - 1
            return period_of(bounds_at(place, grain, calendar.week_years)[0], grain, calendar)
        first = date(
            year - (fiscal_year_name(date(year, calendar.fiscal_start_month, 1), calendar) - year), calendar.fiscal_start_month, 1
        )
        return period_of(shift_first_day(first, (number - 1) * MONTHS[grain], "month", calendar), grain, calendar)
    except BeyondCalendarError:
        raise QuestionError(
            part,
            say("{match} is beyond the calendar's years.", match=match[0]),
            say("Take periods from {year} to {year2}.", year=FIRST_DAY.year, year2=LAST_DAY.year),
        ) from None
    except (ValueError, OverflowError):
        return None
