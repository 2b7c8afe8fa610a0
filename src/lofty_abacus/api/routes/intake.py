"""Intake: files staged, mapped, checked and posted."""

from __future__ import annotations

import shutil
import tempfile
from pathlib import Path
from typing import Annotated

from fastapi import APIRouter, Form, HTTPException, Request, UploadFile

from lofty_abacus.actions.check_files import StagingCheck, check_files
from lofty_abacus.actions.post_files import post_files
from lofty_abacus.actions.stage_files import Staging, choose_sheet, discard_staging, map_file, stage_files, staging_of
from lofty_abacus.api.jobs import Job
from lofty_abacus.api.shapes import MappingShape, PostingShape, SheetShape

router = APIRouter(prefix="/api", tags=["intake"])


@router.post("/stagings", status_code=201)
def post_staging(request: Request, ledger: Annotated[str, Form()], files: list[UploadFile]) -> Staging:
    """Drop files: they are read, and a mapping is proposed for each."""
    with tempfile.TemporaryDirectory(prefix="lofty-drop-") as folder:
        taken = []
        for at, each in enumerate(files):
            place = Path(folder) / str(at)
            with place.open("wb") as out:
                shutil.copyfileobj(each.file, out, 1 << 20)
            taken.append((Path(each.filename or f"file {at + 1}").name, place))
        return stage_files(request.app.state.office, ledger, taken)


@router.get("/stagings/{number}")
def get_staging(request: Request, number: str) -> Staging:
    """Staged files as they stand."""
    return staging_of(request.app.state.office, number)


@router.put("/stagings/{number}/mapping")
def put_mapping(request: Request, number: str, shape: MappingShape) -> Staging:
    """Say what a file's columns are."""
    return map_file(request.app.state.office, number, shape.file, shape.mapping)


@router.put("/stagings/{number}/sheet")
def put_sheet(request: Request, number: str, shape: SheetShape) -> Staging:
    """Read another sheet of a workbook."""
    return choose_sheet(request.app.state.office, number, shape.file, shape.sheet)


@router.get("/stagings/{number}/check")
def get_check(request: Request, number: str) -> StagingCheck:
    """What posting would bring, and what stands in its way."""
    return check_files(request.app.state.office, number)


@router.post("/stagings/{number}/posting", status_code=202)
def post_posting(request: Request, number: str, how: PostingShape | None = None) -> Job:
    """Post all files of a staging, or none; the job tells how far it is."""
    replaces = how.replaces if how else ()
    office = request.app.state.office
    staging_of(office, number)
    job: Job = request.app.state.jobs.start(lambda progress: post_files(office, number, progress, replaces))
    return job


@router.delete("/stagings/{number}", status_code=204)
def delete_staging(request: Request, number: str) -> None:
    """Throw staged files away."""
    discard_staging(request.app.state.office, number)


@router.get("/jobs/{number}")
def get_job(request: Request, number: str) -> Job:
    """How far a job is."""
    job: Job | None = request.app.state.jobs.get(number)
    if job is None:
        raise HTTPException(404, "There is no such job: the application was started again since.")
    return job
