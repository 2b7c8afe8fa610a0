"""Which cell of the answer each line belongs to.

Dense: the row dimensions' codes as one mixed-radix number. Where that space is much larger than the lines, the combinations that
occur are numbered instead (sorted, so cells are in code order either way).
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from propcache.api import cached_property

from lofty_abacus.core import kernels
from lofty_abacus.core.grouping.line_filters import HeldLines
from lofty_abacus.core.grouping.request import Filter, LineFilter, MemberFilter, PathFilter
from lofty_abacus.core.lines import Codes, LineColumns
from lofty_abacus.core.segments import Segments

#: Cells up to which every combination of members has one of its own, whatever the lines; and beyond which none has.
LEAST_DENSE, MOST_DENSE = 4096, 1 << 22


@dataclass(frozen=True, eq=False)
class Cells:
    """The cells of an answer, the same for all segments: cell number `count` takes the lines that do not count.

    radices: members per row dimension. is_dense: whether every combination of members has a cell of its own. keys: the
    mixed-radix number of each cell, ascending: i64[count].
    """

    radices: tuple[int, ...]
    is_dense: bool
    keys: NDArray[np.int64]

    @property
    def count(self) -> int:
        """Number of real cells."""
        return len(self.keys)

    def codes(self, depth: int, keys: NDArray[np.int64]) -> NDArray[np.int32]:
        """Member codes of cells at a depth, from their mixed-radix numbers at that depth: i32[cells, depth]."""
        out = np.empty((len(keys), depth), np.int32)
        rest = keys.copy()
        for at in range(depth - 1, -1, -1):
            rest, out[:, at] = np.divmod(rest, self.radices[at])
        return out

    def ancestors(self, depth: int) -> tuple[NDArray[np.int64], NDArray[np.int32]]:
        """Cells at a shallower depth: their numbers i64[cells], and which of them each real cell belongs to.

        The second is i32[count + 1]; its last entry sends lines that do not count to a cell of their own there.
        """
        below = int(np.prod(self.radices[depth:], dtype=np.int64))
        above = self.keys // below
        first = np.concatenate(([True], above[1:] != above[:-1])) if len(above) else np.empty(0, bool)
        keys = above[first]
        up = np.empty(self.count + 1, np.int32)
        up[:-1] = np.cumsum(first) - 1
        up[-1] = len(keys)
        return keys, up


@dataclass(frozen=True, eq=False)
class CellGrid:
    """How the lines of a segment find their cells."""

    columns: LineColumns
    rows: tuple[str, ...]
    filters: tuple[Filter, ...]
    cells: Cells

    @property
    def count(self) -> int:
        """Number of real cells."""
        return self.cells.count

    def fill(self, cells: NDArray[np.int32], start: int, stop: int) -> None:
        """Write the cell of each line of [start, stop) into cells[: stop - start]."""
        if self.cells.is_dense:
            self._fill_dense(cells, start, stop)
        else:
            cells[:] = np.searchsorted(self.cells.keys, self._line_keys[start:stop])
        for codes, keep in self._kept:
            kernels.drop_members(cells, codes[start:stop], keep, self.count)
        for path in self._looked_at:
            cells[~path.keeps(slice(start, stop))] = self.count
        few = self.columns.few_out
        if few is None:
            kernels.drop_flagged(cells, self.columns.out[start:stop], self.count)  # type: ignore[index]
        elif len(few):
            first, last = np.searchsorted(few, (start, stop))
            cells[few[first:last] - start] = self.count

    def cells_at(self, lines: NDArray[np.int64]) -> NDArray[np.int32]:
        """The cells of some lines by position: i32[lines]."""
        if self.cells.is_dense:
            cells = np.zeros(len(lines), np.int32)
            for codes, mapping, stride in self._parts:
                here = codes[lines]
                cells += (here if mapping is None else mapping[here]).astype(np.int32) * np.int32(stride)
        else:
            cells = np.searchsorted(self.cells.keys, self._line_keys[lines]).astype(np.int32)
        for codes, keep in self._kept:
            cells[keep[codes[lines]] == 0] = self.count
        for path in self._looked_at:
            cells[~path.keeps(lines)] = self.count
        if self.columns.out is not None:
            cells[self.columns.out[lines] != 0] = self.count
        return cells

    def _fill_dense(self, cells: NDArray[np.int32], start: int, stop: int) -> None:
        if not self.rows:
            cells[:] = 0
            return
        parts = self._parts
        if len(parts) == 2 and parts[0][1] is None and parts[1][1] is None:
            (outer, _, stride), (inner, _, _) = parts
            kernels.place_pair(cells, outer[start:stop], stride, inner[start:stop])
            return
        for at, (codes, mapping, stride) in enumerate(parts):
            if mapping is None:
                kernels.place(cells, codes[start:stop], stride, at == 0)
            else:
                kernels.place_mapped(cells, codes[start:stop], mapping, stride, at == 0)

    @cached_property
    def _parts(self) -> list[tuple[Codes, NDArray[np.int32] | None, int]]:
        strides = [int(np.prod(self.cells.radices[at + 1 :], dtype=np.int64)) for at in range(len(self.rows))]
        return [(*self.columns.coded(name), stride) for name, stride in zip(self.rows, strides, strict=True)]

    @cached_property
    def _line_keys(self) -> NDArray[np.int64]:
        return line_keys(self.columns, self.rows, self.cells.radices)

    @cached_property
    def _kept(self) -> Sequence[tuple[Codes, NDArray[np.uint8]]]:
        found = []
        for each in self.filters:
            if not isinstance(each, MemberFilter):
                continue
            codes, mapping = self.columns.coded(each.dimension)
            keep = np.zeros(self.columns.members(each.dimension).size, np.uint8)
            keep[sorted(each.codes)] = 1
            found.append((codes, keep if mapping is None else keep[mapping]))
        return found

    @cached_property
    def _looked_at(self) -> list[KeptPaths | HeldLines]:
        return [looked_at(self.columns, each) for each in self.filters if not isinstance(each, MemberFilter)]


def grids_of(segments: Segments, rows: tuple[str, ...], filters: tuple[Filter, ...]) -> tuple[Cells, list[CellGrid]]:
    """The cells of an answer, and per segment how its lines find them."""
    radices = tuple(segments.members(name).size for name in rows)
    space = int(np.prod([float(each) for each in radices])) if rows else 1
    dense = space <= max(LEAST_DENSE, min(MOST_DENSE, len(segments)))
    keys = np.arange(space, dtype=np.int64) if dense else _occurring([line_keys(each, rows, radices) for each in segments])
    cells = Cells(radices, dense, keys)
    return cells, [CellGrid(each, rows, filters, cells) for each in segments]


def line_keys(columns: LineColumns, rows: tuple[str, ...], radices: tuple[int, ...]) -> NDArray[np.int64]:
    """The mixed-radix number of each line: i64[n]."""
    keys = np.zeros(len(columns), np.int64)
    for at, name in enumerate(rows):
        codes, mapping = columns.coded(name)
        stride = int(np.prod(radices[at + 1 :], dtype=np.int64))
        keys += (codes if mapping is None else mapping[codes]).astype(np.int64) * stride
    return keys


def _occurring(numbers: list[NDArray[np.int64]]) -> NDArray[np.int64]:
    """The different numbers, ascending."""
    ordered = np.sort(np.concatenate(numbers))
    return ordered[np.concatenate(([True], ordered[1:] != ordered[:-1]))] if len(ordered) else ordered


class KeptPaths:
    """The lines that a filter on several dimensions together keeps: their codes as one mixed-radix number, looked up."""

    def __init__(self, columns: LineColumns, wanted: PathFilter) -> None:
        sizes = [columns.members(name).size for name in wanted.rows]
        strides = [math.prod(sizes[at + 1 :]) for at in range(len(sizes))]
        self._parts = [(*columns.coded(name), stride) for name, stride in zip(wanted.rows, strides, strict=True)]
        keys = [sum(code * stride for code, stride in zip(path, strides, strict=True)) for path in wanted.codes]
        self._keys: NDArray[np.int64] = np.sort(np.array(keys, np.int64))

    def keeps(self, lines: slice | NDArray[np.int64]) -> NDArray[np.bool_]:
        """Which of some lines are kept: bool[lines]."""
        numbers: NDArray[np.int64] = np.zeros(1, np.int64)
        for codes, mapping, stride in self._parts:
            here = codes[lines]
            numbers = numbers + (here if mapping is None else mapping[here]).astype(np.int64) * stride
        if not len(self._keys):
            return np.zeros(len(numbers), bool)
        at = np.minimum(np.searchsorted(self._keys, numbers), len(self._keys) - 1)
        return np.asarray(self._keys[at] == numbers)


def looked_at(columns: LineColumns, condition: PathFilter | LineFilter) -> KeptPaths | HeldLines:
    """What tells which lines a filter keeps that is looked at line by line."""
    return KeptPaths(columns, condition) if isinstance(condition, PathFilter) else HeldLines(columns, condition)
