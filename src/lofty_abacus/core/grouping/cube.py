"""Running sums by day of a segment: any window of it is one subtraction per cell.

Only made while days x cells stay well below the lines, so that they never cost more than they give.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from lofty_abacus.core import kernels
from lofty_abacus.core.days import day_number
from lofty_abacus.core.grouping.additive import sums_by_cut
from lofty_abacus.core.grouping.blocks import Workers
from lofty_abacus.core.grouping.cells import CellGrid
from lofty_abacus.core.grouping.cuts import Cuts
from lofty_abacus.core.grouping.partials import Pass
from lofty_abacus.core.windows.ranges import DaySet

#: Lines for each day and cell that running sums take to be worth it.
LINES_A_SUM = 4


def is_worth_a_cube(grid: CellGrid) -> bool:
    """Whether running sums of a segment are much smaller than its lines."""
    return grid.cells.is_dense and len(grid.columns) > 0 and _days(grid) * grid.count * LINES_A_SUM <= len(grid.columns)


def day_cube(grid: CellGrid, one: Pass, words: int, workers: Workers) -> NDArray[np.int64]:
    """The sums of a segment up to each of its days: i64[days, cells, 2, words]."""
    first, count = grid.columns.first_day, _days(grid)
    # Every day by itself: no windows are told apart, of which a century of days would have a thousand million pairs.
    cuts = Cuts(np.zeros((0, count), bool), tuple((day, day) for day in range(first, first + count)))
    sums = np.ascontiguousarray(sums_by_cut([grid], cuts, {one: words}, workers)[one])
    kernels.run_prefix(sums.reshape(count, -1))
    return sums


def window_of(cube: NDArray[np.int64], first_day: int, window: DaySet) -> NDArray[np.int64]:
    """The sums of a window: i64[cells, 2, words]. first_day: the day number of the cube's first."""
    total = np.zeros(cube.shape[1:], np.int64)
    for each in window.ranges:
        first = day_number(each.first) - first_day
        last = min(day_number(each.last) - first_day, len(cube) - 1)
        if last < 0 or first > last:
            continue
        total += cube[last]
        if first > 0:
            total -= cube[first - 1]
    return total


def _days(grid: CellGrid) -> int:
    """Days from the segment's first to the last that has a line."""
    return int(grid.columns.day[-1]) + 1
