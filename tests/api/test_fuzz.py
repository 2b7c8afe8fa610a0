"""Every route asked with whatever its schema allows and does not allow, and with names that exist: no answer is a server error."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

import hypothesis.strategies as st
import pytest
import schemathesis
from fastapi.testclient import TestClient
from hypothesis import HealthCheck, Phase, given, settings

from lofty_abacus.actions.ports import Office
from lofty_abacus.api.app import make_app
from tests.api.jobs import posted, staged

#: Examples per route, so that all of them take less than a minute.
EXAMPLES = 12
LEDGER = "Fuzzed"
MEASURE = {"measure": "net_sales", "show": ["share_of_all"]}
SCHEMA = schemathesis.openapi.from_dict(make_app(None, None).openapi())
OPERATIONS = [found.ok() for found in SCHEMA.get_all_operations()]
#: What would answer for longer than a test waits, or ask machines elsewhere.
LEFT_OUT = ("/api/database", "/api/stagings/database")


@dataclass(frozen=True)
class Known:
    """A client, and what there is to be named."""

    client: TestClient
    staging: str
    mapping: str


@pytest.fixture(scope="module")
def known(office: Office) -> Iterator[Known]:
    with TestClient(make_app(office, None), base_url="http://127.0.0.1", raise_server_exceptions=False) as client:
        client.post("/api/ledgers", json={"name": LEDGER})
        posted(client, LEDGER, "feb.csv", b"date,rep,order,amount\n2026-02-01,Ada,1,10\n2026-02-02,Bo,2,-5\n")
        posted(client, LEDGER, "teams.csv", b"rep,team\nAda,Red\nBo,Blue\n")
        put = {"ledger": LEDGER, "name": "By rep", "statement": {"measures": [MEASURE], "rows": ["rep", "team"]}}
        assert client.put("/api/ledger/statements", json=put).status_code == 200
        files = (("mar.csv", b"date,rep,amount\n2026-03-01,Ada,7\n2026-03-01,Cy,x\n"), ("more.csv", b"rep,unit\nAda,One\n"))
        staging = staged(client, LEDGER, *files)["id"]
        mapping = client.get("/api/ledger/mappings", params={"name": LEDGER}).json()["rows"][0]["shape"]
        yield Known(client, staging, mapping)


def named(value: Any, known: Known, key: str = "") -> Any:
    """A body with names that exist in the places of names."""
    if isinstance(value, dict):
        return {name: named(each, known, name) for name, each in value.items()}
    if isinstance(value, list):
        return [named(each, known, key) for each in value]
    if not isinstance(value, str):
        return value
    return {
        "ledger": LEDGER,
        "dimension": "rep",
        "measure": "net_sales",
        "metric": "net_sales",
        "column": "net_sales.0.value",
        "rows": "rep",
        "across": "team",
        "shape": known.mapping,
    }.get(key, value)


@pytest.mark.parametrize("operation", OPERATIONS, ids=lambda each: f"{each.method.upper()} {each.path}")
def test_no_route_gives_a_server_error(known: Known, operation: Any) -> None:
    if operation.path.startswith(LEFT_OUT):
        pytest.skip("asks a database elsewhere")

    @settings(
        max_examples=EXAMPLES,
        deadline=None,
        phases=(Phase.generate, Phase.shrink),
        suppress_health_check=list(HealthCheck),
    )
    @given(case=operation.as_strategy(), there=st.sampled_from([True, True, True, False]))
    def ask(case: Any, there: bool) -> None:
        path, query, body = dict(case.path_parameters or {}), dict(case.query or {}), case.body
        if there:
            path |= {name: known.staging for name in path if name == "number" and "stagings" in operation.path}
            path |= {name: 0 for name in path if name == "file"}
            query |= {name: LEDGER for name in query if name in ("name", "ledger")}
            query |= {name: "rep" for name in query if name == "dimension"}
            body = named(body, known)
        case.path_parameters, case.query, case.body = path, query, body
        sent = case.as_transport_kwargs(base_url="http://127.0.0.1")
        if sent.get("files"):
            # A form holds texts: what is none is written as one.
            sent["files"] = [(str(name), ("file.csv", repr(each).encode("utf-8", "replace"))) for name, each in sent["files"]]
        answer = known.client.request(**{name: each for name, each in sent.items() if name != "cookies" and each is not None})
        assert answer.status_code < 500, f"{answer.status_code} {answer.text[:400]}"
        if answer.status_code >= 400 and operation.method != "head":
            said = answer.json()
            assert said["message"] and said["kind"], said

    ask()
