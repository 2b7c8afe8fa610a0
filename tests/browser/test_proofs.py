"""The proof in use: days that come to the figure, lines that are searched, sorted, saved and led to their batch."""

from __future__ import annotations

import csv
import io
from collections.abc import Callable
from decimal import Context, Decimal
from fractions import Fraction
from pathlib import Path
from typing import Any

from selenium.webdriver.common.by import By

from tests.browser.screen import Screen

Lines = Callable[[str], list[tuple[Any, ...]]]


def day_rows(screen: Screen) -> list[list[str]]:
    """The texts of the table of days."""
    rows = "[...document.querySelectorAll('[data-test=\"days\"] .el-table__body tbody tr')]"
    return screen.driver.execute_script(f"return {rows}.map(row => [...row.cells].map(cell => cell.textContent.trim()))")  # type: ignore[no-any-return]


def added_up(screen: Screen, column: int) -> Fraction:
    """The figures of one column of the table of days, added up by hand."""
    texts = [row[column].replace(",", "").replace("−", "-") for row in day_rows(screen)]
    return sum((Fraction(text) for text in texts if text), Fraction(0))


def test_days_of_counts_ratios_and_shares_come_to_the_figure(screen: Screen, lines: Lines) -> None:
    screen.type("not by rep", "show average order value", "orders with share of all")
    screen.settled()
    where = "side = 'sale' AND `order` <> '' AND region = 'Lakes' AND day BETWEEN '2026-01-01' AND '2026-10-17'"
    firsts = f"SELECT `order`, MIN(day) AS first FROM {{lines}} WHERE {where} GROUP BY `order`"
    new = {day.isoformat(): count for day, count in lines(f"SELECT first, COUNT(*) FROM ({firsts}) AS f GROUP BY first")}
    assert sum(new.values()) > 1000
    # The picture of different orders opens as a table of the orders that are new on each day.
    screen.click_cell("Lakes", "orders.0.value")
    screen.says("picture-words", "first day")
    screen.until(lambda: (screen.driver.find_element(By.CSS_SELECTOR, "svg.picture").click(), True)[1], "the picture opens")
    screen.until(lambda: len(day_rows(screen)) == 290, "every day of the window is listed")
    assert [added_up(screen, 1), screen.find("days-sum-0-0").text] == [sum(new.values()), f"{sum(new.values()):,}"]
    listed = [int(row[1]) for row in day_rows(screen)]
    assert [count for count in listed if count] == [new[day] for day in sorted(new)]
    # A ratio by the sums that it is made of; what is so far on the last day is the figure.
    screen.click_cell("Lakes", "average_order_value.0.value")
    screen.until(lambda: len(day_rows(screen)[0]) == 4, "sales, orders and the figure so far")
    sales, orders = added_up(screen, 1), added_up(screen, 2)
    shown = screen.exact("Lakes", "average_order_value.0.value")
    ratio = sales / orders
    told = Context(prec=15).divide(Decimal(ratio.numerator), Decimal(ratio.denominator))
    assert orders == sum(new.values()) and shown == Fraction(told), "with the 15 digits that it has"
    assert day_rows(screen)[-1][3] == screen.find("days-sum-0-2").text == f"{float(sales / orders):.4f}"
    # A share: its part and what it is a part of stand beside one column of days.
    screen.click_cell("Lakes", "orders.0.share_of_all")
    share = screen.exact("Lakes", "orders.0.share_of_all")
    # The days of the figure before may stand there until those of the share have come.
    screen.until(
        lambda: len(day_rows(screen)[0]) == 3 and added_up(screen, 1) == share * added_up(screen, 2),
        "the days of the row's and of all orders come to the share",
    )


def test_lines_of_a_proof_are_searched_saved_and_led_to_their_batch(screen: Screen, tmp_path: Path) -> None:
    screen.click_cell("Lakes", "net_sales.1.difference")
    screen.find("line")
    screen.click("by-day")
    sums = [screen.find(f"days-sum-{side}-0").text for side in (0, 1)]
    assert sums == [screen.find(f"operand-{side}").text for side in (0, 1)], "the days add up to the figures"
    added = [added_up(screen, column) for column in (1, 3)]
    assert added == [Fraction(each.replace(",", "")) for each in sums], "and so do the figures that are seen"
    screen.click("lines-of-1")
    screen.click("lines-by-amount")
    by_amount = '//*[@data-test="lines-by-amount"]/ancestor::th'
    screen.until(
        lambda: screen.driver.find_element(By.XPATH, by_amount).get_attribute("aria-sort") == "descending",
        "the largest stand first",
    )
    screen.click("lines-save")
    rows = list(csv.DictReader(io.StringIO(screen.saved(tmp_path, "lines.csv").read_text())))
    assert sum(Fraction(row["amount"]) for row in rows) == Fraction(screen.find("operand-1").text.replace(",", ""))
    file = screen.all("line-batch")[0].text
    screen.click("line-batch")
    screen.until(lambda: screen.driver.find_elements(By.CSS_SELECTOR, '.sought [data-test="batch"]'), "the batch is marked")
    assert file in screen.driver.find_element(By.CSS_SELECTOR, '.sought [data-test="batch"]').text
