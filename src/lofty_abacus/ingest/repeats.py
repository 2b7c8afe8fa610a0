"""Texts that come more than once in a file of any length, found exactly and within eight bytes a row.

Every text is first known by a 64-bit hash. Hashes that came twice are suspects: only their rows are compared by text, in a second
pass, which is needed only where there are any.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from lofty_abacus.ingest.table import TextColumn, TextTable


class Repeats:
    """One pass over a file. suspects: hashes that a pass before found more than once; gather: whether to look for more."""

    def __init__(self, suspects: NDArray[np.int64] | None = None, *, gather: bool = True) -> None:
        self._gathers = gather
        self._suspects = np.empty(0, np.int64) if suspects is None else suspects
        self._hashes: list[NDArray[np.int64]] = []
        self._seen: set[str | tuple[str, ...]] = set()

    def of_column(self, column: TextColumn) -> NDArray[np.bool_]:
        """Which records of the next piece repeat a text that came before; blank texts never do. bool[n]."""
        if not self._looks:
            return np.zeros(len(column.codes), bool)
        texts = column.stripped
        hashes = column.hashes.view(np.int64)[column.codes]
        filled = ~column.blank
        if self._gathers:
            self._hashes.append(hashes[filled])
        doubtful = np.flatnonzero(filled & np.isin(hashes, self._suspects))
        return self._again(len(hashes), doubtful, [texts[column.codes[at]] for at in doubtful.tolist()])

    def of_rows(self, table: TextTable) -> NDArray[np.bool_]:
        """Which records of the next piece repeat a whole record that came before. bool[n]."""
        if not self._looks:
            return np.zeros(len(table), bool)
        hashes = np.zeros(len(table), np.int64)
        for column in table.columns:
            hashes = hashes * 1_000_003 ^ (_hashes(column.texts)[column.codes] if column.texts else 0)
        if self._gathers:
            self._hashes.append(hashes)
        doubtful = np.flatnonzero(np.isin(hashes, self._suspects))
        return self._again(len(hashes), doubtful, [tuple(table.fields(at)) for at in doubtful.tolist()])

    def suspects(self) -> NDArray[np.int64]:
        """Hashes that came more than once, ascending; asked once, when a pass ends. One that began with them saw all."""
        if not self._hashes:
            return self._suspects
        every = np.concatenate(self._hashes)
        # The pass is over: what it gathered is not needed twice.
        self._hashes = []
        every.sort()
        twice = every[1:][every[1:] == every[:-1]]
        return np.unique(twice)

    @property
    def known(self) -> NDArray[np.int64]:
        """The hashes that this pass began with."""
        return self._suspects

    @property
    def _looks(self) -> bool:
        """Whether there is anything to be found: a pass that gathers nothing and suspects nothing needs no hashes."""
        return self._gathers or bool(len(self._suspects))

    def _again(self, count: int, doubtful: NDArray[np.int64], texts: Sequence[str | tuple[str, ...]]) -> NDArray[np.bool_]:
        found = np.zeros(count, bool)
        for at, text in zip(doubtful.tolist(), texts, strict=True):
            found[at] = text in self._seen
            self._seen.add(text)
        return found


def _hashes(texts: Sequence[str]) -> NDArray[np.int64]:
    return np.fromiter(map(hash, texts), np.int64, len(texts))
