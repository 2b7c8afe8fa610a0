"""The guide: found by words, opened at what has the focus, its questions open, its scripts run."""

from __future__ import annotations

import contextlib
import io
import json
import re
import urllib.parse
import urllib.request
from pathlib import Path

from selenium.webdriver import Chrome
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from lofty_abacus.demo.scenario import LEDGER_NAME
from tests.browser.screen import Screen

GUIDE = Path(__file__).resolve().parents[2] / "docs" / "guide"


def test_the_guide_is_searched_and_its_questions_open(page: Chrome, address: str) -> None:
    screen = Screen(page)
    page.get(f"{address}/guide")
    screen.find("guide-search").send_keys("as-of dat")
    found = screen.until(lambda: screen.find("guide-found").find_elements(By.TAG_NAME, "a"), "places are found")
    found[0].click()
    screen.until(lambda: "/guide/" in page.current_url, "the place is opened")
    page.get(f"{address}/guide/questions")
    link = screen.until(lambda: page.find_element(By.LINK_TEXT, "Year by year"), "the question is offered")
    link.click()
    screen.says("statement", "by year")
    screen.settled()


def test_every_question_of_the_guide_is_offered(address: str) -> None:
    texts = "".join(path.read_text() for path in GUIDE.glob("*.md"))
    named = {urllib.parse.unquote(each) for each in re.findall(r"\]\(question:([^)]+)\)", texts)}
    query = urllib.parse.urlencode({"name": LEDGER_NAME})
    offered = json.load(urllib.request.urlopen(f"{address}/api/ledger/statements?{query}", timeout=30))["offered"]
    assert len(named) > 10 and named <= {each["name"] for each in offered}


def test_help_is_about_what_has_the_focus(page: Chrome) -> None:
    screen = Screen(page)
    screen.settled()
    page.execute_script("document.querySelector('[data-test=\"part-base-0\"]').focus()")
    screen.keys("?")
    screen.says("help", "Fair comparisons")
    screen.says("keys", "Undo the last step")
    screen.keys(Keys.ESCAPE)
    screen.until(lambda: not screen.all("help"), "the help is closed")
    screen.click_cell("Lakes", "net_sales.1.difference")
    screen.find("line")
    page.execute_script("document.querySelector('[data-test=\"proof\"] button').focus()")
    screen.keys("?")
    screen.says("help", "Words of our own")
    screen.keys(Keys.ESCAPE)
    screen.until(lambda: not screen.all("help"), "the help is closed")
    assert screen.all("proof"), "what lies under it stays"


def test_the_scripts_of_the_guide_run(address: str) -> None:
    scripts = re.findall(r"```python\n(.*?)```", (GUIDE / "10-scripts.md").read_text(), re.DOTALL)
    assert len(scripts) == 2
    said = []
    for script in scripts:
        out = io.StringIO()
        with contextlib.redirect_stdout(out):
            exec(compile(script, "10-scripts.md", "exec"), {"ADDRESS": address})
        said.append(out.getvalue())
    assert re.search(r"^Lakes \d+\.\d\d$", said[0], re.MULTILINE) and "against the same dates last year" in said[0]
    assert LEDGER_NAME in said[1]
