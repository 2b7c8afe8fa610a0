"""A ledger in MariaDB to ask by statement and by SQL."""

from __future__ import annotations

from dataclasses import dataclass, replace
from decimal import Decimal
from fractions import Fraction
from pathlib import Path
from typing import Any

from sqlalchemy import text

from lofty_abacus.actions.figures.answer_statement import answer_statement
from lofty_abacus.actions.intake.post_files import post_files
from lofty_abacus.actions.intake.stage_files import map_file, stage_files
from lofty_abacus.actions.ledgers.make_ledger import make_ledger
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import NewLedger
from lofty_abacus.core.answer.answer import Answer, Row
from lofty_abacus.core.statement.statement import Opened, Statement
from lofty_abacus.store.books import MariaDbBooks
from tests.cells import exact
from tests.conftest import quiet


@dataclass(frozen=True)
class Asked:
    """A ledger by its name."""

    office: Office
    ledger: str

    @property
    def lines(self) -> str:
        """Its posted lines as a plain table: the view's own rows, read once, since a question may read them several times."""
        record = self._books.ledger(self.ledger)
        version = self._books.facts(record.id).version
        # In a database of its own: the application's holds its own tables only.
        table = f"lofty_oracle.lines_{record.id}_{version}"
        with self._books.engine.begin() as connection:
            connection.execute(text("CREATE DATABASE IF NOT EXISTS lofty_oracle CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin"))
            connection.execute(
                text(f"CREATE TABLE IF NOT EXISTS {table} (KEY by_day (day)) AS SELECT * FROM ledger_{record.id}_lines")
            )
        return table

    @property
    def _books(self) -> MariaDbBooks:
        assert isinstance(self.office.books, MariaDbBooks)
        return self.office.books

    def sql(self, query: str, **values: object) -> list[dict[str, Any]]:
        """The rows of a query; {lines} stands for the view of the lines, numbers come as fractions."""
        with self._books.engine.connect() as connection:
            found = connection.execute(text(query.format(lines=self.lines)), values).mappings().all()
        return [{name: _exact(value) for name, value in row.items()} for row in found]

    def answer(self, statement: Statement, depth: int = 1) -> Answer:
        """The answer to a statement."""
        return answer_statement(self.office, self.ledger, statement, Opened(depth))


def _exact(value: object) -> object:
    return Fraction(value) if isinstance(value, (Decimal, int)) else value


def cells_of(answer: Answer, row: Row) -> dict[str, Fraction | str]:
    """A row's exact values by column id."""
    return {column.id: exact(cell) for column, cell in zip(answer.columns, row.cells, strict=True)}


def post_rows(
    office: Office, new: NewLedger, folder: Path, rows: list[str], covers: tuple[str, str], lookup: list[str] | None = None
) -> Asked:
    """A ledger of its own with these lines of CSV, complete between two days; and a lookup, posted after them."""
    make_ledger(office, new)
    path = folder / f"{new.name}.csv"
    path.write_text("\n".join(rows) + "\n")
    staging = stage_files(office, new.name, [(path.name, path)])
    mapping = staging.files[0].mapping
    assert mapping is not None
    map_file(office, staging.id, 0, replace(mapping, covers_from=covers[0], covers_through=covers[1]))
    post_files(office, staging.id, quiet)
    if lookup is not None:
        keys = folder / "lookup.csv"
        keys.write_text("\n".join(lookup) + "\n")
        post_files(office, stage_files(office, new.name, [(keys.name, keys)]).id, quiet)
    return Asked(office, new.name)
