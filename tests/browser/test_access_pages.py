"""The other pages and what opens over them, held against WCAG 2.2 A and AA by axe-core."""

from __future__ import annotations

import json
from pathlib import Path

import pytest
from selenium.webdriver import Chrome
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from lofty_abacus.demo.scenario import LEDGER_NAME
from tests.browser.axe import Stops, at_once
from tests.browser.screen import Screen
from tests.ingest.test_holidays import calendar

__all__ = ["at_once"]


# Some twenty stops, each looked at in six ways: a slow machine takes its time for it.
@pytest.mark.timeout(900)
def test_no_other_page_has_a_violation(at_once: Chrome, address: str, tmp_path: Path) -> None:
    page, screen = at_once, Screen(at_once)
    screen.settled()
    stops = Stops(page)
    then = stops.then
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
