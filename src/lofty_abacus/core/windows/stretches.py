"""Running totals and moving figures as windows of their own (section 9)."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import date
from typing import Literal

from lofty_abacus.core.calendar.periods import period_of, step_period
from lofty_abacus.core.calendar.settings import GRAINS, CalendarSettings, Grain
from lofty_abacus.core.calendar.weeks import week_number, week_one
from lofty_abacus.core.windows.coverage import Coverage
from lofty_abacus.core.windows.ranges import DayRange
from lofty_abacus.core.windows.window import Window, missing_window, window_on


@dataclass(frozen=True)
class RunningTotal:
    """From the last reset (whole periods of a grain; None: from the first day of the range) to the end of each period.

    by: the periods that it runs along where the statement has no level of time; levels of time take its place.
    """

    reset: Grain | None = None
    by: Grain | None = None
    kind: Literal["running"] = "running"

    @property
    def name(self) -> str:
        """In the ids of columns."""
        return f"running_{self.reset}" if self.reset else "running"


@dataclass(frozen=True)
class Moving:
    """The last n periods together, or their mean; fewer than n are incomplete, unless as many as exist will do.

    by: the periods that it moves along where the statement has no level of time; levels of time take its place.
    """

    periods: int
    of: Literal["sum", "mean"] = "mean"
    as_many: bool = False
    by: Grain | None = None
    kind: Literal["moving"] = "moving"

    @property
    def name(self) -> str:
        """In the ids of columns."""
        return f"moving_{self.of}_{self.periods}" + ("_or_fewer" if self.as_many else "")


Along = RunningTotal | Moving


@dataclass(frozen=True)
class StretchWindow:
    """A stretch; its figure is divided by `divisor` (the periods of a moving mean). periods: how many a moving figure is of."""

    window: Window
    divisor: int = 1
    periods: int | None = None


def stretch_of(
    along: Along,
    window: Window,
    grain: Grain | None,
    start: date | None,
    as_of: date,
    coverage: Coverage,
    calendar: CalendarSettings,
) -> StretchWindow:
    """The stretch that ends with a period's window; undefined where the period is.

    grain: of the period, None where it is none. start: first day of the whole range, for a running total that is never reset.
    """
    if window.asked is None or window.asked.first > as_of:
        return StretchWindow(missing_window(window.period, window.reason or "after_as_of"))
    if grain is None or window.period is None:
        return StretchWindow(missing_window(window.period, "not_applicable"))
    if isinstance(along, Moving):
        return _moving(along, window.period, grain, as_of, coverage, calendar)
    first = start if along.reset is None else _reset(window.period.first, grain, along.reset, calendar)
    if first is None or first > window.asked.last:
        return StretchWindow(missing_window(window.period, "not_applicable"))
    return StretchWindow(window_on(DayRange(first, window.asked.last), window.period, coverage, as_of))


def last_period(window: Window, grain: Grain, calendar: CalendarSettings) -> Window:
    """The window as that of the period of a grain that its last counted day lies in; undefined windows stay as they are."""
    if window.asked is None:
        return window
    period = period_of(window.asked.last, grain, calendar)
    return replace(window, period=DayRange(period.first, period.last))


def _reset(first: date, grain: Grain, reset: Grain, calendar: CalendarSettings) -> date | None:
    """First day of the stretch that a period lies in; None for a reset finer than the period."""
    if GRAINS.index(reset) < GRAINS.index(grain):
        return None
    if grain == "week" and reset == "year":
        # Weeks reset with the week-numbering year.
        return week_one(week_number(first, calendar.week_start)[0], calendar.week_start)
    return period_of(first, reset, calendar).first


def _moving(
    along: Moving, period: DayRange, grain: Grain, as_of: date, coverage: Coverage, calendar: CalendarSettings
) -> StretchWindow:
    """A period counts when it begins inside coverage and has ended by the as-of date; periods sold nothing in count."""
    last = period_of(period.first, grain, calendar)
    periods = [step_period(last, -back, calendar) for back in range(along.periods - 1, -1, -1)]
    span = coverage.span
    counting = [each for each in periods if span and span.first <= each.first <= span.last and each.last <= as_of]
    if not counting or (len(counting) < along.periods and not along.as_many):
        return StretchWindow(missing_window(period, "window_incomplete"))
    days = DayRange(counting[0].first, counting[-1].last)
    return StretchWindow(window_on(days, None, coverage, as_of), len(counting) if along.of == "mean" else 1, len(counting))
