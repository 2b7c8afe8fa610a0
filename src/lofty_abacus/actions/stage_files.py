"""Stage files: take them in, say what they seem to be, and take an analyst's decisions on them. Nothing is posted here."""

from __future__ import annotations

import hashlib
import shutil
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from pathlib import Path

from lofty_abacus.actions.errors import NotFoundError, RefusedError
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import Progress
from lofty_abacus.actions.stagings import (
    Expected,
    SampleRow,
    Source,
    StagedFile,
    Staging,
    file_in,
    new_staging,
    path_of,
    staging_of,
    with_file,
    write_staging,
)
from lofty_abacus.core.errors import NotExactError
from lofty_abacus.core.money import decimal_parts
from lofty_abacus.ingest.dates import has_short_years
from lofty_abacus.ingest.encodings import ENCODINGS
from lofty_abacus.ingest.fitting import check_mapping
from lofty_abacus.ingest.mapping import Correction, Mapping, Reading, shape_of
from lofty_abacus.ingest.problems import MappingError, UnreadableFileError
from lofty_abacus.ingest.proposing import propose, refreshed
from lofty_abacus.ingest.reading import read_file
from lofty_abacus.ingest.surveying import survey
from lofty_abacus.ingest.table import FileTable, TextTable

SAMPLE_ROWS = 6
MOST_FILES = 500


@dataclass(frozen=True)
class _Known:
    """What a ledger knows that helps to recognise files: mappings by shape, and its line dimensions with their roles."""

    mappings: dict[str, Mapping]
    dimensions: dict[str, str | None]


def no_progress(doing: str, done: int, total: int) -> None:
    """Progress that nobody watches."""


def stage_files(
    office: Office,
    ledger: str,
    files: Sequence[tuple[str, Path]],
    progress: Progress = no_progress,
    source: Source = "drop",
) -> Staging:
    """Take files in (name, where it lies; the file is copied) and propose a mapping for each. Raises NotFoundError.

    progress may raise to stop: nothing is left of the staging then.
    """
    if len(files) > MOST_FILES:
        raise RefusedError(f"{len(files)} files at once are too many: drop at most {MOST_FILES}.")
    known = _known(office, ledger)
    number, folder = new_staging(office)
    try:
        staged = []
        for at, (name, path) in enumerate(files):
            place = folder / f"file-{at}"
            progress(f"Copying {name}", 0, 0)
            shutil.copyfile(path, place)
            each = _taken_in(name, place, known, progress)
            if each.mapping is not None and each.mapping.kind != "lookup":
                named = {use.name: use.role for use in each.mapping.columns if use.name and use.role != "dimension"}
                known = replace(known, dimensions=known.dimensions | named)
            staged.append(each)
    except BaseException:
        shutil.rmtree(folder, ignore_errors=True)
        raise
    places = tuple(f"file-{at}" for at in range(len(files)))
    return write_staging(office, Staging(number, ledger, tuple(staged), source, office.now().isoformat(), places))


def map_file(office: Office, number: str, file: int, mapping: Mapping) -> Staging:
    """Take the analyst's mapping for a file. Raises NotFoundError, MappingError."""
    staging = staging_of(office, number)
    staged = file_in(staging, file)
    if staged.mapping is not None and staged.mapping.reading != mapping.reading:
        raise MappingError(staged.name, "reading", "it is chosen on its own.", "Choose how the file is read first.")
    if any(each.row is not None for each in mapping.corrections):
        raise MappingError(staged.name, "corrections", "one is for a single row.", "Correct single rows in the file.")
    check_mapping(table_of(office, staging, file), mapping)
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
    again = _taken_in(staged.name, path_of(office, staging, file), _known(office, staging.ledger), no_progress, reading)
    return write_staging(office, with_file(staging, file, replace(again, expected=staged.expected)))


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
    path_of(office, staging, file).unlink(missing_ok=True)
    files = tuple(each for at, each in enumerate(staging.files) if at != file)
    places = tuple(each for at, each in enumerate(staging.places) if at != file)
    return write_staging(office, replace(staging, files=files, places=places))


def table_of(office: Office, staging: Staging, file: int) -> FileTable:
    """A staged file, ready to be read. Raises UnreadableFileError."""
    mapping = staging.files[file].mapping
    return _read(path_of(office, staging, file), staging.files[file].name, mapping.reading if mapping else Reading())


@lru_cache(maxsize=64)
def _read(path: Path, name: str, reading: Reading) -> FileTable:
    return read_file(path, name, reading)


def _known(office: Office, ledger: str) -> _Known:
    record = office.books.ledger(ledger)
    kept = {each.shape: each.mapping for each in reversed(office.books.kept_mappings(record.id))}
    return _Known(kept, {each.name: each.role for each in office.books.facts(record.id).dimensions if each.of is None})


def _taken_in(name: str, place: Path, known: _Known, progress: Progress, reading: Reading | None = None) -> StagedFile:
    with place.open("rb") as file:
        file_hash = hashlib.file_digest(file, "sha256").hexdigest()
    size = place.stat().st_size
    try:
        table = _read(place, name, reading or Reading())
        before = known.mappings.get(shape_of(list(table.headers)))
        if before is not None and reading is None and before.reading != Reading() and _fits(before.reading, table):
            table = _read(place, name, before.reading)
            reading = before.reading
        found = survey(table, _rows_read(name, progress))
    except UnreadableFileError as error:
        mapping = None
        return StagedFile(name, file_hash, 0, "", "", "", (), (), mapping, False, str(error), bytes=size)
    sample = found.sample
    mapping = refreshed(before, sample) if before is not None else propose(sample, known.dimensions)
    sheet = table.sheets[0] if table.sheets else None
    mapping = replace(mapping, reading=replace(reading or Reading(), sheet=sheet))
    return StagedFile(
        name=name,
        file_hash=file_hash,
        rows=found.rows,
        encoding=table.encoding,
        separator=table.separator,
        quote=table.quote,
        headers=table.headers,
        sample=tuple(SampleRow(int(sample.rows[at]), tuple(sample.fields(at))) for at in range(min(SAMPLE_ROWS, len(sample)))),
        mapping=mapping,
        kept=before is not None,
        error=None,
        sheets=table.sheets,
        notes=(*table.notes, *_date_notes(sample, mapping)),
        bytes=size,
    )


def _fits(reading: Reading, table: FileTable) -> bool:
    return reading.sheet is None or reading.sheet in table.sheets


def _rows_read(name: str, progress: Progress) -> Callable[[int], None]:
    return lambda rows: progress(f"Reading {name}: {rows:,} rows", rows, 0)


def _date_notes(sample: TextTable, mapping: Mapping) -> tuple[str, ...]:
    use = mapping.with_role("date")
    column = sample.column(use.column) if use else None
    return ("two-digit years are 1970 to 2069",) if column is not None and has_short_years(column.texts) else ()
