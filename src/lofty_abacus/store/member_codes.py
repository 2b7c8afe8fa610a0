"""The codes of a dimension's members during a posting: exact, for millions of keys, within some thirty bytes a key."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence

import connectorx
import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from numpy.typing import NDArray
from sqlalchemy import Connection, select

from lofty_abacus.actions.errors import RefusedError
from lofty_abacus.store.engine import bare_url
from lofty_abacus.store.member_keys import KnownKeys
from lofty_abacus.store.tables import member

LONGEST_KEY = 255
#: Members up to which all of them are read.
MANY = 5_000
#: One in so many members at most is looked up where they are.
FEW_OF = 8
#: Keys that are read into Python at a time.
SLICE = 100_000
#: Stretches of keys that are kept side by side; new keys come in small ones.
MOST_STRETCHES = 24
LARGE = 1_000_000


#: The codes of those of some keys that are members.
LookUp = Callable[[Sequence[str]], Mapping[str, int]]


class MemberCodes:
    """Codes by key. Keys are found by a 64-bit hash and then compared as text; keys whose hashes clash are kept apart."""

    def __init__(self, keys: Sequence[str | None] | pa.Array) -> None:
        """keys: those of the members that there are, in code order (None: a level's not-mapped member, which no key finds)."""
        known = keys if isinstance(keys, pa.Array) else pa.array(keys, pa.string())
        self._keys = pa.chunked_array([known])
        parts = [_hashes(known.slice(at, SLICE).fill_null("").to_pylist()) for at in range(0, len(known), SLICE)]
        codes = np.flatnonzero(known.is_valid().to_numpy(zero_copy_only=False)).astype(np.uint32)
        hashes = np.concatenate(parts)[codes] if parts else np.empty(0, np.int64)
        self._clashing: dict[str, int] = {}
        self._levels = [self._sorted(hashes, codes)]

    def __len__(self) -> int:
        return len(self._keys)

    def codes(self, keys: Sequence[str]) -> tuple[NDArray[np.uint32], list[str]]:
        """(code of each key: u32, the keys that are new, in the order of the codes they were given). keys: each different.

        Raises RefusedError for a key that is too long.
        """
        refuse_long(keys)
        hashes = _hashes(keys)
        found = np.full(len(keys), -1, np.int64)
        for level_hashes, level_codes in self._levels:
            self._find(keys, hashes, found, level_hashes, level_codes)
        if self._clashing:
            for each in np.flatnonzero(found < 0).tolist():
                found[each] = self._clashing.get(keys[each], -1)
        new = np.flatnonzero(found < 0)
        found[new] = np.arange(len(self), len(self) + len(new))
        fresh = [keys[each] for each in new.tolist()]
        if fresh:
            self._add(fresh, hashes[new], found[new].astype(np.uint32))
        return found.astype(np.uint32), fresh

    def keys(self, codes: NDArray[np.intp]) -> list[str]:
        """The keys of some codes."""
        found: list[str] = self._keys.take(pa.array(codes)).to_pylist()
        return found

    def _find(
        self,
        keys: Sequence[str],
        hashes: NDArray[np.int64],
        found: NDArray[np.int64],
        level_hashes: NDArray[np.int64],
        level_codes: NDArray[np.uint32],
    ) -> None:
        """Fill in the codes of those keys that a level knows and none before it did."""
        open_ones = np.flatnonzero(found < 0)
        if not len(level_hashes) or not len(open_ones):
            return
        at = np.minimum(np.searchsorted(level_hashes, hashes[open_ones]), len(level_hashes) - 1)
        is_hit = level_hashes[at] == hashes[open_ones]
        hit, codes = open_ones[is_hit], level_codes[at[is_hit]]
        if not len(hit):
            return
        same = pc.equal(self._keys.take(pa.array(codes)), pa.array([keys[each] for each in hit.tolist()], pa.string()))
        same_too = np.asarray(same.combine_chunks().to_numpy(zero_copy_only=False), bool)
        found[hit[same_too]] = codes[same_too]

    def _add(self, keys: list[str], hashes: NDArray[np.int64], codes: NDArray[np.uint32]) -> None:
        chunks = [*self._keys.chunks, pa.array(keys, pa.string())]
        if len(chunks) > MOST_STRETCHES:
            # The few large ones stay as they are; the many small ones become one.
            chunks = [chunks[0], pa.concat_arrays(chunks[1:])] if len(chunks[0]) > LARGE else [pa.concat_arrays(chunks)]
        self._keys = pa.chunked_array(chunks)
        self._levels.append(self._sorted(hashes, codes))
        # Each is more than twice as long as the one after it: there are few, and a key is seldom sorted again.
        while len(self._levels) > 1 and len(self._levels[-2][0]) <= 2 * len(self._levels[-1][0]):
            merged = self._levels[-2:]
            together = self._sorted(np.concatenate([each for each, _ in merged]), np.concatenate([each for _, each in merged]))
            self._levels[-2:] = [together]

    def _sorted(self, hashes: NDArray[np.int64], codes: NDArray[np.uint32]) -> tuple[NDArray[np.int64], NDArray[np.uint32]]:
        """Hashes in ascending order with their codes; of several with one hash the first is found by it, the others by text."""
        order = np.argsort(hashes, kind="stable")
        hashes, codes = hashes[order], codes[order]
        again = np.flatnonzero(hashes[1:] == hashes[:-1]) + 1
        if len(again):
            texts = self._keys.take(pa.array(codes[again])).to_pylist()
            self._clashing.update(dict(zip(texts, codes[again].tolist(), strict=True)))
        return hashes, codes


class SomeCodes:
    """Codes by key of a dimension with very many members: those that come are looked up, the others stay where they are.

    Where too many have to be looked up one by one, all of them are read after all.
    """

    def __init__(self, count: int, look_up: LookUp, every: Callable[[], MemberCodes]) -> None:
        """count: how many members there are, as committed; every: all of them."""
        self._count, self._known, self._look_up, self._read_all = count, count, look_up, every
        #: Keys that came, in their order, and the code of each.
        self._seen = MemberCodes([])
        self._code_of = np.empty(0, np.uint32)
        self._looked_up = 0
        self._every: MemberCodes | None = None

    def __len__(self) -> int:
        return self._count if self._every is None else len(self._every)

    def codes(self, keys: Sequence[str]) -> tuple[NDArray[np.uint32], list[str]]:
        """As of `MemberCodes`."""
        if self._every is not None:
            return self._every.codes(keys)
        places, unseen = self._seen.codes(keys)
        found = self._look_up(unseen)
        self._looked_up += len(found)
        codes = np.fromiter((found.get(key, -1) for key in unseen), np.int64, len(unseen))
        new = np.flatnonzero(codes < 0)
        codes[new] = np.arange(self._count, self._count + len(new))
        self._count += len(new)
        self._code_of = np.concatenate([self._code_of, codes.astype(np.uint32)])
        if self._looked_up * FEW_OF > self._known:
            self._every = self._all()
        return self._code_of[places], [unseen[at] for at in new.tolist()]

    def _all(self) -> MemberCodes:
        """All members, with those that this posting has added so far."""
        every = self._read_all()
        own = np.flatnonzero(self._code_of >= self._known)
        own = own[np.argsort(self._code_of[own])]
        for at in range(0, len(own), SLICE):
            every.codes(self._seen.keys(own[at : at + SLICE]))
        return every


def refuse_long(keys: Sequence[str]) -> None:
    """Raises RefusedError for a key that is too long."""
    if max(map(len, keys), default=0) > LONGEST_KEY:
        key = next(each for each in keys if len(each) > LONGEST_KEY)
        raise RefusedError(f"{key[:40]!r}... has {len(key)} characters; a member has at most {LONGEST_KEY}.")


def member_codes(
    connection: Connection, dimension_id: int, count: int, asked: Connection | None = None
) -> MemberCodes | SomeCodes:
    """The members that a dimension has. count: how many there are, as committed.

    asked: a connection over which some of very many are looked up, this one if it is left out: it may be loading lines meanwhile.
    """
    if count > MANY:
        url = bare_url(connection.engine.url.render_as_string(hide_password=False))
        query = f"SELECT member_key FROM member WHERE dimension_id = {int(dimension_id)} AND code < {count} ORDER BY code"

        def every() -> MemberCodes:
            # Over a connection of its own: this one may be loading lines.
            return MemberCodes(connectorx.read_sql(url, query, return_type="arrow").column(0).combine_chunks().cast(pa.string()))

        return SomeCodes(count, KnownKeys(asked or connection, dimension_id, count).codes, every)
    keys = select(member.c.member_key).where(member.c.dimension_id == dimension_id, member.c.code < count).order_by(member.c.code)
    return MemberCodes(list(connection.execute(keys).scalars()))


def _hashes(keys: Sequence[str]) -> NDArray[np.int64]:
    return np.fromiter(map(hash, keys), np.int64, len(keys))
