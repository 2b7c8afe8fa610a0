"""What is kept as JSON: a row that this build cannot read is told by its name and its reason, and fails no list; and the clock."""

from __future__ import annotations

from collections.abc import Callable
from datetime import UTC, datetime
from pathlib import Path

import pytest
from sqlalchemy import text

from lofty_abacus.actions.intake.keep_mappings import list_mappings
from lofty_abacus.actions.intake.post_files import post_files
from lofty_abacus.actions.intake.stage_files import stage_files
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import NewLedger, SavedStatement
from lofty_abacus.actions.statements.keep_statements import list_statements, save_statement
from lofty_abacus.core.statement.statement import Opened, ShownMeasure, Statement
from lofty_abacus.export.layout import Chart, Layout
from lofty_abacus.store.books import MariaDbBooks
from tests.conftest import quiet

Write = Callable[..., tuple[str, Path]]
NET = Statement((ShownMeasure("net_sales"),))


def keep(office: Office, ledger: str, csv_file: Write) -> None:
    file = csv_file("lines.csv", "date,rep,amount", "2026-03-01,Ada,5.00")
    post_files(office, stage_files(office, ledger, [file]).id, quiet)
    for name in ("Good", "Bad"):
        save_statement(office, ledger, SavedStatement(name, NET, Opened()))


def spoil(office: Office, ledger: str, table: str, change: str) -> None:
    assert isinstance(office.books, MariaDbBooks)
    number = office.books.ledger(ledger).id
    with office.books.engine.begin() as connection:
        connection.execute(text(f"UPDATE {table} SET body = {change} WHERE ledger_id = :number"), {"number": number})


def test_a_layout_of_an_earlier_build_is_read_with_its_names(office: Office, ledger: str, csv_file: Write) -> None:
    keep(office, ledger, csv_file)
    chart = Layout(chart=Chart(axes={"net_sales.0.value": "right"}, key="none"))
    save_statement(office, ledger, SavedStatement("Good", NET, Opened(), layout=chart))
    save_statement(office, ledger, SavedStatement("Good", NET, Opened(2), layout=chart))
    renamed = "REPLACE(body, '\"axes\"', '\"sides\"')"
    spoil(office, ledger, "saved_statement", renamed)
    found = next(each for each in list_statements(office, ledger).saved if each.name == "Good")
    assert found.layout == chart and found.earlier[0].layout == chart


@pytest.mark.parametrize(
    ("change", "why"),
    [
        ("IF(name = 'Bad', JSON_SET(body, '$.statement.measures', 'none'), body)", "measures"),
        ("IF(name = 'Bad', JSON_REMOVE(body, '$.statement'), body)", "'statement'"),
        ("IF(name = 'Bad', JSON_SET(body, '$.opened.depth', 'deep'), body)", "depth"),
        ("IF(name = 'Bad', '[]', body)", "list"),
    ],
)
def test_a_statement_that_cannot_be_read_is_told_and_fails_no_list(
    office: Office, ledger: str, csv_file: Write, change: str, why: str
) -> None:
    keep(office, ledger, csv_file)
    spoil(office, ledger, "saved_statement", change)
    found = list_statements(office, ledger)
    assert [each.name for each in found.saved] == ["Good"]
    assert [each.name for each in found.unreadable] == ["Bad"] and why in found.unreadable[0].why
    # What can be read is kept on; the other stays where it is, under its name.
    save_statement(office, ledger, SavedStatement("Another", NET, Opened()))
    assert [each.name for each in list_statements(office, ledger).unreadable] == ["Bad"]


def test_a_mapping_that_cannot_be_read_is_told_and_the_next_file_is_read_from_scratch(
    office: Office, ledger: str, csv_file: Write
) -> None:
    keep(office, ledger, csv_file)
    spoil(office, ledger, "kept_mapping", "JSON_REMOVE(body, '$.columns')")
    found = list_mappings(office, ledger)
    assert found.rows == () and [each.why for each in found.unreadable] == ["it has no 'columns'"]
    again = stage_files(office, ledger, [csv_file("more.csv", "date,rep,amount", "2026-03-02,Bo,7.00")])
    assert again.files[0].mapping is not None and not again.files[0].kept
    post_files(office, again.id, quiet)
    assert len(list_mappings(office, ledger).rows) == 1 and list_mappings(office, ledger).unreadable == ()


def test_the_store_writes_down_the_time_of_the_clock_that_it_is_given(office: Office, tmp_path: Path) -> None:
    assert isinstance(office.books, MariaDbBooks)
    url = office.books.engine.url.render_as_string(hide_password=False)
    then = datetime(2031, 5, 6, 7, 8, 9, tzinfo=UTC)
    books = MariaDbBooks(url, tmp_path / "columns", lambda: then)
    try:
        number = books.make_ledger(NewLedger("Ledger of a later day")).id
        books.archive(number, "Tess")
        assert books.ledger("Ledger of a later day").archived_at == then
        with books.engine.connect() as connection:
            made = connection.execute(text("SELECT created_at FROM ledger WHERE id = :n"), {"n": number}).scalar_one()
        assert made == then.replace(tzinfo=None)
    finally:
        books.delete_ledger(number)
        books.engine.dispose()
