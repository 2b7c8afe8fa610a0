"""Running sums by day, kept: a window asked again on the same version is one subtraction per cell.

Only kept while days x cells stay well below the lines, so that it never costs more than it gives.
"""

from __future__ import annotations

from collections import OrderedDict
from threading import Lock

import numpy as np
from numpy.typing import NDArray

from lofty_abacus.core import kernels
from lofty_abacus.core.days import day_number, day_of
from lofty_abacus.core.grouping.additive import Pass, sums_by_segment
from lofty_abacus.core.grouping.blocks import Workers
from lofty_abacus.core.grouping.cells import CellGrid
from lofty_abacus.core.grouping.request import Filter
from lofty_abacus.core.grouping.segments import cut_at_bounds
from lofty_abacus.core.lines import LineColumns
from lofty_abacus.core.windows.ranges import DayRange, DaySet

CubeKey = tuple[tuple[str, ...], tuple[Filter, ...], Pass]
MOST_CUBES = 6
#: Questions that are remembered as asked once.
MOST_ASKED = 200


class DayCubes:
    """The running sums of one ledger version, the least recently used forgotten first. Safe for several threads."""

    def __init__(self, columns: LineColumns, workers: Workers) -> None:
        self._columns, self._workers = columns, workers
        self._kept: OrderedDict[CubeKey, NDArray[np.int64]] = OrderedDict()
        self._asked: OrderedDict[CubeKey, None] = OrderedDict()
        self._lock = Lock()

    def sums(self, grid: CellGrid, windows: tuple[DaySet, ...], one: Pass) -> NDArray[np.int64] | None:
        """Sums [windows, cells, 2, words] if this is worth a cube and was asked before; None: read the lines."""
        key = (grid.rows, grid.filters, one)
        days = int(self._columns.day[-1]) + 1 if len(self._columns) else 0
        if not days or not grid.is_dense or days * grid.count * 4 > len(self._columns):
            return None
        with self._lock:
            if key not in self._asked:
                self._asked[key] = None
                while len(self._asked) > MOST_ASKED:
                    self._asked.popitem(last=False)
                return None
            cube = self._kept.pop(key, None)
        if cube is None:
            cube = self._build(grid, one, days)
        with self._lock:
            self._kept[key] = cube
            while len(self._kept) > MOST_CUBES:
                self._kept.popitem(last=False)
        return np.stack([self._window(cube, window) for window in windows])

    def _build(self, grid: CellGrid, one: Pass, days: int) -> NDArray[np.int64]:
        every_day = tuple(DaySet((DayRange(day, day),)) for day in (day_of(self._columns.first_day + at) for at in range(days)))
        segments = cut_at_bounds(every_day, self._columns)
        sums = np.ascontiguousarray(sums_by_segment(self._columns, grid, segments, [one], self._workers)[one])
        kernels.run_prefix(sums.reshape(days, -1))
        return sums

    def _window(self, cube: NDArray[np.int64], window: DaySet) -> NDArray[np.int64]:
        total = np.zeros(cube.shape[1:], np.int64)
        for each in window.ranges:
            first = day_number(each.first) - self._columns.first_day
            last = min(day_number(each.last) - self._columns.first_day, len(cube) - 1)
            if last < 0 or first > last:
                continue
            total += cube[last]
            if first > 0:
                total -= cube[first - 1]
        return total
