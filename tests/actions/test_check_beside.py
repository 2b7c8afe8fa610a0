"""Large files that are checked while they are loaded: the same lines and the same words as when they are checked before."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import replace
from fractions import Fraction
from pathlib import Path
from threading import Event

import pytest

from lofty_abacus.actions.errors import RefusedError
from lofty_abacus.actions.figures.check_table import check_table
from lofty_abacus.actions.intake import check_beside, post_files
from lofty_abacus.actions.intake.check_beside import CheckBeside
from lofty_abacus.actions.intake.check_files import check_files
from lofty_abacus.actions.intake.checks import StagingCheck
from lofty_abacus.actions.intake.stage_files import map_file, stage_files
from lofty_abacus.actions.intake.stagings import Staging
from lofty_abacus.actions.ledgers.describe_ledger import list_batches
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import PostedFile, Posting, Replacement
from lofty_abacus.ingest.lines_of_file import Handover
from lofty_abacus.ingest.staged import StagedLines
from lofty_abacus.store import line_tables
from lofty_abacus.store.engine import transaction
from tests.actions.test_intake import FULL, net
from tests.conftest import quiet

Write = Callable[..., tuple[str, Path]]
#: White space that fills a row, so that a piece of a file (4 MB) holds few of them.
ROOM = " " * 4000
ROWS = 2500


class _Stop(Exception):
    pass


@pytest.fixture(autouse=True)
def all_files_are_large(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(post_files, "MANY_ROWS", 1)


@pytest.fixture
def posted(office: Office, monkeypatch: pytest.MonkeyPatch) -> list[bool]:
    """For each posting that was begun, whether it was of files as they were presumed to be."""
    begun: list[bool] = []
    post = type(office.books).post

    def watched(books: object, ledger_id: int, files: Sequence[PostedFile], *others: object) -> Posting:
        begun.append(any(each.pieces is not None and not hasattr(each.pieces, "__self__") for each in files))
        return post(books, ledger_id, files, *others)  # type: ignore[arg-type]

    monkeypatch.setattr(type(office.books), "post", watched)
    return begun


def rows(*last: str, count: int = ROWS, amount: str = "1.25") -> list[str]:
    """Rows of a file of several pieces, the last ones as given."""
    return [*(f"2026-03-{at % 28 + 1:02d},L{at},Ada{ROOM},{amount}" for at in range(count)), *last]


def staged(office: Office, ledger: str, *files: tuple[str, Path], **decided: object) -> Staging:
    staging = stage_files(office, ledger, files)
    for at, file in enumerate(staging.files):
        assert file.mapping is not None
        if decided:
            staging = map_file(office, staging.id, at, replace(file.mapping, **decided))  # type: ignore[arg-type]
    return staging


def test_lines_are_loaded_while_they_are_checked_and_count_only_then(
    office: Office, ledger: str, csv_file: Write, posted: list[bool]
) -> None:
    head = "date,line,rep,amount"
    files = [csv_file(f"{name}.csv", head, *(row.replace("L", name) for row in rows())) for name in ("a", "b")]
    lookup = csv_file("teams.csv", "rep,team", "Ada,North")
    staging = staged(office, ledger, *files, lookup)
    told: list[tuple[StagingCheck, int]] = []
    posting = post_files.post_files(
        office, staging.id, quiet, found=lambda check: told.append((check, office.books.ledger(ledger).version))
    )
    assert posted == [True] and (posting.version, posting.lines, posting.amount) == (1, 2 * ROWS, "6250.00")
    ((check, version),) = told
    assert check.ready and check.lines == 2 * ROWS + 1 and version == 0, "nothing counts yet when it is told"
    assert net(office, ledger) == 6250 and net(office, ledger, "Ada") == 6250
    assert check_table(office, ledger, replace(FULL, measures=FULL.measures[:1])).agrees


def test_what_was_checked_before_is_posted_as_it_was_checked(
    office: Office, ledger: str, csv_file: Write, posted: list[bool]
) -> None:
    staging = staged(office, ledger, csv_file("a.csv", "date,line,rep,amount", *rows()))
    assert check_files(office, staging.id).ready
    assert post_files.post_files(office, staging.id, quiet).lines == ROWS and posted == [False]


@pytest.mark.parametrize("last", ["2026-03-01,L0,Ada,5", "soon,M1,Ada,5"])
def test_a_check_that_stops_the_posting_leaves_nothing_of_it(
    office: Office, ledger: str, csv_file: Write, posted: list[bool], last: str
) -> None:
    staging = staged(office, ledger, csv_file("a.csv", "date,line,rep,amount", *rows(last)))
    told: list[StagingCheck] = []
    with pytest.raises(RefusedError, match=r"a\.csv: 1 (value cannot be read|line repeats a line id).*Nothing was posted"):
        post_files.post_files(office, staging.id, quiet, found=told.append)
    assert posted == [True] and [each.ready for each in told] == [False]
    assert list_batches(office, ledger) == () and office.books.ledger(ledger).version == 0
    number = office.books.ledger(ledger).id
    with transaction(office.books.engine) as connection:  # type: ignore[attr-defined]
        assert connection.exec_driver_sql(f"SELECT COUNT(*) FROM {line_tables.line_table(number)}").scalar() == 0
        assert line_tables.line_table_columns(connection, number).dimensions == set(), "what was prepared is cleared away"
    decided = replace(staging.files[0].mapping, repeated="leave_out", unreadable="leave_out")  # type: ignore[type-var]
    map_file(office, staging.id, 0, decided)  # type: ignore[arg-type]
    assert post_files.post_files(office, staging.id, quiet).lines == ROWS


def test_repeats_that_are_left_out_are_not_posted(office: Office, ledger: str, csv_file: Write, posted: list[bool]) -> None:
    again = ["2026-03-01,L0,Ada,7", "2026-03-02,L7,Bo,9"]
    other = csv_file("z.csv", "date,line,rep,amount", "2026-03-05,Z,Ada,1")
    staging = staged(office, ledger, csv_file("a.csv", "date,line,rep,amount", *rows(*again)), other, repeated="leave_out")
    told: list[StagingCheck] = []
    posting = post_files.post_files(office, staging.id, quiet, found=told.append)
    assert posting.lines == ROWS + 1 and posted == [True, False] and len(told) == 1, "told once, posted by what was found"
    assert net(office, ledger) == Fraction("1.25") * ROWS + 1


def test_identical_rows_that_are_kept_are_posted_at_once(
    office: Office, ledger: str, csv_file: Write, posted: list[bool]
) -> None:
    lines = [row.replace(f",L{at},", ",") for at, row in enumerate(rows())]
    told: list[StagingCheck] = []
    staging = staged(office, ledger, csv_file("a.csv", "date,rep,amount", *lines, lines[0]))
    post_files.post_files(office, staging.id, quiet, found=told.append)
    assert posted == [True] and told[0].files[0].finding("rows_identical") is not None
    assert net(office, ledger) == Fraction("1.25") * (ROWS + 1)


def test_decimals_that_come_later_in_a_file_are_kept(office: Office, ledger: str, csv_file: Write, posted: list[bool]) -> None:
    staging = staged(office, ledger, csv_file("a.csv", "date,line,rep,amount", *rows("2026-03-01,M,Bo,0.12345")))
    assert post_files.post_files(office, staging.id, quiet).amount == f"{1.25 * ROWS + 0.12345:.5f}"
    assert net(office, ledger, "Bo") == Fraction("0.12345") and posted == [True, False]


@pytest.mark.parametrize("use", ["amount", "cost", "quantity", "freight"])
def test_a_check_that_comes_late_is_waited_for_where_decimals_are_more_than_expected(
    office: Office, ledger: str, csv_file: Write, posted: list[bool], monkeypatch: pytest.MonkeyPatch, use: str
) -> None:
    head = f"date,line,rep,{use}" if use == "amount" else f"date,line,rep,{use},amount"
    more = "" if use == "amount" else ",7"
    file = csv_file("a.csv", head, *(f"{each}{more}" for each in rows("2026-03-01,M,Bo,0.12345")))
    asked, (hear, checked) = Event(), (CheckBeside.hear, CheckBeside._checked)

    def hear_and_say(beside: CheckBeside) -> bool:
        asked.set()
        return hear(beside)

    def check_when_asked(beside: CheckBeside) -> object:
        assert asked.wait(60)
        return checked(beside)

    monkeypatch.setattr(CheckBeside, "hear", hear_and_say)
    monkeypatch.setattr(CheckBeside, "_checked", check_when_asked)
    staging = stage_files(office, ledger, [file])
    mapping = staging.files[0].mapping
    assert mapping is not None
    roles = {"freight": "further_amount"}
    columns = tuple(replace(each, role=roles.get(each.column, each.role)) for each in mapping.columns)
    staging = map_file(office, staging.id, 0, replace(mapping, columns=columns))
    assert post_files.post_files(office, staging.id, quiet).lines == ROWS + 1
    assert posted == [True, False] and {each.role for each in columns} >= {roles.get(use, use), "amount"}


def test_more_decimals_than_a_ledger_has_are_checked_before_they_are_posted(
    office: Office, ledger: str, csv_file: Write, posted: list[bool]
) -> None:
    head = "date,line,rep,amount"
    post_files.post_files(office, staged(office, ledger, csv_file("a.csv", head, "2026-02-01,K,Ada,1")).id, quiet)
    fine = csv_file("b.csv", head, *rows(amount="1.0625", count=40))
    post_files.post_files(office, staged(office, ledger, fine).id, quiet)
    assert posted == [True, False] and net(office, ledger) == 1 + Fraction("1.0625") * 40


def test_what_is_loaded_is_held_against_what_was_checked(
    office: Office, ledger: str, csv_file: Write, posted: list[bool], monkeypatch: pytest.MonkeyPatch
) -> None:
    # The first piece shows how the column groups its digits: whoever takes it ready-made has not seen that.
    grouped = [f'2026-03-01,G{at},Ada{ROOM},"1,234,000.00"' for at in range(10)]
    file = csv_file("a.csv", "date,line,rep,amount", *grouped, *rows("2026-03-02,M,Bo,1'000.00"))
    monkeypatch.setattr(check_beside, "MOST_LAID", 1)
    laid, (put, take) = Event(), (Handover.put, Handover.take)

    def put_and_say(handover: Handover, at: int, piece: StagedLines) -> None:
        put(handover, at, piece)
        laid.set()

    def take_what_was_laid(handover: Handover, at: int) -> StagedLines | None:
        assert laid.wait(60)
        found = take(handover, at)
        assert at or found is not None, "the first piece comes ready-made"
        return found

    monkeypatch.setattr(Handover, "put", put_and_say)
    monkeypatch.setattr(Handover, "take", take_what_was_laid)
    staging = staged(office, ledger, file, unreadable="leave_out")
    assert post_files.post_files(office, staging.id, quiet).lines == 10 + ROWS, "what the check left out is not posted"
    assert posted == [True, False] and net(office, ledger) == 12_340_000 + Fraction("1.25") * ROWS


def test_a_posting_that_is_stopped_stops_its_check(office: Office, ledger: str, csv_file: Write) -> None:
    staging = staged(office, ledger, csv_file("a.csv", "date,line,rep,amount", *rows()))

    def stop(doing: str, done: int, total: int) -> None:
        if done:
            raise _Stop

    with pytest.raises(_Stop):
        post_files.post_files(office, staging.id, stop)
    assert list_batches(office, ledger) == ()
    assert post_files.post_files(office, staging.id, quiet).lines == ROWS


def test_an_id_that_is_posted_already_is_told_by_the_check_first(office: Office, ledger: str, csv_file: Write) -> None:
    head = "date,line,rep,amount"
    post_files.post_files(office, staged(office, ledger, csv_file("a.csv", head, "2026-02-01,L9,Ada,1")).id, quiet)
    staging = staged(office, ledger, csv_file("b.csv", head, *rows()))
    told: list[StagingCheck] = []
    with pytest.raises(RefusedError, match="line id L9 is posted already"):
        post_files.post_files(office, staging.id, quiet, found=told.append)
    assert told[0].files[0].finding("line_ids_posted").count == 1  # type: ignore[union-attr]
    assert net(office, ledger) == 1
    batch = list_batches(office, ledger)[0].id
    assert post_files.post_files(office, staging.id, quiet, Replacement(replaces=(batch,))).lines == ROWS
    assert net(office, ledger) == Fraction("1.25") * ROWS


def test_few_pieces_lie_ready_and_each_is_taken_once() -> None:
    handover: Handover = Handover(2)
    pieces: Iterator[str] = iter("abcdef")
    for at in range(3):
        handover.put(at, next(pieces))  # type: ignore[arg-type]
    assert [handover.take(at) for at in (0, 1, 2)] == ["a", "b", None]
    handover.put(2, "late")  # type: ignore[arg-type]
    handover.put(4, "e")  # type: ignore[arg-type]
    assert [handover.take(at) for at in (3, 4, 4)] == [None, "e", None]
