"""Sums and counts per window and cell."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from functools import partial, reduce
from typing import Any

import numpy as np
from numpy.typing import NDArray

from lofty_abacus.core import kernels
from lofty_abacus.core.grouping.blocks import BLOCK, Workers, at_once, blocks, shares
from lofty_abacus.core.grouping.cells import CellGrid
from lofty_abacus.core.grouping.cuts import Cuts
from lofty_abacus.core.grouping.partials import Pass, PassSums
from lofty_abacus.core.lines import LineColumns
from lofty_abacus.core.measures.sums import LineSum
from lofty_abacus.core.segments import Segments


def passes_of(sums: frozenset[LineSum]) -> list[Pass]:
    """The fewest readings that give all these sums: counting comes free with any sum of the same lines."""
    summed = {(each.column, each.given) for each in sums if each.column != "lines"}
    bare = {each.given for each in sums if each.column == "lines"} - {given for _, given in summed}
    return sorted(summed | {("amount", given) for given in bare})


def sums_by_cut(
    grids: Sequence[CellGrid], cuts: Cuts, wanted: Mapping[Pass, int], workers: Workers, *, apart: bool = False
) -> dict[Pass, NDArray[np.int64]]:
    """Read each line once: i64[cuts, cells, 2, words] per pass, the cell of lines that do not count left out.

    grids: of some segments; what each gives is added, or (apart) stays apart: i64[segments, cuts, cells, 2, words].
    wanted: the words of each pass (`words_of` all segments).
    """
    # Each stretch of neighbours in a segment is one slice, told apart by its segment and its cut.
    whose = [(segment, cut) for segment in range(len(grids)) for cut in range(len(cuts))]
    slices = [pair for grid in grids for pair in cuts.slices(grid.columns)]
    rows = [segment * len(cuts) * apart + cut for segment, cut in whose]
    count, words = len(cuts) * (len(grids) if apart else 1), list(wanted.values())
    tasks = [
        partial(_share, [grids[segment] for segment, _ in whose], rows, (count, grids[0].count + 1, 2), list(wanted), words, part)
        for part in shares(slices, workers)
    ]
    results = at_once(tasks, workers)
    sums = {each: reduce(np.add, [result[number] for result in results])[:, :-1] for number, each in enumerate(wanted)}
    return {each: table.reshape(len(grids), len(cuts), *table.shape[1:]) for each, table in sums.items()} if apart else sums


def words_of(segments: Segments, one: Pass) -> int:
    """Entries per cell and side: 2 (sum, count) where int64 holds every sum, else 3 (high, count, low)."""
    return 2 if segments.one_word[one[0]] else 3


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
    grids: Sequence[CellGrid],
    rows: Sequence[int],
    shape: tuple[int, int, int],
    wanted: list[Pass],
    words: list[int],
    part: list[tuple[int, int, int]],
) -> list[NDArray[np.int64]]:
    """Some slices added up: i64[rows, cells + 1, 2, words] per pass. grids, rows: of each slice. shape: without the words."""
    into = [np.zeros((*shape, size), np.int64) for size in words]
    cells = np.empty(BLOCK, np.int32)
    narrowed = np.empty(BLOCK, np.int32)
    for number, start, stop in part:
        grid = grids[number]
        columns = grid.columns
        for at, until in blocks(start, stop):
            here = cells[: until - at]
            grid.fill(here, at, until)
            for (column, given), sums in zip(wanted, into, strict=True):
                counted = _with_given(columns, here, narrowed, given, grid.count, at, until)
                add = kernels.add_sums if sums.shape[-1] == 2 else kernels.add_words
                add(counted, columns.side[at:until], columns.values(column)[at:until], sums[rows[number]])
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
