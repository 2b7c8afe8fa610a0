"""Alignments, limits by status, shares of scopes, running and moving figures of the demo ledger against SQL."""

from __future__ import annotations

from datetime import date
from fractions import Fraction

import pytest

from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import Posting
from lofty_abacus.core.statement.levels import TimeLevel
from lofty_abacus.core.statement.limits import StatusLimit
from lofty_abacus.core.statement.statement import ShareScope, ShownMeasure, Statement
from lofty_abacus.core.windows.as_of import PinnedDay
from lofty_abacus.core.windows.bases import FixedBase, GivenBase, PeriodBase, ShiftedBase
from lofty_abacus.core.windows.current import Dates, LastPeriods, NamedPeriod, RunningPeriod, ToDate
from lofty_abacus.core.windows.stretches import Moving, RunningTotal
from lofty_abacus.demo.scenario import LEDGER_NAME
from tests.oracle.asking import Asked, cells_of

D = date
NET, ORDERS = (
    ShownMeasure("net_sales", ("difference", "percent_change", "attainment", "index")),
    ShownMeasure("orders", ("difference",)),
)
_SUMS = (
    "SELECT region, SUM(amount) AS net, COUNT(DISTINCT IF(side = 'sale', NULLIF(`order`, ''), NULL)) AS orders"
    " FROM {lines} WHERE day BETWEEN :first AND :last GROUP BY region"
)


@pytest.fixture(scope="module")
def asked(office: Office, demo: Posting) -> Asked:
    return Asked(office, LEDGER_NAME)


#: What is asked, and by hand: the days of the current window and of the base.
CASES = {
    "the same number of days": (ToDate("month"), D(2026, 3, 30), PeriodBase(1, "period", "same_days"), "2026-03-01..2026-03-30", "2026-02-01..2026-02-28"),
    "the same number of days of a year": (ToDate("year"), D(2025, 3, 1), PeriodBase(1, "year", "same_days"), "2025-01-01..2025-03-01", "2024-01-01..2024-02-29"),
    "the same weekdays a year before": (ToDate("month"), D(2026, 10, 17), PeriodBase(1, "year", "same_weekdays"), "2026-10-01..2026-10-17", "2025-10-02..2025-10-18"),
    "the same weekdays a month before": (ToDate("month"), D(2026, 10, 17), PeriodBase(1, "period", "same_weekdays"), "2026-10-01..2026-10-17", "2026-09-03..2026-09-19"),
    "the whole period": (ToDate("quarter"), D(2026, 5, 10), PeriodBase(1, "period", "whole"), "2026-04-01..2026-05-10", "2026-01-01..2026-03-31"),
    "completed months only": (ToDate("year", completed="month"), D(2026, 5, 10), PeriodBase(1, "year"), "2026-01-01..2026-04-30", "2025-01-01..2025-04-30"),
    "the last month that is over": (RunningPeriod("month", 1), D(2026, 3, 30), PeriodBase(1, "period"), "2026-02-01..2026-02-28", "2026-01-01..2026-01-31"),
    "one quarter against the next": (NamedPeriod("2025-Q4"), D(2026, 10, 17), PeriodBase(-1, "period"), "2025-10-01..2025-12-31", "2026-01-01..2026-03-31"),
    "the last 3 months completed": (LastPeriods(3, "month", "completed"), D(2026, 10, 17), PeriodBase(1, "period"), "2026-07-01..2026-09-30", "2026-04-01..2026-06-30"),
    "the last 10 days": (LastPeriods(10, "day", "as_of"), D(2026, 3, 5), PeriodBase(1, "year"), "2026-02-24..2026-03-05", "2025-02-24..2025-03-05"),
    "two dates moved by a month": (Dates(D(2026, 3, 10), D(2026, 3, 31)), D(2026, 10, 17), ShiftedBase(1, "month"), "2026-03-10..2026-03-31", "2026-02-10..2026-02-28"),
    "two dates and those before": (Dates(D(2026, 3, 10), D(2026, 3, 31)), D(2026, 10, 17), PeriodBase(1, "period"), "2026-03-10..2026-03-31", "2026-02-16..2026-03-09"),
    "a second range outright": (ToDate("month"), D(2026, 3, 30), GivenBase(Dates(D(2024, 2, 1), D(2024, 2, 29))), "2026-03-01..2026-03-30", "2024-02-01..2024-02-29"),
    "the month of a fixed year": (NamedPeriod("2026-02"), D(2026, 10, 17), FixedBase("2024"), "2026-02-01..2026-02-28", "2024-02-01..2024-02-29"),
}  # fmt: skip


@pytest.mark.parametrize("name", CASES)
def test_every_alignment_reads_its_own_days(asked: Asked, name: str) -> None:
    window, as_of, base, *days = CASES[name]
    found = asked.answer(Statement((NET, ORDERS), ("region",), window, PinnedDay(as_of), (base,)))  # type: ignore[arg-type]
    bounds = [tuple(date.fromisoformat(each) for each in text.split("..")) for text in days]  # type: ignore[attr-defined]
    assert [(each.asked.first, each.asked.last) for each in found.windows if each.asked] == bounds
    now, then = ({row["region"]: row for row in asked.sql(_SUMS, first=first, last=last)} for first, last in bounds)
    assert {row.label for row in found.rows} == set(now) | set(then)
    for row in found.rows:
        cells = cells_of(found, row)
        for measure, column in (("net_sales", "net"), ("orders", "orders")):
            c, b = (side.get(row.label, {}).get(column, Fraction(0)) for side in (now, then))
            assert (cells[f"{measure}.0.value"], cells[f"{measure}.1.value"], cells[f"{measure}.1.difference"]) == (c, b, c - b)
        c, b = (side.get(row.label, {}).get("net", Fraction(0)) for side in (now, then))
        ratio = "base_is_zero" if b == 0 else "base_is_negative" if b < 0 else c / b
        assert cells["net_sales.1.attainment"] == ratio
        if isinstance(ratio, Fraction):
            assert cells["net_sales.1.percent_change"] == ratio - 1 and cells["net_sales.1.index"] == 100 * ratio


@pytest.mark.parametrize("status", ["kept", "new", "lost"])
def test_totals_of_a_status_cover_the_lines_of_its_rows(asked: Asked, status: str) -> None:
    now, then = "day BETWEEN '2026-01-01' AND '2026-10-17'", "day BETWEEN '2025-01-01' AND '2025-10-17'"
    which = {"kept": "a > 0 AND b > 0", "new": "a > 0 AND b = 0", "lost": "a = 0 AND b > 0"}[status]
    query = f"""
        WITH found AS (
            SELECT region, rep, SUM(side = 'sale' AND {now}) AS a, SUM(side = 'sale' AND {then}) AS b
            FROM {{lines}} WHERE {now} OR {then} GROUP BY region, rep
        )
        SELECT SUM(IF({now}, l.amount, 0)) AS net, SUM(IF({then}, l.amount, 0)) AS was,
            COUNT(DISTINCT IF({now} AND l.side = 'sale', NULLIF(l.`order`, ''), NULL)) AS orders
        FROM {{lines}} l JOIN found f ON f.region = l.region AND f.rep = l.rep WHERE {which}
    """
    [wanted] = asked.sql(query)
    statement = Statement(
        (ShownMeasure("net_sales"), ShownMeasure("orders")), ("region", "rep"), ToDate("year"),
        PinnedDay(D(2026, 10, 17)), (PeriodBase(1, "year"),), limits=(StatusLimit((status,)),),  # type: ignore[arg-type]
    )  # fmt: skip
    found = asked.answer(statement)
    total = cells_of(found, found.total)
    assert total["net_sales.0.value"] == (wanted["net"] or 0) and total["net_sales.1.value"] == (wanted["was"] or 0)
    assert total["orders.0.value"] == wanted["orders"]


def test_shares_of_scopes_running_and_moving_figures(asked: Asked) -> None:
    query = """
        WITH RECURSIVE months AS (
            SELECT DATE'2025-01-01' AS first UNION ALL SELECT first + INTERVAL 1 MONTH FROM months WHERE first < '2026-09-01'
        ), regions AS (SELECT DISTINCT region FROM {lines} WHERE day BETWEEN '2025-01-01' AND '2026-09-30'),
        sums AS (
            SELECT r.region, m.first, COALESCE(SUM(l.amount), 0) AS net
            FROM regions r CROSS JOIN months m
            LEFT JOIN {lines} l ON l.region = r.region AND l.day BETWEEN m.first AND LAST_DAY(m.first) GROUP BY r.region, m.first
        )
        SELECT s.region, DATE_FORMAT(s.first, '%Y-%m') AS month, net, SUM(net) OVER (PARTITION BY s.first) AS of_month,
            SUM(net) OVER () AS of_range, SUM(net) OVER (PARTITION BY s.region) AS of_region,
            SUM(net) OVER (PARTITION BY s.region ORDER BY s.first ROWS 2 PRECEDING) AS moving,
            SUM(net) OVER (PARTITION BY s.region, YEAR(s.first), QUARTER(s.first) ORDER BY s.first) AS running
        FROM sums s
    """
    wanted = {(each["month"], each["region"]): each for each in asked.sql(query)}
    net = ShownMeasure("net_sales", (), shares=(ShareScope(), ShareScope((), "range"), ShareScope(("region",), "range")))
    measures = (
        net,
        ShownMeasure("net_sales", (), RunningTotal("quarter")),
        ShownMeasure("net_sales", (), Moving(3, "sum")),
        ShownMeasure("orders", (), RunningTotal("year")),
    )
    window = Dates(D(2025, 1, 1), D(2026, 9, 30))
    found = asked.answer(Statement(measures, (TimeLevel("month"), "region"), window, PinnedDay(D(2026, 9, 30))), 2)
    ids = (
        "SELECT region, COUNT(DISTINCT NULLIF(`order`, '')) AS n FROM {lines} WHERE side = 'sale'"
        " AND day BETWEEN MAKEDATE(YEAR(:last), 1) AND :last GROUP BY region"
    )
    so_far = {
        month: {each["region"]: each["n"] for each in asked.sql(ids, last=last)}
        for month, last in (("2025-06", D(2025, 6, 30)), ("2025-12", D(2025, 12, 31)), ("2026-09", D(2026, 9, 30)))
    }
    compared = 0
    for row in found.rows:
        if len(row.path) < 2:
            continue
        each, cells = wanted[row.path[0] or "", row.label], cells_of(found, row)
        assert cells["net_sales.0.value"] == each["net"]
        assert cells["net_sales.0.share[]"] == each["net"] / each["of_month"]
        assert cells["net_sales.0.share[]_of_range"] == each["net"] / each["of_range"]
        assert cells["net_sales.0.share[region]_of_range"] == each["net"] / each["of_region"]
        assert cells["net_sales~running_quarter.0.value"] == each["running"]
        if row.path[0] in so_far:
            assert cells["orders~running_year.0.value"] == so_far[row.path[0]][row.label], "each order of the stretch once"
        if row.path[0] >= "2025-03":  # type: ignore[operator]
            assert cells["net_sales~moving_sum_3.0.value"] == each["moving"]
        compared += 1
    assert compared > 60


def test_every_period_cut_at_the_same_point(asked: Asked) -> None:
    as_of = D(2026, 8, 15)
    statement = Statement(
        (ShownMeasure("net_sales", ("difference",)),), (TimeLevel("year"),), Dates(D(2024, 1, 1), None), PinnedDay(as_of),
        (PeriodBase(1, "period"),), cut="same_point",
    )  # fmt: skip
    found = asked.answer(statement)
    query = "SELECT SUM(amount) AS net FROM {lines} WHERE day BETWEEN :first AND :last"
    sums = {year: asked.sql(query, first=D(year, 1, 1), last=as_of.replace(year=year))[0]["net"] for year in (2024, 2025, 2026)}
    rows = {row.label: cells_of(found, row) for row in found.rows}
    assert {year: rows[str(year)]["net_sales.0.value"] for year in sums} == sums
    assert rows["2026"]["net_sales.1.difference"] == sums[2026] - sums[2025]


def test_shares_over_time_and_of_all_that_is_posted(asked: Asked) -> None:
    query = """
        WITH sums AS (
            SELECT YEAR(day) AS year, QUARTER(day) AS quarter, MONTH(day) AS month, SUM(amount) AS net FROM {lines}
            WHERE day BETWEEN '2025-01-01' AND '2026-09-30' GROUP BY YEAR(day), QUARTER(day), MONTH(day)
        )
        SELECT CONCAT(year, '-', LPAD(month, 2, '0')) AS month, net, SUM(net) OVER (PARTITION BY year) AS of_year,
            SUM(net) OVER (PARTITION BY year, quarter) AS of_quarter, SUM(net) OVER () AS of_range FROM sums
    """
    wanted = {each["month"]: each for each in asked.sql(query)}
    shown = ShownMeasure(
        "net_sales", ("share_of_parent", "share_of_all"), shares=(ShareScope(time="year"), ShareScope((), "range"))
    )
    window, as_of = Dates(D(2025, 1, 1), D(2026, 9, 30)), PinnedDay(D(2026, 9, 30))
    rows = (TimeLevel("year"), TimeLevel("quarter"), TimeLevel("month"))
    found = asked.answer(Statement((shown,), rows, window, as_of), 3)
    months = [row for row in found.rows if len(row.path) == 3]
    for row in months:
        each, cells = wanted[row.path[-1] or ""], cells_of(found, row)
        assert cells["net_sales.0.share_of_parent"] == each["net"] / each["of_quarter"]
        assert cells["net_sales.0.share[year]"] == each["net"] / each["of_year"]
        assert cells["net_sales.0.share[]_of_range"] == each["net"] / each["of_range"]
    assert len(months) == 21
    ever = ShownMeasure("net_sales", shares=(ShareScope(("region",), "ever"), ShareScope((), "ever")))
    found = asked.answer(Statement((ever,), ("region",), Dates(D(2026, 3, 1), D(2026, 3, 31)), as_of))
    posted = {
        each["region"]: each
        for each in asked.sql(
            "SELECT region, SUM(CASE WHEN day BETWEEN '2026-03-01' AND '2026-03-31' THEN amount ELSE 0 END) AS net,"
            " SUM(amount) AS ever, SUM(SUM(amount)) OVER () AS whole FROM {lines} WHERE day <= '2026-09-30' GROUP BY region"
        )
    }
    for row in found.rows:
        each, cells = posted[row.label], cells_of(found, row)
        assert cells["net_sales.0.share[region]_of_ever"] == each["net"] / each["ever"], "of itself, whatever the dates"
        assert cells["net_sales.0.share[]_of_ever"] == each["net"] / each["whole"]
    assert len(found.rows) > 2
