"""Names come in the order of the reader's language: its letters by MariaDB's collation, numbers by their size."""

from __future__ import annotations

from datetime import date
from functools import partial
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from lofty_abacus.actions.intake.post_files import post_files
from lofty_abacus.actions.intake.stage_files import stage_files
from lofty_abacus.actions.ports import Office
from lofty_abacus.api.app import make_app
from lofty_abacus.core.answer.answering import Answering
from lofty_abacus.core.name_order import PLAIN, NameOrder
from lofty_abacus.core.statement.statement import Opened, ShownMeasure, Statement
from tests.conftest import quiet
from tests.ledgers import Line, SmallLedger

NAMES = ["Åsa 10", "Ängel", "Zoe", "ål", "Åsa 2", "Adam", "Örn", "chata", "cibule", "hora", "nz", "ñu", "o"]


def ordered(office: Office, language: str, names: list[str] | None = None) -> list[str]:
    order = NameOrder(language, partial(office.books.weigh, language))
    ledger = SmallLedger([Line(date(2026, 3, 1), 100, customer=name) for name in names or NAMES])
    asked = Statement((ShownMeasure("net_sales"),), ("customer",))
    found = Answering(asked, ledger.facts, ledger.source, ledger.today, Opened(1), None, order).answer()
    return [row.label for row in found.rows]


@pytest.mark.parametrize(
    ("language", "expected"),
    [
        ("sv", ["Adam", "chata", "cibule", "hora", "ñu", "nz", "o", "Zoe", "ål", "Åsa 2", "Åsa 10", "Ängel", "Örn"]),
        ("cs", ["Adam", "ål", "Ängel", "Åsa 2", "Åsa 10", "cibule", "hora", "chata", "ñu", "nz", "o", "Örn", "Zoe"]),
        ("es", ["Adam", "ål", "Ängel", "Åsa 2", "Åsa 10", "chata", "cibule", "hora", "nz", "ñu", "o", "Örn", "Zoe"]),
    ],
)
def test_letters_come_where_the_language_has_them(office: Office, language: str, expected: list[str]) -> None:
    assert ordered(office, language) == expected


def test_every_language_that_is_offered_weighs_every_kind_of_name(office: Office) -> None:
    names = ["", "a", "Ä", "'; --", "\\", "7", "%s", ":t0", "日本", "\U0001f600", "x" * 250]
    for language in office.books.languages:
        weights = office.books.weigh(language, names)
        assert len(weights) == len(names) and weights[1] < weights[-1], language
    many = [f"name {at}" for at in range(4_500)]
    assert len(set(office.books.weigh("sv", [each.replace(" ", "") for each in many]))) == 4_500


def test_the_same_members_are_ranked_anew_for_each_language(office: Office) -> None:
    ledger = SmallLedger([Line(date(2026, 3, 1), 100, customer=name) for name in NAMES])
    members = ledger.source.members("customer")
    plain = members.name_rank(PLAIN).tolist()
    swedish = members.name_rank(NameOrder("sv", partial(office.books.weigh, "sv"))).tolist()
    assert plain != swedish
    assert members.name_rank().tolist() == plain


def test_a_reader_is_answered_in_the_language_of_the_browser(office: Office, ledger: str, tmp_path: Path) -> None:
    path = tmp_path / "nordic.csv"
    path.write_text("date,order,customer,amount\n" + "".join(f"2026-03-01,{at},{name},5\n" for at, name in enumerate(NAMES)))
    post_files(office, stage_files(office, ledger, [(path.name, path)]).id, quiet)
    client = TestClient(make_app(office, None), base_url="http://127.0.0.1")
    question = {
        "ledger": ledger,
        "statement": {"measures": [{"measure": "net_sales"}], "rows": ["customer"]},
        "opened": {"depth": 1, "paths": []},
    }

    def labels(language: str) -> list[str]:
        answer = client.post("/api/answers", json=question, headers={"Accept-Language": language})
        assert answer.status_code == 200, answer.text
        return [row["label"] for row in answer.json()["rows"]]

    def found(language: str) -> list[str]:
        query = {"name": ledger, "dimension": "customer", "search": "", "limit": 50}
        listed = client.get("/api/ledger/members", params=query, headers={"Accept-Language": language}).json()["members"]
        return [each["label"] for each in listed if each["key"]]

    assert labels("sv-SE,sv;q=0.9,en;q=0.8")[-3:] == ["Åsa 10", "Ängel", "Örn"] == found("sv")[-3:]
    assert labels("en-GB,sv;q=0.5")[-1] == "Zoe" == found("en")[-1]
    assert labels("*")[-1] == "Zoe"
