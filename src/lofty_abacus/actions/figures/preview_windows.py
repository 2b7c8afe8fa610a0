"""What statements say and what windows they would come to, before one of them is answered. Nothing is added up."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from typing import get_args

from lofty_abacus.actions.figures.answer_statement import other_ledgers
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.ports.figures import OpenedLedger
from lofty_abacus.core.answer.outline import outline_of
from lofty_abacus.core.answer.resolve import Resolved, resolve
from lofty_abacus.core.errors import QuestionError
from lofty_abacus.core.statement.checking import show_refusal
from lofty_abacus.core.statement.ledger import LedgerFacts
from lofty_abacus.core.statement.statement import Show, Statement
from lofty_abacus.core.windows.fairness import Fairness
from lofty_abacus.core.windows.reasons import Reason
from lofty_abacus.telling.conventions import Convention, conventions_of
from lofty_abacus.telling.sentence import Said, sentence_parts, title_of
from lofty_abacus.telling.windows import days_told


@dataclass(frozen=True)
class WindowPreview:
    """A window's first and last day (null: no such period), its days that count, how fair it is to the current one; in words."""

    first: date | None
    last: date | None
    counted_days: int
    fairness: Fairness | None
    reason: Reason | None
    words: str


@dataclass(frozen=True)
class StatementPreview:
    """A statement's windows, the current one first; refused: why it cannot be answered, in words.

    title: what it is called where nobody named it. parts: the statement as it is read, part by part.
    """

    windows: tuple[WindowPreview, ...]
    refused: str = ""
    title: str = ""
    parts: tuple[Said, ...] = ()


@dataclass(frozen=True)
class StatementTold(StatementPreview):
    """The same of the statement on screen, with what there is to choose.

    conventions: how it can be read. refusals: per measure, what cannot stand beside it, and what would work.
    """

    conventions: tuple[Convention, ...] = ()
    refusals: tuple[Mapping[Show, str], ...] = ()


def preview_windows(office: Office, ledger: str, statements: Sequence[Statement]) -> tuple[StatementPreview, ...]:
    """The words and windows of each statement; one that cannot be answered says why. Raises NotFoundError, RecordsError."""
    book = office.books.opened(ledger)
    return tuple(_preview(office, book, statement) for statement in statements)


def tell_statement(office: Office, ledger: str, statement: Statement) -> StatementTold:
    """The statement in words, with what there is to choose. Raises NotFoundError, RecordsError."""
    book = office.books.opened(ledger)
    found = _preview(office, book, statement)
    return StatementTold(
        found.windows,
        found.refused,
        found.title,
        found.parts,
        conventions_of(statement, book.facts),
        _refusals(statement, book.facts),
    )


def _preview(office: Office, book: OpenedLedger, statement: Statement) -> StatementPreview:
    today = book.record.today(office.now())
    try:
        resolved = resolve(statement, book.facts, book.source, today, other_ledgers(office, statement))
    except QuestionError as error:
        return StatementPreview((), str(error), title_of(statement), sentence_parts(statement))
    parts = sentence_parts(statement, outline_of(resolved))
    return StatementPreview(_windows(resolved), title=title_of(statement), parts=parts)


def _windows(resolved: Resolved) -> tuple[WindowPreview, ...]:
    root = resolved.slots[0]
    return tuple(
        WindowPreview(
            window.asked.first if window.asked else None,
            window.asked.last if window.asked else None,
            window.counted.days,
            base.fairness if base else None,
            window.reason,
            days_told(window.asked, window.counted.days, base.fairness if base else None, window.reason),
        )
        for window, base in zip(root.windows, (None, *root.bases), strict=True)
    )


def _refusals(statement: Statement, ledger: LedgerFacts) -> tuple[Mapping[Show, str], ...]:
    known = ledger.measures(statement.defined)
    found = []
    for shown in statement.measures:
        measure = known.get(shown.measure)
        refused = {show: show_refusal(show, shown, measure, statement) for show in get_args(Show)} if measure else {}
        found.append({show: refusal[1] for show, refusal in refused.items() if refusal})
    return tuple(found)
