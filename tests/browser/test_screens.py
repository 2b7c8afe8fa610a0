"""The page on other screens: small, large and touched; with one ledger and with twenty; as large as its reader wants it."""

from __future__ import annotations

from collections.abc import Iterator

import pytest
from selenium.webdriver import Chrome
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from lofty_abacus.demo.scenario import LEDGER_NAME
from tests.browser.screen import Screen
from tests.browser.test_addresses import call

WIDTHS = (1024, 1280, 1920)


@pytest.fixture
def sized(page: Chrome) -> Iterator[Chrome]:
    yield page
    page.execute_cdp_cmd("Emulation.clearDeviceMetricsOverride", {})


def wide(page: Chrome, width: int, mobile: bool = False) -> None:
    size = {"width": width, "height": 800, "deviceScaleFactor": 1, "mobile": mobile}
    page.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", size)


@pytest.fixture
def twenty(address: str) -> Iterator[list[str]]:
    """Twenty ledgers more; they are gone afterwards."""
    names = [f"A ledger with a rather long name, the one numbered {at}" for at in range(20)]
    for name in names:
        call(address, "/api/ledgers", {"name": name})
    yield names
    for name in names:
        call(address, "/api/ledger/deletion", {"ledger": name, "typed": name})


def test_nothing_wraps_with_one_ledger_or_with_twenty(screen: Screen, sized: Chrome, twenty: list[str]) -> None:
    for _ in range(2):
        for width in WIDTHS:
            wide(sized, width)
            row, bar, page = sized.execute_script(
                "return [document.querySelector('.tools').offsetHeight, document.querySelector('header').offsetHeight,"
                " document.documentElement.scrollWidth]"
            )
            assert (row, bar, page) == (42, 44, width)
        # The same on a ledger whose name has little room.
        sized.get(f"{sized.current_url.split('/figures')[0]}/figures?ledger={LEDGER_NAME.replace('&', '%26')}")
        screen.settled()
    screen.click("ledger-chip")
    screen.fill("find-ledger", "numbered 17")
    links = "nav[aria-label='Ledgers'] a"
    screen.until(
        lambda: (
            [each.text.split("\n")[0] for each in sized.find_elements(By.CSS_SELECTOR, links) if each.is_displayed()]
            == [twenty[17]]
        ),
        "one ledger is called so",
    )


def test_everything_grows_with_what_the_reader_wants(screen: Screen, page: Chrome) -> None:
    of = "each => parseFloat(getComputedStyle(document.querySelector(each)).fontSize)"
    sizes = f"return ['.sentence', '.figures-table td', '.tools .el-button'].map({of})"
    usual = page.execute_script(sizes)
    screen.click("reader")

    def chosen() -> bool:
        items = page.find_elements(By.CSS_SELECTOR, ".el-segmented__item")
        found = next((each for each in items if each.is_displayed() and each.text == "Largest"), None)
        if found is None:
            return False
        found.click()
        return True

    screen.until(chosen, "the largest size is chosen")
    screen.until(
        lambda: page.execute_script(sizes) == pytest.approx([1.3 * each for each in usual], rel=0.01), "all of it is larger"
    )
    rows = page.find_elements(By.CSS_SELECTOR, "tbody tr[data-test]")
    assert rows[0].size["height"] >= 1.3 * 28 - 1
    page.refresh()
    screen.settled()
    assert page.execute_script(sizes)[0] == pytest.approx(1.3 * usual[0], rel=0.01), "it is remembered"


def test_a_part_and_a_proof_are_opened_by_touch(screen: Screen, sized: Chrome) -> None:
    wide(sized, 1024, mobile=True)
    sized.execute_cdp_cmd("Emulation.setTouchEmulationEnabled", {"enabled": True})
    try:

        def tap(selector: str) -> None:
            box = sized.execute_script(
                "const box = document.querySelector(arguments[0]).getBoundingClientRect(); return [box.x + box.width / 2, box.y + box.height / 2]",
                selector,
            )
            points = [{"x": box[0], "y": box[1]}]
            sized.execute_cdp_cmd("Input.dispatchTouchEvent", {"type": "touchStart", "touchPoints": points})
            sized.execute_cdp_cmd("Input.dispatchTouchEvent", {"type": "touchEnd", "touchPoints": []})

        tap('[data-test="part-window"]')
        screen.find("choice-quarter")
        tap('[data-test="choice-quarter"]')
        screen.says("part-window", "quarter to date")
        screen.settled()
        tap('[data-test="row-Lakes"] [data-test="cell-net_sales.1.difference"]')
        screen.says("proof", "Lakes")
        screen.find("line")
    finally:
        sized.execute_cdp_cmd("Emulation.setTouchEmulationEnabled", {"enabled": False})
    screen.keys(Keys.ESCAPE)


def test_a_ledger_is_made_from_the_figures_and_is_the_one_that_is_open(screen: Screen, page: Chrome, address: str) -> None:
    for at in range(3):
        page.get(address)
        screen.settled()
        screen.make_ledger(f"Made from the figures {at}")
        screen.until(lambda: "/intake" in page.current_url, "its files come next")
        screen.find("files")
        assert f"Made from the figures {at}" in screen.find("ledger").text
    for at in range(3):
        name = f"Made from the figures {at}"
        call(address, "/api/ledger/deletion", {"ledger": name, "typed": name})
    page.get(address)
    screen.settled()
