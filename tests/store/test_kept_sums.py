"""Sums of a large ledger that are kept for a moment equal those of lines that are all read, whatever was posted since."""

from __future__ import annotations

from collections.abc import Callable, Collection
from dataclasses import replace
from datetime import date, timedelta
from pathlib import Path
from random import Random
from threading import Barrier, Thread

import pytest
from sqlalchemy import text

from lofty_abacus.actions.intake.post_files import post_files
from lofty_abacus.actions.intake.stage_files import stage_files
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import LineChange
from lofty_abacus.core.grouping.request import MemberFilter, TotalsRequest
from lofty_abacus.core.measures.sums import DistinctIds, LineSum
from lofty_abacus.core.windows.ranges import DayRange, DaySet
from lofty_abacus.store import kept_sums
from lofty_abacus.store.books import MariaDbBooks
from lofty_abacus.store.kept_sums import KEPT_SECONDS, KeptSums, Sums
from lofty_abacus.store.segment_files import Stretch
from lofty_abacus.store.sql_totals import SqlTotals
from lofty_abacus.store.version_lines import Part
from tests.conftest import quiet

Write = Callable[..., tuple[str, Path]]
ALL = DaySet((DayRange(date(2025, 1, 1), date(2025, 12, 31)),))
SPRING = DaySet((DayRange(date(2025, 3, 1), date(2025, 5, 31)),))
WANTED = frozenset({LineSum("amount", "all"), LineSum("lines", "return"), DistinctIds("order"), DistinctIds("customer")})
REQUEST = TotalsRequest((ALL, SPRING), (), (), WANTED)


@pytest.fixture(autouse=True)
def every_ledger_is_large(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(kept_sums, "FEW_LINES", 0)
    monkeypatch.setattr(kept_sums, "MANY_LINES", 0)


@pytest.fixture
def readings(monkeypatch: pytest.MonkeyPatch) -> list[int | None]:
    """The batches that each reading is of; None for one of all lines."""
    read: list[int | None] = []
    known = SqlTotals._added_up

    def added_up(self: SqlTotals, windows: object, filters: object, wanted: object, of: Collection[Part] | None) -> object:
        read.append(None if of is None else len(of))
        return known(self, windows, filters, wanted, of)  # type: ignore[arg-type]

    monkeypatch.setattr(SqlTotals, "_added_up", added_up)
    return read


def source(office: Office, ledger: str, kept: KeptSums, version: int | None = None) -> SqlTotals:
    """The totals of a version, with sums kept in a place of the test's own."""
    assert isinstance(office.books, MariaDbBooks)
    book = office.books.opened(ledger, version)
    found = office.books.posted_totals(book.facts, book.record.id)
    found._kept = kept
    return found


def sums(totals: SqlTotals, request: TotalsRequest = REQUEST) -> list[list[int]]:
    """Of each window, in the order of the quantities' names."""
    [level] = totals.totals(request)
    return [
        [level.integers([each], at, 0)[0] for each in sorted(request.quantities, key=repr)] for at in range(len(request.windows))
    ]


def post(office: Office, ledger: str, csv_file: Write, name: str, *lines: str) -> int:
    posting = post_files(
        office, stage_files(office, ledger, [csv_file(name, "date,order,line,customer,amount", *lines)]).id, quiet
    )
    return posting.batches[0]


def test_a_new_batch_is_added_to_what_was_read_before(
    office: Office, ledger: str, csv_file: Write, readings: list[int | None]
) -> None:
    kept = KeptSums()
    post(office, ledger, csv_file, "a.csv", "2025-03-01,O1,1,K1,10.00", "2025-07-01,O2,2,K2,5.00")
    assert sums(source(office, ledger, kept)) == [[2, 2, 1500, 0], [1, 1, 1000, 0]]
    second = post(office, ledger, csv_file, "b.csv", "2025-04-01,O3,3,K3,2.00", "2025-08-01,O3,4,K4,-1.00")
    assert sums(source(office, ledger, kept)) == [[3, 3, 1600, 1], [2, 2, 1200, 0]]
    assert sums(source(office, ledger, kept)) == [[3, 3, 1600, 1], [2, 2, 1200, 0]]
    assert readings == [None, 1], "lines that were added up are not read again"
    office.books.withdraw(office.books.ledger(ledger).id, second, "Tess", leave_hole=False)
    assert sums(source(office, ledger, kept)) == [[2, 2, 1500, 0], [1, 1, 1000, 0]]
    assert readings == [None, 1], "what the first batch came to is still known"


def test_ids_that_came_before_have_all_lines_read(
    office: Office, ledger: str, csv_file: Write, readings: list[int | None]
) -> None:
    kept = KeptSums()
    post(office, ledger, csv_file, "a.csv", "2025-03-01,O1,1,K1,10.00")
    sums(source(office, ledger, kept))
    post(office, ledger, csv_file, "b.csv", "2025-04-01,O2,2,K1,2.00")
    assert sums(source(office, ledger, kept)) == [[1, 2, 1200, 0], [1, 2, 1200, 0]]
    assert readings == [None, 1, None]


def test_a_line_that_was_corrected_is_no_longer_what_was_added_up(
    office: Office, ledger: str, csv_file: Write, readings: list[int | None]
) -> None:
    kept = KeptSums()
    post(office, ledger, csv_file, "a.csv", "2025-03-01,O1,1,K1,10.00", "2025-07-01,O2,2,K2,5.00")
    sums(source(office, ledger, kept))
    book = office.books.opened(ledger)
    change = LineChange(amount="11.00")
    line = int(book.source.segments.each[0].line_id[0])  # type: ignore[attr-defined]
    office.books.correct_line(book.record.id, line, change, "typed wrong", date(2025, 12, 1), "Tess")
    assert sums(source(office, ledger, kept))[0][2] in (1600, 2100)
    assert readings[-1] is None


def test_what_somebody_changed_in_the_record_is_found_when_the_moment_is_over(
    office: Office, ledger: str, csv_file: Write, monkeypatch: pytest.MonkeyPatch
) -> None:
    assert isinstance(office.books, MariaDbBooks)
    now = [0.0]
    kept = KeptSums(lambda: now[0])
    post(office, ledger, csv_file, "a.csv", "2025-03-01,O1,1,K1,10.00")
    sums(source(office, ledger, kept))
    with office.books.engine.begin() as connection:
        connection.execute(text(f"UPDATE line_{office.books.ledger(ledger).id} SET amount = 99"))
    now[0] = KEPT_SECONDS - 1.0
    post(office, ledger, csv_file, "b.csv", "2025-04-01,O2,2,K2,2.00")
    assert sums(source(office, ledger, kept))[0][2] == 1200
    now[0] = KEPT_SECONDS + 1.0
    assert sums(source(office, ledger, kept))[0][2] == 10100, "what was added to it meanwhile does not prolong it"


def test_reading_takes_a_twentieth_of_the_time_at_most() -> None:
    now, times, read = [0.0], kept_sums.KEPT_TIMES, []
    kept = KeptSums(lambda: now[0])

    def added_up(of: Collection[Part] | None) -> tuple[Sums, ...]:
        now[0] += 10.0
        read.append(of)
        return (Sums({LineSum("amount", "all"): 7}, {}),)

    parts = frozenset({Part(Stretch(1, 5, 1), "a", ())})
    for at in (0.0, KEPT_SECONDS + 11.0, 10.0 * times + 9.0):
        now[0] = at
        kept.sums("question", parts, added_up)
    assert read == [None], "a reading of ten seconds is kept for two hundred"
    now[0] = 10.0 * times + 11.0
    kept.sums("question", parts, added_up)
    assert read == [None, None]


def test_a_small_ledger_is_read_again_as_soon_as_reading_is_a_twentieth_of_the_time(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(kept_sums, "MANY_LINES", 5)
    now, read = [0.0], []
    kept = KeptSums(lambda: now[0])

    def added_up(of: Collection[Part] | None) -> tuple[Sums, ...]:
        now[0] += 0.25
        read.append(of)
        return (Sums({LineSum("amount", "all"): 7}, {}),)

    for at in (0.0, 5.0, 5.5):
        now[0] = at
        kept.sums("question", frozenset({Part(Stretch(1, 5, 1), "a", ())}), added_up)
    assert read == [None, None], "a quarter of a second is kept for five"
    kept.sums("of more lines", frozenset({Part(Stretch(1, 6, 1), "a", ())}), added_up)
    now[0] += KEPT_SECONDS - 1.0
    kept.sums("of more lines", frozenset({Part(Stretch(1, 6, 1), "a", ())}), added_up)
    assert len(read) == 3, "a minute, where there are many"


def test_a_version_before_the_newest_batches_does_not_need_all_lines(
    office: Office, ledger: str, csv_file: Write, readings: list[int | None], monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(kept_sums, "NEWEST_OF", 2)
    kept, number = KeptSums(), office.books.ledger(ledger).id
    post(office, ledger, csv_file, "a.csv", *(f"2025-03-0{at},O{at},{at},K{at},10.00" for at in range(1, 6)))
    before = office.books.ledger(ledger).version
    last = post(office, ledger, csv_file, "b.csv", "2025-04-01,O6,6,K6,2.00")
    orders = replace(REQUEST, quantities=frozenset({LineSum("amount", "all"), DistinctIds("order")}))
    assert sums(source(office, ledger, kept), orders) == [[6, 5200], [6, 5200]]
    assert sums(source(office, ledger, kept, before), orders) == [[5, 5000], [5, 5000]]
    office.books.withdraw(number, last, "Tess", leave_hole=False)
    assert sums(source(office, ledger, kept), orders) == [[5, 5000], [5, 5000]]
    assert readings == [1, 1], "the older batch once, and once what came after it"


def test_who_asks_at_once_has_the_lines_read_once(
    office: Office, ledger: str, csv_file: Write, readings: list[int | None]
) -> None:
    kept = KeptSums()
    post(office, ledger, csv_file, "a.csv", "2025-03-01,O1,1,K1,10.00")
    barrier, found = Barrier(6), []

    def ask() -> None:
        totals = source(office, ledger, kept)
        barrier.wait()
        found.append(sums(totals))

    threads = [Thread(target=ask) for _ in range(6)]
    for each in threads:
        each.start()
    for each in threads:
        each.join()
    assert found == [[[1, 1, 1000, 0], [1, 1, 1000, 0]]] * 6
    assert readings == [None]


@pytest.mark.parametrize("newest_of", [2, 50])
def test_any_postings_withdrawals_and_corrections_come_to_the_same(
    office: Office, ledger: str, csv_file: Write, monkeypatch: pytest.MonkeyPatch, newest_of: int
) -> None:
    """Every version, in any order, with and without what is kept."""
    monkeypatch.setattr(kept_sums, "NEWEST_OF", newest_of)
    chance, kept, batches = Random(7), KeptSums(), []
    number = office.books.ledger(ledger).id
    order = 0
    for step in range(14):
        what = chance.random()
        if what < 0.2 and batches:
            office.books.withdraw(number, batches.pop(chance.randrange(len(batches))), "Tess", leave_hole=False)
        elif what < 0.35 and batches:
            book = office.books.opened(ledger)
            ids = [int(each) for part in book.source.segments.each for each in part.line_id.tolist()]  # type: ignore[attr-defined]
            line = next(each for each in chance.sample(ids, len(ids)) if office.books.read_lines(number, [each]))
            office.books.correct_line(number, line, LineChange(amount="3.00"), "typed wrong", date(2025, 12, 1), "Tess")
        else:
            lines = []
            for at in range(chance.randint(1, 4)):
                order += chance.randint(0, 1)
                day = date(2025, 1, 1) + timedelta(chance.randint(0, 364))
                lines.append(f"{day},O{order},{step}-{at},K{chance.randint(1, 30)},{chance.randint(-9, 99)}.00")
            batches.append(post(office, ledger, csv_file, f"{step}.csv", *lines))
        for version in {office.books.ledger(ledger).version, chance.randint(1, office.books.ledger(ledger).version)}:
            some = MemberFilter("customer", frozenset(chance.sample(range(1, 30), 20)))
            for request in (REQUEST, TotalsRequest((SPRING,), (), (some,), WANTED)):
                expected = sums(source(office, ledger, KeptSums(), version), request)
                assert sums(source(office, ledger, kept, version), request) == expected
