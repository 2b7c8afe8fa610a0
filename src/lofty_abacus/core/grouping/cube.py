"""Running sums by day, kept: a window asked again on the same version is one subtraction per cell.

Only kept while days x cells stay well below the lines, so that it never costs more than it gives.
"""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Sequence
from threading import Lock

import numpy as np
from numpy.typing import NDArray

from lofty_abacus.core import kernels
from lofty_abacus.core.days import day_number, day_of
from lofty_abacus.core.grouping.additive import sums_by_cut
from lofty_abacus.core.grouping.blocks import Workers
from lofty_abacus.core.grouping.cells import CellGrid, Cells
from lofty_abacus.core.grouping.cuts import cut_at_bounds
from lofty_abacus.core.grouping.partials import Pass
from lofty_abacus.core.grouping.request import Filter
from lofty_abacus.core.segments import Segments
from lofty_abacus.core.windows.ranges import DayRange, DaySet

CubeKey = tuple[tuple[str, ...], tuple[Filter, ...], Pass]
MOST_CUBES = 6
#: Lines below which reading them all costs less than a thousand days kept ready.
LEAST_LINES = 1 << 19
#: Questions that are remembered as asked once.
MOST_ASKED = 200


class DayCubes:
    """The running sums of one ledger version, the least recently used forgotten first. Safe for several threads."""

    def __init__(self, segments: Segments, workers: Workers) -> None:
        self._segments, self._workers = segments, workers
        self._kept: OrderedDict[CubeKey, NDArray[np.int64]] = OrderedDict()
        self._asked: OrderedDict[CubeKey, None] = OrderedDict()
        self._lock = Lock()

    def sums(self, cells: Cells, grids: Sequence[CellGrid], windows: tuple[DaySet, ...], one: Pass) -> NDArray[np.int64] | None:
        """Sums [windows, cells, 2, words] if this is worth a cube and was asked before; None: read the lines."""
        span = self._segments.days
        key = (grids[0].rows, grids[0].filters, one)
        if (
            span is None
            or not cells.is_dense
            or len(self._segments) < LEAST_LINES
            or (span[1] - span[0] + 1) * cells.count * 4 > len(self._segments)
        ):
            return None
        with self._lock:
            if key not in self._asked:
                self._asked[key] = None
                while len(self._asked) > MOST_ASKED:
                    self._asked.popitem(last=False)
                return None
            cube = self._kept.pop(key, None)
        if cube is None:
            cube = self._build(grids, one, span)
        with self._lock:
            self._kept[key] = cube
            while len(self._kept) > MOST_CUBES:
                self._kept.popitem(last=False)
        return np.stack([_window(cube, span[0], window) for window in windows])

    def _build(self, grids: Sequence[CellGrid], one: Pass, span: tuple[int, int]) -> NDArray[np.int64]:
        days = [day_of(at) for at in range(span[0], span[1] + 1)]
        cuts = cut_at_bounds(tuple(DaySet((DayRange(day, day),)) for day in days))
        sums = np.ascontiguousarray(sums_by_cut(self._segments, grids, cuts, [one], self._workers)[one])
        kernels.run_prefix(sums.reshape(len(days), -1))
        return sums


def _window(cube: NDArray[np.int64], first_day: int, window: DaySet) -> NDArray[np.int64]:
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
