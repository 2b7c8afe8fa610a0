"""What happens to briefs by itself: issues that are due, what was restated, alerts, mail, and files put into the folder."""

from __future__ import annotations

import logging
import os
from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from functools import partial
from pathlib import Path

from lofty_abacus.actions.briefs.compose_brief import as_of_of
from lofty_abacus.actions.briefs.issues import ledger_of, open_issue
from lofty_abacus.actions.briefs.look_at_alerts import look_at_all
from lofty_abacus.actions.briefs.publish_brief import Publishing, publish_brief
from lofty_abacus.actions.briefs.restate_issue import restatement_of
from lofty_abacus.actions.briefs.schedules import by_clock, last_due
from lofty_abacus.actions.briefs.send_mail import send_due
from lofty_abacus.actions.errors import ActionError
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import LedgerRecord
from lofty_abacus.actions.records.briefs import IssueRecord, KeptBrief
from lofty_abacus.core.errors import CoreError
from lofty_abacus.export.briefs.page import with_fonts
from lofty_abacus.export.file_names import file_name
from lofty_abacus.ingest.mapping import plain_name

_log = logging.getLogger(__name__)
#: Issues of a brief that are held against each new version by themselves; earlier ones when they are opened.
NEWEST = 3
_SECOND = timedelta(seconds=1)


class Briefs:
    """Looks again and again. What is in the record decides what is done: a restart does nothing twice."""

    def __init__(self, office: Office) -> None:
        self._office = office
        self._failed: dict[int, int] = {}
        office.books.outbox.unsure_after_a_crash()

    def look(self) -> None:
        """Do what is due. Never raises: what fails is in the log, and holds up nothing else."""
        for record in self._office.books.ledgers():
            if record.archived_at is None and record.version:
                self._ledger(record)
        self._guarded("mail", lambda: send_due(self._office))

    def _ledger(self, record: LedgerRecord) -> None:
        for each in self._office.books.briefs.briefs(record.id).rows:
            self._guarded(each.brief.name, partial(self._brief, record, each))
        self._guarded("alerts", lambda: look_at_all(self._office, record))

    def _brief(self, record: LedgerRecord, kept: KeptBrief) -> None:
        publish_if_due(self._office, record, kept)
        issues = self._office.books.briefs.issues(kept.id)
        if kept.handing.folder and issues:
            put_into_folder(self._office, kept, issues[0])
        self._restate(record, issues)

    def _restate(self, record: LedgerRecord, issues: list[IssueRecord]) -> None:
        for issue in issues[:NEWEST]:
            if issue.restated_version == record.version or self._failed.get(issue.id) == record.version:
                continue
            try:
                # While the newest version is made ready the one before is read: then it is looked at once more.
                restatement_of(self._office, issue.id)
            except Exception:
                # One that cannot be worked out is not tried again before the next posting.
                self._failed[issue.id] = record.version
                raise

    def _guarded(self, what: str, work: Callable[[], object]) -> None:
        try:
            work()
        except Exception:  # whatever it is: the others, and the next look, go on
            _log.exception("briefs: %s", what)


def publish_if_due(office: Office, record: LedgerRecord, kept: KeptBrief) -> IssueRecord | None:
    """Publish and hand out the next issue of a brief where its schedule is due. Never raises for what the brief asks."""
    if kept.handing.paused or kept.handing.schedule.kind == "none":
        return None
    now = office.now()
    try:
        moment = _due(office, record, kept, now)
        if moment is None:
            return None
        return publish_brief(office, kept.id, Publishing(hand_out=True, scheduled_to=moment))
    except (CoreError, ActionError) as error:
        office.books.briefs.scheduled(kept.id, now, str(error))
    except Exception:
        # It would fail at each look: it is told, and tried when it is due again.
        office.books.briefs.scheduled(kept.id, now, "Something went wrong on our side; it is in the log.")
        raise
    return None


def _due(office: Office, record: LedgerRecord, kept: KeptBrief, now: datetime) -> datetime | None:
    schedule = kept.handing.schedule
    if by_clock(schedule):
        calendar = office.books.facts(record.id).calendar
        return last_due(schedule, record.time_zone, calendar, kept.scheduled_to or kept.saved_at, now)
    issues = office.books.briefs.issues(kept.id)
    if schedule.kind == "posted":
        return now if _posted_since(office, record, kept, issues) else None
    day = as_of_of(office, record.name, kept.brief.as_of)
    feeds = [each for each in office.books.facts(record.id).feeds if schedule.feed in ("", each.feed)]
    complete = bool(feeds) and all(each.days.last >= day for each in feeds)
    return now if complete and (not issues or issues[0].as_of < day) else None


def _posted_since(office: Office, record: LedgerRecord, kept: KeptBrief, issues: list[IssueRecord]) -> bool:
    """Whether a feed was posted that the last issue does not hold, since the schedule was looked at.

    The record knows when a batch was posted to the second: its version says what an issue holds.
    """
    since, held = kept.scheduled_to or kept.saved_at, issues[0].version if issues else 0
    posted = (each for each in office.books.batches(record.id) if kept.handing.schedule.feed in ("", each.feed))
    return any(each.active and each.version > held and each.posted_at.replace(tzinfo=UTC) + _SECOND > since for each in posted)


def folder_of(office: Office, kept: KeptBrief) -> Path | None:
    """The folder into which the issues of a brief are put."""
    if office.handed is None:
        return None
    ledger = ledger_of(office, kept)
    return office.handed / f"{plain_name(ledger.name)}-{ledger.id}" / f"{plain_name(kept.brief.name)}-{kept.id}"


def put_into_folder(office: Office, kept: KeptBrief, issue: IssueRecord) -> list[Path]:
    """Put the files of an issue into the folder, each wholly or not at all; those that are there stay. Which were put."""
    folder = folder_of(office, kept)
    if folder is None:
        return []
    folder.mkdir(parents=True, exist_ok=True)
    made: list[Path] = []
    for copy in issue.copies:
        label = f", {copy.label}" if copy.place else ""
        title = f"Issue {issue.number:04d}{label}"
        paths = [folder / file_name(title, issue.as_of, ending) for ending in ("pdf", "html")]
        if all(each.exists() for each in paths):
            continue
        content = open_issue(office, issue.id, copy.place).content
        alone = with_fonts(content.html, office.fonts, "within").encode()
        for path, what in zip(paths, (content.pdf, alone), strict=True):
            beside = path.with_name(f".{path.name}.{os.getpid()}")
            beside.write_bytes(what)
            beside.replace(path)
            made.append(path)
    return made
