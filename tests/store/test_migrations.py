from __future__ import annotations

from alembic.autogenerate import compare_metadata
from alembic.migration import MigrationContext
from sqlalchemy import text

from lofty_abacus.actions.ports import Office
from lofty_abacus.store.books import MariaDbBooks
from lofty_abacus.store.line_tables import line_table
from lofty_abacus.store.migrating import migrate
from lofty_abacus.store.posting import repeated_query
from lofty_abacus.store.tables import metadata


def test_migrations_make_the_tables_that_the_code_expects(office: Office) -> None:
    assert isinstance(office.books, MariaDbBooks)
    migrate(office.books.engine)  # a second time changes nothing
    with office.books.engine.connect() as connection:
        differences = compare_metadata(MigrationContext.configure(connection), metadata)
    ours = [each for each in differences if not (each[0] == "remove_table" and each[1].name.startswith("line_"))]
    ours = [each for each in ours if not (each[0] == "remove_index" and each[1].table.name.startswith("line_"))]
    assert ours == []


def test_somebody_with_plain_sql_can_read_the_lines(office: Office, demo: object) -> None:
    assert isinstance(office.books, MariaDbBooks)
    number = office.books.ledger("Kiln & Glaze wholesale").id
    with office.books.engine.connect() as connection:
        row = connection.exec_driver_sql(f"SELECT * FROM ledger_{number}_lines WHERE line_ref = 'K-10001/1'").mappings().one()
    assert row["file_name"] == "sales-2024-01.csv" and row["file_row"] == 2
    assert {"day", "side", "rep", "customer", "region", "category", "amount", "cost", "posted_version"} <= set(row)


def test_line_ids_are_looked_up_by_their_index_whatever_the_statistics(office: Office, demo: object) -> None:
    assert isinstance(office.books, MariaDbBooks)
    table = line_table(office.books.ledger("Kiln & Glaze wholesale").id)
    with office.books.engine.connect() as connection:
        plan = connection.execute(text(f"EXPLAIN {repeated_query(table)}"), {"b": 3}).mappings().all()
    lookup = next(step for step in plan if step["table"] == "o")
    assert (lookup["key"], lookup["type"]) == ("by_ref", "ref")
