"""Contributions, lists, the bridge, price, volume and mix, and goals of the demo ledger against SQL, every row and the total."""

from __future__ import annotations

from datetime import date
from fractions import Fraction

import pytest

from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import Posting
from lofty_abacus.core.statement.limits import TopLimit
from lofty_abacus.core.statement.statement import Goal, ShownMeasure, Sort, Statement
from lofty_abacus.core.windows.as_of import PinnedDay
from lofty_abacus.core.windows.bases import PeriodBase
from lofty_abacus.demo.scenario import LEDGER_NAME
from tests.oracle.asking import Asked, cells_of

DAY = PinnedDay(date(2026, 10, 17))
LAST_YEAR = (PeriodBase(1, "year"),)
NOW = "day BETWEEN '2026-01-01' AND '2026-10-17'"
THEN = "day BETWEEN '2025-01-01' AND '2025-10-17'"
BY_NET = Sort("net_sales.0.value")


@pytest.fixture(scope="module")
def asked(office: Office, demo: Posting) -> Asked:
    return Asked(office, LEDGER_NAME)


def statement(*measures: ShownMeasure, rows: tuple[str, ...], **parts: object) -> Statement:
    return Statement(measures, rows, as_of=DAY, bases=LAST_YEAR, **parts)  # type: ignore[arg-type]


def test_contributions_and_cumulative_shares_down_a_ranked_list(asked: Asked) -> None:
    wanted = asked.sql(
        f"""
        WITH sums AS (
            SELECT product AS name, SUM(IF({NOW}, amount, 0)) AS now, SUM(IF({THEN}, amount, 0)) AS was
            FROM {{lines}} WHERE {NOW} OR {THEN} GROUP BY product
        )
        SELECT name, now, now - was AS difference, SUM(was) OVER () AS base, SUM(now) OVER () AS whole, RANK() OVER (ORDER BY now DESC)
            AS standing, SUM(now) OVER (ORDER BY now DESC, name) AS so_far FROM sums ORDER BY now DESC, name
        """
    )
    shown = ShownMeasure("net_sales", ("contribution", "rank", "cumulative", "cumulative_share"))
    found = asked.answer(statement(shown, rows=("product",), sort=BY_NET))
    assert [row.label for row in found.rows] == [each["name"] for each in wanted] and len(wanted) > 20
    for row, each in zip(found.rows, wanted, strict=True):
        cells = cells_of(found, row)
        assert cells["net_sales.1.contribution"] == each["difference"] / each["base"]
        assert cells["net_sales.0.cumulative"] == each["so_far"]
        assert cells["net_sales.0.cumulative_share"] == each["so_far"] / each["whole"]
        assert cells["net_sales.0.rank"] == each["standing"]
    added = sum(Fraction(cells_of(found, row)["net_sales.1.contribution"]) for row in found.rows)
    assert added == cells_of(found, found.total)["net_sales.1.contribution"], "contributions of an additive measure add up"


def test_distinct_orders_down_a_ranked_list_count_each_once(asked: Asked) -> None:
    found = asked.answer(
        statement(ShownMeasure("net_sales"), ShownMeasure("orders", ("cumulative",)), rows=("rep",), sort=BY_NET)
    )
    for at, row in enumerate(found.rows, start=1):
        names = [each.label for each in found.rows[:at]]
        wanted = asked.sql(
            f"SELECT COUNT(DISTINCT NULLIF(`order`, '')) AS n FROM {{lines}} WHERE side = 'sale' AND {NOW} AND rep IN :names".replace(
                ":names", "(" + ", ".join(f"'{name}'" for name in names) + ")"
            )
        )
        assert cells_of(found, row)["orders.0.cumulative"] == wanted[0]["n"]


@pytest.mark.parametrize(("count", "bottom"), [(1, False), (4, False), (3, True)])
def test_the_rest_of_a_top_list_is_evaluated_from_its_lines(asked: Asked, count: int, bottom: bool) -> None:
    ranked = f"""
        WITH sums AS (
            SELECT region, rep, SUM(IF({NOW}, amount, 0)) AS now FROM {{lines}} WHERE {NOW} OR {THEN} GROUP BY region, rep
        ), places AS (
            SELECT region, rep, now, ROW_NUMBER() OVER (PARTITION BY region ORDER BY now {"ASC" if bottom else "DESC"}, rep) AS place
            FROM sums
        )
        SELECT p.region, IF(p.place <= {count}, p.rep, NULL) AS name, SUM(l.amount) AS net,
            COUNT(DISTINCT IF(l.side = 'sale', NULLIF(l.`order`, ''), NULL)) AS orders, COUNT(DISTINCT p.rep) AS members
        FROM places p LEFT JOIN {{lines}} l ON l.region = p.region AND l.rep = p.rep AND l.{NOW} GROUP BY 1, 2
    """
    wanted = {(each["region"], each["name"]): each for each in asked.sql(ranked)}
    limit = TopLimit(count, "net_sales.0.value", "rep", bottom)
    found = asked.answer(
        statement(ShownMeasure("net_sales"), ShownMeasure("orders"), rows=("region", "rep"), sort=BY_NET, limits=(limit,)), 2
    )
    seen = set()
    parent = ""
    for row in found.rows:
        if row.rest is None and len(row.path) == 1:
            parent = row.label
            continue
        key = (parent, None if row.rest is not None else row.label)
        cells = cells_of(found, row)
        assert (cells["net_sales.0.value"], cells["orders.0.value"]) == (wanted[key]["net"] or 0, wanted[key]["orders"]), key
        assert row.rest is None or row.rest == wanted[key]["members"]
        seen.add(key)
    assert seen == set(wanted)


def test_the_bridge_of_every_region_is_that_of_its_reps_and_products(asked: Asked) -> None:
    query = f"""
        WITH items AS (
            SELECT region, rep, product, SUM(IF({NOW}, amount, 0)) - SUM(IF({THEN}, amount, 0)) AS step,
                SUM(side = 'sale' AND {NOW}) AS sold_now, SUM(side = 'sale' AND {THEN}) AS sold_then
            FROM {{lines}} WHERE {NOW} OR {THEN} GROUP BY region, rep, product
        )
        SELECT region, SUM(IF(sold_now = 0 AND sold_then > 0, step, 0)) AS lost, SUM(IF(sold_now > 0 AND sold_then = 0, step, 0)) AS new,
            SUM(IF(sold_now > 0 AND sold_then > 0, LEAST(step, 0), 0)) AS kept_down,
            SUM(IF(sold_now > 0 AND sold_then > 0, GREATEST(step, 0), 0)) AS kept_up,
            SUM(IF(sold_now = 0 AND sold_then = 0, step, 0)) AS returns_only, SUM(step) AS difference
        FROM items GROUP BY region WITH ROLLUP
    """
    shown = ShownMeasure("net_sales", ("difference", "bridge"))
    found = asked.answer(statement(shown, rows=("region", "rep", "product")))
    rows = {row.label: row for row in found.rows} | {None: found.total}
    wanted = asked.sql(query)
    assert len(wanted) == len(rows) > 4
    for each in wanted:
        cells = cells_of(found, rows[each["region"]])
        for step in ("lost", "new", "kept_down", "kept_up", "returns_only"):
            assert cells[f"net_sales.1.bridge_{step}"] == each[step], (each["region"], step)
        assert cells["net_sales.1.difference"] == each["difference"]


def test_price_volume_and_mix_in_whole_minor_units(asked: Asked) -> None:
    # Integers throughout: SQL's own division rounds to some decimals. (2a + b) DIV 2b rounds a/b half up, for a, b > 0.
    query = f"""
        WITH items AS (
            SELECT rep, product, CAST(SUM(IF({NOW}, amount, 0)) * 100 AS DECIMAL(30, 0)) AS s1,
                CAST(SUM(IF({THEN}, amount, 0)) * 100 AS DECIMAL(30, 0)) AS s0,
                CAST(SUM(IF({NOW}, quantity, 0)) * 1000 AS DECIMAL(30, 0)) AS q1,
                CAST(SUM(IF({THEN}, quantity, 0)) * 1000 AS DECIMAL(30, 0)) AS q0,
                SUM({NOW} AND quantity IS NULL) + SUM({THEN} AND quantity IS NULL) AS lacking,
                SUM(side = 'sale' AND {NOW}) AS sold_now, SUM(side = 'sale' AND {THEN}) AS sold_then
            FROM {{lines}} WHERE {NOW} OR {THEN} GROUP BY rep, product
        ), kinds AS (
            SELECT *, CASE WHEN sold_now > 0 AND sold_then = 0 THEN 'new' WHEN sold_then > 0 AND sold_now = 0 THEN 'lost'
                WHEN sold_now > 0 AND lacking = 0 AND q0 > 0 AND q1 > 0 AND s0 >= 0 AND s1 >= 0 THEN 'kept' ELSE 'not_split' END AS kind
            FROM items
        ), sums AS (
            SELECT rep, SUM(IF(kind = 'kept', s1, 0)) AS s1, SUM(IF(kind = 'kept', s0, 0)) AS s0, SUM(IF(kind = 'kept', q1, 0)) AS q1,
                SUM(IF(kind = 'kept', q0, 0)) AS q0, SUM(IF(kind = 'kept', (2 * q1 * s0 + q0) DIV (2 * q0), 0)) AS expected,
                SUM(IF(kind = 'new', s1 - s0, 0)) AS new, SUM(IF(kind = 'lost', s1 - s0, 0)) AS lost,
                SUM(IF(kind = 'not_split', s1 - s0, 0)) AS not_split
            FROM kinds GROUP BY rep
        )
        SELECT rep, s1 - expected AS price, expected, s0, new, lost, not_split,
            IF(q0 = 0, 0, SIGN(q1 - q0) * ((2 * ABS(q1 - q0) * s0 + q0) DIV (2 * q0))) AS volume FROM sums
    """
    shown = ShownMeasure("net_sales", ("difference", "price_volume_mix"))
    found = asked.answer(statement(shown, rows=("rep",)))
    wanted = {each["rep"]: each for each in asked.sql(query)}
    assert {row.label for row in found.rows} == set(wanted)
    for row in found.rows:
        cells, each = cells_of(found, row), wanted[row.label]
        steps = {step: each[step] for step in ("price", "volume", "new", "lost", "not_split")}
        steps["mix"] = each["expected"] - each["s0"] - each["volume"]
        assert {step: cells[f"net_sales.1.price_volume_mix_{step}"] for step in steps} == {
            step: value / 100 for step, value in steps.items()
        }
        assert sum(steps.values()) / 100 == cells["net_sales.1.difference"]


def test_goals_are_judged_as_by_sql(asked: Asked) -> None:
    query = f"""
        SELECT rep, SUM(IF({NOW}, amount, 0)) * 100 >= 104.5 * SUM(IF({THEN}, amount, 0)) AS net,
            COUNT(DISTINCT IF(side = 'sale' AND {NOW}, NULLIF(`order`, ''), NULL)) * 100
                >= 97 * COUNT(DISTINCT IF(side = 'sale' AND {THEN}, NULLIF(`order`, ''), NULL)) AS orders,
            -SUM(IF(side = 'return' AND {NOW}, amount, 0)) <= 9000 AS returns
        FROM {{lines}} WHERE {NOW} OR {THEN} GROUP BY rep WITH ROLLUP
    """
    measures = (ShownMeasure("net_sales"), ShownMeasure("orders"), ShownMeasure("returns"))
    goals = (Goal("net_sales", "104.5"), Goal("orders", "97"), Goal("returns", "9000", "figure"))
    found = asked.answer(statement(*measures, rows=("rep",), goals=goals))
    rows = {row.label: row for row in found.rows} | {None: found.total}
    wanted = asked.sql(query)
    assert len(wanted) == len(rows)
    verdicts = set()
    for each in wanted:
        row = rows[each["rep"]]
        met = {column.measure: cell.met for column, cell in zip(found.columns, row.cells, strict=True) if column.kind == "goal"}
        assert met == {"net_sales": each["net"] == 1, "orders": each["orders"] == 1, "returns": each["returns"] == 1}
        assert row.goals is not None and (row.goals.met, row.goals.defined) == (sum(met.values()), 3)
        verdicts |= {*met.items()}
    assert len(verdicts) >= 5, "goals met and missed both"
