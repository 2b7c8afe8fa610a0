"""Answers as JSON: of a long list, of which a page fills some rows, most is the same in every answer and is written once."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Sequence
from dataclasses import replace
from threading import Lock

from lofty_abacus.api.shapes import adapter, short
from lofty_abacus.core.answer.answer import Row
from lofty_abacus.telling.told import ToldAnswer

#: From how many rows on they are kept as they were written, and so many such stretches.
MANY_ROWS, MOST_WRITTEN = 1_000, 6
#: Where the rows stand in an answer that has none. Inside a JSON text quotes are escaped, so that this can only be the field.
_NO_ROWS = b',"rows":[],"total":'


def answer_to_json(answer: ToldAnswer) -> bytes:
    """An answer in its JSON form, without the fields that a cell does not have."""
    # The rows that are filled come first.
    filled = bisect_left(answer.rows, True, key=lambda row: not row.cells) if answer.partial else len(answer.rows)
    text = short(adapter(ToldAnswer).dump_json(replace(answer, rows=())))
    before, found, after = text.partition(_NO_ROWS)
    assert found, "an answer has rows"
    parts = [_listed(answer.rows[:filled]), _written.listed(answer.rows[filled:])]
    return b"".join((before, b',"rows":[', b",".join(filter(None, parts)), b'],"total":', after))


def rows_to_json(rows: tuple[Row, ...]) -> bytes:
    """Rows in the same form."""
    return b"[" + _listed(rows) + b"]"


def _listed(rows: tuple[Row, ...]) -> bytes:
    """Rows without what stands around them."""
    return short(adapter(tuple[Row, ...]).dump_json(rows))[1:-1]


class _Written:
    """Rows that are not filled, as they were written: the last few lists. Safe for several threads."""

    def __init__(self) -> None:
        self._kept: list[tuple[Sequence[Row], bytes]] = []
        self._lock = Lock()

    def listed(self, rows: tuple[Row, ...]) -> bytes:
        """Such rows, written or as they were written before."""
        if len(rows) < MANY_ROWS:
            return _listed(rows)
        with self._lock:
            # Of members alone rows are the same objects in all answers: comparing them takes a hundredth of writing them.
            found = next((each for each in self._kept if each[0] == rows), None)
        found = found or (rows, _listed(rows))
        with self._lock:
            self._kept = [found, *(each for each in self._kept if each is not found)][:MOST_WRITTEN]
        return found[1]


_written = _Written()
