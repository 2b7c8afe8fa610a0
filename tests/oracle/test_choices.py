"""What a statement or a ledger may choose, each against SQL: feeds cut at the earliest end, holes, units of measure, fiscal years, weeks,
known members without lines, shares that add up, negative bases, expressions, members across, and the notices."""

from __future__ import annotations

import random
from dataclasses import replace
from datetime import date, timedelta
from fractions import Fraction
from pathlib import Path
from typing import Any

import pytest

from lofty_abacus.actions.intake.post_files import post_files
from lofty_abacus.actions.intake.stage_files import map_file, stage_files
from lofty_abacus.actions.ledgers.withdraw_batch import withdraw_batch
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import NewLedger, Posting
from lofty_abacus.core.calendar.settings import CalendarSettings
from lofty_abacus.core.measures.table import DefinedMeasure
from lofty_abacus.core.statement.levels import TimeLevel
from lofty_abacus.core.statement.statement import CountedFilter, ShownMeasure, Statement
from lofty_abacus.core.windows.as_of import PinnedDay
from lofty_abacus.core.windows.bases import PeriodBase
from lofty_abacus.core.windows.current import Dates, ToDate
from lofty_abacus.core.windows.stretches import Moving, RunningTotal
from lofty_abacus.demo.scenario import LEDGER_NAME
from tests.conftest import quiet
from tests.oracle.asking import Asked, cells_of, post_rows

D = date
NET = ShownMeasure("net_sales")
LAST_YEAR = (PeriodBase(1, "year"),)
COVERS = ("2024-01-01", "2026-12-31")
REPS = ("Ada", "Bo", "Cy")
#: Products by what they are counted in.
UNITS = {"clay": "kg", "glaze": "kg", "kiln": "piece", "wheel": "piece", "slip": "litre"}
HEADING = "date,order,rep,product,unit,quantity,amount"


@pytest.fixture(scope="module")
def demo_asked(office: Office, demo: Posting) -> Asked:
    return Asked(office, LEDGER_NAME)


def lines(seed: int, count: int = 900, *, back: float = 0.1, without: float = 0.03) -> list[str]:
    """Lines of three years, some without order or quantity, and so many of them returns."""
    chance, rows = random.Random(seed), []
    for number in range(count):
        day = D(2024, 1, 1) + timedelta(chance.randrange(1096))
        product = chance.choice(list(UNITS))
        sign = "-" if chance.random() < back else ""
        quantity = "" if chance.random() < without else f"{sign}{chance.randrange(1, 40)}"
        order = "" if chance.random() < 0.05 else f"O{number % 300}"
        amount = f"{sign}{chance.randrange(1, 90_000) / 100:.2f}"
        rows.append(f"{day},{order},{chance.choice(REPS)},{product},{UNITS[product]},{quantity},{amount}")
    return rows


def by_label(asked: Asked, statement: Statement) -> dict[str, dict[str, Fraction | str]]:
    found = asked.answer(statement)
    return {row.label: cells_of(found, row) for row in found.rows}


def test_a_statement_cut_where_the_earliest_of_its_feeds_ends(office: Office, tmp_path: Path) -> None:
    sold = ["date,order,rep,amount", *(f"2026-{month:02d}-{day:02d},O{month}{day},{REPS[day % 3]},{day}.10" for month in range(1, 11) for day in range(1, 28))]  # fmt: skip
    asked = post_rows(office, NewLedger("two feeds"), tmp_path, sold, ("2025-01-01", "2026-10-31"))
    path = tmp_path / "back.csv"
    path.write_text(
        "\n".join(["return date,order,rep,amount", *(f"2026-{month:02d}-20,O{month}5,Ada,1.25" for month in range(1, 11))])
    )
    staging = stage_files(office, asked.ledger, [(path.name, path)])
    mapping = staging.files[0].mapping
    assert mapping is not None
    returns = replace(mapping, kind="returns", returns_are="positive", covers_from="2025-01-01", covers_through="2026-09-15")
    map_file(office, staging.id, 0, returns)
    post_files(office, staging.id, quiet)
    query = "SELECT rep, SUM(amount) AS net, SUM(IF(side = 'sale', amount, 0)) AS gross FROM {lines} WHERE day BETWEEN '2026-01-01' AND :last GROUP BY rep"
    both = (NET, ShownMeasure("gross_sales"))
    # What reads sales alone goes by the feed of sales alone.
    for measures, feeds_end, last in (
        (both, "earliest", D(2026, 9, 15)),
        (both, "each", D(2026, 10, 17)),
        (both[1:], "earliest", D(2026, 10, 17)),
    ):
        statement = Statement(measures, ("rep",), as_of=PinnedDay(D(2026, 10, 17)), feeds_end=feeds_end)  # type: ignore[arg-type]
        found = by_label(asked, statement)
        wanted = asked.sql(query, last=last)
        assert len(found) == len(wanted) == 3
        for each in wanted:
            assert found[each["rep"]]["gross_sales.0.value"] == each["gross"]
            assert len(measures) == 1 or found[each["rep"]]["net_sales.0.value"] == each["net"]


def test_declared_holes_are_undefined_and_quiet_months_are_0(office: Office, tmp_path: Path) -> None:
    every = [line for line in lines(11) if line[:7] != "2026-05"]  # a quiet month, and a hole
    every += [f"2026-03-{day},OX,Ada,clay,kg,1,1" for day in ("01", "31")]
    hole = [line for line in every if line[:7] == "2026-03"]
    asked = post_rows(office, NewLedger("a hole"), tmp_path, [HEADING, *(line for line in every if line not in hole)], COVERS)
    path = tmp_path / "march.csv"
    path.write_text("\n".join([HEADING, *hole]) + "\n")
    posted = post_files(office, stage_files(office, asked.ledger, [(path.name, path)]).id, quiet)
    query = """
        WITH RECURSIVE months AS (SELECT DATE'2025-01-01' AS first UNION ALL SELECT first + INTERVAL 1 MONTH FROM months WHERE first < '2026-12-01')
        SELECT DATE_FORMAT(m.first, '%Y-%m') AS month, COALESCE(SUM(l.amount), 0) AS net,
            SUM(COALESCE(SUM(l.amount), 0)) OVER (PARTITION BY YEAR(m.first) ORDER BY m.first) AS running
        FROM months m LEFT JOIN {lines} l ON l.day BETWEEN m.first AND LAST_DAY(m.first) GROUP BY m.first
    """
    statement = Statement(
        (NET, ShownMeasure("net_sales", (), RunningTotal("year"))), (TimeLevel("month"),), Dates(D(2025, 1, 1), D(2026, 12, 31)),
        PinnedDay(D(2026, 12, 31)), (PeriodBase(1, "period"),),
    )  # fmt: skip
    assert by_label(asked, statement)["2026-03"]["net_sales.0.value"] == asked.sql(query)[14]["net"] != 0
    withdraw_batch(office, asked.ledger, posted.batches[0], leave_hole=True)
    wanted = {each["month"]: each for each in asked.sql(query)}
    assert wanted["2026-03"]["net"] == wanted["2026-05"]["net"] == 0, "SQL cannot tell them apart"
    found = by_label(asked, statement)
    before: Any = "before"
    for month, each in wanted.items():
        cells = found[month]
        assert cells["net_sales.0.value"] == ("not_posted" if month == "2026-03" else each["net"])
        assert before == "before" or cells["net_sales.1.value"] == before
        assert cells["net_sales~running_year.0.value"] == each["running"], "cut by the hole, and marked; not undefined"
        before = cells["net_sales.0.value"]


_SPLIT = """
WITH items AS (
    SELECT rep, product, unit, CAST(SUM(IF(YEAR(day) = 2026, amount, 0)) * 100 AS DECIMAL(30, 0)) AS s1,
        CAST(SUM(IF(YEAR(day) = 2025, amount, 0)) * 100 AS DECIMAL(30, 0)) AS s0,
        CAST(SUM(IF(YEAR(day) = 2026, quantity, 0)) AS DECIMAL(30, 0)) AS q1,
        CAST(SUM(IF(YEAR(day) = 2025, quantity, 0)) AS DECIMAL(30, 0)) AS q0,
        SUM(quantity IS NULL) AS lacking, SUM(side = 'sale' AND YEAR(day) = 2026) AS sold_now, SUM(side = 'sale' AND YEAR(day) = 2025) AS sold_then
    FROM (SELECT {rep} AS rep, product, unit, day, amount, quantity, side FROM {lines} WHERE YEAR(day) IN (2025, 2026)) l GROUP BY rep, product, unit
), kept AS (
    SELECT * FROM items WHERE sold_now > 0 AND sold_then > 0 AND lacking = 0 AND q0 > 0 AND q1 > 0 AND s0 >= 0 AND s1 >= 0
), units AS (
    SELECT rep, SUM(s1) AS s1, SUM(s0) AS s0, SUM((2 * q1 * s0 + q0) DIV (2 * q0)) AS expected,
        SIGN(SUM(q1) - SUM(q0)) * ((2 * ABS(SUM(q1) - SUM(q0)) * SUM(s0) + SUM(q0)) DIV (2 * SUM(q0))) AS volume
    FROM kept GROUP BY rep, unit
)
SELECT rep, SUM(s1 - expected) / 100 AS price, SUM(volume) / 100 AS volume, SUM(expected - s0 - volume) / 100 AS mix FROM units GROUP BY rep
"""


def test_volume_and_mix_are_formed_within_each_unit_of_measure(office: Office, tmp_path: Path) -> None:
    asked = post_rows(office, NewLedger("units"), tmp_path, [HEADING, *lines(23, 1500, back=0.05, without=0.002)], COVERS)
    shown = ShownMeasure("net_sales", ("difference", "price_volume_mix"))
    statement = Statement((shown,), ("rep",), as_of=PinnedDay(D(2026, 12, 31)), bases=LAST_YEAR, unit_of_measure="unit")
    found = asked.answer(statement)
    rows = {row.label: row for row in found.rows} | {"": found.total}
    wanted = [*asked.sql(_SPLIT.replace("{rep}", "rep")), *asked.sql(_SPLIT.replace("{rep}", "''"))]
    assert len(wanted) == len(rows) == 4
    split = ("price", "volume", "mix", "new", "lost", "not_split")
    one_for_all = by_label(asked, replace(statement, unit_of_measure=None))
    for each in wanted:
        cells = cells_of(found, rows[each["rep"]])
        assert {step: cells[f"net_sales.1.price_volume_mix_{step}"] for step in split[:3]} == {
            step: each[step] for step in split[:3]
        }
        assert sum(Fraction(cells[f"net_sales.1.price_volume_mix_{step}"]) for step in split) == cells["net_sales.1.difference"]
    assert any(
        one_for_all[rep]["net_sales.1.price_volume_mix_mix"] != cells_of(found, rows[rep])["net_sales.1.price_volume_mix_mix"]
        for rep in REPS
    )


_FISCAL = """
WITH days AS (SELECT DATE'2024-01-01' + INTERVAL seq DAY AS day FROM seq_0_to_1095),
sums AS (
    SELECT d.day, YEAR(d.day - INTERVAL {start} - 1 MONTH) + {named} AS year, MOD(MONTH(d.day) - {start} + 12, 12) DIV {months} + 1 AS part,
        COALESCE(SUM(l.amount), 0) AS net
    FROM days d LEFT JOIN {lines} l ON l.day = d.day GROUP BY d.day
), parts AS (SELECT year, part, MIN(day) AS first, SUM(net) AS net FROM sums GROUP BY year, part)
SELECT year, part, net, LAG(net) OVER (ORDER BY first) AS before_it, LAG(net, 12 DIV {months}) OVER (ORDER BY first) AS a_year_before,
    SUM(net) OVER (PARTITION BY year ORDER BY first) AS running FROM parts ORDER BY first
"""


@pytest.mark.parametrize(("start", "named"), [(4, "end"), (4, "start"), (10, "end"), (7, "start")])
@pytest.mark.parametrize(("grain", "months", "sign"), [("quarter", 3, "Q"), ("half_year", 6, "H")])
def test_fiscal_years_from_any_month_by_both_names(
    office: Office, tmp_path: Path, start: int, named: str, grain: str, months: int, sign: str
) -> None:
    calendar = CalendarSettings(fiscal_start_month=start, fiscal_year_named=named)  # type: ignore[arg-type]
    name = NewLedger(f"fiscal {start} {named} {grain}", calendar=calendar)
    asked = post_rows(office, name, tmp_path, [HEADING, *lines(start)], COVERS)
    query = _FISCAL.replace("{start}", str(start)).replace("{months}", str(months)).replace("{named}", str(int(named == "end")))
    wanted = asked.sql(query)
    measures = (NET, ShownMeasure("net_sales", (), RunningTotal("year")))
    bases = (PeriodBase(1, "period"), PeriodBase(1, "year"))
    window = Dates(D(2024, 1, 1), D(2026, 12, 31))
    found = by_label(asked, Statement(measures, (TimeLevel(grain),), window, PinnedDay(D(2026, 12, 31)), bases))  # type: ignore[arg-type]
    periods = [f"{each['year']}-{sign}{each['part']}" for each in wanted]
    assert len(periods) >= 36 // months and set(found) == set(periods), "named by the year in which they end or start"
    for key, each in list(zip(periods, wanted, strict=True))[
        1:-1
    ]:  # the first and the last are cut by the range and its coverage
        cells = found[key]
        assert (cells["net_sales.0.value"], cells["net_sales~running_year.0.value"]) == (each["net"], each["running"]), key
        for column, before in (("net_sales.1.value", "before_it"), ("net_sales.2.value", "a_year_before")):
            assert cells[column] == ("before_coverage" if each[before] is None else each[before]), key


@pytest.mark.parametrize(("week_start", "mode"), [(0, 3), (6, 6)])
def test_weeks_against_the_week_before_and_the_same_week_last_year(
    office: Office, tmp_path: Path, week_start: int, mode: int
) -> None:
    name = NewLedger(f"weeks from {week_start}", calendar=CalendarSettings(week_start=week_start))
    asked = post_rows(office, name, tmp_path, [HEADING, *lines(week_start + 40)], COVERS)
    query = """
        WITH days AS (SELECT DATE'2024-01-01' + INTERVAL seq DAY AS day FROM seq_0_to_1095),
        sums AS (
            SELECT YEARWEEK(d.day, {mode}) AS week, MIN(d.day) AS first, SUM(l.amount) AS net, COUNT(DISTINCT d.day) AS of_days
            FROM days d LEFT JOIN {lines} l ON l.day = d.day GROUP BY 1
        )
        SELECT s.week, s.of_days, COALESCE(s.net, 0) AS net, COALESCE(LAG(s.net) OVER (ORDER BY s.first), 0) AS before_it,
            y.week AS week_before, COALESCE(y.net, 0) AS a_year_before
        FROM sums s LEFT JOIN sums y ON y.week = s.week - 100 ORDER BY s.first
    """
    wanted = asked.sql(query.replace("{mode}", str(mode)))
    bases = (PeriodBase(1, "period"), PeriodBase(1, "year"))
    window = Dates(D(2025, 1, 20), D(2026, 12, 20))
    found = by_label(asked, Statement((NET,), (TimeLevel("week"),), window, PinnedDay(D(2026, 12, 31)), bases))
    compared, without = 0, 0
    for each in wanted:
        key = f"{int(each['week']) // 100}-W{int(each['week']) % 100:02d}"
        if key not in found or each["week"] in (202504, 202651):  # cut by the range where weeks start on Sundays
            continue
        cells = found[key]
        assert (cells["net_sales.0.value"], cells["net_sales.1.value"]) == (each["net"], each["before_it"]), key
        absent = each["week_before"] is None
        assert cells["net_sales.2.value"] == ("not_applicable" if absent else each["a_year_before"]), key
        compared, without = compared + 1, without + absent
    assert compared >= 95 and without <= 1


def test_days_against_the_same_weekday_a_week_earlier(demo_asked: Asked) -> None:
    query = """
        WITH days AS (SELECT DATE'2025-12-10' + INTERVAL seq DAY AS day FROM seq_0_to_41),
        sums AS (SELECT d.day, COALESCE(SUM(l.amount), 0) AS net FROM days d LEFT JOIN {lines} l ON l.day = d.day GROUP BY d.day)
        SELECT DATE_FORMAT(day, '%Y-%m-%d') AS day, net, LAG(net) OVER (ORDER BY day) AS before_it, LAG(net, 7) OVER (ORDER BY day) AS a_week_before,
            SUM(net) OVER (ORDER BY day ROWS 2 PRECEDING) AS moving FROM sums
    """
    wanted = {each["day"]: each for each in demo_asked.sql(query)}
    window = Dates(D(2025, 12, 20), D(2026, 1, 20))
    moving = ShownMeasure("net_sales", (), Moving(3, "sum", as_many=True))
    for day_back, before in ((None, "before_it"), (7, "a_week_before")):
        bases = (PeriodBase(1, "period", day_back=day_back),)
        found = by_label(demo_asked, Statement((NET, moving), (TimeLevel("day"),), window, PinnedDay(D(2026, 2, 1)), bases))
        assert len(found) == 32
        for day, cells in found.items():
            each = wanted[day]
            assert (cells["net_sales.0.value"], cells["net_sales.1.value"]) == (each["net"], each[before]), day
            assert cells["net_sales~moving_sum_3_or_fewer.0.value"] == each["moving"], "what is shown cuts nothing that is read"


def test_the_total_of_a_series_compares_the_whole_range_shifted_once(demo_asked: Asked) -> None:
    query = "SELECT SUM(amount) AS net, COUNT(DISTINCT IF(side = 'sale', NULLIF(`order`, ''), NULL)) AS orders FROM {lines} WHERE day BETWEEN :first AND :last"
    bases = (PeriodBase(1, "period"), PeriodBase(1, "year"))
    statement = Statement(
        (NET, ShownMeasure("orders")), (TimeLevel("month"),), Dates(D(2026, 2, 1), None), PinnedDay(D(2026, 9, 17)), bases
    )
    found = demo_asked.answer(statement)
    total = cells_of(found, found.total)
    days = (D(2026, 2, 1), D(2026, 9, 17)), (D(2026, 1, 1), D(2026, 8, 17)), (D(2025, 2, 1), D(2025, 9, 17))
    for at, (first, last) in enumerate(days):
        [each] = demo_asked.sql(query, first=first, last=last)
        assert (total[f"net_sales.{at}.value"], total[f"orders.{at}.value"]) == (each["net"], each["orders"])


def test_every_known_member_has_a_row_by_choice(demo_asked: Asked) -> None:
    query = """
        SELECT p.product, COALESCE(SUM(l.amount), 0) AS net, COUNT(l.day) AS n FROM (SELECT DISTINCT product FROM {lines}) p
        LEFT JOIN {lines} l ON l.product = p.product AND l.day = '2026-10-12' GROUP BY p.product
    """
    wanted = {each["product"]: each for each in demo_asked.sql(query)}
    statement = Statement((NET,), ("product",), ToDate("week"), PinnedDay(D(2026, 10, 12)))
    every = by_label(demo_asked, replace(statement, all_members=True))
    assert {name: cells["net_sales.0.value"] for name, cells in every.items()} == {
        name: each["net"] for name, each in wanted.items()
    }
    assert set(by_label(demo_asked, statement)) == {name for name, each in wanted.items() if each["n"]} < set(wanted)


def test_shown_shares_add_up_by_largest_remainders(demo_asked: Asked) -> None:
    query = """
        WITH sums AS (SELECT product, SUM(amount) * 100 AS net FROM {lines} WHERE day BETWEEN '2026-01-01' AND '2026-10-17' GROUP BY product),
        parts AS (
            SELECT product, (net * 1000) DIV SUM(net) OVER () AS tenths,
                RANK() OVER (ORDER BY MOD(net * 1000, SUM(net) OVER ()) DESC) AS place FROM sums
        )
        SELECT product, tenths + (place <= 1000 - SUM(tenths) OVER ()) AS tenths FROM parts
    """
    # MariaDB nests no window function in another's order: the whole is read first.
    query = query.replace("SUM(net) OVER ()", "(SELECT SUM(net) FROM sums)")
    wanted = {each["product"]: each["tenths"] for each in demo_asked.sql(query)}
    shown = ShownMeasure("net_sales", ("share_of_all",))
    statement = Statement((shown,), ("product",), as_of=PinnedDay(D(2026, 10, 17)), shares_add_up=True)
    found = demo_asked.answer(statement)
    texts = {row.label: row.cells[1].shown for row in found.rows}
    assert {name: Fraction(text or "0") * 10 for name, text in texts.items()} == wanted
    assert sum(wanted.values()) == 1000 and len(wanted) > 20


@pytest.mark.parametrize("negative", ["undefined", "divided"])
def test_negative_bases_are_undefined_or_divided_as_they_are(office: Office, tmp_path: Path, negative: str) -> None:
    asked = post_rows(office, NewLedger(f"negative {negative}"), tmp_path, [HEADING, *lines(5, 60, back=0.5)], COVERS)
    query = """
        SELECT product, SUM(IF(YEAR(day) = 2026, amount, 0)) AS now, SUM(IF(YEAR(day) = 2025, amount, 0)) AS was
        FROM {lines} WHERE YEAR(day) IN (2025, 2026) GROUP BY product
    """
    shown = ShownMeasure("net_sales", ("difference", "percent_change", "attainment"))
    statement = Statement((shown,), ("product",), as_of=PinnedDay(D(2026, 12, 31)), bases=LAST_YEAR, negative_bases=negative)  # type: ignore[arg-type]
    found, wanted = by_label(asked, statement), asked.sql(query)
    assert any(each["was"] < 0 for each in wanted) and any(each["was"] > 0 for each in wanted)
    for each in wanted:
        cells, now, was = found[each["product"]], each["now"], each["was"]
        assert cells["net_sales.1.difference"] == now - was
        ratio = "base_is_negative" if was < 0 and negative == "undefined" else now / was
        assert cells["net_sales.1.attainment"] == ratio
        assert cells["net_sales.1.percent_change"] == (ratio if isinstance(ratio, str) else ratio - 1)


def test_expressions_are_evaluated_on_the_totals(demo_asked: Asked) -> None:
    defined = (
        DefinedMeasure("basket", "net_sales / orders otherwise 0", "currency"),
        DefinedMeasure("well_kept", "100 * returns / gross_sales at most 6 if orders > 500 otherwise lines", "number"),
    )
    query = """
        SELECT product, SUM(amount) AS net, SUM(IF(side = 'sale', amount, 0)) AS gross, -SUM(IF(side = 'return', amount, 0)) AS back,
            COUNT(DISTINCT IF(side = 'sale', NULLIF(`order`, ''), NULL)) AS orders, COUNT(*) AS n
        FROM {lines} WHERE day BETWEEN :first AND :last GROUP BY product
    """
    days = ((D(2026, 1, 1), D(2026, 10, 17)), (D(2025, 1, 1), D(2025, 10, 17)))
    now, then = ({each["product"]: each for each in demo_asked.sql(query, first=first, last=last)} for first, last in days)
    measures = (ShownMeasure("basket", ("difference",)), ShownMeasure("well_kept"))
    statement = Statement(measures, ("product",), as_of=PinnedDay(days[0][1]), bases=LAST_YEAR, defined=defined)
    none = {"net": Fraction(0), "gross": Fraction(0), "back": Fraction(0), "orders": Fraction(0), "n": Fraction(0)}
    branches = set()
    found = by_label(demo_asked, statement)
    assert set(found) == set(now) | set(then)
    for name, cells in found.items():
        baskets = []
        for at, side in enumerate((now, then)):
            each = side.get(name, none)
            baskets.append(each["net"] / each["orders"] if each["orders"] else Fraction(0))
            assert cells[f"basket.{at}.value"] == baskets[-1]
            kept = min(100 * each["back"] / each["gross"], Fraction(6)) if each["orders"] > 500 else each["n"]
            assert cells[f"well_kept.{at}.value"] == kept
            branches.add(each["orders"] > 500)
        assert cells["basket.1.difference"] == baskets[0] - baskets[1]
    assert branches == {True, False}


def test_members_across_with_totals_both_ways(demo_asked: Asked) -> None:
    query = """
        SELECT DATE_FORMAT(day, '%Y-%m') AS month, region, SUM(amount) AS net, COUNT(DISTINCT IF(side = 'sale', NULLIF(`order`, ''), NULL)) AS orders
        FROM {lines} WHERE day BETWEEN '2026-01-01' AND '2026-10-17' GROUP BY 1, 2 WITH ROLLUP
        UNION ALL SELECT NULL, region, SUM(amount), COUNT(DISTINCT IF(side = 'sale', NULLIF(`order`, ''), NULL))
        FROM {lines} WHERE day BETWEEN '2026-01-01' AND '2026-10-17' GROUP BY region
    """
    wanted = {(each["month"], each["region"]): (each["net"], each["orders"]) for each in demo_asked.sql(query)}
    measures = (NET, ShownMeasure("orders"))
    statement = Statement(measures, (TimeLevel("month"),), as_of=PinnedDay(D(2026, 10, 17)), across=("region",))
    found = demo_asked.answer(statement)
    seen = set()
    for row in (*found.rows, found.total):
        cells = dict(
            zip(((each.measure, each.across_labels) for each in found.columns), cells_of(found, row).values(), strict=True)
        )
        for measure, at in (("net_sales", 0), ("orders", 1)):
            for labels in {labels for _, labels in cells}:
                key = (row.label or None, labels[0] if labels else None)
                ahead = row.label > "2026-10"  # months that have not begun exist, undefined
                assert cells[measure, labels] == ("after_as_of" if ahead else wanted.get(key, (0, 0))[at]), key
                seen.add(key)
    assert seen >= set(wanted) and len(wanted) > 40


def test_what_is_left_out_is_told_with_its_lines_and_amount(office: Office, tmp_path: Path) -> None:
    asked = post_rows(office, NewLedger("left out"), tmp_path, [HEADING, *lines(77)], ("2024-01-01", "2026-10-31"))
    as_of, only = D(2026, 10, 17), ("clay", "kiln")
    measures = (NET, ShownMeasure("units"), ShownMeasure("orders"))
    statement = Statement(measures, ("rep",), as_of=PinnedDay(as_of), filters=(CountedFilter("product", only),))
    found = asked.answer(statement)
    here = "day BETWEEN '2026-01-01' AND '2026-10-17' AND {is_} IN ('clay', 'kiln')"
    inside, outside = here.replace("{is_}", "product"), here.replace("{is_} IN", "product NOT IN")
    conditions = {
        "after_as_of": "day > '2026-10-17'", "after_today": "day > '2026-11-23'", "returns_netted": f"{inside} AND side = 'return'",
        "filtered_out": outside, "lacking": f"{inside} AND quantity IS NULL",
        "blank_ids": f"{inside} AND side = 'sale' AND `order` IN ('', '(blank)')",
    }  # fmt: skip
    for code, condition in conditions.items():
        [each] = asked.sql(f"SELECT COUNT(*) AS n, SUM(amount) AS net FROM {{lines}} WHERE {condition}")
        notice = next(one for one in found.notices if one.code == code)
        assert notice.lines == each["n"] > 0, code
        assert notice.amount is None or Fraction(notice.amount) == each["net"], code
    [every] = asked.sql("SELECT COUNT(*) AS n, SUM(amount) AS net FROM {lines}")
    assert (found.posted_lines, Fraction(found.posted_amount)) == (every["n"], every["net"])


def test_the_status_of_every_row(office: Office, tmp_path: Path) -> None:
    # Products that live in some of the years only, and some that only come back.
    rows = [f"{day},O{at},Ada,{product},kg,1,{amount}" for at, (day, product, amount) in enumerate((
        ("2025-03-01", "kept", 5), ("2026-03-01", "kept", 6), ("2026-03-01", "new", 7), ("2025-03-01", "gone", 8), ("2026-03-02", "gone", -2),
        ("2025-03-01", "back", -1), ("2026-04-01", "back", -3), ("2025-12-30", "late", 4),
    ))]  # fmt: skip
    asked = post_rows(office, NewLedger("statuses"), tmp_path, [HEADING, *rows], COVERS)
    query = """
        WITH sold AS (
            SELECT product, SUM(side = 'sale' AND YEAR(day) = 2026) AS now, SUM(side = 'sale' AND day BETWEEN '2025-01-01' AND '2025-10-17') AS was
            FROM {lines} WHERE (YEAR(day) = 2026 OR day <= '2025-10-17') GROUP BY product
        )
        SELECT product, CASE WHEN now > 0 AND was > 0 THEN 'kept' WHEN now > 0 THEN 'new' WHEN was > 0 THEN 'lost' ELSE 'returns_only' END AS status
        FROM sold
    """
    found = asked.answer(Statement((NET,), ("product",), as_of=PinnedDay(D(2026, 10, 17)), bases=LAST_YEAR))
    wanted = {each["product"]: each["status"] for each in asked.sql(query)}
    assert {row.label: row.status for row in found.rows} == wanted and set(wanted.values()) == {
        "kept",
        "new",
        "lost",
        "returns_only",
    }
