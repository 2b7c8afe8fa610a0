"""Figures and days of a ledger's own: what its lines have beside amount, quantity, cost and usual day (semantics, section 1)."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any, Literal

from sqlalchemy import ColumnElement, Connection, func, select

from lofty_abacus.core.measures.table import FurtherFigure, Polarity
from lofty_abacus.store import line_tables
from lofty_abacus.store.tables import batch, batch_column, ledger, line_column

Kind = Literal["amount", "quantity", "day"]


@dataclass(frozen=True)
class LineColumn:
    """A column of the lines of a ledger's own. decimals: of a figure, the ledger's own where it is an amount."""

    id: int
    name: str
    kind: Kind
    decimals: int
    unit: str = ""
    polarity: Polarity = "neutral"
    description: str = ""

    @property
    def is_day(self) -> bool:
        """Whether it is a day; else a figure."""
        return self.kind == "day"

    @property
    def figure(self) -> FurtherFigure:
        """A figure as the core knows it."""
        kind: Literal["amount", "quantity"] = "amount" if self.kind == "amount" else "quantity"
        return FurtherFigure(self.name, kind, self.decimals, self.unit, self.polarity, self.description)


@dataclass(frozen=True)
class BroughtColumn:
    """What the lines of one batch have of a column: how many have it, their sum as text, and from which to which day."""

    lines: int
    total: str = "0"
    first: date | None = None
    last: date | None = None


def line_columns(connection: Connection, ledger_id: int, version: int | None = None) -> tuple[LineColumn, ...]:
    """What a version's lines have of their own, the current one if None, in the order in which they came."""
    head = connection.execute(select(ledger.c.version, ledger.c.amount_scale).where(ledger.c.id == ledger_id)).one()
    at = head.version if version is None else version
    rows = connection.execute(
        select(line_column)
        .where(line_column.c.ledger_id == ledger_id, line_column.c.from_version <= at)
        .order_by(line_column.c.id)
    ).mappings()
    return tuple(
        LineColumn(
            row["id"],
            row["name"],
            row["kind"],
            head.amount_scale if row["kind"] == "amount" else row["scale"],
            row["unit"],
            row["polarity"],
            row["description"],
        )
        for row in rows
    )


def make_line_column(connection: Connection, ledger_id: int, new: LineColumn, version: int) -> int:
    """A column of its own from a version on; its id."""
    made = connection.execute(
        line_column.insert().values(
            ledger_id=ledger_id,
            name=new.name,
            kind=new.kind,
            scale=new.decimals,
            unit=new.unit,
            polarity=new.polarity,
            description=new.description,
            from_version=version,
        )
    )
    return int(made.inserted_primary_key[0])  # type: ignore[index]


def enter_decimals(connection: Connection, ledger_id: int, columns: Sequence[LineColumn]) -> None:
    """Let quantities have as many decimals as their column has room for, within the transaction that needs them."""
    quantities = [each for each in columns if each.kind == "quantity"]
    room = line_tables.line_table_columns(connection, ledger_id).figures if quantities else {}
    for each in quantities:
        if room.get(each.name, each.decimals) != each.decimals:
            connection.execute(line_column.update().where(line_column.c.id == each.id).values(scale=room[each.name]))


def enter_brought(connection: Connection, batch_id: int, brought: Mapping[int, BroughtColumn]) -> None:
    """Write down what a batch has of each column, by the column's id."""
    rows = [
        {
            "batch_id": batch_id,
            "column_id": number,
            "line_count": each.lines,
            "total": each.total,
            "first_day": each.first,
            "last_day": each.last,
        }
        for number, each in brought.items()
    ]
    if rows:
        connection.execute(batch_column.insert(), rows)


def brought_by(connection: Connection, batches: Sequence[int]) -> dict[int, list[Mapping[str, Any]]]:
    """What some batches have of columns of their own, by column id."""
    found: dict[int, list[Mapping[str, Any]]] = {}
    if batches:
        rows = connection.execute(select(batch_column).where(batch_column.c.batch_id.in_(batches))).mappings()
        for row in rows:
            found.setdefault(row["column_id"], []).append(dict(row))
    return found


def of_ledger(ledger_id: int) -> ColumnElement[bool]:
    """What batches of a ledger have of columns: a condition on `batch_column`."""
    return batch_column.c.batch_id.in_(select(batch.c.id).where(batch.c.ledger_id == ledger_id))


def counted_in(connection: Connection, ledger_id: int, column_id: int) -> int:
    """How many lines of all batches have a column."""
    query = select(func.coalesce(func.sum(batch_column.c.line_count), 0)).where(
        batch_column.c.column_id == column_id, of_ledger(ledger_id)
    )
    return int(connection.execute(query).scalar_one())
