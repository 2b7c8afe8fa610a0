"""Ledgers as the record has them: how they are counted, what they hold, their versions."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime
from zoneinfo import ZoneInfo

from lofty_abacus.core.calendar.settings import CalendarSettings
from lofty_abacus.core.windows.as_of import AsOfPolicy, LastPostedDay
from lofty_abacus.ingest.mapping import LineGrain


@dataclass(frozen=True)
class NewLedger:
    """What a ledger is made from. time_zone: an IANA name; the ledger's zone decides which day it is."""

    name: str
    currency: str = "EUR"
    time_zone: str = "UTC"
    calendar: CalendarSettings = CalendarSettings()
    as_of: AsOfPolicy = LastPostedDay()
    line_grain: LineGrain = "day"


@dataclass(frozen=True)
class FeedDeclared:
    """Between which days a feed is declared complete; null: by its lines."""

    feed: str
    covers_from: date | None = None
    covers_through: date | None = None


@dataclass(frozen=True)
class Described:
    """What a dimension, or 'amount', 'quantity', 'cost', means in a ledger."""

    name: str
    text: str


@dataclass(frozen=True)
class LedgerSettings:
    """What a ledger is counted by. line_grain: what its lines stand for, days or whole weeks or months.

    amount_decimals, quantity_decimals: the ledger's scale, which can only grow. usual_day: by which of the lines' days a new
    statement counts; '' for the one that they are posted with.
    """

    name: str
    currency: str
    time_zone: str
    calendar: CalendarSettings
    as_of: AsOfPolicy
    line_grain: LineGrain
    amount_decimals: int
    quantity_decimals: int
    coverage: tuple[FeedDeclared, ...] = ()
    descriptions: tuple[Described, ...] = ()
    usual_day: str = ""


@dataclass(frozen=True)
class VersionRecord:
    """A version of a ledger: when, by whom and how it was made, and what it holds. amount: net total as decimal text."""

    version: int
    made_at: datetime
    made_by: str
    what: str
    lines: int
    amount: str


@dataclass(frozen=True)
class VersionPart:
    """What one of the batches that came with a version did: posted a.csv, replaced a.csv by b.csv."""

    batch: int
    what: str


@dataclass(frozen=True)
class LedgerRecord:
    """A ledger as stored."""

    id: int
    name: str
    currency: str
    time_zone: str
    as_of: AsOfPolicy
    version: int
    line_grain: LineGrain = "day"
    archived_at: datetime | None = None
    archived_by: str = ""

    def today(self, now: datetime) -> date:
        """The civil day in the ledger's zone."""
        return now.astimezone(ZoneInfo(self.time_zone)).date()


@dataclass(frozen=True)
class LedgerHoldings:
    """What a ledger holds, in numbers: lines that count, posted files, versions, kept statements and mappings, briefs, issues.

    alerts: those that are true now.
    """

    lines: int
    files: int
    versions: int
    statements: int
    mappings: int
    briefs: int = 0
    issues: int = 0
    alerts: int = 0
