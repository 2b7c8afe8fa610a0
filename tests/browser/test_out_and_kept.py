"""What leaves the page and what is kept: files of every kind read back, copies pasted, statements kept, compared and duplicated."""

from __future__ import annotations

import json
import struct
import xml.etree.ElementTree as ET
from collections.abc import Callable
from pathlib import Path
from typing import Any

from openpyxl import load_workbook
from selenium.webdriver import ActionChains, Chrome
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from tests.browser.screen import Screen

Lines = Callable[[str], list[tuple[Any, ...]]]


def save(screen: Screen, kind: str) -> None:
    screen.click("part-save")
    screen.click(f"save-{kind}")


def test_files_of_every_kind_are_read_back(screen: Screen, page: Chrome, tmp_path: Path) -> None:
    screen.type("only by month", "without orders")
    screen.settled()
    screen.keys("h")
    screen.until(lambda: page.find_elements(By.CSS_SELECTOR, '[data-test="chart"] svg path'), "the chart is drawn")
    total = screen.exact("total", "net_sales.0.value")
    save(screen, "xlsx")
    assert screen.saved(tmp_path, ".xlsx").name == "Net sales by month 2026-10-17.xlsx", "named after statement and date"
    book = load_workbook(screen.saved(tmp_path, " 2026-10-17.xlsx"))
    assert book.sheetnames == ["Figures", "What this shows"]
    formulas = [cell.value for row in book["Figures"].iter_rows() for cell in row if str(cell.value).startswith("=")]
    assert any(str(each).startswith("=SUM(") for each in formulas), "a manager can check it"
    caption = {str(row[0].value): str(row[1].value) for row in book["What this shows"].iter_rows()}
    assert (
        caption["As of"] == "17 Oct 2026 (2026-10-17)"
        and "2025-01-01 to 2025-10-17" in caption["Base 1"]
        and "version" in caption["Ledger"]
    )
    save(screen, "json")
    found = json.loads(screen.saved(tmp_path, " 2026-10-17.json").read_text())
    ids = [column["id"] for column in found["answer"]["columns"]]
    assert found["answer"]["total"]["cells"][ids.index("net_sales.0.value")]["value"] == f"{float(total):.2f}"
    assert found["statement"]["rows"] == [{"time": "month"}] and ["As of", "17 Oct 2026 (2026-10-17)"] in found["caption"]
    save(screen, "svg")
    picture = ET.fromstring(screen.saved(tmp_path, " 2026-10-17.svg").read_text())
    texts = "".join(picture.itertext())
    assert "Jan 2026" in texts and "Net sales" in texts
    save(screen, "png")
    drawn = screen.saved(tmp_path, " 2026-10-17.png").read_bytes()
    width, height = struct.unpack(">II", drawn[16:24])
    assert drawn.startswith(b"\x89PNG") and width > 1500 and height > 200 and len(drawn) > 10_000


def test_what_is_copied_can_be_pasted(screen: Screen, page: Chrome, address: str) -> None:
    permissions = {"origin": address, "permissions": ["clipboardReadWrite", "clipboardSanitizedWrite"]}
    page.execute_cdp_cmd("Browser.grantPermissions", permissions)

    def copied(kind: str) -> str:
        page.execute_script("navigator.clipboard.writeText('nothing')")
        screen.click("part-save")
        screen.click(f"copy-{kind}")
        read = "const done = arguments[0]; navigator.clipboard.readText().then(done, (why) => done(String(why)))"
        return str(screen.until(lambda: (text := page.execute_async_script(read)) != "nothing" and text, f"{kind} is copied"))

    screen.type("not by rep", "without orders")
    screen.settled()
    lines = [line.split("\t") for line in copied("table").split("\n")]
    assert lines[0][:2] == ["region", "Net sales, this year"] and [line[0] for line in lines[1:]][-1] == "All"
    assert lines[-1][1] == f"{float(screen.exact('total', 'net_sales.0.value')):.2f}"
    assert copied("sentence").startswith("Show net sales with change, % change")
    assert "by region, for the year to date at 17 Oct 2026, against the same dates last year" in copied("sentence")
    again = json.loads(copied("statement"))
    assert again["statement"]["rows"] == ["region"] and again["layout"]["totals"] == "below"
    # A block of cells is copied alone.
    screen.click_cell("Harbour", "net_sales.0.value")
    ActionChains(page).key_down(Keys.SHIFT).send_keys(Keys.ARROW_DOWN).key_up(Keys.SHIFT).perform()
    screen.says("block-sum", "2 cells")
    block = copied("table").split("\n")
    assert block == [line[1] for line in lines[1:3]]


def test_kept_statements_have_versions_and_copies(screen: Screen, page: Chrome) -> None:
    def keep(name: str) -> None:
        screen.click("part-keep")
        screen.fill("statement-name", name)
        screen.click("keep-statement")
        screen.until(lambda: not screen.find_all_shown("keep-statement"), "it is kept")

    keep("Monday")
    screen.type("not by rep", "only by product")
    screen.settled()
    keep("Monday")
    screen.click("part-statements")
    screen.click("compare-Monday")
    screen.says("version-change", "rows\nby region then rep\nby product")
    screen.click("duplicate-Monday")
    screen.find("open-Monday, copy")
    # The version before is opened as it was.
    screen.find("versions").find_element(By.CSS_SELECTOR, "button").click()
    screen.says("statement", "by region then rep")
    screen.settled()
    screen.click("part-statements")
    screen.click("open-Monday, copy")
    screen.says("statement", "by product")
    for name in ("Monday", "Monday, copy"):
        if not screen.find_all_shown(f"delete-{name}"):
            screen.click("part-statements")
        screen.click(f"delete-{name}")
        screen.click(f"really-delete-{name}")
        screen.until(lambda name=name: not screen.all(f"open-{name}"), f"{name} is forgotten")


def test_a_range_is_chosen_in_the_chart(screen: Screen, page: Chrome) -> None:
    screen.type("only by month", "without orders")
    screen.settled()
    screen.keys("h")
    chart = screen.find("chart")
    screen.until(lambda: chart.find_elements(By.CSS_SELECTOR, "svg path"), "the chart is drawn")

    def click(part: float) -> None:
        """A period by its part of the drawn width, between the axis and the right edge."""
        left, width = -chart.size["width"] / 2 + 70, chart.size["width"] - 86
        ActionChains(page).move_to_element_with_offset(chart, int(left + part * width), 20).click().perform()

    click(1.5 / 12)
    screen.until(lambda: "Now the other end" in page.find_element(By.CSS_SELECTOR, ".under").text, "one end is chosen")
    click(4.5 / 12)
    screen.says("part-window", "1 Feb – 31 May 2026")
    screen.settled()
    screen.until(lambda: len(screen.all("row-2026-02")) == 1 and not screen.all("row-2026-06"), "the table has that range")
    # One period twice goes down into it: of four months, the second.
    screen.until(lambda: "Click two periods" in page.find_element(By.CSS_SELECTOR, ".under").text, "nothing is chosen")
    click(1.5 / 4)
    screen.until(lambda: "Now the other end" in page.find_element(By.CSS_SELECTOR, ".under").text, "one end is chosen")
    click(1.5 / 4)
    screen.says("statement", "by day")
    screen.settled()
    assert screen.all("row-2026-03-01") and not screen.all("row-2026-04-01")
