"""Cut the time line at all window bounds, so that each line is read once whatever the number of windows."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from propcache.api import cached_property

from lofty_abacus.core.days import day_number
from lofty_abacus.core.lines import LineColumns
from lofty_abacus.core.windows.ranges import DaySet

#: Up to so many cuts in windows, each is simply added.
MOST_ADDITIONS = 500


@dataclass(frozen=True)
class Cuts:
    """Disjoint stretches of days in time order, and which windows each belongs to.

    member: bool[windows, cuts]. days: first and last day number of each cut.
    """

    member: NDArray[np.bool_]
    days: tuple[tuple[int, int], ...]

    def __len__(self) -> int:
        return len(self.days)

    def slices(self, columns: LineColumns) -> list[tuple[int, int]]:
        """The slice [start, stop) of the lines of each cut."""
        return columns.slices_of(self._bounds)

    @cached_property
    def _bounds(self) -> NDArray[np.int64]:
        return np.array(self.days, np.int64).reshape(-1, 2)

    @cached_property
    def _windows(self) -> list[list[int]]:
        """Per cut the windows that it belongs to."""
        return [np.flatnonzero(belongs).tolist() for belongs in self.member.T]

    @cached_property
    def _are_few(self) -> bool:
        return int(self.member.sum()) <= MOST_ADDITIONS

    def table(self, shape: tuple[int, ...]) -> NDArray[np.int64]:
        """Where cuts are added one after the other, until they are `combined`."""
        return np.zeros((len(self.member) if self._are_few else len(self), *shape), np.int64)

    def add(self, table: NDArray[np.int64], cut: int, part: NDArray[np.int64]) -> None:
        """Add a part of a cut."""
        for at in self._windows[cut] if self._are_few else (cut,):
            table[at] += part

    def combined(self, table: NDArray[np.int64]) -> NDArray[np.int64]:
        """What was added, by window."""
        return table if self._are_few else self.combine(table)

    def combine(self, parts: NDArray[np.int64]) -> NDArray[np.int64]:
        """Sum cuts (the first axis) into windows."""
        whole = np.zeros((len(self.member), *parts.shape[1:]), parts.dtype)
        if self._are_few:
            for cut, windows in enumerate(self._windows):
                for window in windows:
                    whole[window] += parts[cut]
            return whole
        # Many windows over many cuts (running totals by day): differences of one running sum along time.
        upto = np.concatenate((np.zeros((1, *parts.shape[1:]), parts.dtype), np.cumsum(parts, axis=0)))
        for window, belongs in enumerate(self.member):
            edges = np.flatnonzero(np.diff(np.concatenate(([0], belongs.astype(np.int8), [0]))))
            for first, stop in edges.reshape(-1, 2):
                whole[window] += upto[stop] - upto[first]
        return whole


def cut_at_bounds(windows: Sequence[DaySet]) -> Cuts:
    """The cuts between all bounds of all windows, those in no window left out."""
    ranges = [[(day_number(r.first), day_number(r.last) + 1) for r in window.ranges] for window in windows]
    bounds = sorted({bound for window in ranges for pair in window for bound in pair})
    at = {bound: position for position, bound in enumerate(bounds)}
    member = np.zeros((len(windows), max(len(bounds) - 1, 0)), bool)
    for window, pairs in enumerate(ranges):
        for first, stop in pairs:
            member[window, at[first] : at[stop]] = True
    used = np.flatnonzero(member.any(axis=0))
    return Cuts(member[:, used], tuple((bounds[piece], bounds[piece + 1] - 1) for piece in used))
