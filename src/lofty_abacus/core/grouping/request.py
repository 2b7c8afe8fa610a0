"""What is asked of a source of lines, and what it gives. A source may be columns in memory or SQL where the lines live."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal, Protocol

import numpy as np
from numpy.typing import NDArray

from lofty_abacus.core.calendar.settings import CalendarSettings, Grain
from lofty_abacus.core.lines import Members
from lofty_abacus.core.measures.sums import DistinctIds, Quantity, Side
from lofty_abacus.core.windows.ranges import DayRange, DaySet


@dataclass(frozen=True)
class MemberFilter:
    """Count only lines whose code of a dimension or level is among these."""

    dimension: str
    codes: frozenset[int]


@dataclass(frozen=True)
class PathFilter:
    """Count only lines whose codes of several dimensions or levels, together, are among these."""

    rows: tuple[str, ...]
    codes: frozenset[tuple[int, ...]]


@dataclass(frozen=True)
class FigureFilter:
    """Count only lines that have a figure, between two bounds in minor units (None: none), both included."""

    figure: str
    least: int | None
    most: int | None


@dataclass(frozen=True)
class DayFilter:
    """Count only lines one of whose days (day numbers) lies in one of some stretches; blank: or that have none.

    exclude: all lines but these.
    """

    day: str
    stretches: tuple[tuple[int, int], ...]
    blank: bool = False
    exclude: bool = False


@dataclass(frozen=True)
class DayOrderFilter:
    """Count only lines that have both of two days, of which one comes before, on or after the other; blank: or lack the first."""

    day: str
    relation: Literal["before", "on", "after"]
    other: str
    blank: bool = False


@dataclass(frozen=True)
class GivenFilter:
    """Count only lines that have a figure, or that have none."""

    figure: str
    given: bool


#: Conditions on what stands on the lines themselves.
LineFilter = FigureFilter | DayFilter | DayOrderFilter | GivenFilter
Filter = MemberFilter | PathFilter | LineFilter


@dataclass(frozen=True)
class TotalsRequest:
    """Totals of quantities by window and by each level of rows.

    windows: sets of days, which may overlap. rows: dimensions or levels from the outside in. known_by: per window, the day
    number by which a return read on its sale's day must have come back; none, or None, for as long as the reading goes.
    """

    windows: tuple[DaySet, ...]
    rows: tuple[str, ...]
    filters: tuple[Filter, ...]
    quantities: frozenset[Quantity]
    known_by: tuple[int | None, ...] = ()


#: In which order lines are listed: by day, by amount, by the name of their order or product, or as they were posted.
LineSort = Literal["day", "amount", "order", "product", "posted"]


@dataclass(frozen=True)
class LinesRequest:
    """Which lines of one window a figure is made of: by filters, side, the columns they must have and known_by as above.

    sort: ascending; lines that are alike in it stay in the order of days.
    """

    days: DaySet
    filters: tuple[Filter, ...]
    side: Side
    given: tuple[str, ...] = ()
    known_by: int | None = None
    sort: LineSort = "day"


@dataclass(frozen=True)
class FoundLines:
    """Ids of the lines in the database, u64[lines], in the order asked for; ledger: the other one that they are posted in, if
    so."""

    ids: NDArray[np.uint64]
    ledger: str = ""


@dataclass(frozen=True)
class LinesExtent:
    """How many lines there are, and the first and the last day that has one (day numbers)."""

    lines: int
    first_day: int | None
    last_day: int | None


@dataclass(frozen=True)
class LevelTotals:
    """Totals of the cells at one depth of rows that have a counted line in any window.

    codes: i32[cells, depth], in ascending order of codes. values: per quantity, [windows, cells] as int64, or as Python integers
    where 64 bits do not hold a sum.
    """

    codes: NDArray[np.int32]
    values: Mapping[Quantity, NDArray[np.int64] | NDArray[np.object_]]

    def integers(self, quantities: Sequence[Quantity], window: int, cell: int) -> list[int]:
        """Several quantities of one cell, as unbounded integers."""
        return [int(self.values[each][window, cell]) for each in quantities]


@dataclass(frozen=True)
class Spread:
    """Lines that stand for whole periods of a grain are spread over the days, or the working days, of a calendar (section 11)."""

    grain: Grain
    calendar: CalendarSettings
    working: bool


@dataclass(frozen=True)
class LineConventions:
    """How the lines of a version are read (sections 1 and 12).

    as_of: day number. levels: as on each line's day, or as on the as-of day. returns: on their own day, or on the day of the
    sale, there with refunds known by order only divided over the order's lines, or kept as not allocated. day: by which of their
    days they count; '' for the usual one. periods: of which days, in which grains of a calendar, they have a dimension.
    """

    as_of: int
    levels: Literal["as_it_was", "as_it_is_now"] = "as_it_was"
    returns: Literal["own_day", "sale_day"] = "own_day"
    refunds: Literal["divided", "not_allocated"] = "divided"
    spread: Spread | None = None
    day: str = ""
    periods: tuple[tuple[str, Grain], ...] = ()
    calendar: CalendarSettings | None = None


#: What a source can do beside adding all of its lines up as each stands on its own day: cells of rows; paths of several
#: dimensions as filters; readings (levels as they are now, returns on the days of their sales, lines spread over days).
Ability = Literal["cells", "paths", "levels_as_now", "sale_days", "spread", "periods"]


def needed_by(request: TotalsRequest) -> frozenset[Ability]:
    """What a source must be able to do for a request."""
    needed: dict[Ability, bool] = {
        "cells": bool(request.rows),
        "paths": any(isinstance(each, PathFilter) for each in request.filters),
        "sale_days": any(by is not None for by in request.known_by),
    }
    return frozenset(ability for ability, wanted in needed.items() if wanted)


def needed_to_read(how: LineConventions) -> frozenset[Ability]:
    """What a source must be able to do for a reading."""
    needed: dict[Ability, bool] = {
        "levels_as_now": how.levels == "as_it_is_now",
        "sale_days": how.returns == "sale_day",
        "spread": how.spread is not None,
        "periods": bool(how.periods),
    }
    return frozenset(ability for ability, wanted in needed.items() if wanted)


class Totals(Protocol):
    """A ledger version's lines, able to add themselves up. What it cannot do it refuses with UnableError."""

    @property
    def abilities(self) -> frozenset[Ability]:
        """What it can do."""
        ...

    def totals(self, request: TotalsRequest) -> Sequence[LevelTotals]:
        """Totals at depth 0 (one cell: everything), 1, ... len(rows)."""
        ...

    def read_by(self, how: LineConventions) -> Totals:
        """The same lines, read as said."""
        ...


class Evidence(Protocol):
    """The lines behind totals."""

    def lines(self, request: LinesRequest) -> FoundLines:
        """The lines that a figure is made of."""
        ...

    def extent(self, request: LinesRequest) -> LinesExtent:
        """How many they are and between which days they lie, in no order: putting millions in one takes seconds."""
        ...

    def first_days(self, request: LinesRequest, wanted: DistinctIds) -> NDArray[np.int64]:
        """For each different id among some lines the day number of its first sale line, ascending: i64[ids]."""
        ...

    def ids_down(self, request: LinesRequest, wanted: DistinctIds, dimension: str, codes: NDArray[np.int64]) -> NDArray[np.int64]:
        """How many different ids the sale lines of the first 1, 2, ... n members of a list have: i64[n].

        codes: the members of a dimension or level, in the order of the list, i64[n].
        """
        ...

    def day_counts(self, days: DayRange) -> NDArray[np.int64]:
        """How many lines, filtered or not, lie on each day of a range: i64[days]."""
        ...

    @property
    def undated(self) -> tuple[int, int]:
        """(how many, net minor units) of the lines that lack the day by which they would count."""
        ...

    @property
    def unplaced(self) -> tuple[int, int]:
        """(how many, net minor units) of the returns that stay on their own day though they are read on the day of the sale."""
        ...


class Dictionary(Protocol):
    """The members of the dimensions and levels."""

    def members(self, name: str) -> Members:
        """The members of a dimension or level."""
        ...


class Source(Totals, Evidence, Dictionary, Protocol):
    """A ledger version's lines with all that answers and proofs ask of them."""

    def read_by(self, how: LineConventions) -> Source:
        """The same lines, read as said."""
        ...
