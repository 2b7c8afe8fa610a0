"""Evidence as frozen data; its JSON form is these names."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

from lofty_abacus.core.answer.answer import AnsweredColumn, Cell
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
    """A few days of a window for the picture over time: its days and, for additive measures, the figure that falls in it."""

    first: date
    last: date
    value: str | None


@dataclass(frozen=True)
class DayFigure:
    """A day of a window: the figure that falls on it, and whether it is counted (in coverage, not after the as-of date)."""

    day: date
    value: str | None
    counted: bool


@dataclass(frozen=True)
class Operand:
    """One value that the number is made of: whose, in which window, from how many lines, of which days.

    about: 'current', 'base', 'scope' (what a share is a part of) or 'base_scope'. path: member keys of its dimensions.
    divisor: the periods of a moving mean. ledger: the other ledger that the lines are posted in, of a plan.
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
    """The evidence for one cell. The result is made of the operands by the column's kind (a difference is first - second)."""

    column: AnsweredColumn
    path: tuple[str | None, ...]
    labels: tuple[str, ...]
    result: Cell
    operands: tuple[Operand, ...]
    month_end_rule_matters: bool
    facts: tuple[Fact, ...] = ()
