"""What a person does on the pages: find things by their test names, wait for conditions, never for time."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from selenium.common.exceptions import ElementClickInterceptedException, NoSuchElementException, StaleElementReferenceException
from selenium.webdriver import Chrome
from selenium.webdriver.common.by import By
from selenium.webdriver.remote.webelement import WebElement
from selenium.webdriver.support.ui import Select, WebDriverWait

SECONDS = 30


class Screen:
    """The pages in front of a person."""

    def __init__(self, driver: Chrome) -> None:
        self.driver = driver

    def until(self, condition: Callable[[], Any], what: str) -> Any:
        """Wait for a condition; elements that are replaced meanwhile are looked for again."""
        ignored = [NoSuchElementException, StaleElementReferenceException, ElementClickInterceptedException]
        return WebDriverWait(self.driver, SECONDS, ignored_exceptions=ignored).until(lambda _: condition(), what)

    def find(self, test: str, within: WebElement | None = None) -> WebElement:
        """The visible element of a test name."""

        def visible() -> WebElement | None:
            found = (within or self.driver).find_elements(By.CSS_SELECTOR, f'[data-test="{test}"]')
            return next((each for each in found if each.is_displayed()), None)

        return self.until(visible, f"{test} is shown")  # type: ignore[no-any-return]

    def all(self, test: str) -> list[WebElement]:
        """All elements of a test name, right now."""
        return self.driver.find_elements(By.CSS_SELECTOR, f'[data-test="{test}"]')

    def click(self, test: str) -> None:
        """Click an element as soon as it can be clicked."""

        def clicked() -> bool:
            self.find(test).click()
            return True

        self.until(clicked, f"{test} can be clicked")

    def cell(self, row: str, column: str) -> str:
        """The text of a cell."""
        return self.until(  # type: ignore[no-any-return]
            lambda: self.find(f"cell-{column}", self.find(f"row-{row}")).text, f"{row} {column} has a text"
        )

    def cell_becomes(self, row: str, column: str, text: str) -> None:
        """Wait until a cell shows a text."""
        self.until(lambda: self.cell(row, column) == text, f"{row} {column} shows {text}")

    def click_cell(self, row: str, column: str) -> None:
        """Select a cell."""

        def clicked() -> bool:
            self.find(f"cell-{column}", self.find(f"row-{row}")).click()
            return True

        self.until(clicked, f"{row} {column} can be clicked")

    def choose(self, test: str, value: str) -> None:
        """Choose in a drop-down list."""
        self.until(lambda: (Select(self.find(test)).select_by_value(value), True)[1], f"{test} can be {value}")

    def says(self, test: str, words: str) -> None:
        """Wait until an element's text holds words."""
        self.until(lambda: words in self.find(test).text, f"{test} says {words!r}")
