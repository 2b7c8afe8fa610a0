"""Briefs: kept, composed, published, read, handed out."""

from __future__ import annotations

import base64
import hashlib
from collections.abc import Callable
from typing import Literal

from fastapi import APIRouter, Request, Response

from lofty_abacus.actions.briefs.compose_brief import Composing, Whose, compose, members_of
from lofty_abacus.actions.briefs.issues import OpenedIssue, newest_issue, open_issue, read_composed
from lofty_abacus.actions.briefs.keep_briefs import Briefs, ListedBrief, forget_brief, keep_brief, list_briefs, listed_brief
from lofty_abacus.actions.briefs.news_of_draft import news_of
from lofty_abacus.actions.briefs.publish_brief import Publishing, hand_out, note_for_next, publish_brief
from lofty_abacus.actions.briefs.restate_issue import Restatement, restatement_of
from lofty_abacus.actions.briefs.schedules import checked_schedule, next_due
from lofty_abacus.actions.briefs.send_mail import send_again, send_test
from lofty_abacus.actions.ledgers.describe_ledger import descriptions_of
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records.briefs import KeptBrief
from lofty_abacus.actions.work.jobs import Jobs
from lofty_abacus.api.asking import OfficeOf, ask
from lofty_abacus.api.brief_shapes import (
    BriefKept,
    CopyMember,
    Draft,
    DraftPages,
    DraftQuestion,
    HandedOut,
    HandOutQuestion,
    IssueOpened,
    MailLog,
    NextMoment,
    ProvedBlock,
    PublishQuestion,
    ScheduleQuestion,
    TestMail,
)
from lofty_abacus.api.jobs import Job, told
from lofty_abacus.core.statement.statement import Opened
from lofty_abacus.export.briefs.composed import Composed, ComposedFigures
from lofty_abacus.export.briefs.feed import Entry, atom_feed
from lofty_abacus.export.briefs.files import brief_csv, brief_workbook
from lofty_abacus.export.briefs.page import page, with_fonts
from lofty_abacus.export.briefs.pdf import page_pictures, pdf
from lofty_abacus.export.file_names import disposition, file_name

router = APIRouter(prefix="/api", tags=["briefs"])
FileKind = Literal["pdf", "html", "xlsx", "zip", "json"]
_MEDIA: dict[FileKind, str] = {
    "pdf": "application/pdf",
    "html": "text/html; charset=utf-8",
    "xlsx": "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
    "zip": "application/zip",
    "json": "application/json",
}
#: A rendering does nothing and fetches nothing but its fonts, wherever it is shown.
_STILL = "default-src 'none'; style-src 'unsafe-inline'; img-src data:; font-src 'self' data:; frame-ancestors 'self'"
_LOG = 200


@router.get("/briefs")
def get_briefs(office: OfficeOf, name: str) -> Briefs:
    """A ledger's briefs with their issues."""
    return list_briefs(office, name)


@router.get("/briefs/{brief}")
def get_brief(office: OfficeOf, brief: int) -> ListedBrief:
    """A brief with its issues."""
    return listed_brief(office, brief)


@router.put("/briefs")
def put_brief(office: OfficeOf, kept: BriefKept) -> KeptBrief:
    """Keep a brief with how it is handed out."""
    return keep_brief(office, kept.ledger, kept.brief, kept.handing, kept.id, kept.seen)


@router.delete("/briefs/{brief}", status_code=204)
def delete_brief(office: OfficeOf, brief: int) -> None:
    """Keep a brief no more; its issues stay as they are."""
    forget_brief(office, brief, forgotten=True)


@router.post("/briefs/{brief}/taken-back", status_code=204)
def take_back_brief(office: OfficeOf, brief: int) -> None:
    """Keep a brief again that was forgotten."""
    forget_brief(office, brief, forgotten=False)


@router.post("/drafts")
async def post_draft(request: Request, office: OfficeOf, question: DraftQuestion) -> Draft:
    """Compose a brief as it would be published now, with what is new against its last issue."""

    def work() -> Draft:
        composed = _composed(office, question)
        issues = office.books.briefs.issues(question.id) if question.id else []
        last = read_composed(office.books.briefs.content(issues[0].id, 0).answers) if issues else None
        html = with_fonts(page(composed), office.fonts, "served")
        news = () if question.copy else news_of(composed, last)
        return Draft(html, composed.title, composed.as_of, composed.version, _proved(composed), news)

    return await ask(request, work)


@router.post("/drafts/pages")
async def post_draft_pages(request: Request, office: OfficeOf, question: DraftQuestion) -> DraftPages:
    """The same as it will print, page by page."""

    def work() -> DraftPages:
        content = pdf(page(_composed(office, question)), office.fonts)
        pictures = (base64.b64encode(each).decode() for each in page_pictures(content))
        return DraftPages(tuple(f"data:image/png;base64,{each}" for each in pictures))

    return await ask(request, work, "evidence")


@router.post("/drafts/members")
async def post_draft_members(request: Request, office: OfficeOf, question: DraftQuestion) -> tuple[CopyMember, ...]:
    """The members that get a copy of their own."""

    def work() -> tuple[CopyMember, ...]:
        day = _composed(office, question).as_of
        return tuple(CopyMember(each.member, each.label) for each in members_of(office, question.ledger, question.brief, day))

    return await ask(request, work)


def _composed(office: Office, question: DraftQuestion) -> Composed:
    issues = office.books.briefs.issues(question.id) if question.id else []
    whose = Whose(question.member, question.label) if question.copy else None
    note = note_for_next(office, question.brief, issues)
    return compose(office, question.ledger, question.brief, Composing(day=question.day, whose=whose, restated=note))


def _proved(composed: Composed) -> tuple[ProvedBlock, ...]:
    return tuple(
        ProvedBlock(each.kind, each.title, each.caption, each.statement, Opened(max(len(each.statement.rows), 1)), each.layout)
        for each in composed.blocks
        if isinstance(each, ComposedFigures)
    )


@router.post("/briefs/{brief}/issues")
def post_issue(request: Request, office: OfficeOf, brief: int, question: PublishQuestion) -> Job:
    """Publish the next issue of a brief, as a job."""
    jobs: Jobs = request.app.state.jobs
    office.books.briefs.brief(brief)
    asked = Publishing(question.day, question.hand_out)
    return told(jobs.start(lambda progress: publish_brief(office, brief, asked, progress)))


@router.get("/issues/{issue}")
def get_issue(office: OfficeOf, issue: int, place: int = 0) -> IssueOpened:
    """A published issue: what it is, and how its figures are proved."""
    opened = open_issue(office, issue, place)
    blocks = _proved(read_composed(opened.content.answers))
    return IssueOpened(opened.record, opened.kept.brief.name, opened.ledger.name, blocks)


@router.get("/issues/{issue}/page.html", response_class=Response)
def get_issue_page(request: Request, office: OfficeOf, issue: int, place: int = 0) -> Response:
    """A copy of an issue as it was published, to be shown within a page."""
    opened = open_issue(office, issue, place)
    return _shown(request, with_fonts(opened.content.html, office.fonts, "served"))


@router.get("/briefs/{brief}/newest.html", response_class=Response)
def get_newest_page(request: Request, office: OfficeOf, brief: int, place: int = 0) -> Response:
    """The newest issue of a brief: an address that never changes."""
    opened = open_issue(office, newest_issue(office, brief).id, place)
    return _shown(request, with_fonts(opened.content.html, office.fonts, "served"))


@router.get("/briefs/{brief}/newest.pdf", response_class=Response)
def get_newest_pdf(office: OfficeOf, brief: int, place: int = 0) -> Response:
    """The same as PDF."""
    opened = open_issue(office, newest_issue(office, brief).id, place)
    return Response(opened.content.pdf, media_type=_MEDIA["pdf"], headers={"Cache-Control": "no-cache"})


def _shown(request: Request, html: str) -> Response:
    mark = f'"{hashlib.sha256(html.encode()).hexdigest()[:32]}"'
    headers = {"Content-Security-Policy": _STILL, "ETag": mark, "Cache-Control": "no-cache"}
    if request.headers.get("If-None-Match") == mark:
        return Response(status_code=304, headers=headers)
    return Response(html, media_type=_MEDIA["html"], headers=headers)


@router.get("/issues/{issue}/file.{kind}", response_class=Response)
async def get_issue_file(request: Request, office: OfficeOf, issue: int, kind: FileKind, place: int = 0) -> Response:
    """A copy of an issue as a file: PDF, one HTML file, a workbook, CSV with a description of the tables, JSON."""

    def work() -> tuple[bytes, OpenedIssue]:
        opened = open_issue(office, issue, place)
        return _WRITERS[kind](office, opened), opened

    content, opened = await ask(request, work, "evidence")
    label = next((each.label for each in opened.record.copies if each.place == place), "")
    name = file_name(f"{opened.record.title}{f', {label}' if label else ''}", opened.record.as_of, kind)
    return Response(content, media_type=_MEDIA[kind], headers={"Content-Disposition": disposition(name)})


def _workbook(office: Office, opened: OpenedIssue) -> bytes:
    return brief_workbook(read_composed(opened.content.answers), descriptions_of(office, opened.ledger.name))


def _csv(office: Office, opened: OpenedIssue) -> bytes:
    return brief_csv(read_composed(opened.content.answers), descriptions_of(office, opened.ledger.name))


_WRITERS: dict[FileKind, Callable[[Office, OpenedIssue], bytes]] = {
    "pdf": lambda office, opened: opened.content.pdf,
    "html": lambda office, opened: with_fonts(opened.content.html, office.fonts, "within").encode(),
    "xlsx": _workbook,
    "zip": _csv,
    "json": lambda office, opened: opened.content.answers.encode(),
}


@router.get("/issues/{issue}/restated")
async def get_restated(request: Request, office: OfficeOf, issue: int) -> Restatement:
    """What later postings changed of an issue: each figure then and now, and what caused the difference."""
    return await ask(request, lambda: restatement_of(office, issue), "evidence")


@router.get("/briefs/{brief}/feed.atom", response_class=Response)
def get_feed(request: Request, office: OfficeOf, brief: int) -> Response:
    """The issues of a brief as an Atom feed."""
    listed = listed_brief(office, brief)
    entries = [
        Entry(each.number, each.title, each.headline, each.author, each.published_at, f"/read/{brief}/{each.number}")
        for each in listed.issues
    ]
    base = str(request.base_url).rstrip("/")
    content = atom_feed(base, brief, listed.kept.brief.name, listed.kept.saved_at, entries)
    return Response(content, media_type="application/atom+xml")


@router.post("/issues/{issue}/mails")
def post_mails(office: OfficeOf, issue: int, question: HandOutQuestion) -> HandedOut:
    """Hand an issue out by mail; who has it in the outbox already does not get it again."""
    return HandedOut(hand_out(office, issue, question.people))


@router.get("/mails")
def get_mails(office: OfficeOf, name: str, issue: int | None = None) -> MailLog:
    """Where mail goes, and what became of every message."""
    record = office.books.ledger(name)
    return MailLog(office.mail.about, tuple(office.books.outbox.log(record.id, issue, _LOG)))


@router.post("/mails/test", status_code=204)
def post_test_mail(office: OfficeOf, asked: TestMail) -> None:
    """Send a message that shows whether mail arrives."""
    send_test(office, asked.ledger, asked.address)


@router.post("/mails/{mail}/again", status_code=204)
def post_mail_again(office: OfficeOf, mail: int) -> None:
    """Send a message that was given up, or of which nobody knows whether it arrived, once more."""
    send_again(office, mail)


@router.post("/schedules/next")
def post_schedule(office: OfficeOf, question: ScheduleQuestion) -> NextMoment:
    """When a schedule is due next, by the ledger's zone and its holidays."""
    checked_schedule(question.schedule)
    record = office.books.ledger(question.ledger)
    calendar = office.books.facts(record.id).calendar
    at = next_due(question.schedule, record.time_zone, calendar, office.now())
    return NextMoment(at.isoformat() if at else None)
