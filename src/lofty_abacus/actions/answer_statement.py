"""Answer a statement on a ledger's current version."""

from __future__ import annotations

from lofty_abacus.actions.ports import Office
from lofty_abacus.core.answer.answer import Answer
from lofty_abacus.core.answer.answering import answer
from lofty_abacus.core.statement.statement import Opened, Statement


def answer_statement(office: Office, ledger: str, statement: Statement, opened: Opened) -> Answer:
    """The answer to a statement. Raises QuestionError, NotFoundError, RecordsError."""
    book = office.books.opened(ledger)
    return answer(statement, book.facts, book.source, book.record.today(office.now()), opened)
