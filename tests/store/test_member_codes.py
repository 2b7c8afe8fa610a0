"""Codes of members are given out once and found again, also where 64-bit hashes clash."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from datetime import date
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st
from sqlalchemy import event

from lofty_abacus.actions.errors import RefusedError
from lofty_abacus.actions.figures.answer_statement import answer_statement
from lofty_abacus.actions.figures.check_table import check_table
from lofty_abacus.actions.intake.post_files import post_files
from lofty_abacus.actions.intake.stage_files import stage_files
from lofty_abacus.actions.ports import Office
from lofty_abacus.core.statement.statement import Opened, ShownMeasure, Statement
from lofty_abacus.core.windows.as_of import PinnedDay
from lofty_abacus.store import member_codes
from lofty_abacus.store.books import MariaDbBooks
from lofty_abacus.store.member_codes import MemberCodes, SomeCodes
from tests.conftest import quiet

_KEYS = st.lists(st.text(max_size=3), unique=True, max_size=20)


@contextmanager
def statements_of(office: Office) -> Iterator[list[str]]:
    """What is said to MariaDB meanwhile."""
    assert isinstance(office.books, MariaDbBooks)
    said: list[str] = []

    def heard(*given: object) -> None:
        said.append(str(given[2]))

    event.listen(office.books.engine, "before_cursor_execute", heard)
    try:
        yield said
    finally:
        event.remove(office.books.engine, "before_cursor_execute", heard)


def agrees_with_a_dictionary(codes: MemberCodes | SomeCodes, known: list[str], batches: list[list[str]]) -> None:
    plain = {key: code for code, key in enumerate(known, start=1)}
    for keys in batches:
        found, fresh = codes.codes(keys)
        new = [key for key in keys if key not in plain]
        plain |= {key: len(plain) + 1 + at for at, key in enumerate(new)}
        assert fresh == new and found.tolist() == [plain[key] for key in keys]
    assert len(codes) == len(plain) + 1


@given(known=_KEYS, batches=st.lists(_KEYS, max_size=12), levels=st.integers(1, 6))
def test_codes_are_those_of_a_plain_dictionary(known: list[str], batches: list[list[str]], levels: int) -> None:
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(member_codes, "MOST_STRETCHES", levels)
        codes = MemberCodes([None, *known])
        agrees_with_a_dictionary(codes, known, batches)


@given(known=_KEYS, batches=st.lists(_KEYS, max_size=12), few_of=st.sampled_from([0, 1, 2, 8]))
def test_codes_that_are_looked_up_are_the_same(known: list[str], batches: list[list[str]], few_of: int) -> None:
    there = {key: code for code, key in enumerate(known, start=1)}
    looked_up: list[str] = []

    def look_up(keys: Sequence[str]) -> dict[str, int]:
        looked_up.extend(keys)
        return {key: there[key] for key in keys if key in there}

    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(member_codes, "FEW_OF", few_of)
        agrees_with_a_dictionary(SomeCodes(len(known) + 1, look_up, lambda: MemberCodes([None, *known])), known, batches)
    assert len(looked_up) == len(set(looked_up)), "none is looked up twice"


def test_keys_that_go_on_where_members_end_are_not_looked_up(
    office: Office, ledger: str, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(member_codes, "MANY", 10)
    read: dict[str, int] = {}
    for name, orders in (("a", range(50, 70)), ("b", range(70, 200)), ("c", [250, 600, 1000]), ("d", [65, 300, 1001])):
        path = tmp_path / f"{name}.csv"
        path.write_text("date,order,amount\n" + "".join(f"2026-03-01,O{each},1\n" for each in orders))
        staged = stage_files(office, ledger, [(path.name, path)]).id
        with statements_of(office) as said:
            post_files(office, staged, quiet)
        read[name] = sum("member_key_piece.hashes" in each and "first_code IN" in each for each in said)
    assert read == {"a": 0, "b": 0, "c": 0, "d": 1}, "of all others it is told from where they lie that they are new"
    statement = Statement((ShownMeasure("orders"),), as_of=PinnedDay(date(2026, 12, 31)))
    assert answer_statement(office, ledger, statement, Opened()).total.cells[0].value == "155"
    assert check_table(office, ledger, statement).agrees


def test_keys_are_looked_up_while_lines_are_loaded(
    office: Office, ledger: str, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Files of several pieces: one piece is loaded while the keys of the next are looked up."""
    monkeypatch.setattr(member_codes, "MANY", 0)
    monkeypatch.setattr(member_codes, "FEW_OF", 0)
    count = 300_000
    for part in range(2):
        path = tmp_path / f"f{part}.csv"
        with path.open("w") as file:
            file.write("date,order,rep,amount\n")
            file.writelines(
                f"2026-03-{at % 28 + 1:02d},O{(at + part * count // 2) // 3},Rep {at % 40},1\n" for at in range(count)
            )
        post_files(office, stage_files(office, ledger, [(path.name, path)]).id, quiet)
    statement = Statement((ShownMeasure("net_sales"), ShownMeasure("orders")), ("rep",), as_of=PinnedDay(date(2026, 12, 31)))
    found = answer_statement(office, ledger, statement, Opened())
    assert [cell.value for cell in found.total.cells] == ["600000.00", "150000"] and len(found.rows) == 40
    assert check_table(office, ledger, statement).agrees


def test_keys_whose_hashes_clash_are_told_apart(monkeypatch: pytest.MonkeyPatch) -> None:
    import numpy as np

    monkeypatch.setattr(member_codes, "_hashes", lambda keys: np.array([len(key) for key in keys], np.int64))
    codes = MemberCodes(["aa", "bb", "c"])
    assert codes.codes(["bb", "aa", "dd", "c"])[0].tolist() == [1, 0, 3, 2]
    assert codes.codes(["ee", "dd", "f", "c"])[0].tolist() == [4, 3, 5, 2]
    assert codes.codes(["f", "ee", "bb"])[1] == []


def test_a_key_that_is_too_long_is_refused() -> None:
    with pytest.raises(RefusedError, match="has 256 characters"):
        MemberCodes([]).codes(["x" * 256])
