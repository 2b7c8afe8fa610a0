"""Different ids per window and cell; each depth of rows is counted on its own, since parts overlap.

Ids mean the same in all segments. An order whose lines are adjacent in one segment is counted on the fly; one that spans days or
segments is looked up, as any other id is.
"""

from __future__ import annotations

from collections.abc import Hashable, Sequence
from dataclasses import dataclass
from functools import partial

import numpy as np
from numpy.typing import NDArray

from lofty_abacus.core import kernels
from lofty_abacus.core.days import day_number
from lofty_abacus.core.grouping.blocks import ALONE, BLOCK, Workers, at_once, blocks, shares
from lofty_abacus.core.grouping.cells import CellGrid
from lofty_abacus.core.grouping.kept_parts import KeptParts, Same, kept_parts, lines_key
from lofty_abacus.core.grouping.partials import FoundIds, merged_ids
from lofty_abacus.core.lines import BLANK, SALE, Codes
from lofty_abacus.core.measures.sums import DistinctIds
from lofty_abacus.core.segments import Segments
from lofty_abacus.core.windows.ranges import DaySet

#: Marks (bytes) up to which ids are ticked off in a table of cells x ids; beyond it pairs are sorted.
MOST_MARKS = 1 << 26
#: From so many windows on, threads take whole windows instead of parts of each.
MANY_WINDOWS = 8

_NONE = np.empty(0, np.int64)

Ups = Sequence[tuple[int, NDArray[np.int32]]]
#: Positions of some lines of each segment.
Chosen = Sequence[NDArray[np.int64]]


@dataclass(frozen=True)
class _Stretch:
    """Neighbouring lines of one segment: [start, stop)."""

    segment: int
    start: int
    stop: int


def ids_by_window(
    segments: Segments, grids: Sequence[CellGrid], windows: Sequence[DaySet], ups: Ups, wanted: DistinctIds, workers: Workers
) -> tuple[FoundIds, ...]:
    """The different ids of each window.

    ups: per depth its number of cells and the map from the deepest cells to them, as Cells.ancestors gives it.
    """
    find = _orders if wanted.role == "order" else partial(_any, wanted=wanted)
    stretches = _stretches(segments, windows)
    if len(windows) >= MANY_WINDOWS:
        return tuple(at_once([partial(find, segments, grids, each, ups, ALONE) for each in stretches], workers))
    return tuple(find(segments, grids, each, ups, workers) for each in stretches)


def _stretches(segments: Segments, windows: Sequence[DaySet]) -> list[list[_Stretch]]:
    """Per window the stretches of neighbouring lines that it is made of, segment by segment."""
    days = [(day_number(r.first), day_number(r.last)) for window in windows for r in window.ranges]
    whose = [at for at, window in enumerate(windows) for _ in window.ranges]
    found: list[list[_Stretch]] = [[] for _ in windows]
    for segment, columns in enumerate(segments):
        for at, (start, stop) in zip(whose, columns.slices_of(days), strict=True):
            if start < stop:
                found[at].append(_Stretch(segment, start, stop))
    return found


def first_days(segments: Segments, lines: Chosen, wanted: DistinctIds) -> NDArray[np.int64]:
    """For each different id of some sale lines, given by position, the day number of its first one, ascending: i64[ids]."""
    name = segments.roles[wanted.role]
    never = np.iinfo(np.int64).max
    first = np.full(segments.members(name).size, never, np.int64)
    for columns, at in zip(segments, lines, strict=True):
        # From the last line to the first: of an id that repeats, the last one written is its earliest.
        back = at[::-1]
        ids, days = columns.dimensions[name].codes[back], columns.day[back].astype(np.int64) + columns.first_day
        if len(segments.each) == 1:
            first[ids] = days
        else:
            np.minimum.at(first, ids, days)
    first[BLANK] = never
    return np.sort(first[first < never])


def ids_down(
    segments: Segments, lines: Chosen, wanted: DistinctIds, dimension: str, listed: NDArray[np.int64]
) -> NDArray[np.int64]:
    """Different ids of some sale lines, given by position, among those of the first 1, 2, ... n listed members: i64[n]."""
    name, nowhere = segments.roles[wanted.role], len(listed)
    place = np.full(segments.members(dimension).size, nowhere, np.int64)
    place[listed] = np.arange(len(listed))
    first = np.full(segments.members(name).size, nowhere, np.int64)
    for columns, at in zip(segments, lines, strict=True):
        codes, mapping = columns.coded(dimension)
        members = codes[at] if mapping is None else mapping[codes[at]]
        np.minimum.at(first, columns.dimensions[name].codes[at], place[members])
    first[BLANK] = nowhere
    return np.bincount(first, minlength=nowhere + 1)[:nowhere].cumsum().astype(np.int64)


def _orders(segments: Segments, grids: Sequence[CellGrid], stretches: list[_Stretch], ups: Ups, workers: Workers) -> FoundIds:
    """Orders of a window: of segments that were asked the same before as they were found then, of the others as they are read."""
    found: list[FoundIds] = []
    unread: list[_Stretch] = []
    keeping: dict[int, tuple[KeptParts, Hashable]] = {}
    for segment, own in _by_segment(stretches).items():
        grid = grids[segment]
        parts = kept_parts(grid.columns) if grid.cells.is_dense else None
        if parts is not None:
            lines = lines_key(grid.columns, parts, grid.rows, grid.filters)
            slices = tuple((each.start, each.stop) for each in own)
            key: Hashable = ("orders", lines, grid.cells.radices, slices, Same(segments.scattered[segment].orders))
            kept: FoundIds | None = parts.get(key)
            if kept is not None:
                found.append(kept)
                continue
            keeping[segment] = (parts, key)
        unread += own
    for segment, ids in _orders_read(segments, grids, unread, ups, workers).items():
        found.append(ids)
        if segment in keeping:
            parts, key = keeping[segment]
            parts.keep(key, ids, ids.nbytes)
    nothing = FoundIds(tuple(np.zeros(count, np.int64) for count, _ in ups), (_NONE,) * len(ups), (None,) * len(ups))
    return merged_ids(found or [nothing])


def _by_segment(stretches: list[_Stretch]) -> dict[int, list[_Stretch]]:
    found: dict[int, list[_Stretch]] = {}
    for each in stretches:
        found.setdefault(each.segment, []).append(each)
    return found


def _orders_read(
    segments: Segments, grids: Sequence[CellGrid], stretches: list[_Stretch], ups: Ups, workers: Workers
) -> dict[int, FoundIds]:
    """Orders by segment: last-seen over adjacent lines; the few orders that span days or segments are listed.

    A window with a hole is read by one thread: an order may have lines on both sides of it.
    """
    name, scattered = segments.roles["order"], segments.scattered_orders
    holes = len(stretches) > len({each.segment for each in stretches})
    slices = [(each.start, each.stop) for each in stretches]
    parts = [_to_order_bounds(part, segments, name, stretches) for part in shares(slices, ALONE if holes else workers)]
    counted = at_once([partial(_last_seen, grids, part, ups, name, scattered) for part in parts], workers)
    found = {}
    for segment, own in _by_segment(stretches).items():
        of_each = [result[segment] for result in counted if segment in result]
        alone = tuple(np.sum([counts[depth] for counts in of_each], axis=0) for depth in range(len(ups)))
        lines = _lines_in(segments.scattered[segment].lines, own)
        pairs = _listed(grids[segment : segment + 1], [lines], ups, name) if len(lines) else [_NONE] * len(ups)
        found[segment] = FoundIds(alone, tuple(pairs), (None,) * len(ups))
    return found


def _last_seen(
    grids: Sequence[CellGrid], part: list[_Stretch], ups: Ups, name: str, scattered: NDArray[np.uint8]
) -> dict[int, list[NDArray[np.int64]]]:
    """Per segment and depth, the orders of each cell whose lines are all adjacent: none of them is in two segments."""
    found = {}
    cells = np.empty(BLOCK, np.int32)
    for segment, own in _by_segment(part).items():
        grid = grids[segment]
        columns, ids = grid.columns, grid.columns.dimensions[name].codes
        seen = [np.full(count + 1, -1, np.int64) for count, _ in ups]
        into = [np.zeros(count + 1, np.int64) for count, _ in ups]
        for each in own:
            for at, until in blocks(each.start, each.stop):
                here = cells[: until - at]
                grid.fill(here, at, until)
                for (_, up), last, count in zip(ups, seen, into, strict=True):
                    kernels.count_last_seen(here, up, columns.side[at:until], ids[at:until], scattered, last, count)
        found[segment] = [count[:-1] for count in into]
    return found


def _to_order_bounds(
    part: list[tuple[int, int, int]], segments: Segments, name: str, stretches: list[_Stretch]
) -> list[_Stretch]:
    """Move the ends of a thread's part forward to where an order ends, so that no order is counted by two threads."""

    def forward(ids: Codes, at: int, stop: int) -> int:
        while 0 < at < stop and ids[at] == ids[at - 1]:
            at += 1
        return at

    moved = []
    for number, start, stop in part:
        whole = stretches[number]
        ids = segments.each[whole.segment].dimensions[name].codes
        begin = start if start == whole.start else forward(ids, start, whole.stop)
        end = stop if stop == whole.stop else forward(ids, stop, whole.stop)
        moved.append(_Stretch(whole.segment, begin, max(begin, end)))
    return moved


def _any(
    segments: Segments,
    grids: Sequence[CellGrid],
    stretches: list[_Stretch],
    ups: Ups,
    workers: Workers,
    *,
    wanted: DistinctIds,
) -> FoundIds:
    name = segments.roles[wanted.role]
    widest, size = max(count for count, _ in ups) + 1, segments.members(name).size
    none = tuple(np.zeros(count, np.int64) for count, _ in ups)
    if widest * size <= MOST_MARKS:
        marks = _marked(grids, stretches, ups, name, size, workers)
        return FoundIds(none, tuple(np.empty(0, np.int64) for _ in ups), marks)
    lines = [_NONE] * len(grids)
    for segment, own in _by_segment(stretches).items():
        lines[segment] = np.concatenate([np.arange(each.start, each.stop, dtype=np.int64) for each in own])
    return FoundIds(none, tuple(_listed(grids, lines, ups, name)), (None,) * len(ups))


def _marked(
    grids: Sequence[CellGrid], stretches: list[_Stretch], ups: Ups, name: str, size: int, workers: Workers
) -> tuple[NDArray[np.uint8], ...]:
    marks = [np.zeros((count + 1, size), np.uint8) for count, _ in ups]

    def mark(part: list[tuple[int, int, int]]) -> None:
        cells = np.empty(BLOCK, np.int32)
        for number, start, stop in part:
            grid = grids[stretches[number].segment]
            columns, ids = grid.columns, grid.columns.dimensions[name].codes
            for at, until in blocks(start, stop):
                here = cells[: until - at]
                grid.fill(here, at, until)
                for (_, up), table in zip(ups, marks, strict=True):
                    kernels.mark_ids(here, up, columns.side[at:until], ids[at:until], table)

    # Threads share the marks: each only ever writes the same 1, so no write can be lost.
    slices = [(each.start, each.stop) for each in stretches]
    at_once([partial(mark, part) for part in shares(slices, workers)], workers)
    return tuple(table[:-1] for table in marks)


def _listed(grids: Sequence[CellGrid], lines: Chosen, ups: Ups, name: str) -> list[NDArray[np.int64]]:
    """The different (cell << 32 | id) of the given sale lines, per depth, ascending."""
    found: list[list[NDArray[np.int64]]] = [[] for _ in ups]
    for grid, at in zip(grids, lines, strict=True):
        if not len(at):
            continue
        columns, ids = grid.columns, grid.columns.dimensions[name].codes
        at = at[(columns.side[at] == SALE) & (ids[at] != BLANK)]
        cells = grid.cells_at(at)
        inside = cells < grid.count
        cells, own = cells[inside], ids[at[inside]].astype(np.int64)
        for (_, up), pairs in zip(ups, found, strict=True):
            pairs.append((up[cells].astype(np.int64) << 32) | own)
    return [_different(np.concatenate(pairs) if pairs else np.empty(0, np.int64)) for pairs in found]


def _different(pairs: NDArray[np.int64]) -> NDArray[np.int64]:
    ordered = np.sort(pairs)
    return ordered[np.concatenate(([True], ordered[1:] != ordered[:-1]))] if len(ordered) else ordered


def _lines_in(lines: NDArray[np.int64], stretches: list[_Stretch]) -> NDArray[np.int64]:
    """Those of some lines of a segment, given by ascending position, that lie in some of its stretches."""
    bounds = [np.searchsorted(lines, (each.start, each.stop)) for each in stretches]
    parts = [lines[first:last] for first, last in bounds]
    return np.concatenate(parts) if parts else _NONE
