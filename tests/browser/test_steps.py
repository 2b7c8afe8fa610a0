"""How many steps a question takes from a ledger's first page: each click, filled field and typed phrase is counted."""

from __future__ import annotations

import json
import urllib.parse
import urllib.request

from selenium.webdriver import ActionChains, Chrome
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webelement import WebElement

from lofty_abacus.demo.scenario import LEDGER_NAME
from tests.browser.screen import Screen

MOST_CLICKS = 8
MOST_PHRASES = 3
COUNT_CLICKS = """
window.clicks = 0;
window.addEventListener("click", (event) => event.isTrusted && (window.clicks += 1), true);
"""


def offered(address: str) -> list[tuple[str, str]]:
    """The questions that are ready, each with the folder under which it stands."""
    query = urllib.parse.urlencode({"name": LEDGER_NAME})
    found = json.load(urllib.request.urlopen(f"{address}/api/ledger/statements?{query}", timeout=30))["offered"]
    return [(each["name"], each["folder"]) for each in found]


def test_every_question_is_few_clicks_away(screen: Screen, page: Chrome, address: str) -> None:
    first, steps = page.current_url, {}
    for name, folder in offered(address):
        page.get(first)
        screen.settled()
        page.execute_script(COUNT_CLICKS)
        screen.click("part-statements")

        def tab_of(folder: str = folder) -> WebElement | None:
            tabs = page.find_elements(By.CSS_SELECTOR, "[role=tab]")
            return next((each for each in tabs if each.is_displayed() and each.text == folder), None)

        tab = screen.until(tab_of, f"{folder} is there")
        if tab.get_attribute("aria-selected") != "true":
            screen.to_tab(folder)
        screen.says(f"open-{name}", "day")
        screen.click(f"open-{name}")
        screen.says("part-statements", name)
        screen.settled()
        steps[name] = page.execute_script("return window.clicks")
    assert len(steps) >= 20 and max(steps.values()) <= MOST_CLICKS, steps


def test_every_question_is_typed_in_one_phrase(screen: Screen, page: Chrome, address: str) -> None:
    first, phrases = page.current_url, {}
    for name, _ in offered(address):
        page.get(first)
        screen.settled()
        ActionChains(page).key_down(Keys.CONTROL).send_keys("k").key_up(Keys.CONTROL).perform()
        screen.find("palette-text").send_keys(f"open {name}")
        words = f"open {name}"
        screen.until(
            lambda words=words: [each.text for each in screen.all("palette-item")[:1] if each.text.startswith(words)],
            f"{words} comes first",
        )
        screen.find("palette-text").send_keys(Keys.ENTER)
        screen.says("part-statements", name)
        phrases[name] = 1
    assert len(phrases) >= 20 and max(phrases.values()) <= MOST_PHRASES


def test_a_question_is_found_by_everyday_words(screen: Screen, page: Chrome) -> None:
    for typed, wanted in (
        ("average", "Months with their mean of three"),
        ("churn", "New and lost by customer"),
        ("mom", "Month over month"),
    ):
        ActionChains(page).key_down(Keys.CONTROL).send_keys("k").key_up(Keys.CONTROL).perform()
        screen.find("palette-text").send_keys(typed)
        screen.until(
            lambda wanted=wanted: any(each.text.startswith(f"open {wanted}") for each in screen.all("palette-item")),
            f"{wanted} is found",
        )
        screen.keys(Keys.ESCAPE)
        screen.until(lambda: not screen.all("palette-text"), "the palette is closed")
