"""From a checked statement to windows, filters by code, and the quantities to be read."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import date
from functools import cached_property

from lofty_abacus.core.comparing.comparisons import SHARES
from lofty_abacus.core.days import day_number
from lofty_abacus.core.errors import QuestionError, nearest
from lofty_abacus.core.grouping.request import LinesReading, MemberFilter, Source
from lofty_abacus.core.measures.sums import DistinctIds, LineSum, Quantity, Side
from lofty_abacus.core.measures.table import MEASURES, Measure
from lofty_abacus.core.measures.value import given_counts
from lofty_abacus.core.statement.checking import check_statement
from lofty_abacus.core.statement.ledger import LedgerFacts
from lofty_abacus.core.statement.statement import CountedFilter, Show, Statement
from lofty_abacus.core.windows.as_of import as_of_day
from lofty_abacus.core.windows.bases import BaseWindow, base_window
from lofty_abacus.core.windows.coverage import Coverage, coverage_of
from lofty_abacus.core.windows.current import current_window
from lofty_abacus.core.windows.window import Window


@dataclass(frozen=True)
class ColumnPlan:
    """A column before it has cells: which measure, kind and window."""

    measure: Measure
    kind: str
    window: int

    @property
    def id(self) -> str:
        """Its name in sort orders, addresses and proof: measure.window.kind."""
        return f"{self.measure.name}.{self.window}.{self.kind}"


@dataclass(frozen=True)
class Resolved:
    """A statement made definite for one ledger version and one today. source: the lines, read as the statement says."""

    statement: Statement
    ledger: LedgerFacts
    source: Source
    as_of: date
    today: date
    coverage: Coverage
    current: Window
    bases: tuple[BaseWindow, ...]
    filters: tuple[MemberFilter, ...]
    columns: tuple[ColumnPlan, ...]
    quantities: frozenset[Quantity]

    @cached_property
    def windows(self) -> tuple[Window, ...]:
        """The current window and the bases, in order."""
        return (self.current, *(base.window for base in self.bases))

    def quantities_of(self, measure: Measure) -> frozenset[Quantity]:
        """What must be read to evaluate one measure."""
        return _quantities([measure])


def resolve(statement: Statement, ledger: LedgerFacts, source: Source, today: date) -> Resolved:
    """Check a statement and make it definite. Raises QuestionError."""
    check_statement(statement, ledger)
    measures = [MEASURES[shown.measure] for shown in statement.measures]
    coverage = coverage_of(ledger.feeds, _sides(measures))
    as_of = as_of_day(statement.as_of, coverage, today, ledger.line_grain, ledger.calendar)
    source = source.reading(LinesReading(day_number(as_of), statement.levels, statement.returns, statement.refunds))
    current = current_window(statement.window, as_of, coverage, ledger.calendar)
    bases = tuple(base_window(base, statement.window, current, as_of, coverage, ledger.calendar) for base in statement.bases)
    filters = tuple(_filter(each, f"filters[{at}]", source) for at, each in enumerate(statement.filters))
    columns = _columns(statement)
    if statement.sort and statement.sort.column not in {column.id for column in columns}:
        raise QuestionError(
            "sort", f"no column is {statement.sort.column!r}.", nearest(statement.sort.column, [c.id for c in columns])
        )
    return Resolved(statement, ledger, source, as_of, today, coverage, current, bases, filters, columns, _quantities(measures))


def _sides(measures: list[Measure]) -> frozenset[str]:
    """Which lines the measures read: sale lines, return lines or both; distinct counts read sale lines."""
    sides: set[str] = set()
    for quantity in (each for measure in measures for each in measure.quantities):
        side = quantity.side if isinstance(quantity, LineSum) else "sale"
        sides |= {"sale", "return"} if side == "all" else {side}
    return frozenset(sides)


def _filter(each: CountedFilter, part: str, source: Source) -> MemberFilter:
    members = source.members(each.dimension)
    for key in each.members:
        if key not in members.codes:
            known = [str(name) for name in members.codes if name]
            raise QuestionError(part, f"{each.dimension} has no member {key!r}.", nearest(str(key), known))
    named = frozenset(members.codes[key] for key in each.members)
    return MemberFilter(each.dimension, frozenset(range(members.size)) - named if each.exclude else named)


def _columns(statement: Statement) -> tuple[ColumnPlan, ...]:
    """Per measure: the current value, its shares, then per base its value and the comparisons with it."""
    columns: list[ColumnPlan] = []
    for shown in statement.measures:
        measure = MEASURES[shown.measure]
        columns.append(ColumnPlan(measure, "value", 0))
        compared: list[Show] = [name for name in shown.show if name not in SHARES]
        for window in range(1, len(statement.bases) + 1):
            columns.append(ColumnPlan(measure, "value", window))
            columns.extend(ColumnPlan(measure, name, window) for name in compared)
        columns.extend(ColumnPlan(measure, name, 0) for name in shown.show if name in SHARES)
    return tuple(columns)


def _quantities(measures: list[Measure]) -> frozenset[Quantity]:
    """All that is read: proof shows an all-lines sum as its sales less its returns, so both sides are kept."""
    read: set[Quantity] = set()
    for measure in measures:
        for each in measure.quantities:
            sides: tuple[Side, ...] = ("all", "sale", "return")
            read.update([each] if isinstance(each, DistinctIds) else [replace(each, side=side) for side in sides])
        for pair in given_counts(measure):
            read.update(pair)
    return frozenset(read | {LineSum("amount", "all"), LineSum("lines", "all"), LineSum("lines", "sale")})
