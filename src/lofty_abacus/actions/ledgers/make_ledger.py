"""Make an empty ledger, and change what a ledger is counted by."""

from __future__ import annotations

from dataclasses import replace
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from lofty_abacus.actions.errors import RefusedError
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import LedgerRecord, LedgerSettings, NewLedger
from lofty_abacus.core.errors import nearest
from lofty_abacus.core.money import MAX_SCALE

LONGEST_NAME = 80
LONGEST_DESCRIPTION = 400
_GRAINS = ("day", "week", "month", "quarter", "year")


def make_ledger(office: Office, new: NewLedger) -> LedgerRecord:
    """Make a ledger. Raises RefusedError for settings that make no sense, NameTakenError."""
    _check(new.name, new.currency, new.time_zone)
    return office.books.make_ledger(replace(new, name=new.name.strip()))


def change_settings(office: Office, ledger: str, settings: LedgerSettings) -> LedgerRecord:
    """Change a ledger's settings. Lines stay as they are. Raises RefusedError, NameTakenError, NotFoundError."""
    _check(settings.name, settings.currency, settings.time_zone)
    record = office.books.ledger(ledger)
    facts = office.books.facts(record.id)
    if settings.currency != record.currency and any(each.lines for each in office.books.batches(record.id)):
        raise RefusedError(f"Lines are posted in {record.currency}: make a ledger of its own for {settings.currency}.")
    scales = (
        ("amount", settings.amount_decimals, facts.scales.amount),
        ("quantity", settings.quantity_decimals, facts.scales.quantity),
    )
    for name, wanted, held in scales:
        if not held <= wanted <= MAX_SCALE:
            raise RefusedError(f"The {name} has {held} decimals now: it can have {held} to {MAX_SCALE}.")
    for kept in office.books.kept_mappings(record.id).rows:
        if _GRAINS.index(kept.mapping.grain) > _GRAINS.index(settings.line_grain):
            raise RefusedError(
                f"The lines of {kept.mapping.name!r} are known by {kept.mapping.grain} only: the ledger's lines stand for"
                f" whole {kept.mapping.grain}s."
            )
    days = [each.name for each in facts.days]
    if settings.usual_day and settings.usual_day not in days:
        raise RefusedError(
            f"The lines of this ledger have no day {settings.usual_day!r}. {nearest(settings.usual_day, days)}".strip()
        )
    for feed in settings.coverage:
        if feed.covers_from and feed.covers_through and feed.covers_from > feed.covers_through:
            raise RefusedError(f"The coverage of {feed.feed!r} ends before it starts.")
    if any(len(each.text) > LONGEST_DESCRIPTION for each in settings.descriptions):
        raise RefusedError(f"A description has at most {LONGEST_DESCRIPTION} characters.")
    office.books.change_settings(record.id, replace(settings, name=settings.name.strip()))
    return office.books.ledger(settings.name.strip())


def settings_of(office: Office, ledger: str) -> LedgerSettings:
    """A ledger's settings as they stand. Raises NotFoundError."""
    record = office.books.ledger(ledger)
    facts = office.books.facts(record.id)
    return LedgerSettings(
        name=record.name,
        currency=record.currency,
        time_zone=record.time_zone,
        calendar=facts.calendar,
        as_of=record.as_of,
        line_grain=record.line_grain,
        amount_decimals=facts.scales.amount,
        quantity_decimals=facts.scales.quantity,
        coverage=tuple(office.books.declared_coverage(record.id)),
        usual_day=facts.usual_day,
    )


def _check(name: str, currency: str, time_zone: str) -> None:
    if not 0 < len(name.strip()) <= LONGEST_NAME:
        raise RefusedError(f"A ledger's name has 1 to {LONGEST_NAME} characters.")
    if len(currency) != 3 or not currency.isascii() or not currency.isalpha() or not currency.isupper():
        raise RefusedError(f"{currency!r} is no currency code: three capital letters, like EUR.")
    try:
        ZoneInfo(time_zone)
    except (ZoneInfoNotFoundError, ValueError, OSError) as error:
        raise RefusedError(f"{time_zone!r} is no time zone: use a name like Europe/Vienna or UTC.") from error
