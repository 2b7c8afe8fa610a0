"""The working table: its layout, what is saved of it, pasted answers, large tables, trends, one way of writing numbers."""

from __future__ import annotations

import csv
import io
import json
from collections.abc import Callable
from fractions import Fraction
from pathlib import Path
from typing import Any

from selenium.webdriver import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from lofty_abacus.demo.scenario import LEDGER_NAME
from tests.browser.screen import Screen

#: Orders by name as people expect it, the last first: a number in a name by its size.
LAST_NAMES = "LOWER(REGEXP_REPLACE(`order`, '[0-9]+$', '')) DESC, CAST(REGEXP_SUBSTR(`order`, '[0-9]+$') AS UNSIGNED) DESC"
Lines = Callable[[str], list[tuple[Any, ...]]]


def test_what_is_saved_is_what_is_seen(screen: Screen, tmp_path: Path) -> None:
    screen.type("not by rep")
    screen.settled()
    screen.click("part-layout")
    screen.click("column-net_sales.1.value")
    screen.choose("layout-totals", "above")
    screen.find("decimals-net_sales").send_keys("1", Keys.TAB)
    screen.keys(Keys.ESCAPE)
    screen.until(lambda: not screen.all("cell-net_sales.1.value"), "the base is hidden")
    screen.until(lambda: screen.rows()[0] == "total", "the total stands above")
    screen.cell_becomes("total", "net_sales.0.value", "1,868,735.9")
    screen.click("part-save")
    screen.click("save-csv-shown")
    table = list(csv.reader(io.StringIO(screen.saved(tmp_path, " 2026-10-17.csv").read_text())))
    table = table[: table.index([])]
    assert [row[0] for row in table[1:]] == ["(all)", *[row for row in screen.rows() if row != "total"]]
    assert table[1][2] == screen.cell("total", "net_sales.0.value")
    assert "Net sales, this year" in table[0] and "Net sales, change on 2025" in table[0]
    assert "Net sales, 2025" not in table[0], "what is hidden is left out"
    # The whole of it is in the address, and is undone step by step.
    screen.driver.refresh()
    screen.settled()
    assert screen.rows()[0] == "total" and not screen.all("cell-net_sales.1.value")


def test_measures_stand_below_each_other(screen: Screen, tmp_path: Path, lines: Lines) -> None:
    screen.type("not by rep")
    screen.settled()
    beside = {row: (screen.cell(row, "net_sales.0.value"), screen.cell(row, "orders.0.value")) for row in screen.rows()}
    screen.click("part-layout")
    screen.choose("layout-measures", "below")
    screen.choose("layout-sign", "cells")
    screen.keys(Keys.ESCAPE)
    screen.until(lambda: "Lakes~1" in screen.rows(), "a row has a line for each measure")
    for row, (net, orders) in beside.items():
        assert screen.cell(row, "net_sales.0.value") == f"€\n{net}" and screen.cell(f"{row}~1", "orders.0.value") == orders
    assert screen.find("metric-orders.0.value", screen.find("row-Lakes~1")).text == "Orders"
    # Down from one measure to the next, which is proved.
    screen.click_cell("Lakes", "net_sales.0.value")
    screen.says("proof", "Net sales")
    screen.keys(Keys.ARROW_DOWN)
    screen.says("proof", "Orders")
    [[orders]] = lines(
        "SELECT COUNT(DISTINCT `order`) FROM {lines} WHERE side = 'sale' AND `order` <> '' AND region = 'Lakes'"
        " AND day BETWEEN '2026-01-01' AND '2026-10-17'"
    )
    screen.says("proof", f"{orders:,}")
    screen.keys(Keys.ESCAPE)
    screen.click("part-save")
    screen.click("save-csv")
    table = list(csv.DictReader(io.StringIO(screen.saved(tmp_path, " 2026-10-17.csv").read_text())))
    assert [(row["region"], row["measure"]) for row in table[:2]] == [("Harbour", "Net sales"), ("Harbour", "Orders")]
    assert {(row["as of"], row["version"], row["ledger"]) for row in table} == {("2026-10-17", table[0]["version"], LEDGER_NAME)}
    screen.keys("e")
    screen.until(lambda: len(screen.all("print-row")) == 2 * len(beside), "it is printed as it is seen")


def test_a_pasted_answer_is_laid_beside_the_table(screen: Screen, lines: Lines) -> None:
    screen.type("not by rep")
    screen.settled()
    now = "day BETWEEN '2026-01-01' AND '2026-10-17'"
    known = lines(f"SELECT region, SUM(amount) FROM {{lines}} WHERE {now} GROUP BY region")
    wrong = [(name, net + (1 if name == "Lakes" else 0)) for name, net in known]
    text = "\n".join(["Region;net sales this year", *(f"{name};{net}" for name, net in wrong), "Nowhere;5"])
    screen.click("check-pasted")
    screen.driver.execute_script(
        "arguments[0].value = arguments[1]; arguments[0].dispatchEvent(new Event('input'))", screen.find("pasted-text"), text
    )
    screen.says("pasted-counts", f"{len(known) - 1} figures equal")
    screen.says("pasted-counts", "1 figure different")
    screen.says("pasted-counts", "1 figure absent")
    screen.click("only-different")
    line = screen.find("pasted-line")
    assert line.text.startswith("Lakes")
    line.find_element(By.CSS_SELECTOR, "button").click()
    screen.says("proof", "Lakes")


def test_fifty_thousand_rows_and_two_hundred_columns_are_drawn_as_they_are_seen(screen: Screen, address: str) -> None:
    page = screen.driver
    long = {
        "measures": [{"measure": "net_sales"}],
        "rows": ["order", "product"],
        "window": {"kind": "dates", "first": "2025-02-15"},
    }
    wide = {"measures": [{"measure": "net_sales", "show": ["difference"]}, {"measure": "orders"}], "rows": ["rep"], "across": [{"time": "month"}],
            "window": {"kind": "dates", "first": "2024-01-01"}, "bases": [{"back": 1, "unit": "period"}, {"back": 1, "unit": "year"}]}  # fmt: skip
    for statement, depth, rows, columns in ((long, 2, 49_000, 1), (wide, 1, 5, 200)):
        query = f"ledger={LEDGER_NAME.replace('&', '%26')}&show={json.dumps(statement)}&open={json.dumps({'depth': depth, 'paths': []})}"
        page.get(f"{address}/figures?{query}")
        screen.settled()
        grid = page.find_element(By.CSS_SELECTOR, '[role="grid"]')
        assert int(grid.get_attribute("aria-rowcount") or 0) > rows and int(grid.get_attribute("aria-colcount") or 0) >= columns
        drawn = len(page.find_elements(By.CSS_SELECTOR, '[data-test="table"] [role="gridcell"]'))
        assert 0 < drawn < 3000, "only what is seen is drawn"
        box = screen.find("table")
        last = page.execute_script(
            "const b = arguments[0]; b.scrollTop = b.scrollHeight; b.scrollLeft = b.scrollWidth; return b.scrollTop", box
        )
        assert last > 0 or columns > 100
        screen.until(
            lambda: len(page.find_elements(By.CSS_SELECTOR, '[data-test="table"] [role="gridcell"]')) > 0, "the end is drawn"
        )


def test_a_large_table_is_filled_as_it_is_seen(screen: Screen, address: str, lines: Lines) -> None:
    """Twenty thousand rows by two hundred columns: what is scrolled to is there, and equals SQL."""
    page = screen.driver
    statement = {"measures": [{"measure": "net_sales", "show": ["difference"]}, {"measure": "orders"}, {"measure": "units"}],
                 "rows": ["order"], "across": [{"time": "month"}], "bases": [{"back": 1, "unit": "year"}],
                 "as_of": {"kind": "pinned", "day": "2026-10-17"}, "window": {"kind": "dates", "first": "2024-01-01"}}  # fmt: skip
    page.get(f"{address}/figures?ledger={LEDGER_NAME.replace('&', '%26')}&show={json.dumps(statement)}")
    screen.settled()
    grid = page.find_element(By.CSS_SELECTOR, '[role="grid"]')
    assert int(grid.get_attribute("aria-rowcount") or 0) > 20_000 and int(grid.get_attribute("aria-colcount") or 0) > 200
    screen.keys("c")
    screen.says("part-save", "Too large to copy")
    page.execute_script("arguments[0].scrollTop = arguments[0].scrollHeight", screen.find("table"))
    [(order, net)] = lines(
        "SELECT `order`, SUM(amount) FROM {lines} WHERE day BETWEEN '2024-01-01' AND '2026-10-17' GROUP BY `order`"
        f" ORDER BY {LAST_NAMES} LIMIT 1"
    )
    screen.until(lambda: screen.exact(order, "net_sales.0.value") == Fraction(net), "the last row is filled")
    # A block that begins here and ends far above is filled before it is summed.
    screen.click_cell(order, "net_sales.0.value")
    screen.find("proof")
    ActionChains(page).key_down(Keys.SHIFT).send_keys(*[Keys.PAGE_UP] * 8).key_up(Keys.SHIFT).perform()
    sums = lines(
        "SELECT COUNT(*), SUM(net) FROM (SELECT SUM(amount) AS net FROM {lines} WHERE day BETWEEN '2024-01-01' AND '2026-10-17'"
        f" GROUP BY `order` ORDER BY {LAST_NAMES} LIMIT 97) AS last"
    )
    screen.until(lambda: f"{sums[0][0]} cells · sum {sums[0][1]:,.0f}" in screen.find("block-sum").text, "the block is summed")


def test_numbers_are_written_one_way_on_the_whole_page(screen: Screen) -> None:
    screen.type("not by rep")
    screen.settled()
    screen.click("part-layout")
    screen.choose("layout-marks", "point_comma")
    screen.keys(Keys.ESCAPE)
    screen.cell_becomes("Lakes", "net_sales.0.value", "640.386")
    screen.says("notice", "17.936 posted lines")
    screen.says("frame", "1.868.736")
    screen.click_cell("Lakes", "net_sales.1.difference")
    screen.says("operand-0", "640.386,")
    screen.click("by-day")
    screen.until(lambda: screen.find("days-sum-0-0").text == screen.find("operand-0").text, "the days are written so, too")


def test_trends_in_a_table_of_windows_are_of_whole_months(screen: Screen, lines: Lines) -> None:
    screen.type("not by rep")
    screen.settled()
    assert not screen.all("trend-head")
    screen.click("part-layout")
    screen.choose("layout-trends", "always")
    screen.keys(Keys.ESCAPE)
    screen.until(lambda: screen.find("trend-head").get_attribute("title") == "Net sales by month in the current window, whole months only", "it is said")  # fmt: skip
    months = lines(
        "SELECT SUM(amount) FROM {lines} WHERE region = 'Lakes' AND day BETWEEN '2026-01-01' AND '2026-09-30'"
        " GROUP BY MONTH(day) ORDER BY MONTH(day)"
    )
    path = screen.driver.execute_script(
        "return document.querySelector('[data-test=\"row-Lakes\"] td.trend path').getAttribute('d')"
    )
    heights = [float(point.split()[1]) for point in path.replace("M", "L").split("L")[1:]]
    assert len(heights) == len(months) == 9, "October runs, and is no part of it"
    drawn = sorted(range(9), key=lambda at: -heights[at])
    assert drawn == sorted(range(9), key=lambda at: months[at][0]), "the higher the figure, the higher the line"
    # The layout is in the address: it is there again, and gone with one step back.
    screen.driver.refresh()
    screen.find("trend-head")
    screen.click("undo")
    screen.until(lambda: not screen.all("trend-head"), "the step is undone")
