"""Freight, deliveries and conditions on the demo ledger, as an analyst asks for them; each figure held against SQL."""

from __future__ import annotations

import csv
import io
from collections.abc import Callable
from fractions import Fraction
from pathlib import Path
from typing import Any

from selenium.webdriver import Chrome
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By

from tests.browser.screen import Screen

Lines = Callable[[str], list[tuple[Any, ...]]]


def one(lines: Lines, query: str) -> Fraction:
    [(found,)] = lines(query)
    return Fraction(found or 0)


def condition(screen: Screen, of: str, way: str) -> None:
    """Begin a condition on the lines."""
    screen.click("part-add-condition")
    screen.choose("condition-of", of)
    screen.choose("condition-way", way)


def test_net_of_freight_by_month_of_delivery_against_last_year(screen: Screen, page: Chrome, lines: Lines) -> None:
    screen.click("part-add-day")
    screen.says("choice-delivery", "covered 1 Jan 2024")
    screen.click("choice-delivery")
    screen.says("statement", "counted by delivery")
    screen.type("only by month", "show net of freight = net_sales - freight", "show freight", "without orders")
    screen.settled()
    within = "delivery BETWEEN '{}-03-01' AND '{}-03-31' AND freight IS NOT NULL"
    for window, year in ((0, 2026), (1, 2025)):
        query = f"SELECT SUM(amount) - SUM(freight) FROM {{lines}} WHERE {within.format(year, year)}"
        assert screen.exact("2026-03", f"net_of_freight.{window}.value") == one(lines, query)
    year_to_date = "delivery BETWEEN '2026-01-01' AND '2026-10-17'"
    assert screen.exact("total", "freight.0.value") == one(lines, f"SELECT SUM(freight) FROM {{lines}} WHERE {year_to_date}")
    undated = one(lines, "SELECT COUNT(*) FROM {lines} WHERE delivery IS NULL")
    screen.says("notice", f"{int(undated):,} lines without a delivery count nowhere here")
    screen.says("notice", "Agrees to the cent")
    # The chart goes by that day, too: June is the sixth of twelve months, a little left of the middle.
    screen.type("without net sales", "without net of freight")
    screen.settled()
    screen.keys("h")
    chart = screen.find("chart")
    screen.until(lambda: chart.find_elements(By.CSS_SELECTOR, "svg path"), "the chart is drawn")
    ActionChains(page).move_to_element_with_offset(chart, -30, 0).perform()
    screen.until(lambda: "Jun 2026" in chart.text, "June is told")
    freight = [
        one(lines, f"SELECT SUM(freight) FROM {{lines}} WHERE delivery BETWEEN '{year}-06-01' AND '{year}-06-30'")
        for year in (2026, 2025)
    ]
    assert [each for each in freight if f"{float(each):,.2f}" not in chart.text] == []
    screen.keys("t")
    screen.settled()
    # Its proof shows what each line has of both.
    screen.click_cell("total", "freight.0.value")
    screen.says("line-source", "freight")
    screen.says("line-source", "delivery")


def test_orders_that_are_open_at_the_as_of_date(screen: Screen, page: Chrome, lines: Lines, tmp_path: Path) -> None:
    condition(screen, "delivery", "after")
    screen.click("take-condition")
    screen.says("statement", "counting lines with delivery after the as-of date")
    screen.type("only by month of delivery", "not against")
    screen.settled()
    open_ = "day BETWEEN '2026-01-01' AND '2026-10-17' AND delivery > '2026-10-17'"
    orders = one(lines, f"SELECT COUNT(DISTINCT `order`) FROM {{lines}} WHERE {open_} AND side = 'sale'")
    assert orders > 50 and screen.exact("total", "orders.0.value") == orders
    november = f"{open_} AND delivery BETWEEN '2026-11-01' AND '2026-11-30'"
    assert screen.exact("2026-11", "net_sales.0.value") == one(lines, f"SELECT SUM(amount) FROM {{lines}} WHERE {november}")
    assert "Nov 2026" in screen.find("row-2026-11").text and "All months of delivery" in screen.find("row-total").text
    # What is counted stands in the file, too.
    screen.click("part-save")
    screen.click("save-csv")
    rows = list(csv.DictReader(io.StringIO(screen.saved(tmp_path, ".csv").read_text("utf-8-sig"))))
    assert {row["month of delivery"] for row in rows} >= {"2026-10", "2026-11"}
    assert all("delivery after the as-of date" in row["limited to"] for row in rows)


def test_a_condition_on_a_figure_stands_in_sentence_caption_and_proof(screen: Screen, page: Chrome, lines: Lines) -> None:
    condition(screen, "amount", "between")
    screen.fill("condition-least", "100.50")
    screen.fill("condition-most", "99")
    screen.click("take-condition")
    screen.until(lambda: "that large and that small" in page.find_element(By.TAG_NAME, "main").text, "it is refused in words")
    screen.click("part-condition-0")
    screen.fill("condition-most", "")
    screen.click("take-condition")
    screen.says("statement", "counting lines with amount at least 100.50")
    screen.type("only lines with product begins with p-1")
    screen.says("statement", "and product begins with “p-1”")
    screen.settled()
    screen.says("notice", "only lines with amount at least 100.50 and product begins with “p-1” are counted")
    where = "day BETWEEN '2026-01-01' AND '2026-10-17' AND amount >= 100.50"
    product = "(SELECT m.code FROM member m JOIN dimension d ON d.id = m.dimension_id WHERE d.ledger_id = {ledger}"
    product += " AND d.name = 'product' AND m.member_key LIKE 'P-1%')"
    table = "line_{ledger} l JOIN batch b ON b.id = l.batch_id AND b.active AND l.excluded = 0"
    expected = one(lines, f"SELECT SUM(l.amount) FROM {table} WHERE {where} AND product_code IN {product}")
    assert expected > 0 and screen.exact("total", "net_sales.0.value") == expected
    screen.click_cell("total", "net_sales.0.value")
    screen.find("line-source")
    amounts = page.find_elements(By.CSS_SELECTOR, ".lines td:nth-child(5)")
    found = [each.text.replace(",", "") for each in amounts if each.text]
    assert found and all(Fraction(each) >= Fraction("100.5") for each in found)
    # Taken back with one key, both.
    screen.find("part-condition-1").send_keys("\ue017")
    screen.until(lambda: not screen.all("part-condition-1"), "the second is gone")


def test_a_day_within_any_window_is_typed_and_chosen(screen: Screen, lines: Lines) -> None:
    def expected(first: str, last: str) -> Fraction:
        within = f"delivery BETWEEN '{first}' AND '{last}' AND day BETWEEN '2026-01-01' AND '2026-10-17'"
        return one(lines, f"SELECT SUM(amount) FROM {{lines}} WHERE {within}")

    screen.type("only lines with delivery within Q3 2026")
    screen.says("statement", "counting lines with delivery within Q3 2026")
    screen.settled()
    assert screen.exact("total", "net_sales.0.value") == expected("2026-07-01", "2026-09-30") > 0
    # The form has it as it was typed, and takes another.
    screen.click("part-condition-0")
    screen.to_tab("Typed")
    assert screen.find("window-period").get_attribute("value") == "2026-Q3"
    screen.fill("window-period", "2026-08")
    screen.click("take-period")
    screen.says("statement", "counting lines with delivery within Aug 2026")
    screen.settled()
    assert screen.exact("total", "net_sales.0.value") == expected("2026-08-01", "2026-08-31") > 0
