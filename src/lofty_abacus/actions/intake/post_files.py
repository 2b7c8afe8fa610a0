"""Post staged files."""

from __future__ import annotations

from collections.abc import Callable, Mapping

from lofty_abacus.actions.changing import ledger_to_change
from lofty_abacus.actions.errors import FullDiskError, RefusedError
from lofty_abacus.actions.intake.check_beside import CheckBeside, NotAsPresumedError, decimals_of, refuse_unready
from lofty_abacus.actions.intake.check_files import check_files, lookup_of_file
from lofty_abacus.actions.intake.checks import StagingCheck
from lofty_abacus.actions.intake.staged_lines import is_added_up, lines_of_file, lines_presumed
from lofty_abacus.actions.intake.stagings import Staging, discard_staging, staging_of
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import LedgerRecord, PostedFile, Posting, Progress, Replacement
from lofty_abacus.ingest.lines_of_file import LinesOfFile
from lofty_abacus.ingest.mapping import shape_of
from lofty_abacus.ingest.problems import MappingError, UnreadableFileError

#: What a posting takes of the disk: so many times its files (lines, their index, the log, the columns), and something for small
#: ones.
ROOM = 6
LEAST_ROOM = 64 << 20
#: Rows from which on files that were not checked yet are loaded while they are.
MANY_ROWS = 100_000


def post_files(
    office: Office,
    number: str,
    progress: Progress,
    replacement: Replacement | None = None,
    found: Callable[[StagingCheck], None] = lambda _: None,
) -> Posting:
    """Check a staging and post it as one new ledger version, placed as said, and keep its mappings.

    Large files that were not checked before are checked while they are loaded. found: told what the check found, before anything
    counts. progress may raise to stop: nothing is posted then. Raises RefusedError, NotFoundError, RecordsError.
    """
    replacement = replacement or Replacement()
    if (replacement.first_day is None) != (replacement.last_day is None) or (
        replacement.first_day and replacement.last_day and replacement.first_day > replacement.last_day
    ):
        raise RefusedError("A stretch of days has a first and a last day, in that order. Nothing was posted.")
    staging = staging_of(office, number)
    record = ledger_to_change(office, staging.ledger)
    going = frozenset(replacement.replaces)

    def post(lines: Mapping[int, LinesOfFile], beside: CheckBeside | None = None) -> Posting:
        _refuse_without_room(office, staging)
        files = [
            _posted_file(office, staging, at, lines.get(at), beside)
            for at, each in enumerate(staging.files)
            if each.mapping is None or each.mapping.kind != "rates"
        ]
        posting = office.books.post(record.id, files, record.today(office.now()), progress, replacement, office.person)
        discard_staging(office, number)
        return posting

    presumed = _presumed(office, staging, record)
    if presumed:
        checking = CheckBeside(
            lambda at, go_on, handover: lines_of_file(office, staging, at, go_on, handover),
            lambda go_on: check_files(office, number, go_on, going),
            presumed,
            found,
        )
        with checking:
            try:
                return post(presumed, checking)
            except NotAsPresumedError:
                found = _told_before
            except RefusedError:
                # What the check has against the files is said first, and what was refused may be no line of theirs.
                if checking.hear():
                    raise
                found = _told_before
    check = check_files(office, number, progress, going)
    found(check)
    refuse_unready(check)
    return post({})


def _told_before(_: StagingCheck) -> None:
    """What the check found was told."""


def _refuse_without_room(office: Office, staging: Staging) -> None:
    needed = sum(file.bytes for file in staging.files) * ROOM + LEAST_ROOM
    if office.free(office.staging) < needed:
        raise FullDiskError("the folder of the records", needed, office.free(office.staging))


def _presumed(office: Office, staging: Staging, record: LedgerRecord) -> dict[int, LinesOfFile]:
    """The files of lines that are worth being loaded while they are checked, as they are presumed to be; none where they are not.

    They are not, either, where the ledger's lines would have to be given more decimals, which takes long to be undone.
    """
    of_lines = [at for at, each in enumerate(staging.files) if each.mapping and each.mapping.kind not in ("lookup", "rates")]
    if sum(staging.files[at].rows for at in of_lines) < MANY_ROWS or any(each.mapping is None for each in staging.files):
        return {}
    try:
        if all(is_added_up(office, staging, at) for at in of_lines):
            return {}
        lines = {at: lines_presumed(office, staging, at) for at in of_lines}
    except (MappingError, UnreadableFileError):
        return {}
    scales = office.books.facts(record.id).scales
    for amount, quantity, own in (decimals_of(each.tally) for each in lines.values()):
        wider = amount > scales.amount or quantity > scales.quantity
        if record.version and (wider or any(of > scales.of_column(name) for name, of in own.items())):
            return {}
    return lines


def _posted_file(
    office: Office, staging: Staging, at: int, lines: LinesOfFile | None = None, beside: CheckBeside | None = None
) -> PostedFile:
    """A file to be posted. lines: as they are presumed to be, loaded while they are checked beside."""
    file = staging.files[at]
    assert file.mapping is not None, "the check would have stopped it"
    shape = shape_of(list(file.headers))
    if file.mapping.kind == "lookup":
        return PostedFile(file.name, file.mapping, shape, file.file_hash, lookup=lookup_of_file(office, staging, at))
    is_presumed = lines is not None and beside is not None
    lines = lines or lines_of_file(office, staging, at)
    amount, quantity, own = decimals_of(lines.tally)
    further = [own.get(use.name, 0) for use in lines.mapping.columns if use.role == "further_amount"]
    return PostedFile(
        file.name,
        lines.mapping,
        shape,
        file.file_hash,
        line_count=file.rows if is_presumed else lines.tally.lines,
        amount_scale=max([amount, *further]),
        quantity_scale=quantity,
        pieces=(lambda: beside.pieces(at)) if beside is not None and is_presumed else lines.pieces,
        scales=own,
    )
