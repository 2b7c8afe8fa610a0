"""The files of the front end, as browsers get them."""

from __future__ import annotations

from pathlib import Path

import fastapi.routing
import pytest
from fastapi.testclient import TestClient

from lofty_abacus.actions.ports import Office
from lofty_abacus.api.app import build_routes, make_app

SCRIPT = "export const a = 1;\n" * 500
PICTURE = bytes(range(256)) * 40


@pytest.fixture
def pages(office: Office, tmp_path: Path) -> TestClient:
    (tmp_path / "assets").mkdir()
    (tmp_path / "index.html").write_text("<html>here</html>")
    (tmp_path / "assets" / "index-abc.js").write_text(SCRIPT)
    (tmp_path / "assets" / "small-abc.js").write_text("1")
    (tmp_path / "assets" / "picture-abc.png").write_bytes(PICTURE)
    return TestClient(make_app(office, tmp_path), base_url="http://127.0.0.1")


def test_files_are_sent_as_they_are_and_kept_for_good(pages: TestClient) -> None:
    for accepted in ("gzip, br", "identity"):
        sent = pages.get("/assets/index-abc.js", headers={"Accept-Encoding": accepted})
        assert sent.text == SCRIPT and "content-encoding" not in sent.headers
        assert "immutable" in sent.headers["cache-control"] and "javascript" in sent.headers["content-type"]
    assert pages.head("/assets/index-abc.js").status_code == 200
    for name, content in (("small-abc.js", b"1"), ("picture-abc.png", PICTURE)):
        sent = pages.get(f"/assets/{name}", headers={"Accept-Encoding": "identity"})
        assert sent.content == content and "immutable" in sent.headers["cache-control"]


def test_every_other_address_is_a_page_that_is_asked_for_each_time(pages: TestClient) -> None:
    for address in ("/", "/figures?ledger=1", "/index.html", "/guide/a/b"):
        page = pages.get(address)
        assert (page.status_code, page.text, page.headers["cache-control"]) == (200, "<html>here</html>", "no-cache"), address
    # A page of an earlier build asks for files that are not there any more: it is not given a page as a script, nor for good.
    gone = pages.get("/assets/index-old.js")
    assert gone.status_code == 404 and "immutable" not in gone.headers.get("cache-control", "")
    for outside in ("/assets/../../index.html", "/%2e%2e/%2e%2e/etc/passwd"):
        assert pages.get(outside).text in ("<html>here</html>", gone.text)


def test_the_first_request_waits_for_no_route_to_be_built(office: Office, monkeypatch: pytest.MonkeyPatch) -> None:
    built = []
    make = fastapi.routing.create_model_field
    monkeypatch.setattr(fastapi.routing, "create_model_field", lambda *given, **named: built.append(1) or make(*given, **named))
    for at_start in (False, True):
        app = make_app(office, None)
        if at_start:
            build_routes(app)
        built.clear()
        assert TestClient(app, base_url="http://127.0.0.1").get("/api/ledgers").status_code == 200
        assert bool(built) != at_start
