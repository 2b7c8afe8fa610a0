"""Prove one number: its formula, windows and lines, down to file and row."""

from __future__ import annotations

from dataclasses import dataclass

from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import ReadLine
from lofty_abacus.core.proof.proof import Proof
from lofty_abacus.core.proof.proving import lines_behind, prove
from lofty_abacus.core.statement.statement import Statement

MOST_LINES = 500

Path = tuple[str | None, ...]


@dataclass(frozen=True)
class LinesPage:
    """Some of the lines behind a figure, the latest day first. total: how many there are in all."""

    total: int
    offset: int
    lines: tuple[ReadLine, ...]


def prove_number(office: Office, ledger: str, statement: Statement, path: Path, column: str) -> Proof:
    """The evidence for one cell. Raises QuestionError, NotFoundError, RecordsError."""
    book = office.books.opened(ledger)
    return prove(statement, book.facts, book.source, book.record.today(office.now()), path, column)


def lines_of_number(
    office: Office, ledger: str, statement: Statement, path: Path, column: str, operand: int, offset: int, limit: int
) -> LinesPage:
    """The lines of one operand of a cell. Raises QuestionError, NotFoundError, RecordsError."""
    book = office.books.opened(ledger)
    ids = lines_behind(statement, book.facts, book.source, book.record.today(office.now()), path, column, operand).ids[::-1]
    page = ids[offset : offset + min(limit, MOST_LINES)]
    lines = office.books.read_lines(book.record.id, [int(each) for each in page])
    return LinesPage(len(ids), offset, tuple(lines))
