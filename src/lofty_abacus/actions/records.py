"""What actions and the store exchange."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from collections.abc import Mapping as Map
from dataclasses import dataclass, field
from datetime import date, datetime
from typing import Literal
from zoneinfo import ZoneInfo

from lofty_abacus.core.calendar.settings import CalendarSettings
from lofty_abacus.core.measures.sums import Quantity
from lofty_abacus.core.statement.statement import Opened, Statement
from lofty_abacus.core.windows.as_of import AsOfPolicy, LastPostedDay
from lofty_abacus.export.layout import Layout
from lofty_abacus.ingest.mapping import LineGrain, Mapping
from lofty_abacus.ingest.staged import StagedLines, StagedLookup

#: Called with what is being done, and how many lines of how many are done (0 of 0: not known).
Progress = Callable[[str, int, int], None]
#: Dimensions and levels that a ledger can have.
MOST_DIMENSIONS = 200


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

    amount_decimals, quantity_decimals: the ledger's scale, which can only grow.
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
    """What a ledger holds, in numbers: lines that count, posted files, versions, kept statements and mappings."""

    lines: int
    files: int
    versions: int
    statements: int
    mappings: int


@dataclass(frozen=True)
class BatchRecord:
    """A posted file, or a correction of a line.

    amount: net total as decimal text. active: whether it counts in the current version.
    posted_by: who posted it. reason: of a correction.
    """

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
    posted_by: str = ""
    reason: str = ""


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
    """A checked file as it is posted: a lookup, or pieces of lines, which are read again while they are posted.

    shape: of its headings. line_count: how many lines the check found. amount_scale, quantity_scale: the decimals it needs.
    """

    name: str
    mapping: Mapping
    shape: str
    file_hash: str
    line_count: int = 0
    amount_scale: int = 0
    quantity_scale: int = 0
    lookup: StagedLookup | None = None
    pieces: Callable[[], Iterator[StagedLines]] | None = None
    reason: str = ""


@dataclass(frozen=True)
class Placing:
    """How files are placed beside what is posted.

    Nothing named: appended. replaces: batches that go out. first_day, last_day: a stretch of days whose lines of the same
    feeds go out, whatever batch they came with.
    """

    replaces: tuple[int, ...] = ()
    first_day: date | None = None
    last_day: date | None = None


@dataclass(frozen=True)
class LineChange:
    """What is changed of a posted line; null: as it was. Numbers as decimal text, "" for none. members: keys by dimension."""

    day: date | None = None
    side: Literal["sale", "return"] | None = None
    amount: str | None = None
    quantity: str | None = None
    cost: str | None = None
    members: Map[str, str] = field(default_factory=dict)


@dataclass(frozen=True)
class MonthHeld:
    """Lines and net total (decimal text) of one month (2026-03)."""

    month: str
    lines: int
    amount: str


@dataclass(frozen=True)
class OrderSold:
    """What an order sold (of one product, or of all.

    ""): its first day and net amount of sale lines, and what came back so far.
    """

    order: str
    product: str
    first_day: date
    sold: str
    returned: str


@dataclass(frozen=True)
class Posting:
    """What a posting made: the new version, its batches, lines and net total (decimal text at the ledger's scale)."""

    version: int
    batches: tuple[int, ...]
    lines: int
    amount: str


@dataclass(frozen=True)
class GivenAmount:
    """What a line was given as in another currency, and at what rate it was taken; numbers as decimal text."""

    amount: str
    currency: str
    rate: str


@dataclass(frozen=True)
class ReadLine:
    """A posted line as its file gave it: members by dimension name, keys of the line's own dimensions, numbers as text."""

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
    keys: dict[str, str]
    given: GivenAmount | None = None


@dataclass(frozen=True)
class EarlierStatement:
    """What a saved statement was before it was saved again."""

    statement: Statement
    opened: Opened
    layout: Layout
    saved_by: str
    saved_at: datetime


@dataclass(frozen=True)
class SavedStatement:
    """A statement under a name, with the rows that are open; saved_at: None of one that is offered, not saved.

    earlier: what was kept under the name before, the latest first. id: its number, which stays when the name changes; 0: none.
    """

    name: str
    statement: Statement
    opened: Opened = Opened()
    folder: str = ""
    description: str = ""
    layout: Layout = field(default_factory=Layout)
    saved_by: str = ""
    saved_at: datetime | None = None
    earlier: tuple[EarlierStatement, ...] = ()
    id: int = 0


@dataclass(frozen=True)
class CodeFilter:
    """A filter by member codes of a dimension or a level.

    At: the day (all lines read levels as of it), null: each on its own day.
    """

    dimension: str
    codes: frozenset[int]
    at: date | None = None


@dataclass(frozen=True)
class AddedUp:
    """What the database itself adds up for some days: how many lines there are, and each quantity asked for, as decimal text."""

    lines: int
    values: Map[Quantity, str]
