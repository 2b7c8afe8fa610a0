"""The codes of a dimension's members during a posting: exact, for millions of keys, within some thirty bytes a key."""

from __future__ import annotations

from collections.abc import Sequence

import connectorx
import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from numpy.typing import NDArray
from sqlalchemy import Connection, select

from lofty_abacus.actions.errors import RefusedError
from lofty_abacus.store.engine import bare_url
from lofty_abacus.store.tables import dimension, member

LONGEST_KEY = 255
#: Members beyond which they are read over a connection made for bulk.
MANY = 50_000
#: Keys that are read into Python at a time.
SLICE = 100_000


class MemberCodes:
    """Codes by key. Keys are found by a 64-bit hash and then compared as text; keys whose hashes clash are kept apart."""

    def __init__(self, keys: Sequence[str | None] | pa.Array) -> None:
        """keys: those of the members that there are, in code order (None: a level's not-mapped member, which no key finds)."""
        known = keys if isinstance(keys, pa.Array) else pa.array(keys, pa.string())
        self._keys = pa.chunked_array([known])
        parts = [_hashes(known.slice(at, SLICE).fill_null("").to_pylist()) for at in range(0, len(known), SLICE)]
        codes = np.flatnonzero(known.is_valid().to_numpy(zero_copy_only=False)).astype(np.uint32)
        hashes = np.concatenate(parts)[codes] if parts else np.empty(0, np.int64)
        order = np.argsort(hashes, kind="stable")
        self._hashes, self._codes = hashes[order], codes[order]
        again = np.flatnonzero(self._hashes[1:] == self._hashes[:-1]) + 1
        self._clashing: dict[str, int] = {known[code].as_py(): code for code in self._codes[again].tolist()}

    def __len__(self) -> int:
        return len(self._keys)

    def codes(self, keys: Sequence[str]) -> tuple[NDArray[np.uint32], list[str]]:
        """(code of each key: u32, the keys that are new, in the order of the codes they were given). keys: each different.

        Raises RefusedError for a key that is too long.
        """
        for key in keys:
            if len(key) > LONGEST_KEY:
                raise RefusedError(f"{key[:40]!r}... has {len(key)} characters; a member has at most {LONGEST_KEY}.")
        hashes = _hashes(keys)
        found = np.full(len(keys), -1, np.int64)
        if len(self._hashes):
            at = np.minimum(np.searchsorted(self._hashes, hashes), len(self._hashes) - 1)
            hit = np.flatnonzero(self._hashes[at] == hashes)
            codes = self._codes[at[hit]]
            same = pc.equal(self._keys.take(pa.array(codes)), pa.array([keys[each] for each in hit.tolist()], pa.string()))
            same_too = np.asarray(same.combine_chunks().to_numpy(zero_copy_only=False), bool) if len(hit) else np.empty(0, bool)
            found[hit[same_too]] = codes[same_too]
        if self._clashing:
            for each in np.flatnonzero(found < 0).tolist():
                found[each] = self._clashing.get(keys[each], -1)
        new = np.flatnonzero(found < 0)
        found[new] = np.arange(len(self), len(self) + len(new))
        fresh = [keys[each] for each in new.tolist()]
        if fresh:
            self._add(fresh, hashes[new], found[new].astype(np.uint32))
        return found.astype(np.uint32), fresh

    def _add(self, keys: list[str], hashes: NDArray[np.int64], codes: NDArray[np.uint32]) -> None:
        chunks = [*self._keys.chunks, pa.array(keys, pa.string())]
        self._keys = pa.chunked_array([pa.concat_arrays(chunks)] if len(chunks) > 8 else chunks)
        every = np.concatenate([self._hashes, hashes])
        order = np.argsort(every, kind="stable")
        self._hashes, self._codes = every[order], np.concatenate([self._codes, codes])[order]
        # Of keys with one hash the first stays to be found by it; the later ones are kept by text.
        clash = np.flatnonzero(self._hashes[1:] == self._hashes[:-1]) + 1
        if len(clash):
            fresh = dict(zip(codes.tolist(), keys, strict=True))
            self._clashing.update({fresh[code]: code for code in self._codes[clash].tolist() if code in fresh})


def member_codes(connection: Connection, dimension_id: int) -> MemberCodes:
    """The members that a dimension has, as committed."""
    count = int(connection.execute(select(dimension.c.member_count).where(dimension.c.id == dimension_id)).scalar_one())
    if count > MANY:
        url = bare_url(connection.engine.url.render_as_string(hide_password=False))
        query = f"SELECT member_key FROM member WHERE dimension_id = {int(dimension_id)} AND code < {count} ORDER BY code"
        return MemberCodes(connectorx.read_sql(url, query, return_type="arrow").column(0).combine_chunks().cast(pa.string()))
    keys = select(member.c.member_key).where(member.c.dimension_id == dimension_id, member.c.code < count).order_by(member.c.code)
    return MemberCodes(list(connection.execute(keys).scalars()))


def _hashes(keys: Sequence[str]) -> NDArray[np.int64]:
    return np.fromiter(map(hash, keys), np.int64, len(keys))
