"""Statements under names: those that a ledger offers from the start, and those that people keep."""

from __future__ import annotations

from dataclasses import dataclass, replace

from lofty_abacus.actions.errors import NotFoundError, RefusedError
from lofty_abacus.actions.figures.answer_statement import other_ledgers
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import EarlierStatement, SavedStatement, Unreadable
from lofty_abacus.actions.statements.default_statements import default_statements
from lofty_abacus.core.answer.resolve import resolve

LONGEST_NAME = 120
LONGEST_DESCRIPTION = 400
#: What was kept under a name before: so many are still there.
MOST_EARLIER = 20


@dataclass(frozen=True)
class Statements:
    """saved: by folder and name. offered: the common questions, with the ledger's own columns. unreadable: kept, but not
    understood any more."""

    saved: tuple[SavedStatement, ...]
    offered: tuple[SavedStatement, ...]
    unreadable: tuple[Unreadable, ...] = ()


def list_statements(office: Office, ledger: str) -> Statements:
    """What can be opened in one step. Raises NotFoundError."""
    record = office.books.ledger(ledger)
    facts = office.books.facts(record.id)
    kept = office.books.saved_statements(record.id)
    return Statements(kept.rows, default_statements(facts, record.as_of), kept.unreadable)


def save_statement(office: Office, ledger: str, saved: SavedStatement) -> SavedStatement:
    """Keep a statement under its name, in place of the one before; with a number that one, whatever it was called.

    Raises NameTakenError, QuestionError where it cannot be answered, RefusedError, NotFoundError.
    """
    kept = replace(saved, name=saved.name.strip(), folder=saved.folder.strip(), description=saved.description.strip())
    if not kept.name:
        raise RefusedError("A statement is kept under a name: write one.")
    texts = (("name", kept.name, LONGEST_NAME), ("folder", kept.folder, LONGEST_NAME))
    for what, text, most in (*texts, ("description", kept.description, LONGEST_DESCRIPTION)):
        if len(text) > most:
            raise RefusedError(f"The {what} has {len(text)} characters: keep it to {most}.")
    book = office.books.opened(ledger)
    resolve(kept.statement, book.facts, book.source, book.record.today(office.now()), other_ledgers(office, kept.statement))
    known = office.books.saved_statements(book.record.id).rows
    before = next((each for each in known if (each.id == kept.id if kept.id else each.name == kept.name)), None)
    if kept.id and before is None:
        raise NotFoundError("This statement is kept no more: keep it under a name of its own.")
    kept = replace(kept, saved_by=office.person, saved_at=office.now(), earlier=_earlier(before, kept))
    return replace(kept, id=office.books.save_statement(book.record.id, kept))


def _earlier(before: SavedStatement | None, now: SavedStatement) -> tuple[EarlierStatement, ...]:
    if before is None or before.saved_at is None:
        return ()
    if (before.statement, before.opened, before.layout) == (now.statement, now.opened, now.layout):
        return before.earlier
    was = EarlierStatement(before.statement, before.opened, before.layout, before.saved_by, before.saved_at)
    return (was, *before.earlier)[:MOST_EARLIER]


def forget_statement(office: Office, ledger: str, name: str) -> None:
    """Keep a statement no more. Raises NotFoundError."""
    if not office.books.forget_statement(office.books.ledger(ledger).id, name):
        raise NotFoundError(f"This ledger keeps no statement {name!r}.")


def take_back_statement(office: Office, ledger: str, name: str) -> None:
    """Keep a statement again that was forgotten. Raises NotFoundError."""
    if not office.books.take_back_statement(office.books.ledger(ledger).id, name):
        raise NotFoundError(f"No statement {name!r} was forgotten here.")
