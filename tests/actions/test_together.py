"""The same question, asked by several at once, is answered once."""

from __future__ import annotations

import gc
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from datetime import date
from pathlib import Path
from threading import Barrier, Event
from weakref import ref

import pytest

from lofty_abacus.actions.figures.answer_statement import told_answer
from lofty_abacus.actions.intake.post_files import post_files
from lofty_abacus.actions.intake.stage_files import stage_files
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.ports.together import MOST_KEPT, Together
from lofty_abacus.core.patience import heeding
from lofty_abacus.core.statement.statement import Opened, ShownMeasure, Statement
from lofty_abacus.core.windows.as_of import PinnedDay
from lofty_abacus.store.books import MariaDbBooks
from tests.conftest import quiet

Write = Callable[..., tuple[str, Path]]


def test_who_asks_the_same_waits_for_the_same_answer() -> None:
    going, slow, made = Barrier(2), Event(), []
    together: Together[int] = Together()

    def make() -> int:
        made.append(1)
        going.wait(10)
        assert slow.wait(10)
        return 7

    with ThreadPoolExecutor(5) as pool:
        first = pool.submit(together.get, ["not", "hashable"], make)
        going.wait(10)
        others = [pool.submit(together.get, ["not", "hashable"], make) for _ in range(3)]
        assert together.get(["another"], lambda: 8) == 8, "another question waits for nobody"
        slow.set()
        assert [first.result(10), *(each.result(10) for each in others)] == [7] * 4
    assert len(made) == 1
    assert together.get(["not", "hashable"], lambda: 9) == 9, "asked again later, it is answered again"


def test_who_waits_for_somebody_who_goes_away_gets_an_answer_of_their_own() -> None:
    together: Together[int] = Together()
    begun, gone = Event(), Event()

    def given_up() -> int:
        begun.set()
        assert gone.wait(10)
        raise RuntimeError("nobody waits")

    with ThreadPoolExecutor(3) as pool:
        first = pool.submit(together.get, 1, given_up)
        assert begun.wait(10)
        others = [pool.submit(together.get, 1, lambda: 6) for _ in range(2)]
        gone.set()
        assert [each.result(10) for each in others] == [6, 6]
        with pytest.raises(RuntimeError):
            first.result(10)


def test_who_waits_may_give_up_themselves() -> None:
    together: Together[int] = Together()
    begun, end = Event(), Event()

    def slow() -> int:
        begun.set()
        assert end.wait(10)
        return 1

    def stop() -> None:
        raise TimeoutError

    with ThreadPoolExecutor(1) as pool:
        first = pool.submit(together.get, 1, slow)
        assert begun.wait(10)
        with pytest.raises(TimeoutError), heeding(stop):
            together.get(1, lambda: 2)
        end.set()
        assert first.result(10) == 1


def test_an_error_is_not_kept() -> None:
    together: Together[int] = Together(lambda _: True)

    def fail() -> int:
        raise ValueError("no")

    with pytest.raises(ValueError, match="no"):
        together.get(1, fail)
    assert together.get(1, lambda: 5) == 5


def test_small_answers_stay_at_hand_and_the_last_ones_only() -> None:
    together: Together[int] = Together(lambda value: value < 1000)
    for number in range(MOST_KEPT + 3):
        together.get(number, lambda number=number: number)  # type: ignore[misc]
    assert together.get(MOST_KEPT + 2, lambda: -1) == MOST_KEPT + 2
    assert together.get(0, lambda: -1) == -1
    together.get("large", lambda: 1000)
    assert together.get("large", lambda: 1) == 1


def test_answers_at_hand_keep_no_lines_of_versions_that_nobody_reads(office: Office, ledger: str, csv_file: Write) -> None:
    statement = Statement((ShownMeasure("net_sales"),), ("rep",), as_of=PinnedDay(date(2026, 12, 31)))
    sources = []
    for at in range(2):
        file = csv_file(f"f{at}.csv", "date,rep,amount", f"2026-03-0{at + 1},Ada,{at + 1}")
        post_files(office, stage_files(office, ledger, [file]).id, quiet)
        first = told_answer(office, ledger, statement, Opened(1))
        assert told_answer(office, ledger, statement, Opened(1)) is first, "the same question is answered from what is at hand"
        sources.append(ref(office.books.opened(ledger).source))
    assert isinstance(office.books, MariaDbBooks)
    assert told_answer(office, ledger, statement, Opened(1)).total.cells[0].value == "3.00"
    office.books._cache._open.clear()
    gc.collect()
    assert [each() for each in sources] == [None, None]
