"""A scorecard: verdicts of rows and total, each judged on its own, and those of the periods before (section 11)."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

from lofty_abacus.core.answer.answer import Answer, Row
from lofty_abacus.core.answer.answering import Answering
from lofty_abacus.core.answer.resolve import OtherLedgers
from lofty_abacus.core.errors import QuestionError
from lofty_abacus.core.grouping.request import Source
from lofty_abacus.core.name_order import PLAIN, NameOrder
from lofty_abacus.core.statement.ledger import LedgerFacts
from lofty_abacus.core.statement.scorecard import CardAsked, card_statement, earlier_periods
from lofty_abacus.core.statement.statement import Opened, Statement


@dataclass(frozen=True)
class JudgedRow:
    """A row's verdicts in one period: per goal of the statement whether it was met, null where that cannot be told."""

    path: tuple[str | None, ...]
    met: tuple[bool | None, ...]


@dataclass(frozen=True)
class JudgedPeriod:
    """A period that was judged as of its own end. key: its sortable name. total: its path is empty."""

    key: str
    as_of: date
    total: JudgedRow
    rows: tuple[JudgedRow, ...]


@dataclass(frozen=True)
class Card:
    """A statement's scorecard. statement: the one whose verdicts these are; history: earlier periods, the latest first."""

    statement: Statement
    answer: Answer
    history: tuple[JudgedPeriod, ...]


def scorecard(
    statement: Statement,
    ledger: LedgerFacts,
    source: Source,
    today: date,
    asked: CardAsked,
    others: OtherLedgers | None = None,
    names: NameOrder = PLAIN,
) -> Card:
    """The scorecard of a statement. today: the day in the ledger's zone; others: ledgers that its bases name.

    Periods before the first posted day are judged all the same: nothing can be told of them. Raises QuestionError.
    """
    card = card_statement(statement, asked)
    opened = Opened(max(len(card.rows), 1))
    answer = Answering(card, ledger, source, today, opened, others, names).answer()
    history = []
    for key, before in earlier_periods(card, answer.as_of, ledger.calendar, asked.history if card.goals else 0):
        try:
            then = Answering(before, ledger, source, today, opened, others, names).answer()
        except QuestionError:
            # There are no days of it, or no such period: it ends the history.
            break
        verdicts = tuple(at for at, column in enumerate(then.columns) if column.kind == "goal")
        history.append(
            JudgedPeriod(key, then.as_of, _judged(then.total, verdicts), tuple(_judged(row, verdicts) for row in then.rows))
        )
    return Card(card, answer, tuple(history))


def _judged(row: Row, verdicts: tuple[int, ...]) -> JudgedRow:
    return JudgedRow(row.path, tuple(row.cells[at].met for at in verdicts))
