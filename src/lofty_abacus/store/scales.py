"""How many decimals a ledger keeps: more by need, never fewer."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from sqlalchemy import Connection
from sqlalchemy.exc import DataError

from lofty_abacus.actions.errors import RefusedError
from lofty_abacus.core.money import MAX_SCALE
from lofty_abacus.store import line_tables
from lofty_abacus.store.line_columns import line_columns
from lofty_abacus.store.tables import ledger


def widen(connection: Connection, ledger_id: int, amount: int, quantity: int) -> None:
    """Give the columns of a ledger's lines more decimals; nobody sees them until `enter_scales` says so.

    Raises RefusedError where the lines have no room for them.
    """
    if max(amount, quantity) > MAX_SCALE:
        raise RefusedError(f"More than {MAX_SCALE} decimals cannot be kept exactly.")
    try:
        figures = line_columns(connection, ledger_id)
        line_tables.set_scales(connection, ledger_id, amount, quantity, [each.name for each in figures if each.kind == "amount"])
    except DataError as error:
        raise RefusedError(
            f"{max(amount, quantity)} decimals are needed; posted lines are too large for that. Nothing was posted."
        ) from error


def have_room(connection: Connection, ledger_id: int, figures: Mapping[str, int], days: Sequence[str]) -> None:
    """Columns for figures and days of the ledger's own, with room for so many decimals. Raises RefusedError."""
    if max(figures.values(), default=0) > MAX_SCALE:
        raise RefusedError(f"More than {MAX_SCALE} decimals cannot be kept exactly.")
    try:
        line_tables.have_own_columns(connection, ledger_id, figures, days)
    except DataError as error:
        raise RefusedError(
            f"{max(figures.values())} decimals are needed; posted lines are too large for that. Nothing was posted."
        ) from error


def enter_scales(connection: Connection, ledger_id: int, amount: int, quantity: int) -> None:
    """Let a ledger have so many decimals, within the transaction that needs them."""
    connection.execute(ledger.update().where(ledger.c.id == ledger_id).values(amount_scale=amount, quantity_scale=quantity))
