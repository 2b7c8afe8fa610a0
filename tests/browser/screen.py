"""What a person does on the pages: find things by their test names, wait for conditions, never for time."""

from __future__ import annotations

from collections.abc import Callable
from fractions import Fraction
from pathlib import Path
from typing import Any

from selenium.common.exceptions import ElementClickInterceptedException, NoSuchElementException, StaleElementReferenceException
from selenium.webdriver import ActionChains, Chrome
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webelement import WebElement
from selenium.webdriver.support.ui import WebDriverWait

SECONDS = 60
#: Between looks for a condition.
POLL_SECONDS = 0.05
#: Tells, after two frames, whether an element is where it was: what opens is placed a frame later, and late answers move what lies below.
STANDS_STILL = """
const [element, done] = arguments;
const at = () => { const box = element.getBoundingClientRect(); return [box.x, box.y, box.width, box.height].join(); };
const before = at();
requestAnimationFrame(() => requestAnimationFrame(() => done(element.isConnected && at() === before)));
"""


class Screen:
    """The pages in front of a person."""

    def __init__(self, driver: Chrome) -> None:
        self.driver = driver

    def until(self, condition: Callable[[], Any], what: str) -> Any:
        """Wait for a condition; elements that are replaced meanwhile are looked for again."""
        ignored = [NoSuchElementException, StaleElementReferenceException, ElementClickInterceptedException]
        return WebDriverWait(self.driver, SECONDS, POLL_SECONDS, ignored).until(lambda _: condition(), what)

    def find(self, test: str, within: WebElement | None = None) -> WebElement:
        """The visible element of a test name."""

        def visible() -> WebElement | None:
            self.open_tab_of(test)
            found = (within or self.driver).find_elements(By.CSS_SELECTOR, f'[data-test="{test}"]')
            return next((each for each in found if each.is_displayed()), None)

        return self.until(visible, f"{test} is shown")  # type: ignore[no-any-return]

    def all(self, test: str) -> list[WebElement]:
        """All elements of a test name, right now."""
        return self.driver.find_elements(By.CSS_SELECTOR, f'[data-test="{test}"]')

    def find_all_shown(self, test: str) -> list[WebElement]:
        """The elements of a test name that are visible right now."""
        return [each for each in self.all(test) if each.is_displayed()]

    def to_tab(self, name: str) -> None:
        """Open a tab by the words on it."""

        def opened() -> bool:
            tabs = self.driver.find_elements(By.CSS_SELECTOR, '[role="tab"]')
            tab = next((each for each in tabs if each.is_displayed() and each.text == name), None)
            if tab is None:
                return False
            tab.click()
            return tab.get_attribute("aria-selected") == "true"

        self.until(opened, f"the tab {name} is open")

    def open_tab_of(self, test: str) -> None:
        """Open the tab in which something stands, as a person does who looks for it."""
        found = self.all(test)
        for each in found if not any(one.is_displayed() for one in found) else []:
            panes = each.find_elements(By.XPATH, "./ancestor::*[@role='tabpanel']")
            closed = [pane for pane in panes if pane.get_attribute("aria-hidden") == "true"]
            if closed and panes[0].find_element(By.XPATH, "..").is_displayed():
                self.driver.find_element(By.ID, closed[-1].get_attribute("aria-labelledby") or "").click()
                return

    def click(self, test: str, within: WebElement | None = None) -> None:
        """Click an element as soon as it stands still; what lies under a strip that stays in view is scrolled to, as a person would.

        What adds to the sentence is chosen from the list of what can be added.
        """
        if test.startswith("part-add-"):
            self.click("part-add")
            test = f"adds-{test.removeprefix('part-add-')}"

        def clicked() -> bool:
            found = self.find(test, within)
            if not self.driver.execute_async_script(STANDS_STILL, found):
                return False
            try:
                found.click()
            except ElementClickInterceptedException:
                self.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", found)
                return False
            return True

        self.until(clicked, f"{test} can be clicked")

    def still(self, test: str) -> WebElement | None:
        """The element of a test name, once it stands where it stays."""
        found = self.find(test)
        return found if self.driver.execute_async_script(STANDS_STILL, found) else None

    def cell(self, row: str, column: str) -> str:
        """The text of a cell, without the mark that its windows have."""
        return self.until(  # type: ignore[no-any-return]
            lambda: self.find(f"cell-{column}", self.find(f"row-{row}")).text.replace("!", ""), f"{row} {column} has a text"
        )

    def marked(self, row: str, column: str) -> bool:
        """Whether a cell has the mark that something is to be said of its windows."""
        return bool(self.find(f"cell-{column}", self.find(f"row-{row}")).find_elements(By.CSS_SELECTOR, "[data-test='mark']"))

    def cell_becomes(self, row: str, column: str, text: str) -> None:
        """Wait until a cell shows a text."""
        self.until(lambda: self.cell(row, column) == text, f"{row} {column} shows {text}")

    def click_cell(self, row: str, column: str) -> None:
        """Select a cell."""

        def clicked() -> bool:
            cell = self.find(f"cell-{column}", self.find(f"row-{row}"))
            try:
                cell.click()
            except ElementClickInterceptedException:
                self.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", cell)
                return False
            return True

        self.until(clicked, f"{row} {column} can be clicked")

    def choose(self, test: str, value: str) -> None:
        """Choose in a list that is opened by a click."""

        def chosen() -> bool:
            field = self.find(test).find_element(By.CSS_SELECTOR, "input")
            if field.get_attribute("aria-expanded") != "true":
                self.click(test)
            offered = self.driver.find_element(By.ID, field.get_attribute("aria-controls") or "")
            option = offered.find_element(By.CSS_SELECTOR, f'[data-value="{value}"]')
            if not option.is_displayed() or not self.driver.execute_async_script(STANDS_STILL, option):
                return False
            option.click()
            return True

        self.until(chosen, f"{test} can be {value}")

    def chosen(self, test: str, within: WebElement | None = None) -> str | None:
        """The value of what is chosen in a list."""
        field = self.find(test, within).find_element(By.CSS_SELECTOR, "input")
        offered = self.driver.find_element(By.ID, field.get_attribute("aria-controls") or "")
        found = offered.find_elements(By.CSS_SELECTOR, ".is-selected")
        return found[0].get_attribute("data-value") if found else None

    def fill(self, test: str, text: str) -> None:
        """Write a text in place of what a field holds, again if the field was made anew meanwhile."""

        def filled() -> bool:
            field = self._field(test)
            field.send_keys(Keys.CONTROL, "a")
            field.send_keys(Keys.BACKSPACE, text)
            return self._field(test).get_attribute("value") == text

        self.until(filled, f"{test} holds {text!r}")

    def _field(self, test: str) -> WebElement:
        """The field of a test name, or the one in it."""
        found = self.find(test)
        return found if found.tag_name in ("input", "textarea") else found.find_element(By.TAG_NAME, "input")

    def make_ledger(self, name: str) -> None:
        """Make a ledger from the list of ledgers; its intake is what follows."""
        self.click("ledger-chip")
        self.click("new-ledger")
        self.fill("new-ledger-name", name)
        self.click("make-ledger")
        self.says("ledger", name)

    def take_day(self, test: str, day: str) -> None:
        """Type a day as it is written: 17 Oct 2026."""
        field = self.find(test).find_element(By.TAG_NAME, "input")
        field.click()
        field.send_keys(Keys.CONTROL, "a")
        field.send_keys(day, Keys.ENTER)
        self.until(lambda: field.get_attribute("value") == day, f"{test} holds {day}")

    def says(self, test: str, words: str) -> None:
        """Wait until an element's text holds words."""
        self.until(lambda: words in self.find(test).text, f"{test} says {words!r}")

    def keys(self, *keys: str) -> None:
        """Press keys where the focus is."""
        ActionChains(self.driver).send_keys(*keys).perform()

    def type(self, *phrases: str) -> None:
        """Change the statement from the keyboard: each phrase is typed into the palette, and the first that fits is taken."""
        ActionChains(self.driver).key_down(Keys.CONTROL).send_keys("k").key_up(Keys.CONTROL).perform()
        for phrase in phrases:
            box = self.find("palette-text")
            self.until(lambda box=box: box.get_attribute("value") == "", "the palette is empty")
            box.send_keys(phrase)
            self.until(
                lambda phrase=phrase: any(
                    item.text.split("\n")[0].lower().startswith(phrase.lower()) for item in self.all("palette-item")[:1]
                ),
                f"{phrase!r} is offered",
            )
            box.send_keys(Keys.ENTER)
        self.find("palette-text").send_keys(Keys.ESCAPE)
        self.until(lambda: not self.all("palette"), "the palette is closed")

    def rows(self) -> list[str]:
        """The rows that are drawn, by their paths, the total among them."""
        found = self.driver.find_elements(By.CSS_SELECTOR, '[data-test="table"] tr[data-test]')
        return [str(row.get_attribute("data-test")).removeprefix("row-") for row in found]

    def saved(self, folder: Path, name: str) -> Path:
        """A file that was saved by the browser, by the end of its name, once it is whole."""

        def whole() -> Path | None:
            found = [path for path in (folder / "downloads").glob(f"*{name}") if path.stat().st_size > 0]
            return max(found, key=lambda path: path.stat().st_mtime_ns, default=None)

        return self.until(whole, f"a file ...{name} is saved")  # type: ignore[no-any-return]

    def exact(self, row: str, column: str) -> Fraction:
        """A cell's exact value, as its tooltip tells it."""

        def title() -> str | None:
            return self.find(f"cell-{column}", self.find(f"row-{row}")).get_attribute("title")

        text = self.until(title, f"{row} {column} has a value").replace("−", "-").replace(",", "").split("\n")[0]
        if "=" in text:
            top, _, bottom = text.partition("=")[2].partition("÷")
            times, _, number = top.rpartition("×")
            return Fraction(times.strip() or "1") * Fraction(number.strip()) / Fraction(bottom.strip())
        return Fraction(text.split()[0])

    def settled(self) -> None:
        """Wait until the figures on screen answer the statement on screen and are checked."""
        self.until(
            lambda: (
                "grees" in self.find("notice").text and not self.driver.find_elements(By.CSS_SELECTOR, '.work[aria-busy="true"]')
            ),
            "the figures are there",
        )
