"""Do once before anybody waits for it what the first answer of a process takes: machine code loaded, columns opened."""

from __future__ import annotations

from lofty_abacus.actions.errors import ActionError, NotReadyError
from lofty_abacus.actions.figures.answer_statement import answer_statement
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.statements.default_statements import default_statements
from lofty_abacus.core.errors import CoreError


def warm_up(office: Office) -> None:
    """Answer the common questions of the first ledger. What cannot be answered now is told to whoever asks for it."""
    for ledger in office.books.ledgers()[:1]:
        facts = office.books.facts(ledger.id)
        for each in default_statements(facts, ledger.as_of):
            try:
                answer_statement(office, ledger.name, each.statement, each.opened)
            except NotReadyError:
                # Its lines go on being read: waiting for them once more with each statement would only keep everybody away.
                return
            except (ActionError, CoreError):
                continue
