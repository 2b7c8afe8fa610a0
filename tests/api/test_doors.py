"""What stands before every request, and questions that ask for too much."""

from __future__ import annotations

import json
import logging
import threading
import time
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import httpx
import pytest
import uvicorn
from fastapi.testclient import TestClient

from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import Posting
from lofty_abacus.api.app import make_app
from lofty_abacus.api.asking import Questions
from lofty_abacus.api.doors import MOST_ADDRESS, MOST_BODY, MOST_UPLOAD
from lofty_abacus.api.routes import figures
from lofty_abacus.core.grouping.source import ColumnsSource
from lofty_abacus.demo.scenario import LEDGER_NAME

STATEMENT: dict[str, Any] = {
    "measures": [{"measure": "net_sales"}],
    "rows": ["region"],
    "as_of": {"kind": "pinned", "day": "2026-10-17"},
}
QUESTION = {"ledger": LEDGER_NAME, "statement": STATEMENT}


@pytest.fixture
def client(office: Office) -> Iterator[TestClient]:
    with TestClient(make_app(office, None), base_url="http://127.0.0.1", raise_server_exceptions=False) as client:
        yield client


@pytest.mark.parametrize(
    ("headers", "taken"),
    [
        ({}, True),
        ({"Origin": "http://127.0.0.1", "Sec-Fetch-Site": "same-origin"}, True),
        ({"Origin": "http://evil.example", "Sec-Fetch-Site": "cross-site"}, False),
        ({"Origin": "http://127.0.0.1:9999", "Sec-Fetch-Site": "same-site"}, False),
        ({"Origin": "null"}, False),
        ({"Sec-Fetch-Site": "cross-site"}, False),
        ({"Origin": "http://127.0.0.1.evil.example"}, False),
    ],
)
def test_what_changes_something_is_refused_from_another_site(client: TestClient, headers: dict[str, str], taken: bool) -> None:
    name = f"from {json.dumps(headers)}"
    made = client.post("/api/ledgers", json={"name": name[:80]}, headers=headers)
    assert made.status_code in ((201, 409) if taken else (403,)), made.text
    dropped = client.post(
        "/api/stagings",
        data={"ledger": LEDGER_NAME},
        files=[("files", ("a.csv", b"date,amount\n2026-01-01,1\n"))],
        headers=headers,
    )
    assert (dropped.status_code == 403) is not taken
    assert client.get("/api/ledgers", headers=headers).status_code == 200, "reading changes nothing"


def test_browsers_are_told_to_run_and_frame_nothing_else(client: TestClient, tmp_path: Path, office: Office) -> None:
    headers = client.get("/api/ledgers").headers
    assert (
        "script-src 'self';" in headers["content-security-policy"]
        and "unsafe-inline'" not in headers["content-security-policy"].split("style-src")[0]
    )
    assert "frame-ancestors 'none'" in headers["content-security-policy"] and headers["x-frame-options"] == "DENY"
    assert (headers["x-content-type-options"], headers["referrer-policy"], headers["cache-control"]) == (
        "nosniff",
        "no-referrer",
        "no-store",
    )
    (tmp_path / "assets").mkdir()
    (tmp_path / "index.html").write_text("<html></html>")
    with TestClient(make_app(office, tmp_path), base_url="http://127.0.0.1") as pages:
        assert "content-security-policy" in pages.get("/figures").headers


def test_the_built_pages_have_no_script_within() -> None:
    page = (Path(__file__).resolve().parents[2] / "web" / "index.html").read_text()
    assert all("src=" in part.split(">")[0] for part in page.split("<script")[1:])


def test_addresses_and_bodies_have_bounds(client: TestClient, demo: Posting, office: Office, tmp_path: Path) -> None:
    assert client.get("/api/ledger", params={"name": "x" * MOST_ADDRESS}).status_code == 414
    (tmp_path / "assets").mkdir()
    (tmp_path / "index.html").write_text("<html></html>")
    with TestClient(make_app(office, tmp_path), base_url="http://127.0.0.1") as pages:
        assert pages.get("/" + "x" * 5000).status_code == 200, "a long address is a page like any other"
    large = client.post("/api/answers", json={**QUESTION, "ledger": "x" * (MOST_BODY + 1)})
    assert large.status_code == 413 and "bytes" in large.json()["message"]
    told = client.get("/api/limits").json()
    assert told == {"bytes": MOST_UPLOAD, "files": 500}
    asked = client.post(
        "/api/stagings",
        content=b"x",
        headers={"Content-Type": "multipart/form-data; boundary=b", "Content-Length": str(MOST_UPLOAD + 1)},
    )
    assert asked.status_code == 413


@pytest.mark.parametrize(
    ("body", "words"),
    [
        (b'{"ledger": "a\\u0000b"}', "no field can hold"),
        (b'{"ledger": "a\\ud800b"}', "no field can hold"),
        (b'{"ledger": ' + b"[" * 200_000 + b"]" * 200_000 + b"}", "nested too deeply"),
        (b'{"ledger": ' + b"9" * 5000 + b"}", "too many digits"),
    ],
)
def test_text_that_no_field_can_hold_is_refused(client: TestClient, body: bytes, words: str) -> None:
    found = client.post("/api/answers", content=body, headers={"Content-Type": "application/json"})
    assert found.status_code == 422 and words in found.json()["message"]
    assert client.get("/api/ledger?name=a%00b").status_code == 422


TOO_MUCH: dict[str, tuple[dict[str, Any], str]] = {
    "measures": (
        {"measures": [{"measure": "net_sales", "along": {"kind": "moving", "periods": at}} for at in range(1, 60)]},
        "are too many",
    ),
    "bases": ({"bases": [{"back": at + 1, "unit": "year"} for at in range(50)]}, "50 bases are too many"),
    "members": (
        {"filters": [{"dimension": "region", "members": [str(at) for at in range(20_000)]}]},
        "20,000 members are too many",
    ),
    "goals": ({"goals": [{"metric": "net_sales", "target": "1"}] * 100}, "100 goals are too many"),
    "digits of a goal": ({"goals": [{"metric": "net_sales", "target": "9" * 100, "of": "figure"}]}, "more than 60 digits"),
    "digits of a limit": (
        {"limits": [{"kind": "value", "column": "net_sales.0.value", "at_least": "1" * 5000}]},
        "more than 60 digits",
    ),
    "shares": ({"measures": [{"measure": "net_sales", "shares": [{"keep": []}] * 30}]}, "30 shares are too many"),
    "days": (
        {"rows": [{"time": "day"}], "window": {"kind": "dates", "first": "1900-01-01", "last": "2199-12-31"}},
        "more than 4,000 periods",
    ),
    "years": ({"window": {"kind": "dates", "first": "0001-01-01", "last": "9999-12-31"}}, "beyond the calendar's years"),
    "a period": ({"window": {"kind": "period", "period": "9999"}}, "beyond the calendar's years"),
    "a base": ({"bases": [{"back": 4000, "unit": "year"}]}, "beyond the calendar's years"),
    "a fixed base": ({"rows": [{"time": "year"}], "bases": [{"kind": "fixed", "period": "9998"}]}, "beyond the calendar's years"),
    "the as-of date": ({"as_of": {"kind": "pinned", "day": "9999-12-31"}}, "as of: 9999-12-31 is beyond"),
    "the last n": ({"window": {"kind": "last", "count": 4000, "grain": "year"}}, "beyond the calendar's years"),
    "running back": ({"window": {"kind": "running", "grain": "year", "back": 4000}}, "beyond the calendar's years"),
    "an end before its start": ({"window": {"kind": "dates", "first": "2026-05-01", "last": "2026-04-01"}}, "before it starts"),
}


@pytest.mark.parametrize("name", sorted(TOO_MUCH))
def test_what_asks_for_too_much_is_refused_before_work(
    client: TestClient, demo: Posting, monkeypatch: pytest.MonkeyPatch, name: str
) -> None:
    def worked(*_: object) -> None:
        raise AssertionError("lines were added up for a question that asks for too much")

    monkeypatch.setattr(ColumnsSource, "totals", worked)
    assert client.post("/api/answers", json=QUESTION).status_code == 500, "what is watched is what answers"
    change, words = TOO_MUCH[name]
    found = client.post("/api/answers", json={**QUESTION, "statement": {**STATEMENT, **change}})
    assert found.status_code == 422, found.text
    assert words in found.json()["message"]
    assert "[" not in found.json()["message"].split(":")[0], "parts are told in words"


@pytest.mark.parametrize(
    "layout",
    [{"decimals": {"net_sales": 10**7}}, {"decimals": {"net_sales": -1}}, {"percent_decimals": 99}, {"widths": {"a": 10**9}}],
)
def test_formats_have_bounds_and_cannot_be_kept_without(client: TestClient, demo: Posting, layout: dict[str, Any]) -> None:
    found = client.post("/api/answers.csv", json={**QUESTION, "layout": layout, "formatted": True})
    assert found.status_code == 422 and "makes no sense" in found.json()["message"]
    kept = client.put(
        "/api/ledger/statements", json={"ledger": LEDGER_NAME, "name": "x", "statement": STATEMENT, "layout": layout}
    )
    assert kept.status_code == 422


def test_wrong_methods_and_addresses_are_told(client: TestClient) -> None:
    wrong = client.get("/api/answers")
    assert (
        wrong.status_code == 405
        and wrong.headers["allow"] == "POST"
        and wrong.json()["message"] == "This address takes POST, not GET."
    )
    assert client.post("/api/nothing").status_code == 404 and client.get("/api/nothing").json()["kind"] == "not_found"


def test_the_schema_lists_the_errors_in_their_real_form(client: TestClient) -> None:
    schema = client.get("/api/openapi.json").json()
    for path, methods in schema["paths"].items():
        for method, each in methods.items():
            if path != "/api/health":
                assert {"400", "404", "409", "422", "500"} <= set(each["responses"]), (path, method)
    assert "HTTPValidationError" not in schema["components"]["schemas"]


def test_an_unexpected_error_is_in_the_log_under_the_number_that_is_told(
    client: TestClient, demo: Posting, monkeypatch: pytest.MonkeyPatch, caplog: pytest.LogCaptureFixture
) -> None:
    def broken(*_: object, **__: object) -> None:
        raise ZeroDivisionError("a fault of ours")

    monkeypatch.setattr(figures, "told_answer", broken)
    with caplog.at_level(logging.ERROR):
        found = client.post("/api/answers", json=QUESTION)
    assert found.status_code == 500 and found.json()["kind"] == "ours"
    number = found.json()["message"].split("log under ")[1].split(".")[0]
    (record,) = [each for each in caplog.records if number in each.getMessage()]
    assert record.exc_info is not None and record.exc_info[0] is ZeroDivisionError


class Running:
    """The application on a real port, for what a client in the same process cannot show."""

    def __init__(self, office: Office) -> None:
        self.app = make_app(office, None)
        self.server = uvicorn.Server(uvicorn.Config(self.app, host="127.0.0.1", port=0, log_level="error"))
        self.thread = threading.Thread(target=self.server.run, daemon=True)

    def __enter__(self) -> Running:
        self.thread.start()
        until = time.monotonic() + 60
        while not self.server.started:
            assert time.monotonic() < until
            time.sleep(0.01)
        port = self.server.servers[0].sockets[0].getsockname()[1]
        self.url = f"http://127.0.0.1:{port}"
        return self

    def __exit__(self, *_: object) -> None:
        self.app.state.questions.end()
        self.server.should_exit = True
        self.thread.join(60)
        assert not self.thread.is_alive()


begun = threading.Event()


def slow(seconds: float, seen: list[str]) -> Callable[..., Any]:
    """An answer that takes its time, as the core does: it heeds whoever asks."""
    from lofty_abacus.core.patience import heed

    def work(*_: object, **__: object) -> Any:
        until = time.monotonic() + seconds
        begun.set()
        try:
            while time.monotonic() < until:
                heed()
                time.sleep(0.01)
        except BaseException as error:
            seen.append(type(error).__name__)
            raise
        seen.append("ended")
        raise RuntimeError("it was not stopped")

    return work


def test_a_question_has_a_time_limit_and_holds_nobody_up(office: Office, demo: Posting, monkeypatch: pytest.MonkeyPatch) -> None:
    seen: list[str] = []
    begun.clear()
    monkeypatch.setattr(figures, "told_answer", slow(600, seen))
    with Running(office) as running:
        asked = [
            threading.Thread(target=httpx.post, args=(f"{running.url}/api/answers",), kwargs={"json": QUESTION, "timeout": 120})
            for _ in range(20)
        ]
        for each in asked:
            each.start()
        assert begun.wait(60)
        assert httpx.get(f"{running.url}/api/ledgers", timeout=60).status_code == 200
        assert not seen, "a list of ledgers does not wait for twenty questions"
        running.app.state.questions.end()
        for each in asked:
            each.join()
        assert set(seen) == {"GoneError"}
        running.app.state.questions = Questions(seconds=1.0)
        found = httpx.post(f"{running.url}/api/answers", json=QUESTION, timeout=60)
        assert found.status_code == 422 and "takes longer than 1 seconds" in found.json()["message"]
    assert set(seen) == {"GoneError", "QuestionError"}


def test_a_question_is_dropped_when_its_asker_is_gone(office: Office, demo: Posting, monkeypatch: pytest.MonkeyPatch) -> None:
    seen: list[str] = []
    monkeypatch.setattr(figures, "told_answer", slow(600, seen))
    with Running(office) as running:
        with pytest.raises(httpx.ReadTimeout):
            httpx.post(f"{running.url}/api/answers", json=QUESTION, timeout=0.5)
        until = time.monotonic() + 60
        while not seen:
            assert time.monotonic() < until, "nobody told the question"
            time.sleep(0.02)
    assert seen == ["GoneError"]


def test_the_application_ends_though_a_question_runs(office: Office, demo: Posting, monkeypatch: pytest.MonkeyPatch) -> None:
    seen: list[str] = []
    begun.clear()
    monkeypatch.setattr(figures, "told_answer", slow(600, seen))
    with Running(office) as running:
        threading.Thread(target=lambda: httpx.post(f"{running.url}/api/answers", json=QUESTION, timeout=30), daemon=True).start()
        assert begun.wait(60)
    assert seen == ["GoneError"]
