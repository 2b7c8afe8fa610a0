"""Sums by window of all segments: what some of them gave before is taken as it was, the lines of the others are read."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Hashable, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from lofty_abacus.core.grouping.additive import sums_by_cut
from lofty_abacus.core.grouping.blocks import Workers
from lofty_abacus.core.grouping.cells import CellGrid
from lofty_abacus.core.grouping.cube import day_cube, is_worth_a_cube, window_of
from lofty_abacus.core.grouping.cuts import cut_at_bounds
from lofty_abacus.core.grouping.kept_parts import KeptParts, column_key, kept_parts, lines_key, slices_key
from lofty_abacus.core.grouping.partials import Pass
from lofty_abacus.core.windows.ranges import DaySet

Sums = dict[Pass, NDArray[np.int64]]


def sums_by_window(grids: Sequence[CellGrid], windows: Sequence[DaySet], wanted: Mapping[Pass, int], workers: Workers) -> Sums:
    """i64[windows, cells, 2, words] per pass, of all segments (one grid each). wanted: the words of each pass."""
    shape = (len(windows), grids[0].count, 2)
    found: Sums = {one: np.zeros((*shape, words), np.int64) for one, words in wanted.items()}
    unread: dict[tuple[Pass, ...], list[CellGrid]] = defaultdict(list)
    for grid in grids:
        parts = kept_parts(grid.columns) if grid.cells.is_dense else None
        left = list(wanted)
        if parts is not None:
            segment = _Segment(grid, parts, windows)
            left = [one for one in wanted if not segment.adds(one, wanted[one], found[one], workers)]
        if left:
            unread[tuple(left)].append(grid)
    cuts = cut_at_bounds(windows)
    for passes, some in unread.items():
        for one, table in sums_by_cut(some, cuts, {one: wanted[one] for one in passes}, workers).items():
            found[one] += cuts.combine(table)
    return found


@dataclass(frozen=True, eq=False)
class _Segment:
    """A segment of which what it gives is kept, and the windows that are asked for."""

    grid: CellGrid
    parts: KeptParts
    windows: Sequence[DaySet]

    def adds(self, one: Pass, words: int, sums: NDArray[np.int64], workers: Workers) -> bool:
        """Add what is kept of a pass, or is kept from now on, since it was asked before; False where its lines are to be read."""
        columns = self.grid.columns
        key: Hashable = ("sums", self._lines, self.grid.cells.radices, column_key(columns, *one), words)
        if is_worth_a_cube(self.grid):
            cube = self.parts.get(key)
            if cube is None and self.parts.is_worth_keeping(key):
                cube = day_cube(self.grid, one, words, workers)
                self.parts.keep(key, cube, cube.nbytes)
            if cube is not None:
                for at, window in enumerate(self.windows):
                    sums[at] += window_of(cube, columns.first_day, window)
            return cube is not None
        if not self.parts.has_room_for(sums.nbytes):
            return False
        key = (key, self._slices)
        table = self.parts.get(key)
        if table is None and self.parts.is_worth_keeping(key):
            cuts = cut_at_bounds(self.windows)
            table = cuts.combine(sums_by_cut([self.grid], cuts, {one: words}, workers)[one])
            self.parts.keep(key, table, table.nbytes)
        if table is None:
            return False
        sums += table
        return True

    @cached_property
    def _lines(self) -> Hashable:
        return lines_key(self.grid.columns, self.parts, self.grid.rows, self.grid.filters)

    @cached_property
    def _slices(self) -> Hashable:
        """The windows as the lines that they hold: those that differ only where the segment has none are the same to it."""
        return tuple(slices_key(self.grid.columns, window) for window in self.windows)
