"""Answer a statement on a ledger."""

from __future__ import annotations

from lofty_abacus.actions.ports import Office
from lofty_abacus.core.answer.answer import Answer
from lofty_abacus.core.answer.answering import answer
from lofty_abacus.core.statement.statement import Opened, Statement


def answer_statement(office: Office, ledger: str, statement: Statement, opened: Opened, version: int | None = None) -> Answer:
    """The answer to a statement, on an earlier version if one is named. Raises QuestionError, NotFoundError, RecordsError."""
    book = office.books.opened(ledger, version)
    return answer(statement, book.facts, book.source, book.record.today(office.now()), opened)
