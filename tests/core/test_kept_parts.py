"""What segments keep of what they gave: so much and no more, and nothing that somebody else has let go of."""

from __future__ import annotations

import gc
from collections.abc import Iterator
from dataclasses import replace
from datetime import date, timedelta
from weakref import ref

import numpy as np
import pytest

from lofty_abacus.core.grouping import cube, kept_parts
from lofty_abacus.core.grouping.kept_parts import ROOM, KeptParts, Same
from lofty_abacus.core.grouping.request import TotalsRequest
from lofty_abacus.core.grouping.source import ColumnsSource
from lofty_abacus.core.measures.sums import DistinctIds, LineSum
from lofty_abacus.core.segments import Segments
from lofty_abacus.core.windows.ranges import DayRange, DaySet
from tests.ledgers import Line, SmallLedger

DAY = date(2026, 1, 1)
YEAR = DaySet((DayRange(DAY, DAY + timedelta(364)),))
ASKED = TotalsRequest((YEAR,), (), (), frozenset({LineSum("amount", "all"), DistinctIds("order")}))


@pytest.fixture(autouse=True)
def every_segment_is_large(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(kept_parts, "LEAST_LINES", 1)


def orders(*lines: tuple[int, str]) -> Segments:
    """One segment of lines, each of a day (0 is the first) and an order, of one and the same ledger."""
    every = [Line(DAY + timedelta(day), 100, order) for day, order in lines]
    return Segments((SmallLedger(every, YEAR.ranges[0]).columns,))


def test_an_array_equals_itself_only_and_nothing_once_it_is_gone() -> None:
    one, other = np.zeros(3), np.zeros(3)
    key = Same(one)
    assert key == Same(one) and hash(key) == hash(Same(one)) and key != Same(other) and key != one
    del one
    assert key != key  # noqa: PLR0124 - what it stood for is gone


def test_what_was_used_longest_ago_goes_first_and_what_is_too_large_is_not_kept() -> None:
    parts = KeptParts(100)
    for name in "abc":
        parts.keep(name, name, 100 * ROOM // 2)
        parts.get("a")
    assert [parts.get(name) for name in "abc"] == ["a", None, "c"]
    parts.keep("d", "d", 100 * ROOM)
    assert parts.get("d") is None and not parts.has_room_for(100 * ROOM)
    parts.keep("a", "other", 1)
    assert parts.get("a") == "other" and parts._held == 1 + 100 * ROOM // 2


def test_what_is_asked_again_is_known_of_the_last_questions_only() -> None:
    parts = KeptParts(100)
    assert not parts.is_asked_again("x") and parts.is_asked_again("x")
    for at in range(kept_parts.MOST_ASKED):
        parts.is_asked_again(at)
    assert not parts.is_asked_again("x")


def test_running_sums_go_over_more_than_a_century(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(cube, "LINES_A_SUM", 0)
    monkeypatch.setattr(kept_parts, "ROOM", 1 << 24)
    monkeypatch.setattr(kept_parts, "ROOM_OF_ONE", 1 << 23)
    lines = [Line(DAY - timedelta(60_000), 500, "A"), Line(DAY, 70, "B"), Line(DAY + timedelta(1), 1, "C")]
    segments = Segments((SmallLedger(lines, YEAR.ranges[0]).columns,))
    found = []
    for first, last in ((DAY, DAY), (DAY - timedelta(60_000), DAY), (DAY - timedelta(59_999), DAY + timedelta(1))):
        asked = replace(ASKED, windows=(DaySet((DayRange(first, last),)),))
        found.append(ColumnsSource(segments).totals(asked)[0].integers([LineSum("amount", "all")], 0, 0))
    assert found == [[70], [570], [71]]
    assert any(key[0] == "sums" for key in segments.first.remembered["parts"]._found), "the later ones came from running sums"


def versions() -> Iterator[Segments]:
    """Two versions of a large segment, of which a small one makes another order stand in two places each time."""
    large = orders((0, "A"), (1, "B"), (2, "C"))
    for again in ("A", "B"):
        small = orders((0, "A"), (1, "B"), (2, "C"), (9, again)).each[0]
        yield Segments((*large.each, small.taken(np.array([3], np.int64))))


def test_orders_that_spread_from_version_to_version_are_not_held_for_ever() -> None:
    gone, counts = [], []
    for version in versions():
        for _ in range(2):
            [level] = ColumnsSource(version).totals(ASKED)
        counts.append(level.integers([DistinctIds("order")], 0, 0))
        gone.append(ref(version.scattered[0].orders))
        large = version.each[0]
        del version, level
    gc.collect()
    assert counts == [[3], [3]], "an order of two segments is one"
    assert gone[0]() is None and gone[1]() is not None, "only what the last version stands on stays"
    assert large.remembered["parts"]._found


def test_a_window_without_a_line_of_the_segment_counts_as_a_window(monkeypatch: pytest.MonkeyPatch) -> None:
    """A month's lines are in none of the bases: what they gave to a question without a base is not what they give to one with."""
    monkeypatch.setattr(kept_parts, "ROOM", 1 << 20)
    monkeypatch.setattr(kept_parts, "ROOM_OF_ONE", 1 << 18)
    segments = orders((0, "A"), (1, "B"))
    before = DaySet((DayRange(DAY - timedelta(365), DAY - timedelta(1)),))
    for windows, wanted in (
        ((YEAR,), [200]),
        ((YEAR, before), [200, 0]),
        ((before, YEAR), [0, 200]),
        ((before, YEAR, before), [0, 200, 0]),
        ((before,), [0]),
        ((before, before), [0, 0]),
    ):
        for _ in range(3):
            level = ColumnsSource(segments).totals(replace(ASKED, windows=windows))[0]
            found = [level.integers([LineSum("amount", "all")], at, 0)[0] for at in range(len(windows))]
            assert found == wanted, windows
