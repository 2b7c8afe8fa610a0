"""The statement as frozen data. Its JSON form is these names and nothing else (docs/formats.md)."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from lofty_abacus.core.calendar.settings import Grain
from lofty_abacus.core.measures.table import DefinedMeasure
from lofty_abacus.core.statement.conditions import Condition
from lofty_abacus.core.statement.levels import RowLevel
from lofty_abacus.core.statement.limits import Limit, MemberKey
from lofty_abacus.core.windows.as_of import AsOfPolicy, LastPostedDay
from lofty_abacus.core.windows.bases import Base
from lofty_abacus.core.windows.current import CurrentWindow, ToDate
from lofty_abacus.core.windows.stretches import Along

Show = Literal[
    "difference",
    "percent_change",
    "attainment",
    "index",
    "contribution",
    "share_of_all",
    "share_of_parent",
    "share_change",
    "scope",
    "rank",
    "cumulative",
    "cumulative_share",
    "bridge",
    "price_volume_mix",
]


@dataclass(frozen=True)
class ShareScope:
    """What a share is a part of (section 9): the total that keeps these dimensions of the row, over some days.

    period: the row's own, the whole range shown, or ever: all that is posted up to the as-of date, whatever the window is.
    time: a level of time that is kept instead of the row's own period: a month within its year, as far as that is counted.
    """

    keep: tuple[str, ...] = ()
    period: Literal["own", "range", "ever"] = "own"
    time: Grain | None = None


@dataclass(frozen=True)
class ShownMeasure:
    """A measure and what stands beside its values: comparisons (one each per base), shares and places in the order of rows.

    along: a running total or a moving figure in place of the period's own. shares: scopes beside those named in show. bases: the
    numbers (from 1) of the bases that it is compared with, all where None. name: what the reader sees it called.
    """

    measure: str
    show: tuple[Show, ...] = ()
    along: Along | None = None
    shares: tuple[ShareScope, ...] = ()
    bases: tuple[int, ...] | None = None
    name: str = ""

    @property
    def id(self) -> str:
        """Its name in the ids of columns: the measure, and what it runs along."""
        return self.measure if self.along is None else f"{self.measure}~{self.along.name}"


@dataclass(frozen=True)
class CountedFilter:
    """Only lines whose member of a dimension is (or, with exclude, is not) among these are counted, in every window."""

    dimension: str
    members: tuple[MemberKey, ...]
    exclude: bool = False


@dataclass(frozen=True)
class Sort:
    """Order of rows within their parent, by the id of a column; undefined last, ties by name. Periods keep the order of time."""

    column: str
    descending: bool = True


@dataclass(frozen=True)
class OwnTarget:
    """A target of its own for a row (its path; () is the total) or a period (its sortable name), or for a row in a period."""

    target: str
    path: tuple[MemberKey, ...] | None = None
    period: str = ""


@dataclass(frozen=True)
class Goal:
    """A goal of one metric (section 11): its target is so many percent of a base, or a figure, as decimal text.

    direction: by the measure's polarity where None. own: targets of single rows and periods; the one that says most holds. A
    target of '' is none: rows that have no other are not judged.
    """

    metric: str
    target: str
    of: Literal["base", "figure"] = "base"
    base: int = 1
    direction: Literal["at_least", "at_most"] | None = None
    own: tuple[OwnTarget, ...] = ()

    def target_at(self, path: tuple[MemberKey, ...], period: str | None) -> str:
        """The target of a row in a period: its own there, else the row's, else the period's, else that of all; '' for none."""
        for each in sorted(self.own, key=lambda own: (own.path is None, not own.period)):
            if each.path in (None, path) and each.period in ("", period):
                return each.target
        return self.target


@dataclass(frozen=True)
class Statement:
    """What a report shows. `rows` and `across` are dimensions, levels or levels of time, from the outside in.

    window: what is current; with levels of time, the range whose periods they are. bases are compared with in this order.
    cut: whether every period is cut at the same point as the running one, or only by the as-of date (section 7).
    levels: whether a line takes the level valid on its day, or the one valid on the as-of date (section 12).
    returns: on their own day or on the day of the sale; refunds: what becomes there of one known by order only (section 1).
    returns_within: on the sale's day, all that came back by the as-of date, or in a base only what came back in the same time.
    negative_bases: whether % and attainment against a base below 0 are undefined, or divided as they are (section 8).
    items: what price, volume and mix are formed over, the product where there is none named; unit_of_measure: the dimension
    that tells what their quantities are counted in, within which volume and mix are formed (section 10).
    day: by which of its days a line counts, '' for the ledger's usual one. conditions: on lines, all of which must hold
    (section 1).
    all_members: a row for every known member, with 0 where it has no line (section 8).
    feeds_end: where the feeds that are read end on different days, each counts to its end or all to the earliest (section 5).
    shares_add_up: the shown shares of a complete list are rounded so that they add up to their total (section 9).
    """

    measures: tuple[ShownMeasure, ...]
    rows: tuple[RowLevel, ...] = ()
    window: CurrentWindow = ToDate("year")
    as_of: AsOfPolicy = LastPostedDay()
    bases: tuple[Base, ...] = ()
    filters: tuple[CountedFilter, ...] = ()
    sort: Sort | None = None
    levels: Literal["as_it_was", "as_it_is_now"] = "as_it_was"
    returns: Literal["own_day", "sale_day"] = "own_day"
    refunds: Literal["divided", "not_allocated"] = "divided"
    returns_within: Literal["as_of", "same_time"] = "as_of"
    across: tuple[RowLevel, ...] = ()
    cut: Literal["as_of", "same_point"] = "as_of"
    defined: tuple[DefinedMeasure, ...] = ()
    limits: tuple[Limit, ...] = ()
    goals: tuple[Goal, ...] = ()
    items: tuple[str, ...] = ()
    negative_bases: Literal["undefined", "divided"] = "undefined"
    all_members: bool = False
    feeds_end: Literal["each", "earliest"] = "each"
    shares_add_up: bool = False
    unit_of_measure: str | None = None
    day: str = ""
    conditions: tuple[Condition, ...] = ()


@dataclass(frozen=True)
class Opened:
    """Which rows are unfolded: all down to a depth (1 shows the first row dimension), and single paths beyond it."""

    depth: int = 1
    paths: tuple[tuple[MemberKey, ...], ...] = ()
