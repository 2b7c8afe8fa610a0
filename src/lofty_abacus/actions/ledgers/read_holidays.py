"""Read holidays from a calendar file for a ledger's settings: nothing is kept until the settings are."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

from lofty_abacus.actions.errors import RefusedError
from lofty_abacus.actions.ports import Office
from lofty_abacus.core.saying import counted, say
from lofty_abacus.ingest.holidays import Holiday, read_holidays

#: Characters of a calendar file, and years that are read before the first posted one and after this one.
LONGEST_FILE, YEARS_BEFORE, YEARS_AFTER = 2_000_000, 1, 3


@dataclass(frozen=True)
class HolidaysRead:
    """The holidays of a file between two days, how many of them the ledger does not know yet, and what is said of them."""

    days: tuple[Holiday, ...]
    first: date
    last: date
    new: int
    words: str


def holidays_of_file(office: Office, ledger: str, file: str, text: str) -> HolidaysRead:
    """The holidays of a calendar file from the year before the first posted one to three years ahead.

    Raises NotFoundError, RefusedError, UnreadableFileError.
    """
    record = office.books.ledger(ledger)
    if len(text) > LONGEST_FILE:
        raise RefusedError(f"{file} is longer than {LONGEST_FILE:,} characters: export holidays only.")
    facts, today = office.books.facts(record.id), record.today(office.now())
    posted = [each.days.first for each in facts.feeds]
    first = date(max(min([today, *posted]).year - YEARS_BEFORE, 1), 1, 1)
    last = date(min(today.year + YEARS_AFTER, 9999), 12, 31)
    found = read_holidays(file, text, first, last)
    new = len({each.day for each in found.days} - set(facts.calendar.holidays))
    words = [
        counted(
            "{file}: {number} holiday from {first} to {last}",
            "{file}: {number} holidays from {first} to {last}",
            len(found.days),
            file=file,
            first=first.year,
            last=last.year,
        ),
        say("{new} of them new", new=new),
    ]
    if found.left_out:
        words.append(
            counted(
                "{number} entry of less or much more than a day is left out",
                "{number} entries of less or much more than a day are left out",
                found.left_out,
            )
        )
    return HolidaysRead(found.days, first, last, new, "; ".join(words) + ".")
