"""Columns in memory as a source of totals."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Sequence
from dataclasses import replace
from threading import RLock
from typing import Any, get_args

import numpy as np
from numpy.typing import NDArray

from lofty_abacus.core.days import day_number
from lofty_abacus.core.grouping.additive import Pass, passes_of, sums_by_segment, total_of
from lofty_abacus.core.grouping.blocks import ALONE, Workers
from lofty_abacus.core.grouping.cells import CellGrid
from lofty_abacus.core.grouping.cube import DayCubes
from lofty_abacus.core.grouping.distinct import distinct_by_window, first_days, ids_down
from lofty_abacus.core.grouping.late_returns import late_lines, moved_lines, take_back
from lofty_abacus.core.grouping.request import (
    Ability,
    FoundLines,
    LevelTotals,
    LineConventions,
    LinesRequest,
    Spread,
    TotalsRequest,
)
from lofty_abacus.core.grouping.segments import cut_at_bounds
from lofty_abacus.core.grouping.selection import in_order, lines_of
from lofty_abacus.core.lines import LineColumns, Members
from lofty_abacus.core.measures.sums import DistinctIds, LineSum, Quantity
from lofty_abacus.core.placing.placing import PlacedLines, placed_on_sale_days
from lofty_abacus.core.placing.spreading import spread_over_days
from lofty_abacus.core.windows.ranges import DayRange

#: Readings of one version that are kept ready.
MOST_READINGS = 4
_ALWAYS = frozenset({LineSum("lines", "all"), LineSum("lines", "sale")})


class ColumnsSource:
    """A ledger version held as `LineColumns`. Keeps running sums of what is asked repeatedly; safe for several threads."""

    def __init__(
        self,
        columns: LineColumns,
        unplaced: tuple[int, int] = (0, 0),
        own_day: NDArray[np.int32] | None = None,
        *,
        is_spread: bool = False,
        workers: Workers = ALONE,
    ) -> None:
        """own_day: i32[n], where returns lie on the days of their sales, each line's own day number. is_spread: whether a line
        stands on each of the days that it is spread over. workers: who adds up."""
        self._is_spread = is_spread
        self.columns, self._workers = columns, workers
        self._own_day = own_day
        self._moved = None if own_day is None else moved_lines(columns, own_day)
        self.unplaced = unplaced
        self._cubes = DayCubes(columns, workers)
        self._readings: OrderedDict[tuple[object, ...], ColumnsSource] = OrderedDict()
        self._placed: dict[bool, PlacedLines] = {}
        self._over_days: OrderedDict[Spread, ColumnsSource] = OrderedDict()
        self._lock = RLock()

    @property
    def abilities(self) -> frozenset[Ability]:
        """All that there is."""
        return frozenset(get_args(Ability))

    def read_by(self, how: LineConventions) -> ColumnsSource:
        """The same lines, read as said; the last readings are kept."""
        if how.spread is not None:
            return self._spread(how.spread).read_by(replace(how, spread=None))
        dated = how.levels == "as_it_is_now" and self.columns.has_dated_levels
        if how.returns == "own_day" and not dated:
            return self
        with self._lock:
            placed = self._placed_lines(divide=how.refunds == "divided") if how.returns == "sale_day" else None
            # Beyond the last return's own day all as-of dates read the same lines.
            late = how.as_of if placed is not None and how.as_of < placed.last_own_day else None
            key = (how.as_of if dated else None, how.returns, how.refunds, late)
            if key in self._readings:
                self._readings.move_to_end(key)
                return self._readings[key]
            columns, own_day, unplaced = self.columns, None, (0, 0)
            if placed is not None:
                known = placed.known_by(how.as_of)
                columns, own_day = known.columns, known.own_day
                at = np.fromiter(placed.unplaced, np.int64, len(placed.unplaced))
                unplaced = (len(at), int(sum(self.columns.amount[at].tolist())))
            found = ColumnsSource(columns.as_it_is(how.as_of) if dated else columns, unplaced, own_day, workers=self._workers)
            self._readings[key] = found
            while len(self._readings) > MOST_READINGS:
                self._readings.popitem(last=False)
            return found

    def _spread(self, how: Spread) -> ColumnsSource:
        with self._lock:
            if how not in self._over_days:
                columns = spread_over_days(self.columns, how.grain, how.calendar, working=how.working)
                self._over_days[how] = ColumnsSource(columns, is_spread=True, workers=self._workers)
                while len(self._over_days) > MOST_READINGS:
                    self._over_days.popitem(last=False)
            return self._over_days[how]

    def _placed_lines(self, *, divide: bool) -> PlacedLines:
        if divide not in self._placed:
            self._placed[divide] = placed_on_sale_days(self.columns, divide=divide)
        return self._placed[divide]

    def day_counts(self, days: DayRange) -> NDArray[np.int64]:
        """How many lines, filtered or not, lie on each day of a range: i64[days]."""
        first = day_number(days.first) - self.columns.first_day
        # The lines are sorted by day: each day's are between two places. Of the same type, so that no copy of them is made.
        kind = self.columns.day.dtype
        bounds = np.arange(first, first + days.days + 1).clip(0, np.iinfo(kind).max).astype(kind)
        return np.diff(np.searchsorted(self.columns.day, bounds)).astype(np.int64)

    def members(self, name: str) -> Members:
        """The members of a dimension or level."""
        return self.columns.members(name)

    def lines(self, request: LinesRequest) -> FoundLines:
        """The lines that a figure is made of."""
        at = lines_of(self.columns, request.days, request.filters, request.side, request.given)
        if request.known_by is not None and self._own_day is not None:
            at = at[self._own_day[at] <= request.known_by]
        days = self.columns.day[at]
        bounds = (int(days[0]) + self.columns.first_day, int(days[-1]) + self.columns.first_day) if len(at) else (None, None)
        ids = self.columns.line_id[in_order(self.columns, at, request.sort)]
        if self._is_spread:
            ids = ids[np.sort(np.unique(ids, return_index=True)[1])]
        return FoundLines(ids.astype(np.uint64), *bounds)

    def first_days(self, request: LinesRequest, wanted: DistinctIds) -> NDArray[np.int64]:
        """For each different id among some lines the day number of its first sale line, ascending."""
        at = lines_of(self.columns, request.days, request.filters, "sale", request.given)
        return first_days(self.columns, at, wanted)

    def ids_down(self, request: LinesRequest, wanted: DistinctIds, dimension: str, codes: NDArray[np.int64]) -> NDArray[np.int64]:
        """How many different ids the sale lines of the first 1, 2, ... n members of a list have: i64[n]."""
        at = lines_of(self.columns, request.days, request.filters, "sale", request.given)
        return ids_down(self.columns, at, wanted, dimension, codes)

    def totals(self, request: TotalsRequest) -> Sequence[LevelTotals]:
        """Totals at depth 0, 1, ... len(rows); always with the numbers of lines and of sale lines."""
        grid = CellGrid(self.columns, request.rows, request.filters)
        wanted = frozenset(each for each in request.quantities if isinstance(each, LineSum)) | _ALWAYS
        sums = self._sums(grid, request, passes_of(wanted))
        depths = [grid.ancestors(depth) for depth in range(len(request.rows) + 1)]
        ups = [(len(keys), up) for keys, up in depths]
        distinct = {
            each: distinct_by_window(self.columns, grid, request.windows, ups, each, self._workers)
            for each in request.quantities
            if isinstance(each, DistinctIds)
        }
        levels = []
        for depth, (keys, up) in enumerate(depths):
            rolled = {one: _rolled_up(table, up[:-1], len(keys)) for one, table in sums.items()}
            values: dict[Quantity, NDArray[Any]] = {each: total_of(each, rolled) for each in wanted}
            values |= {each: counts[depth] for each, counts in distinct.items()}
            present = np.ones(1, bool) if depth == 0 else (values[LineSum("lines", "all")] != 0).any(axis=0)
            if depth == 0 and not len(keys):
                values = {each: np.zeros((len(request.windows), 1), np.int64) for each in values}
                keys = np.zeros(1, np.int64)
            chosen = {each: table[:, present] for each, table in values.items()}
            levels.append(LevelTotals(grid.codes(depth, keys[present]), chosen))
        return levels

    def _sums(self, grid: CellGrid, request: TotalsRequest, wanted: list[Pass]) -> dict[Pass, NDArray[np.int64]]:
        known = {one: self._cubes.sums(grid, request.windows, one) for one in wanted}
        sums = {one: table for one, table in known.items() if table is not None}
        left = [one for one in wanted if one not in sums]
        if left:
            segments = cut_at_bounds(request.windows, self.columns)
            for one, table in sums_by_segment(self.columns, grid, segments, left, self._workers).items():
                sums[one] = segments.combine(table)
        return self._without_late(grid, request, sums)

    def _without_late(
        self, grid: CellGrid, request: TotalsRequest, sums: dict[Pass, NDArray[np.int64]]
    ) -> dict[Pass, NDArray[np.int64]]:
        if self._moved is None or self._own_day is None or not any(by is not None for by in request.known_by):
            return sums
        none = np.empty(0, np.int64)
        late = [
            none if by is None else late_lines(self._moved, self._own_day, self.columns, window, by)
            for window, by in zip(request.windows, request.known_by, strict=True)
        ]
        return take_back(self.columns, grid, sums, late)


def _rolled_up(table: NDArray[np.int64], up: NDArray[np.int32], cells: int) -> NDArray[np.int64]:
    """Add [windows, cells, ...] up into the ancestors' cells, which are runs of neighbours."""
    if table.shape[1] == cells:
        return table
    starts = np.flatnonzero(np.concatenate(([True], up[1:] != up[:-1])))
    return np.add.reduceat(table, starts, axis=1)
