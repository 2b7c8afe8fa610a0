"""Answer a statement on a ledger."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass
from datetime import date
from functools import partial
from weakref import ref

from lofty_abacus.actions.ports import Office
from lofty_abacus.core.answer.answer import Answer, Row
from lofty_abacus.core.answer.answering import Answering
from lofty_abacus.core.answer.resolve import OtherLedgers
from lofty_abacus.core.grouping.request import Source
from lofty_abacus.core.name_order import PLAIN, NameOrder
from lofty_abacus.core.statement.ledger import LedgerFacts
from lofty_abacus.core.statement.statement import Opened, Statement
from lofty_abacus.core.windows.bases import LedgerBase
from lofty_abacus.telling.headings import named_rows
from lofty_abacus.telling.told import ToldAnswer, descriptions, with_words


def answer_statement(
    office: Office,
    ledger: str,
    statement: Statement,
    opened: Opened,
    version: int | None = None,
    fill: int | None = None,
    without: Collection[int] = (),
) -> Answer:
    """The answer to a statement, on an earlier version if one is named. fill: how many rows come with their cells if it is large.

    without: batches that came with the version and are left out of it. Raises QuestionError, NotFoundError, RecordsError.
    """
    asked = _asked(office, ledger, statement, opened, version, without)
    return _kept(office, asked, asked.answering(office), fill)


def told_answer(
    office: Office, ledger: str, statement: Statement, opened: Opened, version: int | None = None, fill: int | None = None
) -> ToldAnswer:
    """The same with the words that go with it. Raises as `answer_statement`."""
    asked = _asked(office, ledger, statement, opened, version)

    def told() -> ToldAnswer:
        answering = asked.answering(office)
        return with_words(_kept(office, asked, answering, fill), statement, descriptions(answering.ledger))

    # The words are in the reader's language, as the order of names is.
    found: ToldAnswer = office.answers_told.get((asked.key, fill, office.language), told)
    return found


def rows_of_answer(
    office: Office, ledger: str, statement: Statement, opened: Opened, version: int | None, places: Sequence[int]
) -> tuple[Row, ...]:
    """Some rows of an answer with their cells, by their places in it. Raises QuestionError, NotFoundError, RecordsError."""
    asked = _asked(office, ledger, statement, opened, version)
    answering = asked.answering(office)
    office.large_answers.keep(asked, answering)
    return named_rows(answering.rows(places), statement.rows)


@dataclass(frozen=True)
class _Asked:
    """A question with all that its answer rests on: alike for all who get the same answer.

    The facts hold the version and the settings; lines that were read anew are another source.
    """

    source: Source
    facts: LedgerFacts
    statement: Statement
    opened: Opened
    today: date
    names: NameOrder
    others: OtherLedgers

    @property
    def key(self) -> object:
        """The same without keeping the lines of a version that nobody reads any more."""
        others = [(name, facts, ref(source)) for name, (facts, source) in self.others.items()]
        return ref(self.source), self.facts, self.statement, self.opened, self.today, self.names, others

    def answering(self, office: Office) -> Answering:
        """What answers it: one that is at hand, or a new one. Raises QuestionError."""
        kept = office.large_answers.find(self)
        return kept or Answering(self.statement, self.facts, self.source, self.today, self.opened, self.others, self.names)


def _asked(
    office: Office, ledger: str, statement: Statement, opened: Opened, version: int | None, without: Collection[int] = ()
) -> _Asked:
    book, others = office.books.opened(ledger, version, without), other_ledgers(office, statement)
    return _Asked(book.source, book.facts, statement, opened, book.record.today(office.now()), name_order(office), others)


def _kept(office: Office, asked: _Asked, answering: Answering, fill: int | None) -> Answer:
    answer = answering.answer(fill)
    if answer.partial:
        office.large_answers.keep(asked, answering)
    return answer


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
