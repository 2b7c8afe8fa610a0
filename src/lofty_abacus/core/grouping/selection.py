"""Which lines a figure is made of."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import numpy as np
from numpy.typing import NDArray

from lofty_abacus.core.days import day_number
from lofty_abacus.core.grouping.cells import KeptPaths
from lofty_abacus.core.grouping.request import Filter, LineSort, PathFilter
from lofty_abacus.core.lines import RETURN, SALE, LineColumns
from lofty_abacus.core.measures.sums import Side
from lofty_abacus.core.windows.ranges import DaySet


def lines_of(
    columns: LineColumns, days: DaySet, filters: Sequence[Filter], side: Side, given: Sequence[str] = ()
) -> NDArray[np.int64]:
    """Positions of the lines of some days that pass all filters, are of a side and have the given columns, by (day, order)."""
    found = []
    for each in days.ranges:
        start, stop = columns.slice_of(day_number(each.first), day_number(each.last))
        chosen = np.ones(stop - start, bool)
        for one in filters:
            if isinstance(one, PathFilter):
                chosen &= KeptPaths(columns, one).keeps(slice(start, stop))
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


def in_order(columns: LineColumns, lines: NDArray[np.int64], sort: LineSort) -> NDArray[np.int64]:
    """Lines, given by position in the order of days, in another order; by what the ledger does not have they stay as they are."""
    keys: NDArray[Any]
    match sort:
        case "amount":
            keys = columns.amount[lines]
        case "posted":
            keys = columns.line_id[lines]
        case "order" | "product" if sort in columns.roles:
            dimension = columns.dimensions[columns.roles[sort]]
            keys = dimension.members.name_rank()[dimension.codes[lines]]
        case _:
            return lines
    return lines[np.argsort(keys, kind="stable")]
