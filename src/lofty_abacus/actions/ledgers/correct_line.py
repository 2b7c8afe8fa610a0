"""Correct or void a single posted line, with a reason: a batch of its own."""

from __future__ import annotations

from lofty_abacus.actions.changing import ledger_to_change
from lofty_abacus.actions.errors import RefusedError
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import LineChange, Posting
from lofty_abacus.core.errors import NotExactError
from lofty_abacus.core.money import decimal_parts
from lofty_abacus.ingest.dates import FIRST_DAY, LAST_DAY

LONGEST_REASON = 300


def correct_line(office: Office, ledger: str, line: int, change: LineChange | None, reason: str) -> Posting:
    """Put a changed line in a posted one's place; change None voids it. Raises RefusedError, NotFoundError, RecordsError."""
    said = reason.strip()
    if not 0 < len(said) <= LONGEST_REASON:
        raise RefusedError(f"Say why, in at most {LONGEST_REASON} characters. Nothing was changed.")
    record = ledger_to_change(office, ledger)
    if change is not None:
        _check(change)
    return office.books.correct_line(record.id, line, change, said, record.today(office.now()), office.person)


def _check(change: LineChange) -> None:
    if change == LineChange():
        raise RefusedError("Nothing is changed about this line. Change something, or void it.")
    if change.day is not None and not FIRST_DAY <= change.day <= LAST_DAY:
        raise RefusedError(f"A line's day lies from {FIRST_DAY.year} to {LAST_DAY.year}. Nothing was changed.")
    for name in ("amount", "quantity", "cost"):
        text = getattr(change, name)
        try:
            if text:
                decimal_parts(text)
        except NotExactError as error:
            raise RefusedError(f"{text!r} is no {name}: write it as 1234.50. Nothing was changed.") from error
    if change.amount == "":
        raise RefusedError("A line needs an amount: void it, if it should not count. Nothing was changed.")
