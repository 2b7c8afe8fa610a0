"""The answer as frozen data; its JSON form is these names (docs/formats.md). Numbers travel as decimal text (section 2)."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from fractions import Fraction
from typing import Literal

from lofty_abacus.core.comparing.status import Status
from lofty_abacus.core.measures.table import Kind, Polarity, Unit
from lofty_abacus.core.measures.value import Value
from lofty_abacus.core.money import decimal_text, ratio_text
from lofty_abacus.core.statement.statement import Show
from lofty_abacus.core.windows.fairness import Fairness
from lofty_abacus.core.windows.ranges import DayRange
from lofty_abacus.core.windows.reasons import Reason


@dataclass(frozen=True)
class Cell:
    """A value as text, or null with its reason. A ratio has 15 significant digits and its exact numerator and denominator."""

    value: str | None
    numerator: str | None = None
    denominator: str | None = None
    reason: Reason | None = None


@dataclass(frozen=True)
class AnsweredColumn:
    """One column. `window` 0 is the current one, k the k-th base; for comparisons, the base compared with.

    unit 'points' is percentage points: the exact fraction times 100 is shown. parts_overlap: shares of a distinct count.
    """

    id: str
    measure: str
    kind: Literal["value"] | Show
    window: int
    unit: Unit | Literal["points"]
    decimals: int
    polarity: Polarity
    measure_kind: Kind
    parts_overlap: bool = False


@dataclass(frozen=True)
class Bead:
    """A period on a rod: its days, and how many of them count in the window.

    value: the first measure's total there, if it is additive.
    """

    key: str
    first: date
    last: date
    days: int
    counted_days: int
    value: str | None


@dataclass(frozen=True)
class AnsweredWindow:
    """A window with all that is to be said of it. For the current window `fairness` is null. key: the period's sortable name."""

    key: str | None
    asked: DayRange | None
    period: DayRange | None
    counted: tuple[DayRange, ...]
    counted_days: int
    partly_covered: bool
    reason: Reason | None
    fairness: Fairness | None
    overlaps: bool
    month_end_rule_matters: bool
    beads: tuple[Bead, ...]


@dataclass(frozen=True)
class Row:
    """A row: its path of member keys (null: not mapped), what it is called, and a cell per column."""

    path: tuple[str | None, ...]
    label: str
    status: Status | None
    can_open: bool
    is_open: bool
    cells: tuple[Cell, ...]


NoticeCode = Literal[
    "returns_netted",
    "after_as_of",
    "after_today",
    "filtered_out",
    "blank_ids",
    "lacking",
    "feeds_end_apart",
    "partly_covered",
    "parts_overlap",
    "returns_unplaced",
    "returns_open",
    "levels_as_now",
]


@dataclass(frozen=True)
class Notice:
    """Something left out or to be known: how many lines, what net amount; about: the measure, feed or role it concerns."""

    code: NoticeCode
    lines: int = 0
    amount: str | None = None
    about: str = ""
    window: int = 0


@dataclass(frozen=True)
class Answer:
    """The whole answer, computed on one ledger version. `total` covers all rows and is evaluated from the lines."""

    ledger: str
    version: int
    currency: str
    amount_decimals: int
    as_of: date
    today: date
    windows: tuple[AnsweredWindow, ...]
    columns: tuple[AnsweredColumn, ...]
    rows: tuple[Row, ...]
    total: Row
    notices: tuple[Notice, ...]
    posted_lines: int
    posted_amount: str


def cell_of(value: Value) -> Cell:
    """Write a value down as a cell."""
    if value.exact is None:
        return Cell(None, reason=value.reason)
    if value.decimals is not None:
        return Cell(sum_text(value.exact, value.decimals))
    return Cell(ratio_text(value.exact), str(value.exact.numerator), str(value.exact.denominator))


def sum_text(exact: Fraction, decimals: int) -> str:
    """An exact sum with all its decimals."""
    minor = exact * 10**decimals
    assert minor.denominator == 1, "a sum has no more decimals than its scale"
    return decimal_text(minor.numerator, decimals)
