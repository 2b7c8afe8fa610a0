"""Take a posted file out of the ledger, and in again."""

from __future__ import annotations

from lofty_abacus.actions.changing import ledger_to_change
from lofty_abacus.actions.ports import Office


def withdraw_batch(office: Office, ledger: str, batch: int, *, leave_hole: bool) -> int:
    """Withdraw a batch; with leave_hole its days are not posted rather than quiet. The new version.

    Raises RefusedError, NotFoundError, RecordsError.
    """
    return office.books.withdraw(ledger_to_change(office, ledger).id, batch, office.person, leave_hole=leave_hole)


def restore_batch(office: Office, ledger: str, batch: int) -> int:
    """Restore a withdrawn batch. The new version. Raises RefusedError, NotFoundError, RecordsError."""
    return office.books.restore(ledger_to_change(office, ledger).id, batch, office.person)
