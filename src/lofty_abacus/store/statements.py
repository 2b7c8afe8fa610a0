"""Statements that a ledger keeps."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import UTC, datetime
from typing import Any

from pydantic import TypeAdapter
from sqlalchemy import Connection, Engine, select
from sqlalchemy.dialects.mysql import insert

from lofty_abacus.actions.errors import NameTakenError
from lofty_abacus.actions.records import EarlierStatement, Kept, SavedStatement
from lofty_abacus.core.statement.statement import Opened, Statement
from lofty_abacus.export.layout import Layout
from lofty_abacus.store.engine import transaction
from lofty_abacus.store.kept_rows import read_each
from lofty_abacus.store.tables import saved_statement

_STATEMENT, _OPENED, _LAYOUT = TypeAdapter(Statement), TypeAdapter(Opened), TypeAdapter(Layout)
_EARLIER = TypeAdapter(tuple[EarlierStatement, ...])


def saved_statements(engine: Engine, ledger_id: int) -> Kept[SavedStatement]:
    """A ledger's statements by folder and name."""
    table = saved_statement
    with transaction(engine) as connection:
        rows = connection.execute(
            select(table)
            .where(table.c.ledger_id == ledger_id, table.c.forgotten_at.is_(None))
            .order_by(table.c.folder, table.c.name)
        ).mappings()
        return read_each(rows, lambda row: row["name"], _read)


def _read(row: Mapping[str, Any]) -> SavedStatement:
    body = row["body"]
    return SavedStatement(
        row["name"],
        _STATEMENT.validate_python(body["statement"]),
        _OPENED.validate_python(body["opened"]),
        row["folder"],
        row["description"],
        # Kept by an earlier build, a statement has no layout of its own.
        _LAYOUT.validate_python(_renamed(body.get("layout", {}))),
        row["saved_by"],
        row["saved_at"].replace(tzinfo=UTC),
        _EARLIER.validate_python([{**each, "layout": _renamed(each.get("layout", {}))} for each in body.get("earlier", [])]),
        row["id"],
    )


def save_statement(connection: Connection, ledger_id: int, saved: SavedStatement) -> int:
    """Keep a statement under its name, in place of the one before; with a number, that one, under the name given. Its number.

    Raises NameTakenError.
    """
    assert saved.saved_at is not None, "it is kept at a time"
    values = {
        "folder": saved.folder,
        "description": saved.description,
        "body": {
            "statement": _STATEMENT.dump_python(saved.statement, mode="json"),
            "opened": _OPENED.dump_python(saved.opened, mode="json"),
            "layout": _LAYOUT.dump_python(saved.layout, mode="json"),
            "earlier": _EARLIER.dump_python(saved.earlier, mode="json"),
        },
        "saved_by": saved.saved_by,
        "saved_at": saved.saved_at.astimezone(UTC).replace(tzinfo=None),
        "forgotten_at": None,
    }
    table = saved_statement
    named = (table.c.ledger_id == ledger_id) & (table.c.name == saved.name)
    if saved.id:
        # A name that nobody keeps any more is free.
        connection.execute(table.delete().where(named, table.c.forgotten_at.is_not(None), table.c.id != saved.id))
        if connection.execute(select(table.c.id).where(named, table.c.id != saved.id)).scalar():
            raise NameTakenError(f"There is a statement {saved.name!r} already: choose another name.")
        connection.execute(table.update().where(table.c.id == saved.id).values(name=saved.name, **values))
        return saved.id
    command = insert(table).values(ledger_id=ledger_id, name=saved.name, **values)
    connection.execute(command.on_duplicate_key_update(**values))
    return int(connection.execute(select(table.c.id).where(named)).scalar_one())


def forget_statement(connection: Connection, ledger_id: int, name: str, now: datetime) -> bool:
    """Keep a statement no more, until it is taken back; False where there is none of that name."""
    here = (saved_statement.c.ledger_id == ledger_id) & (saved_statement.c.name == name)
    gone = saved_statement.update().where(here, saved_statement.c.forgotten_at.is_(None)).values(forgotten_at=now)
    return bool(connection.execute(gone).rowcount)


def take_back_statement(connection: Connection, ledger_id: int, name: str) -> bool:
    """Keep a statement again that was forgotten; False where none of that name was."""
    here = (saved_statement.c.ledger_id == ledger_id) & (saved_statement.c.name == name)
    back = saved_statement.update().where(here, saved_statement.c.forgotten_at.is_not(None)).values(forgotten_at=None)
    return bool(connection.execute(back).rowcount)


def _renamed(layout: dict[str, Any]) -> dict[str, Any]:
    """A layout with the names of this build: an earlier one called the axes of a chart its sides."""
    chart = layout.get("chart")
    if not chart or "sides" not in chart:
        return layout
    others = {name: value for name, value in chart.items() if name != "sides"}
    return {**layout, "chart": {"axes": chart["sides"], **others}}
