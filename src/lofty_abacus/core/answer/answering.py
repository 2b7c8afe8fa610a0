"""`Answering(statement, source)`: the core's one entry for a report."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from datetime import date

from lofty_abacus.core.answer.answer import Answer, Row
from lofty_abacus.core.answer.cells import Cells
from lofty_abacus.core.answer.evaluation import Evaluation
from lofty_abacus.core.answer.frame import answered_periods, answered_windows
from lofty_abacus.core.answer.listed import ListedRows
from lofty_abacus.core.answer.nodes import Node
from lofty_abacus.core.answer.notices import left_out_by_status, notices_of
from lofty_abacus.core.answer.resolve import OtherLedgers, Resolved, resolve
from lofty_abacus.core.answer.rows import Rows, status_filter
from lofty_abacus.core.answer.table import (
    all_columns,
    answered_columns,
    answered_rows,
    shown_rows,
    total_row,
)
from lofty_abacus.core.errors import QuestionError
from lofty_abacus.core.grouping.request import Source
from lofty_abacus.core.money import decimal_text
from lofty_abacus.core.name_order import PLAIN, NameOrder
from lofty_abacus.core.saying import say
from lofty_abacus.core.statement.ledger import LedgerFacts
from lofty_abacus.core.statement.levels import dimensions_of
from lofty_abacus.core.statement.limits import StatusLimit
from lofty_abacus.core.statement.statement import Opened, Statement

#: Cells up to which a table comes whole.
MOST_SENT = 10_000


class Answering:
    """A statement on one ledger version, with its rows in order; cells are made when they are asked for.

    `today` is the day in the ledger's zone; others: ledgers that its bases name; names: the order of its reader's. Raises
    QuestionError where the statement cannot be answered, naming its part, why, and what would work.
    """

    def __init__(
        self,
        statement: Statement,
        ledger: LedgerFacts,
        source: Source,
        today: date,
        opened: Opened | None = None,
        others: OtherLedgers | None = None,
        names: NameOrder = PLAIN,
    ) -> None:
        opened = opened or Opened()
        resolved = resolve(statement, ledger, source, today, others, names)
        self._ledger, self._source = ledger, source
        self._evaluation = evaluated(resolved, depth_needed(resolved, opened))
        self._limited = narrowed(self._evaluation)
        self._rows = Rows(Cells(self._limited))
        self._columns = all_columns(self._rows.cells)
        self._listed = ListedRows(self._rows.shown(opened))

    def answer(self, fill: int | None = None) -> Answer:
        """The answer. fill: how many of the first rows come with their cells where the table is large; all where None.

        Periods that are the outermost rows are always filled: a chart is drawn from them.
        """
        evaluation, ledger = self._evaluation, self._ledger
        resolved, columns = evaluation.resolved, self._columns
        posted, notices = notices_of(evaluation, self._source)
        narrower = self._limited is not evaluation
        large = len(self._listed) * len(columns) > MOST_SENT and not resolved.statement.shares_add_up
        partial = fill is not None and large and fill < len(self._listed)
        return Answer(
            ledger=ledger.name,
            version=ledger.version,
            currency=ledger.currency,
            amount_decimals=ledger.scales.amount,
            as_of=resolved.as_of,
            today=resolved.today,
            windows=answered_windows(resolved, resolved.source),
            columns=answered_columns(self._rows.cells, columns),
            rows=self._first(fill) if partial and fill is not None else shown_rows(self._rows, list(self._listed), columns),
            total=total_row(self._rows.cells, columns),
            notices=(*notices, *left_out_by_status(evaluation, self._limited)) if narrower else notices,
            posted_lines=posted.lines,
            posted_amount=decimal_text(posted.amount, ledger.scales.amount),
            periods=answered_periods(resolved),
            total_of_all=replace(total_row(Cells(evaluation), columns), status=None) if narrower else None,
            partial=partial,
        )

    @property
    def ledger(self) -> LedgerFacts:
        """What it is asked of."""
        return self._ledger

    def _first(self, fill: int) -> tuple[Row, ...]:
        found = self._listed.bare()
        filled = list(range(min(fill, len(found))))
        if self._rows.cells.rows.has_time:
            filled += [at for at, row in enumerate(self._listed) if at >= fill and _is_period(row.node)]
        for at, row in zip(filled, answered_rows([self._listed.at(at) for at in filled], self._columns), strict=True):
            found[at] = row
        return tuple(found)

    def rows(self, places: Sequence[int]) -> tuple[Row, ...]:
        """Some rows with their cells, by their places in the answer. Raises QuestionError for a place that there is none of."""
        wrong = next((at for at in places if not 0 <= at < len(self._listed)), None)
        if wrong is not None:
            raise QuestionError(
                "rows",
                say("there is no row {wrong}; the answer has {number}.", wrong=wrong, number=len(self._listed)),
                say("Ask for it again."),
            )
        return tuple(answered_rows([self._listed.at(at) for at in places], self._columns))


def _is_period(node: Node) -> bool:
    """Whether a row stands for a period of all lines: no member fixes it."""
    return node.depth > 0 and not node.spot.codes


def answer(
    statement: Statement,
    ledger: LedgerFacts,
    source: Source,
    today: date,
    opened: Opened | None = None,
    others: OtherLedgers | None = None,
) -> Answer:
    """The whole answer to a statement, as `Answering` gives it."""
    return Answering(statement, ledger, source, today, opened, others).answer()


def evaluated(resolved: Resolved, depth: int) -> Evaluation:
    """Ready to be evaluated, with the lines added up to a depth of dimensions down the rows."""
    evaluation = Evaluation(resolved)
    if not resolved.across:
        # Where time alone stands across, too many columns are refused before anything is added up.
        all_columns(Cells(evaluation))
        evaluation.table(resolved.rows[:depth])
    return evaluation


def depth_needed(resolved: Resolved, opened: Opened) -> int:
    """How many row dimensions must be added up to show what is open."""
    deepest = max([opened.depth, *(len(path) + 1 for path in opened.paths)])
    return len(dimensions_of(resolved.statement.rows[:deepest]))


def narrowed(evaluation: Evaluation) -> Evaluation:
    """Narrowed to the rows of some status, where the statement asks for them; else the same (section 8)."""
    for limit in evaluation.resolved.statement.limits:
        if isinstance(limit, StatusLimit):
            kept = status_filter(evaluation, limit, evaluation.resolved.rows)
            evaluation = Evaluation(evaluation.resolved, (*evaluation.kept, kept))
    return evaluation
