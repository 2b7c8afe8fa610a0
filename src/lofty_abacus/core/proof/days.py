"""The windows of a cell over time: in a few stretches as a picture, day by day as a table that adds up to the figure."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from fractions import Fraction
from operator import sub

import numpy as np
from numpy.typing import NDArray

from lofty_abacus.core.answer.answer import Cell, cell_of, cells_of
from lofty_abacus.core.answer.cells import Figure
from lofty_abacus.core.days import add_days, day_number
from lofty_abacus.core.errors import QuestionError
from lofty_abacus.core.grouping.request import LinesRequest, TotalsRequest
from lofty_abacus.core.measures.exacts import Value, integers
from lofty_abacus.core.measures.sums import DistinctIds, LineSum, Quantity
from lofty_abacus.core.measures.table import Measure, Terms
from lofty_abacus.core.measures.value import evaluate, evaluate_all, quantities_read
from lofty_abacus.core.proof.finding import Behind, Found, behind
from lofty_abacus.core.proof.proof import DayColumn, DayFigure, OperandDays, Stretch
from lofty_abacus.core.saying import say
from lofty_abacus.core.windows.ranges import DayRange, DaySet
from lofty_abacus.core.windows.window import Window

MOST_STRETCHES = 60
MOST_DAYS = 4000


def days_behind(found: Found) -> tuple[OperandDays, ...]:
    """Per operand of a cell its window day by day; no days where it has no window.

    Raises QuestionError for a window of more than MOST_DAYS days.
    """
    return tuple(_days(found, figure) for figure in found.figures)


def stretches_of(found: Found, figure: Figure) -> tuple[Stretch, ...]:
    """A figure's window cut into equal stretches of whole days, as long as the picture asks for; none without a window."""
    asked = _asked(found.cells.resolved.windows[figure.window])
    if asked is None:
        return ()
    length = next(days for days in (1, 7, 14, 28, 56) if asked.days <= days * MOST_STRETCHES or days == 56)
    ranges = _cut(asked, length)
    measure = found.recipe.measure
    totals = _Totals.of(found, figure, ranges, first_seen=measure.kind != "derived")
    cells = totals.each(measure)
    return tuple(Stretch(each.first, each.last, cell) for each, cell in zip(ranges, cells, strict=True))


def _days(found: Found, figure: Figure) -> OperandDays:
    resolved, measure = found.cells.resolved, found.recipe.measure
    asked, divisor = _asked(resolved.windows[figure.window]), resolved.stretches[figure.window].divisor
    if asked is None:
        return OperandDays((), ())
    if asked.days > MOST_DAYS:
        raise QuestionError(
            "column",
            say("its window has {days} days.", days=asked.days),
            say("At most {most_days} are listed: narrow it.", most_days=MOST_DAYS),
        )
    ranges = _cut(asked, 1)
    totals = _Totals.of(found, figure, ranges, first_seen=True)
    listed = _listed(measure)
    days = []
    by_column = [totals.each(column) for column in listed]
    for at, each in enumerate(ranges):
        cells = tuple(column[at] for column in by_column)
        so_far = _divided(totals.value(measure, slice(0, at + 1)), divisor)
        days.append(DayFigure(each.first, bool(totals.windows[at].days), cells, cell_of(so_far)))
    columns = (DayColumn(each.name, cell_of(totals.value(each, slice(0, len(ranges))))) for each in listed)
    return OperandDays(tuple(columns), tuple(days))


def _asked(window: Window) -> DayRange | None:
    """From the first to the last day that a window stands for; None where it has a reason to have none."""
    if window.reason is not None:
        return None
    # A range whose periods are each cut at the same point counts days beyond those that its first period asks for.
    ranges = [*([window.asked] if window.asked else []), *window.counted.ranges]
    return DayRange(min(each.first for each in ranges), max(each.last for each in ranges)) if ranges else None


def _divided(value: Value, divisor: int) -> Value:
    """A moving mean of days up to a day: divided by all its periods, as the figure is."""
    return value if divisor == 1 or value.exact is None else Value(value.exact / Fraction(divisor))


def _cut(days: DayRange, length: int) -> tuple[DayRange, ...]:
    ranges, first = [], days.first
    while first <= days.last:
        last = min(add_days(first, length - 1), days.last)
        ranges.append(DayRange(first, last))
        first = add_days(last, 1)
    return tuple(ranges)


def _listed(measure: Measure) -> tuple[Measure, ...]:
    """What of a measure adds up over days: itself, or the sums and numbers of ids that a derived one is made of."""
    if measure.kind != "derived":
        return (measure,)
    if measure.formula is not None:
        leaves = [leaf for part in measure.parts for leaf in _listed(part)]
    else:
        leaves = [_alone(each) for each in measure.quantities]
    return tuple({leaf.name: leaf for leaf in leaves}.values())


def _alone(quantity: Quantity) -> Measure:
    kind, unit = ("distinct", "count") if isinstance(quantity, DistinctIds) else ("additive", "number")
    return Measure(term_name(quantity), kind, unit, "neutral", 0, Terms(((1, quantity),)))  # type: ignore[arg-type]


def term_name(quantity: Quantity) -> str:
    """How a part of a derived measure is called in its formula and over its days."""
    if not isinstance(quantity, LineSum):
        return f"distinct_{quantity.role}"
    return f"{quantity.column}_{ {'sale': 'sold', 'return': 'returned_signed', 'all': 'net'}[quantity.side] }"


@dataclass(frozen=True)
class _Totals:
    """What a figure's measure reads, by range of days. windows: the counted days of each. upto: running integers by range."""

    behind: Behind
    windows: tuple[DaySet, ...]
    upto: dict[Quantity, list[int]]

    @classmethod
    def of(cls, found: Found, figure: Figure, ranges: Sequence[DayRange], *, first_seen: bool) -> _Totals:
        """first_seen: an id counts in the range that has its first line in the window, so that ranges add up; else in each."""
        resolved = found.cells.resolved
        counted, known_by = resolved.windows[figure.window].counted, resolved.known_by(figure.window)
        windows = tuple(counted.intersect(DaySet((each,))) for each in ranges)
        where = behind(found, figure)
        read = quantities_read(found.recipe.measure)
        firsts = [each for each in read if first_seen and isinstance(each, DistinctIds)]
        request = TotalsRequest(windows, (), where.filters, frozenset(read).difference(firsts), (known_by,) * len(windows))
        total = where.source.totals(request)[0].values
        by_range: dict[Quantity, list[int]] = {each: [int(one) for one in total[each][:, 0]] for each in request.quantities}
        for each in firsts:
            days = where.source.first_days(LinesRequest(counted, where.filters, "sale"), each)
            by_range[each] = _by_range(days, ranges).tolist()
        return cls(where, windows, {each: list(_running(numbers)) for each, numbers in by_range.items()})

    def value(self, measure: Measure, ranges: slice) -> Value:
        """A measure on some neighbouring ranges together."""
        integers = [self.upto[each][ranges.stop] - self.upto[each][ranges.start] for each in quantities_read(measure)]
        return evaluate(measure, integers, self.behind.evaluation.resolved.ledger.scales)

    def each(self, measure: Measure) -> list[Cell]:
        """A measure on every range by itself."""
        running = [self.upto[each] for each in quantities_read(measure)]
        columns = [integers(list(map(sub, upto[1:], upto))) for upto in running]
        return cells_of(evaluate_all(measure, columns, self.behind.evaluation.resolved.ledger.scales))


def _running(numbers: Sequence[int]) -> Iterator[int]:
    """0 and the sums of the first one, two, ...: unbounded, as sums of many lines may be."""
    total = 0
    yield total
    for each in numbers:
        total += each
        yield total


def _by_range(days: NDArray[np.int64], ranges: Sequence[DayRange]) -> NDArray[np.int64]:
    firsts = np.array([day_number(each.first) for each in ranges], np.int64)
    return np.bincount(np.searchsorted(firsts, days, "right") - 1, minlength=len(ranges))
