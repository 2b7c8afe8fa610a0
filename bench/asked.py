"""The questions of the kernels, one asked at a time by its name: each line read is a name, each said the seconds that it took.

Run as a script with another checkout's modules in its path, so that the same questions are put to both.
"""

from __future__ import annotations

import sys
import time
from collections.abc import Callable

from bench import kernels_table as kernels
from bench.ledgers import generated
from bench.unasked import unasked
from lofty_abacus.core.answer.answering import answer

#: Lines of the ledger that is asked.
LINES = 3_000_000


def questions() -> dict[str, Callable[[], object]]:
    """Each question on lines of which nothing is remembered."""
    _, columns, facts = generated(LINES)
    cut = kernels.in_segments(columns)
    months, windows = kernels._months(), kernels.five_windows()
    shown = kernels.ShownMeasure
    statement = kernels.Statement(
        (shown("net_sales", ("difference", "percent_change")), shown("orders"), shown("units")),
        ("region", "rep"),
        as_of=kernels.PinnedDay(kernels.AS_OF),
        bases=(kernels.PeriodBase(1, "year"), kernels.PeriodBase(2, "year")),
    )

    def whole() -> object:
        return answer(statement, facts, unasked(columns), kernels.AS_OF, kernels.Opened(2))

    return {
        "5 windows x rep x product": kernels.cold(columns, windows, ("rep", "product"), kernels.NET),
        "region x month": kernels.cold(columns, months, ("region",), kernels.NET),
        "rep x product x month": kernels.cold(columns, months, ("rep", "product"), kernels.NET),
        "distinct orders by rep x month": kernels.cold(columns, months, ("rep",), kernels.ORDERS),
        f"5 windows x rep x product, in {kernels.MANY_SEGMENTS} segments": kernels.cold(
            cut, windows, ("rep", "product"), kernels.NET
        ),
        "a whole answer, first time": whole,
    }


if __name__ == "__main__":
    known = questions()
    for do in known.values():
        do()
    print("\t".join(known), flush=True)
    for line in sys.stdin:
        start = time.perf_counter()
        known[line.strip()]()
        print(time.perf_counter() - start, flush=True)
