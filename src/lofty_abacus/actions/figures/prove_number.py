"""Prove one number: its formula, windows and lines, down to file and row."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from lofty_abacus.actions.errors import RefusedError
from lofty_abacus.actions.figures.answer_statement import name_order, other_ledgers
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.ports.figures import OpenedLedger
from lofty_abacus.actions.records import ReadLine
from lofty_abacus.core.grouping.request import LineSort
from lofty_abacus.core.proof.days import days_behind
from lofty_abacus.core.proof.finding import Found, find, lines_behind
from lofty_abacus.core.proof.proof import OperandDays, Proof
from lofty_abacus.core.proof.proving import prove
from lofty_abacus.core.statement.statement import Statement
from lofty_abacus.export.harmless import harmless

MOST_LINES = 500
#: Lines up to which they are searched: about two seconds of reading.
MOST_SEARCHED = 200_000
PIECE = 5_000
LineIds = NDArray[np.integer[Any]]

RowPath = tuple[str | None, ...]


@dataclass(frozen=True)
class LinesPage:
    """Some of the lines behind a figure, the latest day first. total: how many there are in all."""

    total: int
    offset: int
    lines: tuple[ReadLine, ...]


@dataclass(frozen=True)
class AskedNumber:
    """A number of a ledger: the cell of a statement by its row's members and its column's id. rest: of 'the others' there.

    version: an earlier one; null: the current one.
    """

    ledger: str
    statement: Statement
    column: str
    path: RowPath = ()
    rest: bool = False
    version: int | None = None


def prove_number(office: Office, number: AskedNumber) -> Proof:
    """The evidence for one number. Raises QuestionError, NotFoundError, RecordsError."""
    return prove(_found(office, number)[1])


def days_of_number(office: Office, number: AskedNumber) -> tuple[OperandDays, ...]:
    """Per operand of a number its days. Raises QuestionError, NotFoundError, RecordsError."""
    return days_behind(_found(office, number)[1])


def _found(office: Office, number: AskedNumber) -> tuple[OpenedLedger, Found]:
    book = office.books.opened(number.ledger, number.version)
    today, others = book.record.today(office.now()), other_ledgers(office, number.statement)
    asked = (number.statement, book.facts, book.source, today, number.path, number.column)
    return book, find(*asked, rest=number.rest, others=others, names=name_order(office))


def lines_of_number(
    office: Office,
    number: AskedNumber,
    operand: int,
    offset: int,
    limit: int,
    *,
    search: str = "",
    sort: LineSort = "day",
    descending: bool = True,
) -> LinesPage:
    """The lines of one operand of a number, those that hold a text, in some order.

    Raises QuestionError, NotFoundError, RecordsError; RefusedError for more lines than are searched.
    """
    read, ids = _lines_of(office, number, operand, sort)
    ids = ids[::-1] if descending else ids
    wanted = search.strip().casefold()
    if not wanted:
        return LinesPage(len(ids), offset, tuple(read(ids[offset : offset + min(limit, MOST_LINES)])))
    if len(ids) > MOST_SEARCHED:
        raise RefusedError(
            f"This number is made of {len(ids):,} lines; up to {MOST_SEARCHED:,} are searched. "
            "Take a number further down, or save the lines as a file."
        )
    found = [line for line in read(ids) if any(wanted in text.casefold() for text in _texts(line))]
    return LinesPage(len(found), offset, tuple(found[offset : offset + min(limit, MOST_LINES)]))


def records_of_number(office: Office, number: AskedNumber, operand: int) -> Iterator[list[object]]:
    """All lines of one operand of a number as records for a file, the latest day first and the headings before them.

    Read piece by piece. Raises QuestionError, NotFoundError, RecordsError.
    """
    read, ids = _lines_of(office, number, operand)
    first = read(ids[:1])[0] if len(ids) else None
    names, figures, days = (list(each) for each in (first.members, first.figures, first.days)) if first else ([], [], [])
    yield ["day", *days, "side", *names, "quantity", "amount", "cost", *figures, "line id", "file", "row", "batch"]
    for start in range(0, len(ids), PIECE):
        for line in read(ids[::-1][start : start + PIECE]):
            members = [harmless(line.members.get(name, "")) for name in names]
            own_days = [day.isoformat() if (day := line.days[name]) else "" for name in days]
            numbers = [line.quantity or "", line.amount, line.cost or "", *(line.figures[name] or "" for name in figures)]
            source = [harmless(line.line_ref or ""), harmless(line.file), line.row, line.batch]
            yield [line.day.isoformat(), *own_days, line.side, *members, *numbers, *source]


def _lines_of(
    office: Office, number: AskedNumber, operand: int, sort: LineSort = "day"
) -> tuple[Callable[[LineIds], list[ReadLine]], LineIds]:
    """(what reads lines by id, the ids in order)."""
    book, cell = _found(office, number)
    found = lines_behind(cell, operand, sort)
    posted_in = office.books.ledger(found.ledger).id if found.ledger else book.record.id
    return lambda ids: list(office.books.read_lines(posted_in, ids.tolist())), found.ids


def _texts(line: ReadLine) -> list[str]:
    shown = [line.day.isoformat(), line.amount, line.file, line.line_ref or "", *line.members.values(), *line.keys.values()]
    return [text for text in shown if text]
