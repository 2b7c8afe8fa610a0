"""`answer(statement, source)`: the core's one entry for a report."""

from __future__ import annotations

from datetime import date

from lofty_abacus.core.answer.answer import Answer
from lofty_abacus.core.answer.evaluation import Evaluation
from lofty_abacus.core.answer.frame import answered_windows
from lofty_abacus.core.answer.notices import notices_of
from lofty_abacus.core.answer.resolve import Resolved, resolve
from lofty_abacus.core.answer.table import answered_columns, depth_needed, shown_rows, total_row
from lofty_abacus.core.grouping.request import Source, TotalsRequest
from lofty_abacus.core.money import decimal_text
from lofty_abacus.core.statement.ledger import LedgerFacts
from lofty_abacus.core.statement.statement import Opened, Statement


def answer(statement: Statement, ledger: LedgerFacts, source: Source, today: date, opened: Opened | None = None) -> Answer:
    """Answer a statement on one ledger version. `today` is the day in the ledger's zone.

    Raises QuestionError where the statement cannot be answered, naming its part, why, and what would work.
    """
    opened = opened or Opened()
    resolved = resolve(statement, ledger, source, today)
    posted_source, source = source, resolved.source
    evaluation = evaluated(resolved, depth_needed(len(statement.rows), opened))
    posted, notices = notices_of(evaluation, posted_source)
    return Answer(
        ledger=ledger.name,
        version=ledger.version,
        currency=ledger.currency,
        amount_decimals=ledger.scales.amount,
        as_of=resolved.as_of,
        today=today,
        windows=answered_windows(resolved, source),
        columns=answered_columns(resolved.columns),
        rows=shown_rows(evaluation, source, opened),
        total=total_row(evaluation),
        notices=notices,
        posted_lines=posted.lines,
        posted_amount=decimal_text(posted.amount, ledger.scales.amount),
    )


def evaluated(resolved: Resolved, depth: int) -> Evaluation:
    """Add the lines up to a depth of rows, ready to be evaluated."""
    windows = tuple(window.counted for window in resolved.windows)
    rows = resolved.statement.rows[:depth]
    return Evaluation(resolved, resolved.source.totals(TotalsRequest(windows, rows, resolved.filters, resolved.quantities)))
