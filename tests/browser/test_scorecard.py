"""Goals set on the card, judged, changed for one row; from a verdict to its proof and to who moved."""

from __future__ import annotations

import json
import urllib.parse
from collections.abc import Callable
from pathlib import Path
from typing import Any

from selenium.webdriver import Chrome
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from lofty_abacus.demo.scenario import LEDGER_NAME
from tests.browser.screen import Screen

Lines = Callable[[str], list[tuple[Any, ...]]]
STATEMENT = {
    "measures": [{"measure": "net_sales"}, {"measure": "return_rate"}],
    "rows": ["region"],
    "as_of": {"kind": "pinned", "day": "2026-10-17"},
    "window": {"kind": "running", "grain": "month", "back": 1},
    "bases": [{"kind": "period", "back": 1, "unit": "period"}],
}


def opened(page: Chrome, address: str, **parts: object) -> Screen:
    asked = {"ledger": LEDGER_NAME, "show": json.dumps({**STATEMENT, **parts}), "open": '{"depth": 1, "paths": []}'}
    page.get(f"{address}/scorecard?{urllib.parse.urlencode(asked)}")
    screen = Screen(page)
    screen.find("scorecard")
    return screen


def test_goals_are_set_on_the_card_and_judged(page: Chrome, address: str, lines: Lines) -> None:
    screen = opened(page, address)
    screen.says("card", "no goal yet")
    screen.click("set-goals")
    nets = {
        region: (now, then)
        for region, now, then in lines(
            "SELECT region, SUM(IF(day BETWEEN '2026-09-01' AND '2026-09-30', amount, 0)), "
            "SUM(IF(day BETWEEN '2026-08-01' AND '2026-08-31', amount, 0)) FROM {lines} GROUP BY region"
        )
    }
    for region, (now, then) in nets.items():
        screen.says(f"goal-net_sales-{region}", f"{now / then * 100:.1f}% {'met' if now >= then else 'missed'}")
    missed = next(region for region, (now, then) in nets.items() if now < then)
    screen.click(f"goal-net_sales-{missed}")
    screen.says("card-verdict", "goal missed")
    screen.says("card-side", f"{nets[missed][0] - nets[missed][1]:,.2f}".replace("-", "−"))
    # A target of its own: what was missed is met, and the others stay as they were.
    screen.fill("card-target", "10")
    screen.choose("card-scope", "row")
    screen.fill("card-target", "10")
    screen.find("card-target").send_keys(Keys.ENTER)
    screen.says(f"goal-net_sales-{missed}", "met")
    screen.says("card-verdict", "goal met")
    assert missed in screen.find("card-side").text
    screen.says("statement", "1 of its own")
    page.back()
    screen.says("card-verdict", "goal missed")
    # From the verdict to its proof, and to who moved in it.
    screen.click("card-prove")
    screen.says("proof", f"{nets[missed][0]:,.2f}")
    screen.keys(Keys.ESCAPE)
    screen.click("card-movers")
    screen.find("movers")
    assert "/movers?" in page.current_url
    page.back()
    screen.find("scorecard")


def test_a_card_follows_its_window_and_tells_what_it_rests_on(page: Chrome, address: str, tmp_path: Path) -> None:
    screen = opened(page, address, goals=[{"metric": "net_sales", "target": "100"}])
    screen.says("card-caption", "As of 17 Oct 2026 · Sep 2026: 1 Sep – 30 Sep 2026 · Aug 2026: 1 Aug – 31 Aug 2026")
    marks = screen.find("card").find_elements(By.CSS_SELECTOR, "[role=img]")
    assert all(str(each.get_dom_attribute("aria-label")).count(";") == 6 for each in marks) and len(marks) == 5
    screen.click("part-save")
    screen.click("save-svg")
    drawn = screen.until(lambda: next(iter((tmp_path / "downloads").glob("*.svg")), None), "the picture is there").read_text()
    assert "Lakes" in drawn and "As of 17 Oct 2026" in drawn
    screen.keys("[")
    screen.says("card-caption", "Aug 2026: 1 Aug – 31 Aug 2026 · Jul 2026")
    # What has no goal is said, never judged; a search leaves the rows that are meant.
    screen.says("card", "no goal yet")
    screen.fill("search-rows", "lake")
    screen.until(lambda: not screen.all("card-row-Plains") and screen.all("card-row-Lakes"), "only what is searched for")


def test_a_target_file_is_posted_and_the_card_rolls_on_to_the_next_month(page: Chrome, address: str, tmp_path: Path) -> None:
    screen = Screen(page)
    screen.settled()

    def post(name: str, head: str, *lines: str, version: int) -> None:
        (tmp_path / name).write_text("\n".join([head, *lines]) + "\n")
        page.find_element(By.CSS_SELECTOR, '[data-test="files"] input').send_keys(str(tmp_path / name))
        screen.until(lambda: screen.find("post").is_enabled(), f"{name} can be posted")
        screen.click("post")
        screen.says("posted", f"as version {version}")

    screen.click("ledger-chip")
    screen.click("new-ledger")
    screen.fill("new-ledger-name", "Targets by rep")
    screen.choose("new-ledger-grain", "month")
    screen.click("make-ledger")
    screen.says("ledger", "Targets by rep")
    targets = ("2026-01,Ada,31", "2026-01,Bo,0", "2026-01,Cy,-5", "2026-02,Ada,28", "2026-02,Bo,14")
    post("targets.csv", "month,rep,amount", *targets, version=1)
    screen.make_ledger("Corner shop")
    sold = ("2026-01-10,A,Ada,32", "2026-01-11,B,Bo,3", "2026-01-12,C,Cy,-6", "2026-01-31,D,Di,1")
    post("sold.csv", "day,order,rep,amount", *sold, version=1)
    sales = page.current_url
    statement = {
        "measures": [{"measure": "net_sales"}, {"measure": "orders", "bases": []}],
        "rows": ["rep"],
        "window": {"kind": "to_date", "grain": "month"},
        "bases": [{"kind": "ledger", "ledger": "Targets by rep"}],
        "goals": [{"metric": "net_sales", "target": "100"}],
    }
    asked = {"ledger": "Corner shop", "show": json.dumps(statement), "open": '{"depth": 1, "paths": []}'}
    page.get(f"{address}/scorecard?{urllib.parse.urlencode(asked)}")
    # A target of 0 or below has no percentage, and is met or missed all the same; who has none is not judged.
    screen.says("goal-net_sales-Ada", "103.2% met")
    screen.until(lambda: screen.find("goal-net_sales-Bo").text == "met", "a target of 0 is met")
    screen.until(lambda: screen.find("goal-net_sales-Cy").text == "missed", "a target below 0 is missed")
    screen.says("goal-net_sales-Di", "cannot be told")
    screen.says("met-Di", "none of 0")
    screen.says("card", "no goal yet")
    screen.says("told", "one has no goal that can be told")
    # The next month is posted: the card is of it by itself, and January is history.
    page.get(sales)
    screen.find("batch")
    post("more.csv", "day,order,rep,amount", "2026-02-28,E,Ada,27.99", "2026-02-28,F,Bo,14", version=2)
    page.get(f"{address}/scorecard?{urllib.parse.urlencode(asked)}")
    screen.says("goal-net_sales-Ada", "99.96% missed")
    screen.says("goal-net_sales-Bo", "100.0% met")
    screen.says("card-caption", "As of 28 Feb 2026")
    mark = screen.find("card").find_element(By.CSS_SELECTOR, "[role=img]")
    assert "Jan 2026: all goals met" in str(mark.get_dom_attribute("aria-label"))
