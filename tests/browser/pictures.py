"""The pictures of README and guide, made anew from the demo: `./lofty test tests/browser/pictures.py`. No test of the suite.

They are as large as a usual screen, show nothing but the demo and files that are made here, and no path of a machine.
"""

from __future__ import annotations

import base64
import json
import urllib.parse
from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest
from selenium.webdriver import ActionChains, Chrome
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from tests.browser.briefs import Briefs
from tests.browser.screen import Screen

FOLDER = Path(__file__).resolve().parents[2] / "docs" / "screenshots"
SIZE = {"width": 1280, "height": 800, "deviceScaleFactor": 1, "mobile": False}
STILL = """
const done = arguments[arguments.length - 1];
const look = () => {
  const busy = document.getAnimations().some((each) => each.playState === "running");
  if (busy || document.querySelector('[aria-busy="true"]')) requestAnimationFrame(look);
  else requestAnimationFrame(() => requestAnimationFrame(done));
};
document.fonts.ready.then(() => requestAnimationFrame(look));
"""
BASES = [{"kind": "period", "back": 1, "unit": "year"}]

Take = Callable[[str], None]


@pytest.fixture
def take(page: Chrome) -> Take:
    """Write what is seen, once it stands still, into the folder of pictures."""
    page.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", SIZE)

    def write(name: str) -> None:
        page.execute_async_script(STILL)
        shot = page.execute_cdp_cmd("Page.captureScreenshot", {"format": "png"})
        (FOLDER / f"{name}.png").write_bytes(base64.b64decode(shot["data"]))

    return write


def show(screen: Screen, address: str, statement: dict[str, Any], **look: Any) -> None:
    """Open a statement on the demo, with a layout."""
    query = {"ledger": "1", "show": json.dumps(statement), "open": json.dumps({"depth": 2, "paths": []})}
    query |= {"look": json.dumps(look)} if look else {}
    screen.driver.get(f"{address}/figures?{urllib.parse.urlencode(query)}")
    screen.settled()


def test_the_figures_and_what_opens_over_them(screen: Screen, page: Chrome, take: Take, address: str) -> None:
    screen.settled()
    take("figures")
    screen.click_cell("Lakes", "net_sales.1.difference")
    screen.find("line")
    take("proof")
    screen.keys(Keys.ESCAPE)
    ActionChains(page).key_down(Keys.CONTROL).send_keys("k").key_up(Keys.CONTROL).perform()
    screen.find("palette-text").send_keys("against last")
    screen.until(lambda: screen.all("palette-item"), "what fits is listed")
    take("palette")


def test_other_shapes_of_the_figures(screen: Screen, take: Take, address: str, page: Chrome) -> None:
    net = {"measure": "net_sales", "show": ["difference", "percent_change"]}
    months = {"rows": [{"time": "quarter"}, {"time": "month"}], "bases": BASES}
    running = {"measure": "net_sales", "along": {"kind": "running", "reset": "year"}}
    show(screen, address, {"measures": [net, running], **months})
    take("series")
    mean = {"measure": "net_sales", "along": {"kind": "moving", "periods": 3, "of": "mean"}}
    last = {"kind": "last", "count": 24, "grain": "month", "ending": "as_of"}
    show(screen, address, {"measures": [{"measure": "net_sales"}, mean], "rows": [{"time": "month"}], "window": last}, chart={})
    screen.until(lambda: page.find_elements(By.CSS_SELECTOR, '[data-test="chart"] svg path'), "the chart is drawn")
    take("chart")
    freight = {"name": "net_of_freight", "expression": "net_sales - freight", "unit": "currency"}
    late = {"kind": "compared", "day": "delivery", "relation": "after", "other": "day"}
    sent = {"measures": [{**net, "measure": "net_of_freight"}, {"measure": "freight", "show": ["percent_change"]}]}
    sent |= {"rows": [{"time": "month"}], "bases": BASES, "day": "delivery", "conditions": [late], "defined": [freight]}
    show(screen, address, sent)
    screen.click("part-condition-0")
    screen.find("condition-other")
    take("deliveries")
    screen.keys(Keys.ESCAPE)
    across = {"measures": [{"measure": "net_sales"}], "rows": ["rep"], "across": [{"time": "month"}]}
    show(screen, address, across, chart={"rows": "lines"})
    screen.until(lambda: page.find_elements(By.CSS_SELECTOR, '[data-test="chart"] svg path'), "the chart is drawn")
    take("across")
    show(screen, address, {"measures": [{"measure": "net_sales"}], "rows": ["rep", "product"], "bases": BASES})
    screen.keys("2")
    screen.find("movers")
    screen.click("bridge-each")
    take("movers")
    judged = [{"measure": each} for each in ("net_sales", "orders", "return_rate")]
    last_month = {"window": {"kind": "running", "grain": "month", "back": 1}, "bases": [{"back": 1, "unit": "period"}]}
    goals = [{"metric": each["measure"], "target": "100"} for each in judged]
    show(screen, address, {"measures": judged, "rows": ["region"], "goals": goals, **last_month})
    screen.keys("3")
    screen.click("goal-net_sales-Harbour")
    screen.says("card-verdict", "missed")
    take("scorecard")
    both = [net, {"measure": "orders", "show": ["percent_change"]}, {"measure": "margin_percent", "show": ["difference"]}]
    two = {"measures": both[:2], "rows": ["region", "rep"], "bases": BASES}
    show(screen, address, two, headline=True, beside="channel,product")
    screen.until(lambda: page.find_elements(By.CSS_SELECTOR, ".member .number:not(:empty)"), "members have their figures")
    take("filters")
    page.execute_script("document.documentElement.classList.add('dark')")
    take("dark")
    page.execute_script("document.documentElement.classList.remove('dark')")


def test_the_other_pages(screen: Screen, take: Take, address: str, page: Chrome, tmp_path: Path) -> None:
    page.get(f"{address}/intake?ledger=1")
    screen.find("batch")
    take("posted")
    reps, products = ("J. Quillan", "A. Corran", "T. Verrow"), ("Porcelain 500", "Slip 2", "Brush 4")
    rows = [
        f"{1 + at % 28:02}.11.2026;K-{at};{reps[at % 3]};{products[at % 3]};{at % 4 + 1};{3650 + at * 50},50" for at in range(60)
    ]
    file = tmp_path / "november.csv"
    file.write_text("\n".join(["Date;Order;Rep;Product;Quantity;Amount", *rows]))
    page.find_element(By.CSS_SELECTOR, '[data-test="files"] input').send_keys(str(file))
    screen.says("check-lines", "60")
    screen.find("preview")
    take("intake")
    screen.click("discard")
    screen.until(lambda: not screen.all("check"), "it is thrown away")
    page.get(f"{address}/calendar?ledger=1")
    screen.find("calendar-month")
    take("calendar")
    page.get(f"{address}/guide/fairness")
    screen.find("guide-search")
    take("guide")


def test_briefs(screen: Screen, take: Take, address: str, page: Chrome) -> None:
    brief = Briefs(screen)
    brief.open(address)
    brief.pick("scorecard")
    screen.find("block-form")
    take("composer")
    screen.click("open-issue-1")
    screen.find("issue-pdf")
    brief.prove("headline")
    take("issue")
    screen.click("then-and-now")
    screen.find("restated-table")
    take("restatement")
    phone = {"width": 390, "height": 844, "deviceScaleFactor": 2, "mobile": True}
    page.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", phone)
    page.get(f"{address}/read/1")
    brief.shown()
    take("phone")
