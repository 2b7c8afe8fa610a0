"""How a ledger counts time."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

Grain = Literal["day", "week", "month", "quarter", "half_year", "year"]
GRAINS: tuple[Grain, ...] = ("day", "week", "month", "quarter", "half_year", "year")
#: Months in a grain that is made of months.
MONTHS: dict[Grain, int] = {"month": 1, "quarter": 3, "half_year": 6, "year": 12}


@dataclass(frozen=True)
class CalendarSettings:
    """A ledger's calendar (section 3).

    fiscal_start_month: 1-12, the month on whose first day a fiscal year starts.
    fiscal_year_named: after the calendar year in which the fiscal year ends, or starts.
    week_start: weekday on which weeks start, 0 = Monday ... 6 = Sunday.
    month_end_rule: whether the last day of a month shifts to the last day of the target month.
    """

    fiscal_start_month: int = 1
    fiscal_year_named: Literal["end", "start"] = "end"
    week_start: int = 0
    month_end_rule: bool = True

    def __post_init__(self) -> None:
        if not 1 <= self.fiscal_start_month <= 12:
            raise ValueError(f"fiscal_start_month is 1 to 12, not {self.fiscal_start_month}")
        if not 0 <= self.week_start <= 6:
            raise ValueError(f"week_start is 0 (Monday) to 6 (Sunday), not {self.week_start}")
