"""What actions need of the outside, as protocols; the store fulfils them."""

from __future__ import annotations

import shutil
from collections.abc import Callable, Collection, Sequence
from dataclasses import dataclass, field
from datetime import date, datetime
from pathlib import Path
from typing import Protocol

from lofty_abacus.actions.large_answers import LargeAnswers
from lofty_abacus.actions.records import (
    AddedUp,
    BatchRecord,
    CodeFilter,
    FeedDeclared,
    KeptMapping,
    LedgerHoldings,
    LedgerRecord,
    LedgerSettings,
    LineChange,
    MonthHeld,
    NewLedger,
    OrderSold,
    Placing,
    PostedFile,
    PostedMonth,
    Posting,
    Progress,
    ReadLine,
    SavedStatement,
    VersionRecord,
)
from lofty_abacus.core.grouping.source import ColumnsSource
from lofty_abacus.core.measures.sums import Quantity
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

    def keep_link(self, number: str, address: str, by: str) -> None:
        """Keep an address under a short name."""
        ...

    def link(self, number: str) -> str | None:
        """The address under a short name; None where there is none."""
        ...

    def take_back_statement(self, ledger_id: int, name: str) -> bool:
        """Keep a statement again that was forgotten; False where none of that name was."""
        ...

    def take_back_mapping(self, ledger_id: int, shape: str) -> bool:
        """Keep a mapping again that was forgotten; False where none was for the shape."""
        ...

    def opened(self, name: str, version: int | None = None) -> OpenedLedger:
        """A ledger's current version, or an earlier one. Raises NotFoundError, RecordsError."""
        ...

    def verify_columns(self, ledger_id: int | None = None) -> int:
        """Read again what is kept of lines (of one ledger, or of all) beside the record; what was changed is made anew.

        How many versions there were.
        """
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

    def kept_mappings(self, ledger_id: int) -> list[KeptMapping]:
        """A ledger's mappings, the latest kept first."""
        ...

    def keep_mapping(self, ledger_id: int, kept: KeptMapping) -> None:
        """Keep a mapping for the next files of its shape, in place of the one before."""
        ...

    def forget_mapping(self, ledger_id: int, shape: str) -> bool:
        """Let no file take a mapping by itself any more; False where none is kept for the shape."""
        ...

    def saved_statements(self, ledger_id: int) -> list[SavedStatement]:
        """A ledger's statements by folder and name."""
        ...

    def save_statement(self, ledger_id: int, saved: SavedStatement) -> int:
        """Keep a statement under its name, in place of the one before; its number. Raises NameTakenError."""
        ...

    def forget_statement(self, ledger_id: int, name: str) -> bool:
        """Keep a statement no more; False where there is none of that name."""
        ...

    def post(
        self, ledger_id: int, files: Sequence[PostedFile], today: date, progress: Progress, placing: Placing, by: str
    ) -> Posting:
        """Post files as one new version, all or nothing, placed as said. Raises RefusedError, RecordsError."""
        ...

    def months_going_out(self, ledger_id: int, placing: Placing, feeds: Sequence[str]) -> list[MonthHeld]:
        """Per month, the lines that such a placing of files of these feeds would take out."""
        ...

    def known_members(self, ledger_id: int, dimension: str) -> list[tuple[str, str]]:
        """(key, label) of a dimension's members, the blank one left out; empty where the ledger has no such dimension."""
        ...

    def is_listed(self, ledger_id: int, dimension: str) -> bool:
        """Whether `known_members` gives all members of a dimension: of one with too many it gives none."""
        ...

    def mapped_keys(self, ledger_id: int, dimension: str) -> dict[str, dict[str, str | None]]:
        """Per level of a dimension, the member key of each key that the current lookups know, on the last of their days."""
        ...

    def line_ids_posted(self, ledger_id: int, ids: Sequence[str]) -> dict[str, tuple[str, int]]:
        """(file, row) of those line ids that count already."""
        ...

    def orders_sold(self, ledger_id: int, orders: Sequence[str]) -> list[OrderSold]:
        """What the posted lines hold of some orders, per product and (product "") as a whole."""
        ...

    def read_lines(self, ledger_id: int, ids: Sequence[int]) -> list[ReadLine]:
        """Lines by id, in the order of the ids."""
        ...

    def added_up(
        self,
        ledger_id: int,
        version: int,
        days: DaySet,
        filters: Sequence[CodeFilter],
        quantities: Collection[Quantity],
        roles: dict[str, str],
    ) -> AddedUp:
        """Have the database add the lines of some days, as a version has them, up by itself.

        roles: dimension per role whose ids are counted.
        """
        ...


class OtherDatabase(Protocol):
    """Lines that lie in a database of somebody else, which is only ever read."""

    def preview(self, url: str, query: str, rows: int) -> tuple[tuple[str, ...], list[tuple[str, ...]]]:
        """Headings and the first rows of a table's name or a SELECT. Raises RefusedError, UnreachableError."""
        ...

    def fetch(self, url: str, query: str, place: Path, progress: Callable[[int], None]) -> int:
        """Write all rows into a Parquet file, a batch at a time; how many. Raises RefusedError, UnreachableError."""
        ...


@dataclass(frozen=True)
class Office:
    """Everything an action works with: the records, the clock, and the folder for files that are not posted yet.

    free: bytes of room that the disk of a folder has left.
    """

    books: Books
    now: Callable[[], datetime]
    staging: Path
    inbox: Path
    other_database: OtherDatabase
    person: str = ""
    free: Callable[[Path], int] = lambda folder: shutil.disk_usage(folder).free
    large_answers: LargeAnswers = field(default_factory=LargeAnswers)
