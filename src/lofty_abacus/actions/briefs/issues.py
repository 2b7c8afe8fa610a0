"""Issues as they were published: read back, and held against their checksums."""

from __future__ import annotations

import hashlib
from collections.abc import Sequence
from dataclasses import dataclass

from pydantic import TypeAdapter

from lofty_abacus.actions.errors import NotFoundError, RecordsError
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import LedgerRecord
from lofty_abacus.actions.records.briefs import IssueContent, IssueRecord, KeptBrief
from lofty_abacus.export.briefs.composed import Composed

_COMPOSED = TypeAdapter(Composed)


def written(composed: Composed) -> str:
    """A composed brief as JSON: all its answers, as an issue keeps them."""
    return _COMPOSED.dump_json(composed).decode()


def read_composed(answers: str) -> Composed:
    """A composed brief from its JSON. Raises RecordsError where another build wrote what this one does not understand."""
    try:
        return _COMPOSED.validate_json(answers)
    except ValueError as error:
        raise RecordsError("The figures of this issue were written by another build: it is shown as it was published.") from error


def checksum_of_figures(answers: str) -> str:
    """The checksum that stands on an issue: of all its figures, words and settings."""
    return hashlib.sha256(answers.encode()).hexdigest()


def checksum_of_copy(answers: str, html: str, pdf: bytes) -> str:
    """The checksum of a copy with its renderings."""
    found = hashlib.sha256()
    for each in (answers.encode(), html.encode(), pdf):
        found.update(len(each).to_bytes(8, "big"))
        found.update(each)
    return found.hexdigest()


def checksum_of_issue(copies: Sequence[str]) -> str:
    """The checksum of an issue: of those of its copies."""
    return hashlib.sha256("\n".join(copies).encode()).hexdigest()


@dataclass(frozen=True)
class OpenedIssue:
    """A copy of an issue, whose content agrees with its checksum."""

    record: IssueRecord
    kept: KeptBrief
    ledger: LedgerRecord
    content: IssueContent


def open_issue(office: Office, issue_id: int, place: int = 0) -> OpenedIssue:
    """A copy of an issue as it was published. Raises NotFoundError; RecordsError where its content is not what was published."""
    record = office.books.briefs.issue(issue_id)
    content = office.books.briefs.content(issue_id, place)
    known = next((each.checksum for each in record.copies if each.place == place), "")
    found = checksum_of_copy(content.answers, content.html, content.pdf)
    whole = checksum_of_issue([each.checksum for each in record.copies])
    if found != known or found != content.checksum or whole != record.checksum:
        raise RecordsError(
            f"Issue {record.number} is not what was published: its checksum does not agree. Restore it from a backup."
        )
    kept = office.books.briefs.brief(record.brief_id)
    return OpenedIssue(record, kept, ledger_of(office, kept), content)


def ledger_of(office: Office, kept: KeptBrief) -> LedgerRecord:
    """The ledger of a brief. Raises NotFoundError."""
    found = next((each for each in office.books.ledgers() if each.id == kept.ledger_id), None)
    if found is None:
        raise NotFoundError("The ledger of this brief is gone.")
    return found


def newest_issue(office: Office, brief_id: int) -> IssueRecord:
    """The newest issue of a brief. Raises NotFoundError."""
    issues = office.books.briefs.issues(brief_id)
    if not issues:
        raise NotFoundError("No issue of this brief is published yet.")
    return issues[0]
