"""Windows and bases have one name: what the palette types is what the server says (`web/tests/typing.spec.ts` reads the same file)."""

from __future__ import annotations

from pathlib import Path

from tests.telling.named import text

NAMED = Path(__file__).parents[2] / "web" / "tests" / "named.json"


def test_the_front_end_is_tested_against_the_names_of_today() -> None:
    assert NAMED.read_text() == text(), "run: python -m tests.telling.named > web/tests/named.json"
