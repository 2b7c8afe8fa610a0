"""Every example of docs/formats.md is sent as it stands there, and no body of the API is without one."""

from __future__ import annotations

import json
import re
from pathlib import Path
from typing import Any

from fastapi.testclient import TestClient

from lofty_abacus.actions.ports import Office
from lofty_abacus.api.app import make_app
from tests.api.jobs import ended

ROOT = Path(__file__).resolve().parents[2]
TEXT = (ROOT / "docs" / "formats.md").read_text()
FILES = {
    name: "\n".join(line.strip() for line in body.strip().splitlines()).encode()
    for name, body in re.findall(r"^    # (\S+\.csv)\n((?:    [^#\n].*\n)+)", TEXT, re.MULTILINE)
}
#: Nobody answers there: what is sent is right, and the machine is told to be away.
ELSEWHERE = "/api/database/"


def examples() -> list[tuple[str, str, str]]:
    """(method, address, body) in the order of the document."""
    found = []
    for block in re.findall(r"^```http\n(.*?)^```", TEXT, re.MULTILINE | re.DOTALL):
        for part in re.split(r"\n\n+", block.strip()):
            head, _, body = part.partition("\n")
            method, _, address = head.partition(" ")
            found.append((method, address, body))
    return found


def remembered(answer: Any, known: dict[str, str]) -> None:
    """What later examples name."""
    if not isinstance(answer, dict):
        return
    if answer.get("rows") and "shape" in answer["rows"][0]:
        known["shape"] = answer["rows"][0]["shape"]
    if "state" in answer:
        known["job"] = answer["id"]
        if answer.get("staging"):
            known["staging"] = answer["staging"]["id"]
        if answer.get("posting") and "batch" not in known:
            known["batch"] = str(answer["posting"]["batches"][0])
    if isinstance(answer.get("issue"), dict):
        known["issue"] = str(answer["issue"]["id"])
    if "handing" in answer:
        known["brief"] = str(answer["id"])
    elif "saved_at" in answer:
        known["statement"] = str(answer["id"])
    if set(answer) == {"id"}:
        known["link"] = answer["id"]
    if answer.get("lines") and isinstance(answer["lines"], list) and "line" not in known:
        known["line"] = str(answer["lines"][0]["id"])


def sent(client: TestClient, method: str, address: str, body: str) -> Any:
    if address == "/api/stagings" and method == "POST":
        fields = [line.split("=", 1) for line in body.splitlines()]
        files = [("files", (text[1:], FILES[text[1:]])) for _, text in fields if text.startswith("@")]
        return client.post(address, data=dict(each for each in fields if not each[1].startswith("@")), files=files)
    return client.request(method, address, json=json.loads(body) if body else None)


def test_every_example_runs(office: Office) -> None:
    known: dict[str, str] = {}
    with TestClient(make_app(office, None), base_url="http://127.0.0.1", raise_server_exceptions=False) as client:
        for method, written, text in examples():
            address, body = (
                re.sub(r"\{(\w+)\}", lambda found: known[found[1]] if found[1] in known else found[0], each)
                for each in (written, text)
            )
            answer = sent(client, method, address, body)
            if written.startswith(ELSEWHERE):
                assert answer.status_code in (202, 409, 503), answer.text
                continue
            assert answer.status_code < 300, f"{method} {address}: {answer.text}"
            said = answer.json() if "json" in answer.headers.get("content-type", "") and answer.content else None
            if isinstance(said, dict) and said.get("state") == "running":
                said = ended(client, said)
            if isinstance(said, dict) and "state" in said:
                assert said["state"] == "done", said
            remembered(said, known)


def nameless(path: str) -> str:
    """An address whose variable parts are not called anything: examples fill them with what they remember."""
    return re.sub(r"\{\w+\}", "{}", path)


def test_no_body_is_without_an_example() -> None:
    schema = make_app(None, None).openapi()["paths"]
    routes = {
        (method.upper(), nameless(path))
        for path, methods in schema.items()
        for method, each in methods.items()
        if "requestBody" in each
    }
    shown = {(method, nameless(address.split("?")[0])) for method, address, _ in examples()}
    assert routes <= shown, sorted(routes - shown)
