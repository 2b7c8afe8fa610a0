"""Briefs that are kept, with how they are handed out."""

from __future__ import annotations

import re
from dataclasses import dataclass, replace
from datetime import UTC, datetime
from email.errors import MessageError
from email.headerregistry import Address

from lofty_abacus.actions.briefs.issues import ledger_of
from lofty_abacus.actions.briefs.schedules import checked_schedule, next_due
from lofty_abacus.actions.errors import NotFoundError, RefusedError
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import LedgerRecord, Unreadable
from lofty_abacus.actions.records.briefs import Handing, IssueRecord, KeptBrief, Person
from lofty_abacus.core.errors import QuestionError
from lofty_abacus.export.briefs.brief import Brief, checked_brief

MOST_PEOPLE = 500
_ADDRESS = re.compile(r"[^@\s<>,;:\"()\[\]\\]+@[A-Za-z0-9]([A-Za-z0-9.-]*[A-Za-z0-9])?")
_LONGEST_ADDRESS = 254
_LONGEST_SUBJECT = 200


@dataclass(frozen=True)
class ListedBrief:
    """A brief with its issues, the latest first. next_due: when its schedule publishes the next one; null: no such moment."""

    kept: KeptBrief
    issues: tuple[IssueRecord, ...]
    next_due: datetime | None = None


@dataclass(frozen=True)
class Briefs:
    """The briefs of a ledger by name; unreadable: kept, but not understood by this build."""

    briefs: tuple[ListedBrief, ...]
    unreadable: tuple[Unreadable, ...] = ()


def list_briefs(office: Office, ledger: str) -> Briefs:
    """A ledger's briefs with their issues. Raises NotFoundError."""
    record = office.books.ledger(ledger)
    kept = office.books.briefs.briefs(record.id)
    return Briefs(tuple(_listed(office, record, each) for each in kept.rows), kept.unreadable)


def listed_brief(office: Office, brief_id: int) -> ListedBrief:
    """A brief with its issues, also one that is kept no more. Raises NotFoundError."""
    kept = office.books.briefs.brief(brief_id)
    return _listed(office, ledger_of(office, kept), kept)


def _listed(office: Office, record: LedgerRecord, kept: KeptBrief) -> ListedBrief:
    due, schedule = None, kept.handing.schedule
    if not kept.handing.paused and schedule.kind != "none":
        due = next_due(schedule, record.time_zone, office.books.facts(record.id).calendar, office.now())
    return ListedBrief(kept, tuple(office.books.briefs.issues(kept.id)), due)


def keep_brief(
    office: Office, ledger: str, brief: Brief, handing: Handing, brief_id: int | None = None, seen: datetime | None = None
) -> KeptBrief:
    """Keep a brief, in place of that number if one is given.

    seen: when that one was kept, as its changer saw it. Raises RefusedError where somebody else kept it since; QuestionError,
    NameTakenError, NotFoundError.
    """
    record = office.books.ledger(ledger)
    if brief_id is not None and seen is not None:
        before = office.books.briefs.brief(brief_id)
        if before.saved_at > seen.replace(tzinfo=seen.tzinfo or UTC):
            who = before.saved_by or "Somebody"
            raise RefusedError(f"{who} changed this brief meanwhile: take theirs, or change yours into it again.")
    number = office.books.briefs.keep_brief(record.id, checked_brief(brief), checked_handing(handing), office.person, brief_id)
    return office.books.briefs.brief(number)


def checked_handing(handing: Handing) -> Handing:
    """How issues are handed out, with its texts trimmed. Raises QuestionError."""
    if len(handing.people) > MOST_PEOPLE:
        raise QuestionError("people", f"there are {len(handing.people)}.", f"Name at most {MOST_PEOPLE}.")
    if len(handing.subject) > _LONGEST_SUBJECT or not handing.subject.isprintable():
        raise QuestionError("subject", "it is no line of a mail.", f"Write one line of at most {_LONGEST_SUBJECT} characters.")
    checked_schedule(handing.schedule)
    return replace(handing, people=checked_people(handing.people))


def checked_people(people: tuple[Person, ...]) -> tuple[Person, ...]:
    """People with their addresses trimmed, each address once. Raises QuestionError, which names the address."""
    found: dict[str, Person] = {}
    for each in people:
        address = each.address.strip()
        if not _is_address(address):
            raise QuestionError("people", f"{address!r} is no address.", "Write one such as name@example.com.")
        if not each.name.isprintable():
            raise QuestionError("people", f"the name of {address} is no line of text.", "Write it on one line.")
        before = found.get(address.casefold())
        copies = tuple(dict.fromkeys((*before.copies, *each.copies))) if before else each.copies
        first = before or replace(each, address=address, name=each.name.strip())
        found[address.casefold()] = replace(first, copies=copies)
    return tuple(found.values())


def _is_address(text: str) -> bool:
    """Whether mail can be sent to a text: as a person writes it, and as the standard has it."""
    if len(text) > _LONGEST_ADDRESS or not _ADDRESS.fullmatch(text) or not text.isascii():
        return False
    try:
        return Address(addr_spec=text).addr_spec == text
    except (MessageError, ValueError):
        return False


def forget_brief(office: Office, brief_id: int, *, forgotten: bool) -> None:
    """Keep a brief no more (its issues stay as they are), or again. Raises NotFoundError."""
    if not office.books.briefs.forget_brief(brief_id, forgotten=forgotten):
        raise NotFoundError(f"There is no brief {brief_id}.")
