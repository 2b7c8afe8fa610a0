"""Addresses: of ledgers that are not there, short ones, and of ledgers that are deleted."""

from __future__ import annotations

import json
import urllib.request
from typing import Any

from selenium.webdriver import Chrome

from tests.browser.screen import Screen


def call(address: str, path: str, body: dict[str, Any]) -> Any:
    headers = {"Content-Type": "application/json"}
    with urllib.request.urlopen(urllib.request.Request(address + path, json.dumps(body).encode(), headers), timeout=30) as answer:
        return json.load(answer)


def test_a_ledger_that_is_not_there_is_said_and_what_is_near_is_offered(screen: Screen, address: str) -> None:
    made = call(address, "/api/ledgers", {"name": "Northern shop"})
    screen.driver.get(f"{address}/figures?ledger=Northen shop")
    screen.says("trouble", "There is no ledger “Northen shop”.")
    screen.click("near-Northern shop")
    screen.until(lambda: f"ledger={made['id']}" in screen.driver.current_url, "the ledger is called by its number")
    screen.until(lambda: not screen.all("trouble"), "the trouble is gone")
    screen.says("ledger", "Northern shop")


def test_a_short_link_leads_to_what_was_shown(screen: Screen, page: Chrome, address: str) -> None:
    permissions = {"origin": address, "permissions": ["clipboardReadWrite", "clipboardSanitizedWrite"]}
    page.execute_cdp_cmd("Browser.grantPermissions", permissions)
    screen.type("not by rep", "by product")
    screen.settled()
    whole, rows = page.current_url, screen.rows()
    screen.keys("i")
    screen.says("part-save", "Copied")
    short = page.execute_async_script("navigator.clipboard.readText().then(arguments[0])")
    assert short.startswith(f"{address}/l/") and len(short) < 60 < len(whole)
    page.get(short)
    screen.settled()
    assert page.current_url == whole and screen.rows() == rows


def test_a_ledger_is_archived_taken_back_and_deleted_by_its_name(screen: Screen, address: str) -> None:
    made = call(address, "/api/ledgers", {"name": "Short-lived"})
    screen.driver.get(f"{address}/intake?ledger={made['id']}")
    screen.says("ledger", "Short-lived")
    screen.click("ledger-chip")
    screen.click("open-settings")
    screen.click("archive")
    screen.says("archive", "Take it out of the archive")
    screen.click("archive")
    screen.says("archive", "Archive this ledger")
    screen.click("delete-ledger")
    screen.says("what-is-lost", "0 lines, 0 posted files")
    assert not screen.find("delete-for-good").is_enabled()
    screen.find("typed-name").send_keys("Short-lived")
    screen.click("delete-for-good")
    screen.until(lambda: "Short-lived" not in screen.find("ledger").text, "another ledger is open")
    names = json.load(urllib.request.urlopen(f"{address}/api/ledgers", timeout=30))
    assert "Short-lived" not in [each["name"] for each in names]
