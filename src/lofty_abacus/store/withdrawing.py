"""Take a batch out of the ledger and in again: each is a new version, all or nothing."""

from __future__ import annotations

from sqlalchemy import Connection, Engine, select

from lofty_abacus.actions.errors import RefusedError
from lofty_abacus.store.engine import transaction
from lofty_abacus.store.exclusions import end_exclusions, excluded_by, held_by, renew_exclusions
from lofty_abacus.store.level_entries import derive_levels, levels_of_batch
from lofty_abacus.store.line_ids import counts_twice
from lofty_abacus.store.posting import one_at_a_time
from lofty_abacus.store.signed import Signed
from lofty_abacus.store.spans import put_back, take_out
from lofty_abacus.store.tables import batch, hole
from lofty_abacus.store.versions import enter_version, next_version


def withdraw(engine: Engine, ledger_id: int, batch_id: int, signed: Signed, *, leave_hole: bool) -> int:
    """Take a batch out; its days become a hole (not posted) if asked. The new version. Raises RefusedError, NotFoundError.

    Lines that the batch had taken the place of count again.
    """
    with one_at_a_time(engine, ledger_id), transaction(engine) as connection:
        version = next_version(connection, ledger_id)
        touched = {batch_id} | excluded_by(connection, batch_id)
        before = held_by(connection, ledger_id, touched)
        row = take_out(connection, ledger_id, batch_id, version)
        end_exclusions(connection, ledger_id, batch_id, version)
        if leave_hole and row["first_day"] is not None:
            days = {"first_day": row["first_day"], "last_day": row["last_day"]}
            connection.execute(hole.insert().values(batch_id=batch_id, from_version=version, **days))
        derive_levels(connection, ledger_id, levels_of_batch(connection, batch_id), version)
        _refuse_lines_that_count(connection, ledger_id, touched - {batch_id})
        change = held_by(connection, ledger_id, touched) - before
        enter_version(connection, ledger_id, version, change, signed, f"withdrew {row['file_name']}")
        return version


def restore(engine: Engine, ledger_id: int, batch_id: int, signed: Signed) -> int:
    """Take a withdrawn batch in again. The new version. Raises RefusedError (its content or lines came back otherwise)."""
    with one_at_a_time(engine, ledger_id), transaction(engine) as connection:
        version = next_version(connection, ledger_id)
        touched = {batch_id} | excluded_by(connection, batch_id)
        before = held_by(connection, ledger_id, touched)
        row = put_back(connection, ledger_id, batch_id, version)
        renew_exclusions(connection, ledger_id, batch_id, version)
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
        derive_levels(connection, ledger_id, levels_of_batch(connection, batch_id), version)
        _refuse_lines_that_count(connection, ledger_id, {batch_id})
        change = held_by(connection, ledger_id, touched) - before
        enter_version(connection, ledger_id, version, change, signed, f"restored {row['file_name']}")
        return version


def _refuse_lines_that_count(connection: Connection, ledger_id: int, batches: set[int]) -> None:
    """Refuse lines that came back while others of their line ids count."""
    for number in sorted(batches):
        found = counts_twice(connection, ledger_id, number)
        if found is not None:
            again, other = found
            raise RefusedError(f"Line id {again.text} counts already in {other.file}, row {other.row}. Nothing was changed.")
