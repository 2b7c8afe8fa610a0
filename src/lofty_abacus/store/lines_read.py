"""Read lines back with file and row."""

from __future__ import annotations

from collections.abc import Sequence
from decimal import Decimal
from typing import Any

from sqlalchemy import Engine, bindparam, text

from lofty_abacus.actions.records import GivenAmount, ReadLine
from lofty_abacus.store.dimensions import dimensions
from lofty_abacus.store.engine import transaction
from lofty_abacus.store.line_columns import LineColumn, line_columns
from lofty_abacus.store.line_tables import code_column, date_column, figure_column, line_table
from lofty_abacus.store.members import members_named

TRIES = 20


def read_lines(engine: Engine, ledger_id: int, ids: Sequence[int]) -> list[ReadLine]:
    """Lines by id, in the order of the ids."""
    if not ids:
        return []
    with transaction(engine) as connection:
        numbers = {each.name: number for number, each in dimensions(connection, ledger_id) if each.of is None}
        query = (
            f"SELECT l.*, b.file_name FROM {line_table(ledger_id)} l"
            " JOIN batch b ON b.id = l.batch_id AND b.active AND l.excluded = 0 WHERE l.id IN :ids"
        )
        rows = list(
            connection.execute(
                text(query).bindparams(bindparam("ids", expanding=True)), {"ids": [int(each) for each in ids]}
            ).mappings()
        )
        called = {
            name: members_named(connection, number, {row[code_column(name)] for row in rows}) for name, number in numbers.items()
        }
        own = line_columns(connection, ledger_id)
        found = {row["id"]: _line(dict(row), called, own) for row in rows}
    return [found[int(each)] for each in ids if int(each) in found]


def _line(row: dict[str, Any], called: dict[str, dict[int, tuple[str, str]]], columns: Sequence[LineColumn]) -> ReadLine:
    """called: per dimension the key and the label of each code. columns: figures and days of the ledger's own."""

    def plain(name: str) -> str | None:
        return None if row[name] is None else f"{row[name]:f}"

    own = {name: of[row[code_column(name)]] for name, of in called.items()}
    return ReadLine(
        id=row["id"],
        day=row["day"],
        side="return" if row["is_return"] else "sale",
        amount=f"{row['amount']:f}",
        quantity=plain("quantity"),
        cost=plain("cost"),
        line_ref=row["line_ref"],
        file=row["file_name"],
        row=row["file_row"],
        batch=row["batch_id"],
        members={name: label for name, (_, label) in own.items()},
        keys={name: key for name, (key, _) in own.items()},
        given=_given(row),
        figures={
            each.name: None if row[figure_column(each.name)] is None else f"{row[figure_column(each.name)]:f}"
            for each in columns
            if not each.is_day
        },
        days={each.name: row[date_column(each.name)] for each in columns if each.is_day},
    )


def _given(row: dict[str, Any]) -> GivenAmount | None:
    if row.get("given_currency") is None:
        return None
    amount, rate = (_short(row[name]) for name in ("given_amount", "rate"))
    return GivenAmount(amount, row["given_currency"], rate)


def _short(value: Decimal) -> str:
    """A decimal with its own decimals only, two at least."""
    whole, _, rest = f"{value:f}".partition(".")
    return f"{whole}.{rest.rstrip('0').ljust(2, '0')}"
