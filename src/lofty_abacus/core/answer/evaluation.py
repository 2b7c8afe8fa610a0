"""Totals of any rows, added up when they are first asked for: the one evaluation that table, order, shares and proof all read."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from math import prod
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray
from propcache.api import cached_property

from lofty_abacus.core.answer.resolve import Plan, Resolved
from lofty_abacus.core.comparing.status import Status, status_of
from lofty_abacus.core.grouping.request import LevelTotals, PathFilter, TotalsRequest
from lofty_abacus.core.measures.exacts import Exacts, Integers, Value, codes_of
from lofty_abacus.core.measures.sums import LineSum, Quantity
from lofty_abacus.core.measures.table import Measure
from lofty_abacus.core.measures.value import evaluate_all, quantities_read
from lofty_abacus.core.patience import heed
from lofty_abacus.core.windows.stretches import StretchWindow

#: Rows whose cells are remembered.
MOST_FOUND = 4
_LINES, _SALE_LINES = LineSum("lines", "all"), LineSum("lines", "sale")


class Spot(NamedTuple):
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


@dataclass(frozen=True)
class Points:
    """n figures of the same dimensions: the codes of their members, i64[n, dimensions], and their windows, i64[n]."""

    dimensions: tuple[str, ...]
    codes: NDArray[np.int64]
    windows: NDArray[np.int64]

    @staticmethod
    def of(spot: Spot, window: int) -> Points:
        """A single one."""
        return Points(spot.dimensions, np.array([spot.codes], np.int64).reshape(1, -1), np.array([window], np.int64))

    def spot(self, at: int) -> Spot:
        """What lines one of them covers."""
        return Spot(self.dimensions, tuple(self.codes[at].tolist()))

    def in_window(self, window: NDArray[np.int64]) -> Points:
        """The same lines in other windows."""
        return replace(self, windows=window)


class Table:
    """Totals by some dimensions, with their cells found by code."""

    def __init__(self, totals: LevelTotals) -> None:
        self.totals = totals
        self._found: list[tuple[NDArray[np.int64], NDArray[np.int64]]] = []
        self._ranges: dict[int, dict[tuple[int, ...], range]] = {}

    @cached_property
    def paths(self) -> list[tuple[int, ...]]:
        """The codes of each cell, ascending."""
        return [tuple(path) for path in self.totals.codes.tolist()] or ([()] if self.totals.codes.shape[1] == 0 else [])

    def find(self, codes: NDArray[np.int64]) -> NDArray[np.int64]:
        """The cells of codes, i64[n, dimensions], -1 where there is none: i64[n]."""
        here, count = self.totals.codes, len(self.totals.codes)
        if not codes.shape[1] or not count:
            return np.full(len(codes), 0 if count else -1, np.int64)
        if self._keys is None:
            return np.array([self.cell_of.get(tuple(each), -1) for each in codes.tolist()], np.int64)
        # Columns of the same rows ask for the same codes.
        for asked, found in self._found:
            if asked is codes:
                return found
        sizes, keys = self._keys
        known: NDArray[np.bool_] = np.asarray(((codes >= 0) & (codes < sizes)).all(axis=1))
        wanted = _key(codes if known.all() else np.where(known[:, None], codes, 0), sizes)
        at = np.minimum(np.searchsorted(keys, wanted), len(here) - 1)
        cells = np.where(known & (keys[at] == wanted), at, -1)
        self._found = [(codes, cells), *self._found[: MOST_FOUND - 1]]
        return cells

    @cached_property
    def _keys(self) -> tuple[NDArray[np.int64], NDArray[np.int64]] | None:
        """How many codes there are of each dimension, and each cell's codes as one number; None where 64 bits do not hold it."""
        sizes = self.totals.codes.max(axis=0).astype(np.int64) + 1
        if prod(sizes.tolist()) >= 2**63:
            return None
        return sizes, _key(self.totals.codes.astype(np.int64), sizes)

    @cached_property
    def cell_of(self) -> dict[tuple[int, ...], int]:
        """Cells by their codes."""
        return {path: cell for cell, path in enumerate(self.paths)}

    def under(self, codes: tuple[int, ...]) -> range:
        """The cells whose codes begin with these: neighbours, since cells are in order of code."""
        if not codes:
            return range(len(self.totals.codes))
        depth = len(codes)
        if depth not in self._ranges:
            self._ranges[depth] = self._ranges_at(depth)
        return self._ranges[depth].get(codes, range(0))

    def _ranges_at(self, depth: int) -> dict[tuple[int, ...], range]:
        """The cells below each combination of the first so many codes: found at once, since a list asks for thousands."""
        own = self.totals.codes[:, :depth]
        starts = (
            np.flatnonzero(np.concatenate(([True], (own[1:] != own[:-1]).any(axis=1)))) if len(own) else np.empty(0, np.int64)
        )
        stops = [*starts[1:].tolist(), len(own)]
        paths = map(tuple, own[starts].tolist())
        return {path: range(start, stop) for path, start, stop in zip(paths, starts.tolist(), stops, strict=False)}


def _key(codes: NDArray[np.int64], sizes: NDArray[np.int64]) -> NDArray[np.int64]:
    found = np.zeros(len(codes), np.int64)
    for at, size in enumerate(sizes.tolist()):
        found = found * size + codes[:, at]
    return found


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
        self._plans: dict[str, Evaluation] = {}
        self._codes: dict[tuple[str, str], NDArray[np.int64]] = {}

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
        return int(self.quantities(Points.of(spot, window), (quantity,))[0][0])

    def quantities(self, points: Points, wanted: Sequence[Quantity]) -> list[Integers]:
        """Quantities' integers at some points, [n] each; 0 where there is no line."""
        table = self.table(points.dimensions)
        cells = table.find(points.codes)
        found: list[Integers] = []
        nowhere = cells < 0
        for each in wanted:
            if not len(table.totals.codes):
                found.append(np.zeros(len(cells), np.int64))
                continue
            column: Integers = table.totals.values[each][points.windows, cells]
            column[nowhere] = 0
            found.append(column)
        return found

    def value(self, spot: Spot, measure: Measure, window: int) -> Value:
        """A measure's value at a spot and window."""
        return self.values(Points.of(spot, window), measure).value(0)

    def values(self, points: Points, measure: Measure) -> Exacts:
        """A measure's values; undefined with the window's reason. A moving mean is divided."""
        heed()
        found = evaluate_all(measure, self.quantities(points, quantities_read(measure)), self.resolved.ledger.scales)
        divisors = self._divisors[points.windows]
        if (divisors != 1).any():
            found = found.over(divisors)
        if self.resolved.plans:
            for window in np.unique(points.windows).tolist():
                plan = self.resolved.plan_of(window)
                if plan is not None:
                    places = np.flatnonzero(points.windows == window)
                    found = found.put(places, self._planned(plan, points, places, measure))
        return found.before_all(self.reasons(points.windows))

    def reasons(self, windows: NDArray[np.int64]) -> NDArray[np.uint8]:
        """Why windows have no figures, u8[n] as of `Exacts`."""
        return self._reasons[windows]

    @cached_property
    def _reasons(self) -> NDArray[np.uint8]:
        return codes_of([each.window.reason for each in self.stretches])

    @cached_property
    def _divisors(self) -> NDArray[np.int64]:
        return np.array([each.divisor for each in self.stretches], np.int64)

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
            resolved = replace(
                self.resolved,
                ledger=plan.ledger,
                source=plan.source,
                filters=plan.filters,
                quantities=plan.known(self.resolved.quantities),
                plans={},
            )
            self._plans[plan.ledger.name] = PlanEvaluation(resolved, self._kept_in(plan), self.stretches)
        return self._plans[plan.ledger.name]

    def _kept_in(self, plan: Plan) -> tuple[PathFilter, ...]:
        found = []
        for kept in self.kept:
            spots = [self.planned_spot(plan, Spot(kept.rows, codes)) for codes in kept.codes]
            found.append(PathFilter(kept.rows, frozenset(spot.codes for spot in spots if spot is not None)))
        return tuple(found)

    def _planned(self, plan: Plan, points: Points, places: NDArray[np.int64], measure: Measure) -> Exacts:
        """A plan's values; members without a plan are undefined (section 11)."""
        codes, known = points.codes[places].copy(), np.ones(len(places), bool)
        for at, name in enumerate(points.dimensions):
            codes[:, at] = self._codes_in(plan, name)[codes[:, at]]
            known &= codes[:, at] >= 0
        there, evaluation = Points(points.dimensions, codes, points.windows[places]), self.in_plan(plan)
        (lines,) = evaluation.quantities(there, (_LINES,))
        none = np.asarray(~known | (lines == 0), bool)
        return evaluation.values(there, measure).before_all(np.where(none, codes_of(["not_given"]), 0).astype(np.uint8))

    def _codes_in(self, plan: Plan, dimension: str) -> NDArray[np.int64]:
        """Codes in another ledger of a dimension's members here, i64[size], -1 where it does not know one."""
        key = (plan.ledger.name, dimension)
        if key not in self._codes:
            members, there = self.resolved.source.members(dimension), plan.source.members(dimension).codes
            found = [there.get(members.key(code), -1) for code in range(members.size)]
            self._codes[key] = np.array(found, np.int64)
        return self._codes[key]

    def status(self, spot: Spot, slot: int = 0, base: int = 1) -> Status | None:
        """Kept, new, lost or returns only, by sale lines against a base; None without one."""
        return self.statuses(Points.of(spot, 0), slot, base)[0]

    def statuses(self, points: Points, slot: int = 0, base: int = 1) -> list[Status | None]:
        """The status of each of some points, whatever their windows, in a slot's windows."""
        windows = self.resolved.slots[slot].windows
        if len(windows) <= base or windows[0].reason or windows[base].reason or self.resolved.plan_of(base) is not None:
            return [None] * len(points.codes)
        first = np.full(len(points.codes), self.resolved.window_at(slot, 0, 0), np.int64)
        (now,) = self.quantities(points.in_window(first), (_SALE_LINES,))
        (before,) = self.quantities(points.in_window(first + base), (_SALE_LINES,))
        return [status_of(*each) for each in zip(now.tolist(), before.tolist(), strict=True)]

    def members_at(self, spot: Spot, dimension: str, windows: Sequence[int] | None = None) -> NDArray[np.int64]:
        """Codes of a dimension's members that have a line at a spot in any of some windows (in any at all), ascending."""
        own = self._lined_at(spot, dimension, windows)
        for plan in self.resolved.plans.values():
            own = np.union1d(own, self._planned_at(plan, spot, dimension, windows))
        return own

    def _planned_at(self, plan: Plan, spot: Spot, dimension: str, windows: Sequence[int] | None) -> NDArray[np.int64]:
        """Codes of the members that a plan has lines of in its own windows, of those that this ledger knows."""
        there = self.planned_spot(plan, spot)
        if there is None:
            return np.empty(0, np.int64)
        every = range(len(self.stretches)) if windows is None else windows
        mine = [window for window in every if self.resolved.plan_of(window) is plan]
        keys, codes = plan.source.members(dimension), self.resolved.source.members(dimension).codes
        found = (keys.key(code) for code in self.in_plan(plan)._lined_at(there, dimension, mine).tolist())
        return np.array([codes[key] for key in found if key in codes], np.int64)

    def _lined_at(self, spot: Spot, dimension: str, windows: Sequence[int] | None) -> NDArray[np.int64]:
        table = self.table((*spot.dimensions, dimension))
        cells = table.under(spot.codes)
        codes: NDArray[Any] = table.totals.codes[cells.start : cells.stop, -1]
        if windows is not None and cells:
            lines: NDArray[Any] = table.totals.values[_LINES][:, cells.start : cells.stop][list(windows)]
            codes = codes[(lines != 0).any(axis=0)]
        return codes.astype(np.int64)


class PlanEvaluation(Evaluation):
    """Figures of another ledger: its windows are its own, whatever base they are of the first ledger's statement."""

    def reasons(self, windows: NDArray[np.int64]) -> NDArray[np.uint8]:
        """None: why a window has no figures is known where it is asked from."""
        return np.zeros(len(windows), np.uint8)
