"""Totals of a part of the lines, as plain data: what several parts give is merged exactly, in any order and any grouping.

A part may be a thread's share, some segments, or lines that another process holds. Sums are added; different ids are counted
where they can be in no other part, and handed on one by one where they can: nothing is estimated.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from functools import reduce
from typing import Any

import numpy as np
from numpy.typing import NDArray

from lofty_abacus.core.measures.sums import DistinctIds

#: One reading of the lines: the column that is added, and the columns a line must have to be read.
Pass = tuple[str, tuple[str, ...]]
#: Per pass, sums by [window or cut, cell, side, (sum, count)] or with a third entry for the low word.
PassSums = Mapping[Pass, NDArray[np.int64]]

Array = NDArray[Any]


@dataclass(frozen=True, eq=False)
class FoundIds:
    """Different ids of one window, per depth of rows.

    alone: i64[cells], how many there are that no other part has. pairs: i64[found], the others as cell << 32 | id, ascending
    and each once. marks: u8[cells, ids] or None, 1 for those that are ticked off in a table.
    """

    alone: tuple[NDArray[np.int64], ...]
    pairs: tuple[NDArray[np.int64], ...]
    marks: tuple[NDArray[np.uint8] | None, ...]

    @property
    def nbytes(self) -> int:
        """Bytes of all of it."""
        return sum(each.nbytes for found in (self.alone, self.pairs, self.marks) for each in found if each is not None)

    def counts(self) -> list[NDArray[np.int64]]:
        """How many different ids each cell has, per depth: i64[cells]."""
        return [
            alone
            + np.bincount(pairs >> 32, minlength=len(alone)).astype(np.int64)
            + (0 if marks is None else marks.sum(axis=1, dtype=np.int64))
            for alone, pairs, marks in zip(self.alone, self.pairs, self.marks, strict=True)
        ]

    def merged(self, other: FoundIds) -> FoundIds:
        """The ids of both parts. Raises ValueError where one ticks ids off and the other lists them."""
        return merged_ids((self, other))

    def placed(self, into: Sequence[tuple[NDArray[np.int64], int]]) -> FoundIds:
        """The same in other cells. into: per depth the new number of each cell, ascending, and how many cells there are."""
        alone, pairs, marks = [], [], []
        for (place, count), own, listed, ticked in zip(into, self.alone, self.pairs, self.marks, strict=True):
            alone.append(_spread(own, place, count, axis=0))
            pairs.append((place[listed >> 32] << 32) | (listed & 0xFFFFFFFF))
            marks.append(None if ticked is None else _spread(ticked, place, count, axis=0))
        return FoundIds(tuple(alone), tuple(pairs), tuple(marks))


def merged_ids(parts: Sequence[FoundIds]) -> FoundIds:
    """The ids of all parts; at least one. Raises ValueError where some tick ids off and others list them."""
    if len(parts) == 1:
        return parts[0]
    marks: list[NDArray[np.uint8] | None] = []
    for ticked in zip(*(each.marks for each in parts), strict=True):
        given = [each for each in ticked if each is not None]
        if given and len(given) < len(ticked):
            raise ValueError("ids that are ticked off and ids that are listed cannot be told apart")
        marks.append(reduce(np.bitwise_or, given) if given else None)
    return FoundIds(
        tuple(reduce(np.add, alone) for alone in zip(*(each.alone for each in parts), strict=True)),
        tuple(_different(listed) for listed in zip(*(each.pairs for each in parts), strict=True)),
        tuple(marks),
    )


def _different(listed: Sequence[NDArray[np.int64]]) -> NDArray[np.int64]:
    """What is in any of some lists, each ascending and each once."""
    filled = [each for each in listed if len(each)]
    return filled[0] if len(filled) == 1 else np.unique(np.concatenate(filled)) if filled else np.empty(0, np.int64)


@dataclass(frozen=True, eq=False)
class Partial:
    """Totals of a part.

    keys: per depth of rows the mixed-radix number of each cell, ascending. sums: of the cells at the deepest. ids: per distinct
    count and window.
    """

    keys: tuple[NDArray[np.int64], ...]
    sums: PassSums
    ids: Mapping[DistinctIds, tuple[FoundIds, ...]] = field(default_factory=dict)

    def merged(self, other: Partial) -> Partial:
        """The totals of both parts together. Both answer the same question, with the same words a sum."""
        if all(mine is yours or np.array_equal(mine, yours) for mine, yours in zip(self.keys, other.keys, strict=True)):
            mine, yours = self, other
        else:
            keys = tuple(np.union1d(mine, yours) for mine, yours in zip(self.keys, other.keys, strict=True))
            mine, yours = self._with(keys), other._with(keys)
        return Partial(
            mine.keys,
            {one: table + yours.sums[one] for one, table in mine.sums.items()},
            {each: tuple(a.merged(b) for a, b in zip(found, yours.ids[each], strict=True)) for each, found in mine.ids.items()},
        )

    def _with(self, keys: tuple[NDArray[np.int64], ...]) -> Partial:
        """The same with further cells."""
        into = [(np.searchsorted(all_, own), len(all_)) for all_, own in zip(keys, self.keys, strict=True)]
        sums = {one: _spread(table, *into[-1], axis=1) for one, table in self.sums.items()}
        return Partial(keys, sums, {each: tuple(one.placed(into) for one in found) for each, found in self.ids.items()})


def merged(parts: Sequence[Partial]) -> Partial:
    """The totals of all parts; at least one."""
    return reduce(Partial.merged, parts)


def _spread(values: Array, place: NDArray[np.int64], count: int, axis: int) -> Array:
    shape = list(values.shape)
    shape[axis] = count
    found = np.zeros(shape, values.dtype)
    if axis:
        found[:, place] = values
    else:
        found[place] = values
    return found
