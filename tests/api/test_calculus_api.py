"""The whole calculus over HTTP: every part of a statement in JSON, its errors, and proof of cells across and of the rest of a list."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterator
from typing import Any

import pytest
from fastapi.testclient import TestClient

from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import Posting
from lofty_abacus.api.app import make_app
from lofty_abacus.core.answer.answer import Cell
from lofty_abacus.demo.scenario import LEDGER_NAME

EVERYTHING: dict[str, Any] = {
    "measures": [
        {"measure": "net_sales", "show": ["difference", "rank", "bridge"], "shares": [{"keep": ["region"]}], "bases": [1]},
        {"measure": "net_sales", "along": {"kind": "running", "reset": "year"}, "show": ["attainment"], "name": "So far"},
        {"measure": "basket"},
    ],
    "rows": [{"time": "quarter"}, "region", "rep"],
    "across": ["channel"],
    "window": {"kind": "dates", "first": "2025-01-01"},
    "as_of": {"kind": "pinned", "day": "2026-10-17"},
    "bases": [{"back": 1, "unit": "period"}, {"kind": "fixed", "period": "2025"}],
    "cut": "as_of",
    "defined": [{"name": "basket", "expression": "net_sales / orders otherwise 0", "unit": "currency"}],
    "limits": [{"kind": "top", "count": 1, "column": "net_sales.0.value"}],
    "goals": [{"metric": "net_sales", "target": "100", "base": 1}],
}


@pytest.fixture
def client(office: Office) -> Iterator[TestClient]:
    with TestClient(make_app(office, None), base_url="http://127.0.0.1", raise_server_exceptions=False) as client:
        yield client


def asked(**changes: Any) -> dict[str, Any]:
    return {"ledger": LEDGER_NAME, "statement": EVERYTHING | changes, "opened": {"depth": 3}}


def test_every_part_of_a_statement_is_answered_exported_and_proved(client: TestClient, demo: Posting) -> None:
    response = client.post("/api/answers", json=asked())
    assert response.status_code == 200, response.text
    answer = response.json()
    assert len(answer["periods"]) == 9 and answer["periods"][1]["down"] == ["2025-Q1"]
    ids = [column["id"] for column in answer["columns"]]
    assert "net_sales.1.bridge_new@School" in ids and "net_sales~running_year.1.attainment" in ids
    rest = next(row for row in answer["rows"] if row["rest"])
    cell = dict(zip(ids, rest["cells"], strict=True))["net_sales.0.value@School"]
    number = {
        "ledger": LEDGER_NAME,
        "statement": EVERYTHING,
        "path": rest["path"],
        "column": "net_sales.0.value@School",
        "rest": True,
    }
    proof = client.post("/api/proofs", json=number)
    assert proof.status_code == 200, proof.text
    # A table's cells leave out the fields that they do not have.
    assert Cell(**proof.json()["result"]) == Cell(**cell)
    lines = client.post("/api/proofs/lines", json={**number, "limit": 5}).json()
    assert lines["total"] == proof.json()["operands"][0]["lines"]
    rows = list(csv.reader(io.StringIO(client.post("/api/answers.csv", json=asked()).text)))
    assert len(rows) == len(answer["rows"]) + 2 and rows[0][:4] == ["quarter", "region", "rep", "status"]
    assert "base 2 fairness" in rows[0] and any(row[2] == "(2 others)" or "other" in row[2] for row in rows[1:])
    goals = answer["rows"][0]["goals"]
    assert goals["defined"] + len(goals["undefined"]) == 1
    assert client.post("/api/checks", json=asked()).json()["agrees"] is True


@pytest.mark.parametrize(
    ("change", "part"),
    [
        ({"window": {"kind": "last", "count": "many", "grain": "month"}}, "statement.window.count"),
        ({"window": {"kind": "moon"}}, "statement.window.kind"),
        ({"bases": [{"kind": "given", "window": {"kind": "period"}}]}, "statement.bases.0.window.period"),
        ({"rows": [{"time": "fortnight"}]}, "statement.rows.0.time"),
        ({"rows": [{"tine": "month"}]}, "statement.rows.0"),
        ({"limits": [{"kind": "top", "count": 3}]}, "statement.limits.0.column"),
        ({"goals": [{"metric": "net_sales"}]}, "statement.goals.0.target"),
        ({"measures": [{"measure": "net_sales", "along": {"kind": "moving"}}]}, "statement.measures.0.along.periods"),
    ],
)
def test_errors_of_form_name_the_field_of_the_kind_that_was_meant(client: TestClient, change: dict[str, Any], part: str) -> None:
    response = client.post("/api/answers", json=asked(**change))
    assert response.status_code == 422, response.text
    failure = response.json()
    assert failure["kind"] == "form" and failure["part"].startswith(part), failure


def test_an_expression_is_refused_with_its_place(client: TestClient, demo: Posting) -> None:
    defined = [{"name": "basket", "expression": "net_sales / ordrs"}]
    failure = client.post("/api/answers", json=asked(defined=defined)).json()
    assert failure["part"] == "defined[0]" and "character 13" in failure["message"] and "'orders'" in failure["message"]
