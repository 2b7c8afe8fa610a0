"""What is left of the rules, each against SQL: sides of lines, as-of policies, month ends left alone, limits of what is shown, changes of
shares, whole plans, days that coverage cuts."""

from __future__ import annotations

from dataclasses import replace
from datetime import date
from fractions import Fraction
from pathlib import Path

import pytest

from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import NewLedger, Posting
from lofty_abacus.core.calendar.settings import CalendarSettings
from lofty_abacus.core.statement.limits import MembersLimit, ValueLimit
from lofty_abacus.core.statement.statement import CountedFilter, ShownMeasure, Statement
from lofty_abacus.core.windows.as_of import AsOfPolicy, LastCompleted, LastPostedDay, PinnedDay, Today
from lofty_abacus.core.windows.bases import LedgerBase, PeriodBase, ShiftedBase
from lofty_abacus.core.windows.current import Dates, ToDate
from lofty_abacus.demo.scenario import LEDGER_NAME
from tests.oracle.asking import Asked, cells_of, post_rows

D = date
NET = ShownMeasure("net_sales")
DAY = PinnedDay(D(2026, 10, 17))
LAST_YEAR = (PeriodBase(1, "year"),)
BETWEEN = "SELECT region, SUM(amount) AS net FROM {lines} WHERE day BETWEEN :first AND :last GROUP BY region"


@pytest.fixture(scope="module")
def asked(office: Office, demo: Posting) -> Asked:
    return Asked(office, LEDGER_NAME)


def test_a_line_is_a_return_by_its_amount_or_where_that_is_0_by_its_quantity(office: Office, tmp_path: Path) -> None:
    figures = [("5", "1"), ("-5", "1"), ("0", "-1"), ("0", "0"), ("0.00", "2"), ("-0.01", "-1"), ("0", ""), ("7", "-3")]
    rows = [f"2026-01-{at + 1:02d},O{at},Ada,{amount},{quantity}" for at, (amount, quantity) in enumerate(figures)]
    ledger = post_rows(
        office, NewLedger("sides"), tmp_path, ["date,order,rep,amount,quantity", *rows], ("2026-01-01", "2026-12-31")
    )
    query = """
        SELECT SUM(back) AS returns, SUM(IF(back, -amount, 0)) AS amount, SUM(IF(back, 0, amount)) AS gross, COUNT(DISTINCT IF(back, NULL, `order`)) AS orders
        FROM (SELECT amount, `order`, amount < 0 OR (amount = 0 AND COALESCE(quantity, 0) < 0) AS back FROM {lines}) l
    """
    [wanted] = ledger.sql(query)
    measures = tuple(ShownMeasure(name) for name in ("returns", "gross_sales", "orders"))
    found = ledger.answer(Statement(measures, as_of=PinnedDay(D(2026, 12, 31))))
    assert list(cells_of(found, found.total).values()) == [wanted["amount"], wanted["gross"], wanted["orders"]]
    assert wanted["returns"] == 3 and wanted["orders"] == 5
    assert next(each.lines for each in found.notices if each.code == "returns_netted") == wanted["returns"]


@pytest.mark.parametrize(
    ("policy", "day"),
    [
        (LastPostedDay(), "SELECT MAX(day) AS day FROM {lines} WHERE day <= '2026-11-23'"),
        (Today(), "SELECT DATE'2026-11-23' AS day"),
        (LastCompleted("day"), "SELECT DATE'2026-11-23' - INTERVAL 1 DAY AS day"),
        (LastCompleted("week"), "SELECT DATE'2026-11-23' - INTERVAL WEEKDAY('2026-11-23') + 1 DAY AS day"),
        (LastCompleted("month"), "SELECT LAST_DAY(DATE'2026-11-23' - INTERVAL 1 MONTH) AS day"),
        (
            LastCompleted("quarter"),
            "SELECT MAKEDATE(2026, 1) + INTERVAL QUARTER('2026-11-23') - 1 QUARTER - INTERVAL 1 DAY AS day",
        ),
    ],
)
def test_as_of_dates_that_move_by_themselves(office: Office, tmp_path: Path, policy: AsOfPolicy, day: str) -> None:
    rows = [f"2026-{month:02d}-{day:02d},{region},{month}{day}" for month in (3, 9, 10, 11, 12) for day in (1, 15, 22, 25) for region in ("North", "South")]  # fmt: skip
    name = NewLedger(f"moves {policy}")
    ledger = post_rows(office, name, tmp_path, ["date,region,amount", *rows], ("2026-01-01", "2026-11-22"))
    [wanted] = ledger.sql(day)
    found = ledger.answer(Statement((NET,), ("region",), as_of=policy))
    assert found.as_of == wanted["day"]
    by_sql = {each["region"]: each["net"] for each in ledger.sql(BETWEEN, first=D(2026, 1, 1), last=found.as_of)}
    assert {row.label: cells_of(found, row)["net_sales.0.value"] for row in found.rows} == by_sql
    [later] = ledger.sql("SELECT COUNT(*) AS n, SUM(amount) AS net FROM {lines} WHERE day > :day", day=found.as_of)
    told = next(each for each in found.notices if each.code == "after_as_of")
    assert (told.lines, Fraction(told.amount or 0)) == (later["n"], later["net"])


@pytest.mark.parametrize("rule", [True, False])
def test_month_ends_meet_month_ends_unless_that_is_switched_off(office: Office, tmp_path: Path, rule: bool) -> None:
    rows = [f"2026-{month:02d}-{day:02d},North,{month * 100 + day}" for month in (3, 4) for day in (1, 29, 30)] + [
        "2026-03-31,North,1000000"
    ]
    name = NewLedger(f"month ends {rule}", calendar=CalendarSettings(month_end_rule=rule))
    ledger = post_rows(office, name, tmp_path, ["date,region,amount", *rows], ("2026-01-01", "2026-12-31"))
    last = "LAST_DAY('2026-04-30' - INTERVAL 1 MONTH)" if rule else "'2026-04-30' - INTERVAL 1 MONTH"
    [wanted] = ledger.sql(f"SELECT SUM(amount) AS net FROM {{lines}} WHERE day BETWEEN '2026-03-01' AND {last}")
    window = Dates(D(2026, 4, 1), D(2026, 4, 30))
    found = ledger.answer(Statement((NET,), ("region",), window, PinnedDay(D(2026, 12, 31)), (ShiftedBase(1, "month"),)))
    assert cells_of(found, found.total)["net_sales.1.value"] == wanted["net"]
    assert (wanted["net"] > 1_000_000) is rule


def test_what_is_shown_cuts_no_total_no_scope_and_no_base(asked: Asked) -> None:
    now, then = D(2026, 10, 17), D(2025, 10, 17)
    query = BETWEEN.replace("region", "product")
    this = {each["product"]: each["net"] for each in asked.sql(query, first=D(2026, 1, 1), last=now)}
    last = {each["product"]: each["net"] for each in asked.sql(query, first=D(2025, 1, 1), last=then)}
    names = sorted(this, key=lambda name: this[name])
    shown = ShownMeasure("net_sales", ("difference", "share_of_all"))
    statement = Statement((shown,), ("product",), as_of=DAY, bases=LAST_YEAR)
    bound = f"{float(this[names[len(names) // 2]]):.2f}"
    for limits, kept in (
        ((MembersLimit("product", (asked_key(asked, names[0]), asked_key(asked, names[-1]))),), {names[0], names[-1]}),
        ((ValueLimit("net_sales.0.value", bound, None),), {name for name in names if this[name] >= Fraction(bound)}),
        ((ValueLimit("net_sales.0.value", None, bound),), {name for name in names if this[name] <= Fraction(bound)}),
    ):
        found = asked.answer(replace(statement, limits=limits))
        assert {row.label for row in found.rows} == kept < set(names)
        whole = sum(this.values())
        total = cells_of(found, found.total)
        assert (total["net_sales.0.value"], total["net_sales.1.value"]) == (whole, sum(last.values()))
        for row in found.rows:
            cells = cells_of(found, row)
            assert cells["net_sales.1.difference"] == this[row.label] - last.get(row.label, 0)
            assert cells["net_sales.0.share_of_all"] == this[row.label] / whole


def asked_key(asked: Asked, label: str) -> str:
    """The key of a product by its name."""
    found = asked.answer(Statement((NET,), ("product",), as_of=DAY))
    return str(next(row.path[0] for row in found.rows if row.label == label))


def test_changes_of_shares_are_points_from_exact_values(asked: Asked) -> None:
    query = """
        SELECT region, SUM(IF(day >= '2026-01-01', amount, 0)) AS now, SUM(IF(day < '2026-01-01', amount, 0)) AS was
        FROM {lines} WHERE channel = 'Shop' AND (day BETWEEN '2026-01-01' AND '2026-10-17' OR day BETWEEN '2025-01-01' AND '2025-10-17') GROUP BY region
    """
    shown = ShownMeasure("net_sales", ("share_of_all", "share_change"))
    filters = (CountedFilter("channel", ("Shop",)),)
    found = asked.answer(Statement((shown,), ("region",), as_of=DAY, bases=LAST_YEAR, filters=filters))
    wanted = asked.sql(query)
    whole_now, whole_was = (sum(each[side] for each in wanted) for side in ("now", "was"))
    rows = {row.label: cells_of(found, row) for row in found.rows}
    assert set(rows) == {each["region"] for each in wanted}
    for each in wanted:
        cells = rows[each["region"]]
        assert cells["net_sales.1.share_change"] == each["now"] / whole_now - each["was"] / whole_was
    assert sum(Fraction(cells["net_sales.1.share_change"]) for cells in rows.values()) == 0


def test_a_part_against_the_whole_plan_is_a_choice(office: Office, tmp_path: Path) -> None:
    covers = ("2026-01-01", "2026-12-31")
    sold = post_rows(office, NewLedger("sold so far"), tmp_path, ["date,region,amount", "2026-04-03,North,70", "2026-05-09,North,35", "2026-05-20,South,5"], covers)  # fmt: skip
    rows = [f"2026-{month:02d},{region},{amount}" for month in range(1, 13) for region, amount in (("North", 100), ("South", 31))]
    plan = post_rows(office, NewLedger("planned", line_grain="month"), tmp_path, ["month,region,amount", *rows], covers)
    [quarter] = plan.sql("SELECT SUM(amount) AS net FROM {lines} WHERE QUARTER(day) = 2 AND region = 'North'")
    [so_far] = sold.sql(
        "SELECT SUM(amount) AS net FROM {lines} WHERE day BETWEEN '2026-04-01' AND '2026-05-10' AND region = 'North'"
    )
    base = LedgerBase("planned", "whole")
    shown = ShownMeasure("net_sales", ("attainment",))
    found = sold.answer(Statement((shown,), ("region",), ToDate("quarter"), PinnedDay(D(2026, 5, 10)), (base,)))
    north = next(cells_of(found, row) for row in found.rows if row.label == "North")
    assert (north["net_sales.0.value"], north["net_sales.1.value"]) == (so_far["net"], quarter["net"])
    assert north["net_sales.1.attainment"] == so_far["net"] / quarter["net"] and found.windows[1].fairness == "unequal"


def test_a_window_that_coverage_cuts_keeps_its_value_and_is_marked(office: Office, tmp_path: Path) -> None:
    rows = [f"2025-{month:02d}-{day:02d},North,{month}" for month in range(3, 13) for day in (10, 20)]
    ledger = post_rows(
        office, NewLedger("cut"), tmp_path, ["date,region,amount", *rows, "2026-02-10,North,50"], ("2025-03-15", "2026-12-31")
    )
    found = ledger.answer(
        Statement((NET,), ("region",), ToDate("year"), PinnedDay(D(2026, 6, 30)), (PeriodBase(1, "year"), PeriodBase(2, "year")))
    )
    [wanted] = ledger.sql(
        "SELECT SUM(amount) AS net, DATEDIFF('2025-06-30', '2025-03-15') + 1 AS days FROM {lines} WHERE day BETWEEN '2025-03-15' AND '2025-06-30'"
    )
    cut, outside = found.windows[1], found.windows[2]
    cells = cells_of(found, found.total)
    assert cells["net_sales.1.value"] == wanted["net"] and cut.counted_days == wanted["days"]
    assert cut.partly_covered and cut.fairness == "unequal"
    assert cells["net_sales.2.value"] == outside.reason == "before_coverage"
