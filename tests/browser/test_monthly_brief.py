"""The month's work on the demo ledger, on an application of its own: a brief is put together, published, corrected and read."""

from __future__ import annotations

import json
import urllib.parse
import urllib.request
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any, NamedTuple

import pytest
from selenium.webdriver import ActionChains, Chrome
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from lofty_abacus.demo.scenario import LEDGER_NAME
from tests.browser.briefs import Briefs
from tests.browser.conftest import asking, running
from tests.browser.screen import Screen

#: Statement, kind: what the monthly brief is put together from.
BLOCKS = (
    ("Year to date", "headline"),
    ("This month and the month before", "headline"),
    ("Year to date", "table"),
    ("Month over month", "chart"),
    ("Same period last year", "bridge"),
    ("Who moved this year, and why", "movers"),
    ("Goals of last month", "scorecard"),
    ("Year to date", "words"),
)
HEADER = "date,order,line,rep,customer,product,channel,units,amount,cost"


class Own(NamedTuple):
    """An application of one's own: where it answers, and its MariaDB."""

    address: str
    lines: Callable[[str], list[tuple[Any, ...]]]


@pytest.fixture
def own(tmp_path: Path) -> Iterator[Own]:
    home = tmp_path / "home"
    home.mkdir()
    with running(home) as base:
        yield Own(base, asking(home))


def ask(address: str, path: str, **query: str) -> Any:
    return json.load(urllib.request.urlopen(f"{address}{path}?{urllib.parse.urlencode(query)}", timeout=60))


@pytest.mark.timeout(600)
def test_the_monthly_brief_of_the_demo(own: Own, page: Chrome, tmp_path: Path) -> None:
    # In this order the page is looked at for complaints before its application ends: a page that stays asks on.
    screen, briefs = Screen(page), Briefs(Screen(page))
    page.get(f"{own.address}/briefs?ledger=1")
    briefs.shown()
    screen.click("new-brief")
    screen.until(lambda: not screen.all("block"), "an empty brief is there")
    for at, (statement, kind) in enumerate(BLOCKS):
        screen.click("add-block")
        screen.choose("block-statement", statement)
        screen.click(f"kind-{kind}")
        screen.click("put-down")
        screen.until(lambda at=at: len(screen.all("block")) == at + 1, f"{statement} is put down")
    for other in ("text", "restated", "break"):
        screen.click("add-block")
        screen.click(f"add-{other}")
    screen.until(lambda: len(screen.all("block")) == len(BLOCKS) + 3, "all blocks are there")
    # The break goes up before the table, by keys.
    page.find_elements(By.CSS_SELECTOR, '[data-test="block"] button.name')[-1].click()
    for place in range(len(BLOCKS) + 1, 1, -1):
        ActionChains(page).key_down(Keys.ALT).send_keys(Keys.ARROW_UP).key_up(Keys.ALT).perform()
        screen.until(lambda place=place: "New page" in screen.all("block")[place].text, "the break moved up")
    screen.to_tab("Page")
    screen.fill("brief-name", "October")
    screen.find("brief-name").send_keys(Keys.TAB)
    screen.fill("brief-title", "October to {as_of}")
    screen.find("brief-title").send_keys(Keys.TAB)
    screen.choose("as-of-policy", "0")
    briefs.says("October to 17 Oct 2026")
    page.find_element(By.XPATH, "//*[@data-test='as-printed']/ancestor-or-self::label").click()
    screen.until(lambda: len(screen.find_all_shown("printed-page")) > 1, "the break makes a second page")
    screen.click("publish")
    screen.click("publish-now")
    screen.find("issue-pdf")
    briefs.says("frozen")
    shown = briefs.text()
    headline = _headline(own)
    assert headline in shown

    # A file with what came late: the invoice and the credit note of one order.
    late = tmp_path / "late-2026-10.csv"
    rows = (
        "2026-10-15,K-99001,K-99001/1,T. Verrow,C-1242,P-140,School,5,40100.25,55.92",
        "2026-10-16,K-99001,K-99001/2,T. Verrow,C-1242,P-140,School,-1,-100.25,",
    )
    late.write_text("\n".join((HEADER, *rows)) + "\n")
    page.get(f"{own.address}/intake?ledger=1")
    page.find_element(By.CSS_SELECTOR, '[data-test="files"] input').send_keys(str(late))
    screen.until(lambda: screen.find("post").is_enabled(), "the file can be posted")
    screen.click("post")
    screen.says("posted", "as version 3")

    number = next(
        each["kept"]["id"] for each in ask(own.address, "/api/briefs", name=LEDGER_NAME)["briefs"] if _named(each, "October")
    )
    page.get(f"{own.address}/briefs?ledger=1&brief={number}")
    briefs.shown()
    screen.click("open-issue-1")
    screen.says("restated-note", "posted late-2026-10.csv")
    screen.says("restated-note", "(+40,000)")
    assert briefs.text() == shown, "it stays as it was published"
    screen.click("then-and-now")
    screen.says("restated-table", headline)
    screen.says("restated-table", _headline(own))
    assert int(_headline(own).replace(",", "")) == int(headline.replace(",", "")) + 40_000


def _named(each: Any, name: str) -> bool:
    return bool(each["kept"]["brief"]["name"] == name)


def _headline(own: Own) -> str:
    """Net sales of the year to date, as MariaDB adds them up for the newest version."""
    ((net,),) = own.lines("SELECT SUM(amount) FROM {lines} WHERE day BETWEEN '2026-01-01' AND '2026-10-17'")
    return f"{round(net):,}"
