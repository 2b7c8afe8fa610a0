"""Files and lines on their way into the record, and as they stand there."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, field
from datetime import date, datetime
from typing import Literal

from lofty_abacus.ingest.mapping import FileMapping
from lofty_abacus.ingest.staged import StagedLines, StagedLookup

#: Called with what is being done, and how many lines of how many are done (0 of 0: not known).
Progress = Callable[[str, int, int], None]
#: Dimensions and levels that a ledger can have.
MOST_DIMENSIONS = 200
#: Figures and days of its own that a ledger can have: the database has room for about a thousand columns of a line in all.
MOST_OWN_COLUMNS = 200


def too_many_own(count: int) -> str:
    """What is said where a ledger would have more of them."""
    return f"The ledger would have {count} figures and days of its own; it can have {MOST_OWN_COLUMNS}: leave some columns out."


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
class PostedFile:
    """A file as it is posted: a lookup, or pieces of lines, which are read again while they are posted.

    The last pieces come once a check has nothing against any of them; what they raise ends the posting, with nothing posted.
    shape: of its headings. line_count: about how many lines there are. amount_scale, quantity_scale: the decimals it needs;
    scales: those of figures of the ledger's own, by name.
    """

    name: str
    mapping: FileMapping
    shape: str
    file_hash: str
    line_count: int = 0
    amount_scale: int = 0
    quantity_scale: int = 0
    lookup: StagedLookup | None = None
    pieces: Callable[[], Iterator[StagedLines]] | None = None
    reason: str = ""
    scales: Mapping[str, int] = field(default_factory=dict)


@dataclass(frozen=True)
class Replacement:
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
    members: Mapping[str, str] = field(default_factory=dict)


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
    """A posted line as its file gave it: members by dimension name, keys of the line's own dimensions, numbers as text.

    figures, days: those of the ledger's own, by name.
    """

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
    figures: dict[str, str | None] = field(default_factory=dict)
    days: dict[str, date | None] = field(default_factory=dict)
