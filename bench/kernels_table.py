"""The questions of the architecture's speed table, as ratios to one streaming pass."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from datetime import date
from itertools import pairwise

import numpy as np

from bench.streaming import BYTES_A_LINE, streaming_pass
from bench.timing import best
from bench.unasked import unasked
from lofty_abacus.core.answer.answering import answer
from lofty_abacus.core.calendar.periods import periods_between
from lofty_abacus.core.calendar.settings import CalendarSettings
from lofty_abacus.core.grouping.request import TotalsRequest
from lofty_abacus.core.lines import Figure, LineColumns
from lofty_abacus.core.measures.sums import DistinctIds, LineSum, Quantity
from lofty_abacus.core.segments import Segments
from lofty_abacus.core.statement.ledger import LedgerFacts
from lofty_abacus.core.statement.statement import Opened, ShownMeasure, Statement
from lofty_abacus.core.windows.as_of import PinnedDay
from lofty_abacus.core.windows.bases import PeriodBase
from lofty_abacus.core.windows.ranges import DayRange, DaySet
from lofty_abacus.demo.scenario import AS_OF, FIRST_DAY

NET = LineSum("amount", "all")
ORDERS = DistinctIds("order")


def _days(first: date, last: date) -> DaySet:
    return DaySet((DayRange(first, last),))


def _months() -> tuple[DaySet, ...]:
    return tuple(_days(each.first, each.last) for each in periods_between(FIRST_DAY, AS_OF, "month", CalendarSettings()))


def five_windows() -> tuple[DaySet, ...]:
    """Year to date, the two years before, and two overlapping months: every line is in some window."""
    return (
        _days(date(2026, 1, 1), AS_OF),
        _days(date(2025, 1, 1), date(2025, 12, 31)),
        _days(date(2024, 1, 1), date(2024, 12, 31)),
        _days(date(2026, 10, 1), AS_OF),
        _days(date(2026, 9, 1), date(2026, 9, 17)),
    )


#: Columns of lines, those of their dimensions left out.
_LINES = ("day", "side", "amount", "line_id")
#: Segments that the lines are cut into to compare with one.
MANY_SEGMENTS = 40


def in_segments(columns: LineColumns) -> Segments:
    """The same lines in as many stretches of days, where they lie: what is compared is the way to them, not the memory."""
    bounds = np.linspace(0, len(columns), MANY_SEGMENTS + 1).astype(np.int64).tolist()
    return Segments(tuple(_stretch(columns, first, stop) for first, stop in pairwise(bounds)))


def _stretch(columns: LineColumns, first: int, stop: int) -> LineColumns:
    own = {name: getattr(columns, name)[first:stop] for name in _LINES}
    figures = {name: Figure(each.values[first:stop]) for name, each in columns.figures.items()}
    dimensions = {name: replace(each, codes=each.codes[first:stop]) for name, each in columns.dimensions.items()}
    return replace(columns, dimensions=dimensions, figures=figures, remembered={}, **own)  # type: ignore[arg-type]


def cold(
    columns: LineColumns | Segments, windows: tuple[DaySet, ...], rows: tuple[str, ...], *what: Quantity
) -> Callable[[], object]:
    """A question on lines that nothing was remembered of."""
    request = TotalsRequest(windows, rows, (), frozenset(what))
    return lambda: unasked(columns).totals(request)


def report(columns: LineColumns, facts: LedgerFacts) -> str:
    """The table as Markdown."""
    work, words = streaming_pass(len(columns))
    one_pass = best(lambda: work(words), 9)
    rows = []

    def row(question: str, target: str, do: Callable[[], object]) -> None:
        seconds = best(do)
        rows.append(f"| {question} | {seconds * 1000:.1f} | {seconds / one_pass:.2f} | {target} |")

    row("5 windows x rep x product", "<= 3", cold(columns, five_windows(), ("rep", "product"), NET))
    row("region x month", "<= 3", cold(columns, _months(), ("region",), NET))
    row("rep x product x month", "<= 5", cold(columns, _months(), ("rep", "product"), NET))
    row("distinct orders by rep x month", "<= 8", cold(columns, _months(), ("rep",), ORDERS))
    cut = in_segments(columns)
    for what, windows, levels, quantity in (
        ("5 windows x rep x product", five_windows(), ("rep", "product"), NET),
        ("region x month", _months(), ("region",), NET),
        ("distinct orders by rep x month", _months(), ("rep",), ORDERS),
    ):
        one, many = (best(cold(each, windows, levels, quantity)) for each in (columns, cut))
        rows.append(f"| {what}, in {MANY_SEGMENTS} segments | {many * 1000:.1f} | {many / one:.2f} of one segment | <= 1.3 |")
    del cut
    warm = unasked(columns)
    again = TotalsRequest(five_windows(), ("rep",), (), frozenset({NET}))
    for _ in range(2):
        warm.totals(again)
    row("5 windows x rep again on the same version", "<= 0.2", lambda: warm.totals(again))
    statement = Statement(
        (ShownMeasure("net_sales", ("difference", "percent_change")), ShownMeasure("orders"), ShownMeasure("units")),
        ("region", "rep"),
        as_of=PinnedDay(AS_OF),
        bases=(PeriodBase(1, "year"), PeriodBase(2, "year")),
    )
    row(
        "a whole answer: 3 measures, 3 windows, region x rep, first time",
        "",
        lambda: answer(statement, facts, unasked(columns), AS_OF, Opened(2)),
    )
    row("the same answer again", "", lambda: answer(statement, facts, warm, AS_OF, Opened(2)))
    head = (
        f"## {len(columns):,} lines\n\nOne streaming pass over {BYTES_A_LINE} B/line: {one_pass * 1000:.2f} ms\n\n"
        "| question | ms | ratio to the pass | target |\n|---|---|---|---|\n"
    )
    return head + "\n".join(rows) + "\n"
