"""Sums and counts per window and cell."""

from __future__ import annotations

from collections.abc import Mapping
from functools import partial, reduce
from typing import Any

import numpy as np
from numpy.typing import NDArray

from lofty_abacus.core import kernels
from lofty_abacus.core.grouping.blocks import BLOCK, Workers, at_once, blocks, shares
from lofty_abacus.core.grouping.cells import CellGrid
from lofty_abacus.core.grouping.segments import Segments
from lofty_abacus.core.lines import LineColumns
from lofty_abacus.core.measures.sums import LineSum

#: One reading of the lines: the column that is added, and the columns a line must have to be read.
Pass = tuple[str, tuple[str, ...]]
#: Per pass, sums by [window, cell, side, (sum, count)] or with a third entry for the low word.
PassSums = Mapping[Pass, NDArray[np.int64]]


def passes_of(sums: frozenset[LineSum]) -> list[Pass]:
    """The fewest readings that give all these sums: counting comes free with any sum of the same lines."""
    summed = {(each.column, each.given) for each in sums if each.column != "lines"}
    bare = {each.given for each in sums if each.column == "lines"} - {given for _, given in summed}
    return sorted(summed | {("amount", given) for given in bare})


def sums_by_segment(columns: LineColumns, grid: CellGrid, segments: Segments, wanted: list[Pass], workers: Workers) -> PassSums:
    """Read each line once: i64[segments, cells, 2, words] per pass, the cell of lines that do not count left out."""
    parts = shares(segments.slices, workers)
    tasks = [partial(_share, columns, grid, len(segments.slices), wanted, part) for part in parts]
    results = at_once(tasks, workers)
    return {each: reduce(np.add, [result[number] for result in results])[:, :-1] for number, each in enumerate(wanted)}


def words_of(columns: LineColumns, one: Pass) -> int:
    """Entries per cell and side: 2 (sum, count) where int64 holds every sum, else 3 (high, count, low)."""
    return 2 if columns.one_word[one[0]] else 3


def total_of(wanted: LineSum, sums: PassSums) -> NDArray[Any]:
    """One quantity out of the passes' sums: [..., cells] as int64, or Python integers where two words were needed."""
    one = next((each for each in sums if each[1] == wanted.given and wanted.column in ("lines", each[0])), None)
    assert one is not None, f"no pass gives {wanted}"
    table = sums[one]
    if wanted.column == "lines":
        return _of_side(table[..., 1], wanted.side)
    if table.shape[-1] == 2:
        return _of_side(table[..., 0], wanted.side)
    exact = table[..., 0].astype(object) * (1 << 32) + table[..., 2].astype(object)
    return _of_side(exact, wanted.side)


def _of_side(by_side: NDArray[Any], side: str) -> NDArray[Any]:
    if side == "all":
        return np.asarray(by_side[..., 0] + by_side[..., 1])
    return by_side[..., 0 if side == "sale" else 1]


def _share(
    columns: LineColumns, grid: CellGrid, segments: int, wanted: list[Pass], part: list[tuple[int, int, int]]
) -> list[NDArray[np.int64]]:
    into = [np.zeros((segments, grid.count + 1, 2, words_of(columns, each)), np.int64) for each in wanted]
    cells = np.empty(BLOCK, np.int32)
    narrowed = np.empty(BLOCK, np.int32)
    for number, start, stop in part:
        for at, until in blocks(start, stop):
            here = cells[: until - at]
            grid.fill(here, at, until)
            for (column, given), sums in zip(wanted, into, strict=True):
                counted = _with_given(columns, here, narrowed, given, grid.count, at, until)
                add = kernels.add_sums if sums.shape[-1] == 2 else kernels.add_words
                add(counted, columns.side[at:until], columns.values(column)[at:until], sums[number])
    return into


def _with_given(
    columns: LineColumns,
    cells: NDArray[np.int32],
    narrowed: NDArray[np.int32],
    given: tuple[str, ...],
    outside: int,
    start: int,
    stop: int,
) -> NDArray[np.int32]:
    flags = [flag for name in given if (flag := columns.missing(name)) is not None]
    if not flags:
        return cells
    here = narrowed[: len(cells)]
    here[:] = cells
    for flag in flags:
        kernels.drop_flagged(here, flag[start:stop], outside)
    return here
