"""Every test of the oracle asks a ledger cut into 1, 2, 7 or 40 segments, with lines among them that do not count."""

from __future__ import annotations

import zlib
from collections.abc import Collection
from dataclasses import replace

import pytest

from lofty_abacus.actions.ports.figures import OpenedLedger
from lofty_abacus.core.grouping.source import ColumnsSource
from lofty_abacus.core.segments import joined
from lofty_abacus.store.books import MariaDbBooks
from tests.ledgers import CUTS, WORKERS, cut

#: The last source that was cut, by what it was cut from and into how many.
_made: dict[tuple[int, int], tuple[object, ColumnsSource]] = {}


@pytest.fixture(autouse=True)
def in_segments(request: pytest.FixtureRequest, monkeypatch: pytest.MonkeyPatch) -> int:
    """The number of segments, by the test's name: about a quarter of all tests has each."""
    into = CUTS[zlib.crc32(request.node.nodeid.encode()) % len(CUTS)]
    opened = MariaDbBooks.opened

    def cut_up(books: MariaDbBooks, name: str, version: int | None = None, without: Collection[int] = ()) -> OpenedLedger:
        found = opened(books, name, version, without)
        if into == 1 or not isinstance(found.source, ColumnsSource):
            return found
        key = (id(found.source), into)
        if key not in _made:
            while len(_made) > 8:
                _made.pop(next(iter(_made)))
            lines = joined(found.source.segments.each)
            _made[key] = (found.source, ColumnsSource(cut(lines, into, into), workers=WORKERS))
        return replace(found, source=_made[key][1])

    monkeypatch.setattr(MariaDbBooks, "opened", cut_up)
    return into
