"""The instrument in use: layout, exports, pasted answers, filters stepped, ends dragged, versions, postings by others, a server away."""

from __future__ import annotations

import csv
import io
import json
import urllib.request
from collections.abc import Callable
from fractions import Fraction
from pathlib import Path
from typing import Any

import httpx
import pytest
from selenium.webdriver import ActionChains, Chrome
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from lofty_abacus.demo.scenario import LEDGER_NAME
from tests.api.jobs import posted
from tests.browser.screen import Screen

Lines = Callable[[str], list[tuple[Any, ...]]]


@pytest.fixture
def screen(page: Chrome) -> Screen:
    found = Screen(page)
    found.settled()
    return found


def saved(screen: Screen, tmp_path: Path, name: str) -> Path:
    """A file that was saved by the browser, once it is whole."""
    path = tmp_path / "downloads" / name
    screen.until(lambda: path.is_file() and path.stat().st_size > 0, f"{name} is saved")
    return path


def send(address: str, method: str, path: str, body: object) -> Any:
    request = urllib.request.Request(
        f"{address}{path}", json.dumps(body).encode(), {"Content-Type": "application/json"}, method=method
    )
    with urllib.request.urlopen(request) as response:
        return json.loads(response.read())


def rows_shown(screen: Screen) -> list[str]:
    rows = screen.driver.find_elements(By.CSS_SELECTOR, '[data-test="table"] tr[data-test]')
    return [str(row.get_attribute("data-test")).removeprefix("row-") for row in rows]


def test_what_is_saved_is_what_is_seen(screen: Screen, tmp_path: Path) -> None:
    screen.type("not by rep")
    screen.settled()
    screen.click("part-layout")
    screen.click("column-net_sales.1.value")
    screen.choose("layout-totals", "above")
    screen.find("decimals-net_sales").send_keys("1", Keys.TAB)
    screen.keys(Keys.ESCAPE)
    screen.until(lambda: not screen.all("cell-net_sales.1.value"), "the base is hidden")
    screen.until(lambda: rows_shown(screen)[0] == "total", "the total stands above")
    screen.cell_becomes("total", "net_sales.0.value", "1,868,735.9")
    screen.click("part-save")
    screen.click("save-csv-shown")
    table = list(csv.reader(io.StringIO(saved(screen, tmp_path, "figures.csv").read_text())))
    table = table[: table.index([])]
    assert [row[0] for row in table[1:]] == ["(all)", *[row for row in rows_shown(screen) if row != "total"]]
    assert table[1][2] == screen.cell("total", "net_sales.0.value")
    assert not any(
        "2025-01-01..2025-10-17" in heading and "difference" not in heading and "percent" not in heading
        for heading in table[0][:4]
    )
    # The whole of it is in the address, and is undone step by step.
    screen.driver.refresh()
    screen.settled()
    assert rows_shown(screen)[0] == "total" and not screen.all("cell-net_sales.1.value")


def test_measures_stand_below_each_other(screen: Screen, tmp_path: Path, lines: Lines) -> None:
    screen.type("not by rep")
    screen.settled()
    beside = {row: (screen.cell(row, "net_sales.0.value"), screen.cell(row, "orders.0.value")) for row in rows_shown(screen)}
    screen.click("part-layout")
    screen.choose("layout-measures", "below")
    screen.choose("layout-sign", "cells")
    screen.keys(Keys.ESCAPE)
    screen.until(lambda: "Lakes~1" in rows_shown(screen), "a row has a line for each measure")
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
    table = list(csv.DictReader(io.StringIO(saved(screen, tmp_path, "figures.csv").read_text())))
    assert [(row["region"], row["measure"]) for row in table[:2]] == [("Harbour", "net sales"), ("Harbour", "orders")]
    assert {(row["as of"], row["version"], row["ledger"]) for row in table} == {("2026-10-17", table[0]["version"], LEDGER_NAME)}
    screen.keys("e")
    screen.until(lambda: len(screen.all("print-row")) == 2 * len(beside), "it is printed as it is seen")


def test_a_chart_tells_both_periods_their_dates_and_the_change(screen: Screen, page: Chrome, lines: Lines) -> None:
    screen.type("only by month", "without orders")
    screen.settled()
    screen.keys("h")
    chart = screen.find("chart")
    screen.until(lambda: chart.find_elements(By.CSS_SELECTOR, "svg path"), "the chart is drawn")
    june = ", ".join(f"SUM(IF(day BETWEEN '{year}-06-01' AND '{year}-06-30', amount, 0))" for year in (2026, 2025))
    [(now, then)] = lines(f"SELECT {june} FROM {{lines}}")
    # June is the sixth of twelve periods: a little left of the middle.
    ActionChains(page).move_to_element_with_offset(chart, -30, 0).perform()
    screen.until(lambda: "Jun 2026 each month · aligned by the same dates" in chart.text.replace("\n", " "), "June is told")
    told = [
        f"{now:,}",
        f"{then:,}",
        f"{now - then:+,}".replace("-", "−"),
        "1 Jun – 30 Jun 2026",
        "1 Jun – 30 Jun 2025",
        "equal days",
    ]
    assert [words for words in told if words not in chart.text] == []
    # A % change on an axis of its own, and the key taken away.
    screen.click("part-chart-how")
    screen.click("chart-percent")
    screen.until(lambda: "% change against year before" in chart.text, "the % change is drawn")
    screen.click("chart-right-net_sales.1.value")
    screen.fill("chart-high-left", "400000")
    screen.keys(Keys.TAB)
    screen.until(lambda: "400,000" in chart.text, "the axis ends there")
    screen.choose("chart-key", "none")
    screen.until(lambda: "% change against" not in chart.text, "the key is hidden")


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


def test_a_filter_beside_the_table_is_stepped_member_by_member(screen: Screen, lines: Lines) -> None:
    screen.click("part-add-filter")
    screen.choose("filter-dimension", "channel")
    screen.click("filter-beside")
    screen.keys(Keys.ESCAPE)
    panel = screen.find("filter-panel")
    screen.until(lambda: panel.find_elements(By.CSS_SELECTOR, ".list button"), "members are listed")
    names = [each.text for each in panel.find_elements(By.CSS_SELECTOR, ".list button")]
    totals = dict(
        lines("SELECT channel, SUM(amount) FROM {lines} WHERE day BETWEEN '2026-01-01' AND '2026-10-17' GROUP BY channel")
    )
    for name in names[:3]:
        screen.keys(".")
        screen.says("statement", f"channel is {name.strip('()')}")
        screen.settled()
        if name in totals:
            screen.until(
                lambda name=name: screen.exact("total", "net_sales.0.value") == Fraction(totals[name]), f"the total of {name}"
            )
    screen.keys(",")
    screen.says("statement", f"channel is {names[1].strip('()')}")
    screen.click("step-all")
    screen.until(lambda: "channel is" not in screen.find("statement").text, "all are counted again")


def test_goals_limits_names_and_own_measures_are_parts_of_the_sentence(screen: Screen) -> None:
    screen.type("not by rep", "without orders")
    screen.click("part-add-measure")
    screen.click("own-measure")
    screen.find("own-name").send_keys("Net per line")
    screen.find("own-expression").send_keys("net_sales / lines")
    screen.click("define")
    screen.says("statement", "net per line")
    screen.settled()
    net = screen.exact("total", "net_sales.0.value")
    assert 0 < screen.exact("total", "net_per_line.0.value") < net
    screen.keys("m")
    screen.find("heading-name").send_keys("Turnover", Keys.ENTER)
    screen.says("table", "Turnover")
    screen.keys("g")
    screen.fill("goal-target", "110")
    screen.click("take-goal")
    screen.says("statement", "with the goal net sales 110% of the same dates last year")
    screen.settled()
    assert {screen.cell(row, "net_sales.1.goal")[-1] for row in rows_shown(screen)} == {"✓", "✗"}
    screen.keys("l")
    screen.fill("limit-count", "1")
    screen.click("take-limit")
    screen.says("statement", "showing the top 1")
    screen.until(
        lambda: rows_shown(screen) == ["Lakes", "/…", "total"] or len(rows_shown(screen)) == 3, "one region and the rest"
    )
    screen.find("part-limit-0").send_keys(Keys.DELETE)
    screen.until(lambda: len(rows_shown(screen)) > 4, "all regions again")
    screen.click("undo")
    screen.until(lambda: len(rows_shown(screen)) == 3, "the limit is back")


def test_the_ends_of_a_range_are_moved_on_the_frame(screen: Screen) -> None:
    screen.type("for 2026-03-01 to 2026-05-31")
    screen.settled()
    screen.find("end-first").send_keys(Keys.PAGE_DOWN)
    screen.says("rod-0", "1 Apr – 31 May 2026")
    screen.find("end-last").send_keys(Keys.ARROW_LEFT)
    screen.says("rod-0", "1 Apr – 30 May 2026")
    before = screen.find("rod-0").text
    ActionChains(screen.driver).drag_and_drop_by_offset(screen.find("end-last"), -150, 0).perform()
    screen.until(lambda: screen.find("rod-0").text != before, "the last day was dragged")
    screen.says("part-window", "1 Apr – ")


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
        " ORDER BY `order` DESC LIMIT 1"
    )
    screen.until(lambda: screen.exact(order, "net_sales.0.value") == Fraction(net), "the last row is filled")
    # A block that begins here and ends far above is filled before it is summed.
    screen.click_cell(order, "net_sales.0.value")
    screen.find("proof")
    ActionChains(page).key_down(Keys.SHIFT).send_keys(*[Keys.PAGE_UP] * 8).key_up(Keys.SHIFT).perform()
    sums = lines(
        "SELECT COUNT(*), SUM(net) FROM (SELECT SUM(amount) AS net FROM {lines} WHERE day BETWEEN '2024-01-01' AND '2026-10-17'"
        " GROUP BY `order` ORDER BY `order` DESC LIMIT 97) AS last"
    )
    screen.until(lambda: f"{sums[0][0]} cells · sum {sums[0][1]:,.0f}" in screen.find("block-sum").text, "the block is summed")


def test_parts_are_dragged_and_columns_are_moved(screen: Screen) -> None:
    one, other = screen.find("part-row-0"), screen.find("part-row-1")
    screen.driver.execute_script(
        "const data = new DataTransfer();"
        "arguments[0].dispatchEvent(new DragEvent('dragstart', {dataTransfer: data, bubbles: true}));"
        "arguments[1].dispatchEvent(new DragEvent('drop', {dataTransfer: data, bubbles: true}));",
        one,
        other,
    )
    screen.says("statement", "by rep then region")
    screen.settled()
    head = screen.find("sort-net_sales.1.value")
    head.send_keys(Keys.ALT, Keys.ARROW_LEFT)
    screen.until(
        lambda: (
            next(each.get_attribute("data-test") for each in screen.driver.find_elements(By.CSS_SELECTOR, "thead button"))
            == "sort-net_sales.1.value"
        ),
        "the base comes first",
    )


def test_a_posting_by_somebody_else_is_told_and_taken(screen: Screen, address: str) -> None:
    send(address, "POST", "/api/ledgers", {"name": "Watched"})
    first = _post(address, "Watched", "jan.csv", "date,rep,amount\n2026-01-05,Ada,10\n")
    assert first["version"] == 1
    screen.driver.get(f"{address}/figures?ledger=Watched")
    screen.settled()
    assert screen.exact("total", "net_sales.0.value") == 10
    _post(address, "Watched", "feb.csv", "date,rep,amount\n2026-02-05,Ada,5\n")
    screen.says("newer", "Version 2 is posted; these figures are of version 1")
    assert screen.exact("total", "net_sales.0.value") == 10, "what is shown stays until it is taken"
    screen.keys("n")
    screen.until(lambda: screen.exact("total", "net_sales.0.value") == 15, "the new lines are counted")
    screen.says("ledger", "version 2")
    _post(address, "Watched", "mar.csv", "date,rep,amount\n2026-03-05,Ada,7\n")
    screen.click("take-by-itself")
    screen.until(lambda: screen.exact("total", "net_sales.0.value") == 22, "they are taken from now on")
    _post(address, "Watched", "apr.csv", "date,rep,amount\n2026-04-05,Ada,1\n")
    screen.until(lambda: screen.exact("total", "net_sales.0.value") == 23, "nothing is to be pressed")
    screen.says("ledger", "version 4")


def _post(address: str, ledger: str, name: str, text: str) -> Any:
    with httpx.Client(base_url=address) as client:
        job = posted(client, ledger, name, text.encode())  # type: ignore[arg-type]
    assert job["state"] == "done", job
    return job["posting"]


def test_what_is_empty_or_matches_nothing_says_so(screen: Screen, address: str, lines: Lines) -> None:
    screen.keys("/")
    screen.keys("zzzz")
    screen.says("table", "No row is called “zzzz”.")
    screen.says("table", "All regions")
    screen.keys(Keys.ESCAPE)
    screen.find("row-Lakes")
    [[quiet]] = lines(
        "SELECT MIN(day) FROM (SELECT DATE'2026-01-01' + INTERVAL seq DAY AS day FROM seq_0_to_280) days"
        " WHERE day NOT IN (SELECT day FROM {lines})"
    )
    day = {"kind": "dates", "first": quiet.isoformat(), "last": quiet.isoformat()}
    show = json.dumps({"measures": [{"measure": "net_sales"}], "rows": ["region"], "window": day})
    screen.driver.get(f"{address}/figures?ledger={LEDGER_NAME.replace('&', '%26')}&show={show}")
    screen.says("table", "No posted line falls into these windows. Move the as-of date, or remove a filter.")
    assert screen.cell("total", "net_sales.0.value") == "0.00"
    send(address, "POST", "/api/ledgers", {"name": "Nothing yet"})
    screen.driver.get(f"{address}/figures?ledger=Nothing yet")
    screen.until(
        lambda: "Nothing is posted in Nothing yet yet." in screen.driver.find_element(By.CSS_SELECTOR, ".empty").text,
        "it is told",
    )
    screen.driver.find_element(By.LINK_TEXT, "Post files at Intake").click()
    screen.find("person")


def test_a_server_that_is_away_is_told_and_asked_again(screen: Screen, page: Chrome) -> None:
    shown = screen.cell("total", "net_sales.0.value")
    page.execute_cdp_cmd("Network.enable", {})
    away = {"offline": True, "latency": 0, "downloadThroughput": -1, "uploadThroughput": -1}
    page.execute_cdp_cmd("Network.emulateNetworkConditions", away)
    screen.keys("[")
    screen.until(lambda: "does not answer" in page.find_element(By.TAG_NAME, "main").text, "it is told")
    assert screen.cell("total", "net_sales.0.value") == shown, "the last answer stays readable"
    page.execute_cdp_cmd("Network.emulateNetworkConditions", away | {"offline": False})
    screen.click("again")
    screen.says("part-window", "17 Oct 2025")
    screen.until(lambda: screen.cell("total", "net_sales.0.value") != shown, "the question is answered now")
    page.get_log("browser")  # that the network was away is told by the browser, too


def test_the_calendar_is_changed_with_its_effects_in_sight(screen: Screen, address: str) -> None:
    screen.driver.get(f"{address}/calendar?ledger={LEDGER_NAME.replace('&', '%26')}")
    screen.find("calendar-month")
    assert len(screen.all("calendar-month")) == 12
    screen.choose("calendar-fiscal", "7")
    screen.says("calendar-changes", "This changes")
    screen.says("calendar-changes", "2026-07-01 to 2026-10-17")
    screen.find("calendar-holiday").send_keys("2026-12-25 2026-12-26", Keys.ENTER)
    screen.until(lambda: "Holidays, 2 days" in screen.find("calendar-form").text, "two holidays are listed")
    screen.choose("calendar-fiscal", "1")
    screen.click("calendar-keep")
    screen.says("calendar-changes", "The calendar is kept")
    kept = json.loads(
        urllib.request.urlopen(f"{address}/api/ledger/settings?name={LEDGER_NAME.replace('&', '%26').replace(' ', '%20')}").read()
    )
    assert kept["calendar"]["holidays"] == ["2026-12-25", "2026-12-26"]
    kept["calendar"]["holidays"] = []
    send(address, "PUT", "/api/ledger/settings", {"ledger": LEDGER_NAME, "settings": kept})


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


def day_rows(screen: Screen) -> list[list[str]]:
    """The texts of the table of days."""
    rows = "[...document.querySelectorAll('[data-test=\"day\"]')]"
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
    screen.until(lambda: len(screen.all("day")) == 290, "every day of the window is listed")
    assert [added_up(screen, 1), screen.find("days-sum-0-0").text] == [sum(new.values()), f"{sum(new.values()):,}"]
    listed = [int(row[1]) for row in day_rows(screen)]
    assert [count for count in listed if count] == [new[day] for day in sorted(new)]
    # A ratio by the sums that it is made of; what is so far on the last day is the figure.
    screen.click_cell("Lakes", "average_order_value.0.value")
    screen.until(lambda: len(day_rows(screen)[0]) == 4, "sales, orders and the figure so far")
    sales, orders = added_up(screen, 1), added_up(screen, 2)
    assert orders == sum(new.values()) and screen.exact("Lakes", "average_order_value.0.value") == sales / orders
    assert day_rows(screen)[-1][3] == screen.find("days-sum-0-2").text == f"{float(sales / orders):.4f}"
    # A share: its part and what it is a part of stand beside one column of days.
    screen.click_cell("Lakes", "orders.0.share_of_all")
    screen.until(lambda: len(day_rows(screen)[0]) == 3, "the row's and all orders")
    assert screen.exact("Lakes", "orders.0.share_of_all") == added_up(screen, 1) / added_up(screen, 2)


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
    screen.until(lambda: "↓" in screen.find("lines-by-amount").text, "the largest stand first")
    screen.click("lines-save")
    rows = list(csv.DictReader(io.StringIO(saved(screen, tmp_path, "lines.csv").read_text())))
    assert sum(Fraction(row["amount"]) for row in rows) == Fraction(screen.find("operand-1").text.replace(",", ""))
    file = screen.all("line-batch")[0].text
    screen.click("line-batch")
    screen.until(lambda: screen.driver.find_elements(By.CSS_SELECTOR, '[data-test="batch"].sought'), "the batch is marked")
    assert file in screen.driver.find_element(By.CSS_SELECTOR, '[data-test="batch"].sought').text


_OPENED_AND_TYPED = """
const done = arguments[arguments.length - 1];
const part = () => document.querySelector('[data-test="part-statements"]');
const field = () => document.querySelector('[data-test="statement-folder"]');
const wait = (condition, then) => requestAnimationFrame(() => (condition() ? then() : wait(condition, then)));
const running = () => document.getAnimations().some((each) => each.playState === "running");
const still = () => !running() && (!field() || getComputedStyle(field().closest(".el-popover")).opacity === "1");
const settled = (then) => requestAnimationFrame(() => requestAnimationFrame(() => wait(still, then)));
part().click();
wait(() => field()?.offsetParent, () => {
  field().focus();
  settled(() => {
    const kept = document.activeElement === field();
    part().click();
    wait(() => part().getAttribute("aria-expanded") === "false", () => {
      part().click();
      settled(() => done([kept, Boolean(field()?.offsetParent)]));
    });
  });
});
"""


def test_a_choice_leaves_the_focus_where_it_was_put_and_opens_again_at_once(screen: Screen) -> None:
    screen.settled()
    assert screen.driver.execute_async_script(_OPENED_AND_TYPED) == [True, True]
