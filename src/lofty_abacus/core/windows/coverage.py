"""What is posted: coverage per feed, its holes, and the days of a window that count (section 5)."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

from lofty_abacus.core.windows.ranges import EMPTY, DayRange, DaySet, day_set
from lofty_abacus.core.windows.reasons import Reason


@dataclass(frozen=True)
class FeedCoverage:
    """The stretch of days that a feed (the files of one mapping) speaks for, and the days in it that are declared holes."""

    feed: str
    days: DayRange
    carries: frozenset[str]
    """Which lines the feed brings: 'sale', 'return' or both."""
    holes: DaySet = EMPTY
    declared: bool = False


@dataclass(frozen=True)
class Coverage:
    """The coverage that a statement is answered under: the feeds that its measures read, seen together.

    A day counts if it lies between the first feed's start and the last feed's end and in no feed's hole. `ends_apart` tells
    that the feeds end on different days, which marks the answer.
    """

    span: DayRange | None
    holes: DaySet
    feeds: tuple[FeedCoverage, ...]

    @property
    def ends_apart(self) -> bool:
        """Whether the feeds end on different days."""
        return len({each.days.last for each in self.feeds}) > 1

    def counted(self, window: DayRange, as_of: date) -> DaySet:
        """The counted days of a window: inside coverage and not after the as-of date."""
        if self.span is None:
            return EMPTY
        inside = window.intersect(self.span)
        cut = DaySet((inside,)) if inside else EMPTY
        return cut.difference(self.holes).intersect(_up_to(as_of))

    def reason(self, window: DayRange, as_of: date) -> Reason | None:
        """Why a window has no counted day; None if it has one."""
        if self.counted(window, as_of).ranges:
            return None
        if window.first > as_of:
            return "after_as_of"
        if self.span is None or window.last < self.span.first:
            return "before_coverage"
        if window.first > self.span.last:
            return "after_coverage"
        return "not_posted"

    def cuts(self, window: DayRange, as_of: date) -> bool:
        """Whether coverage (not the as-of date) takes days from a window that keeps some: *partly covered*."""
        allowed = DaySet((window,)).intersect(_up_to(as_of))
        return 0 < self.counted(window, as_of).days < allowed.days


def coverage_of(feeds: Sequence[FeedCoverage], sides: frozenset[str]) -> Coverage:
    """The coverage of the feeds that bring any of the given sides ('sale', 'return'); of all feeds, if none does."""
    read = tuple(each for each in feeds if each.carries & sides) or tuple(feeds)
    if not read:
        return Coverage(None, EMPTY, ())
    span = DayRange(min(each.days.first for each in read), max(each.days.last for each in read))
    return Coverage(span, day_set(hole for each in read for hole in each.holes.ranges), read)


def default_coverage(first_line: date, last_line_by_posting: date | None) -> DayRange:
    """Undeclared coverage: from the first day of the month of the first line to the last line not after the day of posting.

    Where every line lies after the day of posting, the first line's own month start alone is covered.
    """
    first = first_line.replace(day=1)
    return DayRange(first, max(first, last_line_by_posting or first))


def _up_to(as_of: date) -> DaySet:
    return DaySet((DayRange(date.min, as_of),))
