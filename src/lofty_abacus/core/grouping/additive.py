"""Sums and counts per window and cell."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from functools import partial, reduce
from itertools import groupby
from typing import Any

import numpy as np
from numpy.typing import NDArray

from lofty_abacus.core import kernels
from lofty_abacus.core.grouping.blocks import BLOCK, Slice, Workers, at_once, blocks, shares
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
    grids: Sequence[CellGrid], cuts: Cuts, wanted: Mapping[Pass, int], workers: Workers
) -> dict[Pass, NDArray[np.int64]]:
    """Read each line once: i64[cuts, cells, 2, words] per pass, the cell of lines that do not count left out.

    grids: of some segments; what each gives is added. wanted: the words of each pass (`words_of` all segments).
    """
    count = len(cuts)
    shape, words = (count, grids[0].count + 1, 2), list(wanted.values())

    def share(part: Sequence[Slice]) -> list[NDArray[np.int64]]:
        into = [np.zeros((*shape, size), np.int64) for size in words]
        buffers = _buffers()
        for number, start, stop in part:
            _add(grids[number // count], list(wanted), [sums[number % count] for sums in into], start, stop, buffers)
        return into

    results = at_once([partial(share, part) for part in shares(_slices(grids, cuts), workers)], workers)
    return {each: reduce(np.add, [result[number] for result in results])[:, :-1] for number, each in enumerate(wanted)}


def sums_by_segment(
    grids: Sequence[CellGrid], cuts: Cuts, wanted: Mapping[Pass, int], workers: Workers
) -> list[dict[Pass, NDArray[np.int64]]]:
    """The same in windows and by segment, for what is to be kept of each: i64[windows, cells, 2, words] per segment and pass."""
    count = len(cuts)
    words = list(wanted.values())

    def share(part: Sequence[Slice]) -> list[tuple[int, list[NDArray[np.int64]]]]:
        buffers = _buffers()
        into = [np.empty((grids[0].count + 1, 2, size), np.int64) for size in words]
        found = []
        for segment, own in groupby(part, lambda each: each[0] // count):
            tables = [cuts.table((grids[0].count, 2, size)) for size in words]
            for number, start, stop in own:
                # One stretch after the other in the same few bytes, which stay in the processor's cache.
                for sums in into:
                    sums.fill(0)
                _add(grids[segment], list(wanted), into, start, stop, buffers)
                for table, sums in zip(tables, into, strict=True):
                    cuts.add(table, number % count, sums[:-1])
            found.append((segment, [cuts.combined(table) for table in tables]))
        return found

    whole: list[dict[Pass, NDArray[np.int64]]] = [{} for _ in grids]
    for result in at_once([partial(share, part) for part in shares(_slices(grids, cuts), workers)], workers):
        for segment, tables in result:
            for one, table in zip(wanted, tables, strict=True):
                # A segment may have been shared by two.
                before = whole[segment].get(one)
                whole[segment][one] = table if before is None else before + table
    nothing = {one: np.zeros((len(cuts.member), grids[0].count, 2, size), np.int64) for one, size in wanted.items()}
    return [each or nothing for each in whole]


def _slices(grids: Sequence[CellGrid], cuts: Cuts) -> list[tuple[int, int]]:
    """Each stretch of neighbours in a segment, told apart by its place: segment by segment, cut by cut."""
    return [pair for grid in grids for pair in cuts.slices(grid.columns)]


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


def _buffers() -> tuple[NDArray[np.int32], NDArray[np.int32]]:
    return np.empty(BLOCK, np.int32), np.empty(BLOCK, np.int32)


def _add(
    grid: CellGrid,
    wanted: Sequence[Pass],
    into: Sequence[NDArray[np.int64]],
    start: int,
    stop: int,
    buffers: tuple[NDArray[np.int32], NDArray[np.int32]],
) -> None:
    """Add some neighbouring lines of a segment up. into: i64[cells + 1, 2, words] per pass."""
    cells, narrowed = buffers
    columns = grid.columns
    for at, until in blocks(start, stop):
        here = cells[: until - at]
        grid.fill(here, at, until)
        for (column, given), sums in zip(wanted, into, strict=True):
            counted = _with_given(columns, here, narrowed, given, grid.count, at, until)
            add = kernels.add_sums if sums.shape[-1] == 2 else kernels.add_words
            add(counted, columns.side[at:until], columns.values(column)[at:until], sums)


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
