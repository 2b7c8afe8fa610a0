"""Answer a statement on a ledger."""

from __future__ import annotations

from lofty_abacus.actions.ports import Office
from lofty_abacus.core.answer.answer import Answer
from lofty_abacus.core.answer.answering import answer
from lofty_abacus.core.answer.resolve import OtherLedgers
from lofty_abacus.core.statement.statement import Opened, Statement
from lofty_abacus.core.windows.bases import LedgerBase


def answer_statement(office: Office, ledger: str, statement: Statement, opened: Opened, version: int | None = None) -> Answer:
    """The answer to a statement, on an earlier version if one is named. Raises QuestionError, NotFoundError, RecordsError."""
    book = office.books.opened(ledger, version)
    others = other_ledgers(office, statement)
    return answer(statement, book.facts, book.source, book.record.today(office.now()), opened, others)


def other_ledgers(office: Office, statement: Statement) -> OtherLedgers:
    """The ledgers that a statement's bases name, those that there are."""
    names = {base.ledger for base in statement.bases if isinstance(base, LedgerBase)}
    known = {each.name for each in office.books.ledgers()} if names else set()
    books = {name: office.books.opened(name) for name in names & known}
    return {name: (book.facts, book.source) for name, book in books.items()}
