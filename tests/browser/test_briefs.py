"""Briefs as people work with them: put together, printed, published, corrected afterwards, read on a phone, told of by alerts."""

from __future__ import annotations

import io
import json
import urllib.parse
import urllib.request
import zipfile
from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest
from openpyxl import load_workbook
from pypdf import PdfReader
from selenium.webdriver import ActionChains, Chrome
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from lofty_abacus.demo.scenario import LEDGER_NAME
from tests.browser.briefs import Briefs
from tests.browser.screen import Screen

Lines = Callable[[str], list[tuple[Any, ...]]]
FILE = "day,line id,rep,amount\n2025-03-02,a,Ada,80.00\n2026-03-03,b,Ada,100.50\n2026-03-04,c,Bo,49.50\n"


@pytest.fixture
def briefs(screen: Screen) -> Briefs:
    return Briefs(screen)


def ask(address: str, path: str, **query: str) -> Any:
    return json.load(urllib.request.urlopen(f"{address}{path}?{urllib.parse.urlencode(query)}", timeout=30))


def names(screen: Screen) -> list[str]:
    return [each.text.strip() for each in screen.all("block")]


def test_the_demo_has_an_issue_a_restatement_and_a_draft(
    screen: Screen, page: Chrome, address: str, briefs: Briefs, lines: Lines, tmp_path: Path
) -> None:
    briefs.open(address)
    screen.says("open-draft", "Draft of issue 2")
    ((net,),) = lines("SELECT SUM(amount) FROM {lines} WHERE day BETWEEN '2026-01-01' AND '2026-10-17'")
    briefs.says(f"{round(net):,}")
    screen.click("open-issue-1")
    screen.says("restated-note", "replaced sales-2026-09.csv")
    text = briefs.text()
    assert "September 2026 in figures" in text and "Issue 1" in text and "frozen" in text and "A. Brandt" in text
    then = ask(address, "/api/issues/1/restated")["figures"][0]
    assert then["then"] in text and then["now"] not in text, "it stays as it was published"
    briefs.prove("headline")
    screen.says("brief-proof", "on version 1")
    shown = screen.find("operand-0", screen.find("brief-proof")).text
    assert round(float(shown.replace(",", ""))) == int(then["then"].replace(",", ""))
    screen.click("then-and-now")
    screen.says("restated-table", then["now"])
    screen.says("restated-table", then["difference"])
    page.find_element(By.CSS_SELECTOR, ".el-dialog__headerbtn").click()
    # Its files are those of the issue.
    screen.click("issue-pdf")
    read = PdfReader(screen.saved(tmp_path, "2026-09-30.pdf"))
    assert then["then"] in "".join(each.extract_text() for each in read.pages)
    screen.click("issue-files")
    screen.click("file-xlsx")
    assert load_workbook(screen.saved(tmp_path, "2026-09-30.xlsx")).sheetnames[-1] == "What this shows"
    screen.click("issue-files")
    screen.click("file-zip")
    assert "csv-metadata.json" in zipfile.ZipFile(io.BytesIO(screen.saved(tmp_path, "2026-09-30.zip").read_bytes())).namelist()
    # The living page has the same statement, which its reader may change.
    screen.click("living-page")
    screen.click("living-0")
    screen.until(lambda: "/figures?" in page.current_url, "the living page is open")
    screen.says("part-window", "30 Sep 2026")
    screen.settled()


def test_a_brief_is_put_together_published_and_restated(
    screen: Screen, page: Chrome, address: str, briefs: Briefs, tmp_path: Path
) -> None:
    page.get(f"{address}/intake")
    screen.make_ledger("For briefs")
    file = tmp_path / "own.csv"
    file.write_text(FILE)
    page.find_element(By.CSS_SELECTOR, '[data-test="files"] input').send_keys(str(file))
    screen.says("check-lines", "3")
    screen.click("post")
    screen.find("batch")
    page.find_element(By.LINK_TEXT, "Briefs").click()
    screen.click("first-brief")
    # The first block from a common question.
    screen.click("add-block")
    screen.choose("block-statement", "Year to date")
    screen.click("kind-headline")
    screen.click("put-down")
    briefs.says("150.00")
    screen.click("add-block")
    screen.choose("block-statement", "Year to date")
    screen.click("kind-table")
    screen.click("put-down")
    screen.until(lambda: len(names(screen)) == 2, "two blocks are there")
    briefs.says("Ada")
    screen.click("add-block")
    screen.click("add-text")
    briefs.says("Write here.")
    screen.fill("block-text", "We **mean** it.")
    screen.find("block-text").send_keys(Keys.TAB)
    briefs.says("We mean it.")
    # Moved by keys, undone, taken away, taken back.
    page.find_elements(By.CSS_SELECTOR, '[data-test="block"] button.name')[2].click()
    ActionChains(page).key_down(Keys.ALT).send_keys(Keys.ARROW_UP).key_up(Keys.ALT).perform()
    screen.until(lambda: names(screen)[1].startswith("Text"), "the text moved up")
    screen.click("undo")
    screen.until(lambda: names(screen)[2].startswith("Text"), "it is where it was")
    # As it will print.
    page.find_element(By.XPATH, "//*[@data-test='as-printed']/ancestor-or-self::label").click()
    printed = screen.until(lambda: screen.find_all_shown("printed-page"), "the pages are there")
    assert printed[0].get_attribute("alt") == f"Page 1 of {len(printed)} as it will print"
    screen.to_tab("Page")
    screen.fill("brief-title", "Sales to {as_of}")
    screen.find("brief-title").send_keys(Keys.TAB)
    screen.choose("as-of-policy", "0")
    page.find_element(
        By.XPATH, "//*[@data-test='as-printed']/ancestor-or-self::div[contains(@class,'el-radio-group')]/label[1]"
    ).click()
    briefs.says("Sales to 4 Mar 2026")
    # Handed out to somebody, as a mail that is caught.
    screen.to_tab("Hand out")
    screen.find("mail-caught")
    screen.fill("new-address", "lead@a.example")
    screen.click("add-person")
    screen.says("person", "lead@a.example")
    screen.choose("schedule-kind", "first_working_day")
    screen.says("next-due", "Next: 1 ")
    screen.click("publish")
    page.find_element(By.XPATH, "//*[@data-test='hand-out-now']/ancestor-or-self::label").click()
    screen.click("publish-now")
    screen.find("issue-pdf")
    briefs.says("Issue 1")
    screen.until(
        lambda: [each["state"] for each in ask(address, "/api/mails", name="For briefs")["mails"]] == ["sent"], "the mail is sent"
    )
    # A correction of a line: what was published stays, and says what would be different.
    page.get(f"{address}/figures?ledger={ask(address, '/api/ledger', name='For briefs')['id']}")
    screen.settled()
    screen.click_cell("Bo", "net_sales.0.value")
    screen.click("line-correct")
    screen.fill("line-amount", "40.00")
    screen.find("line-reason").send_keys("typed wrong")
    screen.click("correct-line")
    screen.cell_becomes("Bo", "net_sales.0.value", "40.00")
    page.find_element(By.LINK_TEXT, "Briefs").click()
    screen.click("open-issue-1")
    screen.says("restated-note", "(−9.50)")
    briefs.says("150.00")
    screen.click("then-and-now")
    screen.says("restated-table", "140.50")


def test_what_is_on_screen_goes_on_a_brief_and_under_an_alert(screen: Screen, page: Chrome, address: str, briefs: Briefs) -> None:
    screen.settled()
    screen.click("part-save")
    screen.click("to-alert")
    screen.fill("alert-name", "Everybody")
    screen.choose("alert-comparison", "above")
    screen.fill("alert-figure", "-100000")
    screen.click("keep-alert")
    screen.until(lambda: not screen.find_all_shown("alert-form"), "the alert is kept")
    screen.click("part-save")
    screen.click("to-brief")
    screen.choose("which-brief", "0")
    screen.choose("which-kind", "movers")
    screen.click("put-it")
    briefs.shown()
    screen.says("blocks", "Movers")
    briefs.says("Lakes")
    screen.says("open-alerts", "1 true now")
    screen.click("open-alerts")
    screen.says("alert", "Everybody")
    screen.says("alert", "Lakes")
    # A row that meets the condition leads to its proof.
    screen.click("alert-row")
    screen.find("proof")
    page.back()
    briefs.shown()
    screen.click("open-alerts")
    screen.click("forget-alert")
    screen.until(lambda: not screen.all("alert"), "it is kept no more")
    screen.keys(Keys.ESCAPE)
    screen.to_tab("Page")
    screen.click("forget-brief")
    screen.until(
        lambda: (
            page.find_elements(By.CSS_SELECTOR, ".el-popconfirm .el-button--primary")
            and (page.find_element(By.CSS_SELECTOR, ".el-popconfirm .el-button--primary").click() or True)
        ),
        "it is confirmed",
    )
    screen.find("take-back-brief")
    assert [each["kept"]["brief"]["name"] for each in ask(address, "/api/briefs", name=LEDGER_NAME)["briefs"]] == [
        "Month in figures"
    ]


def test_a_manager_reads_on_a_phone(screen: Screen, page: Chrome, address: str, briefs: Briefs) -> None:
    phone = {"width": 390, "height": 844, "deviceScaleFactor": 1, "mobile": True}
    page.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", phone)
    try:
        page.get(f"{address}/read/1")
        briefs.says("September 2026 in figures")
        screen.find("read-restated")
        wide = page.execute_script("return document.documentElement.scrollWidth")
        assert wide <= 390, "nothing stands beyond the edge"
        within = "return document.querySelector('[data-test=\"brief-sheet\"]').contentDocument.documentElement.scrollWidth"
        assert page.execute_script(within) <= 390
        assert not page.find_elements(By.CSS_SELECTOR, 'nav[aria-label="Pages"]'), "without the tools"
        briefs.prove("headline")
        screen.says("brief-proof", "lines")
        page.get(f"{address}/read/1/7")
        screen.until(lambda: "There is no such issue" in page.find_element(By.TAG_NAME, "main").text, "it is said")
    finally:
        page.execute_cdp_cmd("Emulation.clearDeviceMetricsOverride", {})
