"""Small ledgers whose figures are worked out by hand, one for each turn of the calendar or of the figures that goes wrong elsewhere."""

from __future__ import annotations

from datetime import date
from fractions import Fraction

import pytest

from lofty_abacus.core.answer.answer import Answer
from lofty_abacus.core.answer.answering import answer
from lofty_abacus.core.calendar.settings import CalendarSettings
from lofty_abacus.core.statement.levels import TimeLevel
from lofty_abacus.core.statement.statement import ShownMeasure, Statement
from lofty_abacus.core.windows.as_of import LastPostedDay, PinnedDay
from lofty_abacus.core.windows.bases import Base, PeriodBase
from lofty_abacus.core.windows.current import CurrentWindow, Dates, NamedPeriod, ToDate
from lofty_abacus.core.windows.ranges import DayRange
from tests.cells import value
from tests.ledgers import Line, SmallLedger

D = date.fromisoformat
LAST_YEAR = PeriodBase(1, "year")
BEFORE = PeriodBase(1, "period")
ALL_YEARS = DayRange(D("2023-01-01"), D("2026-12-31"))


def ledger(*lines: tuple[str, int], calendar: CalendarSettings = CalendarSettings(), rep: str = "Ada") -> SmallLedger:
    """Lines of (day, whole currency units)."""
    made = [Line(D(day), amount * 100, f"O{at}", "North", rep) for at, (day, amount) in enumerate(lines)]
    return SmallLedger(made, ALL_YEARS, calendar=calendar, today=D("2026-12-31"))


def ask(of: SmallLedger, as_of: str, window: CurrentWindow, *bases: Base, rows: tuple[str | TimeLevel, ...] = ()) -> Answer:
    shown = ShownMeasure("net_sales", ("difference", "percent_change") if bases else ())
    statement = Statement((shown,), rows, window, PinnedDay(D(as_of)), tuple(bases))
    return answer(statement, of.facts, of.source, of.today)


def figures(found: Answer, *path: str) -> list[Fraction | str]:
    """Current value, base, difference and % change."""
    return [value(found, f"net_sales.{name}", *path) for name in ("0.value", "1.value", "1.difference", "1.percent_change")]


LEAP = ledger(
    ("2024-02-28", 10), ("2024-02-29", 100), ("2024-03-01", 1000), ("2025-02-28", 20), ("2025-03-01", 200), ("2023-02-28", 7)
)
ENDS = ledger(
    ("2026-03-30", 1), ("2026-03-31", 10), ("2026-04-29", 100), ("2026-04-30", 1000), ("2026-02-28", 5), ("2026-02-01", 50)
)


@pytest.mark.parametrize(
    ("of", "window", "as_of", "base", "wanted", "days", "fairness"),
    [
        # 28 February is the last of its month and meets 29 February: 20 against 10 + 100.
        (
            LEAP,
            ToDate("year"),
            "2025-02-28",
            LAST_YEAR,
            [20, 110, -90, Fraction(-90, 110)],
            "2024-01-01..2024-02-29",
            "same_dates",
        ),
        # 29 February meets 28 February: 10 + 100 against 7.
        (
            LEAP,
            ToDate("month"),
            "2024-02-29",
            LAST_YEAR,
            [110, 7, 103, Fraction(103, 7)],
            "2023-02-01..2023-02-28",
            "whole_periods",
        ),
        # 1 March meets 1 March, the 29th is among the base's days: 20 + 200 against 10 + 100 + 1000.
        (
            LEAP,
            ToDate("year"),
            "2025-03-01",
            LAST_YEAR,
            [220, 1110, -890, Fraction(-890, 1110)],
            "2024-01-01..2024-03-01",
            "same_dates",
        ),
        # 30 April is a last day and meets 31 March: 1100 against 11.
        (
            ENDS,
            ToDate("month"),
            "2026-04-30",
            BEFORE,
            [1100, 11, 1089, Fraction(1089, 11)],
            "2026-03-01..2026-03-31",
            "whole_periods",
        ),
        # 29 April is none and meets 29 March: 100 against nothing.
        (ENDS, ToDate("month"), "2026-04-29", BEFORE, [100, 0, 100, "base_is_zero"], "2026-03-01..2026-03-29", "equal_days"),
        # 30 March has no counterpart in February, which is cut: 1 against 55, and unequal.
        (ENDS, ToDate("month"), "2026-03-30", BEFORE, [1, 55, -54, Fraction(-54, 55)], "2026-02-01..2026-02-28", "unequal"),
    ],
)
def test_leap_days_and_month_ends(
    of: SmallLedger, window: CurrentWindow, as_of: str, base: Base, wanted: list[Fraction | str], days: str, fairness: str
) -> None:
    found = ask(of, as_of, window, base)
    assert figures(found) == wanted
    asked = found.windows[1].asked
    assert asked is not None and f"{asked.first}..{asked.last}" == days and found.windows[1].fairness == fairness


def test_a_53rd_week() -> None:
    # 2026 has 53 weeks by the rule of 4 January: week 53 is 28 December 2026 to 3 January 2027; 2025 has 52.
    of = ledger(("2026-12-28", 3), ("2026-12-31", 30), ("2026-12-21", 4), ("2025-12-22", 5), ("2025-12-29", 6))
    found = ask(of, "2026-12-31", ToDate("week"), LAST_YEAR, BEFORE)
    assert found.windows[0].key == "2026-W53"
    assert value(found, "net_sales.0.value") == 33 and value(found, "net_sales.1.value") == "not_applicable"
    assert value(found, "net_sales.2.value") == 4, "the previous week is week 52 of the same year"
    weeks = ask(of, "2026-12-31", Dates(D("2025-12-22"), D("2026-01-04")), rows=(TimeLevel("week"),))
    # 29 December 2025 lies in week 1 of 2026.
    assert [(row.label, value(weeks, "net_sales.0.value", *map(str, row.path))) for row in weeks.rows] == [
        ("2025-W52", 5),
        ("2026-W01", 6),
    ]


def test_a_fiscal_year_from_april() -> None:
    calendar = CalendarSettings(fiscal_start_month=4)
    of = ledger(
        ("2025-03-31", 1),
        ("2025-04-01", 10),
        ("2026-03-31", 100),
        ("2026-04-01", 1000),
        ("2026-06-30", 10_000),
        ("2025-06-30", 7),
        calendar=calendar,
    )
    # Fiscal 2027 began on 1 April 2026; to 30 June it meets 1 April to 30 June 2025.
    assert figures(ask(of, "2026-06-30", ToDate("year"), LAST_YEAR)) == [11_000, 17, 10_983, Fraction(10_983, 17)]
    years = ask(of, "2026-06-30", Dates(D("2025-01-01"), None), rows=(TimeLevel("year"),))
    assert {row.label: value(years, "net_sales.0.value", *map(str, row.path)) for row in years.rows} == {
        "2025": 1,
        "2026": 117,
        "2027": 11_000,
    }
    quarter = ask(of, "2026-06-30", NamedPeriod("2026-Q4"))
    asked = quarter.windows[0].asked
    assert value(quarter, "net_sales.0.value") == 100 and asked is not None and asked.first == D("2026-01-01"), (
        "months keep their names"
    )


def test_negative_and_zero_bases() -> None:
    of = SmallLedger(
        [
            Line(D("2025-01-05"), -40_00, "A", "North", "Ada", is_return=True), Line(D("2026-01-05"), 60_00, "B", "North", "Ada"),
            Line(D("2025-01-05"), 5_00, "C", "South", "Bo"), Line(D("2025-01-06"), -5_00, "C", "South", "Bo", is_return=True),
            Line(D("2026-01-05"), 9_00, "D", "South", "Bo"),
        ],
        ALL_YEARS, today=D("2026-12-31"),
    )  # fmt: skip
    found = ask(of, "2026-01-31", ToDate("year"), LAST_YEAR, rows=("region",))
    assert figures(found, "North") == [60, -40, 100, "base_is_negative"]
    assert figures(found, "South") == [9, 0, 9, "base_is_zero"]
    assert figures(found) == [69, -40, 109, "base_is_negative"], "the total is judged by its own base"


def test_a_month_without_lines_and_what_comes_after_it() -> None:
    of = ledger(("2026-01-10", 4), ("2026-03-10", 6), ("2026-03-25", 90))
    found = ask(of, "2026-03-10", ToDate("year"), BEFORE, rows=(TimeLevel("month"),))
    by_month = {row.label: figures(found, *map(str, row.path)) for row in found.rows}
    assert by_month["2026-02"] == [0, 4, -4, -1], "a quiet month is 0 and has its row"
    assert by_month["2026-03"] == [6, 0, 6, "base_is_zero"], "against the quiet month, not against January"
    assert by_month["2026-04"][0] == "after_as_of"
    later = next(each for each in found.notices if each.code == "after_as_of")
    assert (later.lines, later.amount) == (1, "90.00"), "25 March counts nowhere and is told"


def test_members_new_and_lost() -> None:
    lines = [
        ("2025-02-01", 30, "Ada"),
        ("2026-02-01", 50, "Ada"),
        ("2025-02-01", 20, "Bo"),
        ("2026-02-01", 7, "Cy"),
        ("2025-11-01", 9, "Cy"),
    ]
    of = SmallLedger(
        [Line(D(day), amount * 100, f"O{at}", "North", rep) for at, (day, amount, rep) in enumerate(lines)],
        ALL_YEARS,
        today=D("2026-12-31"),
    )
    found = ask(of, "2026-06-30", ToDate("year"), LAST_YEAR, rows=("rep",))
    assert {row.label: (row.status, figures(found, row.label)) for row in found.rows} == {
        "Ada": ("kept", [50, 30, 20, Fraction(20, 30)]),
        "Bo": ("lost", [0, 20, -20, -1]),
        "Cy": ("new", [7, 0, 7, "base_is_zero"]),  # sold in November, which lies in neither window
    }


def test_lines_after_today_are_told_apart() -> None:
    lines = [Line(D(day), 1_00, "O") for day in ("2026-05-01", "2026-06-30", "2026-07-01", "2026-12-24")]
    of = SmallLedger(lines, today=D("2026-06-30"))
    found = answer(Statement((ShownMeasure("net_sales"),), as_of=LastPostedDay()), of.facts, of.source, of.today)
    assert found.as_of == D("2026-06-30"), "a stray line moves no as-of date"
    told = {each.code: each.lines for each in found.notices}
    assert value(found, "net_sales.0.value") == 2 and (told["after_as_of"], told["after_today"]) == (2, 2)
