"""Base windows: what the current window is compared with (section 6)."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from typing import Literal

from lofty_abacus.core.calendar.periods import Period, period_named, period_of, periods_between, position_in, step_period
from lofty_abacus.core.calendar.settings import GRAINS, CalendarSettings, Grain
from lofty_abacus.core.calendar.shifting import shift_bounds
from lofty_abacus.core.calendar.weeks import day_in_week, week_number
from lofty_abacus.core.errors import QuestionError
from lofty_abacus.core.saying import say
from lofty_abacus.core.windows.alignment import Aligned, Alignment, aligned
from lofty_abacus.core.windows.as_of import check_years, within_years
from lofty_abacus.core.windows.coverage import Coverage
from lofty_abacus.core.windows.current import Current, Dates, NamedPeriod, dates_of
from lofty_abacus.core.windows.fairness import Fairness, fairness_of
from lofty_abacus.core.windows.ranges import DayRange
from lofty_abacus.core.windows.window import Window, missing_window, window_on

MOST_BACK = 4000


@dataclass(frozen=True)
class PeriodBase:
    """The same stretch so many units back (ahead, if negative).

    unit: 'period' is the current window's own step (previous period; of two dates, the stretch directly before; of the last n,
    the n before), else the window's own grain or 'year'. day_back: how many back at the day level of a series, where that
    differs (7: the same weekday a week earlier).
    """

    back: int
    unit: Literal["period", "day", "week", "month", "quarter", "half_year", "year"]
    align: Alignment = "same_dates"
    kind: Literal["period"] = "period"
    day_back: int | None = None


@dataclass(frozen=True)
class ShiftedBase:
    """The current days moved back by so many units of any grain (ahead, if negative)."""

    back: int
    unit: Grain
    align: Literal["same_dates", "same_weekdays"] = "same_dates"
    kind: Literal["shifted"] = "shifted"


@dataclass(frozen=True)
class GivenBase:
    """A second period or range outright."""

    window: NamedPeriod | Dates
    kind: Literal["given"] = "given"


@dataclass(frozen=True)
class FixedBase:
    """One period for all rows of a series; a coarser one gives its period of the same position. align 'whole': all of it."""

    period: str
    align: Literal["same_dates", "same_days", "whole"] = "same_dates"
    kind: Literal["fixed"] = "fixed"


@dataclass(frozen=True)
class LedgerBase:
    """A plan: the same days of another ledger of the same currency, or (align 'whole') the whole period that they are part of.

    spread: lines that stand for whole weeks or months are spread evenly over their days, or working days (section 11).
    """

    ledger: str
    align: Literal["same_dates", "whole"] = "same_dates"
    spread: Literal["days", "working_days"] = "days"
    kind: Literal["ledger"] = "ledger"


Base = PeriodBase | ShiftedBase | GivenBase | FixedBase | LedgerBase


@dataclass(frozen=True)
class BaseWindow:
    """A base, resolved: its window, how fair it is, and what proof says of the shift."""

    base: Base
    window: Window
    fairness: Fairness | None
    """None where either window is undefined: there is no pair."""
    overlaps: bool
    month_end_rule_matters: bool
    without_holidays: bool = False
    """Aligned by working days though no holiday list is kept."""
    is_current: bool = False
    """A fixed base on its own row."""


def base_window(
    base: Base, current: Current, as_of: date, coverage: Coverage, calendar: CalendarSettings, part: str
) -> BaseWindow:
    """Resolve a base against the resolved current window. Coverage never cuts what the base is aligned to.

    Raises QuestionError for a base that the current window cannot have.
    """
    if isinstance(base, LedgerBase):
        return _of_ledger(base, current, coverage)
    if current.window.asked is None or current.window.period is None:
        return BaseWindow(base, missing_window(None, current.window.reason or "not_applicable"), None, False, False)
    with within_years(part):
        found, period = _aligned(base, current, current.window.asked, current.window.period, as_of, calendar, part)
    if found.days is not None:
        check_years(found.days.first, found.days.last, part)
    if found.days is None:
        return BaseWindow(base, missing_window(period, found.reason or "not_applicable"), None, False, False)
    window = window_on(found.days, period, coverage, as_of)
    undefined = current.window.reason or window.reason
    same_grain = current.grain is not None and (
        not isinstance(base, GivenBase) or _is_period_of(base, current.grain, calendar, part)
    )
    pair = None if undefined else fairness_of(current.window, window, found, same_grain=same_grain)
    is_current = isinstance(base, FixedBase) and period == current.window.period
    by_working_days = isinstance(base, PeriodBase) and base.align == "same_working_days"
    return BaseWindow(
        base,
        window,
        pair,
        not is_current and not found.days.is_disjoint(current.window.asked),
        found.month_end_rule_matters,
        by_working_days and not calendar.holidays,
        is_current,
    )


def _of_ledger(base: LedgerBase, current: Current, coverage: Coverage) -> BaseWindow:
    """The same days in the other ledger's own coverage: the as-of date cuts actuals, never plans."""
    days = current.window.asked if base.align == "same_dates" else current.window.period
    if days is None:
        counted = current.window.counted
        window = Window(None, None, counted, False, None if counted.ranges else "not_applicable")
        return BaseWindow(base, window, None, False, False)
    window = window_on(days, current.window.period, coverage, date.max)
    undefined = current.window.reason or window.reason
    pair = None if undefined else fairness_of(current.window, window, Aligned(days), same_grain=True)
    return BaseWindow(base, window, pair, False, False)


def _aligned(
    base: PeriodBase | ShiftedBase | GivenBase | FixedBase,
    current: Current,
    asked: DayRange,
    whole: DayRange,
    as_of: date,
    calendar: CalendarSettings,
    part: str,
) -> tuple[Aligned, DayRange | None]:
    """The base's days, and the whole of which they are a part."""
    match base:
        case PeriodBase():
            return _of_period(base, current, asked, whole, calendar, part)
        case ShiftedBase():
            _check_back(base.back, part)
            moved = DayRange(*shift_bounds(asked.first, asked.last, -base.back, base.unit, calendar))
            found = aligned(base.align, asked, asked, moved, -base.back, base.unit, calendar, of_period=False)
            return found, found.days if current.grain is None else _around(found, current.grain, calendar)
        case GivenBase():
            days = given_days(base, as_of, calendar, part)
            return Aligned(days), days
        case FixedBase():
            return _fixed(base, current, asked, whole, calendar, part)


def _of_period(
    base: PeriodBase, current: Current, asked: DayRange, whole: DayRange, calendar: CalendarSettings, part: str
) -> tuple[Aligned, DayRange | None]:
    _check_back(base.back, part)
    back = base.back if base.day_back is None or current.grain != "day" else base.day_back
    if base.unit in ("period", current.step.unit) and (base.unit == "period" or current.step.count == 1):
        count, unit = back * current.step.count, current.step.unit
    elif base.unit == "year":
        count, unit = base.back, "year"
    else:
        name = "range of dates" if current.grain is None else current.grain.replace("_", "-")
        raise QuestionError(
            part,
            say("a {name} has no base that is {replace}s back.", name=name, replace=base.unit.replace("_", "-")),
            say("Step by period (the previous one) or by year, or shift the days."),
        )
    if current.grain == "week" and unit == "year":
        found = _same_week(asked, whole, base.back, calendar)
        if base.align not in ("same_dates", "same_weekdays", "whole"):
            raise QuestionError(
                part, say("weeks of an earlier year align by weekday."), say("Take same dates or the whole week.")
            )
        return (found if base.align != "whole" or found.days is None else Aligned(_week(found.days, calendar))), (
            None if found.days is None else _week(found.days, calendar)
        )
    if current.grain is None:
        moved = DayRange(*shift_bounds(whole.first, whole.last, -count, unit, calendar))
        return aligned(base.align, asked, whole, moved, -count, unit, calendar, of_period=False), moved
    shifted = shift_bounds(whole.first, whole.first, -count, unit, calendar)[0]
    period = period_of(shifted, current.grain, calendar)
    bounds = DayRange(period.first, period.last)
    return aligned(base.align, asked, whole, bounds, -count, unit, calendar), bounds


def _same_week(asked: DayRange, whole: DayRange, back: int, calendar: CalendarSettings) -> Aligned:
    """The week of the same number of an earlier year; `not_applicable` where that has no such week."""
    year, number = week_number(whole.first, calendar.week_start)
    first = day_in_week(year - back, number, 0, calendar.week_start)
    return Aligned(None, "not_applicable") if first is None else Aligned(asked.shift((first - whole.first).days), is_shift=True)


def _week(days: DayRange, calendar: CalendarSettings) -> DayRange:
    week = period_of(days.first, "week", calendar)
    return DayRange(week.first, week.last)


def _around(found: Aligned, grain: Grain, calendar: CalendarSettings) -> DayRange | None:
    """The period that aligned days lie in, for the frame; the days themselves where they lie in several."""
    if found.days is None:
        return None
    period = period_of(found.days.first, grain, calendar)
    return DayRange(period.first, period.last) if period.last >= found.days.last else found.days


def given_days(base: GivenBase, as_of: date, calendar: CalendarSettings, part: str) -> DayRange:
    """The days of a base given outright."""
    if isinstance(base.window, Dates):
        return dates_of(base.window, as_of, part)
    period = period_named(base.window.period, calendar, part)
    return DayRange(period.first, period.last)


def _is_period_of(base: GivenBase, grain: Grain | None, calendar: CalendarSettings, part: str) -> bool:
    return isinstance(base.window, NamedPeriod) and period_named(base.window.period, calendar, part).grain == grain


def _fixed(
    base: FixedBase, current: Current, asked: DayRange, whole: DayRange, calendar: CalendarSettings, part: str
) -> tuple[Aligned, DayRange | None]:
    named = period_named(base.period, calendar, part)
    period = named
    if current.grain is None:
        if base.align != "whole":
            raise QuestionError(
                part, say("a range of dates has no place in a fixed period."), say("Take it whole, or give the base's dates.")
            )
    elif GRAINS.index(named.grain) < GRAINS.index(current.grain):
        raise QuestionError(
            part,
            say(
                "{period} is finer than the {replace}s it is compared with.",
                period=base.period,
                replace=current.grain.replace("_", "-"),
            ),
            say("Take a coarser period."),
        )
    elif named.grain != current.grain:
        at = _same_position(whole, current.grain, named, calendar)
        if at is None:
            return Aligned(None, "not_applicable"), None
        period = at
    bounds = DayRange(period.first, period.last)
    if base.align == "whole" or asked == whole:
        return Aligned(bounds, is_shift=asked == whole), bounds
    if base.align == "same_days" or current.grain is None:
        return aligned("same_days", asked, whole, bounds, 0, "day", calendar), bounds
    return _same_dates_of(asked, whole, bounds, current.grain, calendar), bounds


def _same_dates_of(asked: DayRange, whole: DayRange, bounds: DayRange, grain: Grain, calendar: CalendarSettings) -> Aligned:
    """The part of a period anywhere in time that matches the part of the current one: one shift by their distance."""
    if grain in ("day", "week"):
        return Aligned(asked.shift((bounds.first - whole.first).days), is_shift=True)
    here, there = (period_of(each.first, grain, calendar) for each in (whole, bounds))
    n = len(periods_between(min(here, there).first, max(here, there).first, grain, calendar)) - 1
    return aligned("same_dates", asked, whole, bounds, -n if there.first < here.first else n, grain, calendar)


def _same_position(whole: DayRange, grain: Grain, named: Period, calendar: CalendarSettings) -> Period | None:
    """March against March of the base year; None where the base has no such position (week 53)."""
    if grain == "week" and named.grain == "year":
        _, number = week_number(whole.first, calendar.week_start)
        first = day_in_week(named.year, number, 0, calendar.week_start)
        return None if first is None else period_of(first, "week", calendar)
    position = position_in(period_of(whole.first, grain, calendar), named.grain, calendar)
    found = step_period(period_of(named.first, grain, calendar), position, calendar)
    return found if found.first <= named.last else None


def _check_back(back: int, part: str) -> None:
    if back == 0:
        raise QuestionError(
            part, say("0 back is the current window itself."), say("Take 1 or more back, or -1 or less for ahead.")
        )
    if abs(back) > MOST_BACK:
        raise QuestionError(
            part, say("{back} back is out of reach.", back=back), say("Take at most {most_back}.", most_back=MOST_BACK)
        )
