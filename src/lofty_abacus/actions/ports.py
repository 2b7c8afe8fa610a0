"""What actions need of the outside, as protocols; the store fulfils them."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from pathlib import Path
from typing import Protocol

from lofty_abacus.actions.records import (
    AddedUp,
    BatchRecord,
    CodeFilter,
    KeptMapping,
    LedgerRecord,
    NewLedger,
    PostedFile,
    PostedMonth,
    Posting,
    Progress,
    ReadLine,
)
from lofty_abacus.core.grouping.source import ColumnsSource
from lofty_abacus.core.statement.ledger import LedgerFacts
from lofty_abacus.core.windows.ranges import DaySet


@dataclass(frozen=True)
class OpenedLedger:
    """A ledger with the facts and the lines of one and the same version."""

    record: LedgerRecord
    facts: LedgerFacts
    source: ColumnsSource


class Books(Protocol):
    """The records: ledgers, batches, lines, mappings."""

    def ledgers(self) -> list[LedgerRecord]:
        """All ledgers, in the order in which they were made."""
        ...

    def ledger(self, name: str) -> LedgerRecord:
        """A ledger by name. Raises NotFoundError."""
        ...

    def make_ledger(self, new: NewLedger) -> LedgerRecord:
        """Make an empty ledger. Raises NameTakenError."""
        ...

    def opened(self, name: str, version: int | None = None) -> OpenedLedger:
        """A ledger's current version, or an earlier one. Raises NotFoundError, RecordsError."""
        ...

    def batches(self, ledger_id: int) -> list[BatchRecord]:
        """All batches, withdrawn ones too, in the order of posting."""
        ...

    def posted_months(self, ledger_id: int) -> list[PostedMonth]:
        """Per feed every month from its first to its last, posted or not, in time order."""
        ...

    def withdraw(self, ledger_id: int, batch_id: int, *, leave_hole: bool) -> int:
        """Take a batch out as a new version, which is returned. Raises RefusedError, NotFoundError."""
        ...

    def restore(self, ledger_id: int, batch_id: int) -> int:
        """Take a withdrawn batch in again as a new version, which is returned. Raises RefusedError, NotFoundError."""
        ...

    def kept_mappings(self, ledger_id: int) -> list[KeptMapping]:
        """A ledger's mappings, the latest kept first."""
        ...

    def post(
        self, ledger_id: int, files: Sequence[PostedFile], today: date, progress: Progress, replaces: Sequence[int] = ()
    ) -> Posting:
        """Post files as one new version, all or nothing, in place of the batches named. Raises RefusedError, RecordsError."""
        ...

    def read_lines(self, ledger_id: int, ids: Sequence[int]) -> list[ReadLine]:
        """Lines by id, in the order of the ids."""
        ...

    def added_up(self, ledger_id: int, days: DaySet, filters: Sequence[CodeFilter], roles: dict[str, str]) -> AddedUp:
        """Have the database add the lines of some days up by itself. roles: dimension per role whose ids are counted."""
        ...


@dataclass(frozen=True)
class Office:
    """Everything an action works with: the records, the clock, and the folder for files that are not posted yet."""

    books: Books
    now: Callable[[], datetime]
    staging: Path
