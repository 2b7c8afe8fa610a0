"""The shape in which a job is told."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from lofty_abacus.actions.intake.checks import StagingCheck
from lofty_abacus.actions.intake.preview_posting import PostingPreview
from lofty_abacus.actions.intake.stagings import Staging
from lofty_abacus.actions.records import Posting
from lofty_abacus.actions.records.briefs import IssueRecord
from lofty_abacus.actions.work import jobs
from lofty_abacus.api.failures import failure_of
from lofty_abacus.api.shapes import Failure

_FIELDS: dict[type, str] = {
    Posting: "posting",
    Staging: "staging",
    StagingCheck: "check",
    PostingPreview: "preview",
    IssueRecord: "issue",
}


@dataclass(frozen=True)
class Job:
    """A piece of work: what is being done now, how far it is, and how it ended. What it gave stands in the field of its kind."""

    id: str
    state: Literal["running", "done", "failed", "stopped"]
    doing: str
    done: int
    total: int
    posting: Posting | None = None
    staging: Staging | None = None
    check: StagingCheck | None = None
    preview: PostingPreview | None = None
    issue: IssueRecord | None = None
    failure: Failure | None = None


def told(job: jobs.Job) -> Job:
    """A job as it is told."""
    gave = {} if job.result is None else {_FIELDS[type(job.result)]: job.result}
    failure = None if job.error is None else failure_of(job.error)[1]
    return Job(job.id, job.state, job.doing, job.done, job.total, failure=failure, **gave)  # type: ignore[arg-type]
