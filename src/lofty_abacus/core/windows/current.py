"""The current window (section 6): any one period, the running one, to date, the last n, or two dates.

It is cut at the as-of date first.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from typing import Literal

from lofty_abacus.core.calendar.periods import Period, period_named, period_of, step_period
from lofty_abacus.core.calendar.settings import CalendarSettings, Grain
from lofty_abacus.core.calendar.shifting import shift_bounds
from lofty_abacus.core.days import add_days, is_month_end
from lofty_abacus.core.errors import QuestionError
from lofty_abacus.core.saying import say
from lofty_abacus.core.windows.as_of import check_years, within_years
from lofty_abacus.core.windows.coverage import Coverage
from lofty_abacus.core.windows.ranges import DayRange
from lofty_abacus.core.windows.window import Window, missing_window, window_on

ToDateGrain = Literal["week", "month", "quarter", "half_year", "year"]
MOST_PERIODS = 4000


@dataclass(frozen=True)
class ToDate:
    """The running period of a grain, up to the as-of date. Ended on its last day it is the whole period.

    completed: up to the last whole period of that finer grain that has ended by the as-of date (*completed periods only*).
    """

    grain: ToDateGrain
    kind: Literal["to_date"] = "to_date"
    completed: Grain | None = None


@dataclass(frozen=True)
class RunningPeriod:
    """The period that holds the as-of date (back 0), or the k-th before it."""

    grain: Grain
    back: int = 0
    kind: Literal["running"] = "running"


@dataclass(frozen=True)
class NamedPeriod:
    """One period by its name: 2025, 2025-H1, 2025-Q4, 2026-03, 2026-W12, 2026-03-14."""

    period: str
    kind: Literal["period"] = "period"


@dataclass(frozen=True)
class LastPeriods:
    """The last n days, weeks, months, quarters, half-years or years, ending on the as-of date or with the last completed one."""

    count: int
    grain: Grain
    ending: Literal["as_of", "completed"] = "as_of"
    kind: Literal["last"] = "last"


@dataclass(frozen=True)
class Dates:
    """Two dates, both counted; without a last one up to the as-of date."""

    first: date
    last: date | None = None
    kind: Literal["dates"] = "dates"


CurrentWindow = ToDate | RunningPeriod | NamedPeriod | LastPeriods | Dates


@dataclass(frozen=True)
class Step:
    """How far the window before lies: so many units, by calendar position."""

    count: int
    unit: Grain


@dataclass(frozen=True)
class Current:
    """The current window, resolved. grain: of the period that it is (part of), None for a range. step: to the one before."""

    window: Window
    grain: Grain | None
    step: Step


def current_window(window: CurrentWindow, as_of: date, coverage: Coverage, calendar: CalendarSettings) -> Current:
    """Resolve the current window. Raises QuestionError for a period that the calendar has not, and for ranges that are none."""
    found = _resolved(window, as_of, coverage, calendar)
    for days in (found.window.asked, found.window.period):
        if days is not None:
            check_years(days.first, days.last, "window")
    return found


def _resolved(window: CurrentWindow, as_of: date, coverage: Coverage, calendar: CalendarSettings) -> Current:
    match window:
        case ToDate():
            period = period_of(as_of, window.grain, calendar)
            if window.completed is None:
                return on_period(period, as_of, coverage, calendar)
            return _completed(period, window.completed, as_of, coverage, calendar)
        case RunningPeriod():
            _at_least(window.back, 0, "window", "back")
            with within_years("window"):
                before = step_period(period_of(as_of, window.grain, calendar), -window.back, calendar)
            return on_period(before, as_of, coverage, calendar)
        case NamedPeriod():
            return on_period(period_named(window.period, calendar, "window"), as_of, coverage, calendar)
        case LastPeriods():
            return _last(window, as_of, coverage, calendar)
        case Dates():
            return on_dates(dates_of(window, as_of, "window"), as_of, coverage, calendar)


def on_period(period: Period, as_of: date, coverage: Coverage, calendar: CalendarSettings) -> Current:
    """One period as the current window, cut at the as-of date."""
    whole = DayRange(period.first, period.last)
    asked = DayRange(period.first, min(period.last, as_of)) if period.first <= as_of else whole
    return Current(window_on(asked, whole, coverage, as_of), period.grain, Step(1, period.grain))


def on_dates(days: DayRange, as_of: date, coverage: Coverage, calendar: CalendarSettings) -> Current:
    """Two dates as the current window, cut at the as-of date. Whole months step by months, others by days."""
    asked = DayRange(days.first, min(days.last, as_of)) if days.first <= as_of else days
    months = (asked.last.year - asked.first.year) * 12 + asked.last.month - asked.first.month + 1
    whole = asked.first.day == 1 and is_month_end(asked.last) and calendar.week_years is None
    return Current(window_on(asked, days, coverage, as_of), None, Step(months, "month") if whole else Step(asked.days, "day"))


def dates_of(window: Dates, as_of: date, part: str) -> DayRange:
    """The days of two dates; an open end is the as-of date. Raises QuestionError for a range that ends before it starts."""
    last = window.last or max(as_of, window.first)
    check_years(window.first, last, part)
    if last < window.first:
        raise QuestionError(
            part,
            say(
                "the range ends on {isoformat}, before it starts on {isoformat2}.",
                isoformat=last.isoformat(),
                isoformat2=window.first.isoformat(),
            ),
            say("Exchange the two dates."),
        )
    return DayRange(window.first, last)


def _completed(period: Period, grain: Grain, as_of: date, coverage: Coverage, calendar: CalendarSettings) -> Current:
    running = period_of(as_of, grain, calendar)
    last = as_of if as_of == running.last else add_days(running.first, -1)
    whole = DayRange(period.first, period.last)
    if last < period.first:
        return Current(missing_window(whole, "window_incomplete"), period.grain, Step(1, period.grain))
    return Current(window_on(DayRange(period.first, last), whole, coverage, as_of), period.grain, Step(1, period.grain))


def _last(window: LastPeriods, as_of: date, coverage: Coverage, calendar: CalendarSettings) -> Current:
    _at_least(window.count, 1, "window", "the number of periods")
    with within_years("window"):
        return _last_within(window, as_of, coverage, calendar)


def _last_within(window: LastPeriods, as_of: date, coverage: Coverage, calendar: CalendarSettings) -> Current:
    last = as_of
    if window.ending == "completed":
        running = period_of(as_of, window.grain, calendar)
        last = as_of if as_of == running.last else add_days(running.first, -1)
        first = step_period(period_of(last, window.grain, calendar), 1 - window.count, calendar).first
    else:
        # The days after the same date n units earlier: the last month up to 17 October begins on 18 September.
        first = add_days(shift_bounds(last, last, -window.count, window.grain, calendar)[1], 1)
    asked = DayRange(first, last)
    return Current(window_on(asked, asked, coverage, as_of), None, Step(window.count, window.grain))


def _at_least(number: int, least: int, part: str, what: str) -> None:
    if not least <= number <= MOST_PERIODS:
        raise QuestionError(
            part,
            say("{what} is {number}.", what=what, number=number),
            say("Take {least} to {most_periods}.", least=least, most_periods=MOST_PERIODS),
        )
