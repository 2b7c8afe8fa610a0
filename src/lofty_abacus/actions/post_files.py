"""Post staged files: all of them or none."""

from __future__ import annotations

from collections.abc import Sequence

from lofty_abacus.actions.check_files import check_files, staged_content
from lofty_abacus.actions.errors import RefusedError
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import PostedFile, Posting, Progress
from lofty_abacus.actions.stage_files import discard_staging, staging_of
from lofty_abacus.ingest.mapping import shape_of


def post_files(office: Office, number: str, progress: Progress, replaces: Sequence[int] = ()) -> Posting:
    """Post a staging as one new ledger version, in place of the batches named, and keep its mappings.

    Raises RefusedError, NotFoundError, RecordsError.
    """
    staging = staging_of(office, number)
    progress("Checking", 0, 0)
    check = check_files(office, number)
    if not check.ready:
        first = next(each for each in check.files if each.blocking)
        raise RefusedError(f"{first.file}: {first.blocking[0]} Nothing was posted.")
    record = office.books.ledger(staging.ledger)
    files = []
    for at, file in enumerate(staging.files):
        progress(f"Reading {file.name}", at, len(staging.files))
        files.append(PostedFile(staged_content(office, staging, at), shape_of(list(file.headers)), file.file_hash))
    posting = office.books.post(record.id, files, record.today(office.now()), progress, replaces)
    discard_staging(office, number)
    return posting
