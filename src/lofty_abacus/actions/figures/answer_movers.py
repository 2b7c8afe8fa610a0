"""Answer who moved in a statement, and why."""

from __future__ import annotations

from lofty_abacus.actions.figures.answer_statement import name_order, other_ledgers
from lofty_abacus.actions.ports import Office
from lofty_abacus.core.answer.movers import movers
from lofty_abacus.core.statement.movers import MoversAsked
from lofty_abacus.core.statement.statement import Statement
from lofty_abacus.telling.movers import ToldMovers, told_movers


def answer_movers(
    office: Office, ledger: str, statement: Statement, asked: MoversAsked, version: int | None = None
) -> ToldMovers:
    """The movers of a statement at one level, with their words; on an earlier version if one is named.

    Raises QuestionError, NotFoundError, RecordsError.
    """
    book, others = office.books.opened(ledger, version), other_ledgers(office, statement)
    today = book.record.today(office.now())
    return told_movers(movers(statement, book.facts, book.source, today, asked, others, name_order(office)))
