"""The rows of an answer in their order: most of a long list are never looked at."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Iterable, Iterator

from lofty_abacus.core.answer.answer import Row
from lofty_abacus.core.answer.rows import MOST_ROWS, ClosedRows, ShownRow, too_many_rows
from lofty_abacus.core.answer.table import bare_rows, named_row
from lofty_abacus.core.patience import heed

#: Rows after which it is looked whether their asker still waits.
MANY_ROWS = 1_000


class ListedRows:
    """The open rows from the top down, without cells; made only where they are asked for."""

    def __init__(self, parts: Iterable[ShownRow | ClosedRows]) -> None:
        """Raises QuestionError beyond MOST_ROWS."""
        self._parts: list[ShownRow | ClosedRows] = []
        self._starts: list[int] = []
        self._size = heeded = 0
        for each in parts:
            self._parts.append(each)
            self._starts.append(self._size)
            self._size += each.end - each.first if isinstance(each, ClosedRows) else 1
            if self._size > MOST_ROWS:
                raise too_many_rows()
            if self._size >= heeded:
                heed()
                heeded = self._size + MANY_ROWS

    def __len__(self) -> int:
        return self._size

    def __iter__(self) -> Iterator[ShownRow]:
        for each in self._parts:
            if isinstance(each, ClosedRows):
                yield from each.all()
            else:
                yield each

    def at(self, place: int) -> ShownRow:
        """The row at a place."""
        part = bisect_right(self._starts, place) - 1
        found = self._parts[part]
        return found.at(place - self._starts[part]) if isinstance(found, ClosedRows) else found

    def bare(self) -> list[Row]:
        """All of them as they are before they are filled."""
        found: list[Row] = []
        for each in self._parts:
            if isinstance(each, ClosedRows):
                found += bare_rows(each)
            else:
                found.append(named_row(each))
        return found
