"""What a new user does: see the demo figures, change the question, prove a number, post a file and read its numbers back."""

from __future__ import annotations

import csv
import io
import json
import urllib.request
from datetime import date
from fractions import Fraction
from pathlib import Path

from selenium.webdriver import ActionChains, Chrome
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webelement import WebElement

from lofty_abacus.demo.scenario import LEDGER_NAME
from tests.browser.screen import Screen

STATEMENT = {
    "measures": [{"measure": "net_sales", "show": ["difference", "percent_change", "share_of_all"]}, {"measure": "orders"}],
    "rows": ["region", "rep"],
    "bases": [{"back": 1, "unit": "year"}],
}


def asked(address: str, as_of: str, rows: list[str]) -> dict[tuple[str, ...], dict[str, str]]:
    """The same question by the API's CSV, as cells by row path."""
    statement = {**STATEMENT, "rows": rows, "as_of": {"kind": "pinned", "day": as_of}}
    body = json.dumps({"ledger": LEDGER_NAME, "statement": statement, "opened": {"depth": len(rows)}}).encode()
    request = urllib.request.Request(f"{address}/api/answers.csv", body, {"Content-Type": "application/json"})
    with urllib.request.urlopen(request) as response:
        table = list(csv.reader(io.StringIO(response.read().decode())))
    return {tuple(row[: len(rows)]): dict(zip(table[0], row, strict=True)) for row in table[1:]}


def whole(text: str) -> str:
    """Exact decimal text as the table shows large amounts: whole units, half away from zero."""
    value = Fraction(text)
    units = (abs(value.numerator) * 2 + value.denominator) // (2 * value.denominator)
    return ("−" if value < 0 and units else "") + f"{units:,}"


def net(cells: dict[str, str], year: int, as_of: date) -> str:
    return whole(cells["Net sales, this year" if year == as_of.year else f"Net sales, {year}"])


def test_demo_figures_as_of_date_rows_and_proof(page: Chrome, address: str) -> None:
    screen = Screen(page)
    screen.says("ledger", LEDGER_NAME)
    screen.says("notice", "Agrees to the cent with")
    screen.says("notice", "37 lines after the as-of date left out")
    screen.says("rod-1", "290 days · equal days")
    day = date(2026, 10, 17)
    expected = asked(address, day.isoformat(), ["region", "rep"])
    for path in (("Harbour", "(all)"), ("Lakes", "T. Verrow"), ("(all)", "(all)")):
        row = "total" if path[0] == "(all)" else "/".join(part for part in path if part != "(all)")
        assert screen.cell(row, "net_sales.0.value") == net(expected[path], 2026, day)
        assert screen.cell(row, "net_sales.1.value") == net(expected[path], 2025, day)

    # Another as-of date, by the keyboard on the marker: a month back.
    screen.find("marker").send_keys(Keys.PAGE_UP)
    earlier = date(2026, 9, 17)
    expected = asked(address, earlier.isoformat(), ["region", "rep"])
    screen.cell_becomes("total", "net_sales.0.value", net(expected[("(all)", "(all)")], 2026, earlier))
    screen.says("part-window", "year to date at 17 Sep 2026")
    page.back()
    screen.says("part-window", "year to date at 17 Oct 2026")

    # Other rows: the second by product line instead of rep.
    screen.click("part-row-1")
    screen.click("choice-category")
    expected = asked(address, day.isoformat(), ["region", "category"])
    screen.cell_becomes("Harbour/Glazes", "net_sales.0.value", net(expected[("Harbour", "Glazes")], 2026, day))

    # Close and open a row; sort by change.
    page.find_element(By.CSS_SELECTOR, '[aria-label="Close Harbour"]').click()
    screen.until(lambda: not screen.all("row-Harbour/Glazes"), "Harbour is closed")
    screen.click("sort-net_sales.1.difference")
    changes = {
        path[0]: Fraction(next(value for name, value in cells.items() if name == "Net sales, change on 2025"))
        for path, cells in expected.items()
        if path[1] == "(all)" and path[0] != "(all)"
    }
    order = sorted(changes, key=lambda name: -changes[name])
    screen.until(lambda: [row for row in _top_rows(screen) if row in changes] == order, "rows stand by their change")

    # Proof of a change: figures, windows, lines with file and row.
    screen.click_cell("Lakes", "net_sales.1.difference")
    screen.says("proof", "1 Jan – 17 Oct 2026")
    screen.says("proof", "1 Jan – 17 Oct 2025")
    cells = expected[("Lakes", "(all)")]
    assert screen.find("operand-0").text.replace(",", "") == cells["Net sales, this year"]
    screen.until(lambda: screen.all("line"), "lines are listed")
    assert ".csv, row " in screen.all("line-source")[0].text
    screen.says("line-count", "1–50 of")

    # The address holds the whole state: the same view opens from its link alone.
    link = page.current_url
    page.get("about:blank")
    page.get(link)
    screen.says("proof", "1 Jan – 17 Oct 2025")
    screen.cell_becomes("total", "net_sales.0.value", net(expected[("(all)", "(all)")], 2026, day))


def _top_rows(screen: Screen) -> list[str]:
    rows = screen.driver.find_elements(By.CSS_SELECTOR, "tbody tr.depth-1")
    return [str(row.get_attribute("data-test")).removeprefix("row-") for row in rows]


def test_the_marker_can_be_dragged_and_parts_changed(page: Chrome, address: str) -> None:
    screen = Screen(page)
    screen.says("notice", "Agrees to the cent with")
    marker = screen.find("marker")
    ActionChains(page).drag_and_drop_by_offset(marker, -150, 0).perform()
    screen.until(lambda: "17 Oct" not in screen.find("part-window").text, "the as-of date moved")
    screen.click("part-window")
    screen.click("choice-month")
    screen.says("part-window", "month to date")
    screen.click("part-add-base")
    screen.click("choice-1-month")
    screen.says("statement", "the same days of the month before")
    screen.click("part-add-measure")
    screen.click("choice-margin_percent")
    screen.says("statement", "margin %")
    screen.click("part-add-filter")
    screen.choose("filter-dimension", "channel")
    screen.click("member-School")
    screen.says("statement", "channel is School")
    screen.says("notice", "left out by the filters")
    screen.says("notice", "Agrees to the cent with")
    screen.until(lambda: screen.cell("total", "margin_percent.0.value").endswith("%"), "a margin is shown")


def test_keys_move_in_the_table_and_an_impossible_address_says_why(page: Chrome, address: str) -> None:
    screen = Screen(page)
    screen.says("notice", "Agrees to the cent with")
    screen.click_cell("Harbour", "net_sales.0.value")
    screen.find("proof")
    cell = page.find_element(By.CSS_SELECTOR, "td.selected")
    cell.send_keys(Keys.ARROW_DOWN)
    screen.until(lambda: "Corran" in screen.find("proof").text, "the proof follows the arrow")
    page.switch_to.active_element.send_keys(Keys.ARROW_RIGHT)
    screen.until(lambda: "1 Jan – 17 Oct 2025" in screen.find("proof").text, "the base of A. Corran is proved")
    page.get(page.current_url.replace("net_sales", "net_sails"))
    screen.says("trouble", "Did you mean 'net_sales'")


def test_a_file_of_ones_own(page: Chrome, address: str, tmp_path: Path) -> None:
    rows = [
        "Datum;Auftrag;Vertreter;Gebiet;Menge;Umsatz",
        "05.02.2026;A1;Köhl;Nord;2;1.200,50",
        "06.02.2026;A2;Brandt;Süd;1;99,95",
        "17.02.2026;A3;Köhl;Nord;1;-200,50",
        "30.02.2026;A4;Köhl;Nord;1;1,00",
        "05.02.2025;A0;Brandt;Süd;1;80,00",
    ]
    file = tmp_path / "own.csv"
    file.write_bytes("\r\n".join(rows).encode("cp1252"))
    screen = Screen(page)
    screen.says("ledger", LEDGER_NAME)
    page.find_element(By.LINK_TEXT, "Intake").click()
    screen.make_ledger("My sales")
    page.find_element(By.CSS_SELECTOR, '[data-test="files"] input').send_keys(str(file))
    screen.says("check-lines", "4")
    assert [screen.chosen(f"role-{name}") for name in rows[0].split(";")] == [
        "date", "order", "rep", "region", "quantity", "amount",
    ]  # fmt: skip
    assert screen.find("check-amount").text == "1,179.95"
    assert screen.find("check-days").text == "5 Feb 2025 – 17 Feb 2026"
    screen.says("finding-unreadable", "30.02.2026")
    assert not screen.find("post").is_enabled()
    screen.find("description-Gebiet").send_keys("where the customer is", Keys.TAB)
    screen.click("leave-unreadable")
    screen.until(lambda: screen.find("post").is_enabled(), "the file can be posted")
    screen.click("post")
    screen.says("posted", "Posted 4 lines, 1,179.95 net, as version 1")
    assert "own.csv" in screen.find("batch").text
    screen.click("to-figures")
    screen.cell_becomes("total", "net_sales.0.value", "1,099.95")
    assert screen.cell("Nord/Köhl", "net_sales.0.value") == "1,000.00"
    assert screen.cell("Süd/Brandt", "net_sales.1.difference") == "+19.95"
    assert screen.cell("Nord/Köhl", "net_sales.1.percent_change") == "–"
    screen.says("notice", "Agrees to the cent with 3 posted lines")
    screen.says("rod-0", "1 Jan – 17 Feb 2026")
    assert "where the customer is" in str(screen.find("part-row-0").get_attribute("title"))
    heading = page.find_element(By.CSS_SELECTOR, "thead th.corner")
    assert "where the customer is" in str(heading.get_attribute("title")), "the caption of the rows says whose region it is"
    screen.click_cell("Nord/Köhl", "net_sales.0.value")
    screen.until(lambda: "own.csv, row 2" in screen.find("proof").text, "the proof names file and row")
    screen.keys(Keys.ESCAPE)
    screen.until(lambda: not screen.all("proof"), "the proof is closed")
    screen.click("part-keep")
    screen.fill("statement-name", "First of my own")
    screen.click("keep-statement")
    screen.says("part-statements", "First of my own")


def test_sending_a_file_shows_how_far_it_is_and_can_be_stopped(page: Chrome, address: str, tmp_path: Path) -> None:
    file = tmp_path / "long.csv"
    file.write_text("date,rep,amount\n" + "2026-03-01,Ada,1.00\n" * 200_000)
    screen = Screen(page)
    screen.says("ledger", LEDGER_NAME)
    page.find_element(By.LINK_TEXT, "Intake").click()
    slow = {"offline": False, "latency": 0, "downloadThroughput": -1, "uploadThroughput": 400_000}
    chooser = screen.until(lambda: page.find_element(By.CSS_SELECTOR, '[data-test="files"] input'), "files can be chosen")
    page.execute_cdp_cmd("Network.enable", {})
    page.execute_cdp_cmd("Network.emulateNetworkConditions", slow)
    chooser.send_keys(str(file))
    bar = screen.until(
        lambda: page.find_element(By.CSS_SELECTOR, '[role="progressbar"][aria-label="Sending long.csv"]'), "a bar is shown"
    )
    screen.until(lambda: 0 < float(bar.get_attribute("aria-valuenow")) < 100, "part of it is sent")
    screen.click("stop")
    screen.says("trouble", "Nothing has come of it")
    assert not screen.all("check"), "nothing is staged"


def test_a_corrected_month_takes_the_old_ones_place(page: Chrome, address: str, tmp_path: Path) -> None:
    def file(name: str, *rows: str) -> str:
        path = tmp_path / name
        path.write_text("\n".join(["date,line id,rep,amount", *rows]))
        return str(path)

    screen = Screen(page)
    screen.says("ledger", LEDGER_NAME)
    page.find_element(By.LINK_TEXT, "Intake").click()
    screen.make_ledger("Corrected")

    def post(version: int, *paths: str) -> None:
        page.find_element(By.CSS_SELECTOR, '[data-test="files"] input').send_keys("\n".join(paths))
        screen.until(lambda: screen.find("post").is_enabled(), "the files can be posted")
        screen.click("post")
        screen.says("posted", f"as version {version}")

    post(1, file("feb.csv", "2026-02-02,F1,Ada,10", "2026-02-03,F2,Bo,20"), file("mar.csv", "2026-03-02,M1,Ada,5"))
    screen.click("to-figures")
    screen.cell_becomes("total", "net_sales.0.value", "35.00")
    page.find_element(By.LINK_TEXT, "Intake").click()
    screen.click("replace-feb.csv")
    screen.says("replacing", "feb.csv")
    post(2, file("feb-new.csv", "2026-02-02,F1,Ada,12.50", "2026-02-03,F2,Bo,20"))
    screen.until(lambda: "withdrawn" in _batch(screen, "feb.csv").text, "February's first file is out")
    screen.click("to-figures")
    screen.cell_becomes("total", "net_sales.0.value", "37.50")
    screen.says("notice", "Agrees to the cent with 3 posted lines")

    page.find_element(By.LINK_TEXT, "Intake").click()
    screen.click("withdraw-mar.csv")
    screen.click("withdraw-hole")
    screen.until(lambda: "withdrawn" in _batch(screen, "mar.csv").text, "March is withdrawn")
    assert page.find_elements(By.CSS_SELECTOR, '[data-test="posted-rods"] .bead.hole')
    screen.click("restore-mar.csv")
    screen.until(lambda: "withdrawn" not in _batch(screen, "mar.csv").text, "March counts again")


def _batch(screen: Screen, name: str) -> WebElement:
    return screen.until(
        lambda: next(
            (each.find_element(By.XPATH, "./ancestor::tr") for each in screen.all("batch") if each.text.startswith(name)), None
        ),
        f"{name} is listed",
    )  # type: ignore[no-any-return]


def test_a_messy_file_is_settled_posted_and_replaced(page: Chrome, address: str, tmp_path: Path) -> None:
    rows = [
        "Report of March;;;;",
        "date;order;region;product;amount",
        "01/03/2026;O1;North;P1;1.000,50",
        "02/03/2026;O2;North;P2;20,00",
        "03/03/2026;O3;Nort;P1;3O,00",
        "04/03/2026;O4;East;P9;-5,00",
        "05/03/2026;O5;East;P1;5,00",
        "Total;;;;1.050,50",
    ]
    messy = tmp_path / "march.csv"
    messy.write_bytes("\r\n".join(rows).encode("utf-16"))
    lookup = tmp_path / "products.csv"
    lookup.write_text("product,category\nP1,Clay\nP2,Tools\n")
    screen = Screen(page)
    screen.says("ledger", LEDGER_NAME)
    page.find_element(By.LINK_TEXT, "Intake").click()
    screen.make_ledger("Messy")
    screen.click("reader")
    screen.fill("reader-name", "Ines Volk")
    screen.keys(Keys.ESCAPE)
    files = page.find_element(By.CSS_SELECTOR, '[data-test="files"] input')
    files.send_keys(f"{messy}\n{lookup}")
    screen.says("blocking", "can be read in more than one way")
    assert screen.find("both-readings").text == "01/03/2026: 1 Mar 2026 or 3 Jan 2026"
    assert (screen.chosen("encoding"), screen.chosen("separator")) == ("utf-16-le", ";")
    screen.choose("format-date", "day_month_year")
    screen.says("finding-unreadable", "3O,00")
    screen.find("correct-5").send_keys("30,00")
    screen.click("take-5")
    screen.says("check-amount", "1,050.50")
    screen.click("looks")
    screen.says("finding-set_aside", "1 row of totals")
    screen.find("finding-near_members").find_element(By.CSS_SELECTOR, ".head").click()
    screen.click("merge-Nort")
    screen.says("finding-not_mapped", "1 member of product that no lookup knows")
    screen.until(lambda: not screen.all("finding-near_members"), "Nort is merged")
    screen.find("expect-lines").send_keys("6\n")
    screen.says("blocking", "You expect 6 lines, and the file gives 5.")
    screen.find("expect-lines").send_keys(Keys.BACKSPACE, "5\n")
    screen.until(lambda: screen.find("post").is_enabled(), "the files can be posted")
    screen.find("description-region").send_keys("the customer's\n")
    screen.says("month-2026-03", "1,050.50")
    screen.until(lambda: screen.find("post").is_enabled(), "the files can be posted")
    screen.click("post")
    screen.says("posted", "Posted 5 lines, 1,050.50 net, as version 1")
    assert "Ines Volk" in _batch(screen, "march.csv").text
    screen.click("to-figures")
    screen.click("part-row-0")
    screen.says("choice-region", "the customer's")
    screen.click("choice-region")
    screen.cell_becomes("North", "net_sales.0.value", "1,050.50")
    screen.keys("e")
    screen.until(lambda: "Region: the customer's" in [each.text for each in screen.all("print-means")], "the caption tells it")
    page.find_element(By.LINK_TEXT, "Back to the figures").click()

    # The corrected file takes the place of those days; what the mapping remembers is applied by itself.
    page.find_element(By.LINK_TEXT, "Intake").click()
    rows[2] = "01/03/2026;O1;North;P1;2.000,50"
    again = tmp_path / "march-again.csv"
    again.write_bytes("\r\n".join(rows).encode("utf-16"))
    screen.find("files")
    page.find_element(By.CSS_SELECTOR, '[data-test="files"] input').send_keys(str(again))
    screen.says("reading", "mapping kept from before")
    screen.says("check-amount", "2,050.50")
    screen.click("place-days")
    screen.says("preview", "5 lines come in (2,050.50), 5 lines go out (1,050.50)")
    screen.says("month-2026-03", "2,050.50")
    screen.click("post")
    screen.says("posted", "as version 2")
    screen.click("to-figures")
    screen.cell_becomes("North", "net_sales.0.value", "2,050.50")
    screen.says("notice", "Agrees to the cent with 5 posted lines")

    # A single line is corrected from its proof.
    screen.click_cell("East", "net_sales.0.value")
    screen.until(lambda: len(screen.all("line-correct")) == 2, "the lines of East are listed")
    screen.click("line-correct")
    screen.fill("line-amount", "6.25")
    screen.find("line-reason").send_keys("typed wrong")
    screen.click("correct-line")
    screen.cell_becomes("East", "net_sales.0.value", "1.25")
    screen.says("notice", "Agrees to the cent with 5 posted lines")


def test_a_series_is_put_together_from_the_sentence(page: Chrome, address: str) -> None:
    screen = Screen(page)
    screen.says("notice", "Agrees to the cent with")
    # Region and rep go, months come; each against the month before.
    for _ in range(2):
        screen.click("part-row-0")
        screen.click("remove")
    screen.click("part-add-row")
    screen.click("choice-time:month")
    screen.says("statement", "by month")
    screen.click("part-base-0")
    screen.click("choice-1-period")
    screen.says("statement", "the month before")
    monthly = {
        "measures": [{"measure": "net_sales", "show": ["difference"]}, {"measure": "net_sales", "along": {"kind": "running", "reset": "year"}}],
        "rows": [{"time": "month"}], "bases": [{"back": 1, "unit": "period"}],
        "as_of": {"kind": "pinned", "day": "2026-10-17"},
    }  # fmt: skip
    body = json.dumps({"ledger": LEDGER_NAME, "statement": monthly}).encode()
    request = urllib.request.Request(f"{address}/api/answers.csv", body, {"Content-Type": "application/json"})
    with urllib.request.urlopen(request) as response:
        table = list(csv.reader(io.StringIO(response.read().decode())))
    october = dict(zip(table[0], next(row for row in table if row[0] == "2026-10"), strict=True))
    screen.cell_becomes("2026-10", "net_sales.0.value", whole(october["Net sales"]))
    screen.cell_becomes("2026-10", "net_sales.1.value", whole(october["Net sales, month before"]))
    assert october["base 1 days"] == "2026-09-01..2026-09-17" and october["base 1 fairness"] == "equal days"
    assert screen.cell("2026-11", "net_sales.0.value") == "–", "a month to come is there, and undefined"
    # The same measure again, as a running total.
    screen.click("part-add-measure")
    screen.click("choice-net_sales")
    screen.cell_becomes("2026-10", "net_sales~running_year.0.value", whole(october["Net sales, running in the year"]))
    screen.click("toggle-chart")
    screen.until(lambda: page.find_elements(By.CSS_SELECTOR, '[data-test="chart"] svg path'), "the chart is drawn")
    assert "Net sales" in screen.find("chart").text
    screen.click("toggle-chart")
    # Years across, cut at the same point.
    screen.click("part-window")
    screen.take_day("dates-first", "1 Jan 2024")
    screen.click("take-dates")
    screen.click("part-add-across")
    screen.click("choice-time:year")
    screen.says("statement", "across year")
    screen.click("part-cut")
    screen.click("choice-same_point")
    screen.says("statement", "each cut at the same point")
    screen.until(lambda: screen.cell("10", "net_sales.0.value@2026") == whole(october["Net sales"]), "October stands under 2026")
    screen.click_cell("10", "net_sales.0.value@2025")
    screen.says("proof", "1 Oct – 17 Oct 2025")


def test_statements_are_kept_and_opened_in_one_step(page: Chrome, address: str) -> None:
    screen = Screen(page)
    screen.says("notice", "Agrees to the cent with")
    screen.click("part-statements")
    screen.click("open-Running total this year")
    screen.says("statement", "running total of net sales from each year's start")
    screen.says("notice", "Agrees to the cent with")
    screen.click("part-keep")
    screen.find("statement-name").send_keys("My months")
    screen.find("statement-folder").send_keys("For managers")
    screen.click("keep-statement")
    screen.until(lambda: not screen.find_all_shown("keep-statement"), "it is kept and the menu is closed")
    page.get(address)
    screen.says("statement", "by month")  # the last state is kept
    screen.click("part-statements")
    screen.click("open-Year to date")
    screen.says("statement", "by region")
    screen.click("part-statements")
    screen.click("open-My months")
    screen.says("statement", "by month")
    screen.cell_becomes("2026-11", "net_sales.0.value", "–")
    screen.click("part-statements")
    screen.click("delete-My months")
    screen.click("really-delete-My months")
    screen.until(lambda: not screen.all("open-My months"), "it is forgotten")
    screen.click("take-back")
    screen.until(lambda: screen.all("open-My months"), "it is there again")
