"""A statement told before it is answered: the sentence piece by piece, and what there is to choose."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import pytest
from fastapi.testclient import TestClient

from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import Posting
from lofty_abacus.api.app import make_app
from lofty_abacus.demo.scenario import LEDGER_NAME

STATEMENT: dict[str, Any] = {
    "measures": [
        {"measure": "net_sales", "show": ["difference", "share_of_all"], "shares": [{"keep": ["region"]}], "name": "Turnover"},
        {"measure": "margin_percent"},
    ],
    "rows": ["region", {"time": "month"}],
    "as_of": {"kind": "last_posted"},
    "bases": [{"back": 1, "unit": "period"}, {"kind": "fixed", "period": "2024"}],
    "filters": [{"dimension": "region", "members": ["Lakes"]}],
    "limits": [{"kind": "top", "count": 3, "column": "net_sales.0.value", "level": "region"}],
    "goals": [{"metric": "net_sales", "target": "105"}],
    "sort": {"column": "net_sales.1.difference"},
    "all_members": True,
}


@pytest.fixture
def client(office: Office, demo: Posting) -> Iterator[TestClient]:
    with TestClient(make_app(office, None), base_url="http://127.0.0.1", raise_server_exceptions=False) as client:
        yield client


def told(client: TestClient, statement: dict[str, Any]) -> dict[str, Any]:
    response = client.post("/api/tellings", json={"ledger": LEDGER_NAME, "statement": statement})
    assert response.status_code == 200, response.text
    body: dict[str, Any] = response.json()
    return body


def pieces(body: dict[str, Any], kind: str) -> list[str]:
    return [each["words"] for part in body["parts"] for each in part["pieces"] if each["kind"] == kind]


def test_every_piece_of_the_sentence_is_told_before_its_figures(client: TestClient) -> None:
    body = told(client, STATEMENT)
    assert body["refused"] == ""
    assert pieces(body, "measures") == ["Turnover (net sales)", "margin %"]
    assert pieces(body, "show") == ["change, share of all, share within region", ""]
    assert pieces(body, "share_scopes") == ["share within region"]
    assert pieces(body, "rows") == ["region", "month"] and pieces(body, "across") == []
    assert pieces(body, "window")[0].startswith("year to date at ")
    assert pieces(body, "cut") == ["each period whole, the running one so far"]
    assert pieces(body, "bases") == ["the month before", "the same period of 2024"]
    assert pieces(body, "filters") == ["region is Lakes"]
    assert pieces(body, "limits") == ["the top 3 of region by Turnover (in the month)"]
    assert pieces(body, "goals") == ["net sales 105% of the month before"]
    assert pieces(body, "sort") == ["sorted by Turnover change (month before), the largest first"]
    assert pieces(body, "members") == ["every known member"]


def test_what_is_told_before_is_what_the_answer_says(client: TestClient) -> None:
    body = told(client, STATEMENT)
    answer = client.post("/api/answers", json={"ledger": LEDGER_NAME, "statement": STATEMENT}).json()
    assert answer["told"]["parts"] == body["parts"] and answer["told"]["title"] == body["title"]
    assert body["windows"][0]["words"].startswith("1 Jan – ")


def test_what_cannot_stand_beside_a_measure_says_what_would_work(client: TestClient) -> None:
    net, margin = told(client, STATEMENT)["refusals"]
    assert net == {}
    assert margin["share_of_all"] == "Share a sum or a count." and margin["bridge"] == "Bridge a sum."
    bare = told(client, {"measures": [{"measure": "net_sales"}]})["refusals"][0]
    assert bare["difference"] == "Add a base." and bare["rank"] == "Add a row dimension."
    assert "percent_change" in bare and "share_of_all" not in bare


@pytest.mark.parametrize("refused", ["difference", "rank", "share_change", "bridge"])
def test_what_is_refused_beforehand_is_refused_as_a_question(client: TestClient, refused: str) -> None:
    statement = {"measures": [{"measure": "orders", "show": [refused]}]}
    assert refused in told(client, statement)["refusals"][0]
    response = client.post("/api/answers", json={"ledger": LEDGER_NAME, "statement": statement})
    assert response.status_code == 422 and told(client, statement)["refused"] == response.json()["message"]


def test_each_choice_of_a_convention_says_itself_and_is_known_again(client: TestClient) -> None:
    conventions = {each["name"]: each for each in told(client, STATEMENT)["conventions"]}
    assert {"returns", "negative", "members", "shares"} <= set(conventions) and "within" not in conventions
    assert conventions["members"]["chosen"] == "all" and conventions["returns"]["chosen"] == "own_day"
    for name, convention in conventions.items():
        for choice in convention["choices"]:
            again = told(client, {**STATEMENT, **choice["change"]})
            known = next(each for each in again["conventions"] if each["name"] == name)
            assert known["chosen"] == choice["key"]
            assert pieces(again, name) == ([choice["said"]] if choice["said"] else [])


def test_conventions_of_returns_and_of_splitting_come_with_what_they_are_about(client: TestClient) -> None:
    sale_day = {**STATEMENT, "returns": "sale_day"}
    names = [each["name"] for each in told(client, sale_day)["conventions"]]
    assert names[:2] == ["returns", "within"]
    split = {"measures": [{"measure": "net_sales", "show": ["price_volume_mix"]}], "bases": [{"back": 1, "unit": "year"}]}
    body = told(client, split | {"items": ["region"], "unit_of_measure": "product"})
    kept = {each["name"]: each["chosen"] for each in body["conventions"]}
    assert (kept["items"], kept["unit"]) == ("region", "product")
    assert pieces(body, "items") == ["price, volume and mix over each region"]
    assert pieces(body, "unit") == ["volume and mix within each product"]
