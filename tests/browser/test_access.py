"""Every page and what opens over it, held against WCAG 2.2 A and AA by axe-core; and the work done with the keyboard only."""

from __future__ import annotations

import json
from pathlib import Path

import pytest
from selenium.webdriver import ActionChains, Chrome
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from lofty_abacus.demo.scenario import LEDGER_NAME
from tests.browser.axe import Stops, at_once
from tests.browser.screen import Screen
from tests.ingest.test_holidays import calendar

__all__ = ["at_once"]


# Some fifty stops, each looked at in six ways: a slow machine takes its time for it.
@pytest.mark.timeout(900)
def test_no_page_has_a_violation(at_once: Chrome, address: str, tmp_path: Path) -> None:
    page, screen = at_once, Screen(at_once)
    screen.settled()
    stops = Stops(page)
    then = stops.then
    then("figures")
    then("palette", lambda: screen.click("open-palette"), lambda: screen.find("palette-text"))
    then("keys", lambda: screen.keys(Keys.ESCAPE), lambda: screen.keys("?"), lambda: screen.find("keys"))
    screen.keys(Keys.ESCAPE)
    screen.until(lambda: not screen.all("keys"), "the keys are closed")
    screen.keys("H")
    then("headline", lambda: screen.find("headline"))
    screen.keys("H")
    for part in ("measure", "show", "window", "base", "filter", "limit", "goal", "layout", "statements"):
        screen.keys(
            {
                "measure": "m",
                "show": "s",
                "window": "w",
                "base": "b",
                "filter": "f",
                "limit": "l",
                "goal": "g",
                "layout": "y",
                "statements": "o",
            }[part]
        )
        screen.until(lambda: page.find_elements(By.CSS_SELECTOR, '.el-popover:not([style*="display: none"])'), f"{part} is open")
        then(part)
        screen.keys(Keys.ESCAPE)
        screen.until(
            lambda: not page.find_elements(By.CSS_SELECTOR, '.el-popover:not([style*="display: none"])'), f"{part} is closed"
        )
    tabs = (
        ("part-add-reading", []),
        ("part-measure-0", ["Heading"]),
        ("part-show-0", ["Shares"]),
        ("part-window", ["Calendar", "Typed", "As of"]),
        ("part-base-0", ["Days", "Fixed, plan", "Matching"]),
        ("part-layout", ["Headings", "Figures", "One measure"]),
        ("part-keep", []),
        ("part-save", []),
        ("ledger-chip", []),
        ("reader", []),
    )
    for part, names in tabs:
        then(part, lambda part=part: screen.click(part))
        for name in names:
            then(f"{part}, {name}", lambda name=name: screen.to_tab(name))
        screen.keys(Keys.ESCAPE)
    then("proof", lambda: screen.click_cell("Lakes", "net_sales.1.difference"), lambda: screen.find("line"))
    then("days", lambda: screen.click("by-day"), lambda: screen.find("days"))
    screen.keys(Keys.ESCAPE)
    screen.until(lambda: not screen.all("proof"), "the proof is closed")
    then("pasted", lambda: screen.click("check-pasted"), lambda: screen.find("pasted-text"))
    then("printed", lambda: page.get(page.current_url.replace("/figures", "/print")), lambda: screen.find("print-row"))
    months = {
        "measures": [{"measure": "net_sales", "show": ["percent_change"]}],
        "rows": [{"time": "month"}],
        "bases": [{"back": 1, "unit": "period"}],
    }
    link = f"{address}/figures?ledger={LEDGER_NAME.replace('&', '%26')}&show={json.dumps(months)}"
    then("chart", lambda: page.get(link), screen.settled, lambda: screen.keys("h"), lambda: screen.find("chart"))
    who = {"measures": [{"measure": "net_sales"}], "rows": ["rep", "product"], "bases": [{"back": 1, "unit": "year"}]}
    movers = f"{address}/movers?ledger={LEDGER_NAME.replace('&', '%26')}&show={json.dumps(who)}"
    then("movers", lambda: page.get(movers), lambda: screen.find("movers"), lambda: screen.click("split-items"))
    judged = {**who, "rows": ["region"], "goals": [{"metric": "net_sales", "target": "100"}]}
    card = f"{address}/scorecard?ledger={LEDGER_NAME.replace('&', '%26')}&show={json.dumps(judged)}"
    then("scorecard", lambda: page.get(card), lambda: screen.find("card"), lambda: screen.click("goal-net_sales-Lakes"))
    late = {"kind": "compared", "day": "delivery", "relation": "after", "other": "as_of", "or_blank": True}
    held = {**who, "rows": ["delivery.month"], "day": "delivery", "conditions": [late, {"kind": "given", "of": "freight"}]}
    by_delivery = f"{address}/figures?ledger={LEDGER_NAME.replace('&', '%26')}&show={json.dumps(held)}"
    then("by another day", lambda: page.get(by_delivery), screen.settled, lambda: screen.click("part-day"))
    screen.keys(Keys.ESCAPE)
    then("a condition", lambda: screen.click("part-condition-0"), lambda: screen.find("condition-or-blank"))
    then("calendar", lambda: page.get(f"{address}/calendar"), lambda: screen.find("calendar-month"))
    holidays = tmp_path / "holidays.ics"
    holidays.write_bytes(calendar("DTSTART;VALUE=DATE:20261224\r\nSUMMARY:The day before").encode())
    then(
        "a calendar file",
        lambda: page.find_element(By.CSS_SELECTOR, '[data-test="calendar-file"] input').send_keys(str(holidays)),
        lambda: screen.says("calendar-file-said", "1 of them new"),
    )
    then("intake", lambda: page.get(f"{address}/intake"), lambda: screen.find("batch"))
    then("kept mappings", lambda: screen.click("mappings"), lambda: screen.find("kept-mapping"))
    page.get(f"{address}/intake")
    screen.find("batch")
    file = tmp_path / "own.csv"
    file.write_text(
        "day,order,rep,amount,hours,dispatch date\n2026-02-05,A1,Ada,12.50,2,2026-02-07\n2026-02-06,A2,Bo,7.00,1,\n"
        "2026-02-07,A3,Bo,8.00,3,2026-02-09\n2026-02-30,A4,Bo,1.00,4,2026-03-09\n"
    )
    then(
        "a file",
        lambda: page.find_element(By.CSS_SELECTOR, '[data-test="files"] input').send_keys(str(file)),
        lambda: screen.says("finding-unreadable", "2026-02-30"),
    )
    then("settings", lambda: screen.click("ledger-chip"), lambda: screen.click("open-settings"), lambda: screen.find("settings"))
    screen.keys(Keys.ESCAPE)
    screen.until(lambda: not screen.find_all_shown("settings"), "the settings are closed")
    then(
        "a new ledger",
        lambda: screen.click("ledger-chip"),
        lambda: screen.click("new-ledger"),
        lambda: screen.find("make-ledger"),
    )
    page.get(f"{address}/intake")
    batch = "sales-2024-01.csv"
    then("a withdrawal", lambda: screen.click(f"withdraw-{batch}"), lambda: screen.find("withdraw-hole"))
    then("guide", lambda: page.get(f"{address}/guide/questions"), lambda: screen.find("guide-search"))
    then("help", lambda: screen.keys("?"), lambda: screen.find("help"))
    then("no such page", lambda: page.get(f"{address}/nowhere"))
    told = stops.told()
    assert not told, "\n".join(told)


def test_the_work_is_done_with_the_keyboard_only(page: Chrome) -> None:
    screen = Screen(page)
    screen.settled()
    before = screen.cell("total", "net_sales.0.value")
    # The as-of date a month, then a day back; undone and done again.
    screen.keys("{")
    screen.says("part-window", "16 Oct 2026")
    screen.settled()
    screen.until(lambda: screen.cell("total", "net_sales.0.value") != before, "a day less is counted")
    _control(page, "z")
    screen.says("part-window", "17 Oct 2026")
    _control(page, "y")
    screen.says("part-window", "16 Oct 2026")
    _control(page, "z")
    screen.cell_becomes("total", "net_sales.0.value", before)
    # A part of the sentence by its key, another choice by the arrows.
    screen.keys("r")
    screen.until(lambda: page.switch_to.active_element.get_attribute("data-test") == "choice-region", "the choice has the focus")
    screen.keys(Keys.ARROW_UP, Keys.ENTER)
    screen.says("statement", "by district")
    screen.until(lambda: page.switch_to.active_element.get_attribute("data-test") == "part-row-0", "the part has the focus again")
    # The focused part moved inward and removed.
    ActionChains(page).key_down(Keys.ALT).send_keys(Keys.ARROW_RIGHT).key_up(Keys.ALT).perform()
    screen.says("statement", "by rep then district")
    screen.settled()
    page.find_element(By.CSS_SELECTOR, '[data-test="part-row-1"]').send_keys(Keys.DELETE)
    screen.until(lambda: "district" not in screen.find("statement").text, "the district is gone")
    screen.settled()
    # Into the table, to a cell, its proof, and back.
    screen.keys("t")
    screen.until(lambda: page.switch_to.active_element.get_attribute("role") == "gridcell", "the table has the focus")
    screen.keys(Keys.ARROW_DOWN)
    screen.keys(Keys.ARROW_RIGHT)
    screen.find("proof")
    screen.until(
        lambda: ", net sales 2025: " in (page.switch_to.active_element.get_attribute("aria-label") or ""),
        "a cell says its row, its column and its value",
    )
    # A block of cells adds up.
    ActionChains(page).key_down(Keys.SHIFT).send_keys(Keys.ARROW_DOWN).send_keys(Keys.ARROW_DOWN).key_up(Keys.SHIFT).perform()
    screen.says("block-sum", "3 cells · sum ")
    screen.keys(Keys.ESCAPE)
    screen.until(lambda: not screen.all("proof"), "the proof is closed")
    # Rows searched, the chart of months, the keys.
    screen.keys("/")
    screen.keys("corr")
    screen.until(lambda: len(page.find_elements(By.CSS_SELECTOR, "tbody tr[data-test]")) == 1, "one row is called so")
    screen.keys(Keys.ESCAPE)
    screen.until(lambda: len(page.find_elements(By.CSS_SELECTOR, "tbody tr[data-test]")) > 5, "all rows are there again")
    screen.type("only by month")
    screen.settled()
    screen.keys("h")
    screen.find("chart")
    screen.keys("?")
    screen.says("keys", "Undo the last step")
    screen.keys(Keys.ESCAPE)
    screen.until(lambda: not screen.all("keys"), "the keys are closed")
    # A statement is kept and the page to print opened.
    _control(page, "s")
    screen.find("statement-name").send_keys("By keys", Keys.ENTER)
    screen.until(lambda: not screen.find_all_shown("statement-name"), "it is kept")
    screen.keys("e")
    screen.says("print-caption", "by month")


def _control(page: Chrome, key: str) -> None:
    ActionChains(page).key_down(Keys.CONTROL).send_keys(key).key_up(Keys.CONTROL).perform()
