"""What actions and the store exchange."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import date, datetime
from zoneinfo import ZoneInfo

from lofty_abacus.core.calendar.settings import CalendarSettings
from lofty_abacus.core.windows.as_of import AsOfPolicy, LastPostedDay
from lofty_abacus.ingest.mapping import Mapping
from lofty_abacus.ingest.staged import StagedLines, StagedLookup

#: Called with what is being done, and how many lines of how many are done (0 of 0: not known).
Progress = Callable[[str, int, int], None]


@dataclass(frozen=True)
class NewLedger:
    """What a ledger is made from. time_zone: an IANA name; the ledger's zone decides which day it is."""

    name: str
    currency: str = "EUR"
    time_zone: str = "UTC"
    calendar: CalendarSettings = CalendarSettings()
    as_of: AsOfPolicy = LastPostedDay()


@dataclass(frozen=True)
class LedgerRecord:
    """A ledger as stored."""

    id: int
    name: str
    currency: str
    time_zone: str
    as_of: AsOfPolicy
    version: int

    def today(self, now: datetime) -> date:
        """The civil day in the ledger's zone."""
        return now.astimezone(ZoneInfo(self.time_zone)).date()


@dataclass(frozen=True)
class BatchRecord:
    """A posted file. amount: net total as decimal text. active: whether it counts in the current version."""

    id: int
    feed: str
    kind: str
    file: str
    file_hash: str
    posted_at: datetime
    version: int
    lines: int
    left_out: int
    amount: str
    first_day: date | None
    last_day: date | None
    active: bool


@dataclass(frozen=True)
class PostedMonth:
    """What a feed has posted in one month (2026-03); amount: net total; hole: whether it is declared not posted."""

    feed: str
    month: str
    lines: int
    amount: str
    hole: bool


@dataclass(frozen=True)
class KeptMapping:
    """A mapping and the shape of the files that it is for."""

    shape: str
    mapping: Mapping


@dataclass(frozen=True)
class PostedFile:
    """A staged file with what identifies its content."""

    staged: StagedLines | StagedLookup
    shape: str
    file_hash: str


@dataclass(frozen=True)
class Posting:
    """What a posting made: the new version, its batches, lines and net total (decimal text at the ledger's scale)."""

    version: int
    batches: tuple[int, ...]
    lines: int
    amount: str


@dataclass(frozen=True)
class ReadLine:
    """A posted line as its file gave it: members by dimension name, numbers as decimal text."""

    id: int
    day: date
    side: str
    amount: str
    quantity: str | None
    cost: str | None
    line_ref: str | None
    file: str
    row: int
    batch: int
    members: dict[str, str]


@dataclass(frozen=True)
class CodeFilter:
    """A filter by the codes that lines hold themselves (a level's filter is written as codes of its dimension)."""

    dimension: str
    codes: frozenset[int]


@dataclass(frozen=True)
class AddedUp:
    """What the database itself adds up for some days: per side (sale, return) lines, amount, quantity, cost; ids by role."""

    lines: dict[str, int]
    amount: dict[str, str]
    quantity: dict[str, str]
    cost: dict[str, str]
    distinct: dict[str, int]
