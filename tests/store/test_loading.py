"""Lines that are loaded over two connections: one posting all the same, wherever it ends."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path
from typing import Any

import pytest
from sqlalchemy import Connection

from lofty_abacus.actions.errors import RefusedError
from lofty_abacus.actions.figures.check_table import check_table
from lofty_abacus.actions.intake.post_files import post_files
from lofty_abacus.actions.intake.stage_files import stage_files
from lofty_abacus.actions.ledgers.correct_line import correct_line
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import LineChange
from lofty_abacus.store import intake_reads, line_files, members, posting
from lofty_abacus.store.books import MariaDbBooks
from lofty_abacus.store.engine import transaction
from lofty_abacus.store.line_tables import line_table
from lofty_abacus.store.posting import settle
from tests.actions.test_intake import NET, net, post
from tests.conftest import quiet

Write = Callable[..., tuple[str, Path]]
HEAD = "date,line,order,rep,amount"
#: White space that fills a row, so that a piece of a file (4 MB) holds few of them.
ROOM = " " * 4000
ROWS = 6000


def rows(name: str = "L", first: int = 0) -> list[str]:
    """Rows of several pieces, three to an order."""
    return [f"2026-03-{at % 28 + 1:02d},{name}{at},O{at // 3}{ROOM},R{at % 7},1.25" for at in range(first, first + ROWS)]


def counted(office: Office, ledger: str) -> tuple[int, int]:
    """(lines in the table, whether or not they count; members of orders)."""
    assert isinstance(office.books, MariaDbBooks)
    number = office.books.ledger(ledger).id
    with transaction(office.books.engine) as connection:
        lines = connection.exec_driver_sql(f"SELECT COUNT(*) FROM {line_table(number)}").scalar()
        orders = f"SELECT COALESCE(SUM(member_count), 0) FROM dimension WHERE ledger_id = {number} AND name = 'order'"
        return int(lines or 0), int(connection.exec_driver_sql(orders).scalar() or 0)


@pytest.fixture
def engine(office: Office) -> Any:
    assert isinstance(office.books, MariaDbBooks)
    return office.books.engine


def test_a_file_goes_over_both_connections_and_is_whole(
    office: Office, ledger: str, csv_file: Write, monkeypatch: pytest.MonkeyPatch
) -> None:
    load, add, over, beside = line_files.load_lines, members.add_members, set(), set()

    def watched(connection: Connection, **named: Any) -> None:
        over.add(id(connection))
        load(connection, **named)

    def watched_members(connection: Connection, dimension: int, first: int, keys: Sequence[str]) -> None:
        beside.add(id(connection))
        add(connection, dimension, first, keys)

    monkeypatch.setattr(line_files, "load_lines", watched)
    monkeypatch.setattr(members, "add_members", watched_members)
    done = post(office, ledger, csv_file("a.csv", HEAD, *rows()), csv_file("b.csv", HEAD, *rows("M", ROWS)))
    assert len(over) == 2 and len(beside) == 1 and beside < over
    assert done.lines == 2 * ROWS and net(office, ledger) == 2 * ROWS * 5 // 4
    assert counted(office, ledger) == (2 * ROWS, 2 * ROWS // 3 + 1), "and the blank order"
    assert check_table(office, ledger, NET).agrees, "read apart from the posted lines"


def test_a_posting_that_ends_after_the_lines_beside_were_committed_leaves_none(
    office: Office, ledger: str, csv_file: Write, monkeypatch: pytest.MonkeyPatch
) -> None:
    post(office, ledger, csv_file("a.csv", HEAD, "2026-02-01,K,OK,Ada,3"))
    staging = stage_files(office, ledger, [csv_file("b.csv", HEAD, *rows())])
    reached: list[tuple[int, int]] = []

    def broken(*_: object) -> None:
        reached.append((*counted(office, ledger)[:1], int(net(office, ledger))))
        raise RuntimeError("the disk is gone")

    with monkeypatch.context() as patch:
        patch.setattr(posting, "enter_version", broken)
        with pytest.raises(RuntimeError, match="the disk is gone"):
            post_files(office, staging.id, quiet)
    ((lines, amount),) = reached
    assert 1 < lines < ROWS + 1, "some are committed by then, seen from another connection"
    assert amount == 3, "and none of them counts"
    assert counted(office, ledger) == (1, 2) and office.books.ledger(ledger).version == 1
    assert post_files(office, staging.id, quiet).lines == ROWS and net(office, ledger) == 3 + ROWS * 5 // 4
    assert counted(office, ledger) == (ROWS + 1, ROWS // 3 + 2)


@pytest.mark.parametrize("way", ["the application starts", "a file is posted", "a line is corrected"])
def test_lines_of_a_posting_that_was_killed_are_cleared_away(
    office: Office, ledger: str, csv_file: Write, engine: Any, way: str
) -> None:
    post(office, ledger, csv_file("a.csv", HEAD, "2026-02-01,K,OK,Ada,3", "2026-02-02,K2,OK,Ada,4"))
    number = office.books.ledger(ledger).id
    with transaction(engine) as connection:
        stray = "10 + id, batch_id + 1000000, file_row, day, is_return, line_ref, amount, order_code, rep_code"
        columns = "id, batch_id, file_row, day, is_return, line_ref, amount, order_code, rep_code"
        connection.exec_driver_sql(f"INSERT INTO {line_table(number)} ({columns}) SELECT {stray} FROM {line_table(number)}")
    assert counted(office, ledger)[0] == 4 and net(office, ledger) == 7
    assert check_table(office, ledger, NET).agrees
    if way == "the application starts":
        settle(engine, number, anew=False)
        assert counted(office, ledger)[0] == 2 and net(office, ledger) == 7
    elif way == "a file is posted":
        post(office, ledger, csv_file("b.csv", HEAD, "2026-02-03,K3,OK,Ada,5"))
        assert counted(office, ledger)[0] == 3 and net(office, ledger) == 12
    else:
        with transaction(engine) as connection:
            line = connection.exec_driver_sql(f"SELECT MIN(id) FROM {line_table(number)}").scalar()
        correct_line(office, ledger, int(line or 0), LineChange(amount="9"), "typo")
        assert counted(office, ledger)[0] == 3 and net(office, ledger) == 13
    settle(engine, number, anew=False)
    assert check_table(office, ledger, NET).agrees


def test_an_id_that_the_check_let_pass_is_found_when_all_lines_are_there(
    office: Office, ledger: str, csv_file: Write, monkeypatch: pytest.MonkeyPatch
) -> None:
    post(office, ledger, csv_file("a.csv", HEAD, "2026-02-01,L4321,OK,Ada,3"))
    staging = stage_files(office, ledger, [csv_file("b.csv", HEAD, *rows())])
    monkeypatch.setattr(intake_reads, "posted_ids", lambda *_: iter(()))
    with pytest.raises(RefusedError, match=r"b\.csv, row 4323: line id L4321 is posted already \(a\.csv, row 2\)"):
        post_files(office, staging.id, quiet)
    assert counted(office, ledger) == (1, 2) and net(office, ledger) == 3
