"""How a ledger counts time."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from typing import Literal

from propcache.api import cached_property

Grain = Literal["day", "week", "month", "quarter", "half_year", "year"]
GRAINS: tuple[Grain, ...] = ("day", "week", "month", "quarter", "half_year", "year")
#: Months in a grain that is made of months.
MONTHS: dict[Grain, int] = {"month": 1, "quarter": 3, "half_year": 6, "year": 12}


@dataclass(frozen=True)
class WeekYears:
    """Years of 52 or 53 whole weeks (section 3).

    pattern: weeks of the three months of a quarter. last_weekday: on which each year ends, 0 = Monday ... 6 = Sunday, nearest to
    the end of the anchor month, or the last one in it. named: after the calendar year of the anchor date, or the one before.
    """

    pattern: Literal["4-4-5", "4-5-4", "5-4-4"] = "4-4-5"
    last_weekday: int = 5
    anchor_month: int = 1
    end: Literal["nearest", "last"] = "nearest"
    named: Literal["anchor", "before"] = "anchor"

    def __post_init__(self) -> None:
        if not 0 <= self.last_weekday <= 6:
            raise ValueError(f"last_weekday is 0 (Monday) to 6 (Sunday), not {self.last_weekday}")
        if not 1 <= self.anchor_month <= 12:
            raise ValueError(f"anchor_month is 1 to 12, not {self.anchor_month}")

    @property
    def weeks(self) -> tuple[int, ...]:
        """Weeks of the twelve months of a year of 52 weeks; week 53 belongs to the last."""
        return tuple(int(part) for part in self.pattern.split("-")) * 4


@dataclass(frozen=True)
class CalendarSettings:
    """A ledger's calendar (section 3).

    fiscal_start_month: 1-12, the month on whose first day a fiscal year starts.
    fiscal_year_named: after the calendar year in which the fiscal year ends, or starts.
    week_start: weekday on which weeks start, 0 = Monday ... 6 = Sunday.
    month_end_rule: whether the last day of a month shifts to the last day of the target month.
    week_years: where given, years of whole weeks whose periods replace months, quarters, halves and fiscal years.
    working_weekdays, holidays: what a working day is: one of these weekdays that is no holiday (section 6).
    """

    fiscal_start_month: int = 1
    fiscal_year_named: Literal["end", "start"] = "end"
    week_start: int = 0
    month_end_rule: bool = True
    week_years: WeekYears | None = None
    working_weekdays: tuple[int, ...] = (0, 1, 2, 3, 4)
    holidays: tuple[date, ...] = ()

    def __post_init__(self) -> None:
        if not 1 <= self.fiscal_start_month <= 12:
            raise ValueError(f"fiscal_start_month is 1 to 12, not {self.fiscal_start_month}")
        if not 0 <= self.week_start <= 6:
            raise ValueError(f"week_start is 0 (Monday) to 6 (Sunday), not {self.week_start}")
        if not self.working_weekdays or not set(self.working_weekdays) <= set(range(7)):
            raise ValueError(f"working_weekdays are some of 0 (Monday) to 6 (Sunday), not {self.working_weekdays}")

    @cached_property
    def free_days(self) -> frozenset[date]:
        """The holidays as a set."""
        return frozenset(self.holidays)
