"""Find a cell again in the evaluation that makes the table, and the lines that each of its figures is made of."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import date

from lofty_abacus.core.answer.answering import narrowed
from lofty_abacus.core.answer.cells import Cells, Figure
from lofty_abacus.core.answer.columns import ColumnRecipe
from lofty_abacus.core.answer.evaluation import TOTAL, Evaluation, Spot
from lofty_abacus.core.answer.nodes import ALONE, Place, Siblings
from lofty_abacus.core.answer.places import Places
from lofty_abacus.core.answer.resolve import OtherLedgers, resolve
from lofty_abacus.core.answer.rows import Rows
from lofty_abacus.core.errors import QuestionError
from lofty_abacus.core.grouping.request import Filter, FoundLines, LineSort, LinesRequest, MemberFilter, Source
from lofty_abacus.core.measures.sums import LineSum, Side
from lofty_abacus.core.measures.table import Measure
from lofty_abacus.core.name_order import PLAIN, NameOrder
from lofty_abacus.core.saying import say
from lofty_abacus.core.statement.ledger import LedgerFacts
from lofty_abacus.core.statement.statement import Statement


@dataclass(frozen=True)
class Found:
    """A cell found again: where it stands, and what evaluates it. slot: its period's number, None where it has none."""

    cells: Cells
    path: tuple[str | None, ...]
    place: Place
    recipe: ColumnRecipe
    siblings: Siblings
    slot: int | None

    @property
    def figures(self) -> list[Figure]:
        """The figures it is made of, in the order of its formula."""
        return [] if self.slot is None else self.cells.figures(Places.of(self.place), self.recipe, self.siblings)


def find(
    statement: Statement,
    ledger: LedgerFacts,
    source: Source,
    today: date,
    path: tuple[str | None, ...],
    column: str,
    *,
    rest: bool = False,
    others: OtherLedgers | None = None,
    names: NameOrder = PLAIN,
) -> Found:
    """A cell by its row's members and its column's id. rest: of 'the others' under the row.

    Raises QuestionError for an unknown row or column.
    """
    rows = Rows(Cells(narrowed(Evaluation(resolve(statement, ledger, source, today, others, names)))))
    recipe, across = rows.column(column)
    node = rows.find(path)
    cells = rows.rest_of(node) if rest else rows.cells
    slot = cells.resolved.slot_at.get((node.time, across.time))
    return Found(cells, path, Place(node, across), recipe, ALONE if rest else rows.siblings_of(node), slot)


@dataclass(frozen=True)
class Behind:
    """Where a figure's lines are: what evaluates them, under which filters; ledger: the other one's name, of a plan."""

    evaluation: Evaluation
    source: Source
    filters: tuple[Filter, ...]
    spot: Spot
    ledger: str = ""


def behind(found: Found, figure: Figure) -> Behind:
    """Where the lines of a figure are. The filters are the statement's, what narrows its rows, and the figure's own members."""
    resolved, evaluation = found.cells.resolved, found.cells.evaluation_of(figure)
    plan = resolved.plan_of(figure.window)
    if plan is None:
        own = _only(figure.spot)
        return Behind(evaluation, resolved.source, (*resolved.filters, *evaluation.kept, *own), figure.spot)
    spot, there = evaluation.planned_spot(plan, figure.spot), evaluation.in_plan(plan)
    if spot is None:
        # A member that the plan does not know: no line of it.
        nothing = MemberFilter(figure.spot.dimensions[0], frozenset())
        return Behind(there, plan.source, (nothing,), TOTAL, plan.ledger.name)
    return Behind(there, plan.source, (*plan.filters, *there.kept, *_only(spot)), spot, plan.ledger.name)


def _only(spot: Spot) -> tuple[Filter, ...]:
    return tuple(MemberFilter(name, frozenset({code})) for name, code in zip(spot.dimensions, spot.codes, strict=True))


def lines_request(found: Found, figure: Figure) -> LinesRequest:
    """Which lines a figure's measure reads."""
    resolved, measure = found.cells.resolved, found.recipe.measure
    counted = resolved.windows[figure.window].counted
    filters = behind(found, figure).filters
    return LinesRequest(counted, filters, _side_read(measure), tuple(sorted(measure.given)), resolved.known_by(figure.window))


def _side_read(measure: Measure) -> Side:
    sides = {each.side if isinstance(each, LineSum) else "sale" for each in measure.quantities}
    return sides.pop() if len(sides) == 1 else "all"


def lines_behind(found: Found, operand: int, sort: LineSort = "day") -> FoundLines:
    """The lines that one operand of a cell was made of, in some order. Raises QuestionError for an unknown operand."""
    figures = found.figures
    if not 0 <= operand < len(figures):
        raise QuestionError(
            "operand",
            say("this number has {number} operands, not {number2}.", number=len(figures), number2=operand + 1),
            say("Take one of them."),
        )
    where = behind(found, figures[operand])
    request = replace(lines_request(found, figures[operand]), sort=sort)
    return replace(where.source.lines(request), ledger=where.ledger)
