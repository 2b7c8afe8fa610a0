"""Which days of a base match the current window (section 6, *Alignment*)."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from lofty_abacus.core.calendar.settings import CalendarSettings, Grain
from lofty_abacus.core.calendar.shifting import cuts_day_number, month_end_rule_matters, shift_bounds
from lofty_abacus.core.calendar.working_days import is_working_day, working_day, working_days
from lofty_abacus.core.days import add_days
from lofty_abacus.core.windows.ranges import DayRange
from lofty_abacus.core.windows.reasons import Reason

Alignment = Literal["same_dates", "same_days", "same_weekdays", "same_working_days", "whole"]


@dataclass(frozen=True)
class Aligned:
    """The days of a base, or the reason why there are none.

    is_shift: whether they are the current window shifted without a day number cut. equal_working_days: as asked for.
    """

    days: DayRange | None
    reason: Reason | None = None
    is_shift: bool = False
    equal_working_days: bool = False
    month_end_rule_matters: bool = False


def aligned(
    how: Alignment,
    current: DayRange,
    whole: DayRange,
    base: DayRange,
    n: int,
    unit: Grain,
    calendar: CalendarSettings,
    *,
    of_period: bool = True,
) -> Aligned:
    """Align a base that lies n units away (earlier, if negative).

    current: the asked days. whole, base: the period that they are a part of and the base's, or the days themselves where they
    are a range (of_period False).
    """
    match how:
        case "same_dates":
            if of_period and current == whole:
                matters = month_end_rule_matters(current.last, n, unit, calendar)
                return Aligned(base, is_shift=True, month_end_rule_matters=matters)
            return _same_dates(current, n, unit, calendar)
        case "same_days":
            days = DayRange(base.first, min(add_days(base.first, current.days - 1), base.last))
            return Aligned(days)
        case "same_weekdays":
            moved = shift_bounds(current.first, current.last, n, unit, calendar)[1]
            days_away = (moved - current.last).days
            weeks = (abs(days_away) + 3) // 7 or 1
            return Aligned(current.shift(-7 * weeks if n < 0 else 7 * weeks), is_shift=True)
        case "same_working_days":
            return _same_working_days(current, base, calendar)
        case "whole":
            return Aligned(base)


def _same_dates(current: DayRange, n: int, unit: Grain, calendar: CalendarSettings) -> Aligned:
    days = DayRange(*shift_bounds(current.first, current.last, n, unit, calendar))
    return Aligned(
        days,
        is_shift=not cuts_day_number(current.last, n, unit, calendar),
        month_end_rule_matters=month_end_rule_matters(current.last, n, unit, calendar),
    )


def _same_working_days(current: DayRange, base: DayRange, calendar: CalendarSettings) -> Aligned:
    """k working days to the current last day: the base ends on its k-th, or on the day before its (k+1)-th."""
    count = working_days(current.first, current.last, calendar)
    if count == 0:
        return Aligned(None, "window_incomplete")
    on_working_day = is_working_day(current.last, calendar)
    end = working_day(base.first, base.last, count if on_working_day else count + 1, calendar)
    if end is not None:
        return Aligned(DayRange(base.first, end if on_working_day else add_days(end, -1)), equal_working_days=True)
    return Aligned(base, equal_working_days=working_days(base.first, base.last, calendar) == count)
