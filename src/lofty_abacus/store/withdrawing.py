"""Take a batch out of the ledger and in again: each is a new version, all or nothing."""

from __future__ import annotations

from sqlalchemy import Connection, Engine, select, text

from lofty_abacus.actions.errors import RefusedError
from lofty_abacus.store.engine import transaction
from lofty_abacus.store.line_tables import line_table
from lofty_abacus.store.posting import one_at_a_time
from lofty_abacus.store.spans import put_back, take_out
from lofty_abacus.store.tables import batch, hole, ledger


def withdraw(engine: Engine, ledger_id: int, batch_id: int, *, leave_hole: bool) -> int:
    """Take a batch out; its days become a hole (not posted) if asked. The new version. Raises RefusedError, NotFoundError."""
    with one_at_a_time(engine, ledger_id), transaction(engine) as connection:
        version = _next_version(connection, ledger_id)
        row = take_out(connection, ledger_id, batch_id, version)
        if leave_hole and row["first_day"] is not None:
            days = {"first_day": row["first_day"], "last_day": row["last_day"]}
            connection.execute(hole.insert().values(batch_id=batch_id, from_version=version, **days))
        return version


def restore(engine: Engine, ledger_id: int, batch_id: int) -> int:
    """Take a withdrawn batch in again. The new version. Raises RefusedError (its content or lines came back otherwise)."""
    with one_at_a_time(engine, ledger_id), transaction(engine) as connection:
        version = _next_version(connection, ledger_id)
        row = put_back(connection, ledger_id, batch_id, version)
        same = connection.execute(
            select(batch.c.file_name).where(
                batch.c.ledger_id == ledger_id,
                batch.c.active,
                batch.c.id != batch_id,
                batch.c.file_hash == row["file_hash"],
            )
        ).scalar()
        if same is not None:
            raise RefusedError(f"The same content counts already, as {same}. Nothing was changed.")
        _refuse_lines_that_count(connection, ledger_id, batch_id, row["file_name"])
        return version


def _next_version(connection: Connection, ledger_id: int) -> int:
    version = connection.execute(select(ledger.c.version).where(ledger.c.id == ledger_id).with_for_update()).scalar_one()
    connection.execute(ledger.update().where(ledger.c.id == ledger_id).values(version=version + 1))
    return int(version) + 1


def _refuse_lines_that_count(connection: Connection, ledger_id: int, batch_id: int, file: str) -> None:
    table = line_table(ledger_id)
    found = connection.execute(
        text(
            f"SELECT n.line_ref, b.file_name FROM {table} n"
            f" STRAIGHT_JOIN {table} o FORCE INDEX (by_ref) ON o.line_ref = n.line_ref AND o.batch_id <> n.batch_id"
            " JOIN batch b ON b.id = o.batch_id AND b.active WHERE n.batch_id = :b LIMIT 1"
        ),
        {"b": batch_id},
    ).first()
    if found is not None:
        raise RefusedError(f"{file}: line id {found[0]} counts already in {found[1]}. Nothing was changed.")
