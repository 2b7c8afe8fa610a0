"""Base windows: what the current window is compared with, aligned by *same dates* (section 6)."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from typing import Literal

from lofty_abacus.core.calendar.periods import period_of
from lofty_abacus.core.calendar.settings import CalendarSettings
from lofty_abacus.core.calendar.shifting import cuts_day_number, month_end_rule_matters, shift_bounds
from lofty_abacus.core.calendar.weeks import day_in_week, week_number
from lofty_abacus.core.errors import QuestionError
from lofty_abacus.core.windows.coverage import Coverage
from lofty_abacus.core.windows.current import ToDate
from lofty_abacus.core.windows.fairness import Fairness, fairness_of
from lofty_abacus.core.windows.ranges import DayRange
from lofty_abacus.core.windows.window import Window, missing_window, window_on

MOST_BACK = 400


@dataclass(frozen=True)
class PeriodBase:
    """The period so many units back (ahead, if negative). The unit is the current window's own grain, or year."""

    back: int
    unit: Literal["week", "month", "quarter", "half_year", "year"]
    align: Literal["same_dates"] = "same_dates"
    kind: Literal["period"] = "period"


@dataclass(frozen=True)
class BaseWindow:
    """A base, resolved: its window, how fair it is, and what proof says of the shift."""

    base: PeriodBase
    window: Window
    fairness: Fairness | None
    """None where either window is undefined: there is no pair."""
    overlaps: bool
    month_end_rule_matters: bool


def check_base(base: PeriodBase, window: ToDate, part: str) -> None:
    """Refuse a base that the current window cannot have. Raises QuestionError."""
    if base.back == 0:
        raise QuestionError(part, "0 back is the current window itself.", "Take 1 or more back, or -1 or less for ahead.")
    if abs(base.back) > MOST_BACK:
        raise QuestionError(part, f"{base.back} back is out of reach.", f"Take at most {MOST_BACK}.")
    if base.unit not in (window.grain, "year"):
        raise QuestionError(
            part,
            f"a {window.grain.replace('_', '-')} to date has no base that is {base.unit.replace('_', '-')}s back.",
            f"Step by {window.grain.replace('_', '-')} (previous period) or by year.",
        )


def base_window(
    base: PeriodBase, window: ToDate, current: Window, as_of: date, coverage: Coverage, calendar: CalendarSettings
) -> BaseWindow:
    """Resolve a base against the resolved current window. Coverage never cuts what the base is aligned to."""
    assert current.asked is not None, "a to-date window always has days"
    bounds = _aligned(base, window, current.asked, calendar)
    if bounds is None:
        return BaseWindow(base, missing_window(None, "not_applicable"), None, False, False)
    period = period_of(bounds.first, window.grain, calendar)
    resolved = window_on(bounds, DayRange(period.first, period.last), coverage, as_of)
    by_months = window.grain != "week"
    cut = by_months and cuts_day_number(current.asked.last, -base.back, base.unit, calendar)
    pair = None if current.reason or resolved.reason else fairness_of(current, resolved, day_cut=cut)
    return BaseWindow(
        base,
        resolved,
        pair,
        not bounds.is_disjoint(current.asked),
        by_months and month_end_rule_matters(current.asked.last, -base.back, base.unit),
    )


def _aligned(base: PeriodBase, window: ToDate, current: DayRange, calendar: CalendarSettings) -> DayRange | None:
    if window.grain != "week":
        return DayRange(*shift_bounds(current.first, current.last, -base.back, base.unit, calendar))
    if base.unit == "week":
        return current.shift(-7 * base.back)
    year, number = week_number(current.first, calendar.week_start)
    first = day_in_week(year - base.back, number, 0, calendar.week_start)
    return None if first is None else current.shift((first - current.first).days)
