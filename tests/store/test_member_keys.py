"""Keys of members by hash against MariaDB's own comparison of their texts."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager

import numpy as np
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from sqlalchemy import Connection, bindparam, text

from lofty_abacus.actions.ports import Office
from lofty_abacus.store import member_keys, members
from lofty_abacus.store.books import MariaDbBooks
from lofty_abacus.store.member_keys import KnownKeys, join_key_pieces
from lofty_abacus.store.members import add_members, find_codes, make_dimension, member_count, settle_members

keys = st.one_of(
    st.sampled_from(["a", "b", "B", "e\u0301", "\u00e9", "a ", "10", "9", "\U0001f600", 'say "a"', "tab\t", "back\\slash"]),
    st.text("abz-0\n", min_size=1, max_size=3),
)
pieces = st.lists(st.lists(keys, max_size=6), max_size=6)


@pytest.fixture(autouse=True)
def every_dimension_is_large(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(members, "FEW_MEMBERS", 0)


@contextmanager
def dimension(office: Office, ledger: str) -> Iterator[tuple[Connection, int]]:
    """A dimension without members, seen by one connection only."""
    assert isinstance(office.books, MariaDbBooks)
    number = office.books.ledger(ledger).id
    with office.books.engine.connect() as connection:
        yield connection, make_dimension(connection, number, "kept apart", None, None, 1)
        connection.rollback()


def add(connection: Connection, number: int, given: list[str]) -> list[str]:
    """Those of some keys that are new become members, as a posting has it."""
    first = member_count(connection, number)
    new = [key for key in dict.fromkeys(given) if key not in find_codes(connection, number, given)]
    add_members(connection, number, first, new)
    settle_members(connection, number, first + len(new))
    return new


def by_text(connection: Connection, number: int, asked: list[str]) -> dict[str, int]:
    """The codes of some keys, as MariaDB finds them."""
    query = text("SELECT member_key, code FROM member WHERE dimension_id = :number AND member_key IN :asked")
    rows = connection.execute(query.bindparams(bindparam("asked", expanding=True)), {"number": number, "asked": asked})
    return {row[0]: row[1] for row in rows}


@pytest.mark.parametrize("clashing", [False, True], ids=["hashes as they are", "hashes that clash"])
# Each example ends with a rollback: none sees another's members.
@settings(max_examples=40, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(held=pieces, asked=pieces, joined=st.sampled_from([0, 4, 50_000]))
def test_keys_are_found_as_by_their_texts(
    office: Office, ledger: str, clashing: bool, held: list[list[str]], asked: list[list[str]], joined: int
) -> None:
    with pytest.MonkeyPatch.context() as patch, dimension(office, ledger) as (connection, number):
        patch.setattr(member_keys, "MOST_JOINED", joined)
        patch.setattr(member_keys, "PIECES_ASKED", 2)
        patch.setattr(member_keys, "ASKED", 3)
        if clashing:
            patch.setattr(member_keys, "hashed", lambda texts: np.array([len(each) % 2 for each in texts], np.uint64))
        every: list[str] = []
        for piece in held:
            every += add(connection, number, piece)
        assert len(every) == len(set(every))
        known = KnownKeys(connection, number, member_count(connection, number))
        for some in asked:
            wanted = [*some, ""]
            assert known.codes(wanted) == by_text(connection, number, wanted)
            patch.setattr(members, "FEW_MEMBERS", 500)
            assert find_codes(connection, number, wanted) == known.codes(wanted), "all of few are read"
        assert known.codes(every) == {key: at for at, key in enumerate(every, start=1)}


def test_pieces_that_are_joined_while_somebody_looks_keys_up_lose_none(
    office: Office, ledger: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    with dimension(office, ledger) as (connection, number):
        monkeypatch.setattr(member_keys, "MOST_JOINED", 0)
        for at in range(4):
            add(connection, number, [f"K{at}{each}" for each in range(10)])
        known = KnownKeys(connection, number, member_count(connection, number))
        assert known.codes(["K05", "K99"]) == {"K05": 6}
        monkeypatch.setattr(member_keys, "MOST_JOINED", 1000)
        join_key_pieces(connection, number, 41)
        pieces = connection.exec_driver_sql(
            f"SELECT first_code, members FROM member_key_piece WHERE dimension_id = {number}"
        ).all()
        assert pieces == [(1, 40)]
        assert known.codes(["K05", "K39", "K99", "K20"]) == {"K05": 6, "K39": 40, "K20": 21}


def test_pieces_stay_few_and_small(office: Office, ledger: str, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(member_keys, "MOST_JOINED", 64)
    with dimension(office, ledger) as (connection, number):
        for at in range(200):
            add(connection, number, [f"N{at}", f"M{at}"] if at % 3 else [f"N{at}"])
        sizes = connection.exec_driver_sql(f"SELECT members FROM member_key_piece WHERE dimension_id = {number}").scalars().all()
        assert sum(sizes) == member_count(connection, number) - 1 == 333
        assert max(sizes) <= 64 and len(sizes) <= 16


def test_what_a_posting_that_never_ended_left_is_no_member(office: Office, ledger: str) -> None:
    with dimension(office, ledger) as (connection, number):
        add(connection, number, ["A1", "A2"])
        add_members(connection, number, 3, ["A3", "A4"])
        # A posting that brings no new member of it leaves that where it is.
        settle_members(connection, number, 3)
        kept = connection.exec_driver_sql(f"SELECT first_code, members FROM member_key_piece WHERE dimension_id = {number}")
        assert kept.all() == [(1, 2), (3, 2)]
        assert find_codes(connection, number, ["A1", "A2", "A3", "A4"]) == {"A1": 1, "A2": 2}
        assert add(connection, number, ["A4", "A5", "A3"]) == ["A4", "A5", "A3"]
        assert find_codes(connection, number, ["A5", "A3", "A4"]) == {"A4": 3, "A5": 4, "A3": 5}
        left = connection.exec_driver_sql(f"SELECT SUM(members) FROM member_key_piece WHERE dimension_id = {number}").scalar()
        assert left == 5
