from __future__ import annotations

from decimal import Decimal
from pathlib import Path

from alembic import command
from alembic.autogenerate import compare_metadata
from alembic.config import Config
from alembic.migration import MigrationContext
from sqlalchemy import create_engine

from lofty_abacus.actions.ports import Office
from lofty_abacus.core.grouping.source import ColumnsSource
from lofty_abacus.core.segments import joined
from lofty_abacus.server import mariadb
from lofty_abacus.store import migrating
from lofty_abacus.store.books import MariaDbBooks
from lofty_abacus.store.member_keys import KnownKeys
from lofty_abacus.store.migrating import migrate
from lofty_abacus.store.tables import metadata
from lofty_abacus.wiring import now, open_books
from tests.store.old_ledger import OLD_LEDGER
from tests.store.test_line_ids import column_of


def test_migrations_make_the_tables_that_the_code_expects(office: Office) -> None:
    assert isinstance(office.books, MariaDbBooks)
    migrate(office.books.engine)  # a second time changes nothing
    with office.books.engine.connect() as connection:
        differences = compare_metadata(MigrationContext.configure(connection), metadata)
    ours = [each for each in differences if not (each[0] == "remove_table" and each[1].name.startswith("line_"))]
    ours = [each for each in ours if not (each[0] == "remove_index" and each[1].table.name.startswith("line_"))]
    assert ours == []


def test_a_ledger_of_the_first_tables_is_carried_over(server: mariadb.RunningServer, tmp_path: Path) -> None:
    admin = create_engine(server.url, isolation_level="AUTOCOMMIT")
    with admin.connect() as connection:
        connection.exec_driver_sql("CREATE OR REPLACE DATABASE carried CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin")
    admin.dispose()
    url = server.url.replace("/lofty_abacus?", "/carried?")
    engine = create_engine(url)
    with engine.connect() as connection:
        config = Config()
        config.set_main_option("script_location", str(Path(migrating.__file__).parent / "migrations"))
        config.attributes["connection"] = connection
        command.upgrade(config, "0001")
        for statement in OLD_LEDGER:
            connection.exec_driver_sql(statement)
        connection.commit()
    engine.dispose()
    books = open_books(url, tmp_path / "columns", now)
    (kept, sales) = books.kept_mappings(1).rows
    assert (kept.shape, sales.mapping.reading.sheet) == ("R", "Lines")
    assert [(each.version, each.lines, each.amount) for each in books.versions(1)] == [
        (4, 2, "3.50"), (3, 3, "12.50"), (2, 3, "12.50"), (1, 2, "3.50"),
    ]  # fmt: skip
    for version, amount, teams in ((4, 350, {"Red": 350}), (2, 1250, {}), (1, 350, {})):
        opened = books.opened("Old", version)
        assert isinstance(opened.source, ColumnsSource)
        lines = joined(opened.source.segments.each)
        assert int(lines.amount.sum()) == amount
        level = lines.levels["team"]
        found = {level.members.key(int(level.mapping[code])) for code in lines.dimensions["rep"].codes.tolist() if code}
        assert found == (set(teams) or {None}), "a lookup counts from the version in which it was posted"
    with books.engine.connect() as connection:
        assert connection.exec_driver_sql("SELECT team, SUM(amount) FROM ledger_1_lines GROUP BY team").all() == [
            ("Red", Decimal("3.50"))
        ]
        rows = connection.exec_driver_sql("SELECT first_line, last_line, has_quantity, has_cost FROM batch ORDER BY id").all()
        keys = connection.exec_driver_sql("SHOW KEYS FROM line_1").mappings().all()
        keys += connection.exec_driver_sql("SHOW KEYS FROM member").mappings().all()
        members = connection.exec_driver_sql("SELECT dimension_id, code, member_key FROM member WHERE member_key <> ''").all()
        for dimension, code, key in members:
            assert KnownKeys(connection, dimension, code + 1).codes([key, "nobody"]) == {key: code}
        made = str(connection.exec_driver_sql("SHOW CREATE TABLE line_1").first())
    assert "AUTO_INCREMENT" not in made and "PRIMARY KEY (`id`)" in made
    assert rows == [(1, 2, 1, 0), (3, 3, 0, 0), (None, None, 0, 0)]
    assert members and not {"by_ref", "member_by_key"} & {each["Key_name"] for each in keys}
    # What was posted before there were hashes is known by them now: K2 counts, K3 was withdrawn.
    asked = [column_of(["K1", "K2"]), column_of(["K3", "other"])]
    assert books.line_ids_posted(1, lambda: asked) == {"K2": ("a.csv", 3), "K1": ("a.csv", 2)}
    books.engine.dispose()


def test_somebody_with_plain_sql_can_read_the_lines(office: Office, demo: object) -> None:
    assert isinstance(office.books, MariaDbBooks)
    number = office.books.ledger("Kiln & Glaze wholesale").id
    with office.books.engine.connect() as connection:
        row = connection.exec_driver_sql(f"SELECT * FROM ledger_{number}_lines WHERE line_ref = 'K-10001/1'").mappings().one()
    assert row["file_name"] == "sales-2024-01.csv" and row["file_row"] == 2
    assert {"day", "side", "rep", "customer", "region", "category", "amount", "cost", "posted_version"} <= set(row)
