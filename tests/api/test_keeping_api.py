"""Ledgers set aside, deleted and found again; statements and mappings forgotten and taken back; short links."""

from __future__ import annotations

from collections.abc import Iterator

import pytest
from fastapi.testclient import TestClient
from sqlalchemy import text

from lofty_abacus.actions.ports import Office
from lofty_abacus.api.app import make_app
from lofty_abacus.store.books import MariaDbBooks
from lofty_abacus.store.keeping import drop_what_nobody_owns
from tests.api.jobs import posted, staged

STATEMENT = {"measures": [{"measure": "net_sales"}], "rows": ["rep"]}
LINES = b"date,rep,amount\n2026-02-01,Ada,10\n2026-02-02,Bo,5\n"
LOOKUP = b"rep,team\nAda,Red\nBo,Blue\n"


@pytest.fixture
def client(office: Office) -> Iterator[TestClient]:
    with TestClient(make_app(office, None), base_url="http://127.0.0.1", raise_server_exceptions=False) as client:
        yield client


def made(client: TestClient, name: str) -> int:
    number: int = client.post("/api/ledgers", json={"name": name}).json()["id"]
    posted(client, name, "feb.csv", LINES)
    posted(client, name, "teams.csv", LOOKUP)
    return number


def kept(client: TestClient, ledger: str, name: str, **more: object) -> dict[str, object]:
    said = client.put("/api/ledger/statements", json={"ledger": ledger, "name": name, "statement": STATEMENT, **more})
    found: dict[str, object] = said.json()
    assert said.status_code == 200, found
    return found


def test_an_archived_ledger_is_read_but_takes_nothing(client: TestClient) -> None:
    number = made(client, "Old books")
    waiting = staged(client, "Old books", ("mar.csv", b"date,rep,amount\n2026-03-01,Ada,7\n"))["id"]
    assert client.post("/api/ledger/archive", json={"ledger": "Old books", "archived": True}).status_code == 204
    listed = next(each for each in client.get("/api/ledgers").json() if each["id"] == number)
    assert listed["archived_at"] and listed["archived_by"] == "Tess Ter" and listed["dimensions"] == ["rep"]
    assert client.post("/api/answers", json={"ledger": "Old books", "statement": STATEMENT}).status_code == 200
    job = client.post(f"/api/stagings/{waiting}/postings", json={}).json()
    ended = client.get(f"/api/jobs/{job['id']}", params={"wait": "true"}).json() if "id" in job else job
    batch = client.get("/api/ledger/batches", params={"name": "Old books"}).json()[0]["id"]
    for path, body in (
        ("withdrawals", {"batch": batch}), ("restorations", {"batch": batch}), ("corrections", {"line": 1, "reason": "x"}),
    ):  # fmt: skip
        refused = client.post(f"/api/ledger/{path}", json={"ledger": "Old books", **body})
        assert refused.status_code == 409 and "is archived" in refused.json()["message"], (path, ended)
    assert client.post("/api/ledger/archive", json={"ledger": "Old books", "archived": False}).status_code == 204
    posted(client, "Old books", "apr.csv", b"date,rep,amount\n2026-04-01,Ada,7\n")
    client.delete(f"/api/stagings/{waiting}")


def test_a_ledger_that_is_thrown_away_while_all_are_listed_is_not_among_them(
    client: TestClient, office: Office, monkeypatch: pytest.MonkeyPatch
) -> None:
    gone, stays = made(client, "Going"), made(client, "Staying")
    known = office.books.ledgers()
    assert client.post("/api/ledger/deletion", json={"ledger": "Going", "typed": "Going"}).status_code == 200
    # What was listed before it went is asked for after it.
    monkeypatch.setattr(office.books, "ledgers", lambda: known)
    listed = client.get("/api/ledgers")
    assert listed.status_code == 200
    numbers = [each["id"] for each in listed.json()]
    assert stays in numbers and gone not in numbers


def test_who_set_a_goal_and_when_is_kept_with_each_version_of_a_statement(client: TestClient, office: Office) -> None:
    made(client, "Goals")
    goal = {"metric": "net_sales", "target": "12", "of": "figure"}
    kept(client, "Goals", "Card", statement=STATEMENT | {"goals": [goal]})
    raised = goal | {"target": "20", "own": [{"target": "3", "path": ["Bo"]}]}
    kept(client, "Goals", "Card", statement=STATEMENT | {"goals": [raised]})
    [found] = client.get("/api/ledger/statements", params={"name": "Goals"}).json()["saved"]
    [before] = found["earlier"]
    assert [each["goals"][0]["target"] for each in (found["statement"], before["statement"])] == ["20", "12"]
    assert found["statement"]["goals"][0]["own"] == [{"target": "3", "path": ["Bo"], "period": ""}]
    assert {found["saved_by"], before["saved_by"]} == {"Tess Ter"} and before["saved_at"] <= found["saved_at"]
    card = client.post("/api/scorecards", json={"ledger": "Goals", "statement": found["statement"]}).json()
    assert [row["goals"]["met"] for row in card["answer"]["rows"]] == [0, 1]


def test_a_ledger_is_deleted_by_its_typed_name_with_all_that_it_holds(client: TestClient, office: Office) -> None:
    number = made(client, "To go")
    kept(client, "To go", "By rep")
    staged(client, "To go", ("mar.csv", b"date,rep,amount\n2026-03-01,Ada,7\n"))
    holds = client.get("/api/ledger/holdings", params={"name": "To go"}).json()
    assert holds == {"lines": 2, "files": 2, "versions": 2, "statements": 1, "mappings": 2, "briefs": 0, "issues": 0, "alerts": 0}
    wrong = client.post("/api/ledger/deletion", json={"ledger": "To go", "typed": "to go"})
    assert wrong.status_code == 409 and "type its name: To go" in wrong.json()["message"]
    assert client.post("/api/ledger/deletion", json={"ledger": "To go", "typed": "To go"}).json() == holds
    gone = client.get("/api/ledger", params={"name": "To go"})
    assert gone.status_code == 404 and "no ledger 'To go'" in gone.json()["message"]
    assert client.get("/api/stagings", params={"ledger": "To go"}).json() in ([], gone.json())
    assert client.post("/api/ledgers", json={"name": "To go"}).json()["lines"] == 0, "the name is free, and nothing comes back"
    assert isinstance(office.books, MariaDbBooks)
    with office.books.engine.connect() as connection:
        tables = connection.execute(text("SELECT TABLE_NAME FROM information_schema.TABLES")).scalars().all()
        assert not {f"line_{number}", f"ledger_{number}_lines"} & set(tables)


def test_lines_of_a_deletion_that_was_cut_off_go_at_the_next_start(client: TestClient, office: Office) -> None:
    number = made(client, "Cut off")
    assert isinstance(office.books, MariaDbBooks)
    engine = office.books.engine
    client.post("/api/ledger/deletion", json={"ledger": "Cut off", "typed": "Cut off"})
    with engine.begin() as connection:
        connection.execute(text(f"CREATE TABLE line_{number} (id INT)"))
    drop_what_nobody_owns(engine)
    with engine.connect() as connection:
        tables = connection.execute(text("SELECT TABLE_NAME FROM information_schema.TABLES")).scalars().all()
    assert f"line_{number}" not in tables


def test_a_statement_is_forgotten_and_taken_back_and_keeps_its_number(client: TestClient) -> None:
    made(client, "Forgetful")
    first = kept(client, "Forgetful", "By rep")
    where = {"name": "Forgetful", "statement": "By rep"}
    assert client.delete("/api/ledger/statements", params=where).status_code == 204
    assert client.get("/api/ledger/statements", params={"name": "Forgetful"}).json()["saved"] == []
    back = {"ledger": "Forgetful", "name": "By rep"}
    assert client.post("/api/ledger/statements/taken-back", json=back).status_code == 204
    assert client.post("/api/ledger/statements/taken-back", json=back).status_code == 404
    renamed = kept(client, "Forgetful", "Reps", id=first["id"])
    assert renamed["id"] == first["id"] and renamed["name"] == "Reps"
    saved = client.get("/api/ledger/statements", params={"name": "Forgetful"}).json()["saved"]
    assert [(each["id"], each["name"]) for each in saved] == [(first["id"], "Reps")]
    other = kept(client, "Forgetful", "Other")
    assert other["id"] != first["id"]
    taken = client.put(
        "/api/ledger/statements", json={"ledger": "Forgetful", "name": "Reps", "statement": STATEMENT, "id": other["id"]}
    )
    assert taken.status_code == 409 and "choose another name" in taken.json()["message"]


def test_a_mapping_is_forgotten_and_taken_back(client: TestClient) -> None:
    made(client, "Mapped")
    shapes = [each["shape"] for each in client.get("/api/ledger/mappings", params={"name": "Mapped"}).json()["rows"]]
    assert len(shapes) == 2
    assert client.delete("/api/ledger/mappings", params={"name": "Mapped", "shape": shapes[0]}).status_code == 204
    assert len(client.get("/api/ledger/mappings", params={"name": "Mapped"}).json()["rows"]) == 1
    assert client.post("/api/ledger/mappings/taken-back", json={"ledger": "Mapped", "shape": shapes[0]}).status_code == 204
    assert [each["shape"] for each in client.get("/api/ledger/mappings", params={"name": "Mapped"}).json()["rows"]] == shapes


def test_a_short_link_holds_the_whole_address(client: TestClient) -> None:
    address = "/figures?ledger=7&statement=" + "x" * 5000
    made_of_it = client.post("/api/links", json={"address": address}).json()
    assert len(made_of_it["id"]) == 10
    assert client.post("/api/links", json={"address": address}).json() == made_of_it, "the same address has the same name"
    assert client.get(f"/api/links/{made_of_it['id']}").json() == {"address": address}
    assert client.get("/api/links/aaaaaaaaaa").status_code == 404
    for bad in ("https://elsewhere.example/x", "//elsewhere.example", "/\\elsewhere", "", "/" + "x" * 60_000):
        assert client.post("/api/links", json={"address": bad}).status_code == 409, bad


def test_a_ledger_that_is_not_there_is_told_with_the_nearest(client: TestClient) -> None:
    made(client, "Nearest of all")
    said = client.get("/api/ledger", params={"name": "Nearest of al"}).json()["message"]
    assert "Did you mean 'Nearest of all'?" in said


def test_no_answer_about_a_ledger_names_a_path_of_the_server(client: TestClient, office: Office) -> None:
    made(client, "Pathless")
    said = client.get("/api/ledger", params={"name": "Pathless"}).text
    assert str(office.inbox.parent) not in said and '"inbox":"inbox/pathless-' in said
