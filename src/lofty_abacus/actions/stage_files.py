"""Stage files: take them in, say what they seem to be, and show what posting them would do. Nothing is posted here."""

from __future__ import annotations

import hashlib
import json
import secrets
import shutil
from collections.abc import Sequence
from dataclasses import asdict, dataclass, replace
from functools import lru_cache
from pathlib import Path
from typing import Any

from lofty_abacus.actions.errors import NotFoundError
from lofty_abacus.actions.ports import Office
from lofty_abacus.ingest.applying import check_mapping
from lofty_abacus.ingest.dates import has_short_years
from lofty_abacus.ingest.mapping import ColumnUse, Mapping, shape_of
from lofty_abacus.ingest.problems import UnreadableFileError
from lofty_abacus.ingest.proposing import propose, refreshed
from lofty_abacus.ingest.reading import read_table
from lofty_abacus.ingest.table import TextTable

SAMPLE_ROWS = 6


@dataclass(frozen=True)
class SampleRow:
    """A row as it stands in the file."""

    row: int
    fields: tuple[str, ...]


@dataclass(frozen=True)
class StagedFile:
    """A file that was taken in.

    error: why it cannot be read (then there is no mapping). kept: the mapping was kept from before.
    """

    name: str
    file_hash: str
    rows: int
    encoding: str
    separator: str
    headers: tuple[str, ...]
    sample: tuple[SampleRow, ...]
    mapping: Mapping | None
    kept: bool
    error: str | None
    sheets: tuple[str, ...] = ()
    notes: tuple[str, ...] = ()


@dataclass(frozen=True)
class Staging:
    """Files dropped together for one ledger, to be posted together."""

    id: str
    ledger: str
    files: tuple[StagedFile, ...]


def stage_files(office: Office, ledger: str, files: Sequence[tuple[str, Path]]) -> Staging:
    """Take files in (name, where it lies; the file is copied) and propose a mapping for each. Raises NotFoundError."""
    kept, known = _known(office, ledger)
    number = secrets.token_hex(8)
    folder = office.staging / number
    folder.mkdir(parents=True)
    staged = []
    for at, (name, path) in enumerate(files):
        place = folder / f"file-{at}"
        shutil.copyfile(path, place)
        each = _taken_in(name, place, kept, known)
        if each.mapping is not None and each.mapping.kind != "lookup":
            known |= {use.name: use.role for use in each.mapping.columns if use.name and use.role != "dimension"}
        staged.append(each)
    staging = Staging(number, ledger, tuple(staged))
    _write(folder, staging)
    return staging


def staging_of(office: Office, number: str) -> Staging:
    """A staging by its id. Raises NotFoundError."""
    try:
        found = json.loads((_folder(office, number) / "staging.json").read_text())
    except OSError as error:
        raise NotFoundError("These files are no longer staged: drop them again.") from error
    files = tuple(_file_from(each) for each in found["files"])
    return Staging(found["id"], found["ledger"], files)


def map_file(office: Office, number: str, file: int, mapping: Mapping) -> Staging:
    """Take the analyst's mapping for a file. Raises NotFoundError, MappingError."""
    staging = staging_of(office, number)
    if not 0 <= file < len(staging.files):
        raise NotFoundError(f"There is no file {file} in this staging.")
    check_mapping(table_of(office, staging, file), mapping)
    files = list(staging.files)
    files[file] = replace(files[file], mapping=mapping)
    changed = replace(staging, files=tuple(files))
    _write(_folder(office, number), changed)
    return changed


def choose_sheet(office: Office, number: str, file: int, sheet: str) -> Staging:
    """Read another sheet of a workbook, with a mapping of its own. Raises NotFoundError."""
    staging = staging_of(office, number)
    if not 0 <= file < len(staging.files) or sheet not in staging.files[file].sheets:
        raise NotFoundError(f"There is no sheet {sheet!r} in this file.")
    files = list(staging.files)
    kept, known = _known(office, staging.ledger)
    files[file] = _taken_in(files[file].name, _folder(office, number) / f"file-{file}", kept, known, sheet)
    changed = replace(staging, files=tuple(files))
    _write(_folder(office, number), changed)
    return changed


def discard_staging(office: Office, number: str) -> None:
    """Throw staged files away; no error if they are gone."""
    shutil.rmtree(_folder(office, number), ignore_errors=True)


def table_of(office: Office, staging: Staging, file: int) -> TextTable:
    """A staged file's text. Raises UnreadableFileError."""
    mapping = staging.files[file].mapping
    return _read(_folder(office, staging.id) / f"file-{file}", staging.files[file].name, mapping.sheet if mapping else None)


@lru_cache(maxsize=4)
def _read(path: Path, name: str, sheet: str | None) -> TextTable:
    return read_table(path, name, sheet)


def _folder(office: Office, number: str) -> Path:
    if not number.isalnum():
        raise NotFoundError("There is no such staging.")
    return office.staging / number


def _known(office: Office, ledger: str) -> tuple[dict[str, Mapping], dict[str, str | None]]:
    """The ledger's kept mappings by shape, and its line dimensions with their roles."""
    record = office.books.ledger(ledger)
    kept = {each.shape: each.mapping for each in reversed(office.books.kept_mappings(record.id))}
    return kept, {each.name: each.role for each in office.books.opened(ledger).facts.dimensions if each.of is None}


def _taken_in(
    name: str, place: Path, kept: dict[str, Mapping], known: dict[str, str | None], sheet: str | None = None
) -> StagedFile:
    with place.open("rb") as file:
        file_hash = hashlib.file_digest(file, "sha256").hexdigest()
    try:
        table = _read(place, name, sheet)
    except UnreadableFileError as error:
        return StagedFile(name, file_hash, 0, "", "", (), (), None, False, str(error))
    headers = [column.header for column in table.columns]
    before = kept.get(shape_of(headers))
    mapping = refreshed(before, table) if before is not None else propose(table, known)
    mapping = replace(mapping, sheet=table.sheets[0] if table.sheets else None)
    sample = tuple(
        SampleRow(int(table.rows[at]), tuple(column.texts[column.codes[at]] for column in table.columns))
        for at in range(min(SAMPLE_ROWS, len(table)))
    )
    return StagedFile(
        name=name,
        file_hash=file_hash,
        rows=len(table),
        encoding=table.encoding,
        separator=table.separator,
        headers=tuple(headers),
        sample=sample,
        mapping=mapping,
        kept=before is not None,
        error=None,
        sheets=table.sheets,
        notes=(*table.notes, *_date_notes(table, mapping)),
    )


def _date_notes(table: TextTable, mapping: Mapping) -> tuple[str, ...]:
    use = mapping.with_role("date")
    column = table.column(use.column) if use else None
    return ("two-digit years are 1970 to 2069",) if column is not None and has_short_years(column.texts) else ()


def _write(folder: Path, staging: Staging) -> None:
    making = folder / "staging.json.making"
    making.write_text(json.dumps(asdict(staging)))
    making.rename(folder / "staging.json")


def _file_from(found: dict[str, Any]) -> StagedFile:
    mapping = found["mapping"]
    if mapping is not None:
        columns = tuple(ColumnUse(**each) for each in mapping["columns"])
        mapping = Mapping(**{**mapping, "columns": columns, "return_marks": tuple(mapping["return_marks"])})
    sample = tuple(SampleRow(each["row"], tuple(each["fields"])) for each in found["sample"])
    plain = {name: tuple(found[name]) for name in ("headers", "sheets", "notes")}
    return StagedFile(**{**found, **plain, "mapping": mapping, "sample": sample})
