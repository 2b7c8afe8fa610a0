"""Ranges of days, and sets of them, in words: intersect, difference, shift, is_disjoint.

One canonical form: a `DaySet` holds ranges in time order that neither touch nor overlap, so equal sets are equal values.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date

from lofty_abacus.core.days import add_days


@dataclass(frozen=True, order=True)
class DayRange:
    """The days first..last, both counted; never empty."""

    first: date
    last: date

    def __post_init__(self) -> None:
        if self.last < self.first:
            raise ValueError(f"a range cannot end ({self.last}) before it starts ({self.first})")

    @property
    def days(self) -> int:
        """Number of days, at least 1."""
        return (self.last - self.first).days + 1

    def intersect(self, other: DayRange) -> DayRange | None:
        """The days in both; None if there are none."""
        first, last = max(self.first, other.first), min(self.last, other.last)
        return DayRange(first, last) if first <= last else None

    def shift(self, days: int) -> DayRange:
        """The range moved by a number of days."""
        return DayRange(add_days(self.first, days), add_days(self.last, days))

    def is_disjoint(self, other: DayRange) -> bool:
        """Whether no day is in both."""
        return self.intersect(other) is None


@dataclass(frozen=True)
class DaySet:
    """Days as disjoint ranges in time order. Make one with `day_set`, which brings ranges to this form."""

    ranges: tuple[DayRange, ...] = ()

    @property
    def days(self) -> int:
        """Number of days."""
        return sum(each.days for each in self.ranges)

    def intersect(self, other: DaySet) -> DaySet:
        """The days in both."""
        return day_set(both for a in self.ranges for b in other.ranges if (both := a.intersect(b)))

    def difference(self, other: DaySet) -> DaySet:
        """The days in this set and not in the other."""
        left = list(self.ranges)
        for hole in other.ranges:
            left = [part for each in left for part in _without(each, hole)]
        return day_set(left)

    def union(self, other: DaySet) -> DaySet:
        """The days in either."""
        return day_set((*self.ranges, *other.ranges))

    def is_disjoint(self, other: DaySet) -> bool:
        """Whether no day is in both."""
        return not self.intersect(other).ranges


EMPTY = DaySet()


def day_set(ranges: Iterable[DayRange]) -> DaySet:
    """The canonical set of the days in any of the ranges."""
    merged: list[DayRange] = []
    for each in sorted(ranges):
        if merged and each.first <= add_days(merged[-1].last, 1):
            merged[-1] = DayRange(merged[-1].first, max(merged[-1].last, each.last))
        else:
            merged.append(each)
    return DaySet(tuple(merged))


def _without(whole: DayRange, hole: DayRange) -> list[DayRange]:
    if whole.is_disjoint(hole):
        return [whole]
    left = []
    if whole.first < hole.first:
        left.append(DayRange(whole.first, add_days(hole.first, -1)))
    if hole.last < whole.last:
        left.append(DayRange(add_days(hole.last, 1), whole.last))
    return left
