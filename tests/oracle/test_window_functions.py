"""Series against SQL window functions in MariaDB: LAG, running SUM, moving SUM, RANK and shares over a gap-filled grid of months."""

from __future__ import annotations

from datetime import date
from decimal import Decimal
from fractions import Fraction
from typing import Any

import pytest
from sqlalchemy import text

from lofty_abacus.actions.figures.answer_statement import answer_statement
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import Posting
from lofty_abacus.core.answer.answer import Answer
from lofty_abacus.core.statement.levels import TimeLevel
from lofty_abacus.core.statement.statement import Opened, ShownMeasure, Statement
from lofty_abacus.core.windows.as_of import PinnedDay
from lofty_abacus.core.windows.bases import FixedBase, PeriodBase
from lofty_abacus.core.windows.current import Dates
from lofty_abacus.core.windows.stretches import Moving, RunningTotal
from lofty_abacus.demo.scenario import LEDGER_NAME
from lofty_abacus.store.books import MariaDbBooks
from tests.cells import exact

_GRID = """
WITH RECURSIVE months AS (
    SELECT DATE'2024-01-01' AS first UNION ALL SELECT first + INTERVAL 1 MONTH FROM months WHERE first < DATE'2026-09-01'
), sums AS (
    SELECT l.rep_code AS code, CAST(DATE_FORMAT(l.day, '%Y-%m-01') AS DATE) AS first, SUM(l.amount) AS net, COUNT(*) AS line_count,
        COUNT(DISTINCT IF(l.is_return OR l.order_code = 0, NULL, l.order_code)) AS orders
    FROM line_{ledger} l JOIN batch b ON b.id = l.batch_id AND b.active WHERE l.excluded = 0 AND l.day <= DATE'2026-09-30' GROUP BY 1, 2
), reps AS (SELECT DISTINCT code FROM sums), grid AS (
    SELECT reps.code, months.first, COALESCE(sums.net, 0) AS net, COALESCE(sums.orders, 0) AS orders,
        COALESCE(sums.line_count, 0) AS line_count
    FROM reps CROSS JOIN months LEFT JOIN sums ON sums.code = reps.code AND sums.first = months.first
)
SELECT m.member_key, DATE_FORMAT(g.first, '%Y-%m') AS month, g.net, g.orders, g.line_count,
    LAG(g.net) OVER along AS before_it, LAG(g.net, 12) OVER along AS a_year_before, LEAD(g.orders) OVER along AS ahead,
    SUM(g.net) OVER (PARTITION BY g.code, YEAR(g.first) ORDER BY g.first) AS running,
    SUM(g.net) OVER (PARTITION BY g.code ORDER BY g.first ROWS 2 PRECEDING) AS moving,
    ROW_NUMBER() OVER along AS place,
    FIRST_VALUE(g.net) OVER (PARTITION BY g.code, MONTH(g.first) ORDER BY g.first) AS fixed,
    RANK() OVER (PARTITION BY g.first ORDER BY g.net DESC) AS standing,
    SUM(g.net) OVER (PARTITION BY g.first) AS of_month
FROM grid g JOIN member m ON m.dimension_id = :rep AND m.code = g.code
WINDOW along AS (PARTITION BY g.code ORDER BY g.first)
"""


@pytest.fixture(scope="module")
def by_sql(office: Office, demo: Posting) -> dict[tuple[str, str], dict[str, Any]]:
    assert isinstance(office.books, MariaDbBooks)
    ledger = office.books.ledger(LEDGER_NAME).id
    with office.books.engine.connect() as connection:
        rep = connection.execute(
            text("SELECT id FROM dimension WHERE ledger_id = :l AND name = 'rep'"), {"l": ledger}
        ).scalar_one()
        found = connection.execute(text(_GRID.format(ledger=ledger)), {"rep": rep}).mappings().all()
    assert len(found) > 100
    return {(row["member_key"], row["month"]): dict(row) for row in found}


def number(value: object) -> Fraction:
    assert isinstance(value, (Decimal, int))
    return Fraction(value)


def asked(office: Office, rows: tuple[Any, ...], *measures: ShownMeasure) -> Answer:
    bases = (PeriodBase(1, "period"), PeriodBase(1, "year"), PeriodBase(-1, "period"), FixedBase("2024"))
    statement = Statement(measures, rows, Dates(date(2024, 1, 1), None), PinnedDay(date(2026, 9, 30)), bases)
    return answer_statement(office, LEDGER_NAME, statement, Opened(2))


def test_values_along_time_are_those_of_window_functions(office: Office, by_sql: dict[tuple[str, str], dict[str, Any]]) -> None:
    measures = (
        ShownMeasure("net_sales"),
        ShownMeasure("net_sales", (), RunningTotal("year")),
        ShownMeasure("net_sales", (), Moving(3)),
        ShownMeasure("orders"),
    )
    found = asked(office, ("rep", TimeLevel("month")), *measures)
    at = {column.id: number for number, column in enumerate(found.columns)}
    compared = 0
    for row in found.rows:
        if len(row.path) < 2:
            continue
        wanted = by_sql[row.path[0] or "", row.path[1] or ""]
        cells = {name: exact(row.cells[place]) for name, place in at.items()}
        assert cells["net_sales.0.value"] == number(wanted["net"]) and cells["orders.0.value"] == wanted["orders"]
        for name, column, reason in (
            ("before_it", "net_sales.1.value", "before_coverage"),
            ("a_year_before", "net_sales.2.value", "before_coverage"),
            ("ahead", "orders.3.value", "after_as_of"),
        ):
            assert cells[column] == (reason if wanted[name] is None else number(wanted[name])), f"{row.path} {column}"
        assert cells["net_sales~running_year.0.value"] == number(wanted["running"])
        mean = "window_incomplete" if wanted["place"] < 3 else number(wanted["moving"]) / 3
        assert cells["net_sales~moving_mean_3.0.value"] == mean
        assert cells["net_sales.4.value"] == number(wanted["fixed"])
        compared += 7
    assert compared > 7 * 200


def test_ranks_and_shares_within_a_month_are_those_of_window_functions(
    office: Office, by_sql: dict[tuple[str, str], dict[str, Any]]
) -> None:
    found = asked(office, (TimeLevel("month"), "rep"), ShownMeasure("net_sales", ("rank", "share_of_parent")))
    at = {column.id: number for number, column in enumerate(found.columns)}
    compared = 0
    for row in found.rows:
        if len(row.path) < 2:
            continue
        wanted = by_sql[row.path[1] or "", row.path[0] or ""]
        if wanted["line_count"]:
            better = [
                each
                for (_, month), each in by_sql.items()
                if month == row.path[0] and each["net"] > wanted["net"] and each["line_count"]
            ]
            assert exact(row.cells[at["net_sales.0.rank"]]) == len(better) + 1
            if wanted["net"] > 0:
                assert wanted["standing"] == len(better) + 1, "those without lines stand below"
            compared += 1
        share = number(wanted["net"]) / number(wanted["of_month"]) if wanted["of_month"] > 0 else None
        if share is not None:
            assert exact(row.cells[at["net_sales.0.share_of_parent"]]) == share
    assert compared > 200
