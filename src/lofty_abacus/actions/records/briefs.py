"""Briefs as they are kept and handed out, their issues, mail on its way, and alerts."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import date, datetime
from typing import Literal

from lofty_abacus.core.statement.limits import MemberKey
from lofty_abacus.core.statement.statement import Opened, Statement
from lofty_abacus.export.briefs.brief import Brief

ScheduleKind = Literal["none", "weekly", "month_day", "first_working_day", "posted", "complete"]


@dataclass(frozen=True)
class Schedule:
    """When the next issue is published and handed out by itself, in the ledger's zone.

    weekdays: of a weekly one, 0 for Monday. time: of the day, as 07:00. day: of the month (a shorter month ends it). feed: whose
    posting it waits for, '' for any.
    """

    kind: ScheduleKind = "none"
    weekdays: tuple[int, ...] = (0,)
    time: str = "07:00"
    day: int = 1
    feed: str = ""


@dataclass(frozen=True)
class Person:
    """Somebody who gets issues by mail. copies: the members whose copies they get; none: the whole."""

    address: str
    name: str = ""
    copies: tuple[MemberKey, ...] = ()


@dataclass(frozen=True)
class Handing:
    """How issues are handed out. subject, message: with placeholders. folder: whether issues are put into the folder, too.

    paused: nothing goes out by itself until it is taken up again.
    """

    people: tuple[Person, ...] = ()
    subject: str = "{title}: {headline}"
    message: str = ""
    schedule: Schedule = field(default_factory=Schedule)
    folder: bool = False
    paused: bool = False


@dataclass(frozen=True)
class KeptBrief:
    """A brief under its number.

    scheduled_to: up to when its schedule was looked at. trouble: why the issue that was due last did not come.
    """

    id: int
    ledger_id: int
    brief: Brief
    handing: Handing
    saved_by: str
    saved_at: datetime
    scheduled_to: datetime | None = None
    trouble: str = ""


@dataclass(frozen=True)
class NewCopy:
    """A copy of an issue that is to be published. answers: JSON. checksum: of all of it."""

    member: MemberKey
    label: str
    answers: str
    html: str
    pdf: bytes
    checksum: str


@dataclass(frozen=True)
class NewIssue:
    """An issue that is to be published."""

    brief_id: int
    number: int
    title: str
    as_of: date
    version: int
    author: str
    headline: str
    checksum: str
    brief: Brief
    copies: tuple[NewCopy, ...]


@dataclass(frozen=True)
class CopyRecord:
    """A copy of an issue, without its content. place: 0 is the whole."""

    place: int
    member: MemberKey
    label: str
    checksum: str


@dataclass(frozen=True)
class IssueRecord:
    """A published issue. headline: in one line of text. restated: figures that would be different today; null: not known yet.

    restated_version: the version up to which that is known.
    """

    id: int
    brief_id: int
    number: int
    title: str
    as_of: date
    version: int
    published_at: datetime
    author: str
    headline: str
    checksum: str
    copies: tuple[CopyRecord, ...]
    restated: int | None = None
    restated_version: int | None = None


@dataclass(frozen=True)
class IssueContent:
    """The content of a copy of an issue."""

    answers: str
    html: str
    pdf: bytes
    checksum: str


MailState = Literal["waiting", "sending", "sent", "given_up", "unsure"]


@dataclass(frozen=True)
class NewMail:
    """A message to be sent once. message_id: the same for the same message, however often it is asked for."""

    message_id: str
    address: str
    name: str
    subject: str
    body: str
    issue_id: int | None = None
    place: int = 0


@dataclass(frozen=True)
class MailRecord:
    """A message and what became of it. said: what the mail server said last. unsure: cut off while it was handed over."""

    id: int
    ledger_id: int
    mail: NewMail
    state: MailState
    attempts: int
    made_at: datetime
    next_at: datetime
    ended_at: datetime | None
    said: str


AlertKind = Literal["figures", "feed_behind"]
Comparison = Literal["below", "above"]


@dataclass(frozen=True)
class Alert:
    """A condition that is looked at after each posting and once a day.

    figures: any row of the statement at its deepest level (or the total, where it has no rows) whose column is below or above a
    figure; a percentage is given as such. feed_behind: a feed ('' for any) posted so many days behind today. people: who is told.
    """

    name: str
    kind: AlertKind = "figures"
    statement: Statement | None = None
    opened: Opened = Opened()
    column: str = ""
    comparison: Comparison = "below"
    figure: str = ""
    feed: str = ""
    days: int = 5
    people: tuple[Person, ...] = ()


@dataclass(frozen=True)
class MetRow:
    """A row that meets an alert's condition: what it is called, its figure in words, and what proves it."""

    label: str
    figure: str
    path: tuple[MemberKey, ...] = ()
    column: str = ""


@dataclass(frozen=True)
class AlertFound:
    """What an alert found on a version. words: the condition in words. statement: whose figures these are, pinned to its day."""

    words: str
    as_of: date
    version: int
    rows: tuple[MetRow, ...]
    count: int
    statement: Statement | None = None


@dataclass(frozen=True)
class AlertEvent:
    """When an alert became true, or ended."""

    id: int
    happened_at: datetime
    began: bool
    found: AlertFound


@dataclass(frozen=True)
class KeptAlert:
    """An alert with what is known of it. trouble: why it could not be looked at, '' if it could."""

    id: int
    ledger_id: int
    alert: Alert
    saved_by: str
    saved_at: datetime
    looked_at: datetime | None = None
    looked_version: int | None = None
    true_since: datetime | None = None
    trouble: str = ""
    events: tuple[AlertEvent, ...] = ()
