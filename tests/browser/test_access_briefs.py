"""Every page, dialog and popover of briefs, held against WCAG 2.2 A and AA by axe-core."""

from __future__ import annotations

import pytest
from selenium.webdriver import Chrome
from selenium.webdriver.common.keys import Keys

from tests.browser.axe import Stops, at_once
from tests.browser.briefs import Briefs
from tests.browser.screen import Screen

__all__ = ["at_once"]


@pytest.mark.timeout(900)
def test_no_page_of_briefs_has_a_violation(at_once: Chrome, address: str) -> None:
    page, screen = at_once, Screen(at_once)
    stops = Stops(page)
    then = stops.then
    brief = Briefs(screen)
    then("a draft", lambda: brief.open(address), lambda: brief.pick("scorecard"), lambda: screen.find("block-form"))
    then("a block to add", lambda: screen.click("add-block"), lambda: screen.find("put-down"))
    screen.keys(Keys.ESCAPE)
    then(
        "a statement in place",
        lambda: screen.click("edit-statement"),
        lambda: screen.find("take-statement"),
        lambda: screen.find("print-row"),
    )
    screen.keys(Keys.ESCAPE)
    then("the whole brief", lambda: brief.open(address), lambda: screen.to_tab("Page"), lambda: screen.find("brief-title"))
    then("handing out", lambda: screen.to_tab("Hand out"), lambda: screen.find("handing"))
    then("publishing", lambda: screen.click("publish"), lambda: screen.find("publish-now"))
    then("an issue", lambda: brief.open(address, "ledger=1&brief=1&issue=1"), lambda: brief.prove("headline"))
    then("its mails", lambda: screen.click("issue-mails"), lambda: screen.find("hand-out"))
    screen.keys(Keys.ESCAPE)
    then("then and now", lambda: screen.click("then-and-now"), lambda: screen.find("restated-table"))
    screen.keys(Keys.ESCAPE)
    then("alerts", lambda: screen.click("open-alerts"), lambda: screen.click("new-alert"), lambda: screen.find("alert-name"))
    then("for readers", lambda: page.get(f"{address}/read/1"), brief.shown)
    # The rendering is a document of its own: what is shown within our pages is looked at by itself.
    then("a rendering", lambda: page.get(f"{address}/api/issues/1/page.html"))
    told = stops.told()
    assert not told, "\n".join(told)
