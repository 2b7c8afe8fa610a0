"""Evidence as frozen data; its JSON form is these names."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

from lofty_abacus.core.answer.answer import AnsweredColumn, Cell
from lofty_abacus.core.measures.table import Unit
from lofty_abacus.core.windows.ranges import DayRange
from lofty_abacus.core.windows.reasons import Reason


@dataclass(frozen=True)
class Term:
    """One part of a measure's value: a measure-like name, its sign in the formula, its figure, and whether it divides."""

    name: str
    sign: int
    value: str
    divides: bool = False
    reason: Reason | None = None


@dataclass(frozen=True)
class Stretch:
    """A few days of a window for the picture over time: its days and the figure that falls in it.

    Of an additive measure what its lines come to, of a distinct count the ids that are seen for the first time in the window:
    both add up to the figure. Of a derived measure its value there, which does not.
    """

    first: date
    last: date
    cell: Cell


@dataclass(frozen=True)
class DayColumn:
    """What is listed day by day of a figure: a measure or a part of one, as terms are named, and what its days add up to."""

    name: str
    sum: Cell


@dataclass(frozen=True)
class DayFigure:
    """A day of a window: what falls on it of each column, and whether it is counted (in coverage, not after the as-of date).

    so_far: the figure itself on the counted days up to and with this one; on the last day it is the figure.
    """

    day: date
    counted: bool
    cells: tuple[Cell, ...]
    so_far: Cell


@dataclass(frozen=True)
class OperandDays:
    """The window of one operand day by day.

    An additive measure is its only column. Of a distinct count the only column is the ids that are new on the day. A derived
    measure has a column for each sum and each number of ids that it is made of.
    """

    columns: tuple[DayColumn, ...]
    days: tuple[DayFigure, ...]


@dataclass(frozen=True)
class Operand:
    """One value that the number is made of: whose, in which window, from how many lines, of which days.

    about: 'current', 'base', 'scope' (what a share is a part of), 'base_scope', or 'so_far' (a list's rows down to this one).
    path: member keys of its dimensions. divisor: the periods of a moving mean. ledger: the other ledger that the lines are
    posted in, of a plan.
    """

    about: str
    window: int
    path: tuple[str | None, ...]
    cell: Cell
    terms: tuple[Term, ...]
    days: tuple[DayRange, ...]
    counted_days: int
    lines: int
    sale_lines: int
    return_lines: int
    lines_left_out: int
    first_line_day: date | None
    last_line_day: date | None
    reason: Reason | None
    stretches: tuple[Stretch, ...]
    dimensions: tuple[str, ...] = ()
    divisor: int = 1
    ledger: str = ""


@dataclass(frozen=True)
class Fact:
    """Something else that a number rests on: how many stand in its list, a step of the change, a goal's target."""

    name: str
    value: str
    reason: Reason | None = None


@dataclass(frozen=True)
class Proof:
    """The evidence for one cell. The result is made of the operands by the column's kind (a difference is first - second).

    unit: of the operands, which is the measure's own.
    """

    column: AnsweredColumn
    path: tuple[str | None, ...]
    labels: tuple[str, ...]
    result: Cell
    operands: tuple[Operand, ...]
    month_end_rule_matters: bool
    unit: Unit
    facts: tuple[Fact, ...] = ()
