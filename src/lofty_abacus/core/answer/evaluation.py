"""Every value of an answer: the one evaluation that table, order, shares and proof all read."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from lofty_abacus.core.answer.resolve import ColumnPlan, Resolved
from lofty_abacus.core.comparing.comparisons import compare, share
from lofty_abacus.core.comparing.status import Status, status_of
from lofty_abacus.core.grouping.request import LevelTotals
from lofty_abacus.core.measures.sums import LineSum, Quantity
from lofty_abacus.core.measures.table import Measure
from lofty_abacus.core.measures.value import Value, evaluate, quantities_read, undefined


@dataclass(frozen=True)
class Spot:
    """A row of the answer: its depth (0 the total) and its cell number there; its parent's spot, None for the total."""

    depth: int
    cell: int
    parent: Spot | None = None


TOTAL = Spot(0, 0)


@dataclass(frozen=True)
class Evaluation:
    """Totals by level and what they amount to."""

    resolved: Resolved
    levels: Sequence[LevelTotals]

    def quantity(self, spot: Spot, quantity: Quantity, window: int) -> int:
        """A quantity's integer at a row and window."""
        return int(self.levels[spot.depth].values[quantity][window, spot.cell])

    def value(self, spot: Spot, measure: Measure, window: int) -> Value:
        """A measure's value at a row and window; undefined with the window's reason."""
        reason = self.resolved.windows[window].reason
        if reason is not None:
            return undefined(reason)
        return self._values(measure, window, spot.depth)[spot.cell]

    def column(self, spot: Spot, column: ColumnPlan) -> Value:
        """The value of any column at a row."""
        if column.kind == "value":
            return self.value(spot, column.measure, column.window)
        current = self.value(spot, column.measure, 0)
        if column.kind in ("share_of_all", "share_of_parent"):
            return share(current, self.value(self.scope(spot, column), column.measure, 0))
        base = self.value(spot, column.measure, column.window)
        return compare(column.kind, column.measure, current, base)  # type: ignore[arg-type]

    def scope(self, spot: Spot, column: ColumnPlan) -> Spot:
        """The row that a share is a part of; the total is its own scope."""
        return (spot.parent or TOTAL) if column.kind == "share_of_parent" else TOTAL

    def status(self, spot: Spot) -> Status | None:
        """Kept, new, lost or returns only, by sale lines against the first base; None without one."""
        if not self.resolved.bases or self.resolved.current.reason:
            return None
        sale_lines = LineSum("lines", "sale")
        base = None if self.resolved.windows[1].reason else self.quantity(spot, sale_lines, 1)
        return status_of(self.quantity(spot, sale_lines, 0), base)

    def children(self, spot: Spot) -> list[Spot]:
        """The rows directly below one, in code order."""
        starts = self._child_starts[spot.depth]
        return [Spot(spot.depth + 1, cell, spot) for cell in range(starts[spot.cell], starts[spot.cell + 1])]

    def _values(self, measure: Measure, window: int, depth: int) -> list[Value]:
        """A measure's values at all cells of a depth, computed once: comparisons, shares and order all come back to them."""
        key = (measure.name, window, depth)
        known = self._known.get(key)
        if known is None:
            totals = self.levels[depth].values
            # Plain lists of integers: looking a quantity up cell by cell would cost more than the arithmetic.
            columns = [totals[each][window].tolist() for each in quantities_read(measure)]
            rows = zip(*columns, strict=True) if columns else iter(())
            scales = self.resolved.ledger.scales
            known = self._known[key] = [evaluate(measure, row, scales) for row in rows]
        return known

    @cached_property
    def _known(self) -> dict[tuple[str, int, int], list[Value]]:
        return {}

    @cached_property
    def _child_starts(self) -> list[list[int]]:
        """Per depth, where each cell's children start at the next depth; one more entry for where the last one's end."""
        found = []
        for depth, below in enumerate(self.levels[1:]):
            above = below.codes[:, :depth]
            changed = (above[1:] != above[:-1]).any(axis=1) if len(above) else np.empty(0, bool)
            starts = [0, *(np.flatnonzero(changed) + 1).tolist()] if len(above) else [0]
            found.append([*starts, len(above)])
        return found
