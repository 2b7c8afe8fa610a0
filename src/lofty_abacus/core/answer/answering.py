"""`answer(statement, source)`: the core's one entry for a report."""

from __future__ import annotations

from dataclasses import replace
from datetime import date

from lofty_abacus.core.answer.answer import Answer
from lofty_abacus.core.answer.cells import Cells
from lofty_abacus.core.answer.evaluation import Evaluation
from lofty_abacus.core.answer.frame import answered_periods, answered_windows
from lofty_abacus.core.answer.notices import left_out_by_status, notices_of
from lofty_abacus.core.answer.resolve import OtherLedgers, Resolved, resolve
from lofty_abacus.core.answer.rows import Rows, status_filter
from lofty_abacus.core.answer.table import all_columns, answered_columns, shown_rows, total_row
from lofty_abacus.core.grouping.request import Source
from lofty_abacus.core.money import decimal_text
from lofty_abacus.core.statement.ledger import LedgerFacts
from lofty_abacus.core.statement.levels import dimensions_of
from lofty_abacus.core.statement.limits import StatusLimit
from lofty_abacus.core.statement.statement import Opened, Statement


def answer(
    statement: Statement,
    ledger: LedgerFacts,
    source: Source,
    today: date,
    opened: Opened | None = None,
    others: OtherLedgers | None = None,
) -> Answer:
    """Answer a statement on one ledger version. `today` is the day in the ledger's zone; others: ledgers that its bases name.

    Raises QuestionError where the statement cannot be answered, naming its part, why, and what would work.
    """
    opened = opened or Opened()
    resolved = resolve(statement, ledger, source, today, others)
    evaluation = evaluated(resolved, depth_needed(resolved, opened))
    limited = narrowed(evaluation)
    rows = Rows(Cells(limited))
    columns = all_columns(rows.cells)
    posted, notices = notices_of(evaluation, source)
    narrower = limited is not evaluation
    return Answer(
        ledger=ledger.name,
        version=ledger.version,
        currency=ledger.currency,
        amount_decimals=ledger.scales.amount,
        as_of=resolved.as_of,
        today=today,
        windows=answered_windows(resolved, resolved.source),
        columns=answered_columns(rows.cells, columns),
        rows=shown_rows(rows, columns, opened),
        total=total_row(rows.cells, columns),
        notices=(*notices, *left_out_by_status(evaluation, limited)) if narrower else notices,
        posted_lines=posted.lines,
        posted_amount=decimal_text(posted.amount, ledger.scales.amount),
        periods=answered_periods(resolved),
        total_of_all=replace(total_row(Cells(evaluation), columns), status=None) if narrower else None,
    )


def evaluated(resolved: Resolved, depth: int) -> Evaluation:
    """Ready to be evaluated, with the lines added up to a depth of dimensions down the rows."""
    evaluation = Evaluation(resolved)
    if not resolved.across:
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
