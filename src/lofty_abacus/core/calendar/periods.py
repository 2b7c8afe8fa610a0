"""Periods: the day, week, month, quarter, half-year or year that holds a day (section 3)."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

from lofty_abacus.core.calendar.settings import MONTHS, CalendarSettings, Grain
from lofty_abacus.core.calendar.shifting import shift_first_day
from lofty_abacus.core.calendar.weeks import week_first, week_number
from lofty_abacus.core.days import add_days


@dataclass(frozen=True, order=True)
class Period:
    """One period; periods sort by time, never by label. `year` and `number` are what it is called by."""

    first: date
    last: date
    grain: Grain
    year: int
    number: int

    @property
    def key(self) -> str:
        """A sortable name: 2026, 2026-H1, 2026-Q4, 2026-03, 2026-W07, 2026-03-14."""
        match self.grain:
            case "year":
                return f"{self.year}"
            case "half_year":
                return f"{self.year}-H{self.number}"
            case "quarter":
                return f"{self.year}-Q{self.number}"
            case "month":
                return f"{self.first:%Y-%m}"
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
    year_first = fiscal_year_first(day, calendar)
    length = MONTHS[grain]
    index = ((day.year - year_first.year) * 12 + day.month - year_first.month) // length
    first = shift_first_day(year_first, index * length, "month")
    last = add_days(shift_first_day(first, length, "month"), -1)
    return Period(first, last, grain, fiscal_year_name(year_first, calendar), index + 1)


def step_period(period: Period, n: int, calendar: CalendarSettings) -> Period:
    """The period n steps later (earlier, if negative), by calendar position."""
    return period_of(shift_first_day(period.first, n, period.grain), period.grain, calendar)


def periods_between(first: date, last: date, grain: Grain, calendar: CalendarSettings) -> list[Period]:
    """Every period that holds a day of first..last, sold in or not, in time order; [] if last is before first."""
    found: list[Period] = []
    day = first
    while day <= last:
        found.append(period_of(day, grain, calendar))
        day = add_days(found[-1].last, 1)
    return found
