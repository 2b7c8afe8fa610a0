"""The application as a person starts it, and a headless Chromium in front of it."""

from __future__ import annotations

import json
import os
import shutil
import signal
import socket
import subprocess
import sys
import time
import urllib.request
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

import pymysql
import pytest
from selenium import webdriver

from lofty_abacus.demo.scenario import LEDGER_NAME
from lofty_abacus.server.mariadb import DATABASE, USER
from tests.browser.screen import Screen

ROOT = Path(__file__).resolve().parents[2]
START_SECONDS = 120


@pytest.fixture(scope="session")
def home(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """Where the application keeps its state."""
    return tmp_path_factory.mktemp("home")


@pytest.fixture(scope="session")
def address(home: Path) -> Iterator[str]:
    """Where the application answers that the journeys share."""
    with running(home) as base:
        yield base


@contextmanager
def running(home: Path) -> Iterator[str]:
    """Start the application on a free port with a home of its own; Ctrl-C at the end must stop it cleanly."""
    assert (ROOT / "web" / "dist" / "index.html").is_file(), "the front end is not built: use ./lofty test"
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    log = (home / "log").open("w")
    temporary = home / "temporary"
    temporary.mkdir()
    environment = os.environ | {
        "LOFTY_HOME": str(home / "state"), "LOFTY_PORT": str(port), "PYTHONPATH": str(ROOT / "src"), "TMPDIR": str(temporary),
    }  # fmt: skip
    process = subprocess.Popen([sys.executable, "-m", "lofty_abacus", "start"], stdout=log, stderr=log, env=environment, cwd=ROOT)
    base = f"http://127.0.0.1:{port}"
    try:
        _wait(base, process, home / "log")
        yield base
    finally:
        process.send_signal(signal.SIGINT)
        assert process.wait(60) == 0
    said = (home / "log").read_text()
    assert "Stopped" in said and not (home / "state" / "mariadb" / "running.json").exists()
    assert not list(temporary.iterdir()), "nothing stays in the temporary folder"


@pytest.fixture(scope="session")
def lines(address: str, home: Path) -> Callable[[str], list[tuple[Any, ...]]]:
    """Ask the application's own MariaDB."""
    return asking(home)


def asking(home: Path) -> Callable[[str], list[tuple[Any, ...]]]:
    """Ask the MariaDB of an application that runs: {lines} stands for the demo ledger's lines, {ledger} for its number."""
    folder = home / "state" / "mariadb"
    port = json.loads((folder / "running.json").read_text())["port"]
    password = (folder / "password").read_text().strip()

    def ask(query: str) -> list[tuple[Any, ...]]:
        connection = pymysql.connect(host="127.0.0.1", port=port, user=USER, password=password, database=DATABASE)
        try:
            with connection.cursor() as cursor:
                cursor.execute("SELECT id FROM ledger WHERE name = %s", [LEDGER_NAME])
                found = cursor.fetchone()
                assert found is not None
                cursor.execute(query.replace("{lines}", f"ledger_{found[0]}_lines").replace("{ledger}", str(found[0])))
                return list(cursor.fetchall())
        finally:
            connection.close()

    return ask


def _wait(base: str, process: subprocess.Popen[bytes], log: Path) -> None:
    until = time.monotonic() + START_SECONDS
    while time.monotonic() < until:
        assert process.poll() is None, log.read_text()
        try:
            urllib.request.urlopen(f"{base}/api/health", timeout=2).close()
            return
        except OSError:
            time.sleep(0.1)
    raise AssertionError(log.read_text())


@pytest.fixture(scope="session")
def browser(address: str, tmp_path_factory: pytest.TempPathFactory) -> Iterator[webdriver.Chrome]:
    """One Chromium for all journeys: starting it takes longer than most of them."""
    options = webdriver.ChromeOptions()
    options.binary_location = shutil.which("chromium") or "/usr/bin/chromium"
    for word in (
        "--headless=new",
        "--no-sandbox",
        "--disable-gpu",
        "--disable-quic",
        "--disable-dev-shm-usage",
        "--no-first-run",
        "--disable-background-networking",
        "--disable-component-update",
        "--disable-sync",
        "--window-size=1280,900",
        f"--user-data-dir={tmp_path_factory.mktemp('profile')}",
    ):
        options.add_argument(word)
    options.set_capability("goog:loggingPrefs", {"browser": "ALL"})
    driver = webdriver.Chrome(
        options=options, service=webdriver.ChromeService(shutil.which("chromedriver") or "/usr/bin/chromedriver")
    )
    driver.set_script_timeout(60)
    yield driver
    driver.quit()


@pytest.fixture
def page(browser: webdriver.Chrome, address: str, tmp_path: Path) -> Iterator[webdriver.Chrome]:
    """The first page in a window of its own, as somebody sees it who was never here; nothing may have been complained of after."""
    browser.switch_to.new_window("tab")
    for handle in browser.window_handles[:-1]:
        browser.switch_to.window(handle)
        browser.close()
    browser.switch_to.window(browser.window_handles[0])
    browser.execute_cdp_cmd("Storage.clearDataForOrigin", {"origin": address, "storageTypes": "all"})
    downloads = {"behavior": "allow", "downloadPath": str(tmp_path / "downloads")}
    browser.execute_cdp_cmd("Browser.setDownloadBehavior", downloads)
    browser.get_log("browser")
    browser.get(address)
    yield browser
    complaints = [entry for entry in browser.get_log("browser") if entry["level"] == "SEVERE" and "422" not in entry["message"]]
    assert not complaints, complaints


@pytest.fixture
def screen(page: webdriver.Chrome) -> Screen:
    """The figures as the ledger opens with them, answered and checked."""
    found = Screen(page)
    found.settled()
    return found
