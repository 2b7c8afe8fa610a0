"""What axe-core finds on a page, held against WCAG 2.2 A and AA, in both themes on screens of three sizes."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import pytest
from selenium.webdriver import Chrome

AXE = Path(__file__).resolve().parents[2] / "web" / "node_modules" / "axe-core" / "axe.min.js"
#: Nothing fades or slides on a page that has this: what is looked at is there at once.
_AT_ONCE = """
addEventListener("DOMContentLoaded", () => {
  const style = document.createElement("style");
  style.textContent = "*, *::before, *::after { transition: none !important; animation: none !important; }";
  document.head.append(style);
});
"""
SCREENS = ((1024, 768), (1280, 800), (1920, 1080))
USUAL = 1280
_RUN = """
const [onlyColours, onlyOpened, done] = arguments;
const shown = (each) => each.getClientRects().length && getComputedStyle(each).visibility !== "hidden";
const opened = onlyOpened ? [...document.querySelectorAll(".el-popover, [role=dialog]")].filter(shown) : [];
const tags = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22a", "wcag22aa"];
const which = onlyColours ? ["color-contrast"] : {type: "tag", values: tags};
axe.run(opened.length ? {include: opened} : document, {runOnly: which}).then(
  (found) => done(found.violations.map((each) => [each.id, each.help, each.nodes.map((node) => node.html.slice(0, 160))])),
  (error) => done([["error", String(error), []]]),
);
"""


_STILL = """
const done = arguments[arguments.length - 1];
const whole = (each) => each.style.display === "none" || getComputedStyle(each).opacity === "1";
const look = () => {
  const moving = document.getAnimations().some((each) => each.playState === "running");
  const still = !moving && [...document.querySelectorAll(".el-popover")].every(whole);
  if (still) done();
  else requestAnimationFrame(look);
};
requestAnimationFrame(() => requestAnimationFrame(look));
"""


def violations(page: Chrome, only_colours: bool = False, only_opened: bool = False) -> list[Any]:
    """What axe-core finds, once nothing moves or fades any more; or only what it says of colours, or of what is open over a page."""
    page.execute_async_script(_STILL)
    page.execute_script(f"if (!window.axe) {{ {AXE.read_text()} }}")
    found: list[Any] = page.execute_async_script(_RUN, only_colours, only_opened)
    return found


def seen_by_all(page: Chrome, first: bool) -> dict[str, list[Any]]:
    """What axe-core finds in the light and the dark, on a small, a usual and a large screen.

    first: whether this is the first look at an address. Afterwards all of it is looked at once, and otherwise what is open over it.
    """
    found: dict[str, list[Any]] = {}
    for theme in ("dark", "light"):
        page.execute_script("document.documentElement.classList.toggle('dark', arguments[0])", theme == "dark")
        for width, height in SCREENS:
            screen = {"width": width, "height": height, "deviceScaleFactor": 1, "mobile": False}
            page.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", screen)
            # The dark has other colours, and nothing else.
            for each in violations(page, theme == "dark", not first and (theme, width) != ("light", USUAL)):
                found.setdefault(f"{theme} {width}", []).append(each)
    page.execute_cdp_cmd("Emulation.clearDeviceMetricsOverride", {})
    return found


@pytest.fixture
def at_once(page: Chrome) -> Iterator[Chrome]:
    """The first page, and all after it, without anything that moves."""
    made = page.execute_cdp_cmd("Page.addScriptToEvaluateOnNewDocument", {"source": _AT_ONCE})
    page.refresh()
    yield page
    page.execute_cdp_cmd("Page.removeScriptToEvaluateOnNewDocument", made)


class Stops:
    """The places that are looked at, and what was found at each."""

    def __init__(self, page: Chrome) -> None:
        self.page = page
        self.found: dict[str, dict[str, list[Any]]] = {}
        self._addresses: set[str] = set()

    def then(self, name: str, *steps: Callable[[], object]) -> None:
        """Go on to a place, and look at it in every way."""
        for step in steps:
            step()
        address = self.page.current_url
        self.found[name] = seen_by_all(self.page, address not in self._addresses)
        self._addresses.add(address)

    def told(self) -> list[str]:
        """What was found, a line each. What a frame refuses is nobody's but ours."""
        # What keeps a page still is a script of these tests: in the frame of a rendering, where no script runs, it is refused.
        refused = [each["message"] for each in self.page.get_log("browser") if each["level"] == "SEVERE"]
        assert all("Blocked script execution in" in each and "sandboxed" in each for each in refused), refused
        return [
            f"{name}, {screens}: {rule} at {nodes[0]}"
            for name, each in self.found.items()
            for screens, rules in each.items()
            for rule, _, nodes in rules
        ]
