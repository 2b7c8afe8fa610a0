"""What windows some statements would come to, before one of them is chosen. Nothing is added up."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

from lofty_abacus.actions.answer_statement import other_ledgers
from lofty_abacus.actions.ports import Office
from lofty_abacus.core.answer.resolve import resolve
from lofty_abacus.core.errors import QuestionError
from lofty_abacus.core.statement.statement import Statement
from lofty_abacus.core.windows.fairness import Fairness
from lofty_abacus.core.windows.reasons import Reason


@dataclass(frozen=True)
class WindowPreview:
    """A window's first and last day (null: no such period), the days of it that count, and how fair it is to the current one."""

    first: date | None
    last: date | None
    counted_days: int
    fairness: Fairness | None
    reason: Reason | None


@dataclass(frozen=True)
class StatementPreview:
    """A statement's windows, the current one first; refused: why it cannot be answered, in words."""

    windows: tuple[WindowPreview, ...]
    refused: str = ""


def preview_windows(office: Office, ledger: str, statements: Sequence[Statement]) -> tuple[StatementPreview, ...]:
    """The windows of each statement; one that cannot be answered says why. Raises NotFoundError, RecordsError."""
    book = office.books.opened(ledger)
    today = book.record.today(office.now())
    found = []
    for statement in statements:
        try:
            resolved = resolve(statement, book.facts, book.source, today, other_ledgers(office, statement))
        except QuestionError as error:
            found.append(StatementPreview((), str(error)))
            continue
        slot = resolved.slots[0]
        pairs = zip(slot.windows, (None, *slot.bases), strict=True)
        found.append(
            StatementPreview(
                tuple(
                    WindowPreview(
                        window.asked.first if window.asked else None,
                        window.asked.last if window.asked else None,
                        window.counted.days,
                        base.fairness if base else None,
                        window.reason,
                    )
                    for window, base in pairs
                )
            )
        )
    return tuple(found)
