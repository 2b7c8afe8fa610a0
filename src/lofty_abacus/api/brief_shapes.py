"""What travels over HTTP of briefs, mail and alerts."""

from __future__ import annotations

from dataclasses import field
from datetime import date, datetime

from pydantic.dataclasses import dataclass

from lofty_abacus.actions.briefs.news_of_draft import BlockNews
from lofty_abacus.actions.ports.mail import MailAbout
from lofty_abacus.actions.records.briefs import Alert, Handing, IssueRecord, MailRecord, Person, Schedule
from lofty_abacus.api.shapes import STRICT
from lofty_abacus.core.statement.limits import MemberKey
from lofty_abacus.core.statement.statement import Opened, Statement
from lofty_abacus.export.briefs.brief import BlockKind, Brief
from lofty_abacus.export.layout import Layout


@dataclass(frozen=True, config=STRICT)
class BriefKept:
    """A brief to be kept with how it is handed out; id: in place of that one.

    seen: when the one that is replaced was kept, as its changer saw it: refused where somebody else kept it since.
    """

    ledger: str
    brief: Brief
    handing: Handing = field(default_factory=Handing)
    id: int | None = None
    seen: datetime | None = None


@dataclass(frozen=True, config=STRICT)
class DraftQuestion:
    """A brief to be composed now, published or not. id: of the kept one, whose last issue it is held against.

    day: the as-of date instead of its own. member, label: whose copy; only where `copy` is set.
    """

    ledger: str
    brief: Brief
    id: int | None = None
    day: date | None = None
    copy: bool = False
    member: MemberKey = None
    label: str = ""


@dataclass(frozen=True, config=STRICT)
class PublishQuestion:
    """How an issue is published. day: the as-of date instead of the brief's own; hand_out: whether mail goes to its people."""

    day: date | None = None
    hand_out: bool = False


@dataclass(frozen=True, config=STRICT)
class HandOutQuestion:
    """To whom an issue is handed out; null: to its brief's people."""

    people: tuple[Person, ...] | None = None


@dataclass(frozen=True, config=STRICT)
class TestMail:
    """Where a message goes that shows whether mail arrives."""

    ledger: str
    address: str


@dataclass(frozen=True, config=STRICT)
class AlertKept:
    """An alert to be kept; id: in place of that one."""

    ledger: str
    alert: Alert
    id: int | None = None


@dataclass(frozen=True, config=STRICT)
class ScheduleQuestion:
    """A schedule whose next moment is asked for."""

    ledger: str
    schedule: Schedule


@dataclass(frozen=True)
class ProvedBlock:
    """A block of figures: what it is called, and the statement as one of which each of its figures is proved."""

    kind: BlockKind
    title: str
    caption: str
    statement: Statement
    opened: Opened
    layout: Layout


@dataclass(frozen=True)
class Draft:
    """A brief as it would be published now. blocks: those of figures. news: against the last issue."""

    html: str
    title: str
    as_of: date
    version: int
    blocks: tuple[ProvedBlock, ...]
    news: tuple[BlockNews, ...]


@dataclass(frozen=True)
class DraftPages:
    """A brief as it will print: each page as a PNG in a data address."""

    pages: tuple[str, ...]


@dataclass(frozen=True)
class CopyMember:
    """A member that gets a copy of its own."""

    key: MemberKey
    label: str


@dataclass(frozen=True)
class IssueOpened:
    """A published issue as it is read. ledger: its name. blocks: how its figures are proved."""

    record: IssueRecord
    brief: str
    ledger: str
    blocks: tuple[ProvedBlock, ...]


@dataclass(frozen=True)
class HandedOut:
    """How many messages are on their way."""

    messages: int


@dataclass(frozen=True)
class MailLog:
    """Where mail goes, and what became of the messages, the latest first."""

    about: MailAbout
    mails: tuple[MailRecord, ...]


@dataclass(frozen=True)
class NextMoment:
    """The next moment of a schedule, in ISO form; null: none by the clock."""

    at: str | None
