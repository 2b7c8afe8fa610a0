"""The records as briefs need them."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime
from typing import Protocol

from lofty_abacus.actions.records.briefs import (
    Alert,
    AlertFound,
    Handing,
    IssueContent,
    IssueRecord,
    KeptAlert,
    KeptBrief,
    MailRecord,
    MailState,
    NewIssue,
    NewMail,
)
from lofty_abacus.actions.records.kept import Kept
from lofty_abacus.export.briefs.brief import Brief


class BriefBooks(Protocol):
    """The records as briefs need them: what is kept, what was published, what was found of it."""

    def briefs(self, ledger_id: int) -> Kept[KeptBrief]:
        """A ledger's briefs by name."""
        ...

    def brief(self, brief_id: int) -> KeptBrief:
        """A brief by number. Raises NotFoundError."""
        ...

    def keep_brief(self, ledger_id: int, brief: Brief, handing: Handing, by: str, brief_id: int | None = None) -> int:
        """Keep a brief, in place of that number if one is given; its number. Raises NameTakenError, NotFoundError."""
        ...

    def forget_brief(self, brief_id: int, *, forgotten: bool) -> bool:
        """Keep a brief no more (its issues stay), or again; False where there is none."""
        ...

    def scheduled(self, brief_id: int, at: datetime, trouble: str = "") -> None:
        """A brief's schedule was looked at up to a moment. trouble: why no issue came of it, '' where none was due."""
        ...

    def publish(self, new: NewIssue, mails: Sequence[NewMail], scheduled_to: datetime | None = None) -> int:
        """Keep an issue with all its copies and the mail that hands it out, all or nothing; its number in the records.

        scheduled_to: the moment up to which the brief's schedule is done with it. Raises RefusedError where another issue took
        its number meanwhile.
        """
        ...

    def issues(self, brief_id: int) -> list[IssueRecord]:
        """The issues of a brief, the latest first."""
        ...

    def issue(self, issue_id: int) -> IssueRecord:
        """An issue. Raises NotFoundError."""
        ...

    def content(self, issue_id: int, place: int) -> IssueContent:
        """The content of a copy of an issue. Raises NotFoundError."""
        ...

    def restatement(self, issue_id: int) -> tuple[int, str] | None:
        """The version up to which it is known what was restated of an issue, and what, as JSON; None: nothing is known."""
        ...

    def keep_restatement(self, issue_id: int, version: int, figures: int, body: str) -> None:
        """Keep what was restated of an issue, in place of what was known before."""
        ...


class OutboxBooks(Protocol):
    """The records as sending needs them."""

    def add(self, ledger_id: int, mails: Sequence[NewMail]) -> int:
        """Messages to be sent; one that is there already is not added again. How many were added."""
        ...

    def due(self, now: datetime) -> list[MailRecord]:
        """Messages whose time has come, the oldest first."""
        ...

    def claim(self, mail_id: int) -> bool:
        """Take a waiting message to be handed over now; False where somebody else has taken it."""
        ...

    def ended(self, mail_id: int, state: MailState, said: str, next_at: datetime | None = None) -> None:
        """What became of a message that was taken."""
        ...

    def unsure_after_a_crash(self) -> int:
        """Messages that were being handed over when the process ended: nobody knows whether they arrived. How many."""
        ...

    def log(self, ledger_id: int, issue_id: int | None = None, limit: int = 200) -> list[MailRecord]:
        """Messages of a ledger, or of an issue, the latest first."""
        ...

    def again(self, mail_id: int, now: datetime) -> bool:
        """Send a message that was given up or is unsure once more, since a person asks for it."""
        ...


class AlertBooks(Protocol):
    """The records as alerts need them."""

    def alerts(self, ledger_id: int) -> Kept[KeptAlert]:
        """A ledger's alerts by name, with their latest events."""
        ...

    def keep_alert(self, ledger_id: int, alert: Alert, by: str, alert_id: int | None = None) -> int:
        """Keep an alert, in place of that number if one is given; its number. Raises NotFoundError, NameTakenError."""
        ...

    def forget_alert(self, ledger_id: int, alert_id: int) -> bool:
        """Keep an alert no more; False where there is none."""
        ...

    def looked(self, alert: KeptAlert, version: int, found: AlertFound | None, trouble: str, mails: Sequence[NewMail]) -> None:
        """An alert was looked at: keep what was found; where it begins or ends, the event with the mail that tells it."""
        ...
