"""Totals of any rows, added up when they are first asked for: the one evaluation that table, order, shares and proof all read."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Sequence
from dataclasses import dataclass, replace
from fractions import Fraction
from functools import cached_property
from typing import Any

from numpy.typing import NDArray

from lofty_abacus.core.answer.columns import Metric
from lofty_abacus.core.answer.resolve import Plan, Resolved
from lofty_abacus.core.comparing.status import Status, status_of
from lofty_abacus.core.grouping.request import LevelTotals, PathFilter, TotalsRequest
from lofty_abacus.core.measures.sums import LineSum, Quantity
from lofty_abacus.core.measures.table import Measure
from lofty_abacus.core.measures.value import Value, evaluate, quantities_read, undefined
from lofty_abacus.core.patience import heed
from lofty_abacus.core.windows.stretches import StretchWindow

_LINES, _SALE_LINES = LineSum("lines", "all"), LineSum("lines", "sale")


@dataclass(frozen=True)
class Spot:
    """What lines a figure covers: those of a member of each of some dimensions. codes: its code in each."""

    dimensions: tuple[str, ...] = ()
    codes: tuple[int, ...] = ()

    def and_(self, dimensions: tuple[str, ...], codes: tuple[int, ...]) -> Spot:
        """The lines that are also of these members."""
        return Spot(self.dimensions + dimensions, self.codes + codes)

    def upto(self, depth: int) -> Spot:
        """The spot of the first so many dimensions."""
        return Spot(self.dimensions[:depth], self.codes[:depth])


TOTAL = Spot()


class Table:
    """Totals by some dimensions, with their cells found by code."""

    def __init__(self, totals: LevelTotals) -> None:
        self.totals = totals

    @cached_property
    def paths(self) -> list[tuple[int, ...]]:
        """The codes of each cell, ascending."""
        return [tuple(path) for path in self.totals.codes.tolist()] or ([()] if self.totals.codes.shape[1] == 0 else [])

    @cached_property
    def cell_of(self) -> dict[tuple[int, ...], int]:
        """Cells by their codes."""
        return {path: cell for cell, path in enumerate(self.paths)}

    def under(self, codes: tuple[int, ...]) -> range:
        """The cells whose codes begin with these: neighbours, since cells are in order of code."""
        if not codes:
            return range(len(self.totals.codes))
        return range(bisect_left(self.paths, codes), bisect_left(self.paths, (*codes[:-1], codes[-1] + 1)))


class Evaluation:
    """A statement's figures. kept: filters of paths that narrow it further (a status limit, the rest of a list).

    stretches: its windows, where they are not those of the statement itself.
    """

    def __init__(
        self, resolved: Resolved, kept: tuple[PathFilter, ...] = (), stretches: tuple[StretchWindow, ...] | None = None
    ) -> None:
        self.resolved = resolved
        self.stretches = resolved.stretches if stretches is None else stretches
        self.kept = kept
        self._tables: dict[tuple[str, ...], Table] = {}
        self._known: dict[tuple[Measure, int, tuple[str, ...]], dict[int, Value]] = {}
        self._nothing: dict[Measure, Value] = {}
        self._plans: dict[str, Evaluation] = {}

    def table(self, dimensions: tuple[str, ...]) -> Table:
        """Totals by some dimensions. One request gives every level above it, too."""
        if dimensions not in self._tables:
            heed()
            resolved = self.resolved
            request = TotalsRequest(
                tuple(each.window.counted for each in self.stretches),
                dimensions,
                (*resolved.filters, *self.kept),
                resolved.quantities,
                tuple(resolved.known_by(at) for at in range(len(self.stretches))),
            )
            for depth, totals in enumerate(resolved.source.totals(request)):
                self._tables.setdefault(dimensions[:depth], Table(totals))
        return self._tables[dimensions]

    def quantity(self, spot: Spot, quantity: Quantity, window: int) -> int:
        """A quantity's integer at a spot and window; 0 where it has no line."""
        table = self.table(spot.dimensions)
        cell = table.cell_of.get(spot.codes)
        return 0 if cell is None else int(table.totals.values[quantity][window, cell])

    def value(self, spot: Spot, measure: Measure, window: int) -> Value:
        """A measure's value at a spot and window; undefined with the window's reason. A moving mean is divided."""
        stretch = self.stretches[window]
        if stretch.window.reason is not None:
            return undefined(stretch.window.reason)
        plan = self.resolved.plan_of(window)
        if plan is not None:
            return self._planned(plan, spot, measure, window)
        cell = self.table(spot.dimensions).cell_of.get(spot.codes)
        found = self._of_nothing(measure) if cell is None else self._value_at(measure, window, spot.dimensions, cell)
        if stretch.divisor == 1 or found.exact is None:
            return found
        return Value(found.exact / stretch.divisor)

    def planned_spot(self, plan: Plan, spot: Spot) -> Spot | None:
        """The same members in another ledger's codes; None where it does not know one."""
        codes = []
        for name, code in zip(spot.dimensions, spot.codes, strict=True):
            there = plan.source.members(name).codes.get(self.resolved.source.members(name).key(code))
            if there is None:
                return None
            codes.append(there)
        return Spot(spot.dimensions, tuple(codes))

    def in_plan(self, plan: Plan) -> Evaluation:
        """The same statement added up in another ledger."""
        if plan.ledger.name not in self._plans:
            resolved = replace(self.resolved, ledger=plan.ledger, source=plan.source, filters=plan.filters, plans={})
            self._plans[plan.ledger.name] = PlanEvaluation(resolved, self._kept_in(plan), self.stretches)
        return self._plans[plan.ledger.name]

    def _kept_in(self, plan: Plan) -> tuple[PathFilter, ...]:
        found = []
        for kept in self.kept:
            spots = [self.planned_spot(plan, Spot(kept.rows, codes)) for codes in kept.codes]
            found.append(PathFilter(kept.rows, frozenset(spot.codes for spot in spots if spot is not None)))
        return tuple(found)

    def _planned(self, plan: Plan, spot: Spot, measure: Measure, window: int) -> Value:
        """A plan's value; members without a plan are undefined (section 11)."""
        there, evaluation = self.planned_spot(plan, spot), self.in_plan(plan)
        if there is None or not evaluation.quantity(there, _LINES, window):
            return undefined("not_given")
        return evaluation.value(there, measure, window)

    def of_metric(self, spot: Spot, metric: Metric, slot: int, window: int) -> Value:
        """A metric's value at a spot and slot, in its current window (0) or a base's."""
        return self.value(spot, metric.measure, self.resolved.window_at(slot, metric.along, window))

    def status(self, spot: Spot, slot: int = 0, base: int = 1) -> Status | None:
        """Kept, new, lost or returns only, by sale lines against a base; None without one."""
        windows = self.resolved.slots[slot].windows
        if len(windows) <= base or windows[0].reason or self.resolved.plan_of(base) is not None:
            return None
        first = self.resolved.window_at(slot, 0, 0)
        against = None if windows[base].reason else self.quantity(spot, _SALE_LINES, first + base)
        return status_of(self.quantity(spot, _SALE_LINES, first), against)

    def members_at(self, spot: Spot, dimension: str, windows: Sequence[int] | None = None) -> list[int]:
        """Codes of a dimension's members that have a line at a spot in any of some windows (in any at all), ascending."""
        own = self._lined_at(spot, dimension, windows)
        planned = [code for plan in self.resolved.plans.values() for code in self._planned_at(plan, spot, dimension, windows)]
        return sorted({*own, *planned}) if planned else own

    def _planned_at(self, plan: Plan, spot: Spot, dimension: str, windows: Sequence[int] | None) -> list[int]:
        """Codes of the members that a plan has lines of in its own windows, of those that this ledger knows."""
        there = self.planned_spot(plan, spot)
        if there is None:
            return []
        every = range(len(self.stretches)) if windows is None else windows
        mine = [window for window in every if self.resolved.plan_of(window) is plan]
        keys, codes = plan.source.members(dimension), self.resolved.source.members(dimension).codes
        found = (keys.key(code) for code in self.in_plan(plan)._lined_at(there, dimension, mine))
        return [codes[key] for key in found if key in codes]

    def _lined_at(self, spot: Spot, dimension: str, windows: Sequence[int] | None) -> list[int]:
        table = self.table((*spot.dimensions, dimension))
        cells = table.under(spot.codes)
        codes: NDArray[Any] = table.totals.codes[cells.start : cells.stop, -1]
        if windows is not None and cells:
            lines: NDArray[Any] = table.totals.values[_LINES][list(windows)][:, cells.start : cells.stop]
            codes = codes[(lines != 0).any(axis=0)]
        return [int(code) for code in codes.tolist()]

    def _value_at(self, measure: Measure, window: int, dimensions: tuple[str, ...], cell: int) -> Value:
        """A measure's value at a cell of a table, computed once and only if it is asked for: comparisons, shares and order all
        come back to it, and of a long table only the rows that are seen are ever asked for."""
        key = (measure, window, dimensions)
        known = self._known.get(key)
        if known is None:
            known = self._known[key] = {}
        value = known.get(cell)
        if value is None:
            totals = self.table(dimensions).totals
            value = known[cell] = evaluate(
                measure, totals.integers(quantities_read(measure), window, cell), self.resolved.ledger.scales
            )
        return value

    def _of_nothing(self, measure: Measure) -> Value:
        """A measure's value where there is no line."""
        if measure not in self._nothing:
            zeros = [0] * len(quantities_read(measure))
            self._nothing[measure] = evaluate(measure, zeros, self.resolved.ledger.scales)
        return self._nothing[measure]


class PlanEvaluation(Evaluation):
    """Figures of another ledger: its windows are its own, whatever base they are of the first ledger's statement."""

    def value(self, spot: Spot, measure: Measure, window: int) -> Value:
        """A measure's value there."""
        cell = self.table(spot.dimensions).cell_of.get(spot.codes)
        found = self._of_nothing(measure) if cell is None else self._value_at(measure, window, spot.dimensions, cell)
        divisor = self.stretches[window].divisor
        return found if divisor == 1 or found.exact is None else Value(found.exact / divisor)


def counted(number: int) -> Value:
    """A whole number as a value."""
    return Value(Fraction(number), None, 0)
