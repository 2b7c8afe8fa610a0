"""The answer as frozen data; its JSON form is these names (docs/formats.md). Numbers travel as decimal text (section 2)."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from fractions import Fraction
from typing import Literal, TypeVar, dataclass_transform

import numpy as np

from lofty_abacus.core.answer.kinds import ColumnKind
from lofty_abacus.core.comparing.status import Status
from lofty_abacus.core.measures.exacts import REASONS, Exacts, Value
from lofty_abacus.core.measures.table import Kind, Polarity, Unit
from lofty_abacus.core.money import decimal_text, ratio_of
from lofty_abacus.core.statement.statement import ShareScope
from lofty_abacus.core.windows.fairness import Fairness
from lofty_abacus.core.windows.ranges import DayRange
from lofty_abacus.core.windows.reasons import Reason

_Made = TypeVar("_Made")


@dataclass_transform(frozen_default=True)
def _of_many(made: type[_Made]) -> type[_Made]:
    """Frozen to whoever writes code, as mypy sees it, but not while it runs: an answer may have 50,000 of them, and a frozen one
    takes four times as long to make.
    """
    return dataclass(slots=True, unsafe_hash=True)(made)


@_of_many
class Cell:
    """A value as text, or null with its reason. A ratio has 15 significant digits and its exact numerator and denominator.

    met, decimals, target: of a goal, whether it is met, with how many decimals its percentage is shown, and its target. shown: of
    a share that is rounded with its siblings, the percentage to be shown. of: of a moving figure that took as many periods as
    there are, how many.
    """

    value: str | None
    numerator: str | None = None
    denominator: str | None = None
    reason: Reason | None = None
    met: bool | None = None
    decimals: int | None = None
    shown: str | None = None
    of: int | None = None
    target: str | None = None


@dataclass(frozen=True)
class Posted:
    """How much of a window is posted, in the periods by which that is told: 11 of 12 months."""

    posted: int
    asked: int
    grain: Literal["day", "month"]


@dataclass(frozen=True)
class AnsweredColumn:
    """One column. `window` 0 is the current one, k the k-th base; for comparisons, the base compared with.

    unit 'points' is percentage points: the exact fraction times 100 is shown. parts_overlap: shares of a distinct count.
    along: what its figures run along. step: of a bridge or of price, volume and mix. across: keys of where it stands across.
    """

    id: str
    measure: str
    kind: ColumnKind
    window: int
    unit: Unit | Literal["points"]
    decimals: int
    polarity: Polarity
    measure_kind: Kind
    parts_overlap: bool = False
    name: str = ""
    along: str = ""
    scope: ShareScope | None = None
    step: str = ""
    across: tuple[str | None, ...] = ()
    across_labels: tuple[str, ...] = ()


@dataclass(frozen=True)
class Bead:
    """A period on a rod: its days, and how many of them count in the window.

    value: the first measure's total there, if it is additive. quiet_days: counted days on which no line at all is posted.
    late_lines: posted lines on its days after the as-of date.
    """

    key: str
    first: date
    last: date
    days: int
    counted_days: int
    value: str | None
    quiet_days: int = 0
    late_lines: int = 0


@dataclass(frozen=True)
class AnsweredWindow:
    """A window with all that is to be said of it. For the current window `fairness` is null. key: the period's sortable name.

    posted: of a window that is posted for a part only, for how much of it.
    """

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
    without_holidays: bool = False
    is_current: bool = False
    posted: Posted | None = None


@dataclass(frozen=True)
class AnsweredPeriod:
    """A period of a series: its keys down and across, and its windows, current and bases, without beads."""

    down: tuple[str, ...]
    across: tuple[str, ...]
    windows: tuple[AnsweredWindow, ...]


@dataclass(frozen=True)
class GoalsMet:
    """n of m: goals met, of those that can be told; the metrics of the others."""

    met: int
    defined: int
    undefined: tuple[str, ...]


@_of_many
class Row:
    """A row: its path of member and period keys (null: not mapped), what it is called, and a cell per column.

    rest: of the last row of a top list, how many others it stands for; its path is its parent's. slot: its period, a number in
    `periods`. In a partial answer the rows that are not filled have no cells, status and goals yet.
    """

    path: tuple[str | None, ...]
    label: str
    status: Status | None
    can_open: bool
    is_open: bool
    cells: tuple[Cell, ...]
    rest: int | None = None
    slot: int | None = 0
    goals: GoalsMet | None = None


NoticeCode = Literal[
    "returns_netted",
    "after_as_of",
    "after_today",
    "filtered_out",
    "undated",
    "blank_ids",
    "lacking",
    "feeds_end_apart",
    "partly_covered",
    "parts_overlap",
    "returns_unplaced",
    "returns_open",
    "returns_same_time",
    "levels_as_now",
    "status_left_out",
    "without_holidays",
    "only_in_plan",
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
    """The whole answer, computed on one ledger version. `total` covers all rows and is evaluated from the lines.

    periods: of a series, the whole range first. total_of_all: where rows of some status only are shown, the total of all.
    partial: whether only some of the rows have their cells; the others are asked for as they come into view.
    """

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
    periods: tuple[AnsweredPeriod, ...] = ()
    total_of_all: Row | None = None
    partial: bool = False


def cell_of(value: Value) -> Cell:
    """Write a value down as a cell."""
    return cells_of(Exacts.of([value]))[0]


def cells_of(values: Exacts) -> list[Cell]:
    """Write a column of values down as cells."""
    if len(values.decimals) and (scale := int(values.decimals[0])) >= 0 and _are_sums_of(values, scale):
        # Plain sums of one scale, as in most columns.
        return [Cell(decimal_text(top, scale)) for top in values.top.tolist()]
    reduced = np.gcd(values.top, values.bottom)
    found = []
    columns = (values.top, values.bottom, reduced, values.reason, values.decimals)
    for top, bottom, common, reason, decimals in zip(*(each.tolist() for each in columns), strict=True):
        if reason:
            found.append(_NONE[reason])
        elif decimals >= 0:
            found.append(Cell(decimal_text(top if bottom == _UNITS[decimals] else top * _UNITS[decimals] // bottom, decimals)))
        else:
            top, bottom = top // common, bottom // common
            found.append(Cell(ratio_of(top, bottom), str(top), str(bottom)))
    return found


def _are_sums_of(values: Exacts, scale: int) -> bool:
    """Whether every value is there and a sum in units of this scale."""
    same = (values.decimals == scale) & (values.bottom == _UNITS[scale])
    return bool(same.all()) and not values.reason.any()


_UNITS = tuple(10**decimals for decimals in range(128))
#: The cells of values that there are none of, by the code of their reason.
_NONE = (Cell(None), *(Cell(None, reason=reason) for reason in REASONS))


def sum_text(exact: Fraction, decimals: int) -> str:
    """An exact sum with all its decimals."""
    minor, rest = divmod(exact.numerator * 10**decimals, exact.denominator)
    assert rest == 0, "a sum has no more decimals than its scale"
    return decimal_text(minor, decimals)
