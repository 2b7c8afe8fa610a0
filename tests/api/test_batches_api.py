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
from tests.api.jobs import posted, staged

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
