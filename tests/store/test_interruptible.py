"""A question to MariaDB ends there when its asker goes."""

from __future__ import annotations

import time

import pytest
from sqlalchemy import text

from lofty_abacus.actions.ports import Office
from lofty_abacus.core.patience import heeding
from lofty_abacus.store.books import MariaDbBooks
from lofty_abacus.store.engine import transaction
from lofty_abacus.store.interruptible import rows_of

#: Seconds that the question would take, and within which it is gone.
LONG, SOON = 60, 20


class GoneError(Exception):
    pass


def running(books: MariaDbBooks, mark: str) -> int:
    # Looking is no step of the work that is looked at.
    with books.engine.connect() as connection:
        query = text("SELECT COUNT(*) FROM information_schema.PROCESSLIST WHERE INFO LIKE :mark AND ID <> CONNECTION_ID()")
        return int(connection.execute(query, {"mark": f"%{mark}%"}).scalar_one())


def test_a_question_ends_when_its_asker_goes(office: Office) -> None:
    books = office.books
    assert isinstance(books, MariaDbBooks)
    begun = time.monotonic()
    seen = 0

    def stop() -> None:
        nonlocal seen
        seen = max(seen, running(books, "long question"))
        if seen:
            raise GoneError

    with pytest.raises(GoneError), heeding(stop), transaction(books.engine) as connection:
        rows_of(connection, text("SELECT SLEEP(:n) /* long question */"), {"n": LONG})
    assert seen == 1 and time.monotonic() - begun < SOON
    assert running(books, "long question") == 0


def test_a_question_is_answered_or_refused_as_ever(office: Office) -> None:
    books = office.books
    assert isinstance(books, MariaDbBooks)
    with transaction(books.engine) as connection:
        assert [tuple(row) for row in rows_of(connection, text("SELECT :n + 1, 'a'"), {"n": 2})] == [(3, "a")]
        with pytest.raises(Exception, match="no_such_table"):
            rows_of(connection, text("SELECT * FROM no_such_table"), {})


def test_each_transaction_is_a_step_that_may_be_the_last(office: Office) -> None:
    books = office.books
    assert isinstance(books, MariaDbBooks)
    steps: list[int] = []

    def stop() -> None:
        steps.append(books.engine.pool.checkedout())  # type: ignore[attr-defined]
        if len(steps) > 2:
            raise GoneError

    with heeding(stop):
        for _ in range(2):
            with transaction(books.engine) as connection:
                assert connection.execute(text("SELECT 1")).scalar_one() == 1
        with pytest.raises(GoneError), transaction(books.engine):
            raise AssertionError("it is stopped before it begins")
    assert steps == [0, 0, 0], "nothing is held by whoever stands aside"
