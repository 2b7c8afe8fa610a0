"""Returns on the day of the sale, plans spread over days, working days and years of whole weeks, against SQL in MariaDB."""

from __future__ import annotations

import random
from dataclasses import replace
from datetime import date, timedelta
from pathlib import Path

import pytest

from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import NewLedger
from lofty_abacus.core.calendar.settings import CalendarSettings, WeekYears
from lofty_abacus.core.statement.levels import TimeLevel
from lofty_abacus.core.statement.statement import ShownMeasure, Statement
from lofty_abacus.core.windows.as_of import PinnedDay
from lofty_abacus.core.windows.bases import LedgerBase, PeriodBase
from lofty_abacus.core.windows.current import Dates, NamedPeriod, ToDate
from lofty_abacus.core.windows.stretches import RunningTotal
from tests.oracle.asking import Asked, cells_of, post_rows

FIRST, LAST = date(2024, 1, 1), date(2026, 12, 31)
COVERS = (FIRST.isoformat(), LAST.isoformat())
REGIONS, PRODUCTS = ("North", "South", "East"), ("P1", "P2", "P3", "P4")
HEADING = "date,order,region,product,amount"
NET = ShownMeasure("net_sales")
HOLIDAYS = tuple(date(year, *day) for year in (2024, 2025, 2026) for day in ((1, 1), (3, 12), (5, 1), (6, 9), (8, 15)))


def sold_lines(seed: int) -> list[str]:
    """Orders with up to four lines of different products, and what came back of them: of a product, or known by order only."""
    chance = random.Random(seed)
    rows: list[str] = []
    for number in range(400):
        day = FIRST + timedelta(chance.randrange(1000))
        of_product = [(each, chance.randrange(100, 90_000)) for each in chance.sample(PRODUCTS, chance.randrange(1, 5))]
        region = chance.choice(REGIONS)
        rows += [f"{day},O{number},{region},{product},{amount / 100:.2f}" for product, amount in of_product]
        later = day + timedelta(chance.randrange(90))
        kind = chance.random()
        if kind < 0.3:
            product, amount = chance.choice(of_product)
            rows.append(f"{later},O{number},,{product},-{chance.randrange(1, amount // 3 + 2) / 100:.2f}")
        if kind < 0.2 or kind > 0.9:
            whole = sum(amount for _, amount in of_product)
            rows.append(f"{later + timedelta(1)},O{number},,,-{chance.randrange(1, whole // 3 + 2) / 100:.2f}")
        if kind > 0.97:
            rows.append(f"{later},O{number},{region},{of_product[0][0]},-99999.00")  # larger than its sale
    rows += ["2025-03-01,Unknown,North,P1,-12.34", "2023-12-31,O5,South,,-0.50"]
    return rows


@pytest.fixture(scope="module")
def sold(office: Office, tmp_path_factory: pytest.TempPathFactory) -> Asked:
    new = NewLedger("sold and brought back", calendar=CalendarSettings(holidays=HOLIDAYS))
    return post_rows(office, new, tmp_path_factory.mktemp("sold"), [HEADING, *sold_lines(7)], ("2023-12-01", COVERS[1]))


_PLACED = """
WITH sale AS (
    SELECT id, day, `order`, region, product, CAST(amount * 100 AS DECIMAL(30, 0)) AS minor FROM {lines} WHERE side = 'sale'
), whole AS (SELECT `order`, MIN(day) AS day, SUM(minor) AS minor FROM sale GROUP BY `order`),
back AS (
    SELECT id, day, `order`, region, product, CAST(-amount * 100 AS DECIMAL(30, 0)) AS minor FROM {lines} WHERE side = 'return'
), stays AS (
    SELECT b.* FROM back b LEFT JOIN whole w ON w.`order` = b.`order` WHERE w.minor IS NULL OR b.day < w.day OR b.minor > w.minor
), parts AS (
    SELECT b.id, s.day, b.day AS own, s.region, s.product, b.minor, (b.minor * s.minor) DIV w.minor AS part,
        ROW_NUMBER() OVER (PARTITION BY b.id ORDER BY (b.minor * s.minor) MOD w.minor DESC, s.id) AS place
    FROM back b JOIN whole w ON w.`order` = b.`order` JOIN sale s ON s.`order` = b.`order`
    WHERE b.product = '(blank)' AND b.id NOT IN (SELECT id FROM stays)
), placed AS (
    SELECT day, day AS own, region, product, minor FROM sale
    UNION ALL SELECT day, day, region, product, -minor FROM stays
    UNION ALL SELECT s.day, b.day, s.region, s.product, -b.minor FROM back b
        JOIN sale s ON s.`order` = b.`order` AND s.product = b.product WHERE b.id NOT IN (SELECT id FROM stays)
    UNION ALL SELECT day, own, region, product, -(part + (place <= minor - SUM(part) OVER (PARTITION BY id))) FROM parts
)
"""
_BY_MONTH = "SELECT region, product, DATE_FORMAT(day, '%Y-%m') AS month, SUM(minor) / 100 AS net FROM placed GROUP BY 1, 2, 3"


def test_returns_lie_on_the_days_and_members_of_their_sales(sold: Asked) -> None:
    wanted = {(each["region"], each["product"], each["month"]): each["net"] for each in sold.sql(_PLACED + _BY_MONTH)}
    rows = ("region", "product", TimeLevel("month"))
    statement = Statement((NET,), rows, Dates(date(2023, 12, 1), LAST), PinnedDay(LAST), returns="sale_day")
    found = sold.answer(statement, 3)
    names = {row.path: row.label for row in found.rows}
    cells = {
        (names[row.path[:1]], names[row.path[:2]], row.path[2]): cells_of(found, row)["net_sales.0.value"]
        for row in found.rows
        if len(row.path) == 3
    }
    assert {path: value for path, value in cells.items() if value} == {path: value for path, value in wanted.items() if value}
    assert sum(wanted.values()) == cells_of(found, found.total)["net_sales.0.value"]
    own = sold.answer(Statement((NET,), rows, Dates(date(2023, 12, 1), LAST), PinnedDay(LAST)), 3)
    assert {row.path for row in own.rows} != {row.path for row in found.rows}, "the two bases differ"


@pytest.mark.parametrize(
    ("period", "as_of"), [("2025-Q4", date(2026, 2, 10)), ("2026-03", date(2026, 3, 20)), ("2026-H1", date(2026, 7, 31))]
)
@pytest.mark.parametrize("within", ["as_of", "same_time"])
def test_returns_of_the_base_get_as_long_as_those_of_the_window(sold: Asked, period: str, as_of: date, within: str) -> None:
    base = PeriodBase(1, "year")
    statement = Statement((NET,), ("region", "product"), NamedPeriod(period), PinnedDay(as_of), (base,), returns="sale_day")
    found = sold.answer(replace(statement, returns_within=within), 2)  # type: ignore[arg-type]
    now, then = (each.asked for each in found.windows)
    assert now is not None and then is not None
    query = "SELECT region, product, SUM(minor) / 100 AS net FROM placed WHERE day BETWEEN :first AND :last AND own <= :by GROUP BY 1, 2"
    # The base's returns count as long after its last day as those of the window did until the as-of date.
    known = then.last + (as_of - now.last) if within == "same_time" else as_of
    wanted = [
        {
            (each["region"], each["product"]): each["net"]
            for each in sold.sql(_PLACED + query, first=days.first, last=days.last, by=by)
        }
        for days, by in ((now, as_of), (then, known))
    ]
    regions = {row.path[:1]: row.label for row in found.rows if len(row.path) == 1}
    seen = set()
    for row in found.rows:
        if len(row.path) == 2:
            key, cells = (regions[row.path[:1]], row.label), cells_of(found, row)
            assert [cells[f"net_sales.{at}.value"] for at in (0, 1)] == [side.get(key, 0) for side in wanted], key
            seen.add(key)
    assert seen == set(wanted[0]) | set(wanted[1]) and len(seen) >= 9


_KEPT = """
WITH sale AS (SELECT * FROM {lines} WHERE side = 'sale'),
whole AS (SELECT `order`, MIN(day) AS day, COUNT(*) AS of_lines, SUM(amount) AS amount, MIN(product) AS product FROM sale GROUP BY `order`),
back AS (
    SELECT b.*, w.of_lines, w.product AS only_product,
        w.amount IS NOT NULL AND b.day >= w.day AND -b.amount <= w.amount AND b.product = '(blank)' AS by_order
    FROM {lines} b LEFT JOIN whole w ON w.`order` = b.`order` WHERE b.side = 'return'
)
SELECT CASE WHEN by_order AND of_lines > 1 THEN '(not allocated)' WHEN by_order THEN only_product ELSE product END AS product,
    SUM(amount) AS net
FROM (SELECT product, amount, 0 AS by_order, 1 AS of_lines, '' AS only_product FROM sale
    UNION ALL SELECT product, amount, by_order, of_lines, only_product FROM back) every
GROUP BY 1
"""


def test_refunds_known_by_order_only_are_kept_apart_by_choice(sold: Asked) -> None:
    wanted = {each["product"]: each["net"] for each in sold.sql(_KEPT)}
    window = Dates(date(2023, 12, 1), LAST)
    statement = Statement((NET,), ("product",), window, PinnedDay(LAST), returns="sale_day", refunds="not_allocated")
    found = sold.answer(statement)
    assert {row.label: cells_of(found, row)["net_sales.0.value"] for row in found.rows} == wanted
    assert wanted["(not allocated)"] < 0 and len(wanted) == len(PRODUCTS) + 2


_PLANNED = """
WITH days AS (SELECT DATE'2026-01-01' + INTERVAL seq DAY AS day FROM seq_0_to_364),
places AS (
    SELECT day, MONTH(day) AS month, ROW_NUMBER() OVER (PARTITION BY MONTH(day) ORDER BY day) AS place, COUNT(*) OVER (PARTITION BY MONTH(day)) AS of_days
    FROM days WHERE {over}
), spread AS (
    SELECT p.region, d.day, CAST(p.amount * 100 AS DECIMAL(30, 0)) DIV d.of_days
        + (d.place <= CAST(p.amount * 100 AS DECIMAL(30, 0)) MOD d.of_days) AS minor
    FROM {lines} p JOIN places d ON d.month = MONTH(p.day)
)
SELECT region, SUM(minor) / 100 AS planned FROM spread WHERE day BETWEEN :first AND :last GROUP BY region
"""


@pytest.fixture(scope="module")
def plan(office: Office, tmp_path_factory: pytest.TempPathFactory) -> Asked:
    chance = random.Random(3)
    rows = [
        f"2026-{month:02d},{region},{chance.randrange(1, 9_999_999) / 100:.2f}" for month in range(1, 13) for region in REGIONS
    ]
    new = NewLedger("plan of the sold", line_grain="month")
    return post_rows(office, new, tmp_path_factory.mktemp("plan"), ["month,region,amount", *rows], ("2026-01-01", "2026-12-31"))


@pytest.mark.parametrize("as_of", [date(2026, 1, 1), date(2026, 2, 28), date(2026, 8, 17), date(2026, 9, 30)])
@pytest.mark.parametrize(("grain", "month"), [("year", 1), ("month", 0)])
@pytest.mark.parametrize("spread", ["days", "working_days"])
def test_any_window_has_an_exact_plan(sold: Asked, plan: Asked, as_of: date, grain: str, month: int, spread: str) -> None:
    first = as_of.replace(day=1, month=month or as_of.month)
    works = "WEEKDAY(day) < 5 AND day NOT IN ({})".format(", ".join(f"'{day}'" for day in HOLIDAYS))
    spread_over = _PLANNED.replace("{over}", works if spread == "working_days" else "TRUE")
    planned = {each["region"]: each["planned"] for each in plan.sql(spread_over, first=first, last=as_of)}
    query = "SELECT region, SUM(amount) AS net FROM {lines} WHERE day BETWEEN :first AND :last GROUP BY region"
    net = {each["region"]: each["net"] for each in sold.sql(query, first=first, last=as_of)}
    shown = ShownMeasure("net_sales", ("difference", "attainment"))
    base = LedgerBase("plan of the sold", spread=spread)  # type: ignore[arg-type]
    found = sold.answer(Statement((shown,), ("region",), ToDate(grain), PinnedDay(as_of), (base,)))  # type: ignore[arg-type]
    assert {row.label for row in found.rows if row.label in REGIONS} == set(planned) | set(net) & set(REGIONS)
    for row in (row for row in found.rows if row.label in REGIONS):
        cells, of_plan = cells_of(found, row), planned.get(row.label)
        # A window of holidays alone has no plan.
        assert cells["net_sales.1.value"] == ("not_given" if of_plan is None else of_plan)
        if of_plan is not None:
            assert cells["net_sales.1.difference"] == net.get(row.label, 0) - of_plan
            assert cells["net_sales.1.attainment"] == net.get(row.label, 0) / of_plan
    assert cells_of(found, found.total)["net_sales.1.value"] == (sum(planned.values()) if planned else "not_given")


_WORKING = """
WITH days AS (SELECT DATE'2024-01-01' + INTERVAL seq DAY AS day FROM seq_0_to_1095),
counted AS (
    SELECT day, WEEKDAY(day) < 5 AND day NOT IN ({free}) AS works,
        SUM(WEEKDAY(day) < 5 AND day NOT IN ({free})) OVER (PARTITION BY {period} ORDER BY day) AS so_far
    FROM days
), now AS (SELECT so_far, works FROM counted WHERE day = :as_of)
SELECT MIN(c.day) - INTERVAL (NOT now.works) DAY AS last FROM counted c JOIN now ON c.works AND c.so_far = now.so_far + (NOT now.works)
WHERE {same} GROUP BY now.works
"""


@pytest.mark.parametrize("as_of", [date(2026, 3, 12), date(2026, 3, 14), date(2025, 6, 9), date(2026, 8, 17), date(2025, 5, 30)])
def test_the_base_ends_on_the_same_working_day(sold: Asked, as_of: date) -> None:
    free = ", ".join(f"'{day}'" for day in HOLIDAYS)
    for grain, unit, period, same in (
        ("year", "year", "YEAR(day)", "YEAR(c.day) = YEAR(:as_of) - 1"),
        (
            "month",
            "period",
            "DATE_FORMAT(day, '%Y-%m')",
            "DATE_FORMAT(c.day, '%Y-%m') = DATE_FORMAT(:as_of - INTERVAL 1 MONTH, '%Y-%m')",
        ),
    ):
        query = _WORKING.replace("{free}", free).replace("{period}", period).replace("{same}", same)
        found_last = sold.sql(query, as_of=as_of)
        first = date(as_of.year - 1, 1, 1) if grain == "year" else (as_of.replace(day=1) - timedelta(1)).replace(day=1)
        last = found_last[0]["last"] if found_last else as_of.replace(day=1) - timedelta(1)
        wanted = sold.sql(
            "SELECT region, SUM(amount) AS net FROM {lines} WHERE day BETWEEN :first AND :last GROUP BY region",
            first=first,
            last=last,
        )
        base = PeriodBase(1, unit, "same_working_days")  # type: ignore[arg-type]
        found = sold.answer(Statement((NET,), ("region",), ToDate(grain), PinnedDay(as_of), (base,)))  # type: ignore[arg-type]
        asked = found.windows[1].asked
        assert asked is not None and (asked.first, asked.last) == (first, last)
        rows = {row.label: cells_of(found, row)["net_sales.1.value"] for row in found.rows}
        for each in wanted:
            assert rows[each["region"]] == each["net"]


_WEEK_YEARS = """
WITH RECURSIVE years AS (SELECT 2022 AS year UNION ALL SELECT year + 1 FROM years WHERE year < 2027),
anchors AS (SELECT year, LAST_DAY(MAKEDATE(year, 1)) AS anchor FROM years),
backs AS (SELECT year, anchor, MOD(WEEKDAY(anchor) - 5 + 7, 7) AS back FROM anchors),
ends AS (SELECT year, anchor + INTERVAL IF(:nearest AND back > 3, 7 - back, -CAST(back AS SIGNED)) DAY AS last FROM backs),
bounds AS (SELECT year, LAG(last) OVER (ORDER BY year) + INTERVAL 1 DAY AS first, last FROM ends),
months AS (SELECT 0 AS month UNION ALL SELECT month + 1 FROM months WHERE month < 11),
lengths AS (SELECT month, IF(MOD(month, 3) = :long, 5, 4) AS weeks FROM months),
starts AS (SELECT month, SUM(weeks) OVER (ORDER BY month) - weeks AS before_it FROM lengths),
periods AS (
    SELECT year, month + 1 AS month, first + INTERVAL 7 * before_it DAY AS first,
        COALESCE(LEAD(first + INTERVAL 7 * before_it DAY) OVER (ORDER BY year, month), last + INTERVAL 1 DAY) - INTERVAL 1 DAY AS last
    FROM bounds CROSS JOIN starts WHERE first IS NOT NULL
), sums AS (
    SELECT p.year, p.month, p.first, p.last, COALESCE(SUM(l.amount), 0) AS net
    FROM periods p LEFT JOIN {lines} l ON l.day BETWEEN p.first AND p.last GROUP BY p.year, p.month, p.first, p.last
)
SELECT year, month, first, last, net, LAG(net) OVER (ORDER BY year, month) AS before_it, LAG(net, 12) OVER (ORDER BY year, month) AS a_year_before,
    SUM(net) OVER (PARTITION BY year ORDER BY month) AS running
FROM sums ORDER BY year, month
"""


@pytest.mark.parametrize(("pattern", "long"), [("4-4-5", 2), ("4-5-4", 1), ("5-4-4", 0)])
@pytest.mark.parametrize("end", ["nearest", "last"])
def test_years_of_whole_weeks_are_those_of_sql(office: Office, tmp_path: Path, pattern: str, long: int, end: str) -> None:
    calendar = CalendarSettings(week_start=6, week_years=WeekYears(pattern, 5, 1, end))  # type: ignore[arg-type]
    asked = post_rows(
        office,
        NewLedger(f"weeks {pattern} {end}", calendar=calendar),
        tmp_path,
        [HEADING, *sold_lines(long)],
        ("2023-12-01", COVERS[1]),
    )
    wanted = {each["first"]: each for each in asked.sql(_WEEK_YEARS, nearest=end == "nearest", long=long)}
    # One whole year and more of periods, so that week 53 and the turn of a year are among them.
    running = ShownMeasure("net_sales", (), RunningTotal("year"))
    bases = (PeriodBase(1, "period"), PeriodBase(1, "year"))
    window = Dates(date(2025, 2, 20), date(2026, 8, 31))
    found = asked.answer(Statement((NET, running), (TimeLevel("month"),), window, PinnedDay(date(2026, 12, 31)), bases))
    compared = 0
    for row in found.rows:
        assert row.slot is not None
        days = found.periods[row.slot].windows[0].asked
        assert days is not None
        if not window.first <= days.first <= days.last <= date(2026, 8, 31) or days.first not in wanted:
            continue
        each, cells = wanted[days.first], cells_of(found, row)
        if days.last != each["last"]:
            continue  # the first and the last period are cut by the range
        assert cells["net_sales.0.value"] == each["net"] and cells["net_sales.1.value"] == each["before_it"], row.label
        assert cells["net_sales.2.value"] == each["a_year_before"] and cells["net_sales~running_year.0.value"] == each["running"]
        compared += 1
    assert compared >= 16


def test_levels_as_they_were_and_as_they_are_now(office: Office, tmp_path: Path) -> None:
    changes = {"North": "2025-05-20", "South": "2026-08-15", "East": "2026-11-01"}
    lookup = ["region,district,valid from", *(f"{region},Old {region[0]}," for region in changes)]
    lookup += [f"{region},New,{day}" for region, day in changes.items()]
    name = "regions that change district"
    asked = post_rows(office, NewLedger(name), tmp_path, [HEADING, *sold_lines(5)], ("2023-12-01", COVERS[1]), lookup)
    windows = "day BETWEEN '2026-01-01' AND '2026-10-17'", "day BETWEEN '2025-01-01' AND '2025-10-17'"
    when = " ".join(
        f"WHEN region = '{region}' THEN IF({{day}} < '{day}', 'Old {region[0]}', 'New')" for region, day in changes.items()
    )
    for reading, day in (("as_it_was", "day"), ("as_it_is_now", "'2026-10-17'")):
        query = f"""
            SELECT CASE {when.replace("{day}", day)} ELSE '(blank)' END AS district, SUM(IF({windows[0]}, amount, 0)) AS now,
                SUM(IF({windows[1]}, amount, 0)) AS was FROM {{lines}} WHERE {windows[0]} OR {windows[1]} GROUP BY 1
        """
        wanted = {each["district"]: (each["now"], each["was"]) for each in asked.sql(query)}
        statement = Statement(
            (NET,), ("district",), as_of=PinnedDay(date(2026, 10, 17)), bases=(PeriodBase(1, "year"),), levels=reading  # type: ignore[arg-type]
        )  # fmt: skip
        found = asked.answer(statement)
        cells = {row.label: tuple(cells_of(found, row).values()) for row in found.rows}
        assert cells == wanted and len(wanted) >= 3, reading
