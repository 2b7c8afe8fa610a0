"""Sums by window of all segments: what some of them gave before is taken as it was, the lines of the others are read."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Hashable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from propcache.api import cached_property

from lofty_abacus.core.grouping.additive import sums_by_cut, sums_by_segment
from lofty_abacus.core.grouping.blocks import Workers
from lofty_abacus.core.grouping.cells import CellGrid
from lofty_abacus.core.grouping.cube import day_cube, is_worth_a_cube, window_of
from lofty_abacus.core.grouping.cuts import cut_at_bounds
from lofty_abacus.core.grouping.kept_parts import KeptParts, Stretches, column_key, kept_parts, lines_key
from lofty_abacus.core.grouping.partials import Pass
from lofty_abacus.core.windows.ranges import DaySet

Sums = dict[Pass, NDArray[np.int64]]
#: Bytes up to which what several segments give is kept apart while they are read.
MOST_APART = 1 << 25


def sums_by_window(grids: Sequence[CellGrid], windows: Sequence[DaySet], wanted: Mapping[Pass, int], workers: Workers) -> Sums:
    """i64[windows, cells, 2, words] per pass, of all segments (one grid each). wanted: the words of each pass."""
    shape = (len(windows), grids[0].count, 2)
    found: Sums = {one: np.zeros((*shape, words), np.int64) for one, words in wanted.items()}
    cuts, stretches = cut_at_bounds(windows), Stretches.of(windows)
    together: dict[tuple[Pass, ...], list[CellGrid]] = defaultdict(list)
    apart: dict[tuple[Pass, ...], list[_Segment]] = defaultdict(list)
    room = MOST_APART // max(len(cuts) * grids[0].count * 2 * sum(wanted.values()) * 8, 1)
    for grid in grids:
        parts = kept_parts(grid.columns, adding=True) if grid.cells.is_dense else None
        segment = None if parts is None else _Segment(grid, parts, windows, stretches)
        left = tuple(one for one in wanted if segment is None or not segment.adds(one, wanted[one], found[one], workers))
        if left and segment and room > 0 and segment.can_keep(found[left[0]]):
            apart[left].append(segment)
            room -= 1
        elif left:
            together[left].append(grid)
    for passes, some in together.items():
        for one, table in sums_by_cut(some, cuts, {one: wanted[one] for one in passes}, workers).items():
            found[one] += cuts.combine(table)
    for passes, segments in apart.items():
        tables = sums_by_segment([each.grid for each in segments], cuts, {one: wanted[one] for one in passes}, workers)
        for segment, of_it in zip(segments, tables, strict=True):
            for one, table in of_it.items():
                found[one] += table
                segment.keep(one, wanted[one], table)
    return found


@dataclass(frozen=True, eq=False)
class _Segment:
    """A segment of which what it gives is kept, and the windows that are asked for."""

    grid: CellGrid
    parts: KeptParts
    windows: Sequence[DaySet]
    stretches: Stretches

    def adds(self, one: Pass, words: int, sums: NDArray[np.int64], workers: Workers) -> bool:
        """Add what is kept of a pass; False where the lines are to be read.

        Of what is asked in a second set of windows, running sums by day are made, where they are worth it.
        """
        key, first_day = self._key(one, words), self.grid.columns.first_day
        table = self.parts.get((key, self._slices))
        if table is not None:
            # Never spread over windows that it is not of.
            assert table.shape == sums.shape, (table.shape, sums.shape)
            sums += table
            return True
        cube = self.parts.get(key)
        if cube is None and is_worth_a_cube(self.grid) and self.parts.is_asked_again(key):
            cube = day_cube(self.grid, one, words, workers)
            self.parts.keep(key, cube, cube.nbytes)
        if cube is not None:
            for at, window in enumerate(self.windows):
                sums[at] += window_of(cube, first_day, window)
        return cube is not None

    def can_keep(self, sums: NDArray[np.int64]) -> bool:
        """Whether there is room for what a pass gives."""
        return self.parts.has_room_for(sums.nbytes)

    def keep(self, one: Pass, words: int, table: NDArray[np.int64]) -> None:
        """Keep what a pass gave."""
        self.parts.keep((self._key(one, words), self._slices), table, table.nbytes)

    def _key(self, one: Pass, words: int) -> Hashable:
        return "sums", self._lines, self.grid.cells.radices, column_key(self.grid.columns, *one), words

    @cached_property
    def _lines(self) -> Hashable:
        return lines_key(self.grid.columns, self.parts, self.grid.rows, self.grid.filters)

    @cached_property
    def _slices(self) -> Hashable:
        return self.stretches.key(self.grid.columns)
