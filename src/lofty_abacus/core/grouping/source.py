"""Columns in memory as a source of totals."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable, Sequence
from dataclasses import replace
from threading import RLock
from typing import Any, get_args

import numpy as np
from numpy.typing import NDArray

from lofty_abacus.core.calendar.settings import CalendarSettings, Grain
from lofty_abacus.core.days import day_number
from lofty_abacus.core.grouping.additive import passes_of, total_of, words_of
from lofty_abacus.core.grouping.blocks import ALONE, Workers
from lofty_abacus.core.grouping.cells import CellGrid, Cells, grids_of
from lofty_abacus.core.grouping.distinct import first_days, ids_by_window, ids_down
from lofty_abacus.core.grouping.late_returns import late_lines, moved_lines, take_back
from lofty_abacus.core.grouping.partials import Partial, Pass
from lofty_abacus.core.grouping.request import (
    Ability,
    FoundLines,
    LevelTotals,
    LineConventions,
    LinesExtent,
    LinesRequest,
    Spread,
    TotalsRequest,
)
from lofty_abacus.core.grouping.selection import extent_at, extent_of, in_order, lines_of, together
from lofty_abacus.core.grouping.window_sums import sums_by_window
from lofty_abacus.core.lines import LineColumns, Members
from lofty_abacus.core.measures.sums import DistinctIds, LineSum, Quantity, Side
from lofty_abacus.core.placing.further_days import on_day, with_periods
from lofty_abacus.core.placing.placing import PlacedSegments, segments_on_sale_days
from lofty_abacus.core.placing.spreading import spread_over_days
from lofty_abacus.core.segments import Segments
from lofty_abacus.core.windows.ranges import DayRange

#: Readings of one version that are kept ready.
MOST_READINGS = 4
_ALWAYS = frozenset({LineSum("lines", "all"), LineSum("lines", "sale")})


class ColumnsSource:
    """A ledger version held in segments. Keeps running sums of what is asked repeatedly; safe for several threads."""

    def __init__(
        self,
        columns: LineColumns | Segments,
        unplaced: tuple[int, int] = (0, 0),
        own_day: NDArray[np.int32] | None = None,
        *,
        is_spread: bool = False,
        undated: tuple[int, int] = (0, 0),
        workers: Workers = ALONE,
    ) -> None:
        """own_day: i32[n], where returns lie on the days of their sales, their own day numbers: of the lines of the last segment.
        is_spread: whether a line stands on each of the days that it is spread over. undated: lines that lack the day by which
        these lie. workers: who adds up."""
        self._is_spread = is_spread
        self.segments = columns if isinstance(columns, Segments) else Segments((columns,))
        self._workers = workers
        self._own_day = own_day
        self._moved = None if own_day is None else moved_lines(self.segments.each[-1], own_day)
        self.unplaced, self.undated = unplaced, undated
        self._readings: OrderedDict[tuple[object, ...], ColumnsSource] = OrderedDict()
        self._placed: dict[bool, PlacedSegments] = {}
        self._over_days: OrderedDict[Spread, ColumnsSource] = OrderedDict()
        self._lock = RLock()

    def __len__(self) -> int:
        """How many lines count."""
        return len(self.segments)

    @property
    def abilities(self) -> frozenset[Ability]:
        """All that there is."""
        return frozenset(get_args(Ability))

    def read_by(self, how: LineConventions) -> ColumnsSource:
        """The same lines, read as said; the last readings are kept."""
        if how.spread is not None:
            return self._spread(how.spread).read_by(replace(how, spread=None))
        if how.day:
            return self._by_day(how.day).read_by(replace(how, day=""))
        if how.periods and how.calendar is not None:
            return self._with_periods(how.periods, how.calendar).read_by(replace(how, periods=()))
        dated = how.levels == "as_it_is_now" and self.segments.has_dated_levels
        if how.returns == "own_day" and not dated:
            return self
        with self._lock:
            placed = self._placed_lines(divide=how.refunds == "divided") if how.returns == "sale_day" else None
            # Beyond the last return's own day all as-of dates read the same lines.
            late = how.as_of if placed is not None and how.as_of < placed.placed.last_own_day else None
            key = (how.as_of if dated else None, how.returns, how.refunds, late)
            if key in self._readings:
                self._readings.move_to_end(key)
                return self._readings[key]
            segments, own_day, unplaced = self.segments, None, (0, 0)
            if placed is not None:
                segments, own_day = placed.known_by(how.as_of)
                unplaced = placed.unplaced
            found = ColumnsSource(
                segments.as_it_is(how.as_of) if dated else segments,
                unplaced,
                own_day,
                undated=self.undated,
                workers=self._workers,
            )
            self._readings[key] = found
            while len(self._readings) > MOST_READINGS:
                self._readings.popitem(last=False)
            return found

    def _spread(self, how: Spread) -> ColumnsSource:
        with self._lock:
            if how not in self._over_days:
                spread = [spread_over_days(each, how.grain, how.calendar, working=how.working) for each in self.segments]
                self._over_days[how] = ColumnsSource(Segments(tuple(spread)), is_spread=True, workers=self._workers)
                while len(self._over_days) > MOST_READINGS:
                    self._over_days.popitem(last=False)
            return self._over_days[how]

    def _by_day(self, day: str) -> ColumnsSource:
        """The lines on another of their days, kept like a reading."""

        def make() -> ColumnsSource:
            found = on_day(self.segments, day)
            return ColumnsSource(found.segments, undated=found.undated, workers=self._workers)

        return self._kept(("day", day), make)

    def _with_periods(self, periods: tuple[tuple[str, Grain], ...], calendar: CalendarSettings) -> ColumnsSource:
        """The lines with periods of their days as dimensions, kept like a reading."""

        def make() -> ColumnsSource:
            segments = with_periods(self.segments, periods, calendar)
            return ColumnsSource(segments, undated=self.undated, workers=self._workers)

        return self._kept(("periods", periods, calendar), make)

    def _kept(self, key: tuple[object, ...], make: Callable[[], ColumnsSource]) -> ColumnsSource:
        with self._lock:
            found = self._readings.pop(key, None) or make()
            self._readings[key] = found
            while len(self._readings) > MOST_READINGS:
                self._readings.popitem(last=False)
            return found

    def _placed_lines(self, *, divide: bool) -> PlacedSegments:
        if divide not in self._placed:
            self._placed[divide] = segments_on_sale_days(self.segments, divide=divide)
        return self._placed[divide]

    def day_counts(self, days: DayRange) -> NDArray[np.int64]:
        """How many lines, filtered or not, lie on each day of a range: i64[days]."""
        found = np.zeros(days.days, np.int64)
        for columns in self.segments:
            first = day_number(days.first) - columns.first_day
            # The lines are sorted by day: each day's are between two places. Of the same type, so that no copy of them is made.
            kind = columns.day.dtype
            bounds = np.arange(first, first + days.days + 1)
            places = np.searchsorted(columns.day, bounds.clip(0, np.iinfo(kind).max).astype(kind))
            found += np.diff(places)
            if columns.out is not None:
                away = np.flatnonzero(columns.out) if columns.few_out is None else columns.few_out
                left = columns.day[away].astype(np.int64) - first
                left = left[(left >= 0) & (left < days.days)]
                found -= np.bincount(left, minlength=days.days)
        return found

    def members(self, name: str) -> Members:
        """The members of a dimension or level."""
        return self.segments.members(name)

    def lines(self, request: LinesRequest) -> FoundLines:
        """The lines that a figure is made of."""
        ids = in_order(self.segments, self._read(request), request.sort)
        return FoundLines(ids[np.sort(np.unique(ids, return_index=True)[1])] if self._is_spread else ids)

    def extent(self, request: LinesRequest) -> LinesExtent:
        """How many they are and between which days they lie."""
        if self._own_day is None and not self._is_spread:
            return together(extent_of(each, request) for each in self.segments)
        at = self._read(request)
        found = together(extent_at(each, own) for each, own in zip(self.segments, at, strict=True))
        if not self._is_spread:
            return found
        ids = np.concatenate([each.line_id[own] for each, own in zip(self.segments, at, strict=True)])
        return replace(found, lines=len(np.unique(ids)))

    def _read(self, request: LinesRequest) -> list[NDArray[np.int64]]:
        """The places of the lines that a figure reads, in each segment."""
        at = self._lines_of(request, request.side)
        if request.known_by is not None and self._own_day is not None:
            at[-1] = at[-1][self._own_day[at[-1]] <= request.known_by]
        return at

    def _lines_of(self, request: LinesRequest, side: Side) -> list[NDArray[np.int64]]:
        return [lines_of(each, request.days, request.filters, side, request.given) for each in self.segments]

    def first_days(self, request: LinesRequest, wanted: DistinctIds) -> NDArray[np.int64]:
        """For each different id among some lines the day number of its first sale line, ascending."""
        return first_days(self.segments, self._lines_of(request, "sale"), wanted)

    def ids_down(self, request: LinesRequest, wanted: DistinctIds, dimension: str, codes: NDArray[np.int64]) -> NDArray[np.int64]:
        """How many different ids the sale lines of the first 1, 2, ... n members of a list have: i64[n]."""
        return ids_down(self.segments, self._lines_of(request, "sale"), wanted, dimension, codes)

    def totals(self, request: TotalsRequest) -> Sequence[LevelTotals]:
        """Totals at depth 0, 1, ... len(rows); always with the numbers of lines and of sale lines."""
        cells, partial = self.partial(request)
        return levels_of(cells, partial, request)

    def partial(self, request: TotalsRequest) -> tuple[Cells, Partial]:
        """What these lines give to the totals of a request, and the cells that it is by: plain data that can be merged."""
        cells, grids = grids_of(self.segments, request.rows, request.filters)
        wanted = {one: words_of(self.segments, one) for one in passes_of(line_sums(request))}
        sums = self._without_late(grids[-1], request, sums_by_window(grids, request.windows, wanted, self._workers))
        depths = [cells.ancestors(depth) for depth in range(len(request.rows) + 1)]
        ups = [(len(keys), up) for keys, up in depths]
        ids = {
            each: ids_by_window(self.segments, grids, request.windows, ups, each, self._workers)
            for each in request.quantities
            if isinstance(each, DistinctIds)
        }
        return cells, Partial(tuple(keys for keys, _ in depths), sums, ids)

    def _without_late(
        self, grid: CellGrid, request: TotalsRequest, sums: dict[Pass, NDArray[np.int64]]
    ) -> dict[Pass, NDArray[np.int64]]:
        if self._moved is None or self._own_day is None or not any(by is not None for by in request.known_by):
            return sums
        none = np.empty(0, np.int64)
        late = [
            none if by is None else late_lines(self._moved, self._own_day, grid.columns, window, by)
            for window, by in zip(request.windows, request.known_by, strict=True)
        ]
        return take_back(grid, sums, late)


def line_sums(request: TotalsRequest) -> frozenset[LineSum]:
    """What a request adds up, with the numbers of lines and of sale lines."""
    return frozenset(each for each in request.quantities if isinstance(each, LineSum)) | _ALWAYS


def levels_of(cells: Cells, partial: Partial, request: TotalsRequest) -> Sequence[LevelTotals]:
    """Totals at depth 0, 1, ... len(rows) of the cells that have a counted line in any window. partial: of all lines."""
    wanted = line_sums(request)
    distinct = {each: [one.counts() for one in found] for each, found in partial.ids.items()}
    deepest, levels = partial.keys[-1], []
    for depth, keys in enumerate(partial.keys):
        below = int(np.prod(cells.radices[depth:], dtype=np.int64))
        rolled = {one: _rolled_up(table, deepest // below, len(keys)) for one, table in partial.sums.items()}
        values: dict[Quantity, NDArray[Any]] = {each: total_of(each, rolled) for each in wanted}
        values |= {each: np.stack([counts[depth] for counts in found]) for each, found in distinct.items()}
        present = np.ones(1, bool) if depth == 0 else (values[LineSum("lines", "all")] != 0).any(axis=0)
        if depth == 0 and not len(keys):
            values = {each: np.zeros((len(request.windows), 1), np.int64) for each in values}
            keys = np.zeros(1, np.int64)
        chosen = {each: table[:, present] for each, table in values.items()}
        levels.append(LevelTotals(cells.codes(depth, keys[present]), chosen))
    return levels


def _rolled_up(table: NDArray[np.int64], above: NDArray[np.int64], cells: int) -> NDArray[np.int64]:
    """Add [windows, cells, ...] up into the ancestors' cells, which are runs of neighbours. above: the ancestor of each."""
    if table.shape[1] == cells:
        return table
    starts = np.flatnonzero(np.concatenate(([True], above[1:] != above[:-1])))
    return np.add.reduceat(table, starts, axis=1)
