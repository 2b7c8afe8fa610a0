"""What the instrument asks for beside answers: files as they are seen, days and lines of a number, kept versions, the calendar."""

from __future__ import annotations

import csv
import io
import json
from collections.abc import Iterator
from fractions import Fraction
from typing import Any

import pytest
from fastapi.testclient import TestClient

from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import Posting
from lofty_abacus.api.app import make_app
from lofty_abacus.demo.scenario import LEDGER_NAME
from tests.oracle.asking import Asked

STATEMENT: dict[str, Any] = {
    "measures": [{"measure": "net_sales", "show": ["difference", "percent_change"]}, {"measure": "orders"}],
    "rows": ["region"],
    "as_of": {"kind": "pinned", "day": "2026-10-17"},
    "bases": [{"back": 1, "unit": "year"}],
}
NUMBER = {"ledger": LEDGER_NAME, "statement": STATEMENT, "path": ["Lakes"], "column": "net_sales.1.difference"}


@pytest.fixture
def client(office: Office, demo: Posting) -> Iterator[TestClient]:
    with TestClient(make_app(office, None), base_url="http://127.0.0.1", raise_server_exceptions=False) as client:
        yield client


@pytest.mark.parametrize("kind", ["csv", "json", "xlsx"])
def test_files_are_laid_out_as_they_are_seen(client: TestClient, kind: str) -> None:
    layout = {"hidden": ["net_sales.1.value"], "totals": "off", "decimals": {"net_sales": 0}}
    body = {"ledger": LEDGER_NAME, "statement": STATEMENT, "layout": layout, "formatted": True, "title": "Sales / reps?"}
    response = client.post(f"/api/answers.{kind}", json=body)
    assert response.status_code == 200 and f'filename="Sales reps 2026-10-17.{kind}"' in response.headers["content-disposition"]
    if kind == "csv":
        rows = list(csv.reader(io.StringIO(response.text)))
        rows = rows[: rows.index([])]
        assert len(rows) == 5 and not any("net sales 2025" in heading for heading in rows[0])
        assert rows[2][2] == "640,386", "as it is shown"
    if kind == "json":
        assert len(response.json()["answer"]["rows"]) == 4
    refused = client.post(f"/api/answers.{kind}", json=body | {"layout": {"hiden": []}})
    assert refused.status_code == 422 and "hiden" in refused.json()["message"]


def test_the_days_of_a_number_add_up_to_it(client: TestClient) -> None:
    current, base = client.post("/api/proofs/days", json=NUMBER).json()
    assert (len(current["days"]), current["days"][0]["day"], base["days"][-1]["day"]) == (290, "2026-01-01", "2025-10-17")
    proof = client.post("/api/proofs", json=NUMBER).json()
    for listed, operand in zip((current, base), proof["operands"], strict=True):
        assert all(day["counted"] for day in listed["days"])
        assert [each["name"] for each in listed["columns"]] == ["net_sales"]
        assert sum(Fraction(day["cells"][0]["value"]) for day in listed["days"]) == Fraction(operand["cell"]["value"])
        assert listed["days"][-1]["so_far"] == operand["cell"]
    number = NUMBER | {"column": "orders.0.value"}
    (orders,) = client.post("/api/proofs/days", json=number).json()
    (operand,) = client.post("/api/proofs", json=number).json()["operands"]
    new = sum(int(day["cells"][0]["value"]) for day in orders["days"])
    assert new == int(operand["cell"]["value"]) == sum(int(each["cell"]["value"]) for each in operand["stretches"])


def test_a_large_answer_is_filled_by_place(client: TestClient) -> None:
    statement = STATEMENT | {"rows": ["order"], "window": {"kind": "dates", "first": "2024-01-01"}}
    question = {"ledger": LEDGER_NAME, "statement": statement}
    whole = client.post("/api/answers", json=question).json()
    part = client.post("/api/answers", json=question | {"fill": 7}).json()
    assert (whole["partial"], part["partial"], len(part["rows"])) == (False, True, len(whole["rows"]))
    assert part["rows"][:7] == whole["rows"][:7] and not any(row["cells"] for row in part["rows"][7:])
    assert [row["path"] for row in part["rows"]] == [row["path"] for row in whole["rows"]]
    assert list(part["rows"][0]["cells"][0]) == ["value"], "what a cell does not have is left out"
    places = [12_345, 9, len(whole["rows"]) - 1]
    asked = question | {"places": places, "version": part["version"]}
    assert client.post("/api/answers/rows", json=asked).json() == [whole["rows"][at] for at in places]
    refused = client.post("/api/answers/rows", json=asked | {"places": [len(whole["rows"])]})
    assert refused.status_code == 422 and "there is no row" in refused.json()["message"]
    refused = client.post("/api/answers/rows", json=asked | {"places": list(range(5_001))})
    assert refused.status_code == 422 and "at most 5000" in refused.json()["way_out"]
    small = client.post("/api/answers", json={"ledger": LEDGER_NAME, "statement": STATEMENT, "fill": 1}).json()
    assert not small["partial"] and all(row["cells"] for row in small["rows"]), "a small one comes whole"


def test_the_lines_of_a_number_are_sorted_searched_and_saved(client: TestClient) -> None:
    def page(**wanted: Any) -> Any:
        return client.post("/api/proofs/lines", json=NUMBER | wanted).json()

    # As many lines as the ledger has are sorted, too.
    always = {"kind": "dates", "first": "2024-01-01"}
    ledger = {"statement": STATEMENT | {"window": always}, "path": [], "column": "net_sales.0.value"}
    for sort, key in (("amount", lambda line: Fraction(line["amount"])), ("day", lambda line: line["day"]),
                      ("order", lambda line: line["members"]["order"]), ("product", lambda line: line["members"]["product"])):  # fmt: skip
        up = page(**ledger, sort=sort, descending=False, limit=500)
        assert up["total"] > 59_000
        first = [key(line) for line in up["lines"]]
        last = [key(line) for line in page(**ledger, sort=sort, offset=up["total"] - 500, limit=500)["lines"]]
        assert first == sorted(first) and last == first[::-1], f"by {sort}, up and down"
    posted = page(**ledger, sort="posted", descending=False, limit=500)["lines"]
    assert [line["id"] for line in posted] == sorted(line["id"] for line in posted)
    every = page()["total"]
    largest = [Fraction(line["amount"]) for line in page(sort="amount", limit=20)["lines"]]
    assert largest == sorted(largest, reverse=True)
    smallest = page(sort="amount", descending=False, limit=1)["lines"][0]
    assert Fraction(smallest["amount"]) < 0
    product = smallest["members"]["product"]
    found = page(search=product.upper(), limit=500)
    assert 0 < found["total"] < every
    assert all(
        product.casefold() in " ".join([*line["members"].values(), *line["keys"].values()]).casefold() for line in found["lines"]
    )
    saved = client.post("/api/proofs/lines.csv", json=NUMBER)
    rows = list(csv.DictReader(io.StringIO(saved.text)))
    assert len(rows) == every and sum(Fraction(row["amount"]) for row in rows) == Fraction(
        client.post("/api/proofs", json=NUMBER).json()["operands"][0]["cell"]["value"]
    )
    assert {"file", "row", "batch", "rep"} <= set(rows[0])
    assert client.post("/api/proofs/lines.csv", json=NUMBER | {"operand": 9}).status_code == 422


def test_quiet_days_and_late_lines_are_those_of_the_ledger(client: TestClient, office: Office) -> None:
    answer = client.post("/api/answers", json={"ledger": LEDGER_NAME, "statement": STATEMENT}).json()
    asked = Asked(office, LEDGER_NAME)
    for window, year in zip(answer["windows"], (2026, 2025), strict=True):
        for bead in window["beads"]:
            days = {
                str(each["day"]): each["n"]
                for each in asked.sql(
                    "SELECT day, COUNT(*) AS n FROM {lines} WHERE day BETWEEN :a AND :b GROUP BY day",
                    a=bead["first"],
                    b=bead["last"],
                )
            }
            late = sum(n for day, n in days.items() if day > "2026-10-17")
            counted = sum(day <= f"{year}-10-17" for day in days)
            assert (bead["late_lines"], bead["counted_days"] - bead["quiet_days"]) == (late, counted), bead
    assert sum(bead["late_lines"] for bead in answer["windows"][0]["beads"]) == 37


def test_a_statement_keeps_its_layout_and_what_it_was_before(client: TestClient) -> None:
    kept = {"ledger": LEDGER_NAME, "name": "Versions", "statement": STATEMENT, "layout": {"totals": "above"}}
    assert client.put("/api/ledger/statements", json=kept).status_code == 200
    client.put("/api/ledger/statements", json=kept | {"description": "the same again"})
    changed = kept | {"statement": STATEMENT | {"rows": ["rep"]}, "layout": {"zeros": "dash"}}
    client.put("/api/ledger/statements", json=changed)
    found = next(
        each
        for each in client.get("/api/ledger/statements", params={"name": LEDGER_NAME}).json()["saved"]
        if each["name"] == "Versions"
    )
    assert (found["statement"]["rows"], found["layout"]["zeros"]) == (["rep"], "dash")
    assert [(each["statement"]["rows"], each["layout"]["totals"]) for each in found["earlier"]] == [(["region"], "above")]
    client.delete("/api/ledger/statements", params={"name": LEDGER_NAME, "statement": "Versions"})


def test_a_calendar_is_tried_before_it_is_kept(client: TestClient) -> None:
    settings = client.get("/api/ledger/settings", params={"name": LEDGER_NAME}).json()

    def tried(years_ahead: int = 0, **calendar: Any) -> Any:
        body = {
            "ledger": LEDGER_NAME,
            "settings": settings | {"calendar": settings["calendar"] | calendar},
            "years_ahead": years_ahead,
        }
        response = client.post("/api/ledger/calendar", json=body)
        assert response.status_code == 200, response.text
        return response.json()

    same = tried()
    assert (same["year"], len(same["months"]), same["changes"]) == ("2026", 12, []) and same["unchanged"] > 4
    april = tried(fiscal_start_month=4, holidays=["2026-05-01"])
    assert (april["year"], april["first"], april["months"][0]["quarter"]) == ("2027", "2026-04-01", "2027-Q1")
    may = april["months"][1]
    assert may["working_days"] == 20 and not may["days"][0]["working"]
    change = next(each for each in april["changes"] if each["name"] == "Year to date")
    assert change["before"][0] == "2026-01-01 to 2026-10-17" and change["after"] == [
        "2026-04-01 to 2026-10-17",
        "2025-04-01 to 2025-10-17",
    ]
    weeks = tried(1, week_years={"pattern": "4-4-5"})
    assert weeks["months"][2]["days"][-1]["day"] > weeks["first"] and len(weeks["months"][2]["days"]) == 35
    assert client.get("/api/ledger/settings", params={"name": LEDGER_NAME}).json() == settings, "nothing was kept"
    assert json.dumps(same) == json.dumps(tried())


def test_windows_are_told_before_they_are_chosen(client: TestClient) -> None:
    statements = [
        STATEMENT,
        STATEMENT | {"window": {"grain": "month"}, "bases": [{"back": 1, "unit": "month", "align": "same_weekdays"}]},
        STATEMENT | {"window": {"grain": "month"}, "bases": [{"back": 1, "unit": "quarter"}]},
    ]
    found = client.post("/api/previews", json={"ledger": LEDGER_NAME, "statements": statements}).json()
    year, month, refused = found
    assert [(each["first"], each["last"], each["counted_days"], each["fairness"]) for each in year["windows"]] == [
        ("2026-01-01", "2026-10-17", 290, None), ("2025-01-01", "2025-10-17", 290, "equal_days"),
    ]  # fmt: skip
    assert (month["windows"][1]["first"], month["windows"][1]["last"]) == ("2026-09-03", "2026-09-19")
    assert refused["windows"] == [] and "a month has no base that is quarters back" in refused["refused"]
    many = client.post("/api/previews", json={"ledger": LEDGER_NAME, "statements": [STATEMENT] * 51})
    assert many.status_code == 422 and "51" in many.json()["message"]
