"""Line ids by hash against MariaDB's own comparison of their texts."""

from __future__ import annotations

import itertools
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from typing import NamedTuple

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from sqlalchemy import Connection

from lofty_abacus.actions.ports import Office
from lofty_abacus.ingest import table
from lofty_abacus.ingest.table import TextColumn
from lofty_abacus.store import line_ids
from lofty_abacus.store.books import MariaDbBooks
from lofty_abacus.store.line_ids import CountingId, counts_twice, ids_on_lines, posted_ids, write_piece

#: Far from any ledger that tests make.
LEDGER = 9_000_000
_numbers = itertools.count(1)


class _Batch(NamedTuple):
    """Pieces of line ids ('' for none), those lines that another batch took the place of, and whether the batch counts."""

    pieces: list[list[str]]
    excluded: set[int]
    active: bool


ids = st.one_of(st.just(""), st.sampled_from(["a", "b", "B", "é", "a ", "10", "9", "\U0001f600"]), st.text("abz-0", max_size=3))
batches = st.lists(
    st.builds(
        _Batch,
        st.lists(st.lists(ids, max_size=6), min_size=1, max_size=3),
        st.sets(st.integers(0, 8), max_size=3),
        st.sampled_from([True, True, True, False]),
    ),
    min_size=1,
    max_size=4,
)


def column_of(texts: Sequence[str]) -> TextColumn:
    """Line ids as they come from a file."""
    different = list(dict.fromkeys(texts))
    return TextColumn("line", different, np.array([different.index(each) for each in texts], np.uint32), clean=True)


@contextmanager
def _posted(office: Office, held: Sequence[_Batch]) -> Iterator[tuple[Connection, list[int]]]:
    """Batches with such lines in a ledger of their own, seen by one connection only."""
    assert isinstance(office.books, MariaDbBooks)
    with office.books.engine.connect() as connection:
        table = f"line_{LEDGER}"
        connection.exec_driver_sql(
            f"CREATE TEMPORARY TABLE {table} (id BIGINT PRIMARY KEY, batch_id INT, file_row INT, line_ref VARCHAR(255),"
            " excluded TINYINT) CHARSET=utf8mb4 COLLATE utf8mb4_nopad_bin"
        )
        connection.exec_driver_sql(f"DELETE FROM batch WHERE ledger_id = {LEDGER}")
        connection.exec_driver_sql("SET foreign_key_checks = 0")
        try:
            line, numbers = 0, []
            for each in held:
                number = 8_000_000 + next(_numbers)
                numbers.append(number)
                connection.exec_driver_sql(
                    "INSERT INTO batch (id, ledger_id, mapping_id, posted_version, active, posted_at, file_name, file_hash,"
                    " line_count, left_out_count, amount_total, sale_lines, return_lines, has_quantity, has_cost, posted_by, reason)"
                    f" VALUES ({number}, {LEDGER}, 0, 1, {int(each.active)}, NOW(), 'file {number}', 'h', 0, 0, 0, 0, 0, 0, 0, '', '')"
                )
                own = 0
                for piece in each.pieces:
                    for at, text in enumerate(piece):
                        connection.exec_driver_sql(
                            f"INSERT INTO {table} VALUES (%s, %s, %s, %s, %s)",
                            (line + at, number, own + at, text or None, int(own + at in each.excluded)),
                        )
                    texts = sorted(set(piece))
                    codes = np.array([texts.index(text) for text in piece], np.uint32)
                    kept = ids_on_lines(number, np.arange(line, line + len(piece)), TextColumn("id", texts, codes, clean=True))
                    assert (kept is None) == (not any(piece))
                    if kept is not None:
                        write_piece(connection, kept)
                    line, own = line + len(piece), own + len(piece)
            yield connection, numbers
        finally:
            connection.rollback()
            connection.exec_driver_sql(f"DROP TEMPORARY TABLE {table}")
            connection.exec_driver_sql("SET foreign_key_checks = 1")


_COUNTING = (
    f"SELECT l.id, l.line_ref, b.file_name, l.file_row, l.batch_id FROM line_{LEDGER} l"
    " JOIN batch b ON b.id = l.batch_id AND b.active WHERE l.excluded = 0 AND l.line_ref IS NOT NULL"
)


@pytest.mark.parametrize("clashing", [False, True], ids=["hashes as they are", "hashes that clash"])
@settings(max_examples=60)
@given(held=batches, asked=st.lists(st.lists(ids, max_size=5), max_size=3))
def test_ids_that_count_are_found_as_by_their_texts(
    office: Office, clashing: bool, held: list[_Batch], asked: list[list[str]]
) -> None:
    with pytest.MonkeyPatch.context() as patch:
        if clashing:
            for each in (line_ids, table):
                patch.setattr(each, "hashed", lambda texts: np.array([len(each) % 2 for each in texts], np.uint64))
        with _posted(office, held) as (connection, numbers):
            rows = [CountingId(*row) for row in connection.exec_driver_sql(_COUNTING)]
            wanted = {text for piece in asked for text in piece if text}
            found = list(posted_ids(connection, LEDGER, lambda: map(column_of, asked)))
            assert sorted(found, key=lambda each: each.line) == [each for each in rows if each.text in wanted]
            for number in numbers:
                twice = {
                    (one.line, other.line)
                    for one in rows
                    for other in rows
                    if one.batch == number and one.line != other.line and one.text == other.text
                }
                pair = counts_twice(connection, LEDGER, number)
                assert (pair is None) == (not twice)
                assert pair is None or (pair[0].line, pair[1].line) in twice


def test_what_lies_where_nothing_is_posted_is_not_even_hashed(office: Office, monkeypatch: pytest.MonkeyPatch) -> None:
    with _posted(office, [_Batch([["L-10", "L-19"], ["L-20", "L-29"]], set(), True)]) as (connection, _):
        asked: list[str] = []
        known = table.hashed
        monkeypatch.setattr(table, "hashed", lambda texts: (asked.extend(texts), known(texts))[1])
        assert list(posted_ids(connection, LEDGER, lambda: map(column_of, [["L-30", "L-39"], ["K-99"], [], [""]]))) == []
        assert asked == []
        found = list(posted_ids(connection, LEDGER, lambda: [column_of(["L-15", "", "L-20"])]))
        assert [(each.text, each.line) for each in found] == [("L-20", 2)]
        assert sorted(asked) == ["", "L-15", "L-20"]
