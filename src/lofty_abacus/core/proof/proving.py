"""Find a cell again in the evaluation that makes the table, and lay open what it was made of."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date

from lofty_abacus.core.answer.answer import cell_of, sum_text
from lofty_abacus.core.answer.answering import evaluated
from lofty_abacus.core.answer.evaluation import Evaluation, Spot
from lofty_abacus.core.answer.resolve import ColumnPlan, Resolved, resolve
from lofty_abacus.core.answer.table import answered_columns, find_spot
from lofty_abacus.core.days import add_days, day_of
from lofty_abacus.core.errors import QuestionError, nearest
from lofty_abacus.core.grouping.request import FoundLines, LinesRequest, MemberFilter, Source, TotalsRequest
from lofty_abacus.core.measures.sums import LineSum, Quantity, Side
from lofty_abacus.core.measures.table import Measure, Terms
from lofty_abacus.core.measures.value import evaluate, quantities_read
from lofty_abacus.core.money import decimal_text
from lofty_abacus.core.proof.proof import Operand, Proof, Stretch, Term
from lofty_abacus.core.statement.ledger import LedgerFacts
from lofty_abacus.core.statement.statement import Statement
from lofty_abacus.core.windows.ranges import DayRange, DaySet

MOST_STRETCHES = 60


@dataclass(frozen=True)
class Figure:
    """A value that a cell is made of: whose row, which measure, which window."""

    about: str
    spot: Spot
    path: tuple[str | None, ...]
    window: int


def prove(
    statement: Statement, ledger: LedgerFacts, source: Source, today: date, path: tuple[str | None, ...], column: str
) -> Proof:
    """The evidence for one cell. Raises QuestionError for an unknown row or column."""
    resolved = resolve(statement, ledger, source, today)
    source = resolved.source
    plan, evaluation, spot = _locate(resolved, source, path, column)
    labels = tuple(
        source.members(name).label(source.members(name).codes[key]) for name, key in zip(statement.rows, path, strict=False)
    )
    return Proof(
        column=answered_columns((plan,))[0],
        path=path,
        labels=labels,
        result=cell_of(evaluation.column(spot, plan)),
        operands=tuple(_operand(evaluation, source, plan.measure, each) for each in _figures(evaluation, plan, spot, path)),
        month_end_rule_matters=plan.window > 0 and resolved.bases[plan.window - 1].month_end_rule_matters,
    )


def lines_behind(
    statement: Statement,
    ledger: LedgerFacts,
    source: Source,
    today: date,
    path: tuple[str | None, ...],
    column: str,
    operand: int,
) -> FoundLines:
    """The lines that one operand of a cell was made of. Raises QuestionError for an unknown row, column or operand."""
    resolved = resolve(statement, ledger, source, today)
    source = resolved.source
    plan, evaluation, spot = _locate(resolved, source, path, column)
    figures = list(_figures(evaluation, plan, spot, path))
    if not 0 <= operand < len(figures):
        raise QuestionError("operand", f"this number has {len(figures)} operands, not {operand + 1}.", "Take one of them.")
    return source.lines(_lines_request(evaluation, source, plan.measure, figures[operand]))


def _locate(resolved: Resolved, source: Source, path: tuple[str | None, ...], column: str) -> tuple[ColumnPlan, Evaluation, Spot]:
    plans = {plan.id: plan for plan in resolved.columns}
    if column not in plans:
        raise QuestionError("column", f"the statement has no column {column!r}.", nearest(column, plans))
    if len(path) > len(resolved.statement.rows):
        raise QuestionError("row", f"the statement has {len(resolved.statement.rows)} levels of rows.", "Name fewer.")
    evaluation = evaluated(resolved, len(path))
    return plans[column], evaluation, find_spot(evaluation, source, path)


def _figures(evaluation: Evaluation, plan: ColumnPlan, spot: Spot, path: tuple[str | None, ...]) -> Iterator[Figure]:
    """The figures a cell is made of, in the order of its formula."""
    if plan.kind == "value":
        yield Figure("base" if plan.window else "current", spot, path, plan.window)
        return
    yield Figure("current", spot, path, 0)
    if plan.kind.startswith("share"):
        scope = evaluation.scope(spot, plan)
        yield Figure("scope", scope, path[: scope.depth], 0)
    else:
        yield Figure("base", spot, path, plan.window)


def _operand(evaluation: Evaluation, source: Source, measure: Measure, figure: Figure) -> Operand:
    window = evaluation.resolved.windows[figure.window]
    request = _lines_request(evaluation, source, measure, figure)
    found = source.lines(request)

    def lines(side: Side) -> int:
        return evaluation.quantity(figure.spot, LineSum("lines", side), figure.window)

    every, sales = lines("all"), lines("sale")
    read = every if request.side == "all" else sales if request.side == "sale" else every - sales
    return Operand(
        about=figure.about,
        window=figure.window,
        path=figure.path,
        cell=cell_of(evaluation.value(figure.spot, measure, figure.window)),
        terms=() if window.reason else tuple(_terms(evaluation, measure, figure)),
        days=window.counted.ranges,
        counted_days=window.counted.days,
        lines=len(found.ids),
        sale_lines=sales,
        return_lines=every - sales,
        lines_left_out=read - len(found.ids),
        first_line_day=None if found.first_day is None else day_of(found.first_day),
        last_line_day=None if found.last_day is None else day_of(found.last_day),
        reason=window.reason,
        stretches=_stretches(evaluation, source, measure, figure),
    )


def _lines_request(evaluation: Evaluation, source: Source, measure: Measure, figure: Figure) -> LinesRequest:
    given = tuple(sorted(measure.given))
    counted = evaluation.resolved.windows[figure.window].counted
    return LinesRequest(counted, _filters(evaluation.resolved, source, figure.path), _side_read(measure), given)


def _filters(resolved: Resolved, source: Source, path: tuple[str | None, ...]) -> tuple[MemberFilter, ...]:
    """The statement's filters and the row's own members."""
    rows = tuple(
        MemberFilter(name, frozenset({source.members(name).codes[key]}))
        for name, key in zip(resolved.statement.rows, path, strict=False)
    )
    return resolved.filters + rows


def _side_read(measure: Measure) -> Side:
    sides = {each.side if isinstance(each, LineSum) else "sale" for each in measure.quantities}
    return sides.pop() if len(sides) == 1 else "all"


def _terms(evaluation: Evaluation, measure: Measure, figure: Figure) -> Iterator[Term]:
    """The parts of the value by name: net sales as gross sales less returns, a ratio as its two sides."""

    def text(quantity: Quantity, sign: int = 1) -> str:
        minor = sign * evaluation.quantity(figure.spot, quantity, figure.window)
        return decimal_text(minor, evaluation.resolved.ledger.scales.of(quantity))

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


def _stretches(evaluation: Evaluation, source: Source, measure: Measure, figure: Figure) -> tuple[Stretch, ...]:
    """The window cut into equal stretches of whole days, for the picture; the figures add up to an additive value."""
    resolved = evaluation.resolved
    window = resolved.windows[figure.window]
    if window.asked is None or window.reason:
        return ()
    length = next(days for days in (1, 7, 14, 28, 56) if window.asked.days <= days * MOST_STRETCHES or days == 56)
    ranges = []
    first = window.asked.first
    while first <= window.asked.last:
        last = min(add_days(first, length - 1), window.asked.last)
        ranges.append(DayRange(first, last))
        first = add_days(last, 1)
    if measure.kind != "additive":
        return ()
    windows = tuple(window.counted.intersect(DaySet((each,))) for each in ranges)
    request = TotalsRequest(windows, (), _filters(resolved, source, figure.path), resolved.quantities_of(measure))
    total = source.totals(request)[0]
    stretches = []
    for at, each in enumerate(ranges):
        value = evaluate(measure, total.integers(quantities_read(measure), at, 0), resolved.ledger.scales)
        text = sum_text(value.exact, value.decimals) if value.exact is not None and value.decimals is not None else None
        stretches.append(Stretch(each.first, each.last, text))
    return tuple(stretches)
