"""What the server calls windows, bases and periods, as a file that the front end's tests read: `python -m tests.telling.named`."""

from __future__ import annotations

import json
from dataclasses import replace
from datetime import date
from itertools import product
from typing import Any

from pydantic import TypeAdapter

from lofty_abacus.core.calendar.settings import GRAINS
from lofty_abacus.core.statement.levels import TimeLevel
from lofty_abacus.core.statement.statement import ShownMeasure, Statement
from lofty_abacus.core.windows.bases import Base, FixedBase, GivenBase, LedgerBase, PeriodBase, ShiftedBase
from lofty_abacus.core.windows.current import CurrentWindow, Dates, LastPeriods, NamedPeriod, RunningPeriod, ToDate
from lofty_abacus.telling.names import period_words
from lofty_abacus.telling.windows import base_name, plain_window_name, whole_window_name

AS_OF = date(2026, 10, 17)
PLAIN = Statement((ShownMeasure("net_sales"),))
#: Statements that a base is told of: another window, one level of time, two levels.
STATEMENTS = (
    PLAIN,
    replace(PLAIN, window=ToDate("quarter")),
    replace(PLAIN, rows=(TimeLevel("month"),)),
    replace(PLAIN, rows=(TimeLevel("year"), TimeLevel("half_year"))),
)
PERIODS = ("2026", "2026-H2", "2026-Q3", "2026-03", "2026-P03", "2026-W07", "2026-03-14")


def windows() -> list[CurrentWindow]:
    """Windows of every kind that can be typed."""
    finer = ("month", "quarter", "year", "week", "half_year")
    return [
        *(ToDate(grain) for grain in ("week", "month", "quarter", "half_year", "year")),
        *(ToDate("year", completed=grain) for grain in GRAINS if grain in finer[:2]),
        *(RunningPeriod(grain, back) for grain, back in product(GRAINS, (0, 1, 3))),
        *(NamedPeriod(each) for each in PERIODS),
        *(LastPeriods(number, grain) for grain, number in product(GRAINS, (1, 12))),
        LastPeriods(30, "day", "as_of"),
        *(Dates(date(2026, 1, 31), last) for last in (date(2026, 2, 1), date(2025, 3, 1), date(2026, 1, 31), None)),
    ]  # fmt: skip


def bases() -> list[Base]:
    """Bases of every kind that can be typed."""
    units = ("period", *GRAINS)
    aligned = ("same_dates", "same_weekdays", "same_days", "whole")
    return [
        *(PeriodBase(back, unit, align) for unit, back, align in product(units, (1, 2, -1, -3), aligned)),  # type: ignore[arg-type]
        *(ShiftedBase(back, unit) for unit, back in product(GRAINS, (1, -2))),
        *(FixedBase(each) for each in PERIODS[:4]),
        FixedBase("2025", "whole"),
        *(GivenBase(each) for each in windows() if isinstance(each, NamedPeriod | Dates)),
        LedgerBase("Plan of Åsa"),
        LedgerBase("Plan", "whole", "working_days"),
    ]


def plain(kind: Any, value: object) -> Any:
    """Its JSON form."""
    return TypeAdapter(kind).dump_python(value, mode="json")


def named() -> dict[str, object]:
    """Everything that is named twice, with its name."""
    return {
        "as_of": AS_OF.isoformat(),
        "periods": {key: period_words(key) for key in PERIODS},
        "windows": [
            {"window": plain(CurrentWindow, each), "name": plain_window_name(each), "whole": whole_window_name(each)}
            for each in windows()
        ],
        "bases": [
            {
                "base": plain(Base, base),
                "names": [base_name(base, statement, AS_OF) for statement in STATEMENTS],
            }
            for base in bases()
        ],
        "statements": [plain(Statement, each) for each in STATEMENTS],
    }


def text() -> str:
    """The whole file."""
    return json.dumps(named(), indent=1, ensure_ascii=False) + "\n"


if __name__ == "__main__":
    print(text(), end="")
