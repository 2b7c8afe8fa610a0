"""The records as ledgers need them."""

from __future__ import annotations

from datetime import date
from typing import Protocol

from lofty_abacus.actions.records import (
    BatchRecord,
    FeedDeclared,
    LedgerHoldings,
    LedgerRecord,
    LedgerSettings,
    LineChange,
    NewLedger,
    PostedMonth,
    Posting,
    VersionPart,
    VersionRecord,
)
from lofty_abacus.core.statement.ledger import LedgerFacts


class LedgerBooks(Protocol):
    """The records as ledgers need them: ledgers, their batches, versions and settings."""

    def ledgers(self) -> list[LedgerRecord]:
        """All ledgers, in the order in which they were made."""
        ...

    def ledger(self, name: str) -> LedgerRecord:
        """A ledger by name. Raises NotFoundError."""
        ...

    def make_ledger(self, new: NewLedger) -> LedgerRecord:
        """Make an empty ledger. Raises NameTakenError."""
        ...

    def archive(self, ledger_id: int, by: str) -> None:
        """Set a ledger aside; its lines and statements stay."""
        ...

    def take_from_archive(self, ledger_id: int) -> None:
        """Take a ledger out of the archive."""
        ...

    def holdings(self, ledger_id: int) -> LedgerHoldings:
        """What a ledger holds, in numbers."""
        ...

    def delete_ledger(self, ledger_id: int) -> None:
        """Throw a ledger away with all that belongs to it."""
        ...

    def verify(self) -> list[str]:
        """Hold the record, its batches and the columns derived from it against each other; what does not agree, in sentences."""
        ...

    def facts(self, ledger_id: int, version: int | None = None) -> LedgerFacts:
        """What a version of a ledger is, without its lines. Raises NotFoundError."""
        ...

    def batches(self, ledger_id: int) -> list[BatchRecord]:
        """All batches, withdrawn ones too, in the order of posting."""
        ...

    def posted_months(self, ledger_id: int) -> list[PostedMonth]:
        """Per feed every month from its first to its last, posted or not, in time order."""
        ...

    def withdraw(self, ledger_id: int, batch_id: int, by: str, *, leave_hole: bool) -> int:
        """Take a batch out as a new version, which is returned. Raises RefusedError, NotFoundError."""
        ...

    def restore(self, ledger_id: int, batch_id: int, by: str) -> int:
        """Take a withdrawn batch in again as a new version, which is returned. Raises RefusedError, NotFoundError."""
        ...

    def correct_line(self, ledger_id: int, line_id: int, change: LineChange | None, reason: str, today: date, by: str) -> Posting:
        """Put a changed line (None: nothing) in a posted line's place, as a batch of its own.

        Raises RefusedError, NotFoundError.
        """
        ...

    def change_settings(self, ledger_id: int, settings: LedgerSettings) -> None:
        """Change what a ledger is counted by. Raises NameTakenError, RefusedError."""
        ...

    def declared_coverage(self, ledger_id: int) -> list[FeedDeclared]:
        """What is declared of the feeds of a ledger's lines."""
        ...

    def versions(self, ledger_id: int) -> list[VersionRecord]:
        """The journal, the latest version first."""
        ...

    def parts_of_version(self, ledger_id: int, version: int) -> tuple[VersionPart, ...]:
        """The batches that came with a version, in the order in which they count."""
        ...
