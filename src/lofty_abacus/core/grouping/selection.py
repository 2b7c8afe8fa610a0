"""Which lines a figure is made of."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Any

import numpy as np
from numpy.typing import NDArray

from lofty_abacus.core.days import day_number
from lofty_abacus.core.grouping.cells import looked_at
from lofty_abacus.core.grouping.kept_parts import Same, Stretches, kept_parts, lines_key
from lofty_abacus.core.grouping.request import Filter, LinesExtent, LineSort, LinesRequest, MemberFilter
from lofty_abacus.core.lines import RETURN, SALE, LineColumns
from lofty_abacus.core.measures.sums import Side
from lofty_abacus.core.segments import Segments
from lofty_abacus.core.windows.ranges import DaySet

#: What is kept of how many lines a figure reads: its key, most of it.
BYTES_OF_AN_EXTENT = 1 << 10


def lines_of(
    columns: LineColumns, days: DaySet, filters: Sequence[Filter], side: Side, given: Sequence[str] = ()
) -> NDArray[np.int64]:
    """Positions of the lines of some days that count, pass all filters, are of a side and have the given columns, ascending."""
    found = []
    for each in days.ranges:
        start, stop = columns.slice_of(day_number(each.first), day_number(each.last))
        chosen = np.ones(stop - start, bool) if columns.out is None else columns.out[start:stop] == 0
        for one in filters:
            if not isinstance(one, MemberFilter):
                chosen &= looked_at(columns, one).keeps(slice(start, stop))
                continue
            codes, mapping = columns.coded(one.dimension)
            keep = np.zeros(columns.members(one.dimension).size, bool)
            keep[sorted(one.codes)] = True
            chosen &= (keep if mapping is None else keep[mapping])[codes[start:stop]]
        if side != "all":
            chosen &= columns.side[start:stop] == (SALE if side == "sale" else RETURN)
        for name in given:
            flags = columns.missing(name)
            if flags is not None:
                chosen &= flags[start:stop] == 0
        found.append(np.flatnonzero(chosen) + start)
    return np.concatenate(found) if found else np.empty(0, np.int64)


def extent_of(columns: LineColumns, request: LinesRequest) -> LinesExtent:
    """How many lines of a segment a figure reads, and between which days they lie: kept, where the segment is large."""

    def read() -> LinesExtent:
        return extent_at(columns, lines_of(columns, request.days, request.filters, request.side, request.given))

    parts = kept_parts(columns)
    if parts is None:
        return read()
    lines = lines_key(columns, parts, (), request.filters)
    given = tuple(Same(flags) for name in request.given if (flags := columns.missing(name)) is not None)
    key = ("extent", lines, Stretches.of((request.days,)).key(columns), request.side, given)
    found: LinesExtent | None = parts.get(key)
    if found is None:
        found = read()
        parts.keep(key, found, BYTES_OF_AN_EXTENT)
    return found


def extent_at(columns: LineColumns, at: NDArray[np.int64]) -> LinesExtent:
    """How many lines of a segment are given by ascending position, and between which days they lie."""
    if not len(at):
        return LinesExtent(0, None, None)
    return LinesExtent(len(at), *(int(columns.day[place]) + columns.first_day for place in (at[0], at[-1])))


def together(parts: Iterable[LinesExtent]) -> LinesExtent:
    """What some segments give."""
    filled = [each for each in parts if each.lines]
    first = min((each.first_day for each in filled if each.first_day is not None), default=None)
    last = max((each.last_day for each in filled if each.last_day is not None), default=None)
    return LinesExtent(sum(each.lines for each in filled), first, last)


def in_order(segments: Segments, lines: Sequence[NDArray[np.int64]], sort: LineSort) -> NDArray[np.uint64]:
    """The ids of lines, given by position in each segment, in an order: alike ones by (day, order, id).

    By what the ledger does not have they stay in the order of days.
    """
    ids = np.concatenate([each.line_id[at].astype(np.uint64) for each, at in zip(segments, lines, strict=True)])
    by_day = np.arange(len(ids)) if sum(len(at) > 0 for at in lines) < 2 else _by_day(segments, lines, ids)
    keys: NDArray[Any]
    match sort:
        case "amount":
            keys = np.concatenate([each.amount[at] for each, at in zip(segments, lines, strict=True)])
        case "posted":
            keys = ids
        case "order" | "product" if sort in segments.roles:
            name = segments.roles[sort]
            codes = np.concatenate([each.dimensions[name].codes[at] for each, at in zip(segments, lines, strict=True)])
            keys = segments.members(name).name_rank()[codes]
        case _:
            return np.asarray(ids[by_day])
    return np.asarray(ids[by_day[np.argsort(keys[by_day], kind="stable")]])


def _by_day(segments: Segments, lines: Sequence[NDArray[np.int64]], ids: NDArray[np.uint64]) -> NDArray[np.int64]:
    days = np.concatenate([each.day[at].astype(np.int64) + each.first_day for each, at in zip(segments, lines, strict=True)])
    if "order" not in segments.roles:
        return np.lexsort((ids, days))
    name = segments.roles["order"]
    orders = np.concatenate([each.dimensions[name].codes[at] for each, at in zip(segments, lines, strict=True)])
    return np.lexsort((ids, orders, days))
