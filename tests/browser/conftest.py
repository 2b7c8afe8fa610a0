"""The application as a person starts it, and a headless Chromium in front of it."""

from __future__ import annotations

import os
import shutil
import signal
import socket
import subprocess
import sys
import time
import urllib.request
from collections.abc import Iterator
from pathlib import Path

import pytest
from selenium import webdriver

ROOT = Path(__file__).resolve().parents[2]
START_SECONDS = 120


@pytest.fixture(scope="session")
def address(tmp_path_factory: pytest.TempPathFactory) -> Iterator[str]:
    """Start the application on a free port with a home of its own; Ctrl-C at the end must stop it cleanly."""
    assert (ROOT / "web" / "dist" / "index.html").is_file(), "the front end is not built: use ./lofty test"
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    home = tmp_path_factory.mktemp("home")
    log = (home / "log").open("w")
    environment = os.environ | {"LOFTY_HOME": str(home / "state"), "LOFTY_PORT": str(port), "PYTHONPATH": str(ROOT / "src")}
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


@pytest.fixture
def page(address: str, tmp_path: Path) -> Iterator[webdriver.Chrome]:
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
        f"--user-data-dir={tmp_path / 'profile'}",
    ):
        options.add_argument(word)
    options.set_capability("goog:loggingPrefs", {"browser": "ALL"})
    options.add_experimental_option("prefs", {"download.default_directory": str(tmp_path / "downloads")})
    driver = webdriver.Chrome(
        options=options, service=webdriver.ChromeService(shutil.which("chromedriver") or "/usr/bin/chromedriver")
    )
    driver.get(address)
    yield driver
    complaints = [entry for entry in driver.get_log("browser") if entry["level"] == "SEVERE" and "422" not in entry["message"]]
    driver.quit()
    assert not complaints, complaints
