"""Take back the returns that a window may not know yet: *same time for returns* (section 1).

Returns read on the day of the sale are few beside the lines: adding everything up once and taking the late ones back out per
window costs next to nothing, where a reading of its own for every window would cost a pass over all lines.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from lofty_abacus.core.days import day_number
from lofty_abacus.core.grouping.cells import CellGrid
from lofty_abacus.core.grouping.partials import Pass, PassSums
from lofty_abacus.core.lines import LineColumns
from lofty_abacus.core.windows.ranges import DaySet

_WORD = (1 << 32) - 1


def moved_lines(columns: LineColumns, own_day: NDArray[np.int32]) -> NDArray[np.int64]:
    """Positions of the lines that do not lie on their own day (day numbers, i32[n])."""
    return np.flatnonzero(own_day != columns.day.astype(np.int32) + columns.first_day)


def late_lines(
    moved: NDArray[np.int64], own_day: NDArray[np.int32], columns: LineColumns, window: DaySet, by: int
) -> NDArray[np.int64]:
    """Positions of the moved lines in a window whose own day is after the day number `by`."""
    late = moved[own_day[moved] > by]
    days = columns.day[late].astype(np.int64) + columns.first_day
    inside = np.zeros(len(late), bool)
    for each in window.ranges:
        inside |= (days >= day_number(each.first)) & (days <= day_number(each.last))
    return late[inside]


def take_back(grid: CellGrid, sums: PassSums, late: Sequence[NDArray[np.int64]]) -> dict[Pass, NDArray[np.int64]]:
    """The sums without some lines of a segment in each window.

    late: per window, positions of lines; sums: by [window, cell, side, words].
    """
    columns = grid.columns
    found = {one: table.copy() for one, table in sums.items()}
    for window, lines in enumerate(late):
        if len(lines):
            cells = grid.cells_at(lines)
            for (column, given), table in found.items():
                counted = cells < grid.count
                for name in given:
                    flags = columns.missing(name)
                    counted &= True if flags is None else flags[lines] == 0
                chosen = lines[counted]
                values, place = columns.values(column)[chosen].astype(np.int64), (cells[counted], columns.side[chosen])
                high, low = (values, None) if table.shape[-1] == 2 else (values >> 32, values & _WORD)
                np.subtract.at(table[window, ..., 0], place, high)
                np.subtract.at(table[window, ..., 1], place, 1)
                if low is not None:
                    np.subtract.at(table[window, ..., 2], place, low)
    return found
