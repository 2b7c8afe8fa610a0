"""The figures and what opens over them, held against WCAG 2.2 A and AA by axe-core; and the work done with the keyboard only."""

from __future__ import annotations

import pytest
from selenium.webdriver import ActionChains, Chrome
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from tests.browser.axe import Stops, at_once
from tests.browser.screen import Screen

__all__ = ["at_once"]


# Some thirty stops, each looked at in six ways: a slow machine takes its time for it.
@pytest.mark.timeout(900)
def test_the_figures_have_no_violation(at_once: Chrome) -> None:
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
