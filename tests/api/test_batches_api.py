"""Batches, months, sheets and versions over HTTP."""

from __future__ import annotations

import io
from collections.abc import Iterator
from typing import Any

import openpyxl
import pytest
from fastapi.testclient import TestClient

from lofty_abacus.actions.ports import Office
from lofty_abacus.api.app import make_app
from tests.api.jobs import ended, posted, staged

STATEMENT = {"measures": [{"measure": "net_sales"}], "as_of": {"kind": "pinned", "day": "2026-03-31"}}


@pytest.fixture
def client(office: Office) -> Iterator[TestClient]:
    with TestClient(make_app(office, None), base_url="http://127.0.0.1", raise_server_exceptions=False) as client:
        yield client


def net(client: TestClient, ledger: str, version: int | None = None) -> Any:
    asked = {"ledger": ledger, "statement": STATEMENT, "version": version}
    answer = client.post("/api/answers", json=asked)
    return answer.json()["total"]["cells"][0]["value"] if answer.status_code == 200 else answer.json()["message"]


def test_withdrawn_restored_replaced_and_read_as_it_was(client: TestClient) -> None:
    client.post("/api/ledgers", json={"name": "Batches"})
    first = posted(client, "Batches", "feb.csv", b"date,rep,amount\n2026-02-01,Ada,10\n")["posting"]["batches"][0]
    posted(client, "Batches", "mar.csv", b"date,rep,amount\n2026-03-01,Ada,5\n")
    assert net(client, "Batches") == "15.00"
    taken = client.post("/api/ledger/withdrawals", json={"ledger": "Batches", "batch": first, "leave_hole": True})
    assert taken.json() == {"version": 3} and net(client, "Batches") == "5.00"
    months = client.get("/api/ledger/months", params={"name": "Batches"}).json()
    # Files of one shape are one feed, whatever their names.
    assert [(each["feed"], each["month"], each["lines"], each["hole"]) for each in months] == [
        ("sales", "2026-02", 0, True),
        ("sales", "2026-03", 1, False),
    ]
    assert client.post("/api/ledger/restorations", json={"ledger": "Batches", "batch": first}).json() == {"version": 4}
    done = posted(client, "Batches", "feb-2.csv", b"date,rep,amount\n2026-02-01,Ada,11\n", replaces=[first])
    assert done["state"] == "done" and net(client, "Batches") == "16.00"
    assert [net(client, "Batches", version) for version in (1, 2, 3, 4)] == ["10.00", "15.00", "5.00", "15.00"]
    assert "no version 9" in net(client, "Batches", 9)
    again = client.post("/api/ledger/withdrawals", json={"ledger": "Batches", "batch": first})
    assert again.status_code == 409 and "withdrawn already" in again.json()["message"]
    assert client.post("/api/ledger/withdrawals", json={"ledger": "Batches", "batch": 0}).status_code == 404


def test_another_sheet_of_a_workbook(client: TestClient) -> None:
    book = openpyxl.Workbook()
    book.active.title = "Notes"
    book.active.append(["about", "what"])
    book.active.append(["this", "that"])
    sheet = book.create_sheet("Lines")
    sheet.append(["date", "rep", "amount"])
    sheet.append(["2026-03-01", "Ada", 12.5])
    out = io.BytesIO()
    book.save(out)
    client.post("/api/ledgers", json={"name": "Sheets"})
    staging = staged(client, "Sheets", ("book.xlsx", out.getvalue()))
    assert staging["files"][0]["sheets"] == ["Notes", "Lines"]
    chosen = client.put(f"/api/stagings/{staging['id']}/reading", json={"file": 0, "reading": {"sheet": "Lines"}}).json()
    assert chosen["files"][0]["mapping"]["kind"] == "sales" and chosen["files"][0]["mapping"]["reading"]["sheet"] == "Lines"
    check = client.get(f"/api/stagings/{staging['id']}/check").json()
    assert check["ready"] and check["files"][0]["amount"] == "12.50"
    gone = client.put(f"/api/stagings/{staging['id']}/reading", json={"file": 0, "reading": {"sheet": "Nowhere"}})
    assert gone.status_code == 404


def test_decisions_about_staged_files_over_http(client: TestClient) -> None:
    client.post("/api/ledgers", json={"name": "Decided"})
    content = b"date;rep;amount\n2026-03-01;Ada;1O\n2026-03-02;Ada;5\n2026-03-03;Ada;6\n2026-03-04;=Bo;7x\n2026-03-05;Ada;1\n2026-03-06;Ada;2\n"
    staging = staged(client, "Decided", ("a.csv", content), ("b.csv", b"date,rep,amount,x\n2026-03-05,Ada,1,y\n"))
    number = staging["id"]
    assert [each["id"] for each in client.get("/api/stagings", params={"ledger": "Decided"}).json()] == [number]
    saved = client.get(f"/api/stagings/{number}/files/0/unreadable.csv")
    assert saved.headers["content-type"].startswith("text/csv") and "a.csv,2,amount,1O," in saved.text
    for row, text, to in ((2, "1O", "10"), (5, "7x", "7")):
        correction = {"column": "amount", "text": text, "to": to, "row": row}
        client.put(f"/api/stagings/{number}/correction", json={"file": 0, "correction": correction})
    assert (
        client.put(f"/api/stagings/{number}/expected", json={"file": 0, "expected": {"lines": 6, "amount": "31"}}).status_code
        == 200
    )
    assert len(client.delete(f"/api/stagings/{number}/files/1").json()["files"]) == 1
    checked = ended(client, client.post(f"/api/stagings/{number}/checking", json={}).json())
    assert checked["check"]["ready"] and checked["check"]["amount"] == "31.00"
    asked = {"file": 0, "code": "new_members", "about": "rep", "member": "=Bo"}
    assert client.post(f"/api/stagings/{number}/rows", json=asked).json()["rows"] == [
        {"row": 5, "fields": ["2026-03-04", "=Bo", "7x"]}
    ]
    assert client.post(f"/api/stagings/{number}/preview", json={}).json()["lines_in"] == 6
    refused = client.put(f"/api/stagings/{number}/reading", json={"file": 0, "reading": {"separator": "ab"}})
    assert refused.status_code == 422 and refused.json()["kind"] == "mapping"
    done = ended(client, client.post(f"/api/stagings/{number}/posting", headers={"Lofty-Person": "J%C3%B6rg"}).json())
    assert done["state"] == "done"
    (batch,) = client.get("/api/ledger/batches", params={"name": "Decided"}).json()
    assert batch["posted_by"] == "Jörg"
    assert client.delete("/api/jobs/none").status_code == 404


def test_settings_mappings_versions_and_corrections_over_http(client: TestClient) -> None:
    client.post("/api/ledgers", json={"name": "Kept", "line_grain": "day"})
    posted(client, "Kept", "a.csv", b"date,rep,amount\n2026-03-01,Ada,10\n")
    settings = client.get("/api/ledger/settings", params={"name": "Kept"}).json()
    changed = client.put("/api/ledger/settings", json={"ledger": "Kept", "settings": settings | {"time_zone": "Europe/Vienna"}})
    assert changed.json()["time_zone"] == "Europe/Vienna"
    wrong = client.put("/api/ledger/settings", json={"ledger": "Kept", "settings": settings | {"currency": "USD"}})
    assert wrong.status_code == 409 and "Lines are posted in EUR" in wrong.json()["message"]
    (kept,) = client.get("/api/ledger/mappings", params={"name": "Kept"}).json()["rows"]
    exported = client.get("/api/ledger/mapping", params={"name": "Kept", "shape": kept["shape"]}).json()
    assert client.post("/api/ledger/mappings", json={"ledger": "Kept", "exported": exported}).status_code == 200
    assert client.post("/api/ledger/mappings", json={"ledger": "Kept", "exported": "nonsense"}).status_code == 422
    assert client.delete("/api/ledger/mappings", params={"name": "Kept", "shape": kept["shape"]}).status_code == 204
    lines = client.post(
        "/api/proofs/lines", json={"ledger": "Kept", "statement": STATEMENT, "column": "net_sales.0.value"}
    ).json()["lines"]
    correction = {"ledger": "Kept", "line": lines[0]["id"], "change": {"amount": "11"}, "reason": "typed wrong"}
    assert client.post("/api/ledger/corrections", json=correction).json()["version"] == 2
    assert net(client, "Kept") == "11.00"
    versions = client.get("/api/ledger/versions", params={"name": "Kept"}).json()
    assert [(each["version"], each["amount"]) for each in versions] == [(2, "11.00"), (1, "10.00")]
    assert client.post("/api/ledger/corrections", json=correction | {"change": {"colour": "red"}}).status_code == 422
    other = client.post("/api/database/preview", json={"url": "sqlite://", "query": "x"})
    assert other.status_code == 409 and other.json()["kind"] == "refused"
