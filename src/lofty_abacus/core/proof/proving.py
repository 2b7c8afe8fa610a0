"""Find a cell again in the evaluation that makes the table, and lay open what it was made of."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from datetime import date

from lofty_abacus.core.answer.answer import cell_of, sum_text
from lofty_abacus.core.answer.answering import narrowed
from lofty_abacus.core.answer.cells import Cells, Figure
from lofty_abacus.core.answer.columns import ColumnPlan
from lofty_abacus.core.answer.evaluation import TOTAL, Evaluation, Spot
from lofty_abacus.core.answer.nodes import Node, Place
from lofty_abacus.core.answer.resolve import OtherLedgers, Resolved, resolve
from lofty_abacus.core.answer.rows import Rows
from lofty_abacus.core.answer.table import answered_column
from lofty_abacus.core.days import add_days, day_of
from lofty_abacus.core.errors import QuestionError
from lofty_abacus.core.grouping.request import Filter, FoundLines, LinesRequest, MemberFilter, Source, TotalsRequest
from lofty_abacus.core.measures.sums import LineSum, Quantity, Side
from lofty_abacus.core.measures.table import Measure, Terms
from lofty_abacus.core.measures.value import evaluate, quantities_read
from lofty_abacus.core.money import decimal_text
from lofty_abacus.core.proof.proof import DayFigure, Fact, Operand, Proof, Stretch, Term
from lofty_abacus.core.statement.ledger import LedgerFacts
from lofty_abacus.core.statement.statement import Statement
from lofty_abacus.core.windows.ranges import DayRange, DaySet

MOST_STRETCHES = 60
MOST_DAYS = 4000


@dataclass(frozen=True)
class Found:
    """A cell found again: where it stands, and what evaluates it. slot: its period's number, None where it has none."""

    cells: Cells
    place: Place
    plan: ColumnPlan
    siblings: tuple[Node, ...]
    slot: int | None

    @property
    def figures(self) -> list[Figure]:
        """The figures it is made of, in the order of its formula."""
        return [] if self.slot is None else self.cells.figures(self.place, self.plan, self.slot)


def prove(
    statement: Statement,
    ledger: LedgerFacts,
    source: Source,
    today: date,
    path: tuple[str | None, ...],
    column: str,
    *,
    rest: bool = False,
    others: OtherLedgers | None = None,
) -> Proof:
    """The evidence for one cell. rest: of 'the others' under a row. Raises QuestionError for an unknown row or column."""
    found = _found(resolve(statement, ledger, source, today, others), path, column, rest=rest)
    cells, plan = found.cells, found.plan
    bases = () if found.slot is None else cells.resolved.slots[found.slot].bases
    return Proof(
        column=answered_column(cells, plan, found.place.across),
        path=path,
        labels=_labels(found),
        result=cell_of(cells.value(found.place, plan, found.siblings)),
        operands=tuple(_operand(found, each) for each in found.figures),
        month_end_rule_matters=plan.window > 0 and bool(bases) and bases[plan.window - 1].month_end_rule_matters,
        facts=tuple(_facts(found)),
    )


def lines_behind(
    statement: Statement,
    ledger: LedgerFacts,
    source: Source,
    today: date,
    path: tuple[str | None, ...],
    column: str,
    operand: int,
    *,
    rest: bool = False,
    others: OtherLedgers | None = None,
) -> FoundLines:
    """The lines that one operand of a cell was made of. Raises QuestionError for an unknown row, column or operand."""
    found = _found(resolve(statement, ledger, source, today, others), path, column, rest=rest)
    figures = found.figures
    if not 0 <= operand < len(figures):
        raise QuestionError("operand", f"this number has {len(figures)} operands, not {operand + 1}.", "Take one of them.")
    behind = _behind(found, figures[operand])
    return replace(behind.source.lines(_lines_request(found, figures[operand])), ledger=behind.ledger)


def days_behind(
    statement: Statement,
    ledger: LedgerFacts,
    source: Source,
    today: date,
    path: tuple[str | None, ...],
    column: str,
    *,
    rest: bool = False,
    others: OtherLedgers | None = None,
) -> tuple[tuple[DayFigure, ...], ...]:
    """Per operand of a cell its window day by day: of additive measures the figures add up to it. Empty for all others.

    Raises QuestionError for an unknown row or column, or for a window of more than MOST_DAYS days.
    """
    found = _found(resolve(statement, ledger, source, today, others), path, column, rest=rest)
    return tuple(_days(found, figure) for figure in found.figures)


def _days(found: Found, figure: Figure) -> tuple[DayFigure, ...]:
    window = found.cells.resolved.windows[figure.window]
    if window.asked is not None and window.asked.days > MOST_DAYS:
        raise QuestionError("column", f"its window has {window.asked.days} days.", f"At most {MOST_DAYS} are listed: narrow it.")
    counted = window.counted
    return tuple(
        DayFigure(each.first, each.value, bool(counted.intersect(DaySet((DayRange(each.first, each.first),))).days))
        for each in _stretches(found, figure, 1)
    )


def _found(resolved: Resolved, path: tuple[str | None, ...], column: str, *, rest: bool) -> Found:
    rows = Rows(Cells(narrowed(Evaluation(resolved))))
    plan, across = rows.column(column)
    node = rows.find(path)
    cells = rows.rest_of(node) if rest else rows.cells
    slot = resolved.slot_at.get((node.time, across.time))
    return Found(cells, Place(node, across), plan, () if rest else rows.siblings_of(node), slot)


def _labels(found: Found) -> tuple[str, ...]:
    spot, source = found.place.row.spot, found.cells.resolved.source
    members = iter(source.members(name).label(code) for name, code in zip(spot.dimensions, spot.codes, strict=True))
    times = iter(found.place.row.time)
    levels = found.cells.rows.levels[: found.place.row.depth]
    return tuple(next(members) if isinstance(level, str) else next(times) for level in levels)


def _facts(found: Found) -> Iterator[Fact]:
    """What else a number rests on: how many stand in its list, the steps of a change with those beside it."""
    cells, plan, place = found.cells, found.plan, found.place
    if plan.kind == "rank":
        yield Fact("siblings", str(len(cells.siblings(place))))
    elif plan.kind in ("cumulative", "cumulative_share") and place.row in found.siblings:
        yield Fact("rows_so_far", str(found.siblings.index(place.row) + 1))
    elif plan.kind in ("bridge", "price_volume_mix"):
        for other in cells.resolved.columns:
            if other.kind == plan.kind and other.metric == plan.metric and other.window == plan.window:
                value = cells.value(place, other)
                yield Fact(other.step, cell_of(value).value or "", value.reason)
    elif plan.goal is not None:
        verdict = cells.verdict(place, plan)
        yield Fact("target", plan.goal.target)
        if verdict is not None and verdict.met is not None:
            yield Fact("met", "yes" if verdict.met else "no")


@dataclass(frozen=True)
class Behind:
    """Where a figure's lines are: what evaluates them, under which filters; ledger: the other one's name, of a plan."""

    evaluation: Evaluation
    source: Source
    filters: tuple[Filter, ...]
    spot: Spot
    ledger: str = ""


def _behind(found: Found, figure: Figure) -> Behind:
    resolved = found.cells.resolved
    evaluation = found.cells.rest if figure.of_rest and found.cells.rest is not None else found.cells.evaluation
    plan = resolved.plan_of(figure.window)
    if plan is None:
        return Behind(evaluation, resolved.source, (*resolved.filters, *evaluation.kept), figure.spot)
    spot, there = evaluation.planned_spot(plan, figure.spot), evaluation.in_plan(plan)
    if spot is None:
        # A member that the plan does not know: no line of it.
        nothing = MemberFilter(figure.spot.dimensions[0], frozenset())
        return Behind(there, plan.source, (nothing,), TOTAL, plan.ledger.name)
    return Behind(there, plan.source, (*plan.filters, *there.kept), spot, plan.ledger.name)


def _operand(found: Found, figure: Figure) -> Operand:
    behind = _behind(found, figure)
    evaluation = found.cells.rest if figure.of_rest and found.cells.rest is not None else found.cells.evaluation
    resolved, measure = found.cells.resolved, found.plan.measure
    stretch = resolved.stretches[figure.window]
    window = stretch.window
    request = _lines_request(found, figure)
    lines_found = behind.source.lines(request)

    def lines(side: Side) -> int:
        return behind.evaluation.quantity(behind.spot, LineSum("lines", side), figure.window)

    every, sales = lines("all"), lines("sale")
    read = every if request.side == "all" else sales if request.side == "sale" else every - sales
    return Operand(
        about=figure.about,
        window=figure.window % (len(resolved.bases) + 1),
        path=tuple(
            resolved.source.members(name).key(code) for name, code in zip(figure.spot.dimensions, figure.spot.codes, strict=True)
        ),
        cell=cell_of(evaluation.value(figure.spot, measure, figure.window)),
        terms=() if window.reason else tuple(_terms(behind, measure, figure.window)),
        days=window.counted.ranges,
        counted_days=window.counted.days,
        lines=len(lines_found.ids),
        sale_lines=sales,
        return_lines=every - sales,
        lines_left_out=0 if behind.ledger else read - len(lines_found.ids),
        first_line_day=None if lines_found.first_day is None else day_of(lines_found.first_day),
        last_line_day=None if lines_found.last_day is None else day_of(lines_found.last_day),
        reason=window.reason,
        stretches=_stretches(found, figure),
        dimensions=figure.spot.dimensions,
        divisor=stretch.divisor,
        ledger=behind.ledger,
    )


def _lines_request(found: Found, figure: Figure) -> LinesRequest:
    resolved, measure = found.cells.resolved, found.plan.measure
    counted = resolved.windows[figure.window].counted
    filters = _filters(found, figure)
    return LinesRequest(counted, filters, _side_read(measure), tuple(sorted(measure.given)), resolved.known_by(figure.window))


def _filters(found: Found, figure: Figure) -> tuple[Filter, ...]:
    """The statement's filters, what narrows its rows, and the figure's own members."""
    behind = _behind(found, figure)
    spot = behind.spot
    members = tuple(MemberFilter(name, frozenset({code})) for name, code in zip(spot.dimensions, spot.codes, strict=True))
    return (*behind.filters, *members)


def _side_read(measure: Measure) -> Side:
    sides = {each.side if isinstance(each, LineSum) else "sale" for each in measure.quantities}
    return sides.pop() if len(sides) == 1 else "all"


def _terms(behind: Behind, measure: Measure, window: int) -> Iterator[Term]:
    """The parts of the value by name: net sales as gross sales less returns, a ratio as its two sides."""

    if measure.formula is not None:
        for part in measure.parts:
            value = behind.evaluation.value(behind.spot, part, window)
            yield Term(part.name, 1, cell_of(value).value or "", reason=value.reason)
        return

    def text(quantity: Quantity, sign: int = 1) -> str:
        minor = sign * behind.evaluation.quantity(behind.spot, quantity, window)
        return decimal_text(minor, behind.evaluation.resolved.ledger.scales.of(quantity))

    def parts(terms: Terms, *, divides: bool) -> Iterator[Term]:
        for sign, quantity in terms.terms:
            if measure.bottom is None and isinstance(quantity, LineSum) and quantity.side == "all":
                sale = LineSum(quantity.column, "sale", quantity.given)
                back = LineSum(quantity.column, "return", quantity.given)
                yield Term(f"{quantity.column}_sold", sign, text(sale))
                yield Term(f"{quantity.column}_returned", -sign, text(back, -1))
            else:
                yield Term(_term_name(quantity), sign, text(quantity), divides)

    yield from parts(measure.top, divides=False)
    if measure.bottom is not None:
        yield from parts(measure.bottom, divides=True)


def _term_name(quantity: Quantity) -> str:
    if not isinstance(quantity, LineSum):
        return f"distinct_{quantity.role}"
    return f"{quantity.column}_{ {'sale': 'sold', 'return': 'returned_signed', 'all': 'net'}[quantity.side] }"


def _stretches(found: Found, figure: Figure, length: int | None = None) -> tuple[Stretch, ...]:
    """The window cut into equal stretches of whole days, as long as the picture asks for where no length is given.

    The figures add up to an additive value.
    """
    resolved, measure = found.cells.resolved, found.plan.measure
    window = resolved.windows[figure.window]
    if window.asked is None or window.reason or measure.kind != "additive":
        return ()
    length = length or next(days for days in (1, 7, 14, 28, 56) if window.asked.days <= days * MOST_STRETCHES or days == 56)
    ranges = []
    first = window.asked.first
    while first <= window.asked.last:
        last = min(add_days(first, length - 1), window.asked.last)
        ranges.append(DayRange(first, last))
        first = add_days(last, 1)
    windows = tuple(window.counted.intersect(DaySet((each,))) for each in ranges)
    known_by = (resolved.known_by(figure.window),) * len(windows)
    request = TotalsRequest(windows, (), _filters(found, figure), resolved.quantities_of(measure), known_by)
    behind = _behind(found, figure)
    total = behind.source.totals(request)[0]
    stretches = []
    for at, each in enumerate(ranges):
        value = evaluate(measure, total.integers(quantities_read(measure), at, 0), behind.evaluation.resolved.ledger.scales)
        text = sum_text(value.exact, value.decimals) if value.exact is not None and value.decimals is not None else None
        stretches.append(Stretch(each.first, each.last, text))
    return tuple(stretches)
