"""Intake: files staged, mapped, checked and posted."""

from __future__ import annotations

import csv
import io

from fastapi import APIRouter, HTTPException, Request, Response
from starlette.concurrency import run_in_threadpool

from lofty_abacus.actions.check_files import RowsPage, check_files, problems_of_file, rows_of_finding
from lofty_abacus.actions.checks import StagingCheck
from lofty_abacus.actions.post_files import post_files
from lofty_abacus.actions.preview_posting import PostingPreview, preview_posting
from lofty_abacus.actions.read_database import DatabasePreview, preview_database, stage_database
from lofty_abacus.actions.records import Placing, Progress
from lofty_abacus.actions.stage_files import MOST_FILES, correct_value, expect, leave_out, map_file, read_again, stage_files
from lofty_abacus.actions.stagings import Staging, discard_staging, staging_of, waiting_stagings
from lofty_abacus.api.asking import office_of
from lofty_abacus.api.doors import MOST_UPLOAD
from lofty_abacus.api.drops import UPLOAD, receive_drop
from lofty_abacus.api.jobs import Job, Result
from lofty_abacus.api.shapes import (
    CorrectionShape,
    DatabaseShape,
    DatabaseStagingShape,
    ExpectedShape,
    Limits,
    MappingShape,
    ReadingShape,
    RowsShape,
)
from lofty_abacus.export.harmless import harmless

router = APIRouter(prefix="/api", tags=["intake"])
MOST_ROWS = 500


@router.post("/stagings", status_code=202, openapi_extra=UPLOAD)
async def post_staging(request: Request) -> Job:
    """Drop files: the job reads them, proposes a mapping for each, and gives a staging."""
    office = office_of(request)
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
    job: Job = request.app.state.jobs.start(work)
    return job


@router.get("/limits")
def get_limits() -> Limits:
    """What may be sent at once: told before it is."""
    return Limits(MOST_UPLOAD, MOST_FILES)


@router.get("/stagings")
def get_stagings(request: Request, ledger: str) -> tuple[Staging, ...]:
    """Everything that waits to be posted to a ledger: dropped, from the inbox, or from a database."""
    return waiting_stagings(office_of(request), ledger)


@router.get("/stagings/{number}")
def get_staging(request: Request, number: str) -> Staging:
    """Staged files as they stand."""
    return staging_of(office_of(request), number)


@router.put("/stagings/{number}/mapping")
def put_mapping(request: Request, number: str, shape: MappingShape) -> Staging:
    """Say what a file's columns are."""
    return map_file(office_of(request), number, shape.file, shape.mapping)


@router.put("/stagings/{number}/reading")
def put_reading(request: Request, number: str, shape: ReadingShape) -> Staging:
    """Read a file otherwise: encoding, separator, quotes, sheet, heading."""
    return read_again(office_of(request), number, shape.file, shape.reading)


@router.put("/stagings/{number}/correction")
def put_correction(request: Request, number: str, shape: CorrectionShape) -> Staging:
    """Read a text as another, in one row or wherever it stands."""
    return correct_value(office_of(request), number, shape.file, shape.correction)


@router.put("/stagings/{number}/expected")
def put_expected(request: Request, number: str, shape: ExpectedShape) -> Staging:
    """Say what a file must hold."""
    return expect(office_of(request), number, shape.file, shape.expected)


@router.delete("/stagings/{number}/files/{file}")
def delete_file(request: Request, number: str, file: int) -> Staging:
    """Leave a file out."""
    return leave_out(office_of(request), number, file)


@router.get("/stagings/{number}/check")
def get_check(request: Request, number: str) -> StagingCheck:
    """What posting would bring, and what stands in its way."""
    return check_files(office_of(request), number)


@router.post("/stagings/{number}/checking", status_code=202)
def post_checking(request: Request, number: str, placing: Placing | None = None) -> Job:
    """The same in the background, for files that take a while."""
    office = office_of(request)
    staging_of(office, number)
    replacing = frozenset(placing.replaces if placing else ())
    job: Job = request.app.state.jobs.start(lambda progress: check_files(office, number, progress, replacing))
    return job


@router.post("/stagings/{number}/rows")
def post_rows(request: Request, number: str, shape: RowsShape) -> RowsPage:
    """The rows that a finding is about, as they stand in the file."""
    limit = min(max(shape.limit, 1), MOST_ROWS)
    return rows_of_finding(
        office_of(request), number, shape.file, shape.code, shape.about, shape.member, max(shape.offset, 0), limit
    )


@router.get("/stagings/{number}/files/{file}/unreadable.csv", response_class=Response)
def get_unreadable(request: Request, number: str, file: int) -> Response:
    """Every value of a file that cannot be read, as a file of its own."""
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(("file", "row", "column", "text", "reason"))
    for each in problems_of_file(office_of(request), number, file):
        writer.writerow((harmless(each.file), each.row, harmless(each.column), harmless(each.text), each.reason))
    headers = {"Content-Disposition": 'attachment; filename="unreadable.csv"'}
    return Response("\ufeff" + out.getvalue(), media_type="text/csv; charset=utf-8", headers=headers)


@router.post("/stagings/{number}/preview")
def post_preview(request: Request, number: str, placing: Placing | None = None) -> PostingPreview:
    """What posting would change: lines, total, days, every month before and after."""
    return preview_posting(office_of(request), number, placing or Placing())


@router.post("/stagings/{number}/posting", status_code=202)
def post_posting(request: Request, number: str, placing: Placing | None = None) -> Job:
    """Post all files of a staging, or none; the job tells how far it is."""
    office = office_of(request)
    staging_of(office, number)
    job: Job = request.app.state.jobs.start(lambda progress: post_files(office, number, progress, placing))
    return job


@router.delete("/stagings/{number}", status_code=204)
def delete_staging(request: Request, number: str) -> None:
    """Throw staged files away."""
    discard_staging(office_of(request), number)


@router.post("/database/preview")
def post_database_preview(request: Request, shape: DatabaseShape) -> DatabasePreview:
    """The first rows of a table or a query in a database of somebody else."""
    return preview_database(office_of(request), shape.url, shape.query)


@router.post("/database/stagings", status_code=202)
def post_database_staging(request: Request, shape: DatabaseStagingShape) -> Job:
    """Fetch all rows of a table or a query, and stage them."""
    office = office_of(request)
    job: Job = request.app.state.jobs.start(
        lambda progress: stage_database(office, shape.ledger, shape.url, shape.query, progress), of_a_host=True
    )
    return job


@router.get("/jobs/{number}")
def get_job(request: Request, number: str) -> Job:
    """How far a job is."""
    return _job(request.app.state.jobs.get(number))


@router.delete("/jobs/{number}")
def delete_job(request: Request, number: str) -> Job:
    """Ask a job to stop; nothing is left of what it did."""
    return _job(request.app.state.jobs.stop(number))


def _job(job: Job | None) -> Job:
    if job is None:
        raise HTTPException(404, "There is no such job: the application was started again since.")
    return job
