"""In which versions a batch counts: taken out and put back within a running transaction."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from sqlalchemy import ColumnElement, Connection, Table, select

from lofty_abacus.actions.errors import NotFoundError, RefusedError
from lofty_abacus.store.tables import batch, batch_span, hole, mapping


def holds_at(table: Table, version: int) -> ColumnElement[bool]:
    """Whether a row with from_version and until_version holds at a version."""
    until = table.c.until_version
    return (table.c.from_version <= version) & (until.is_(None) | (until > version))


def batch_row(connection: Connection, ledger_id: int, batch_id: int) -> Mapping[str, Any]:
    """A batch with the kind of its feed. Raises NotFoundError."""
    row = (
        connection.execute(
            select(batch, mapping.c.kind)
            .join(mapping, mapping.c.id == batch.c.mapping_id)
            .where(batch.c.id == batch_id, batch.c.ledger_id == ledger_id)
        )
        .mappings()
        .first()
    )
    if row is None:
        raise NotFoundError(f"There is no batch {batch_id} in this ledger.")
    return dict(row)


def take_out(connection: Connection, ledger_id: int, batch_id: int, version: int) -> Mapping[str, Any]:
    """End a batch's span at a version. Raises RefusedError where it does not count now."""
    row = batch_row(connection, ledger_id, batch_id)
    if not row["active"]:
        raise RefusedError(f"{row['file_name']} (batch {batch_id}) is withdrawn already.")
    connection.execute(
        batch_span.update()
        .where(batch_span.c.batch_id == batch_id, batch_span.c.until_version.is_(None))
        .values(until_version=version)
    )
    connection.execute(batch.update().where(batch.c.id == batch_id).values(active=False))
    return row


def put_back(connection: Connection, ledger_id: int, batch_id: int, version: int) -> Mapping[str, Any]:
    """Begin a new span of a withdrawn batch; the hole that it left is closed. Raises RefusedError where it counts already."""
    row = batch_row(connection, ledger_id, batch_id)
    if row["active"]:
        raise RefusedError(f"{row['file_name']} (batch {batch_id}) is not withdrawn.")
    connection.execute(batch_span.insert().values(batch_id=batch_id, from_version=version))
    connection.execute(
        hole.update().where(hole.c.batch_id == batch_id, hole.c.until_version.is_(None)).values(until_version=version)
    )
    connection.execute(batch.update().where(batch.c.id == batch_id).values(active=True))
    return row
