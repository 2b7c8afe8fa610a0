"""The records as actions see them."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date
from pathlib import Path

from sqlalchemy import Engine

from lofty_abacus.actions.errors import RecordsError
from lofty_abacus.actions.ports import OpenedLedger
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
from lofty_abacus.core.windows.ranges import DaySet
from lofty_abacus.store import ledgers, lines_read, mappings, months, posting, withdrawing
from lofty_abacus.store.columns_cache import ColumnsCache
from lofty_abacus.store.engine import connect
from lofty_abacus.store.migrating import migrate

TRIES = 5


class MariaDbBooks:
    """Books kept in MariaDB, with columns derived into a folder."""

    def __init__(self, url: str, columns: Path) -> None:
        self.engine: Engine = connect(url)
        migrate(self.engine)
        self._cache = ColumnsCache(self.engine, url, columns)

    def ledgers(self) -> list[LedgerRecord]:
        """All ledgers, in the order in which they were made."""
        return ledgers.ledgers(self.engine)

    def ledger(self, name: str) -> LedgerRecord:
        """A ledger by name. Raises NotFoundError."""
        return ledgers.ledger_named(self.engine, name)

    def make_ledger(self, new: NewLedger) -> LedgerRecord:
        """Make an empty ledger. Raises NameTakenError."""
        ledgers.make_ledger(self.engine, new)
        return self.ledger(new.name)

    def opened(self, name: str, version: int | None = None) -> OpenedLedger:
        """Facts and lines of one version: read again where a posting came between. Raises NotFoundError, RecordsError."""
        for _ in range(TRIES):
            record = self.ledger(name)
            facts = ledgers.ledger_facts(self.engine, record.id, version)
            found, source = self._cache.source(record.id, version)
            if facts.version == found:
                return OpenedLedger(record, facts, source)
        raise RecordsError("Postings follow each other too fast to read the ledger: try again.")

    def batches(self, ledger_id: int) -> list[BatchRecord]:
        """All batches, withdrawn ones too, in the order of posting."""
        return ledgers.batches(self.engine, ledger_id)

    def posted_months(self, ledger_id: int) -> list[PostedMonth]:
        """Per feed every month from its first to its last, posted or not, in time order."""
        return months.posted_months(self.engine, ledger_id)

    def withdraw(self, ledger_id: int, batch_id: int, *, leave_hole: bool) -> int:
        """Take a batch out as a new version, which is returned. Raises RefusedError, NotFoundError."""
        return withdrawing.withdraw(self.engine, ledger_id, batch_id, leave_hole=leave_hole)

    def restore(self, ledger_id: int, batch_id: int) -> int:
        """Take a withdrawn batch in again as a new version, which is returned. Raises RefusedError, NotFoundError."""
        return withdrawing.restore(self.engine, ledger_id, batch_id)

    def kept_mappings(self, ledger_id: int) -> list[KeptMapping]:
        """A ledger's mappings, the latest kept first."""
        return mappings.kept_mappings(self.engine, ledger_id)

    def post(
        self, ledger_id: int, files: Sequence[PostedFile], today: date, progress: Progress, replaces: Sequence[int] = ()
    ) -> Posting:
        """Post files as one new version, all or nothing, in place of the batches named. Raises RefusedError, RecordsError."""
        return posting.post(self.engine, ledger_id, files, today, progress, replaces)

    def read_lines(self, ledger_id: int, ids: Sequence[int]) -> list[ReadLine]:
        """Lines by id, in the order of the ids."""
        return lines_read.read_lines(self.engine, ledger_id, ids)

    def added_up(self, ledger_id: int, days: DaySet, filters: Sequence[CodeFilter], roles: dict[str, str]) -> AddedUp:
        """Have MariaDB add the lines of some days up by itself."""
        return lines_read.added_up(self.engine, ledger_id, days, filters, roles)
