"""Make an empty ledger."""

from __future__ import annotations

from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from lofty_abacus.actions.errors import RefusedError
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import LedgerRecord, NewLedger

LONGEST_NAME = 80


def make_ledger(office: Office, new: NewLedger) -> LedgerRecord:
    """Make a ledger. Raises RefusedError for settings that make no sense, NameTakenError."""
    name = new.name.strip()
    if not 0 < len(name) <= LONGEST_NAME:
        raise RefusedError(f"A ledger's name has 1 to {LONGEST_NAME} characters.")
    if len(new.currency) != 3 or not new.currency.isalpha() or not new.currency.isupper():
        raise RefusedError(f"{new.currency!r} is no currency code: three capital letters, like EUR.")
    try:
        ZoneInfo(new.time_zone)
    except (ZoneInfoNotFoundError, ValueError) as error:
        raise RefusedError(f"{new.time_zone!r} is no time zone: use a name like Europe/Vienna or UTC.") from error
    return office.books.make_ledger(NewLedger(name, new.currency, new.time_zone, new.calendar, new.as_of))
