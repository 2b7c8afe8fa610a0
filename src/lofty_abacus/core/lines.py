"""Lines as columns, sorted by (day, order id code): a window of days is then a slice.

Shapes are [n] for n lines. Code 0 of every dimension is the blank member; code 1 of a level is the member for keys that no lookup
knows ("not mapped").
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray
from propcache.api import cached_property

from lofty_abacus.core.errors import ColumnsError
from lofty_abacus.core.name_order import PLAIN, NameOrder

Codes = NDArray[np.uint8] | NDArray[np.uint16] | NDArray[np.uint32]
BLANK = 0
NOT_MAPPED = 1
SALE, RETURN = 0, 1
#: The last day of a segment, counted from its first.
LAST_OFFSET = 65_535
#: One line in so many, at most, are few that do not count.
FEW_OUT_OF = 64
#: Stands for "since ever" among the day numbers of a level's changes.
EVER = -(2**31)
#: Stands for "none" among day numbers.
NO_DAY = -(2**31)
#: What the usual day of the lines is called among their days.
DAY = "day"


@dataclass(frozen=True)
class Members:
    """The members of a dimension by code. Keys and labels are loaded when first asked for: an order dimension has millions.

    size: number of codes, the blank (and for a level the not-mapped) member included.
    load: gives the keys (None: not mapped) and the labels, each in code order. in_time: they are periods, whose codes are in
    the order of time.
    """

    size: int
    load: Callable[[], tuple[Sequence[str | None], Sequence[str]]] = field(compare=False)
    in_time: bool = False
    _before: _Before | None = field(default=None, compare=False, repr=False)
    _ranks: dict[str, NDArray[np.int64]] = field(default_factory=dict, init=False, compare=False, repr=False)
    _sorted: dict[str, _Sorted] = field(default_factory=dict, init=False, compare=False, repr=False)

    def extended(self, size: int, load: Callable[[], tuple[Sequence[str | None], Sequence[str]]]) -> Members:
        """These and further ones behind them: what was found out about these is not found out again. They were loaded."""
        found = self.__dict__
        return Members(size, load, self.in_time, _Before(found.get("_names", ()), dict(self._sorted), found.get("rows", {})))

    @cached_property
    def _loaded(self) -> tuple[Sequence[str | None], Sequence[str]]:
        keys, labels = self.load()
        if len(keys) != self.size or len(labels) != self.size:
            raise ColumnsError(f"{self.size} members were announced and {len(keys)} came")
        return keys, labels

    @property
    def known(self) -> tuple[Sequence[str | None], Sequence[str]] | None:
        """Keys and labels, if they were loaded."""
        return self.__dict__.get("_loaded")

    def key(self, code: int) -> str | None:
        """The key of a code."""
        return self._loaded[0][code]

    def label(self, code: int) -> str:
        """What a code is called."""
        return self._loaded[1][code]

    @cached_property
    def codes(self) -> Mapping[str | None, int]:
        """Codes by key."""
        return {key: code for code, key in enumerate(self._loaded[0])}

    def name(self, code: int) -> str:
        """What a code is called where several are called alike: with its key."""
        return self._names[code]

    @cached_property
    def _names(self) -> Sequence[str]:
        keys, labels = self._loaded
        repeated = {label for label, times in Counter(labels).items() if times > 1}
        if not repeated:
            return labels
        return [
            f"{label} ({key})" if label in repeated and key and label != key else label
            for key, label in zip(keys, labels, strict=True)
        ]

    def name_rank(self, order: NameOrder = PLAIN) -> NDArray[np.int64]:
        """Rank of each code in an order of names, i64[size]: ties by label, then key; not mapped last. Kept per language."""
        if self.in_time:
            return np.where(np.arange(self.size) == BLANK, self.size, np.arange(self.size))
        if order.language not in self._ranks:
            ranked = self._ranked(order)
            rank = np.empty(self.size, np.int64)
            rank[ranked] = np.arange(self.size)
            self._ranks[order.language] = rank
        return self._ranks[order.language]

    def _ranked(self, order: NameOrder) -> list[int]:
        """The codes by their names; further ones are put among those that stand in their order already."""
        keys, labels = self._loaded
        known = self._before.sorted.get(order.language) if self._before else None
        by, first = (list(known.by), known.codes) if known else ([], [])
        begun = len(by)
        names = order.keys(labels[begun:])
        by += [(keys[at] is None, name, labels[at], keys[at] or "") for at, name in enumerate(names, start=begun)]
        ranked = sorted([*first, *range(begun, self.size)], key=by.__getitem__)
        self._sorted[order.language] = _Sorted(by, ranked)
        return ranked

    @cached_property
    def rows(self) -> dict[Any, Any]:
        """Rows of answers that were made of members alone, by what else they are made of and by code."""
        before = self._before
        if before is None or list(self._names[: len(before.names)]) != list(before.names):
            return {}
        return {how: dict(known) for how, known in before.rows.items()}


@dataclass(frozen=True)
class _Sorted:
    """Members in the order of a language. by: per code what it is sorted by; codes: in that order."""

    by: Sequence[tuple[Any, ...]]
    codes: Sequence[int]


@dataclass(frozen=True)
class _Before:
    """What was found out about the first of some members: their names, by language their order, and rows of them alone."""

    names: Sequence[str]
    sorted: Mapping[str, _Sorted]
    rows: dict[Any, Any]


@dataclass(frozen=True)
class DimensionColumn:
    """A line's own dimension: a code per line."""

    codes: Codes
    members: Members


@dataclass(frozen=True)
class Level:
    """A level from a lookup: `mapping[code of the dimension it is of]` is the level's own code, int32.

    Where a key's member depends on the day (section 12): codes, the member of each line on its day, and changes, i32[k, 3]
    rows of (code of the key, day number from which, member), by key and day; `mapping` then has the last member of each key.
    """

    of: str
    mapping: NDArray[np.int32]
    members: Members
    codes: Codes | None = None
    changes: NDArray[np.int32] | None = None

    def on(self, codes: Codes, days: NDArray[np.int32]) -> Level:
        """The level for lines with these codes of its dimension on these days (day numbers), both [n]."""
        if self.changes is None or self.codes is None:
            return self
        found: Any = dated_codes(self.mapping, self.changes, codes, days).astype(self.codes.dtype)
        return Level(self.of, self.mapping, self.members, found, self.changes)

    def as_it_is(self, day: int) -> Level:
        """The level as it is on one day (a day number), for all lines."""
        if self.changes is None:
            return self
        mapping = self.mapping.copy()
        mapping[np.unique(self.changes[:, 0])] = NOT_MAPPED
        for of, _, code in self.changes[self.changes[:, 1] <= day]:
            mapping[of] = code
        return Level(self.of, mapping, self.members)


def dated_codes(
    mapping: NDArray[np.int32], changes: NDArray[np.int32], codes: Codes, days: NDArray[np.int32]
) -> NDArray[np.int32]:
    """The member of each line on its day: i32[n]; before a key's first day it is not mapped (section 12)."""
    found = mapping[codes]
    starts = (
        np.flatnonzero(np.concatenate(([True], changes[1:, 0] != changes[:-1, 0]))) if len(changes) else np.empty(0, np.int64)
    )
    for start, stop in zip(starts.tolist(), [*starts[1:].tolist(), len(changes)], strict=True):
        own = changes[start:stop]
        if len(own) == 1 and own[0, 1] == EVER:
            continue
        at = np.flatnonzero(codes == own[0, 0])
        place = np.searchsorted(own[:, 1], days[at], side="right") - 1
        found[at] = np.where(place >= 0, own[np.maximum(place, 0), 2], NOT_MAPPED)
    return found


@dataclass(frozen=True)
class Figure:
    """A column of figures beside the amount: minor units at its own scale, i64 (or i32 where they are small).

    missing: u8, 1 for lines that have none, whose integer is 0; None: every line has it.
    """

    values: NDArray[np.int64]
    missing: NDArray[np.uint8] | None = None

    def taken(self, at: NDArray[np.int64]) -> Figure:
        """Those of some lines."""
        return Figure(self.values[at], None if self.missing is None else self.missing[at])


@dataclass(frozen=True)
class DayColumn:
    """A further day of the lines: u16 offsets from a day number (u32 where they span more); the type's largest: no day."""

    first_day: int
    offsets: NDArray[np.uint16] | NDArray[np.uint32]

    def taken(self, at: NDArray[np.int64]) -> DayColumn:
        """Those of some lines."""
        return DayColumn(self.first_day, self.offsets[at])

    def numbers(self, lines: slice | NDArray[np.int64] = slice(None)) -> NDArray[np.int32]:
        """Day numbers, i32[lines]; NO_DAY for lines without one."""
        here = self.offsets[lines]
        return np.where(here == np.iinfo(here.dtype).max, NO_DAY, here.astype(np.int32) + self.first_day).astype(np.int32)


def day_column(numbers: NDArray[np.int32]) -> DayColumn:
    """A further day as it is kept. numbers: day numbers, i32[n], NO_DAY for none."""
    given = numbers[numbers != NO_DAY]
    first = int(given.min()) if len(given) else 0
    narrow: Any = np.uint16 if not len(given) or int(given.max()) - first < LAST_OFFSET else np.uint32
    offsets = np.where(numbers == NO_DAY, np.iinfo(narrow).max, numbers.astype(np.int64) - first).astype(narrow)
    return DayColumn(first, offsets)


@dataclass(frozen=True)
class LineColumns:
    """All columns of some lines of a ledger: a segment of its versions, or all of them.

    first_day: day number (since 1970-01-01) of offset 0; day: u16 offsets, ascending.
    side: u8, 0 sale or 1 return. amount: i64 minor units at the ledger's scale. figures: quantity, cost and the ledger's own,
    by name, those that there are. days: the lines' further days by name; where they lie by one of those, DAY is their usual one.
    line_id: the line's id in the database, u32 or u64. out: u8, 1 for lines that do not count (None: all do). largest: per
    summed column the largest size, where it is known.
    """

    first_day: int
    day: NDArray[np.uint16]
    side: NDArray[np.uint8]
    amount: NDArray[np.int64]
    line_id: NDArray[np.uint32] | NDArray[np.uint64]
    dimensions: Mapping[str, DimensionColumn]
    levels: Mapping[str, Level]
    roles: Mapping[str, str] = field(default_factory=dict)
    """Dimension name by role, for the roles whose ids are counted: order, customer, product."""
    figures: Mapping[str, Figure] = field(default_factory=dict)
    days: Mapping[str, DayColumn] = field(default_factory=dict)
    out: NDArray[np.uint8] | None = None
    largest: Mapping[str, int] | None = None
    remembered: dict[str, Any] = field(default_factory=dict, compare=False, repr=False)
    """What was found out about the lines, whichever of them count: shared by the versions that share them."""

    def __len__(self) -> int:
        return len(self.day)

    @cached_property
    def counted(self) -> int:
        """How many of the lines count."""
        return len(self) - (0 if self.out is None else int(self.out.sum(dtype=np.int64)))

    def values(self, column: str) -> NDArray[np.int64]:
        """A summed column. Raises ColumnsError where the ledger has none of that name."""
        if column == "amount":
            return self.amount
        if column not in self.figures:
            raise ColumnsError(f"there is no column {column!r}")
        return self.figures[column].values

    def missing(self, column: str) -> NDArray[np.uint8] | None:
        """The flags of lines that lack a column; None where every line has it."""
        return self.figures[column].missing if column in self.figures else None

    def day_numbers(self, name: str, lines: slice | NDArray[np.int64] = slice(None)) -> NDArray[np.int32]:
        """A day of some lines: DAY, or a further one by name. i32[lines]; NO_DAY for lines without it."""
        if name in self.days:
            return self.days[name].numbers(lines)
        if name != DAY:
            raise ColumnsError(f"there is no day {name!r}")
        return self.day[lines].astype(np.int32) + np.int32(self.first_day)

    def members(self, name: str) -> Members:
        """The members of a dimension or level."""
        return self.dimensions[name].members if name in self.dimensions else self.levels[name].members

    def coded(self, name: str) -> tuple[Codes, NDArray[np.int32] | None]:
        """The code column that a dimension or level is read from, and the mapping to its own codes (None: as they are)."""
        if name in self.dimensions:
            return self.dimensions[name].codes, None
        level = self.levels[name]
        if level.codes is not None:
            return level.codes, None
        return self.dimensions[level.of].codes, level.mapping

    def taken(self, at: NDArray[np.int64]) -> LineColumns:
        """Some of the lines, in their order. at: ascending positions."""

        def some(values: Any) -> Any:
            return None if values is None else values[at]

        return replace(
            self,
            day=self.day[at],
            side=self.side[at],
            amount=self.amount[at],
            line_id=self.line_id[at],
            figures={name: each.taken(at) for name, each in self.figures.items()},
            days={name: each.taken(at) for name, each in self.days.items()},
            dimensions={name: DimensionColumn(each.codes[at], each.members) for name, each in self.dimensions.items()},
            levels={name: replace(each, codes=some(each.codes)) for name, each in self.levels.items()},
            out=some(self.out),
            remembered={},
        )

    @property
    def has_dated_levels(self) -> bool:
        """Whether a level's member depends on the day for some key."""
        return any(each.changes is not None for each in self.levels.values())

    def slice_of(self, first: int, last: int) -> tuple[int, int]:
        """The slice [start, stop) of the lines of the days first..last (day numbers)."""
        [found] = self.slices_of([(first, last)])
        return found

    def slices_of(self, days: Sequence[tuple[int, int]] | NDArray[np.int64]) -> list[tuple[int, int]]:
        """The slices [start, stop) of the lines of several stretches of days, each from a first to a last day number."""
        starts, stops = self.places_of(np.asarray(days, np.int64).reshape(-1, 2))
        return list(zip(starts.tolist(), stops.tolist(), strict=True))

    def places_of(self, days: NDArray[np.int64]) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
        """Where the slices of `slices_of` start and stop, i64[n] each. days: i64[n, 2], first and last day numbers."""
        if not len(days) or not len(self):
            return np.zeros(len(days), np.int64), np.zeros(len(days), np.int64)
        bounds = days - self.first_day
        empty = (bounds[:, 1] < 0) | (bounds[:, 0] > bounds[:, 1]) | (bounds[:, 0] > LAST_OFFSET)
        # Of the same type as the days, so that no copy of them is made.
        within = np.minimum(np.maximum(bounds, 0), LAST_OFFSET).astype(np.uint16)
        starts = np.searchsorted(self.day, within[:, 0], side="left").astype(np.int64)
        stops = np.searchsorted(self.day, within[:, 1], side="right").astype(np.int64)
        starts[empty] = stops[empty] = 0
        return starts, stops

    def has(self, name: str) -> bool:
        """Whether there is a summed column of this name."""
        return name == "amount" or name in self.figures

    def bound_of(self, name: str) -> int:
        """What no sum of a summed column exceeds in size: max|value| x n."""
        values = self.values(name)
        if not len(values):
            return 0
        largest = None if self.largest is None else self.largest.get(name)
        if largest is None:
            key = f"largest {name}"
            if key not in self.remembered:
                self.remembered[key] = size_of(values)
            largest = int(self.remembered[key])
        return largest * len(values)

    def order_runs(self, size: int) -> NDArray[np.int64]:
        """Per order code, in how many runs of neighbours its lines that count stand: i64[size]; none for the blank one."""
        runs = np.bincount(self._run_starts, minlength=size)
        runs[:1] = 0  # the blank one
        return runs

    @cached_property
    def few_out(self) -> NDArray[np.int64] | None:
        """The places of the lines that do not count, ascending, where they are few; none where all count. None: they are many."""
        if self.out is None:
            return np.empty(0, np.int64)
        at = np.flatnonzero(self.out)
        return at if len(at) * FEW_OUT_OF <= len(self) else None

    @property
    def orders_and_runs(self) -> tuple[NDArray[np.int64] | None, NDArray[np.uint8]]:
        """The different order codes of lines that count, ascending, and in how many runs (2: several) each stands.

        Of many orders: None, and the runs of the codes from 0 on. Where few lines do not count they are taken along: an order
        may then be said to stand in more runs than it does, never in fewer.
        """
        if self.few_out is None:
            return self._orders_and_runs()
        if "orders" not in self.remembered:
            self.remembered["orders"] = self._orders_and_runs()
        found: tuple[NDArray[np.int64] | None, NDArray[np.uint8]] = self.remembered["orders"]
        return found

    def _orders_and_runs(self) -> tuple[NDArray[np.int64] | None, NDArray[np.uint8]]:
        starts = self._run_starts
        top = int(starts.max()) + 1 if len(starts) else 0
        if len(starts) * 8 > top:
            return None, np.minimum(self.order_runs(top), 2).astype(np.uint8)
        codes, times = np.unique(starts[starts != BLANK], return_counts=True)
        return codes.astype(np.int64), np.minimum(times, 2).astype(np.uint8)

    @property
    def _run_starts(self) -> Codes:
        codes = self.dimensions[self.roles["order"]].codes
        if self.few_out is None and self.out is not None:
            codes = codes[self.out == 0]
        return codes[np.flatnonzero(np.concatenate(([True], codes[1:] != codes[:-1])))] if len(codes) else codes


def size_of(values: NDArray[Any]) -> int:
    """The largest size of some figures, without their sign."""
    return max(abs(int(values.min())), abs(int(values.max()))) if len(values) else 0
