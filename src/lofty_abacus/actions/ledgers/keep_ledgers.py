"""Ledgers set aside, taken back and deleted."""

from __future__ import annotations

from lofty_abacus.actions.errors import RefusedError
from lofty_abacus.actions.intake.stagings import discard_staging, waiting_stagings
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import LedgerHoldings


def archive_ledger(office: Office, ledger: str) -> None:
    """Set a ledger aside: it is listed among the archived, can be read, and takes no lines. Raises NotFoundError."""
    office.books.archive(office.books.ledger(ledger).id, office.person)


def take_from_archive(office: Office, ledger: str) -> None:
    """Have a ledger again as it was. Raises NotFoundError."""
    office.books.take_from_archive(office.books.ledger(ledger).id)


def holdings_of(office: Office, ledger: str) -> LedgerHoldings:
    """What would be lost with a ledger, in numbers. Raises NotFoundError."""
    return office.books.holdings(office.books.ledger(ledger).id)


def delete_ledger(office: Office, ledger: str, typed: str) -> LedgerHoldings:
    """Throw a ledger away for good; what is lost. Raises NotFoundError, RefusedError unless its name is typed."""
    record = office.books.ledger(ledger)
    if typed != record.name:
        raise RefusedError(f"To delete the ledger, type its name: {record.name}. Nothing was deleted.")
    lost = office.books.holdings(record.id)
    office.books.delete_ledger(record.id)
    for staging in waiting_stagings(office, record.name):
        discard_staging(office, staging.id)
    return lost
