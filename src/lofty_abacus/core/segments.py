"""The lines of one ledger version as a list of segments: immutable columns that versions share, some of their lines left out.

Every segment is sorted by (day, order id code) on its own. Member codes mean the same in all of them, so partial totals of
segments are added cell by cell, and ids that several of them hold are found by their codes.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray
from propcache.api import cached_property

from lofty_abacus.core.lines import (
    BLANK,
    LAST_OFFSET,
    NO_DAY,
    Codes,
    DayColumn,
    DimensionColumn,
    Figure,
    LineColumns,
    Members,
    day_column,
)
from lofty_abacus.core.money import INT64_MAX

#: Lines of small segments that are put together in memory.
MOST_JOINED = 1 << 17
#: By so many orders grows what is kept of each order.
ORDERS_TO_COME = 1 << 16


@dataclass(frozen=True, eq=False)
class Segments:
    """At least one segment; all have the same dimensions, levels and summed columns (`segments_of` sees to that)."""

    each: tuple[LineColumns, ...]

    def __len__(self) -> int:
        """How many lines count."""
        return self._counted

    def __iter__(self) -> Iterator[LineColumns]:
        return iter(self.each)

    @cached_property
    def _counted(self) -> int:
        return sum(columns.counted for columns in self.each)

    @property
    def first(self) -> LineColumns:
        """Any of them, for what all of them have."""
        return self.each[0]

    @property
    def roles(self) -> Mapping[str, str]:
        """Dimension name by role."""
        return self.first.roles

    def members(self, name: str) -> Members:
        """The members of a dimension or level."""
        return self.first.members(name)

    @cached_property
    def days(self) -> tuple[int, int] | None:
        """First and last day number of a line; None where there is none."""
        filled = [each for each in self.each if len(each)]
        if not filled:
            return None
        return min(each.first_day for each in filled), max(each.first_day + int(each.day[-1]) for each in filled)

    @property
    def has_dated_levels(self) -> bool:
        """Whether a level's member depends on the day for some key."""
        return self.first.has_dated_levels

    def as_it_is(self, day: int) -> Segments:
        """The same lines with every level as it is on one day (section 12). day: a day number."""
        levels = {name: level.as_it_is(day) for name, level in self.first.levels.items()}
        return Segments(tuple(replace(each, levels=levels) for each in self.each))

    @cached_property
    def one_word(self) -> Mapping[str, bool]:
        """Per column, whether any sum of it over all segments fits int64: sum of max|value| x n < 2^63 (section 2)."""
        names = ("amount", *self.first.figures)
        return {name: sum(each.bound_of(name) for each in self.each) <= INT64_MAX for name in names}

    @cached_property
    def scattered_orders(self) -> NDArray[np.uint8]:
        """Per order code, 1 where the order's lines are not all adjacent: it spans days, or segments."""
        size = self.members(self.roles["order"]).size
        # With room to grow: versions that only have further orders share it.
        runs = np.zeros(size + ORDERS_TO_COME - size % ORDERS_TO_COME, np.uint8)
        for codes, times in self._orders_and_runs:
            # Two of at most two each fit: what is asked is whether it is more than one.
            if codes is None:
                runs[: len(times)] = np.minimum(runs[: len(times)] + times, 2)
            else:
                runs[codes] = np.minimum(runs[codes] + times, 2)
        found = np.asarray(runs > 1, np.uint8)
        return _shared(max(self.each, key=len).remembered, "scattered orders", found)

    @cached_property
    def scattered(self) -> tuple[ScatteredOrders, ...]:
        """Per segment its orders whose lines are not all adjacent: the same object as long as they are the same."""
        return tuple(self._scattered(each, *runs) for each, runs in zip(self.each, self._orders_and_runs, strict=True))

    def _scattered(self, each: LineColumns, codes: NDArray[np.int64] | None, times: NDArray[np.uint8]) -> ScatteredOrders:
        scattered, column = self.scattered_orders, each.dimensions[self.roles["order"]].codes
        here = np.flatnonzero((scattered[: len(times)] != 0) & (times != 0)) if codes is None else codes[scattered[codes] != 0]
        kept: ScatteredOrders | None = each.remembered.get("scattered")
        if kept is None or kept.column is not column or not np.array_equal(kept.orders, here):
            kept = each.remembered["scattered"] = ScatteredOrders(here, column)
        return kept

    @cached_property
    def _orders_and_runs(self) -> list[tuple[NDArray[np.int64] | None, NDArray[np.uint8]]]:
        return [each.orders_and_runs for each in self.each]


@dataclass(frozen=True, eq=False)
class ScatteredOrders:
    """Orders of a segment whose lines are not all adjacent. orders: their codes, ascending; column: the code of each line."""

    orders: NDArray[np.int64]
    column: Codes

    @cached_property
    def lines(self) -> NDArray[np.int64]:
        """The places of their lines, ascending: i64[lines]."""
        if not len(self.orders):
            return np.empty(0, np.int64)
        flags = np.zeros(int(self.column.max()) + 1, bool)
        flags[self.orders] = True
        return np.flatnonzero(flags[self.column])


def _shared(remembered: dict[str, Any], name: str, found: NDArray[Any]) -> NDArray[Any]:
    """The array that was found before, if it is the same."""
    before = remembered.get(name)
    if before is not None and np.array_equal(before, found):
        return np.asarray(before)
    remembered[name] = found
    return found


def segments_of(parts: Sequence[LineColumns], members: Mapping[str, Members]) -> Segments:
    """Segments from columns that may lack what others have: lines without it have the blank member, or no figure.

    members: of every dimension that the version's lines have, in their order.
    """
    figures = list(dict.fromkeys(name for part in parts for name in part.figures))
    days = list(dict.fromkeys(name for part in parts for name in part.days))
    return Segments(tuple(_alike(part, members, figures, days) for part in parts))


def _alike(part: LineColumns, members: Mapping[str, Members], figures: Sequence[str], days: Sequence[str]) -> LineColumns:
    missing = [name for name in members if name not in part.dimensions]
    if not missing and len(part.figures) == len(figures) and len(part.days) == len(days):
        return part
    count = len(part)
    # The same arrays for all versions: what was found out about lines that lack something is found again by them.
    nothing: Codes = _once(part, "blank", lambda: np.zeros(count, np.uint8))
    no_figure: Figure = _once(part, "no figure", lambda: Figure(np.zeros(count, np.int32), np.ones(count, np.uint8)))
    no_day: DayColumn = _once(part, "no day", lambda: day_column(np.full(count, NO_DAY, np.int32)))
    own = {**part.dimensions, **{name: DimensionColumn(nothing, members[name]) for name in missing}}
    return replace(
        part,
        dimensions={name: own[name] for name in members},
        figures={name: part.figures.get(name) or no_figure for name in figures},
        days={name: part.days.get(name) or no_day for name in days},
    )


def _once(part: LineColumns, name: str, make: Callable[[], Any]) -> Any:
    if name not in part.remembered:
        part.remembered[name] = make()
    return part.remembered[name]


def joined(parts: Sequence[LineColumns]) -> LineColumns:
    """The lines that count of several segments as one, sorted by (day, order, line id). parts: alike, as of `segments_of`."""
    kept = [part if part.out is None else part.taken(np.flatnonzero(part.out == 0)) for part in parts]
    filled = [part for part in kept if len(part)] or kept[:1]
    if len(filled) == 1:
        return replace(filled[0], out=None, remembered={})
    first_day = min(part.first_day for part in filled)
    days = np.concatenate([part.day.astype(np.int32) + (part.first_day - first_day) for part in filled])
    ids = np.concatenate([part.line_id.astype(np.uint64) for part in filled])
    like = filled[0]
    orders = np.concatenate([part.dimensions[like.roles["order"]].codes for part in filled]) if "order" in like.roles else ids
    at = np.lexsort((ids, orders, days))
    narrow: Any = like.line_id.dtype if all(part.line_id.dtype == like.line_id.dtype for part in filled) else np.uint64

    def together(values: Sequence[Any]) -> Any:
        if all(each is None for each in values):
            return None
        given = [np.zeros(len(part), np.uint8) if each is None else each for part, each in zip(filled, values, strict=True)]
        return np.concatenate(given)[at]

    names = list(like.dimensions)
    levels = {
        name: replace(level, codes=together([part.levels[name].codes for part in filled])) for name, level in like.levels.items()
    }
    return replace(
        like,
        first_day=first_day,
        day=days[at].astype(np.uint16),
        side=together([part.side for part in filled]),
        amount=together([part.amount for part in filled]),
        line_id=ids[at].astype(narrow),
        dimensions={
            name: DimensionColumn(together([part.dimensions[name].codes for part in filled]), like.dimensions[name].members)
            for name in names
        },
        levels=levels,
        figures={
            name: Figure(
                together([part.figures[name].values for part in filled]),
                together([part.figures[name].missing for part in filled]),
            )
            for name in like.figures
        },
        days={name: day_column(together([part.days[name].numbers() for part in filled])) for name in like.days},
        out=None,
        largest=None,
        remembered={},
    )


def small_ones_joined(segments: Segments) -> Segments:
    """The same lines with the smallest segments put together as the last one: each costs a question as much as many lines do."""
    small: list[LineColumns] = []
    for each in sorted(segments.each, key=len):
        if sum(map(len, small)) + len(each) > MOST_JOINED or _days_of([*small, each]) > LAST_OFFSET:
            break
        small.append(each)
    if len(small) < 2:
        return segments
    large = [each for each in segments if not any(each is one for one in small)]
    return Segments((*large, joined(small)))


def _days_of(parts: Sequence[LineColumns]) -> int:
    """Days from the first line to the last."""
    filled = [part for part in parts if len(part)]
    lasts = [part.first_day + int(part.day[-1]) for part in filled]
    return max(lasts) - min(part.first_day for part in filled) if filled else 0


def without(columns: LineColumns, out: NDArray[np.bool_]) -> LineColumns:
    """A segment with some further lines that do not count. out: bool[n]."""
    if not out.any():
        return columns
    left = out if columns.out is None else out | (columns.out != 0)
    return replace(columns, out=left.astype(np.uint8))


assert BLANK == 0, "lines that lack a dimension have its blank member"
