"""The questions that managers ask, asked as an analyst would, and every number held against SQL."""

from __future__ import annotations

from collections.abc import Callable
from fractions import Fraction
from typing import Any

from selenium.webdriver import Chrome
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By

from tests.browser.screen import Screen

Lines = Callable[[str], list[tuple[Any, ...]]]
NET, ORDERS = "SUM(IF({0}, amount, 0))", "COUNT(DISTINCT IF({0} AND side = 'sale', NULLIF(`order`, ''), NULL))"
NOW, THEN = "day BETWEEN '2026-01-01' AND '2026-10-17'", "day BETWEEN '2025-01-01' AND '2025-10-17'"


def between(first: str, last: str) -> str:
    return f"day BETWEEN '{first}' AND '{last}'"


def opened(page: Chrome) -> Screen:
    screen = Screen(page)
    screen.settled()
    return screen


def test_year_to_date_at_a_chosen_date_against_last_year(page: Chrome, lines: Lines) -> None:
    screen = opened(page)
    screen.type("as of 2026-06-30", "not by rep")
    screen.says("part-window", "30 Jun 2026")
    screen.settled()
    now, then = between("2026-01-01", "2026-06-30"), between("2025-01-01", "2025-06-30")
    found = lines(
        f"SELECT region, {NET.format(now)}, {NET.format(then)} FROM {{lines}} GROUP BY region HAVING COUNT(IF({now} OR {then}, 1, NULL))"
    )
    assert len(found) > 3
    for region, current, base in found:
        assert screen.exact(region, "net_sales.0.value") == Fraction(current)
        assert screen.exact(region, "net_sales.1.percent_change") == Fraction(current - base) / Fraction(base)
    assert screen.exact("total", "net_sales.1.difference") == sum(Fraction(row[1] - row[2]) for row in found)


def test_month_over_month_on_distinct_orders(page: Chrome, lines: Lines) -> None:
    screen = opened(page)
    screen.type("only by month", "without net sales", "not against", "against the month before")
    screen.says("statement", "the month before")
    screen.settled()
    month, before = between("2026-05-01", "2026-05-31"), between("2026-04-01", "2026-04-30")
    [(current, base)] = lines(f"SELECT {ORDERS.format(month)}, {ORDERS.format(before)} FROM {{lines}}")
    assert (screen.exact("2026-05", "orders.0.value"), screen.exact("2026-05", "orders.1.value")) == (current, base)
    # October runs: it meets the same days of September.
    running, same = between("2026-10-01", "2026-10-17"), between("2026-09-01", "2026-09-17")
    [(current, base)] = lines(f"SELECT {ORDERS.format(running)}, {ORDERS.format(same)} FROM {{lines}}")
    screen.type("orders with change")
    screen.settled()
    assert screen.exact("2026-10", "orders.1.difference") == current - base
    [(distinct,)] = lines(f"SELECT {ORDERS.format(NOW)} FROM {{lines}}")
    assert screen.exact("total", "orders.0.value") == distinct, "the total counts each order once"


def test_quarter_to_date_against_last_quarter_by_category_sorted_by_change(page: Chrome, lines: Lines) -> None:
    screen = opened(page)
    screen.type("only by category", "for quarter to date", "not against", "against the same days of the quarter before")
    screen.type("net sales with change")
    screen.settled()
    screen.click("sort-net_sales.1.difference")
    now, then = between("2026-10-01", "2026-10-17"), between("2026-07-01", "2026-07-17")
    found = lines(
        f"SELECT category, {NET.format(now)} - {NET.format(then)} AS d FROM {{lines}} WHERE {now} OR {then} GROUP BY category ORDER BY d DESC"
    )
    assert len(found) > 4
    screen.until(lambda: _rows(page) == [name for name, _ in found], "categories stand by their change")
    for name, difference in found:
        assert screen.exact(name, "net_sales.1.difference") == Fraction(difference)


def _rows(page: Chrome) -> list[str]:
    rows = page.find_elements(By.CSS_SELECTOR, "tbody tr[data-test]")
    return [str(row.get_attribute("data-test")).removeprefix("row-") for row in rows]


def test_any_two_dates_against_last_year_last_quarter_and_last_month(page: Chrome, lines: Lines) -> None:
    screen = opened(page)
    screen.type("for 2026-05-04 to 2026-05-29", "not against", "against the same dates last year")
    screen.type("against the days 1 quarter earlier", "against the days 1 month earlier", "not by rep")
    screen.says("statement", "the days 1 month earlier")
    screen.settled()
    windows = [
        ("2026-05-04", "2026-05-29"),
        ("2025-05-04", "2025-05-29"),
        ("2026-02-04", "2026-02-28"),
        ("2026-04-04", "2026-04-29"),
    ]
    for number, (first, last) in enumerate(windows):
        [(net,)] = lines(f"SELECT {NET.format(between(first, last))} FROM {{lines}}")
        assert screen.exact("total", f"net_sales.{number}.value") == Fraction(net), (first, last)
    screen.says("rod-2", "unequal")  # a day number was cut: February has no 29th
    screen.says("rod-3", "equal days")
    screen.type("net sales with % change")
    screen.settled()
    # The mark stands at the changes against those days and nowhere else; its words are told where it stands.
    changed = [f"net_sales.{number}.percent_change" for number in (1, 2, 3)]
    assert [screen.marked("total", column) for column in changed] == [False, True, False]
    assert not any(screen.marked("total", f"net_sales.{number}.value") for number in range(4))
    assert not page.find_elements(By.CSS_SELECTOR, "thead [data-test='mark']")
    cell = screen.find("cell-net_sales.2.percent_change", screen.find("row-total"))
    assert "Unequal: 25 days against 26" in (cell.get_attribute("title") or cell.get_attribute("aria-label") or "")


def test_each_year_against_a_fixed_base_year(page: Chrome, lines: Lines) -> None:
    screen = opened(page)
    screen.type("for 2024-01-01 to", "only by year", "not against")
    screen.type("against the same period of 2024", "net sales with index")
    screen.says("statement", "the same period of 2024")
    screen.settled()
    [(base, second, part, of_base)] = lines(
        f"SELECT {NET.format('YEAR(day) = 2024')}, {NET.format('YEAR(day) = 2025')}, {NET.format(NOW)},"
        f" {NET.format(between('2024-01-01', '2024-10-17'))} FROM {{lines}}"
    )
    assert screen.exact("2025", "net_sales.1.index") == 100 * Fraction(second) / Fraction(base)
    assert screen.exact("2026", "net_sales.1.index") == 100 * Fraction(part) / Fraction(of_base), "a part meets the same part"


def test_a_running_total_resets_each_year_by_month_and_by_day(page: Chrome, lines: Lines) -> None:
    screen = opened(page)
    screen.type("for 2025-11-01 to 2026-03-31", "only by month", "not against")
    screen.type("running total of net sales from each year's start")
    screen.settled()
    column = "net_sales~running_year.0.value"
    for month, first, last in (("2025-12", "2025-01-01", "2025-12-31"), ("2026-02", "2026-01-01", "2026-02-28")):
        [(net,)] = lines(f"SELECT {NET.format(between(first, last))} FROM {{lines}}")
        assert screen.exact(month, column) == Fraction(net)
    screen.keys("d")
    screen.says("statement", "by day")
    screen.settled()
    for day, first in (("2025-11-03", "2025-01-01"), ("2025-11-10", "2025-01-01")):
        [(net,)] = lines(f"SELECT {NET.format(between(first, day))} FROM {{lines}}")
        assert screen.exact(day, column) == Fraction(net)


def test_the_share_of_each_customer_within_its_region(page: Chrome, lines: Lines) -> None:
    screen = opened(page)
    screen.type("not by rep", "by customer", "net sales with share of parent", "showing the top 5 by net sales")
    screen.settled()
    screen.keys("+")
    screen.settled()
    # By key: customers may share a name.
    found = lines(
        "SELECT v.region, m.member_key, SUM(v.amount) AS net, SUM(SUM(v.amount)) OVER (PARTITION BY v.region) AS whole,"
        " ROW_NUMBER() OVER (PARTITION BY v.region ORDER BY SUM(v.amount) DESC) AS place FROM {lines} v JOIN line_{ledger} l ON l.id = v.id"
        " JOIN member m ON m.code = l.customer_code AND m.dimension_id ="
        " (SELECT id FROM dimension WHERE ledger_id = {ledger} AND name = 'customer')"
        f" WHERE v.{NOW} GROUP BY v.region, m.member_key"
    )
    best = {f"{region}/{key}": Fraction(net) / Fraction(whole) for region, key, net, whole, place in found if place <= 5}
    first = min(best).split("/")[0]
    rows = [row for row in _rows(page) if row.startswith(f"{first}/") and not row.endswith("…")]
    assert set(rows) == {path for path in best if path.startswith(f"{first}/")}
    for row in rows:
        assert screen.exact(row, "net_sales.0.share_of_parent") == best[row]


def test_previous_and_next_periods_n_steps_away(page: Chrome, lines: Lines) -> None:
    screen = opened(page)
    screen.type("only by month", "for 2025-03-01 to 2025-08-31", "not against")
    for steps, direction in (("3", "back"), ("2", "ahead")):
        screen.click("part-add-base")
        screen.fill("steps", steps)
        screen.choose("steps-unit", "own")
        screen.choose("steps-direction", direction)
        screen.click("take-steps")
        screen.says("statement", f" {steps} months {direction}")
        screen.until(lambda: not screen.find_all_shown("take-steps"), "the choice is closed")
    screen.settled()
    for month, column, first, last in (
        ("2025-05", 1, "2025-02-01", "2025-02-28"), ("2025-05", 2, "2025-07-01", "2025-07-31"), ("2025-03", 1, "2024-12-01", "2024-12-31"),
    ):  # fmt: skip
        [(net,)] = lines(f"SELECT {NET.format(between(first, last))} FROM {{lines}}")
        assert screen.exact(month, f"net_sales.{column}.value") == Fraction(net)


def test_a_chart_of_periods_against_the_previous_one_gone_down_from_year_to_day(page: Chrome, lines: Lines) -> None:
    screen = opened(page)
    screen.type("for 2024-01-01 to", "only by year", "not against", "against the year before")
    screen.settled()
    screen.keys("h")
    screen.until(lambda: page.find_elements(By.CSS_SELECTOR, '[data-test="chart"] svg path'), "the chart is drawn")
    for grain, row in (("quarter", "2026-Q3"), ("month", "2026-08")):
        screen.click_cell(row[:4] if grain == "quarter" else "2026-Q3", "net_sales.0.value")
        screen.find("proof")
        screen.keys("d")
        screen.says("statement", f"by {grain}")
        screen.settled()
        screen.find(f"row-{row}")
    screen.click_cell("2026-08", "net_sales.0.value")
    screen.keys("d")
    # A previous period that comes down to days is the same weekday a week earlier, and the statement says so.
    screen.says("statement", "the same weekday a week earlier")
    screen.settled()
    [(now, week_ago)] = lines(
        "SELECT " + ", ".join(NET.format(f"day = '{day}'") for day in ("2026-08-12", "2026-08-05")) + " FROM {lines}"
    )
    assert screen.exact("2026-08-12", "net_sales.0.value") == Fraction(now)
    assert screen.exact("2026-08-12", "net_sales.1.value") == Fraction(week_ago)
    assert page.find_elements(By.CSS_SELECTOR, '[data-test="chart"] svg path'), "the chart went down with the table"
    # Up again, one by one; and down: the step of each level is remembered.
    screen.keys("u")
    screen.says("statement", "the month before")
    screen.settled()
    [(august, july)] = lines(
        f"SELECT {NET.format(between('2026-08-01', '2026-08-31'))}, {NET.format(between('2026-07-01', '2026-07-31'))} FROM {{lines}}"
    )
    assert (screen.exact("2026-08", "net_sales.0.value"), screen.exact("2026-08", "net_sales.1.value")) == (
        Fraction(august),
        Fraction(july),
    )


def test_a_filter_by_region_and_year_does_not_empty_the_first_change(page: Chrome, lines: Lines) -> None:
    screen = opened(page)
    screen.type(
        "only by month",
        "for 2026",
        "not against",
        "against the month before",
        "net sales with % change",
        "where region is Lakes",
    )
    screen.says("statement", "region is Lakes")
    screen.settled()
    where = "region = 'Lakes' AND "
    [(january, december)] = lines(
        f"SELECT {NET.format(where + between('2026-01-01', '2026-01-31'))}, {NET.format(where + between('2025-12-01', '2025-12-31'))} FROM {{lines}}"
    )
    assert screen.exact("2026-01", "net_sales.0.value") == Fraction(january)
    assert screen.exact("2026-01", "net_sales.1.percent_change") == Fraction(january - december) / Fraction(december)


def test_a_click_goes_down_and_a_key_or_a_click_turns_the_unit_of_the_comparison(page: Chrome, lines: Lines) -> None:
    screen = opened(page)
    # A year has no base that is quarters back: the same days a quarter earlier take its place.
    screen.click("base-unit")
    screen.says("statement", "the days 1 quarter earlier")
    screen.settled()
    ActionChains(page).send_keys("x").perform()
    screen.says("statement", "the days 1 month earlier")
    screen.settled()
    ActionChains(page).send_keys("x").perform()
    screen.says("statement", "the same dates last year")
    # A name in a column of time leads down into its period.
    screen.type("by month", "not by region", "not by rep")
    screen.until(lambda: screen.rows()[:1] == ["2026-01"], "months are the rows")
    screen.find("down-name", screen.find("row-2026-03")).click()
    screen.says("statement", "Mar 2026")
    screen.settled()
    [(net,)] = lines(f"SELECT {NET.format(between('2026-03-01', '2026-03-31'))} FROM {{lines}}")
    assert screen.exact("total", "net_sales.0.value") == Fraction(net)
