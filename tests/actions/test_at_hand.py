"""What is kept for the next step: bounded, and made without holding anybody up."""

from __future__ import annotations

import threading

import pytest

from lofty_abacus.actions.ports.at_hand import AtHand


def test_the_values_asked_for_last_are_kept_and_no_more() -> None:
    made: list[int] = []
    kept: AtHand[int] = AtHand(2)

    def of(key: int) -> int:
        return kept.get(key, lambda: made.append(key) or key * 10)

    assert [of(key) for key in (1, 2, 1, 3, 1, 2)] == [10, 20, 10, 30, 10, 20]
    assert made == [1, 2, 3, 2], "2 was asked for longest ago when 3 came"
    assert len(kept) == 2


def test_what_fails_keeps_nothing() -> None:
    kept: AtHand[int] = AtHand(2)

    def fails() -> int:
        raise ValueError("no")

    with pytest.raises(ValueError, match="no"):
        kept.get("a", fails)
    assert kept.get("a", lambda: 1) == 1


def test_one_value_that_takes_long_holds_up_no_other() -> None:
    kept: AtHand[int] = AtHand(2)
    begun, go_on = threading.Event(), threading.Event()

    def slow() -> int:
        begun.set()
        assert go_on.wait(60)
        return 1

    working = threading.Thread(target=lambda: kept.get("slow", slow))
    working.start()
    assert begun.wait(60)
    assert kept.get("quick", lambda: 2) == 2
    go_on.set()
    working.join()
    assert kept.get("slow", lambda: 3) == 1
