"""What a person does on the pages of briefs; the page of a brief is a document of its own within ours."""

from __future__ import annotations

from tests.browser.screen import Screen

_READY = """
const page = document.querySelector('[data-test="brief-sheet"]')?.contentDocument;
return !!page?.querySelector('[data-proof][tabindex="0"]') && page.readyState === "complete";
"""

_SAID = """
const frame = document.querySelector('[data-test="brief-sheet"]');
return frame?.contentDocument?.body?.innerText ?? "";
"""

_PRESS = """
const page = document.querySelector('[data-test="brief-sheet"]')?.contentDocument;
const there = page?.querySelectorAll(arguments[0])[arguments[1]];
there?.click();
return !!there;
"""


class Briefs:
    """The pages of briefs in front of a person."""

    def __init__(self, screen: Screen) -> None:
        self.screen, self.page = screen, screen.driver

    def open(self, address: str, query: str = "ledger=1") -> None:
        """The draft of the first brief."""
        self.page.get(f"{address}/briefs?{query}")
        self.shown()

    def shown(self) -> None:
        """Wait until the page of the brief is there, with its figures ready to be proved."""
        self.screen.until(lambda: self.page.execute_script(_READY), "the page of the brief is there")

    def text(self) -> str:
        """All that the page of the brief says."""
        self.shown()
        return str(self.page.execute_script(_SAID))

    def says(self, words: str) -> None:
        """Wait until the page of the brief says something."""

        def said() -> bool:
            return words in str(self.page.execute_script(_SAID))

        self.screen.until(said, f"the brief says {words!r}")

    def pick(self, kind: str, at: int = 0) -> None:
        """Choose a block on the page, the at-th of a kind. The frame is shown smaller than it is: it is pressed by script."""
        self._press(f"section.{kind}", at)

    def prove(self, kind: str, at: int = 0) -> None:
        """Ask for the proof of a block's first figure."""
        self._press(f"section.{kind} [data-proof]", at)
        self.screen.find("brief-proof")

    def _press(self, what: str, at: int) -> None:
        self.shown()
        # A draft may be taken away for an issue just now.
        self.screen.until(lambda: self.page.execute_script(_PRESS, what, at), f"{what} is pressed")
