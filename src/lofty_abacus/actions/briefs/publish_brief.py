"""Publish an issue: composed, rendered and kept once, on one version of the ledger, all or nothing."""

from __future__ import annotations

import hashlib
from dataclasses import dataclass, replace
from datetime import date, datetime

from lofty_abacus.actions.briefs.compose_brief import Composing, Whose, compose, members_of
from lofty_abacus.actions.briefs.issues import (
    checksum_of_copy,
    checksum_of_figures,
    checksum_of_issue,
    ledger_of,
    open_issue,
    read_composed,
    written,
)
from lofty_abacus.actions.briefs.restate_issue import restated_note, restatement_of
from lofty_abacus.actions.errors import RefusedError
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import Progress
from lofty_abacus.actions.records.briefs import Handing, IssueRecord, NewCopy, NewIssue, NewMail, Person
from lofty_abacus.core.saying import say
from lofty_abacus.export.briefs.brief import Brief, FigureBlock, RestatedBlock
from lofty_abacus.export.briefs.composed import Composed, ComposedFigures, ComposedRestated
from lofty_abacus.export.briefs.page import page
from lofty_abacus.export.briefs.pdf import pdf
from lofty_abacus.export.briefs.placeholders import filled_in, of_day
from lofty_abacus.export.briefs.plain_text import plain_text
from lofty_abacus.export.briefs.views import plain_headline

#: Copies of one issue.
MOST_COPIES = 2_000


@dataclass(frozen=True)
class Publishing:
    """How an issue is published. day: the as-of date instead of the policy's. hand_out: whether mail goes to its people.

    scheduled_to: the moment up to which its schedule is done with it.
    """

    day: date | None = None
    hand_out: bool = False
    scheduled_to: datetime | None = None


def publish_brief(
    office: Office, brief_id: int, asked: Publishing | None = None, progress: Progress = lambda *_: None
) -> IssueRecord:
    """Publish the next issue of a brief. Raises QuestionError, RefusedError, NotFoundError, RecordsError, StoppedError."""
    asked = asked or Publishing()
    kept = office.books.briefs.brief(brief_id)
    if not any(isinstance(each, FigureBlock) for each in kept.brief.blocks):
        raise RefusedError("There is no figure on this brief yet: put a block on it first.")
    ledger = ledger_of(office, kept)
    issues = office.books.briefs.issues(brief_id)
    composing = Composing(
        version=office.books.opened(ledger.name).facts.version,
        day=asked.day,
        number=(issues[0].number if issues else 0) + 1,
        restated=note_for_next(office, kept.brief, issues),
    )
    progress(say("Composing the issue"), 0, 0)
    whole = compose(office, ledger.name, kept.brief, composing)
    whose = members_of(office, ledger.name, kept.brief, whole.as_of) if kept.brief.copies else ()
    if len(whose) > MOST_COPIES:
        raise RefusedError(f"There would be {len(whose):,} copies: at most {MOST_COPIES:,} are made.")
    copies, texts = [], []
    for at, each in enumerate((None, *whose)):
        progress(say("Rendering copies"), at, len(whose) + 1)
        composed = compose(office, ledger.name, kept.brief, replace(composing, whose=each)) if each else whole
        copies.append(_copy(office, composed, each))
        texts.append(_texts(kept.handing, composed))
    new = NewIssue(
        brief_id=brief_id,
        number=composing.number or 1,
        title=whole.title,
        as_of=whole.as_of,
        version=whole.version,
        author=office.person,
        headline=headline_of(whole)[:300],
        checksum=checksum_of_issue([each.checksum for each in copies]),
        brief=kept.brief,
        copies=tuple(copies),
    )
    mails = _mails(kept.handing.people, copies, texts) if asked.hand_out else ()
    number = office.books.briefs.publish(new, mails, asked.scheduled_to)
    return office.books.briefs.issue(number)


def hand_out(office: Office, issue_id: int, people: tuple[Person, ...] | None = None) -> int:
    """Hand an issue out by mail, to its brief's people or to others; who has it in the outbox already does not get it again.

    How many messages there are to be sent. Raises NotFoundError, RecordsError.
    """
    opened = open_issue(office, issue_id)
    wanted = opened.kept.handing.people if people is None else people
    copies, texts = [], []
    for each in opened.record.copies:
        content = office.books.briefs.content(issue_id, each.place)
        copies.append(NewCopy(each.member, each.label, "", "", b"", each.checksum))
        texts.append(_texts(opened.kept.handing, read_composed(content.answers)))
    mails = [
        replace(mail, issue_id=issue_id, message_id=mail.message_id.format(issue=issue_id))
        for mail in _mails(wanted, copies, texts)
    ]
    return office.books.outbox.add(opened.ledger.id, mails)


def note_for_next(office: Office, brief: Brief, issues: list[IssueRecord]) -> ComposedRestated:
    """What was restated of the newest issue, where the brief has a block that tells it."""
    if not issues or not any(isinstance(each, RestatedBlock) for each in brief.blocks):
        return ComposedRestated(0, ())
    return restated_note(restatement_of(office, issues[0].id))


def headline_of(composed: Composed) -> str:
    """The first figure of a brief in one line of text; '' where it has none."""
    for block in composed.blocks:
        if isinstance(block, ComposedFigures) and block.answer and block.answer.total.cells:
            return plain_headline(block.answer, block.layout)
    return ""


def _copy(office: Office, composed: Composed, whose: Whose | None) -> NewCopy:
    answers = written(composed)
    html = page(composed, checksum_of_figures(answers))
    paper = pdf(html, office.fonts)
    return NewCopy(
        whose.member if whose else None,
        whose.label if whose else "",
        answers,
        html,
        paper,
        checksum_of_copy(answers, html, paper),
    )


def _texts(handing: Handing, composed: Composed) -> tuple[str, str]:
    """Subject and text of the mail that hands a copy out."""
    values = {
        **of_day(composed.as_of),
        "title": composed.title,
        "number": str(composed.number or ""),
        "member": composed.member_label,
        "headline": headline_of(composed),
        "ledger": composed.ledger,
    }
    subject = " ".join(filled_in(handing.subject, values).split()) or composed.title
    text = plain_text(composed)
    message = filled_in(handing.message, values).strip()
    return subject, f"{message}\n\n{text}" if message else text


def _mails(people: tuple[Person, ...], copies: list[NewCopy], texts: list[tuple[str, str]]) -> tuple[NewMail, ...]:
    """A message for each person and copy. Its id says which: asked for again, it is the same message."""
    places = {copy.member: place for place, copy in enumerate(copies) if place}
    found = []
    for person in people:
        wanted = [places[each] for each in person.copies if each in places] if person.copies else [0]
        for place in wanted:
            who = hashlib.sha256(person.address.casefold().encode()).hexdigest()[:20]
            subject, text = texts[place]
            number = f"issue-{{issue}}-{place}-{who}@lofty-abacus"
            found.append(NewMail(number, person.address, person.name, subject, text, None, place))
    return tuple(found)
