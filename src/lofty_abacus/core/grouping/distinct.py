"""Numbers of different ids per window and cell; each depth of rows is counted on its own, since parts overlap."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial

import numpy as np
from numpy.typing import NDArray

from lofty_abacus.core import kernels
from lofty_abacus.core.days import day_number
from lofty_abacus.core.grouping.blocks import ALONE, BLOCK, Workers, at_once, blocks, shares
from lofty_abacus.core.grouping.cells import CellGrid
from lofty_abacus.core.lines import BLANK, SALE, Codes, LineColumns
from lofty_abacus.core.measures.sums import DistinctIds
from lofty_abacus.core.windows.ranges import DaySet

#: Marks (bytes) up to which ids are ticked off in a table of cells x ids; beyond it pairs are sorted.
MOST_MARKS = 1 << 26
#: From so many windows on, threads take whole windows instead of parts of each.
MANY_WINDOWS = 8

Slices = list[tuple[int, int]]
Ups = Sequence[tuple[int, NDArray[np.int32]]]


def distinct_by_window(
    columns: LineColumns, grid: CellGrid, windows: Sequence[DaySet], ups: Ups, wanted: DistinctIds, workers: Workers
) -> list[NDArray[np.int64]]:
    """Different ids per depth: a list over depths of i64[windows, cells of the depth].

    ups: per depth its number of cells and the map from the plan's cells to them, as CellGrid.ancestors gives it.
    """
    count = _adjacent if wanted.role == "order" else partial(_any, wanted=wanted)
    slices = [[columns.slice_of(day_number(r.first), day_number(r.last)) for r in window.ranges] for window in windows]
    if len(windows) >= MANY_WINDOWS:
        found = at_once([partial(count, columns, grid, each, ups, ALONE) for each in slices], workers)
    else:
        found = [count(columns, grid, each, ups, workers) for each in slices]
    return [np.stack([counts[depth] for counts in found]) for depth in range(len(ups))]


def first_days(columns: LineColumns, lines: NDArray[np.int64], wanted: DistinctIds) -> NDArray[np.int64]:
    """For each different id of some sale lines, given by position, the day number of its first one, ascending: i64[ids]."""
    dimension = columns.dimensions[columns.roles[wanted.role]]
    first, ids = np.full(dimension.members.size, -1, np.int64), dimension.codes[lines]
    # From the last line to the first: of an id that repeats, the last line written is its earliest.
    first[ids[::-1]] = lines[::-1]
    first[BLANK] = -1
    found = np.sort(first[first >= 0])
    return columns.day[found].astype(np.int64) + columns.first_day


def ids_down(
    columns: LineColumns, lines: NDArray[np.int64], wanted: DistinctIds, dimension: str, listed: NDArray[np.int64]
) -> NDArray[np.int64]:
    """Different ids of some sale lines, given by position, among those of the first 1, 2, ... n listed members: i64[n]."""
    ids = columns.dimensions[columns.roles[wanted.role]]
    codes, mapping = columns.coded(dimension)
    nowhere = len(listed)
    place = np.full(columns.members(dimension).size, nowhere, np.int64)
    place[listed] = np.arange(len(listed))
    members = codes[lines] if mapping is None else mapping[codes[lines]]
    first = np.full(ids.members.size, nowhere, np.int64)
    np.minimum.at(first, ids.codes[lines], place[members])
    first[BLANK] = nowhere
    return np.bincount(first, minlength=nowhere + 1)[:nowhere].cumsum().astype(np.int64)


def _adjacent(columns: LineColumns, grid: CellGrid, slices: Slices, ups: Ups, workers: Workers) -> list[NDArray[np.int64]]:
    """Orders: last-seen over adjacent lines; the few orders that span days are counted by sorting.

    A window with a hole is read by one thread: an order may have lines on both sides of it.
    """
    ids = columns.dimensions[columns.roles["order"]].codes
    scattered = columns.scattered_orders
    parts = [_to_order_bounds(part, ids, slices) for part in shares(slices, ALONE if len(slices) > 1 else workers)]
    counted = at_once([partial(_last_seen, columns, grid, part, ups, ids, scattered) for part in parts], workers)
    totals = [np.sum([result[depth] for result in counted], axis=0) for depth in range(len(ups))]
    if columns.has_scattered_orders:
        chosen = _lines_where(slices, lambda start, stop: np.asarray(scattered[ids[start:stop]] != 0))
        for depth, extra in enumerate(_by_sorting(columns, grid, chosen, ups, ids)):
            totals[depth] = totals[depth] + extra
    return totals


def _last_seen(
    columns: LineColumns, grid: CellGrid, part: Slices, ups: Ups, ids: Codes, scattered: NDArray[np.uint8]
) -> list[NDArray[np.int64]]:
    seen = [np.full(count + 1, -1, np.int64) for count, _ in ups]
    into = [np.zeros(count + 1, np.int64) for count, _ in ups]
    cells = np.empty(BLOCK, np.int32)
    for start, stop in part:
        for at, until in blocks(start, stop):
            here = cells[: until - at]
            grid.fill(here, at, until)
            for (_, up), last, count in zip(ups, seen, into, strict=True):
                kernels.count_last_seen(here, up, columns.side[at:until], ids[at:until], scattered, last, count)
    return [count[:-1] for count in into]


def _to_order_bounds(part: list[tuple[int, int, int]], ids: Codes, slices: Slices) -> Slices:
    """Move the ends of a thread's part forward to where an order ends, so that no order is counted by two threads."""

    def forward(at: int, stop: int) -> int:
        while 0 < at < stop and ids[at] == ids[at - 1]:
            at += 1
        return at

    moved = []
    for number, start, stop in part:
        first, last = slices[number]
        begin = start if start == first else forward(start, last)
        moved.append((begin, max(begin, stop if stop == last else forward(stop, last))))
    return moved


def _any(
    columns: LineColumns, grid: CellGrid, slices: Slices, ups: Ups, workers: Workers, *, wanted: DistinctIds
) -> list[NDArray[np.int64]]:
    dimension = columns.dimensions[columns.roles[wanted.role]]
    widest = max(count for count, _ in ups) + 1
    if widest * dimension.members.size <= MOST_MARKS:
        return _by_marking(columns, grid, slices, ups, dimension.codes, dimension.members.size, workers)
    return _by_sorting(columns, grid, _lines_where(slices, None), ups, dimension.codes)


def _by_marking(
    columns: LineColumns, grid: CellGrid, slices: Slices, ups: Ups, ids: Codes, size: int, workers: Workers
) -> list[NDArray[np.int64]]:
    marks = [np.zeros((count + 1, size), np.uint8) for count, _ in ups]

    def mark(part: list[tuple[int, int, int]]) -> None:
        cells = np.empty(BLOCK, np.int32)
        for _, start, stop in part:
            for at, until in blocks(start, stop):
                here = cells[: until - at]
                grid.fill(here, at, until)
                for (_, up), table in zip(ups, marks, strict=True):
                    kernels.mark_ids(here, up, columns.side[at:until], ids[at:until], table)

    # Threads share the marks: each only ever writes the same 1, so no write can be lost.
    at_once([partial(mark, part) for part in shares(slices, workers)], workers)
    return [table[:-1].sum(axis=1, dtype=np.int64) for table in marks]


def _by_sorting(columns: LineColumns, grid: CellGrid, lines: NDArray[np.int64], ups: Ups, ids: Codes) -> list[NDArray[np.int64]]:
    """Different ids among the given lines by sorting (cell, id) pairs and flagging the first of each."""
    lines = lines[(columns.side[lines] == SALE) & (ids[lines] != 0)]
    cells = grid.cells_at(lines)
    counts = []
    for count, up in ups:
        pairs = np.sort((up[cells].astype(np.int64) << 32) | ids[lines].astype(np.int64))
        first = np.concatenate(([True], pairs[1:] != pairs[:-1])) if len(pairs) else np.empty(0, bool)
        counts.append(np.bincount(pairs[first] >> 32, minlength=count + 1)[:count].astype(np.int64))
    return counts


def _lines_where(slices: Slices, chosen: Callable[[int, int], NDArray[np.bool_]] | None) -> NDArray[np.int64]:
    parts = [
        np.arange(start, stop, dtype=np.int64) if chosen is None else np.flatnonzero(chosen(start, stop)) + start
        for start, stop in slices
    ]
    return np.concatenate(parts) if parts else np.empty(0, np.int64)
