"""Stage files: take them in, say what they seem to be, and take an analyst's decisions on them. Nothing is posted here."""

from __future__ import annotations

import errno
import hashlib
import os
import shutil
from collections.abc import Callable, Iterator, Sequence
from concurrent.futures import ThreadPoolExecutor
from contextlib import contextmanager
from dataclasses import dataclass, replace
from pathlib import Path

from lofty_abacus.actions.errors import FullDiskError, NotFoundError, RefusedError
from lofty_abacus.actions.intake.stagings import (
    Arrival,
    Expected,
    SampleRow,
    StagedFile,
    Staging,
    file_in,
    new_staging,
    path_of,
    staging_of,
    with_file,
    write_staging,
)
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import Progress
from lofty_abacus.core.errors import NotExactError
from lofty_abacus.core.money import decimal_parts
from lofty_abacus.ingest.apart import read_apart
from lofty_abacus.ingest.encodings import ENCODINGS
from lofty_abacus.ingest.fitting import check_choice
from lofty_abacus.ingest.mapping import FURTHER, Correction, FileMapping, Reading, Role, shape_of
from lofty_abacus.ingest.noting import notes_on
from lofty_abacus.ingest.problems import MappingError, UnreadableFileError
from lofty_abacus.ingest.proposing import Around, completed, keys_of, kind_of, propose, refreshed
from lofty_abacus.ingest.surveying import Survey, survey
from lofty_abacus.ingest.table import FileTable, TextTable

SAMPLE_ROWS = 6
MOST_FILES = 500


@dataclass(frozen=True)
class _Known:
    """What a ledger knows that helps to recognise files: mappings by shape, its dimensions and levels with their roles,
    and the figures and days of its own.
    """

    mappings: dict[str, FileMapping]
    dimensions: dict[str, str | None]
    own: dict[str, Role]
    zone: str


@dataclass(frozen=True)
class _Taken:
    """A file (or a sheet of it) as it was taken in, before it is said what it is. found, table: None where it cannot be read."""

    name: str
    place: Path
    file_hash: str
    reading: Reading | None
    table: FileTable | None = None
    found: Survey | None = None
    before: FileMapping | None = None
    error: str | None = None

    @property
    def sample(self) -> TextTable | None:
        """Its first rows."""
        return self.found.sample if self.found else None


def no_progress(doing: str, done: int, total: int) -> None:
    """Progress that nobody watches."""


def stage_files(
    office: Office,
    ledger: str,
    files: Sequence[tuple[str, Path]],
    progress: Progress = no_progress,
    arrival: Arrival = "drop",
    *,
    moved: bool = False,
) -> Staging:
    """Take files in (name, where it lies) and propose a mapping for each, looking at all of them together. Raises NotFoundError.

    moved: whether the files are ours to take; else they are copied. progress may raise to stop: nothing is left of the staging
    then. Of a workbook every sheet with a table is a file of its own, which can be left out.
    """
    if len(files) > MOST_FILES:
        raise RefusedError(f"{len(files)} files at once are too many: drop at most {MOST_FILES}.")
    known = _known(office, ledger)
    number, folder = new_staging(office)
    try:
        taken: list[_Taken] = []
        for at, (name, path) in enumerate(files):
            place = folder / f"file-{at}"
            progress(f"Taking in {name}", 0, 0)
            with room_for(office, path.stat().st_size):
                (os.replace if moved else shutil.copyfile)(path, place)
            taken += _sheets_of(_taken_in(name, place, known, progress), known, progress)
        staged = _proposed(taken, known)
    except BaseException:
        shutil.rmtree(folder, ignore_errors=True)
        raise
    places = tuple(each.place.name for each in taken)
    return write_staging(office, Staging(number, ledger, tuple(staged), arrival, office.now().isoformat(), places))


@contextmanager
def room_for(office: Office, size: int) -> Iterator[None]:
    """Tell a full disk as what it is. size: bytes that are to be written."""
    try:
        yield
    except OSError as error:
        if error.errno != errno.ENOSPC:
            raise
        raise FullDiskError("the folder of files that are not posted yet", size, office.free(office.staging)) from error


def _sheets_of(first: _Taken, known: _Known, progress: Progress) -> list[_Taken]:
    """Every sheet of a workbook that holds a table. Where some have a kept mapping these are meant, as they were before."""
    if first.table is None or len(first.table.data_sheets) < 2 or first.reading is not None:
        return [first]
    sheets = []
    for sheet in first.table.data_sheets:
        named = replace(first, name=f"{first.name} ({sheet})", file_hash=_hash_of_sheet(first.file_hash, sheet))
        sheets.append(_read_in(named, known, progress, Reading(sheet=sheet)))
    kept = [each for each in sheets if each.before is not None]
    if not kept or len(kept) == len(sheets):
        return sheets
    left = ", ".join(repr(sheet) for sheet, each in zip(first.table.data_sheets, sheets, strict=True) if each.before is None)
    table = kept[0].table
    assert table is not None, "a file with a mapping was read"
    said = f"sheets not taken, as before: {left}"
    return [replace(kept[0], table=replace(table, notes=(*table.notes, said))), *kept[1:]]


def _hash_of_sheet(file_hash: str, sheet: str) -> str:
    return hashlib.sha256(f"{file_hash} {sheet}".encode()).hexdigest()


def _proposed(taken: Sequence[_Taken], known: _Known) -> list[StagedFile]:
    """A mapping for each file: lines first, then lookups, so that each is told what the others hold."""
    dimensions, own = dict(known.dimensions), dict(known.own)
    samples = [each.sample for each in taken]
    keys = dict(keys_of(each) for each in samples if each is not None and kind_of(each) == "lookup")
    staged: dict[int, StagedFile] = {}

    def order(at: int) -> int:
        sample = samples[at]
        return int(sample is not None and kind_of(sample) == "lookup")

    for at in sorted(range(len(taken)), key=order):
        each = staged[at] = _staged_file(taken[at], Around(dimensions, keys, own), known)
        for use in each.mapping.columns if each.mapping else ():
            if use.role in FURTHER:
                own.setdefault(use.name, use.role)
            elif use.name and use.role != "key":
                dimensions.setdefault(use.name, None if use.role in ("dimension", "level") else use.role)
    return [staged[at] for at in range(len(taken))]


def map_file(office: Office, number: str, file: int, mapping: FileMapping) -> Staging:
    """Take the analyst's mapping for a file; what a newly chosen role leaves open is proposed from the column's content.

    Raises NotFoundError, MappingError.
    """
    staging = staging_of(office, number)
    staged = file_in(staging, file)
    if staged.mapping is not None and staged.mapping.reading != mapping.reading:
        raise MappingError(staged.name, "reading", "it is chosen on its own.", "Choose how the file is read first.")
    if any(each.row is not None for each in mapping.corrections):
        raise MappingError(staged.name, "corrections", "one is for a single row.", "Correct single rows in the file.")
    table = table_of(office, staging, file)
    first = next(table.pieces(), None)
    mapping = mapping if first is None else completed(mapping, staged.mapping, first)
    check_choice(table, mapping)
    return write_staging(office, with_file(staging, file, replace(staged, mapping=mapping)))


def read_again(office: Office, number: str, file: int, reading: Reading) -> Staging:
    """Read a file otherwise (encoding, separator, quotes, sheet, heading), with a mapping of its own. Raises NotFoundError.

    Raises MappingError for a reading that makes no sense.
    """
    staging = staging_of(office, number)
    staged = file_in(staging, file)
    if reading.sheet is not None and reading.sheet not in staged.sheets:
        raise NotFoundError(f"There is no sheet {reading.sheet!r} in this file.")
    if reading.encoding is not None and reading.encoding not in ENCODINGS:
        raise MappingError(staged.name, "encoding", f"{reading.encoding!r} is not known.", f"Use {', '.join(ENCODINGS)}.")
    for name, sign in (("separator", reading.separator), ("quote", reading.quote)):
        if sign is not None and (len(sign.encode()) > 1 or sign in ("\n", "\r", "\0") or (name == "separator" and not sign)):
            raise MappingError(staged.name, name, f"{sign!r} is no single plain sign.", "Type one sign.")
    known, place = _known(office, staging.ledger), path_of(office, staging, file)
    again = _read_in(_Taken(staged.name, place, staged.file_hash, reading), known, no_progress, reading)
    return write_staging(
        office,
        with_file(staging, file, replace(_staged_file(again, Around(known.dimensions), known), expected=staged.expected)),
    )


def correct_value(office: Office, number: str, file: int, correction: Correction) -> Staging:
    """Read a text as another: in one row of this file, or (no row) wherever it stands, which the mapping remembers.

    Correcting it to itself takes a correction back. Raises NotFoundError, MappingError.
    """
    staging = staging_of(office, number)
    staged = file_in(staging, file)
    if staged.mapping is None or correction.column not in staged.headers:
        raise MappingError(staged.name, correction.column, "the file has no such column.", "Choose one of its columns.")

    def changed(before: Sequence[Correction]) -> tuple[Correction, ...]:
        place = (correction.column, correction.row, correction.text if correction.row is None else "")
        kept = [each for each in before if (each.column, each.row, each.text if each.row is None else "") != place]
        return tuple(kept if correction.to == correction.text else [*kept, correction])

    if correction.row is None:
        mapping = replace(staged.mapping, corrections=changed(staged.mapping.corrections))
        return write_staging(office, with_file(staging, file, replace(staged, mapping=mapping)))
    return write_staging(office, with_file(staging, file, replace(staged, corrections=changed(staged.corrections))))


def expect(office: Office, number: str, file: int, expected: Expected) -> Staging:
    """Say what a file must hold, to be checked against it. Raises NotFoundError, MappingError."""
    staging = staging_of(office, number)
    staged = file_in(staging, file)
    try:
        if expected.amount is not None:
            decimal_parts(expected.amount)
    except NotExactError as error:
        raise MappingError(
            staged.name, "expected amount", f"{expected.amount!r} is no number.", "Write it as 1234.50."
        ) from error
    return write_staging(office, with_file(staging, file, replace(staged, expected=expected)))


def leave_out(office: Office, number: str, file: int) -> Staging:
    """Take a file out of a staging. Raises NotFoundError; RefusedError for the last one."""
    staging = staging_of(office, number)
    file_in(staging, file)
    if len(staging.files) == 1:
        raise RefusedError("This is the only file: throw the staging away instead.")
    if staging.places.count(staging.places[file]) == 1:
        path_of(office, staging, file).unlink(missing_ok=True)
    files = tuple(each for at, each in enumerate(staging.files) if at != file)
    places = tuple(each for at, each in enumerate(staging.places) if at != file)
    return write_staging(office, replace(staging, files=files, places=places))


def table_of(office: Office, staging: Staging, file: int) -> FileTable:
    """A staged file, ready to be read. Raises UnreadableFileError."""
    mapping = staging.files[file].mapping
    asked = path_of(office, staging, file), staging.files[file].name, mapping.reading if mapping else Reading()
    return office.files_read.get(asked, lambda: read_apart(*asked))


def _known(office: Office, ledger: str) -> _Known:
    record = office.books.ledger(ledger)
    kept = {each.shape: each.mapping for each in reversed(office.books.kept_mappings(record.id).rows)}
    facts = office.books.facts(record.id)
    own: dict[str, Role] = {each.name: "further_day" for each in facts.days}
    own |= {each.name: "further_amount" if each.kind == "amount" else "further_quantity" for each in facts.figures}
    return _Known(kept, {each.name: each.role for each in facts.dimensions}, own, record.time_zone)


def _taken_in(name: str, place: Path, known: _Known, progress: Progress) -> _Taken:
    # The file is hashed while another process reads it.
    with ThreadPoolExecutor(1, thread_name_prefix="hash") as pool:
        file_hash = pool.submit(_hash_of, place)
        taken = _read_in(_Taken(name, place, "", None), known, progress, None)
        return replace(taken, file_hash=file_hash.result())


def _hash_of(place: Path) -> str:
    with place.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()


def _read_in(taken: _Taken, known: _Known, progress: Progress, reading: Reading | None) -> _Taken:
    """A file read as said, or (None) as it looks; a mapping kept for its shape says how files like it are read."""
    name, place = taken.name, taken.place
    try:
        table = read_apart(place, name, reading, _rows_read(name, progress))
        before = known.mappings.get(shape_of(list(table.headers)))
        if before is not None and reading is None and before.reading != Reading() and _fits(before.reading, table):
            reading = before.reading
            table = read_apart(place, name, reading, _rows_read(name, progress))
        return replace(taken, reading=reading, table=table, found=survey(table), before=before)
    except UnreadableFileError as error:
        return replace(taken, reading=reading, error=str(error))


def _staged_file(taken: _Taken, around: Around, known: _Known) -> StagedFile:
    """What is proposed for a file."""
    size = taken.place.stat().st_size
    table, found = taken.table, taken.found
    if table is None or found is None:
        return StagedFile(taken.name, taken.file_hash, 0, "", "", "", (), (), None, False, taken.error, bytes=size)
    sample = found.sample
    mapping = refreshed(taken.before, sample) if taken.before is not None else propose(sample, around)
    sheet = table.sheets[0] if table.sheets else None
    mapping = replace(mapping, reading=replace(taken.reading or Reading(), sheet=sheet))
    return StagedFile(
        name=taken.name,
        file_hash=taken.file_hash,
        rows=found.rows,
        encoding=table.encoding,
        separator=table.separator,
        quote=table.quote,
        headers=table.headers,
        sample=tuple(SampleRow(int(sample.rows[at]), tuple(sample.fields(at))) for at in range(min(SAMPLE_ROWS, len(sample)))),
        mapping=mapping,
        kept=taken.before is not None,
        error=None,
        sheets=table.sheets,
        notes=(*table.notes, *notes_on(sample, mapping, known.zone)),
        bytes=size,
    )


def _fits(reading: Reading, table: FileTable) -> bool:
    return reading.sheet is None or reading.sheet in table.sheets


def _rows_read(name: str, progress: Progress) -> Callable[[int], None]:
    return lambda rows: progress(f"Reading {name}: {rows:,} rows", rows, 0)
