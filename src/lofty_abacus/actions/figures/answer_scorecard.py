"""Answer whether goals are met."""

from __future__ import annotations

from lofty_abacus.actions.figures.answer_statement import name_order, other_ledgers
from lofty_abacus.actions.ports import Office
from lofty_abacus.core.answer.scorecard import scorecard
from lofty_abacus.core.statement.scorecard import CardAsked
from lofty_abacus.core.statement.statement import Statement
from lofty_abacus.telling.scorecard import ToldCard, told_card
from lofty_abacus.telling.told import descriptions


def answer_scorecard(office: Office, ledger: str, statement: Statement, asked: CardAsked, version: int | None = None) -> ToldCard:
    """The scorecard of a statement, with its words; on an earlier version if one is named.

    Raises QuestionError, NotFoundError, RecordsError.
    """
    book, others = office.books.opened(ledger, version), other_ledgers(office, statement)
    today = book.record.today(office.now())
    card = scorecard(statement, book.facts, book.source, today, asked, others, name_order(office))
    return told_card(card, descriptions(book.facts))
