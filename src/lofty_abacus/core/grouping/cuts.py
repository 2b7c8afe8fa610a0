"""Cut the time line at all window bounds, so that each line is read once whatever the number of windows."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

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
        return columns.slices_of(self.days)

    def combine(self, parts: NDArray[np.int64]) -> NDArray[np.int64]:
        """Sum cuts (the first axis) into windows."""
        whole = np.zeros((len(self.member), *parts.shape[1:]), parts.dtype)
        if self.member.sum() <= MOST_ADDITIONS:
            for window, belongs in enumerate(self.member):
                for cut in np.flatnonzero(belongs):
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
