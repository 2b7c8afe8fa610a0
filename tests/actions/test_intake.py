"""From files to posted lines and back to numbers, on MariaDB."""

from __future__ import annotations

import shutil
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace
from datetime import date
from fractions import Fraction
from pathlib import Path

import pytest

from lofty_abacus.actions.errors import NameTakenError, NotFoundError, RefusedError
from lofty_abacus.actions.figures.answer_statement import answer_statement
from lofty_abacus.actions.figures.check_table import check_table
from lofty_abacus.actions.figures.prove_number import AskedNumber, lines_of_number
from lofty_abacus.actions.intake.check_files import check_files
from lofty_abacus.actions.intake.post_files import post_files
from lofty_abacus.actions.intake.stage_files import map_file, stage_files
from lofty_abacus.actions.intake.stagings import discard_staging, staging_of
from lofty_abacus.actions.ledgers.describe_ledger import describe_ledger, find_members, list_batches
from lofty_abacus.actions.ledgers.make_ledger import make_ledger
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import NewLedger, Posting
from lofty_abacus.core.statement.statement import Opened, ShownMeasure, Statement
from lofty_abacus.core.windows.as_of import PinnedDay
from tests.cells import value
from tests.conftest import quiet

Write = Callable[..., tuple[str, Path]]
AS_OF = PinnedDay(date(2026, 3, 31))
NET = Statement((ShownMeasure("net_sales"),), ("rep",), as_of=AS_OF)
FULL = replace(NET, measures=(ShownMeasure("net_sales"), ShownMeasure("orders"), ShownMeasure("units")))


def post(office: Office, ledger: str, *files: tuple[str, Path]) -> Posting:
    return post_files(office, stage_files(office, ledger, files).id, quiet)


def net(office: Office, ledger: str, *path: str) -> Fraction | str:
    return value(answer_statement(office, ledger, NET, Opened()), "net_sales.0.value", *path)


def test_a_file_becomes_figures_and_lines_with_file_and_row(office: Office, ledger: str, csv_file: Write) -> None:
    file = csv_file("march.csv", "date,order,rep,quantity,amount", "2026-03-01,O1,Ada,2,10.50", "2026-03-02,O2,Bo,1,-0.25")
    posting = post(office, ledger, file)
    assert (posting.version, posting.lines, posting.amount) == (1, 2, "10.25")
    assert net(office, ledger) == Fraction("10.25")
    page = lines_of_number(office, AskedNumber(ledger, NET, "net_sales.0.value", ("Ada",)), 0, 0, 10)
    (line,) = page.lines
    assert (line.file, line.row, line.amount, line.members["order"], line.side) == ("march.csv", 2, "10.50", "O1", "sale")
    check = check_table(office, ledger, FULL)
    assert check.agrees and {each.measure for each in check.totals} == {"net_sales", "orders", "units"}


def test_next_month_is_one_drop_and_one_confirmation(office: Office, ledger: str, csv_file: Write) -> None:
    header = "date,order,who,amount"
    first = stage_files(office, ledger, [csv_file("february.csv", header, "2026-02-01,O1,Ada,10")])
    mapping = first.files[0].mapping
    assert mapping is not None
    columns = tuple(replace(use, role="rep", name="rep") if use.column == "who" else use for use in mapping.columns)
    map_file(office, first.id, 0, replace(mapping, columns=columns, name="sales", covers_through="2026-02-28"))
    post_files(office, first.id, quiet)
    second = stage_files(office, ledger, [csv_file("march.csv", header, "2026-03-01,O2,Bo,5.125")])
    assert second.files[0].kept
    assert second.files[0].mapping.covers_through is None, "how far it is complete is said anew for each file"  # type: ignore[union-attr]
    assert [use.role for use in second.files[0].mapping.columns] == ["date", "order", "rep", "amount"]  # type: ignore[union-attr]
    assert post_files(office, second.id, quiet).version == 2
    assert net(office, ledger) == Fraction("15.125"), "a finer file raises the scale exactly"
    assert describe_ledger(office, ledger).amount_decimals == 3
    assert [batch.amount for batch in list_batches(office, ledger)] == ["10.000", "5.125"]


def test_unreadable_values_block_until_a_decision(office: Office, ledger: str, csv_file: Write) -> None:
    staging = stage_files(
        office, ledger, [csv_file("s.csv", "date,rep,amount", "2026-03-01,Ada,10", "2026-03-02,Bo,ten", "2026-03-03,Cy,1")]
    )
    check = check_files(office, staging.id)
    finding = check.files[0].finding("unreadable")
    assert not check.ready and finding is not None and finding.problems[0].row == 3
    with pytest.raises(RefusedError, match="cannot be read"):
        post_files(office, staging.id, quiet)
    assert list_batches(office, ledger) == ()
    mapping = staging.files[0].mapping
    assert mapping is not None
    map_file(office, staging.id, 0, replace(mapping, unreadable="leave_out"))
    assert post_files(office, staging.id, quiet).lines == 2
    assert list_batches(office, ledger)[0].left_out == 1


def test_the_same_content_is_recognised_whatever_its_name(office: Office, ledger: str, csv_file: Write) -> None:
    rows = ("date,rep,amount", "2026-03-01,Ada,10")
    post(office, ledger, csv_file("a.csv", *rows))
    again = stage_files(office, ledger, [csv_file("b.csv", *rows)])
    assert "posted before, as a.csv" in check_files(office, again.id).files[0].blocking[0]
    with pytest.raises(RefusedError, match="posted before"):
        post_files(office, again.id, quiet)
    twice = stage_files(office, ledger, [csv_file("c.csv", "date,rep,amount", "2026-03-02,Bo,1")] * 2)
    assert "in this drop twice" in check_files(office, twice.id).files[0].blocking[0]


def test_a_line_id_that_is_posted_already_refuses_the_whole_drop(office: Office, ledger: str, csv_file: Write) -> None:
    header = "date,line id,rep,amount"
    post(office, ledger, csv_file("a.csv", header, "2026-03-01,L1,Ada,10"))
    before = describe_ledger(office, ledger)
    with pytest.raises(RefusedError, match=r"row 3: line id L1 is posted already \(a.csv, row 2\)"):
        post(
            office,
            ledger,
            csv_file("good.csv", header, "2026-03-03,L3,Cy,1"),
            csv_file("b.csv", header, "2026-03-02,L2,Bo,5", "2026-03-02,L1,Bo,5"),
        )
    after = describe_ledger(office, ledger)
    assert (after.version, after.lines) == (before.version, before.lines)
    assert len(list_batches(office, ledger)) == 1


def test_lookups_give_levels_and_names(office: Office, ledger: str, csv_file: Write) -> None:
    post(
        office,
        ledger,
        csv_file("sales.csv", "date,product,amount", "2026-03-01,P1,10", "2026-03-01,P2,5", "2026-03-01,P9,1"),
        csv_file("products.csv", "product,product name,category", "P1,Fine clay,Clays", "P2,Brush,Tools"),
    )
    statement = replace(NET, rows=("category", "product"), measures=(ShownMeasure("net_sales"),))
    found = answer_statement(office, ledger, statement, Opened(2))
    assert [(row.path, row.label) for row in found.rows] == [
        (("Clays",), "Clays"),
        (("Clays", "P1"), "Fine clay"),
        (("Tools",), "Tools"),
        (("Tools", "P2"), "Brush"),
        ((None,), "(not mapped)"),
        ((None, "P9"), "P9"),
    ]
    assert find_members(office, ledger, "product", "fine", 10).members[0].key == "P1"


def test_a_level_may_not_take_the_name_of_a_column(office: Office, ledger: str, csv_file: Write) -> None:
    post(office, ledger, csv_file("sales.csv", "date,product,region,amount", "2026-03-01,P1,North,10"))
    with pytest.raises(RefusedError, match="“region” is a column of the lines already: call this one “product region”"):
        post(office, ledger, csv_file("products.csv", "product,region", "P1,South"))


def test_an_unreadable_file_is_told_and_blocks(office: Office, ledger: str, csv_file: Write) -> None:
    staging = stage_files(office, ledger, [csv_file("empty.csv", "")])
    assert staging.files[0].error is not None
    assert "no heading row" in check_files(office, staging.id).files[0].blocking[0]


def test_stagings_can_be_read_again_and_thrown_away(office: Office, ledger: str, csv_file: Write) -> None:
    staging = stage_files(office, ledger, [csv_file("s.csv", "date,rep,amount", "2026-03-01,Ada,10")])
    assert staging_of(office, staging.id) == staging
    discard_staging(office, staging.id)
    with pytest.raises(NotFoundError, match="no longer staged"):
        staging_of(office, staging.id)
    with pytest.raises(NotFoundError):
        staging_of(office, "../etc")


def test_two_people_posting_at_once_both_succeed(office: Office, ledger: str, csv_file: Write) -> None:
    rows = [f"2026-03-{day:02d},Rep {day},{day}.01" for day in range(1, 29)]
    files = [csv_file(f"{n}.csv", f"date,rep,amount{n}", *rows) for n in range(4)]
    stagings = [stage_files(office, ledger, [file]).id for file in files]
    with ThreadPoolExecutor(4) as pool:
        postings = list(pool.map(lambda number: post_files(office, number, quiet), stagings))
    assert sorted(posting.version for posting in postings) == [1, 2, 3, 4]
    assert describe_ledger(office, ledger).lines == 4 * 28
    assert check_table(office, ledger, replace(NET, measures=(ShownMeasure("net_sales"), ShownMeasure("lines")))).agrees


def test_columns_are_rebuilt_when_they_are_missing_or_wrong(office: Office, ledger: str, csv_file: Write) -> None:
    from lofty_abacus.store.books import MariaDbBooks

    assert isinstance(office.books, MariaDbBooks)
    post(office, ledger, csv_file("s.csv", "date,rep,amount", "2026-03-01,Ada,10", "2026-03-02,Bo,5"))
    assert net(office, ledger) == 15
    number = office.books.ledger(ledger).id
    home = office.books._cache._folder / f"ledger-{number}"

    def folder() -> Path:
        [found] = home.iterdir()
        return found

    def spoil() -> None:
        raw = bytearray((folder() / "amount.npy").read_bytes())
        raw[-1] ^= 1
        (folder() / "amount.npy").write_bytes(bytes(raw))

    def forget() -> None:
        (folder() / "manifest.json").unlink()

    for damage in (lambda: shutil.rmtree(folder()), spoil, forget):
        damage()
        # As after a start: nothing is remembered.
        office.books._cache._open.clear()
        office.books._cache._held.clear()
        assert net(office, ledger) == 15


def test_ledgers_that_make_no_sense_are_refused(office: Office, ledger: str) -> None:
    with pytest.raises(NameTakenError, match="already"):
        make_ledger(office, NewLedger(ledger))
    with pytest.raises(RefusedError, match="currency code"):
        make_ledger(office, NewLedger("x", "euro"))
    with pytest.raises(RefusedError, match="time zone"):
        make_ledger(office, NewLedger("x", "EUR", "Mars/Base"))
    with pytest.raises(RefusedError, match="1 to 80"):
        make_ledger(office, NewLedger("  "))
    with pytest.raises(NotFoundError, match="no ledger"):
        describe_ledger(office, "nowhere")


def test_amounts_are_exact_from_text_to_table_at_any_size(office: Office, ledger: str, csv_file: Write) -> None:
    big = "9223372036854775.807"
    post(
        office,
        ledger,
        csv_file("s.csv", "date,rep,amount", f"2026-03-01,Ada,{big}", f"2026-03-01,Ada,{big}", "2026-03-02,Bo,0.001"),
    )
    assert net(office, ledger) == 2 * Fraction(big) + Fraction("0.001")
    assert check_table(office, ledger, replace(NET, measures=(ShownMeasure("net_sales"),))).agrees
    with pytest.raises(RefusedError, match="too large"):
        post(office, ledger, csv_file("t.csv", "date,rep,amount", "2026-03-03,Cy,0.00001"))
    assert net(office, ledger) == 2 * Fraction(big) + Fraction("0.001")
