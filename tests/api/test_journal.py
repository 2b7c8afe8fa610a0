"""The log tells each request: who asked what of which ledger, how long it took, and every unexpected error with its trace."""

from __future__ import annotations

import json
import logging
import re
import sys
from collections.abc import Iterator
from io import StringIO
from pathlib import Path
from typing import Any
from urllib.parse import quote

import pytest
from fastapi.testclient import TestClient

from lofty_abacus.actions.ports import Office
from lofty_abacus.api.app import make_app
from lofty_abacus.api.routes import figures
from lofty_abacus.logs import log_to_files, log_to_terminal


@pytest.fixture
def kept(tmp_path: Path) -> Iterator[Path]:
    """A log of its own in a folder, whatever handlers there are beside it."""
    root = logging.getLogger()
    before, level = list(root.handlers), logging.getLogger("lofty_abacus").level
    log_to_files(tmp_path)
    yield tmp_path / "lofty.log"
    root.handlers[:] = before
    logging.getLogger("lofty_abacus").setLevel(level)


@pytest.fixture
def client(office: Office) -> TestClient:
    return TestClient(make_app(office, None), base_url="http://127.0.0.1", raise_server_exceptions=False)


def told(path: Path) -> list[dict[str, Any]]:
    return [json.loads(line) for line in path.read_text().splitlines()]


QUESTION = {"statement": {"measures": [{"measure": "net_sales"}]}}


def test_a_request_is_told_with_its_number_person_ledger_and_time(kept: Path, client: TestClient, ledger: str) -> None:
    answer = client.post("/api/answers", json=QUESTION | {"ledger": ledger}, headers={"Lofty-Person": quote("Ömer “X”")})
    asked = client.get("/api/ledger", params={"name": "no such ledger"})
    first, second = (each for each in told(kept) if each["event"] == "request")
    assert first["request"] == answer.headers["Lofty-Request"] and re.fullmatch(r"[0-9a-f]{8}", first["request"])
    assert (first["person"], first["ledger"], first["method"], first["path"]) == ("Ömer “X”", ledger, "POST", "/api/answers")
    assert first["status"] == answer.status_code and 0 < first["milliseconds"] < 60_000
    assert first["level"] == "info" and first["timestamp"].endswith("Z")
    assert (second["ledger"], second["status"], second["request"]) == ("no such ledger", 404, asked.headers["Lofty-Request"])
    assert "person" not in second


def test_an_unexpected_error_is_there_whole_under_the_number_that_is_told(
    kept: Path, client: TestClient, ledger: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    def broken(*_: object) -> None:
        raise ZeroDivisionError("the secret of it")

    monkeypatch.setattr(figures, "told_answer", broken)
    answer = client.post("/api/answers", json=QUESTION | {"ledger": ledger})
    assert answer.status_code == 500 and "secret" not in answer.text
    (number,) = re.findall(r"in the log under ([0-9a-f]+)", answer.json()["message"])
    [error] = [each for each in told(kept) if each["level"] == "error" and each.get("number") == number]
    assert "ZeroDivisionError: the secret of it" in error["exception"] and "Traceback" in error["exception"]
    [request] = [each for each in told(kept) if each["event"] == "request"]
    assert (error["ledger"], error["request"]) == (ledger, request["request"])
    assert request["status"] == 500


def test_the_terminal_is_told_in_a_line(monkeypatch: pytest.MonkeyPatch) -> None:
    said = StringIO()
    root = logging.getLogger()
    before = list(root.handlers)
    monkeypatch.setattr(sys, "stderr", said)
    log_to_terminal()
    try:
        logger = logging.getLogger("lofty_abacus.somewhere")
        try:
            raise ValueError("many\nlines")
        except ValueError:
            logger.exception("it went wrong (number 12ab)")
        logger.info("not for the terminal")
    finally:
        root.handlers[:] = before
    assert said.getvalue() == "ERROR it went wrong (number 12ab) (ValueError)\n"


def test_work_in_the_background_is_told_under_the_request_that_began_it(kept: Path, client: TestClient, ledger: str) -> None:
    sent = client.post(
        "/api/stagings", data={"ledger": ledger}, files={"files": ("a.csv", b"date,amount\n2026-03-01,5\n", "text/csv")}
    )
    assert sent.status_code < 300, sent.text
    [request] = [each for each in told(kept) if each.get("path") == "/api/stagings"]
    assert request["request"] == sent.headers["Lofty-Request"]


def test_no_request_knows_of_another(kept: Path, client: TestClient, ledger: str) -> None:
    client.post("/api/answers", json=QUESTION | {"ledger": ledger})
    client.get("/api/ledgers")
    last = told(kept)[-1]
    assert last["path"] == "/api/ledgers" and "ledger" not in last
