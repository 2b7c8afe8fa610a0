"""Work one step ahead: the same items in their order, and whatever making one raises in its place."""

from __future__ import annotations

import threading
from collections.abc import Iterator

import pytest

from lofty_abacus.ingest.ahead import one_ahead


def test_the_next_one_is_made_while_one_is_in_use() -> None:
    made = [threading.Event() for _ in range(4)]

    def items() -> Iterator[int]:
        for at in range(3):
            yield at
            made[at + 1].set()

    for at in one_ahead(items()):
        # What comes next is made meanwhile, though nobody has asked for it.
        assert made[at + 1].wait(10)
    assert list(one_ahead(iter([None, 1, None]))) == [None, 1, None]
    assert list(one_ahead(iter(()))) == []


def test_what_breaks_is_told_where_it_broke() -> None:
    def items() -> Iterator[int]:
        yield 1
        yield 2
        raise ValueError("the third")

    found = []
    with pytest.raises(ValueError, match="the third"):
        for each in one_ahead(items()):
            found.append(each)
    assert found == [1, 2]


def test_one_that_is_given_up_makes_one_more_at_most() -> None:
    made = []

    def items() -> Iterator[int]:
        for at in range(100):
            made.append(at)
            yield at

    ahead = one_ahead(items())
    assert next(ahead) == 0
    ahead.close()  # type: ignore[attr-defined]  # a generator
    assert len(made) <= 2
