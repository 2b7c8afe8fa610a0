"""Answer a statement on a ledger."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial

from lofty_abacus.actions.ports import Office
from lofty_abacus.core.answer.answer import Answer, Row
from lofty_abacus.core.answer.answering import Answering
from lofty_abacus.core.answer.resolve import OtherLedgers
from lofty_abacus.core.name_order import PLAIN, NameOrder
from lofty_abacus.core.statement.statement import Opened, Statement
from lofty_abacus.core.windows.bases import LedgerBase
from lofty_abacus.telling.told import ToldAnswer, descriptions, with_words


def answer_statement(
    office: Office, ledger: str, statement: Statement, opened: Opened, version: int | None = None, fill: int | None = None
) -> Answer:
    """The answer to a statement, on an earlier version if one is named. fill: how many rows come with their cells if it is large.

    Raises QuestionError, NotFoundError, RecordsError.
    """
    key, answering = _answering(office, ledger, statement, opened, version)
    return _kept(office, key, answering, fill)


def told_answer(
    office: Office, ledger: str, statement: Statement, opened: Opened, version: int | None = None, fill: int | None = None
) -> ToldAnswer:
    """The same with the words that go with it. Raises as `answer_statement`."""
    key, answering = _answering(office, ledger, statement, opened, version)

    def told() -> ToldAnswer:
        return with_words(_kept(office, key, answering, fill), statement, descriptions(answering.ledger))

    # The words are in the reader's language, as the order of names is.
    found: ToldAnswer = office.answers_told.get((key, fill, office.language), told)
    return found


def _kept(office: Office, key: object, answering: Answering, fill: int | None) -> Answer:
    answer = answering.answer(fill)
    if answer.partial:
        office.large_answers.keep(key, answering)
    return answer


def rows_of_answer(
    office: Office, ledger: str, statement: Statement, opened: Opened, version: int | None, places: Sequence[int]
) -> tuple[Row, ...]:
    """Some rows of an answer with their cells, by their places in it. Raises QuestionError, NotFoundError, RecordsError."""
    key, answering = _answering(office, ledger, statement, opened, version)
    office.large_answers.keep(key, answering)
    return answering.rows(places)


def _answering(
    office: Office, ledger: str, statement: Statement, opened: Opened, version: int | None
) -> tuple[object, Answering]:
    book, others = office.books.opened(ledger, version), other_ledgers(office, statement)
    today = book.record.today(office.now())
    # The facts hold the version and the settings: whatever an answer rests on; lines that were read anew are another source.
    names = name_order(office)
    key = (book.source, book.facts, statement, opened, today, names, list(others.values()))
    kept = office.large_answers.find(key)
    return key, kept or Answering(statement, book.facts, book.source, today, opened, others, names)


def name_order(office: Office) -> NameOrder:
    """The order in which the reader whom the office serves expects names."""
    if office.language not in office.books.languages:
        return PLAIN
    return NameOrder(office.language, partial(office.books.weigh, office.language))


def other_ledgers(office: Office, statement: Statement) -> OtherLedgers:
    """The ledgers that a statement's bases name, those that there are."""
    names = {base.ledger for base in statement.bases if isinstance(base, LedgerBase)}
    known = {each.name for each in office.books.ledgers()} if names else set()
    books = {name: office.books.opened(name) for name in names & known}
    return {name: (book.facts, book.source) for name, book in books.items()}
