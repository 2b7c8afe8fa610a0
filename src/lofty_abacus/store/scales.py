"""How many decimals a ledger keeps: more by need, never fewer."""

from __future__ import annotations

from sqlalchemy import Connection
from sqlalchemy.exc import DataError

from lofty_abacus.actions.errors import RefusedError
from lofty_abacus.core.money import MAX_SCALE
from lofty_abacus.store import line_tables
from lofty_abacus.store.tables import ledger


def widen(connection: Connection, ledger_id: int, amount: int, quantity: int) -> None:
    """Give the columns of a ledger's lines more decimals; nobody sees them until `enter_scales` says so.

    Raises RefusedError where the lines have no room for them.
    """
    if max(amount, quantity) > MAX_SCALE:
        raise RefusedError(f"More than {MAX_SCALE} decimals cannot be kept exactly.")
    try:
        line_tables.set_scales(connection, ledger_id, amount, quantity)
    except DataError as error:
        raise RefusedError(
            f"{max(amount, quantity)} decimals are needed; posted lines are too large for that. Nothing was posted."
        ) from error


def enter_scales(connection: Connection, ledger_id: int, amount: int, quantity: int) -> None:
    """Let a ledger have so many decimals, within the transaction that needs them."""
    connection.execute(ledger.update().where(ledger.c.id == ledger_id).values(amount_scale=amount, quantity_scale=quantity))
