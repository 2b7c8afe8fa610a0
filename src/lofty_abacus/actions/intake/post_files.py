"""Post staged files."""

from __future__ import annotations

from lofty_abacus.actions.changing import ledger_to_change
from lofty_abacus.actions.errors import FullDiskError, RefusedError
from lofty_abacus.actions.intake.check_files import check_files, lookup_of_file
from lofty_abacus.actions.intake.staged_lines import lines_of_file
from lofty_abacus.actions.intake.stagings import Staging, discard_staging, staging_of
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import PostedFile, Posting, Progress, Replacement
from lofty_abacus.ingest.mapping import shape_of

#: What a posting takes of the disk: so many times its files (lines, their index, the log, the columns), and something for small
#: ones.
ROOM = 6
LEAST_ROOM = 64 << 20


def post_files(office: Office, number: str, progress: Progress, replacement: Replacement | None = None) -> Posting:
    """Post a staging as one new ledger version, placed as said, and keep its mappings.

    progress may raise to stop: nothing is posted then. Raises RefusedError, NotFoundError, RecordsError.
    """
    replacement = replacement or Replacement()
    if (replacement.first_day is None) != (replacement.last_day is None) or (
        replacement.first_day and replacement.last_day and replacement.first_day > replacement.last_day
    ):
        raise RefusedError("A stretch of days has a first and a last day, in that order. Nothing was posted.")
    staging = staging_of(office, number)
    record = ledger_to_change(office, staging.ledger)
    check = check_files(office, number, progress, frozenset(replacement.replaces))
    if not check.ready:
        first = next(each for each in check.files if each.blocking)
        raise RefusedError(f"{first.file}: {first.blocking[0]} Nothing was posted.")
    needed = sum(file.bytes for file in staging.files) * ROOM + LEAST_ROOM
    if office.free(office.staging) < needed:
        raise FullDiskError("the folder of the records", needed, office.free(office.staging))
    files = [
        _posted_file(office, staging, at)
        for at, each in enumerate(staging.files)
        if each.mapping is None or each.mapping.kind != "rates"
    ]
    posting = office.books.post(record.id, files, record.today(office.now()), progress, replacement, office.person)
    discard_staging(office, number)
    return posting


def _posted_file(office: Office, staging: Staging, at: int) -> PostedFile:
    file = staging.files[at]
    assert file.mapping is not None, "the check would have stopped it"
    shape = shape_of(list(file.headers))
    if file.mapping.kind == "lookup":
        return PostedFile(file.name, file.mapping, shape, file.file_hash, lookup=lookup_of_file(office, staging, at))
    lines = lines_of_file(office, staging, at)
    own = {name: each.scale for name, each in lines.tally.own.items()}
    amounts = [own.get(use.name, 0) for use in lines.mapping.columns if use.role == "further_amount"]
    return PostedFile(
        file.name,
        lines.mapping,
        shape,
        file.file_hash,
        line_count=lines.tally.lines,
        amount_scale=max([lines.tally.amount_scale, *amounts]),
        quantity_scale=lines.tally.quantity_scale,
        pieces=lines.pieces,
        scales=own,
    )
