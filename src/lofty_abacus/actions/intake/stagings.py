"""Files that wait to be posted: kept in a folder of their own until they are posted or thrown away."""

from __future__ import annotations

import json
import secrets
import shutil
from dataclasses import asdict, dataclass, field, replace
from datetime import datetime, timedelta
from pathlib import Path
from typing import Any, Literal

from lofty_abacus.actions.errors import NotFoundError
from lofty_abacus.actions.ports import Office
from lofty_abacus.ingest.mapping import Correction, FileMapping, mapping_from

#: A folder without its description, this old, was left by a process that was killed.
LEFT_BEHIND = timedelta(hours=1)
Arrival = Literal["drop", "inbox", "database"]


@dataclass(frozen=True)
class SampleRow:
    """A row as it stands in the file."""

    row: int
    fields: tuple[str, ...]


@dataclass(frozen=True)
class Expected:
    """What an analyst knows that a file holds, from elsewhere; null: not said. amount: decimal text."""

    lines: int | None = None
    amount: str | None = None


@dataclass(frozen=True)
class StagedFile:
    """A file that was taken in.

    error: why it cannot be read (then there is no mapping). kept: the mapping was kept from before.
    separator, quote: of delimited text; the mapping's `reading` says what is not left to detection.
    corrections: of single rows of this file; those by text stand in the mapping.
    """

    name: str
    file_hash: str
    rows: int
    encoding: str
    separator: str
    quote: str
    headers: tuple[str, ...]
    sample: tuple[SampleRow, ...]
    mapping: FileMapping | None
    kept: bool
    error: str | None
    sheets: tuple[str, ...] = ()
    notes: tuple[str, ...] = ()
    bytes: int = 0
    corrections: tuple[Correction, ...] = ()
    expected: Expected = Expected()


@dataclass(frozen=True)
class Staging:
    """Files for one ledger, to be posted together. made_at: ISO, UTC."""

    id: str
    ledger: str
    files: tuple[StagedFile, ...]
    arrival: Arrival = "drop"
    made_at: str = ""
    places: tuple[str, ...] = field(default=())
    """Name of each file within the staging's folder: files can be left out, and keep theirs."""


def new_staging(office: Office) -> tuple[str, Path]:
    """A number and an empty folder for files that are on their way."""
    number = secrets.token_hex(8)
    folder = office.staging / number
    folder.mkdir(parents=True)
    return number, folder


def folder_of(office: Office, number: str) -> Path:
    """A staging's folder. Raises NotFoundError for what is no staging's number."""
    if not number.isalnum():
        raise NotFoundError("There is no such staging.")
    return office.staging / number


def staging_of(office: Office, number: str) -> Staging:
    """A staging by its id. Raises NotFoundError."""
    try:
        found = json.loads((folder_of(office, number) / "staging.json").read_text())
    except (OSError, ValueError) as error:
        raise NotFoundError("These files are no longer staged: drop them again.") from error
    files = tuple(_file_from(each) for each in found.pop("files"))
    # Files that were staged before a new version came say how they arrived in its earlier word.
    if "source" in found:
        found["arrival"] = found.pop("source")
    return Staging(**{**found, "files": files, "places": tuple(found["places"])})


def waiting_stagings(office: Office, ledger: str) -> tuple[Staging, ...]:
    """Everything that waits to be posted to a ledger, the oldest first."""
    found = []
    for folder in office.staging.iterdir() if office.staging.is_dir() else ():
        if (folder / "staging.json").exists():
            staging = staging_of(office, folder.name)
            if staging.ledger == ledger:
                found.append(staging)
    return tuple(sorted(found, key=lambda each: (each.made_at, each.id)))


def write_staging(office: Office, staging: Staging) -> Staging:
    """Keep a staging as it stands now: the description appears whole."""
    folder = folder_of(office, staging.id)
    making = folder / f"staging.json.{secrets.token_hex(4)}"
    making.write_text(json.dumps(asdict(staging)))
    making.rename(folder / "staging.json")
    return staging


def file_in(staging: Staging, file: int) -> StagedFile:
    """One of a staging's files. Raises NotFoundError."""
    if not 0 <= file < len(staging.files):
        raise NotFoundError(f"There is no file {file} in this staging.")
    return staging.files[file]


def with_file(staging: Staging, file: int, changed: StagedFile) -> Staging:
    """The staging with one of its files changed."""
    files = list(staging.files)
    files[file] = changed
    return replace(staging, files=tuple(files))


def path_of(office: Office, staging: Staging, file: int) -> Path:
    """Where a staged file lies."""
    return folder_of(office, staging.id) / staging.places[file]


def discard_staging(office: Office, number: str) -> None:
    """Throw staged files away; no error if they are gone."""
    shutil.rmtree(folder_of(office, number), ignore_errors=True)


def discard_left_behind(office: Office) -> int:
    """Throw away folders of files that were on their way when their process was killed; how many there were."""
    count = 0
    for folder in office.staging.iterdir() if office.staging.is_dir() else ():
        if not (folder / "staging.json").exists():
            touched = datetime.fromtimestamp(folder.stat().st_mtime, office.now().tzinfo)
            if office.now() - touched > LEFT_BEHIND:
                shutil.rmtree(folder, ignore_errors=True)
                count += 1
    return count


def _file_from(found: dict[str, Any]) -> StagedFile:
    sample = tuple(SampleRow(each["row"], tuple(each["fields"])) for each in found["sample"])
    return StagedFile(
        **{
            **found,
            **{name: tuple(found[name]) for name in ("headers", "sheets", "notes")},
            "mapping": mapping_from(found["mapping"]) if found["mapping"] else None,
            "sample": sample,
            "corrections": tuple(Correction(**each) for each in found["corrections"]),
            "expected": Expected(**found["expected"]),
        }
    )
