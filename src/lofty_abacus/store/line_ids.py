"""The line ids of what is posted: kept as hashes, in pieces beside the lines, and compared as text where a hash is the same.

An index on the texts would be paid by every line that is posted, and nobody asks for one of them: only whether any of many came
before.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass
from itertools import islice

import numpy as np
import pyarrow.compute as pc
from numpy.typing import NDArray
from sqlalchemy import Connection, bindparam, select, text

from lofty_abacus.ingest.table import TextColumn
from lofty_abacus.ingest.text_hashes import hashed
from lofty_abacus.store.line_tables import line_table
from lofty_abacus.store.tables import batch, line_id_piece

#: Lines that are read back at a time.
READ_AT_ONCE = 5_000

#: Line ids, piece by piece, as often as needed.
Pieces = Callable[[], Iterable[TextColumn]]


@dataclass(frozen=True)
class CountingId:
    """A line id that counts, and where it stands."""

    line: int
    text: str
    file: str
    row: int
    batch: int


@dataclass(frozen=True)
class _Hashes:
    """Hashes in ascending order (u64[n]), the lines that they stand on (i64[n]), and first and last text of each piece."""

    hashes: NDArray[np.uint64]
    lines: NDArray[np.int64]
    bounds: list[tuple[str, str]]

    def meets(self, first: str, last: str) -> bool:
        """Whether a stretch of texts can hold any of them."""
        return any(one <= last and first <= other for one, other in self.bounds)

    def lines_with(self, hashes: NDArray[np.uint64]) -> NDArray[np.int64]:
        """The lines that have one of some hashes, which are in ascending order."""
        if not len(hashes):
            return self.lines[:0]
        at = np.minimum(np.searchsorted(hashes, self.hashes), len(hashes) - 1)
        found: NDArray[np.int64] = self.lines[hashes[at] == self.hashes]
        return found


@dataclass(frozen=True)
class IdPiece:
    """The ids of some lines of a batch as they are kept: hashes in ascending order, places of the lines behind the first."""

    batch_id: int
    first_line: int
    first_id: str
    last_id: str
    hashes: bytes
    places: bytes


def ids_on_lines(batch_id: int, lines: NDArray[np.int64], ids: TextColumn) -> IdPiece | None:
    """The ids of some lines; None where all of them are blank. lines: i64[n], for the n records of the column."""
    filled, ends = ~ids.blank, _ends(ids)
    if ends is None or not filled.any():
        return None
    hashes, lines = ids.hashes[ids.codes[filled]], lines[filled]
    order = np.argsort(hashes, kind="stable")
    first = int(lines.min())
    return IdPiece(
        batch_id,
        first,
        *ends,
        hashes[order].astype("<u8").tobytes(),
        (lines[order] - first).astype("<u4").tobytes(),
    )


def write_piece(connection: Connection, piece: IdPiece) -> None:
    """Keep the ids of some lines."""
    connection.execute(line_id_piece.insert().values(**vars(piece)))


def posted_ids(connection: Connection, ledger_id: int, pieces: Pieces) -> Iterator[CountingId]:
    """Those of some line ids that count already. What lies in a stretch of texts where nothing is posted is not even hashed."""
    posted = _bounds_of(connection, ledger_id)
    hashes: list[NDArray[np.uint64]] = []
    bounds: list[tuple[str, str]] = []
    for column in pieces():
        own = _ends(column)
        if own is not None and any(first <= own[1] and own[0] <= last for *_, first, last in posted):
            hashes.append(np.unique(column.hashes[[text != "" for text in column.stripped]]))
            bounds.append(own)
    if not hashes:
        return
    mine = _Hashes(np.sort(np.concatenate(hashes)), np.empty(0, np.int64), bounds)
    found = list(_counting(connection, ledger_id, _lines_meeting(connection, mine, posted)))
    wanted = {each.text for each in found}
    asked = {text for column in pieces() for text in column.stripped if text in wanted} if wanted else set()
    yield from (each for each in found if each.text in asked)


def counts_twice(connection: Connection, ledger_id: int, batch_id: int) -> tuple[CountingId, CountingId] | None:
    """A counting line of a batch whose line id counts elsewhere, too, in it or in another: (it, the other); None for none."""
    own = _of_batch(connection, batch_id)
    again = own.hashes[1:][own.hashes[1:] == own.hashes[:-1]]
    first_of: dict[str, CountingId] = {}
    for each in _counting(connection, ledger_id, own.lines_with(again)):
        first = first_of.setdefault(each.text, each)
        if first is not each:
            return each, first
    posted = [each for each in _bounds_of(connection, ledger_id) if each[1] != batch_id]
    others = _counting(connection, ledger_id, _lines_meeting(connection, own, posted))
    # Most of what has the same hash counts no more: only what still does is looked up on this side.
    while some := {each.text: each for each in islice(others, READ_AT_ONCE)}:
        mine = own.lines_with(np.sort(hashed(list(some))))
        for each in _counting(connection, ledger_id, mine):
            if each.text in some:
                return each, some[each.text]
    return None


def _ends(ids: TextColumn) -> tuple[str, str] | None:
    """The first and the last of some texts, blank ones left out; None where all of them are."""
    found = pc.min_max(pc.if_else(pc.equal(ids.bare, ""), None, ids.bare)).as_py()
    return None if found["min"] is None else (found["min"], found["max"])


def _bounds_of(connection: Connection, ledger_id: int) -> list[tuple[int, int, str, str]]:
    """(number, batch, first and last text) of the pieces of batches that count."""
    piece = line_id_piece.c
    query = (
        select(piece.id, piece.batch_id, piece.first_id, piece.last_id)
        .join(batch, batch.c.id == piece.batch_id)
        .where(batch.c.ledger_id == ledger_id, batch.c.active)
        .order_by(piece.id)
    )
    return [(row[0], row[1], row[2], row[3]) for row in connection.execute(query)]


def _lines_meeting(connection: Connection, mine: _Hashes, posted: Sequence[tuple[int, int, str, str]]) -> NDArray[np.int64]:
    """The lines of posted pieces whose hash is one of mine: one piece in memory at a time."""
    found = [np.empty(0, np.int64)]
    for number, _, first, last in posted:
        if mine.meets(first, last):
            for other in _pieces(connection, line_id_piece.c.id == number):
                found.append(other.lines_with(mine.hashes))
    return np.sort(np.concatenate(found))


def _of_batch(connection: Connection, batch_id: int) -> _Hashes:
    parts = list(_pieces(connection, line_id_piece.c.batch_id == batch_id))
    hashes = np.concatenate([np.empty(0, np.uint64), *(each.hashes for each in parts)])
    lines = np.concatenate([np.empty(0, np.int64), *(each.lines for each in parts)])
    order = np.argsort(hashes, kind="stable")
    return _Hashes(hashes[order], lines[order], [bound for each in parts for bound in each.bounds])


def _pieces(connection: Connection, where: object) -> Iterator[_Hashes]:
    piece = line_id_piece.c
    query = select(piece.first_line, piece.first_id, piece.last_id, piece.hashes, piece.places).where(where)  # type: ignore[arg-type]
    for row in connection.execute(query.order_by(piece.id)):
        lines = np.frombuffer(row.places, "<u4").astype(np.int64) + row.first_line
        yield _Hashes(np.frombuffer(row.hashes, "<u8").astype(np.uint64), lines, [(row.first_id, row.last_id)])


def _counting(connection: Connection, ledger_id: int, lines: NDArray[np.int64]) -> Iterator[CountingId]:
    """Those of some lines that count, with the text of their id."""
    query = text(
        f"SELECT l.id, l.line_ref, b.file_name, l.file_row, l.batch_id FROM {line_table(ledger_id)} l"
        " JOIN batch b ON b.id = l.batch_id AND b.active WHERE l.id IN :ids AND l.excluded = 0"
    ).bindparams(bindparam("ids", expanding=True))
    for at in range(0, len(lines), READ_AT_ONCE):
        for row in connection.execute(query, {"ids": lines[at : at + READ_AT_ONCE].tolist()}):
            yield CountingId(int(row[0]), row[1], row[2], int(row[3]), int(row[4]))
