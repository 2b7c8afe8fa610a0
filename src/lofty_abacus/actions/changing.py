"""Ledgers that may be changed."""

from __future__ import annotations

from lofty_abacus.actions.errors import RefusedError
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import LedgerRecord


def ledger_to_change(office: Office, ledger: str) -> LedgerRecord:
    """A ledger whose lines are to change. Raises NotFoundError, RefusedError for one that is archived."""
    record = office.books.ledger(ledger)
    if record.archived_at is not None:
        raise RefusedError(f"{record.name} is archived: take it out of the archive first. Nothing was changed.")
    return record
