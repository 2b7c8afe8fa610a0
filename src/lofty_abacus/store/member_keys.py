"""The keys of members: kept as hashes, in pieces beside the members, and compared as text where a hash is the same.

An index on the texts would be paid by every member that is new, and nobody asks for one of them: only which of many there are.
That a key is given out once is held by whoever adds members, who has the ledger's posting lock.
"""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from numpy.typing import NDArray
from sqlalchemy import Connection, select

from lofty_abacus.core.lines import BLANK
from lofty_abacus.ingest.text_hashes import hashed
from lofty_abacus.store.tables import member, member_key_piece

#: Members whose keys are joined to one piece at most.
MOST_JOINED = 50_000
#: Members that are read at a time, and pieces.
ASKED, PIECES_ASKED = 2_000, 16


@dataclass(frozen=True)
class _Piece:
    """Where a piece stands: its first code, and between which keys those of each length lie."""

    first: int
    bounds: Sequence[tuple[int, str, str]]

    def meets(self, keys: Mapping[int, Sequence[str]]) -> bool:
        """Whether any of some keys, in ascending order by their length, lies between its own."""
        return any(
            bisect_left(keys[length], first) < bisect_right(keys[length], last)
            for length, first, last in self.bounds
            if length in keys
        )


@dataclass(frozen=True)
class _Hashes:
    """Hashes in ascending order (u64[n]) and the codes of their members (u32[n])."""

    hashes: NDArray[np.uint64]
    codes: NDArray[np.uint32]

    @classmethod
    def sorted(cls, hashes: NDArray[np.uint64], codes: NDArray[np.uint32]) -> _Hashes:
        """In order."""
        order = np.argsort(hashes, kind="stable")
        return cls(hashes[order], codes[order])

    def codes_with(self, hashes: NDArray[np.uint64]) -> NDArray[np.uint32]:
        """The codes of all members that have one of some hashes, which are each different."""
        first, end = (np.searchsorted(self.hashes, hashes, side) for side in ("left", "right"))
        several = np.flatnonzero(end > first)
        counts = (end - first)[several]
        behind = np.arange(counts.sum()) - np.repeat(np.cumsum(counts) - counts, counts)
        found: NDArray[np.uint32] = self.codes[np.repeat(first[several], counts) + behind]
        return found


class KnownKeys:
    """The codes of a dimension's members by key. What was read is kept, 12 bytes a member, as long as this is."""

    def __init__(self, connection: Connection, dimension_id: int, count: int) -> None:
        """count: how many members there are, as committed. Nothing is read before it is asked for."""
        self._connection, self._dimension_id, self._count = connection, dimension_id, count
        self._unread: list[_Piece] | None = None
        self._levels: list[_Hashes] = []

    def codes(self, keys: Sequence[str]) -> dict[str, int]:
        """The codes of those keys that are members. A piece is read where a key lies between its own of the same length."""
        asked = set(keys)
        by_length: dict[int, list[str]] = defaultdict(list)
        for key in sorted(asked - {""}):
            by_length[len(key)].append(key)
        while not self._has_read(by_length):
            # Pieces were joined meanwhile: where they stand is to be read again.
            self._unread, self._levels = None, []
        mine = np.unique(hashed(list(asked))) if self._levels else np.empty(0, np.uint64)
        found: dict[str, int] = {"": BLANK} if "" in asked else {}
        codes = [each.codes_with(mine) for each in self._levels]
        near = np.unique(np.concatenate(codes)) if codes else np.empty(0, np.uint32)
        # Keys of codes beyond were left by a posting that never ended.
        for key, code in self._keys_of(near[near < self._count]):
            if key in asked:
                found[key] = code
        return found

    def _has_read(self, keys: Mapping[int, Sequence[str]]) -> bool:
        """Read those pieces that some keys meet; False where one is not there any more."""
        piece = member_key_piece.c
        own = piece.dimension_id == self._dimension_id
        if self._unread is None:
            stands = select(piece.first_code, piece.bounds).where(own, piece.first_code < self._count)
            self._unread = [_Piece(row[0], row[1]) for row in self._connection.execute(stands)]
        met = [each.first for each in self._unread if each.meets(keys)]
        if not met:
            return True
        hashes, codes = [], []
        for at in range(0, len(met), PIECES_ASKED):
            some = met[at : at + PIECES_ASKED]
            query = select(piece.first_code, piece.hashes, piece.places).where(own, piece.first_code.in_(some))
            rows = self._connection.execute(query).all()
            if len(rows) < len(some):
                return False
            hashes += [np.frombuffer(row.hashes, "<u8").astype(np.uint64) for row in rows]
            codes += [np.frombuffer(row.places, "<u4").astype(np.uint32) + np.uint32(row.first_code) for row in rows]
        self._levels.append(_Hashes.sorted(np.concatenate(hashes), np.concatenate(codes)))
        # Each is more than twice as long as the one after it: there are few, and a hash is seldom put in order again.
        while len(self._levels) > 1 and len(self._levels[-2].hashes) <= 2 * len(self._levels[-1].hashes):
            one, other = self._levels[-2:]
            joined = np.concatenate([one.hashes, other.hashes]), np.concatenate([one.codes, other.codes])
            self._levels[-2:] = [_Hashes.sorted(*joined)]
        known = set(met)
        self._unread = [each for each in self._unread if each.first not in known]
        return True

    def _keys_of(self, codes: NDArray[np.uint32]) -> list[tuple[str, int]]:
        found: list[tuple[str, int]] = []
        for at in range(0, len(codes), ASKED):
            query = select(member.c.member_key, member.c.code).where(
                member.c.dimension_id == self._dimension_id, member.c.code.in_(codes[at : at + ASKED].tolist())
            )
            found += [(row[0], row[1]) for row in self._connection.execute(query)]
        return found


def write_key_piece(connection: Connection, dimension_id: int, first: int, keys: pa.Array) -> None:
    """Keep the keys of members from a code on. keys: strings, each different, none of them blank."""
    _keep(connection, dimension_id, first, _bounds(keys), hashed(keys.to_pylist()), np.arange(len(keys), dtype=np.uint32))


def drop_key_pieces(connection: Connection, dimension_id: int, first: int) -> None:
    """Throw away what is kept of the keys of members from a code on."""
    piece = member_key_piece.c
    connection.execute(member_key_piece.delete().where(piece.dimension_id == dimension_id, piece.first_code >= first))


def join_key_pieces(connection: Connection, dimension_id: int, count: int) -> None:
    """Join the last pieces of the first `count` members to one where they are small.

    A piece is joined to what comes after it unless it is twice as large.
    """
    piece = member_key_piece.c
    # What a posting that never ended left beyond is no part of them.
    own = (piece.dimension_id == dimension_id) & (piece.first_code < count)
    sizes = connection.execute(select(piece.first_code, piece.members).where(own).order_by(piece.first_code.desc())).all()
    joined = first = size = 0
    for start, members in sizes:
        if joined and (members > 2 * size or size + members > MOST_JOINED):
            break
        joined, first, size = joined + 1, start, size + members
    if joined < 2:
        return
    rows = connection.execute(
        select(piece.first_code, piece.bounds, piece.hashes, piece.places).where(own, piece.first_code >= first)
    ).all()
    hashes = np.concatenate([np.frombuffer(row.hashes, "<u8") for row in rows])
    places = np.concatenate([np.frombuffer(row.places, "<u4") + np.uint32(row.first_code - first) for row in rows])
    bounds: dict[int, tuple[str, str]] = {}
    for length, least, most in (bound for row in rows for bound in row.bounds):
        known = bounds.get(length, (least, most))
        bounds[length] = min(known[0], least), max(known[1], most)
    drop_key_pieces(connection, dimension_id, first)
    together: list[list[int | str]] = [[length, *ends] for length, ends in sorted(bounds.items())]
    _keep(connection, dimension_id, first, together, hashes, places)


def _keep(
    connection: Connection,
    dimension_id: int,
    first: int,
    bounds: list[list[int | str]],
    hashes: NDArray[np.uint64],
    places: NDArray[np.uint32],
) -> None:
    """Write a piece. hashes: u64[n], in any order; places: u32[n], where their members stand behind the first."""
    order = np.argsort(hashes, kind="stable")
    values = {
        "dimension_id": dimension_id,
        "first_code": first,
        "members": len(hashes),
        "bounds": bounds,
        "hashes": hashes[order].astype("<u8").tobytes(),
        "places": places[order].astype("<u4").tobytes(),
    }
    connection.execute(member_key_piece.insert().values(**values))


def _bounds(keys: pa.Array) -> list[list[int | str]]:
    """[length, first, last] of the keys of each length."""
    lengths = pc.utf8_length(keys)
    found: list[list[int | str]] = []
    for length in sorted(pc.unique(lengths).to_pylist()):
        ends = pc.min_max(keys.filter(pc.equal(lengths, length))).as_py()
        found.append([length, ends["min"], ends["max"]])
    return found
