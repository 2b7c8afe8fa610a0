"""The statement as frozen data. Its JSON form is these names and nothing else (docs/formats.md)."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from lofty_abacus.core.windows.as_of import AsOfPolicy, LastPostedDay
from lofty_abacus.core.windows.bases import PeriodBase
from lofty_abacus.core.windows.current import ToDate

Show = Literal["difference", "percent_change", "attainment", "share_of_all", "share_of_parent"]
#: A member by its key; "" is the blank member, None the member for keys that no lookup knows.
MemberKey = str | None


@dataclass(frozen=True)
class ShownMeasure:
    """A measure and what stands beside its values: comparisons (one each per base) and shares of the current window."""

    measure: str
    show: tuple[Show, ...] = ()


@dataclass(frozen=True)
class CountedFilter:
    """Only lines whose member of a dimension is (or, with exclude, is not) among these are counted, in every window."""

    dimension: str
    members: tuple[MemberKey, ...]
    exclude: bool = False


@dataclass(frozen=True)
class Sort:
    """Order of rows within their parent, by the id of a column; undefined last, ties by name."""

    column: str
    descending: bool = True


@dataclass(frozen=True)
class Statement:
    """What a report shows. `rows` are dimensions or levels from the outside in; `bases` are compared with in this order.

    levels: whether a line takes the level valid on its day, or the one valid on the as-of date (section 12).
    returns: on their own day or on the day of the sale; refunds: what becomes there of one known by order only (section 1).
    """

    measures: tuple[ShownMeasure, ...]
    rows: tuple[str, ...] = ()
    window: ToDate = ToDate("year")
    as_of: AsOfPolicy = LastPostedDay()
    bases: tuple[PeriodBase, ...] = ()
    filters: tuple[CountedFilter, ...] = ()
    sort: Sort | None = None
    levels: Literal["as_it_was", "as_it_is_now"] = "as_it_was"
    returns: Literal["own_day", "sale_day"] = "own_day"
    refunds: Literal["divided", "not_allocated"] = "divided"


@dataclass(frozen=True)
class Opened:
    """Which rows are unfolded: all down to a depth (1 shows the first row dimension), and single paths beyond it."""

    depth: int = 1
    paths: tuple[tuple[MemberKey, ...], ...] = ()
