"""Columns that are kept beside the record: chosen by version, seen through when something changes them, made anew."""

from __future__ import annotations

import os
import shutil
import threading
from collections.abc import Callable, Sequence
from dataclasses import replace
from datetime import date
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from sqlalchemy import Connection

from lofty_abacus.actions.errors import ActionError, NotReadyError
from lofty_abacus.actions.figures.answer_statement import answer_statement
from lofty_abacus.actions.figures.check_table import check_table
from lofty_abacus.actions.intake.post_files import post_files
from lofty_abacus.actions.intake.stage_files import stage_files
from lofty_abacus.actions.ledgers.make_ledger import make_ledger, settings_of
from lofty_abacus.actions.ledgers.withdraw_batch import restore_batch as restore
from lofty_abacus.actions.ledgers.withdraw_batch import withdraw_batch as withdraw
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import Described, LineChange, NewLedger
from lofty_abacus.actions.work import warm_up as warm_up_module
from lofty_abacus.api.asking import GoneError
from lofty_abacus.api.failures import failure_of
from lofty_abacus.core import segments as core_segments
from lofty_abacus.core.answer.answering import answer
from lofty_abacus.core.grouping.source import ColumnsSource
from lofty_abacus.core.lines import Members
from lofty_abacus.core.patience import heeding
from lofty_abacus.core.statement.statement import CountedFilter, Opened, ShownMeasure, Statement
from lofty_abacus.core.windows.as_of import PinnedDay
from lofty_abacus.store import columns_cache, segment_build
from lofty_abacus.store.books import MariaDbBooks
from lofty_abacus.store.columns_cache import ALIKE
from lofty_abacus.store.segment_files import Stretch, read_manifest
from lofty_abacus.store.version_lines import VersionLines, posted_control
from lofty_abacus.wiring import now
from tests.conftest import quiet

Write = Callable[..., tuple[str, Path]]
NET = Statement((ShownMeasure("net_sales"),), ("rep",), as_of=PinnedDay(date(2026, 12, 31)))


def post(office: Office, ledger: str, csv_file: Write, at: int) -> None:
    file = csv_file(f"f{at}.csv", "date,rep,amount", f"2026-03-{at % 28 + 1:02d},Ada,{at + 1}", "2026-03-01,Bo,1")
    post_files(office, stage_files(office, ledger, [file]).id, quiet)


def total(office: Office, ledger: str) -> str | None:
    return answer_statement(office, ledger, NET, Opened()).total.cells[0].value


def folder_of(office: Office, ledger: str) -> Path:
    assert isinstance(office.books, MariaDbBooks)
    return office.books._cache._folder / f"ledger-{office.books.ledger(ledger).id}"


def segments(office: Office, ledger: str) -> list[Path]:
    return sorted(path for path in folder_of(office, ledger).iterdir() if ".making-" not in path.name)


def merged(office: Office) -> None:
    """What is put together in the background is done."""
    assert isinstance(office.books, MariaDbBooks)
    office.books._cache._merging.submit(lambda: None).result()


@pytest.fixture
def as_they_lie(monkeypatch: pytest.MonkeyPatch) -> None:
    """Small segments stay apart in memory, too."""
    monkeypatch.setattr(core_segments, "MOST_JOINED", 0)


@pytest.mark.usefixtures("as_they_lie")
def test_a_posting_adds_one_segment_and_small_ones_are_put_together(office: Office, ledger: str, csv_file: Write) -> None:
    wanted, most = 0, 0
    for at in range(30):
        before = {path.name for path in segments(office, ledger)} if at else set()
        post(office, ledger, csv_file, at)
        wanted += at + 2
        assert total(office, ledger) == f"{wanted}.00"
        new = {path.name for path in segments(office, ledger)} - before
        assert len([name for name in new if not name.startswith("segment-1-")]) == (at > 0), "one for what was posted"
        merged(office)
        most = max(most, len(segments(office, ledger)))
    assert most <= 3 * ALIKE, "neither files nor segments grow with the postings"
    opened = office.books.opened(ledger)
    assert isinstance(opened.source, ColumnsSource) and len(opened.source.segments.each) < ALIKE
    # Earlier versions stand on the same segments, without what came later.
    versions = [answer_statement(office, ledger, NET, Opened(), version).total.cells[0].value for version in (1, 7, 29)]
    assert versions == ["2.00", "35.00", "464.00"]


@pytest.mark.usefixtures("as_they_lie")
def test_versions_that_are_opened_meanwhile_have_nothing_put_together_twice(
    office: Office, ledger: str, csv_file: Write, monkeypatch: pytest.MonkeyPatch
) -> None:
    assert isinstance(office.books, MariaDbBooks)
    for at in range(ALIKE - 1):
        post(office, ledger, csv_file, at)
        total(office, ledger)
    made: list[Path] = []
    put_together = columns_cache.merge_segments

    def noted(*asked: Any) -> Path:
        made.append(put_together(*asked))
        return made[-1]

    monkeypatch.setattr(columns_cache, "merge_segments", noted)
    # What is put together waits: three versions are opened before it is begun.
    go_on = threading.Event()
    office.books._cache._merging.submit(go_on.wait, 60)
    for at in range(ALIKE, ALIKE + 3):
        post(office, ledger, csv_file, at)
        total(office, ledger)
    go_on.set()
    merged(office)
    holds = [hold for each in made for hold in read_manifest(each).holds]  # type: ignore[union-attr]
    assert len(holds) == len(set(holds)) > 0, "no line is put together twice"
    assert total(office, ledger) is not None and check_table(office, ledger, NET).agrees


def test_what_does_not_count_is_a_flag_and_no_segment_is_made_for_it(office: Office, ledger: str, csv_file: Write) -> None:
    for at in range(3):
        post(office, ledger, csv_file, at)
    assert total(office, ledger) == "9.00"
    before = segments(office, ledger)
    first, second, _ = (each.id for each in office.books.batches(office.books.ledger(ledger).id))
    withdraw(office, ledger, second, leave_hole=False)
    assert total(office, ledger) == "6.00" and segments(office, ledger) == before
    restore(office, ledger, second)
    assert total(office, ledger) == "9.00" and segments(office, ledger) == before
    line = office.books.read_lines(office.books.ledger(ledger).id, [1])[0]
    office.books.correct_line(
        office.books.ledger(ledger).id, line.id, LineChange(amount="101"), "typed wrong", date(2026, 3, 1), "T"
    )
    assert total(office, ledger) == "109.00" and len(segments(office, ledger)) == len(before) + 1
    withdraw(office, ledger, first, leave_hole=False)
    assert check_table(office, ledger, NET).agrees
    for version in range(1, 7):
        found = answer_statement(office, ledger, NET, Opened(), version)
        assert check_table(office, ledger, NET, version).agrees and found.version == version


@pytest.mark.usefixtures("as_they_lie")
def test_columns_in_segments_equal_columns_made_in_one_piece(
    office: Office, ledger: str, csv_file: Write, tmp_path: Path
) -> None:
    """Dimensions, quantities, decimals and dated levels that came with later files; the same lines read at once elsewhere."""
    files = [
        csv_file("a.csv", "date,order,rep,amount", "2026-03-05,A,Ada,5", "2026-01-05,B,Bo,-2"),
        csv_file("b.csv", "date,order,rep,product,amount,quantity", "2026-02-01,A,Ada,P1,1.2551,3", "2026-04-01,C,,P2,4,"),
        csv_file("teams.csv", "rep,team,valid_from", "Ada,Red,2026-01-01", "Ada,Blue,2026-03-01", "Bo,Red,2026-01-01"),
        csv_file("c.csv", "date,order,rep,product,amount,cost", "2026-03-05,A,Cy,P1,-0.5,0.1251", "2025-12-31,,Ada,,9,1"),
    ]
    statement = Statement(
        (ShownMeasure("net_sales"), ShownMeasure("orders"), ShownMeasure("units"), ShownMeasure("cost")),
        ("team", "product"), as_of=PinnedDay(date(2026, 12, 31)),
    )  # fmt: skip
    for each in files:
        post_files(office, stage_files(office, ledger, [each]).id, quiet)
        total(office, ledger)
    assert isinstance(office.books, MariaDbBooks)
    elsewhere = MariaDbBooks(office.books.engine.url.render_as_string(hide_password=False), tmp_path / "columns", now)
    try:
        cut, whole = (books.opened(ledger).source for books in (office.books, elsewhere))
        assert isinstance(cut, ColumnsSource) and isinstance(whole, ColumnsSource)
        assert len(cut.segments.each) == 2 and len(whole.segments.each) == 1
        for how in (statement, replace(statement, levels="as_it_is_now"), replace(statement, returns="sale_day")):
            found = [
                answer(how, opened.facts, opened.source, date(2026, 12, 31), Opened(2))
                for opened in (office.books.opened(ledger), elsewhere.opened(ledger))
            ]
            assert found[0] == found[1] and len(found[0].rows) > 4
    finally:
        elsewhere.engine.dispose()


def test_versions_share_their_members_and_read_only_further_ones(
    office: Office, ledger: str, csv_file: Write, monkeypatch: pytest.MonkeyPatch
) -> None:
    read: list[tuple[int, int]] = []
    known = columns_cache.members_of

    def members_of(connection: Connection, number: int, size: int, first: int = 0) -> tuple[list[str | None], list[str]]:
        read.append((first, size))
        return known(connection, number, size, first)

    monkeypatch.setattr(columns_cache, "members_of", members_of)

    def reps() -> Members:
        return office.books.opened(ledger).source.members("rep")

    post(office, ledger, csv_file, 1)
    first = reps()
    assert [first.name(code) for code in range(3)] == ["(blank)", "Ada", "Bo"] and read == [(0, 3)]
    post(office, ledger, csv_file, 2)
    assert reps() is first, "a version with the same members has the same object"
    post_files(office, stage_files(office, ledger, [csv_file("c.csv", "date,rep,amount", "2026-03-03,Cy,1")]).id, quiet)
    assert [reps().name(code) for code in (1, 3)] == ["Ada", "Cy"] and read == [(0, 3), (3, 4)]
    lookup = csv_file("names.csv", "rep,rep name,team", "Ada,Ada Field,Red", "Cy,Cy Moss,Red")
    post_files(office, stage_files(office, ledger, [lookup]).id, quiet)
    assert [reps().name(code) for code in (1, 2, 3)] == ["Ada Field", "Bo", "Cy Moss"], "a lookup may call them otherwise"


def test_segments_of_another_record_are_not_taken_for_ones_own(office: Office, ledger: str, csv_file: Write) -> None:
    post(office, ledger, csv_file, 1)
    assert total(office, ledger) == "3.00"
    [path] = segments(office, ledger)
    manifest = path / "manifest.json"
    manifest.write_text(manifest.read_text().replace('"marks": {', '"marks": {"999": "2 3 abc",'))
    assert isinstance(office.books, MariaDbBooks)
    office.books._cache._open.clear()
    assert total(office, ledger) == "3.00"
    [again] = segments(office, ledger)
    assert again != path, "the lines are read again"


def test_a_column_that_is_overwritten_while_it_is_mapped_is_noticed(office: Office, ledger: str, csv_file: Write) -> None:
    post(office, ledger, csv_file, 1)
    assert total(office, ledger) == "3.00"
    path = segments(office, ledger)[0] / "amount.npy"
    mapped = np.load(path, mmap_mode="r+")
    mapped[0] += 500
    mapped.flush()
    assert total(office, ledger) == "8.00", "until somebody looks, what is mapped is what is read"
    assert check_table(office, ledger, NET).agrees, "the check sees it, has the columns made anew, and is made again"
    assert total(office, ledger) == "3.00"
    path = segments(office, ledger)[0] / "amount.npy"
    mapped = np.load(path, mmap_mode="r+")
    mapped[0] += 500
    mapped.flush()
    number = office.books.ledger(ledger).id
    assert office.books.verify_columns(number) == 1 and total(office, ledger) == "3.00"
    assert office.books.verify_columns(number) == 0


def test_a_file_where_a_folder_should_be_is_no_obstacle(office: Office, ledger: str, csv_file: Write) -> None:
    post(office, ledger, csv_file, 1)
    home = folder_of(office, ledger)
    home.parent.mkdir(exist_ok=True, parents=True)
    home.write_text("a file")
    assert total(office, ledger) == "3.00"
    post(office, ledger, csv_file, 2)
    (home / "version-2").write_text("a file")
    (home / "segment-9-9-abc").write_text("a file")
    assert total(office, ledger) == "7.00"
    post(office, ledger, csv_file, 3)
    (home / f"segment-5-6-abc.making-{os.getpid()}").write_text("a file")
    assert total(office, ledger) == "12.00"
    shutil.rmtree(home)
    post(office, ledger, csv_file, 4)
    assert total(office, ledger) == "18.00"


def test_a_check_is_made_at_the_version_of_the_answer(office: Office, ledger: str, csv_file: Write) -> None:
    post(office, ledger, csv_file, 1)
    answer = answer_statement(office, ledger, NET, Opened())
    post(office, ledger, csv_file, 2)
    for filters in ((), (CountedFilter("rep", ("Ada",)),)):
        from dataclasses import replace

        check = check_table(office, ledger, replace(NET, filters=filters), answer.version)
        assert check.agrees and check.version == 1 and check.totals[0].table == ("3.00" if not filters else "2.00")
    try:
        check_table(office, ledger, NET, 99)
    except ActionError as error:
        assert "has no version 99" in str(error)
    else:
        raise AssertionError("a version that there is none of cannot be checked")


def test_postings_that_follow_each_other_quickly_hold_no_reader_up(office: Office, ledger: str, csv_file: Write) -> None:
    post(office, ledger, csv_file, 0)
    ended = threading.Event()
    wrong: list[str] = []
    seen: set[int] = set()

    def read() -> None:
        while not ended.is_set():
            try:
                answer = answer_statement(office, ledger, NET, Opened())
                seen.add(answer.version)
                check = check_table(office, ledger, NET, answer.version)
                if not check.agrees or check.version != answer.version:
                    wrong.append(f"false alarm at {answer.version}: {check}")
            except ActionError as error:
                wrong.append(str(error))

    readers = [threading.Thread(target=read) for _ in range(3)]
    for each in readers:
        each.start()
    for at in range(1, 13):
        post(office, ledger, csv_file, at)
    ended.set()
    for each in readers:
        each.join()
    assert wrong == [] and len(seen) > 1


def test_readers_get_the_newest_version_that_is_ready_while_the_next_is_made(
    office: Office, ledger: str, csv_file: Write, monkeypatch: pytest.MonkeyPatch
) -> None:
    post(office, ledger, csv_file, 0)
    assert total(office, ledger) == "2.00"
    slow, going, real = threading.Event(), threading.Event(), columns_cache.read_segments

    def read(
        url: str, ledger_id: int, lines: VersionLines, wanted: Sequence[Stretch], home: Path, go_on: Callable[[], None]
    ) -> None:
        going.set()
        assert slow.wait(60)
        real(url, ledger_id, lines, wanted, home, go_on)

    monkeypatch.setattr(columns_cache, "read_segments", read)
    posting = threading.Thread(target=lambda: post(office, ledger, csv_file, 1))
    posting.start()
    assert going.wait(60)
    for _ in range(3):
        found = answer_statement(office, ledger, NET, Opened())
        assert (found.version, found.total.cells[0].value) == (1, "2.00"), "named, and whole"
    slow.set()
    posting.join(60)
    found = answer_statement(office, ledger, NET, Opened())
    assert (found.version, found.total.cells[0].value) == (2, "5.00"), "whoever posted reads what was posted"


def test_a_ledger_that_is_read_for_long_is_told_as_such_and_goes_on_being_read(
    office: Office, ledger: str, csv_file: Write, monkeypatch: pytest.MonkeyPatch
) -> None:
    assert isinstance(office.books, MariaDbBooks)
    post(office, ledger, csv_file, 0)
    # As after a large import by the command line, or a restart with other files: nobody has read its lines yet.
    office.books._cache.forget(office.books.ledger(ledger).id)
    slow, read, real = threading.Event(), [], columns_cache.read_segments

    def reading(
        url: str, ledger_id: int, lines: VersionLines, wanted: Sequence[Stretch], home: Path, go_on: Callable[[], None]
    ) -> None:
        read.append(ledger_id)
        assert slow.wait(60)
        real(url, ledger_id, lines, wanted, home, go_on)

    monkeypatch.setattr(columns_cache, "read_segments", reading)
    monkeypatch.setattr(office.books, "longest_reading", 0.3)
    for _ in range(2):
        with pytest.raises(NotReadyError, match=f"The 2 lines of {ledger} are being read.*Ask again"):
            total(office, ledger)
    assert failure_of(NotReadyError(ledger, 2))[0] == 503
    # Whoever goes meanwhile is let go at once, not when it is told.
    monkeypatch.setattr(office.books, "longest_reading", 60)
    with pytest.raises(GoneError), heeding(_gone):
        total(office, ledger)
    slow.set()
    assert total(office, ledger) == "2.00" and len(read) == 1, "it was read once, whoever asked"


def _gone() -> None:
    raise GoneError


def test_one_ledgers_building_stops_no_other(
    office: Office, ledger: str, csv_file: Write, monkeypatch: pytest.MonkeyPatch
) -> None:
    other = f"{ledger}, another"
    make_ledger(office, NewLedger(other))
    for at, name in enumerate((ledger, other)):
        post(office, name, csv_file, at)
    slow, going, built = threading.Event(), threading.Event(), []
    number, real = office.books.ledger(ledger).id, columns_cache.read_segments

    def read(
        url: str, ledger_id: int, lines: VersionLines, wanted: Sequence[Stretch], home: Path, go_on: Callable[[], None]
    ) -> None:
        built.append(ledger_id)
        if ledger_id == number:
            going.set()
            assert slow.wait(60)
        real(url, ledger_id, lines, wanted, home, go_on)

    monkeypatch.setattr(columns_cache, "read_segments", read)
    found: list[str | None] = []
    asking = [threading.Thread(target=lambda: found.append(total(office, ledger))) for _ in range(3)]
    for each in asking:
        each.start()
    assert going.wait(60)
    assert total(office, other) == "3.00", "answered while the other ledger is still being built"
    assert not found
    slow.set()
    for each in asking:
        each.join(60)
    assert len(found) == 3 and len(set(found)) == 1
    assert built.count(number) == 1, "three that ask have it built once"


def test_what_is_set_without_a_new_version_is_known_at_once_wherever_it_is_set(
    office: Office, ledger: str, csv_file: Write, tmp_path: Path
) -> None:
    """Facts are remembered: settings, meanings and declared days are changed here by another process, and back again."""
    post(office, ledger, csv_file, 1)
    assert isinstance(office.books, MariaDbBooks)
    elsewhere = MariaDbBooks(office.books.engine.url.render_as_string(hide_password=False), tmp_path / "columns", now)
    try:
        number, first = office.books.ledger(ledger).id, office.books.opened(ledger)
        assert office.books.opened(ledger).facts is first.facts, "asked for once"
        before = settings_of(office, ledger)
        meaning = Described("rep", "who sold it")
        declared = replace(before.coverage[0], covers_through=date(2026, 6, 30))
        later = replace(before.calendar, fiscal_start_month=4)
        elsewhere.change_settings(number, replace(before, calendar=later, descriptions=(meaning,), coverage=(declared,)))
        found = office.books.opened(ledger).facts
        assert found.calendar.fiscal_start_month == 4 and found.dimension("rep").description == "who sold it"  # type: ignore[union-attr]
        assert found.feeds[0].days.last == date(2026, 6, 30)
        elsewhere.change_settings(number, replace(before, descriptions=(replace(meaning, text=""),)))
        assert office.books.opened(ledger).facts == first.facts
    finally:
        elsewhere.engine.dispose()


def test_looking_back_lets_go_of_earlier_versions_and_not_of_the_newest(office: Office, ledger: str, csv_file: Write) -> None:
    assert isinstance(office.books, MariaDbBooks)
    count = columns_cache.MOST_OPEN + 3
    for at in range(count):
        post(office, ledger, csv_file, at)
    newest = total(office, ledger)
    ledger_id, cache = office.books.ledger(ledger).id, office.books._cache
    for version in range(1, count):
        answer_statement(office, ledger, NET, Opened(), version)
        latest = cache.latest_open(ledger_id)
        assert latest is not None and latest.version == count, "the newest stays"
    assert len(cache._open) <= columns_cache.MOST_OPEN and total(office, ledger) == newest


def test_a_start_waits_once_for_lines_that_are_being_read(
    office: Office, ledger: str, csv_file: Write, monkeypatch: pytest.MonkeyPatch
) -> None:
    """The common questions are many: waiting for the same lines with each of them kept everybody away for minutes."""
    assert isinstance(office.books, MariaDbBooks)
    post(office, ledger, csv_file, 0)
    asked = []

    def not_ready(*_: object, **__: object) -> object:
        asked.append(ledger)
        raise NotReadyError(ledger, 2)

    monkeypatch.setattr(warm_up_module, "answer_statement", not_ready)
    warm_up_module.warm_up(office)
    assert len(asked) == 1


def test_who_ends_waits_for_one_segment_and_no_more(
    office: Office, ledger: str, csv_file: Write, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    assert isinstance(office.books, MariaDbBooks)
    for at in range(6):
        post(office, ledger, csv_file, at)
    monkeypatch.setattr(segment_build, "MOST_READ", 2)
    begun, go_on = threading.Event(), threading.Event()
    known = segment_build._read_lines

    def slowly(*given: object) -> object:
        begun.set()
        assert go_on.wait(30)
        return known(*given)  # type: ignore[arg-type]

    monkeypatch.setattr(segment_build, "_read_lines", slowly)
    url = office.books.engine.url.render_as_string(hide_password=False)
    books = MariaDbBooks(url, tmp_path / "columns", now)
    record = books.ledger(ledger)
    with books.engine.connect() as connection:
        control = posted_control(connection, record.id, record.version)
    assert not books._cache.opens_within(record.id, control, 0)
    assert begun.wait(30)
    closing = threading.Thread(target=books.close)
    closing.start()
    while not books._cache._closing:
        closing.join(0.01)
    go_on.set()
    closing.join(30)
    assert not closing.is_alive()
    made = [each for each in (tmp_path / "columns" / f"ledger-{record.id}").iterdir() if ".making-" not in each.name]
    assert len(made) == 1, "what was being read is whole, and stays"
