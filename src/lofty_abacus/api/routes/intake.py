"""Intake: files staged, mapped, checked and posted."""

from __future__ import annotations

import csv
import io

from fastapi import APIRouter, Request, Response
from starlette.concurrency import run_in_threadpool
from starlette.exceptions import HTTPException

from lofty_abacus.actions.intake.check_files import RowsPage, check_files, problems_of_file, rows_of_finding
from lofty_abacus.actions.intake.checks import StagingCheck
from lofty_abacus.actions.intake.post_files import post_files
from lofty_abacus.actions.intake.preview_posting import PostingPreview, preview_posting
from lofty_abacus.actions.intake.read_database import DatabasePreview, preview_database, stage_database
from lofty_abacus.actions.intake.stage_files import (
    MOST_FILES,
    correct_value,
    expect,
    leave_out,
    map_file,
    read_again,
    stage_files,
)
from lofty_abacus.actions.intake.stagings import Staging, discard_staging, staging_of, waiting_stagings
from lofty_abacus.actions.records import Progress, Replacement
from lofty_abacus.actions.work import jobs
from lofty_abacus.actions.work.jobs import Result
from lofty_abacus.api.asking import OfficeOf
from lofty_abacus.api.doors import MOST_UPLOAD
from lofty_abacus.api.drops import UPLOAD, receive_drop
from lofty_abacus.api.jobs import Job, told
from lofty_abacus.api.shapes import (
    CorrectionShape,
    DatabaseShape,
    DatabaseStagingShape,
    ExpectedShape,
    Limits,
    MappingShape,
    ReadingShape,
    ReplacementShape,
    RowsShape,
)
from lofty_abacus.export.harmless import harmless

router = APIRouter(prefix="/api", tags=["intake"])
MOST_ROWS = 500


@router.post("/stagings", status_code=202, openapi_extra=UPLOAD)
async def post_staging(request: Request, office: OfficeOf) -> Job:
    """Drop files: the job reads them, proposes a mapping for each, and gives a staging."""
    drop = await receive_drop(request, office.staging)

    def work(progress: Progress) -> Result:
        try:
            return stage_files(office, drop.ledger, drop.files, progress, moved=True)
        finally:
            drop.discard()

    try:
        await run_in_threadpool(office.books.ledger, drop.ledger)
    except BaseException:
        drop.discard()
        raise
    return told(jobs_of(request).start(work))


@router.get("/limits")
def get_limits() -> Limits:
    """What may be sent at once: told before it is."""
    return Limits(MOST_UPLOAD, MOST_FILES)


@router.get("/stagings")
def get_stagings(office: OfficeOf, ledger: str) -> tuple[Staging, ...]:
    """Everything that waits to be posted to a ledger: dropped, from the inbox, or from a database."""
    return waiting_stagings(office, ledger)


@router.get("/stagings/{staging}")
def get_staging(office: OfficeOf, staging: str) -> Staging:
    """Staged files as they stand."""
    return staging_of(office, staging)


@router.put("/stagings/{staging}/mapping")
def put_mapping(office: OfficeOf, staging: str, shape: MappingShape) -> Staging:
    """Say what a file's columns are."""
    return map_file(office, staging, shape.file, shape.mapping)


@router.put("/stagings/{staging}/reading")
def put_reading(office: OfficeOf, staging: str, shape: ReadingShape) -> Staging:
    """Read a file otherwise: encoding, separator, quotes, sheet, heading."""
    return read_again(office, staging, shape.file, shape.reading)


@router.put("/stagings/{staging}/correction")
def put_correction(office: OfficeOf, staging: str, shape: CorrectionShape) -> Staging:
    """Read a text as another, in one row or wherever it stands."""
    return correct_value(office, staging, shape.file, shape.correction)


@router.put("/stagings/{staging}/expected")
def put_expected(office: OfficeOf, staging: str, shape: ExpectedShape) -> Staging:
    """Say what a file must hold."""
    return expect(office, staging, shape.file, shape.expected)


@router.delete("/stagings/{staging}/files/{file}")
def delete_file(office: OfficeOf, staging: str, file: int) -> Staging:
    """Leave a file out."""
    return leave_out(office, staging, file)


@router.get("/stagings/{staging}/check")
def get_check(office: OfficeOf, staging: str) -> StagingCheck:
    """What posting would bring, and what stands in its way."""
    return check_files(office, staging)


@router.post("/stagings/{staging}/checking", status_code=202)
def post_checking(request: Request, office: OfficeOf, staging: str, replacement: ReplacementShape | None = None) -> Job:
    """The same in the background, for files that take a while."""
    staging_of(office, staging)
    replacing = frozenset(replacement.replaces if replacement else ())
    return told(jobs_of(request).start(lambda progress: check_files(office, staging, progress, replacing)))


@router.post("/stagings/{staging}/rows")
def post_rows(office: OfficeOf, staging: str, shape: RowsShape) -> RowsPage:
    """The rows that a finding is about, as they stand in the file."""
    limit = min(max(shape.limit, 1), MOST_ROWS)
    return rows_of_finding(office, staging, shape.file, shape.code, shape.about, shape.member, max(shape.offset, 0), limit)


@router.get("/stagings/{staging}/files/{file}/unreadable.csv", response_class=Response)
def get_unreadable(office: OfficeOf, staging: str, file: int) -> Response:
    """Every value of a file that cannot be read, as a file of its own."""
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(("file", "row", "column", "text", "reason"))
    for each in problems_of_file(office, staging, file):
        writer.writerow((harmless(each.file), each.row, harmless(each.column), harmless(each.text), each.reason))
    headers = {"Content-Disposition": 'attachment; filename="unreadable.csv"'}
    return Response("\ufeff" + out.getvalue(), media_type="text/csv; charset=utf-8", headers=headers)


@router.post("/stagings/{staging}/preview")
def post_preview(office: OfficeOf, staging: str, replacement: ReplacementShape | None = None) -> PostingPreview:
    """What posting would change: lines, total, days, every month before and after."""
    return preview_posting(office, staging, replacement or Replacement())


@router.post("/stagings/{staging}/posting", status_code=202)
def post_posting(request: Request, office: OfficeOf, staging: str, replacement: ReplacementShape | None = None) -> Job:
    """Post all files of a staging, or none; the job tells how far it is."""
    staging_of(office, staging)
    return told(jobs_of(request).start(lambda progress: post_files(office, staging, progress, replacement)))


@router.delete("/stagings/{staging}", status_code=204)
def delete_staging(office: OfficeOf, staging: str) -> None:
    """Throw staged files away."""
    discard_staging(office, staging)


@router.post("/database/preview")
def post_database_preview(office: OfficeOf, shape: DatabaseShape) -> DatabasePreview:
    """The first rows of a table or a query in a database of somebody else."""
    return preview_database(office, shape.url, shape.query)


@router.post("/database/stagings", status_code=202)
def post_database_staging(request: Request, office: OfficeOf, shape: DatabaseStagingShape) -> Job:
    """Fetch all rows of a table or a query, and stage them."""
    job = jobs_of(request).start(
        lambda progress: stage_database(office, shape.ledger, shape.url, shape.query, progress), of_a_host=True
    )
    return told(job)


@router.get("/jobs/{job}")
async def get_job(request: Request, job: str) -> Job:
    """How far a job is."""
    return _known(jobs_of(request).get(job))


@router.delete("/jobs/{job}")
def delete_job(request: Request, job: str) -> Job:
    """Ask a job to stop; nothing is left of what it did."""
    return _known(jobs_of(request).stop(job))


def jobs_of(request: Request) -> jobs.Jobs:
    """What runs in the background."""
    found: jobs.Jobs = request.app.state.jobs
    return found


def _known(job: jobs.Job | None) -> Job:
    if job is None:
        raise HTTPException(404, "There is no such job: the application was started again since.")
    return told(job)
