"""Cut the time line at all window bounds, so that each line is read once whatever the number of windows."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from lofty_abacus.core.days import day_number
from lofty_abacus.core.lines import LineColumns
from lofty_abacus.core.windows.ranges import DaySet

#: Up to so many segments in windows, each is simply added.
MOST_ADDITIONS = 500


@dataclass(frozen=True)
class Segments:
    """Disjoint slices of lines in time order, and which windows each belongs to.

    slices: [start, stop) per segment. member: bool[windows, segments]. first_days, last_days: day numbers of each segment.
    """

    slices: tuple[tuple[int, int], ...]
    member: NDArray[np.bool_]
    days: tuple[tuple[int, int], ...]

    def combine(self, parts: NDArray[np.int64]) -> NDArray[np.int64]:
        """Sum segments (the first axis) into windows."""
        whole = np.zeros((len(self.member), *parts.shape[1:]), parts.dtype)
        if self.member.sum() <= MOST_ADDITIONS:
            for window, belongs in enumerate(self.member):
                for segment in np.flatnonzero(belongs):
                    whole[window] += parts[segment]
            return whole
        # Many windows over many segments (running totals by day): differences of one running sum along time.
        upto = np.concatenate((np.zeros((1, *parts.shape[1:]), parts.dtype), np.cumsum(parts, axis=0)))
        for window, belongs in enumerate(self.member):
            edges = np.flatnonzero(np.diff(np.concatenate(([0], belongs.astype(np.int8), [0]))))
            for first, stop in edges.reshape(-1, 2):
                whole[window] += upto[stop] - upto[first]
        return whole


def cut_at_bounds(windows: Sequence[DaySet], columns: LineColumns) -> Segments:
    """The segments between all bounds of all windows, those in no window left out."""
    ranges = [[(day_number(r.first), day_number(r.last) + 1) for r in window.ranges] for window in windows]
    bounds = sorted({bound for window in ranges for pair in window for bound in pair})
    at = {bound: position for position, bound in enumerate(bounds)}
    member = np.zeros((len(windows), max(len(bounds) - 1, 0)), bool)
    for window, pairs in enumerate(ranges):
        for first, stop in pairs:
            member[window, at[first] : at[stop]] = True
    used = np.flatnonzero(member.any(axis=0))
    days = tuple((bounds[piece], bounds[piece + 1] - 1) for piece in used)
    return Segments(tuple(columns.slice_of(*pair) for pair in days), member[:, used], days)
