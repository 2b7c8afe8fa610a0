"""A ledger of twenty lines whose every number was done by hand.

As of 15 March 2026: year to date 1 Jan - 15 Mar 2026 (74 days) against 1 Jan - 15 Mar 2025 (74 days).
"""

from __future__ import annotations

from datetime import date
from fractions import Fraction

import pytest

from lofty_abacus.core.answer.answer import Answer
from lofty_abacus.core.answer.answering import answer
from lofty_abacus.core.proof.finding import find, lines_behind
from lofty_abacus.core.proof.proving import prove
from lofty_abacus.core.statement.statement import CountedFilter, Opened, ShownMeasure, Statement
from lofty_abacus.core.windows.as_of import PinnedDay
from lofty_abacus.core.windows.bases import PeriodBase
from lofty_abacus.core.windows.ranges import DayRange
from tests.cells import row_of, value
from tests.ledgers import Line, SmallLedger

N, S = "North", "South"
LINES = [
    Line(date(2025, 1, 10), 100_00, "O1", N, "Ada", "P1", "C1", 2, 60_00),
    Line(date(2025, 1, 10), 50_00, "O1", N, "Ada", "P2", "C1", 1, 20_00),
    Line(date(2025, 2, 28), 200_00, "O2", N, "Bo", "P1", "C2", 4, 120_00),
    Line(date(2025, 3, 15), 50_00, "O3", S, "Cy", "P1", "C3", 1, 30_00),
    Line(date(2025, 3, 16), 70_00, "O4", S, "Cy", "P2", "C3", 1, 40_00),
    Line(date(2025, 3, 1), -50_00, "O2", N, "Bo", "P1", "C2", -1, -30_00),
    Line(date(2025, 2, 1), -10_00, "O5", S, "Dee", "P3", "C4", -1, -5_00),
    Line(date(2026, 1, 5), 165_00, "O6", N, "Ada", "P1", "C1", 3, 90_00),
    Line(date(2026, 1, 5), 0, "O6", N, "Ada", "P3", "C1", 1, None),
    Line(date(2026, 2, 14), 110_00, "O7", N, "Ada", "P2", "C2", 2, 44_00),
    Line(date(2026, 3, 15), 120_00, "O8", S, "Eve", "P1", "C5", 2, 60_00),
    Line(date(2026, 3, 15), 55_50, "O8", S, "Eve", "P2", "C5", 1, 25_00),
    Line(date(2026, 3, 2), -55_00, "O6", N, "Ada", "P1", "C1", -1, -30_00),
    Line(date(2026, 3, 16), 60_00, "O9", N, "Ada", "P1", "C1", 1, 30_00),
    Line(date(2026, 12, 24), 500_00, "O10", N, "Ada", "P1", "C1", 5, 300_00),
    Line(date(2024, 2, 29), 40_00, "O11", N, "Bo", "P1", "C2", 1, 20_00),
    Line(date(2024, 12, 31), 80_00, "O12", N, "Ada", "P2", "C1", 2, 40_00),
    Line(date(2026, 2, 20), 30_00, "", N, "Bo", "P2", "C2", 1, 15_00),
    Line(date(2026, 2, 21), 25_00, "O14", S, "", "P2", "C6", 1, None),
    Line(date(2025, 3, 15), 45_25, "O13", N, "Ada", "P2", "C1", 1, 20_00),
]
LEDGER = SmallLedger(LINES, DayRange(date(2024, 1, 1), date(2026, 3, 31)))
AS_OF = PinnedDay(date(2026, 3, 15))
LAST_YEAR = PeriodBase(1, "year")


def ask(
    *measures: ShownMeasure,
    rows: tuple[str, ...] = ("region", "rep"),
    bases: tuple[PeriodBase, ...] = (LAST_YEAR,),
    **more: object,
) -> Answer:
    statement = Statement(measures, rows, as_of=AS_OF, bases=bases, **more)  # type: ignore[arg-type]
    return answer(statement, LEDGER.facts, LEDGER.source, LEDGER.today, Opened(len(rows)))


NET = ShownMeasure("net_sales", ("difference", "percent_change", "attainment", "share_of_all", "share_of_parent"))


def test_total_row() -> None:
    found = ask(NET, ShownMeasure("orders", ("difference", "percent_change")))
    assert value(found, "net_sales.0.value") == Fraction("450.50")
    assert value(found, "net_sales.1.value") == Fraction("385.25")
    assert value(found, "net_sales.1.difference") == Fraction("65.25")
    assert value(found, "net_sales.1.percent_change") == Fraction(261, 1541)
    assert value(found, "net_sales.1.attainment") == Fraction(1802, 1541)
    assert value(found, "net_sales.0.share_of_all") == 1
    assert value(found, "orders.0.value") == 4
    assert value(found, "orders.1.value") == 4
    assert value(found, "orders.1.percent_change") == 0


@pytest.mark.parametrize(
    ("path", "current", "base", "status"),
    [
        ((N,), "250", "345.25", "kept"),
        ((N, "Ada"), "220", "195.25", "kept"),
        ((N, "Bo"), "30", "150", "kept"),
        ((S,), "200.50", "40", "kept"),
        ((S, "Cy"), "0", "50", "lost"),
        ((S, "Dee"), "0", "-10", "returns_only"),
        ((S, "Eve"), "175.50", "0", "new"),
        ((S, ""), "25", "0", "new"),
    ],
)
def test_rows(path: tuple[str, ...], current: str, base: str, status: str) -> None:
    found = ask(NET)
    assert value(found, "net_sales.0.value", *path) == Fraction(current)
    assert value(found, "net_sales.1.value", *path) == Fraction(base)
    assert value(found, "net_sales.1.difference", *path) == Fraction(current) - Fraction(base)
    assert row_of(found, *path).status == status


def test_rows_stand_in_name_order_under_their_parents() -> None:
    assert [row.path for row in ask(NET).rows] == [
        (N,),
        (N, "Ada"),
        (N, "Bo"),
        (S,),
        (S, ""),
        (S, "Cy"),
        (S, "Dee"),
        (S, "Eve"),
    ]


def test_undefined_comparisons_carry_their_reason() -> None:
    found = ask(NET)
    assert value(found, "net_sales.1.percent_change", S, "Eve") == "base_is_zero"
    assert value(found, "net_sales.1.attainment", S, "Eve") == "base_is_zero"
    assert value(found, "net_sales.1.percent_change", S, "Dee") == "base_is_negative"
    assert value(found, "net_sales.1.difference", S, "Dee") == 10
    assert value(found, "net_sales.1.percent_change", S, "Cy") == -1


def test_shares() -> None:
    found = ask(NET)
    assert value(found, "net_sales.0.share_of_all", N) == Fraction(500, 901)
    assert value(found, "net_sales.0.share_of_all", N, "Ada") == Fraction(440, 901)
    assert value(found, "net_sales.0.share_of_parent", N, "Ada") == Fraction(22, 25)
    assert value(found, "net_sales.0.share_of_parent", N) == Fraction(500, 901)


def test_the_other_measures() -> None:
    names = (
        "gross_sales",
        "returns",
        "units",
        "returned_units",
        "cost",
        "lines",
        "active_customers",
        "active_products",
        "average_order_value",
        "price_per_unit",
        "margin_percent",
        "return_rate",
    )
    found = ask(*(ShownMeasure(name) for name in names))
    current = {name: value(found, f"{name}.0.value") for name in names}
    assert current == {
        "gross_sales": Fraction("505.50"),
        "returns": 55,
        "units": 10,
        "returned_units": 1,
        "cost": 204,
        "lines": 8,
        "active_customers": 4,
        "active_products": 3,
        "average_order_value": Fraction("126.375"),
        "price_per_unit": Fraction("45.05"),
        "margin_percent": Fraction(443, 851),
        "return_rate": Fraction(110, 1011),
    }
    assert value(found, "units.1.value") == 7
    assert value(found, "gross_sales.1.value") == Fraction("445.25")
    assert value(found, "returns.1.value") == 60
    assert value(found, "margin_percent.0.value", S, "") == "not_given"
    assert value(found, "average_order_value.0.value", N, "Bo") == "base_is_zero", "its only order id is blank"


def test_percent_measures_compare_in_points() -> None:
    found = ask(ShownMeasure("margin_percent", ("difference", "percent_change", "attainment")))
    # 2025: net 395.25 - 10 = 385.25 with cost 60+20+120+30-30-5+20 = 215
    base = Fraction("170.25") / Fraction("385.25")
    assert value(found, "margin_percent.1.value") == base
    assert value(found, "margin_percent.1.difference") == Fraction(443, 851) - base
    assert value(found, "margin_percent.1.percent_change") == "not_applicable"
    assert value(found, "margin_percent.1.attainment") == Fraction(443, 851) / base
    assert next(column for column in found.columns if column.kind == "difference").unit == "points"


def test_notices_say_what_was_left_out() -> None:
    found = ask(NET, ShownMeasure("orders"), ShownMeasure("margin_percent"))
    said = {(each.code, each.about): (each.lines, each.amount) for each in found.notices}
    assert said[("after_as_of", "")] == (2, "560.00")
    assert said[("after_today", "")] == (1, "500.00")
    assert said[("returns_netted", "")] == (1, "-55.00")
    assert said[("blank_ids", "order")] == (1, None)
    assert said[("lacking", "margin_percent")] == (2, None)
    assert (found.posted_lines, found.posted_amount) == (20, "1585.75")


def test_shares_of_distinct_counts_say_that_parts_overlap() -> None:
    found = ask(ShownMeasure("orders", ("share_of_all",)), NET)
    assert [each.about for each in found.notices if each.code == "parts_overlap"] == ["orders"]
    assert [column.measure for column in found.columns if column.parts_overlap] == ["orders"]
    # O6, O7 in the North, O8 and O14 in the South; the blank id of Bo is no order.
    assert value(found, "orders.0.share_of_all", N) == Fraction(1, 2)


def test_a_leap_year_base_is_fair_by_dates() -> None:
    found = ask(NET, bases=(LAST_YEAR, PeriodBase(2, "year")))
    this, last, leap = found.windows
    assert (this.counted_days, last.counted_days, leap.counted_days) == (74, 74, 75)
    assert (last.fairness, leap.fairness) == ("equal_days", "same_dates")
    assert value(found, "net_sales.2.value") == 40


def test_coverage_that_cuts_a_base_makes_it_unequal() -> None:
    from_lines = SmallLedger(LINES)  # first line 29 Feb 2024, so covered from 1 Feb
    statement = Statement((NET,), as_of=AS_OF, bases=(PeriodBase(2, "year"), PeriodBase(3, "year")))
    statement = Statement(
        (ShownMeasure("net_sales", ("difference",)),), as_of=AS_OF, bases=(PeriodBase(2, "year"), PeriodBase(3, "year"))
    )
    found = answer(statement, from_lines.facts, from_lines.source, from_lines.today)
    assert found.windows[1].partly_covered
    assert found.windows[1].counted_days == 44
    assert found.windows[1].fairness == "unequal"
    assert found.windows[2].reason == "before_coverage"
    assert value(found, "net_sales.2.value") == "before_coverage"
    assert value(found, "net_sales.2.difference") == "before_coverage"


def test_filters_apply_to_current_and_base() -> None:
    found = ask(NET, filters=(CountedFilter("product", ("P1",)),))
    assert value(found, "net_sales.0.value") == 165 + 120 - 55
    assert value(found, "net_sales.1.value") == 100 + 200 + 50 - 50
    left_out = next(each for each in found.notices if each.code == "filtered_out")
    assert (left_out.lines, left_out.amount) == (5, "220.50")
    others = ask(NET, filters=(CountedFilter("product", ("P1",), exclude=True),))
    assert value(others, "net_sales.0.value") == Fraction("220.50")


def test_proof_of_a_change() -> None:
    statement = Statement((NET,), ("region", "rep"), as_of=AS_OF, bases=(LAST_YEAR,))
    proof = prove(find(statement, LEDGER.facts, LEDGER.source, LEDGER.today, (N, "Ada"), "net_sales.1.difference"))
    current, base = proof.operands
    assert proof.result.value == "24.75"
    assert (current.cell.value, base.cell.value) == ("220.00", "195.25")
    assert (current.lines, current.sale_lines, current.return_lines) == (4, 3, 1)
    assert [(term.name, term.sign, term.value) for term in current.terms] == [
        ("amount_sold", 1, "275.00"),
        ("amount_returned", -1, "55.00"),
    ]
    assert (current.first_line_day, current.last_line_day) == (date(2026, 1, 5), date(2026, 3, 2))
    assert sum(Fraction(each.cell.value or 0) for each in current.stretches) == 220
    found = lines_behind(find(statement, LEDGER.facts, LEDGER.source, LEDGER.today, (N, "Ada"), "net_sales.1.difference"), 1)
    ids = found.ids.tolist()
    assert sum(LINES[number].amount for number in ids) == 195_25


def test_proof_of_shares_ratios_and_counts() -> None:
    statement = Statement(
        (NET, ShownMeasure("orders"), ShownMeasure("margin_percent")), ("region", "rep"), as_of=AS_OF, bases=(LAST_YEAR,)
    )

    def proved(path: tuple[str, ...], column: str):  # type: ignore[no-untyped-def]
        return prove(find(statement, LEDGER.facts, LEDGER.source, LEDGER.today, path, column))

    part, scope = proved((N, "Ada"), "net_sales.0.share_of_parent").operands
    assert (part.cell.value, scope.cell.value, scope.path) == ("220.00", "250.00", (N,))
    (orders,) = proved((), "orders.0.value").operands
    assert (orders.lines, orders.cell.value) == (7, "4")
    (margin,) = proved((), "margin_percent.0.value").operands
    assert [(term.name, term.value, term.divides) for term in margin.terms] == [
        ("amount_net", "425.50", False),
        ("cost_net", "204.00", False),
        ("amount_net", "425.50", True),
    ]
    assert (margin.lines, margin.lines_left_out) == (6, 2)
