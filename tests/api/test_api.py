from __future__ import annotations

import csv
import io
import json
from collections.abc import Iterator
from typing import Any

import pytest
from fastapi.testclient import TestClient

from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import Posting
from lofty_abacus.api.answer_json import answer_to_json
from lofty_abacus.api.app import make_app
from lofty_abacus.api.shapes import question_from_json
from lofty_abacus.demo.scenario import LEDGER_NAME
from lofty_abacus.telling.told import with_words
from tests.api.jobs import ended, staged

STATEMENT: dict[str, Any] = {
    "measures": [{"measure": "net_sales", "show": ["difference", "percent_change"]}, {"measure": "orders"}],
    "rows": ["region", "rep"],
    "as_of": {"kind": "pinned", "day": "2026-10-17"},
    "bases": [{"back": 1, "unit": "year"}],
}
QUESTION = {"ledger": LEDGER_NAME, "statement": STATEMENT, "opened": {"depth": 2}}


@pytest.fixture
def client(office: Office) -> Iterator[TestClient]:
    with TestClient(make_app(office, None), base_url="http://127.0.0.1", raise_server_exceptions=False) as client:
        yield client


def test_an_answer_travels_as_decimal_text(client: TestClient, demo: Posting) -> None:
    answer = client.post("/api/answers", json=QUESTION).json()
    assert answer["ledger"] == LEDGER_NAME and answer["version"] == 1
    cells = dict(zip([column["id"] for column in answer["columns"]], answer["total"]["cells"], strict=True))
    change = cells["net_sales.1.percent_change"]
    assert isinstance(cells["net_sales.0.value"]["value"], str)
    assert change["value"].startswith("0.") and int(change["numerator"]) and int(change["denominator"])
    assert not any(isinstance(value, float) for value in _leaves(answer))


def _leaves(node: object) -> Iterator[object]:
    if isinstance(node, dict):
        for each in node.values():
            yield from _leaves(each)
    elif isinstance(node, list):
        for each in node:
            yield from _leaves(each)
    else:
        yield node


def test_csv_check_and_proof_agree_with_the_answer(client: TestClient, demo: Posting) -> None:
    answer = client.post("/api/answers", json=QUESTION).json()
    rows = list(csv.reader(io.StringIO(client.post("/api/answers.csv", json=QUESTION).text)))
    assert rows[-1][3] == answer["total"]["cells"][0]["value"]
    check = client.post("/api/checks", json=QUESTION).json()
    assert check["agrees"] is True and len(check["totals"]) == 4
    asked = {"ledger": LEDGER_NAME, "statement": STATEMENT, "path": ["Harbour"], "column": "net_sales.1.difference"}
    proof = client.post("/api/proofs", json=asked).json()
    harbour = next(row for row in answer["rows"] if row["path"] == ["Harbour"])
    assert [each["cell"]["value"] for each in proof["operands"]] == [harbour["cells"][0]["value"], harbour["cells"][1]["value"]]
    page = client.post("/api/proofs/lines", json={**asked, "operand": 1, "offset": 5, "limit": 3}).json()
    assert page["total"] == proof["operands"][1]["lines"] and len(page["lines"]) == 3
    assert all(line["file"].endswith(".csv") and line["row"] > 1 for line in page["lines"])


@pytest.mark.parametrize(
    ("change", "status", "kind", "words"),
    [
        ({"measures": [{"measure": "net_sale"}]}, 422, "question", "Did you mean 'net_sales'"),
        ({"rows": ["regions"]}, 422, "question", "Did you mean 'region'"),
        ({"bases": [{"back": 1, "unit": "month"}]}, 422, "question", "no base that is months back"),
        ({"colour": "red"}, 422, "form", "statement, colour is no field that is known"),
        ({"window": {"grain": "decade"}}, 422, "form", "window, grain must be one of week, month"),
    ],
)
def test_errors_name_the_part(
    client: TestClient, demo: Posting, change: dict[str, Any], status: int, kind: str, words: str
) -> None:
    response = client.post("/api/answers", json={**QUESTION, "statement": {**STATEMENT, **change}})
    assert response.status_code == status
    failure = response.json()
    assert failure["kind"] == kind and failure["part"]
    assert words in failure["message"]


def test_ledgers_and_members(client: TestClient, demo: Posting) -> None:
    assert LEDGER_NAME in [each["name"] for each in client.get("/api/ledgers").json()]
    ledger = client.get("/api/ledger", params={"name": LEDGER_NAME}).json()
    assert {each["name"] for each in ledger["dimensions"]} >= {"rep", "product", "category", "region", "city"}
    found = client.get("/api/ledger/members", params={"name": LEDGER_NAME, "dimension": "city", "search": "alder"}).json()
    assert [member["key"] for member in found["members"]] == ["HB2", "LK2"], "two cities of one name are two members"
    assert client.get("/api/ledger", params={"name": "nowhere"}).status_code == 404
    assert client.get("/api/ledger/members", params={"name": LEDGER_NAME, "dimension": "citi"}).status_code == 422
    made = client.post("/api/ledgers", json={"name": "By HTTP", "currency": "USD"})
    assert made.status_code == 201 and made.json()["lines"] == 0
    assert client.post("/api/ledgers", json={"name": "By HTTP"}).status_code == 409


def test_intake_over_http(client: TestClient) -> None:
    client.post("/api/ledgers", json={"name": "Dropped"})
    content = b"date,rep,amount\n2026-03-01,Ada,10.50\n2026-03-02,Bo,2\n2026-03-03,Cy,x\n"
    staging = staged(client, "Dropped", ("a.csv", content))
    number = staging["id"]
    check = client.get(f"/api/stagings/{number}/check").json()
    assert not check["ready"] and check["files"][0]["findings"][0]["problems"][0]["row"] == 4
    refused = ended(client, client.post(f"/api/stagings/{number}/posting").json())
    assert refused["state"] == "failed" and "cannot be read" in refused["failure"]["message"]
    mapping = {**staging["files"][0]["mapping"], "unreadable": "leave_out"}
    assert client.put(f"/api/stagings/{number}/mapping", json={"file": 0, "mapping": mapping}).status_code == 200
    job = ended(client, client.post(f"/api/stagings/{number}/posting").json())
    assert job["state"] == "done" and job["posting"]["amount"] == "12.50"
    batches = client.get("/api/ledger/batches", params={"name": "Dropped"}).json()
    assert [(batch["file"], batch["lines"], batch["left_out"]) for batch in batches] == [("a.csv", 2, 1)]
    assert client.get(f"/api/stagings/{number}").status_code == 404
    assert client.get("/api/jobs/none").status_code == 404


def test_foreign_names_of_this_address_may_not_ask(office: Office) -> None:
    with TestClient(make_app(office, None), base_url="http://evil.example") as client:
        assert client.get("/api/health").status_code == 400


def test_the_json_form_of_a_question_and_answer(office: Office, demo: Posting) -> None:
    from lofty_abacus.actions.figures.answer_statement import answer_statement

    question = question_from_json(json.dumps(QUESTION))
    answer = answer_statement(office, question.ledger, question.statement, question.opened)
    body = json.loads(answer_to_json(with_words(answer, question.statement)))
    assert body["told"]["title"].startswith("Net sales") and len(body["told"]["columns"]) == len(body["columns"])
    assert body["windows"][1]["fairness"] == "equal_days"
    assert [bead["counted_days"] for bead in body["windows"][0]["beads"]] == [31, 28, 31, 30, 31, 30, 31, 31, 30, 17, 0, 0]
