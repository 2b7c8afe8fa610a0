"""The current window: to date, from a period's first day to the as-of date (section 6)."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from typing import Literal

from lofty_abacus.core.calendar.periods import Period, period_of
from lofty_abacus.core.calendar.settings import CalendarSettings
from lofty_abacus.core.windows.coverage import Coverage
from lofty_abacus.core.windows.ranges import DayRange
from lofty_abacus.core.windows.window import Window, window_on

ToDateGrain = Literal["week", "month", "quarter", "half_year", "year"]


@dataclass(frozen=True)
class ToDate:
    """The running period of a grain, up to the as-of date. Ended on its last day it is the whole period."""

    grain: ToDateGrain
    kind: Literal["to_date"] = "to_date"


def running_period(window: ToDate, as_of: date, calendar: CalendarSettings) -> Period:
    """The period of the window's grain that holds the as-of date."""
    return period_of(as_of, window.grain, calendar)


def current_window(window: ToDate, as_of: date, coverage: Coverage, calendar: CalendarSettings) -> Window:
    """Resolve the current window; it is cut at the as-of date first."""
    period = running_period(window, as_of, calendar)
    return window_on(DayRange(period.first, as_of), DayRange(period.first, period.last), coverage, as_of)
