"""What single segments gave to questions, kept: segments never change, so a version that shares them need not read them again.

Only of segments that take longer to read than to look up. A question is told apart by the arrays that it reads, not by names: a
reading that has other days, amounts or members finds nothing of another's.
"""

from __future__ import annotations

import weakref
from collections import OrderedDict
from collections.abc import Hashable, Sequence
from dataclasses import dataclass
from hashlib import blake2b
from threading import Lock
from typing import Any

import numpy as np
from numpy.typing import NDArray

from lofty_abacus.core.days import day_number
from lofty_abacus.core.grouping.request import (
    DayFilter,
    DayOrderFilter,
    FigureFilter,
    Filter,
    GivenFilter,
    MemberFilter,
    PathFilter,
)
from lofty_abacus.core.lines import DAY, LineColumns
from lofty_abacus.core.windows.ranges import DaySet

#: Lines below which reading a segment costs less than keeping what it gave; so many times as many where lines are only added up.
LEAST_LINES, ADDING_TIMES = 1 << 17, 2
#: Bytes a line that may be kept of a segment in all, and of one question.
ROOM, ROOM_OF_ONE = 16, 8
#: Questions that are remembered as asked once.
MOST_ASKED = 200


class Same:
    """An array as a part of a key: equal to itself only, and to nothing once it is gone. It keeps no array alive."""

    __slots__ = ("_array", "_hash")

    def __init__(self, array: NDArray[Any]) -> None:
        self._array, self._hash = weakref.ref(array), id(array)

    def __hash__(self) -> int:
        return self._hash

    def __eq__(self, other: object) -> bool:
        mine = self._array()
        return isinstance(other, Same) and mine is not None and mine is other._array()


class KeptParts:
    """What one segment gave, the least recently used let go of first. Safe for several threads."""

    def __init__(self, lines: int) -> None:
        self._lines, self._held = lines, 0
        self._found: OrderedDict[Hashable, tuple[Any, int]] = OrderedDict()
        self._asked: OrderedDict[Hashable, None] = OrderedDict()
        self._tops: OrderedDict[Hashable, int] = OrderedDict()
        self._lock = Lock()

    def get(self, key: Hashable) -> Any | None:
        """What is kept under a key."""
        with self._lock:
            if key not in self._found:
                return None
            self._found.move_to_end(key)
            return self._found[key][0]

    def is_asked_again(self, key: Hashable) -> bool:
        """Whether this was asked before; it was from now on."""
        with self._lock:
            known = key in self._asked
            self._asked[key] = None
            self._asked.move_to_end(key)
            while len(self._asked) > MOST_ASKED:
                self._asked.popitem(last=False)
            return known

    def has_room_for(self, size: int) -> bool:
        """Whether something of so many bytes may be kept."""
        return size <= self._lines * ROOM_OF_ONE

    def keep(self, key: Hashable, value: Any, size: int) -> None:
        """Keep something of so many bytes, if there is room for it."""
        if not self.has_room_for(size):
            return
        with self._lock:
            self._held += size - self._found.pop(key, (None, 0))[1]
            self._found[key] = (value, size)
            while self._held > self._lines * ROOM:
                self._held -= self._found.popitem(last=False)[1][1]

    def top(self, codes: NDArray[Any]) -> int:
        """The largest of some codes of the segment."""
        key = Same(codes)
        with self._lock:
            if key not in self._tops:
                self._tops[key] = int(codes.max()) if len(codes) else 0
                while len(self._tops) > MOST_ASKED:
                    self._tops.popitem(last=False)
            return self._tops[key]


def kept_parts(columns: LineColumns, *, adding: bool = False) -> KeptParts | None:
    """Where what a segment gives is kept; None of a small one. adding: of what is only added up, not told apart."""
    if len(columns) < LEAST_LINES * (ADDING_TIMES if adding else 1):
        return None
    # Two that begin at once: one of their empty ones stays.
    found: KeptParts = columns.remembered.setdefault("parts", KeptParts(len(columns)))
    return found


def lines_key(columns: LineColumns, parts: KeptParts, rows: Sequence[str], filters: Sequence[Filter]) -> Hashable:
    """What tells which lines of a segment count under some filters, and by what they are added up. parts: of the segment."""
    out = None if columns.out is None else Same(columns.out)
    by = tuple(_codes_key(columns, parts, name) for name in rows)
    return out, Same(columns.day), Same(columns.side), by, tuple(_filter_key(columns, parts, each) for each in filters)


@dataclass(frozen=True, eq=False)
class Stretches:
    """The stretches of days of so many windows. days: i64[n, 2], first and last day numbers; windows: i64[n], whose each is."""

    count: int
    days: NDArray[np.int64]
    windows: NDArray[np.int64]

    @classmethod
    def of(cls, windows: Sequence[DaySet]) -> Stretches:
        """Those of some windows, in their order."""
        days = [(day_number(each.first), day_number(each.last)) for one in windows for each in one.ranges]
        whose = np.repeat(np.arange(len(windows)), [len(one.ranges) for one in windows])
        return cls(len(windows), np.array(days, np.int64).reshape(-1, 2), whose)

    def key(self, columns: LineColumns) -> Hashable:
        """Which lines of a segment lie in which of how many windows: others that differ only where it has none are the same."""
        starts, stops = columns.places_of(self.days)
        filled = starts < stops
        return self.count, starts[filled].tobytes(), stops[filled].tobytes(), self.windows[filled].tobytes()


def column_key(columns: LineColumns, name: str, given: Sequence[str] = ()) -> Hashable:
    """What tells which figure is added up, of lines that have some others."""
    return Same(columns.values(name)), tuple(_given_key(columns, each) for each in given)


def _codes_key(columns: LineColumns, parts: KeptParts, name: str) -> Hashable:
    codes, mapping = columns.coded(name)
    if mapping is None:
        return Same(codes)
    # Of the level only what it says of these lines' members: later ones change nothing.
    said = np.ascontiguousarray(mapping[: parts.top(codes) + 1])
    return Same(codes), blake2b(said.tobytes(), digest_size=16).digest()


def _filter_key(columns: LineColumns, parts: KeptParts, each: Filter) -> Hashable:
    match each:
        case MemberFilter(dimension):
            return each, _codes_key(columns, parts, dimension)
        case PathFilter(rows):
            return each, tuple(_codes_key(columns, parts, name) for name in rows)
        case FigureFilter(figure) | GivenFilter(figure):
            values = Same(columns.values(figure)) if columns.has(figure) else None
            return each, values, _given_key(columns, figure)
        case DayFilter(day):
            return each, _day_key(columns, day)
        case DayOrderFilter(day, _, other):
            return each, _day_key(columns, day), _day_key(columns, other)


def _given_key(columns: LineColumns, figure: str) -> Hashable:
    flags = columns.missing(figure)
    return None if flags is None else Same(flags)


def _day_key(columns: LineColumns, day: str) -> Hashable:
    """A further day of the lines, or (DAY) the one that they lie by."""
    if day not in columns.days:
        assert day == DAY, day
        return Same(columns.day), columns.first_day
    column = columns.days[day]
    return Same(column.offsets), column.first_day
