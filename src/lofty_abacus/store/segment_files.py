"""Segments as files beside the record: each a folder of columns that never changes, with what it holds and checksums.

A segment holds all lines of some stretches of line ids, whether they count or not: what counts is a version's matter.
"""

from __future__ import annotations

import json
import os
import re
import secrets
import shutil
import zlib
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import asdict, dataclass, field
from functools import lru_cache
from pathlib import Path
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from lofty_abacus.core.lines import size_of

FORM = 5
#: Manifests that are kept as they were read.
MOST_MANIFESTS = 500
#: Columns of figures: those that are there at all.
FIGURES = ("amount", "quantity", "cost")
#: Before the names of figures and of days of the ledger's own.
OWN, OWN_DAY = "figure-", "day-"
_MAKING = re.compile(r"\.making-(\d+)")

Arrays = dict[str, NDArray[Any]]


class Stretch(NamedTuple):
    """Line ids of one batch that follow each other, both ends included."""

    first: int
    last: int
    batch: int

    @property
    def size(self) -> int:
        """How many ids there are."""
        return self.last - self.first + 1


@dataclass(frozen=True)
class Manifest:
    """What the files of a segment hold, and how to know that they still do.

    amount: control total in minor units, as text. scales: decimals of amounts and of quantities. holds: (first id, last id,
    batch) in order; marks: per batch (as text) what it was posted as. dimensions: ids of the dimensions that have a column of
    codes. largest: per column of figures the largest size. checksums: CRC-32 per file. figures: decimals of the quantities of the
    ledger's own. days: from which day number each of its own days is counted.
    """

    form: int
    ledger_id: int
    rows: int
    amount: str
    scales: tuple[int, int]
    first_day: int
    holds: tuple[Stretch, ...]
    marks: dict[str, str]
    dimensions: dict[str, int]
    largest: dict[str, int]
    checksums: dict[str, int]
    figures: dict[str, int] = field(default_factory=dict)
    days: dict[str, int] = field(default_factory=dict)


def figure_names(names: Iterable[str]) -> list[str]:
    """Of the files of a segment, those of figures beside the amount."""
    return [name for name in names if name in FIGURES[1:] or (name.startswith(OWN) and not name.endswith("_missing"))]


def day_names(names: Iterable[str]) -> list[str]:
    """Of the files of a segment, those of days of the ledger's own."""
    return [name for name in names if name.startswith(OWN_DAY)]


def manifest_of(
    ledger_id: int,
    columns: Arrays,
    first_day: int,
    scales: tuple[int, int],
    holds: Sequence[Stretch],
    marks: Mapping[int, str],
    dimensions: Mapping[str, int],
    checksums: dict[str, int],
    figures: Mapping[str, int],
    days: Mapping[str, int],
) -> Manifest:
    """What columns hold."""
    return Manifest(
        form=FORM,
        ledger_id=ledger_id,
        rows=len(columns["amount"]),
        amount=str(exact_sum(columns["amount"])),
        scales=scales,
        first_day=first_day,
        holds=tuple(sorted(holds)),
        marks={str(each.batch): marks[each.batch] for each in holds},
        dimensions=dict(dimensions),
        largest={name: size_of(columns[name]) for name in ("amount", *figure_names(columns))},
        checksums=checksums,
        figures=dict(figures),
        days=dict(days),
    )


def exact_sum(amount: NDArray[Any]) -> int:
    """The sum of minor units, whatever its size."""
    return int((amount >> 32).sum(dtype=np.int64)) * 2**32 + int((amount & 0xFFFFFFFF).sum(dtype=np.int64))


class MakingFolder:
    """A folder that appears whole, or not at all; files are written into it one by one."""

    def __init__(self, home: Path, name: str) -> None:
        """home: of the ledger. For the owner's eyes only."""
        self._folder = home / f"{name}-{secrets.token_hex(4)}"
        self._making = self._folder.with_name(f"{self._folder.name}.making-{os.getpid()}")
        self._making.mkdir(parents=True, mode=0o700)
        self.checksums: dict[str, int] = {}

    def write(self, name: str, values: NDArray[Any]) -> None:
        """Write a column."""
        np.save(self._making / f"{name}.npy", values)
        self.checksums[name] = checksum(values)

    def finish(self, manifest: Manifest) -> Path:
        """Let it appear."""
        text = json.dumps(asdict(manifest) | {"holds": [each._asdict() for each in manifest.holds]}, indent=1)
        with (self._making / "manifest.json").open("w") as file:
            file.write(text)
        self._making.rename(self._folder)
        return self._folder

    def drop(self) -> None:
        """Leave nothing."""
        throw_away(self._making)


def segment_name(holds: Iterable[Stretch]) -> str:
    """What a segment's folder is called, without what tells it from others of the same lines."""
    ordered = sorted(holds)
    return f"segment-{ordered[0].first}-{ordered[-1].last}"


def segments_in(home: Path) -> dict[Path, Manifest]:
    """The segments in a ledger's folder, those that can be read."""
    found = {}
    if home.is_dir():
        for path in sorted(home.glob("segment-*")):
            if not _MAKING.search(path.name):
                manifest = read_manifest(path)
                if manifest is not None:
                    found[path] = manifest
    return found


def read_manifest(folder: Path) -> Manifest | None:
    """What a folder says that it holds; None where it cannot be read, or is of another form."""
    path = folder / "manifest.json"
    try:
        there = path.stat()
        return _manifest_in(path, there.st_ino, there.st_mtime_ns, there.st_size)
    except (OSError, ValueError, TypeError, KeyError, AttributeError):
        return None


@lru_cache(MOST_MANIFESTS)
def _manifest_in(path: Path, *_as_it_was: int) -> Manifest | None:
    """What a file says, read once as long as it stays as it was: by number, time and size. What failed is tried again."""
    said = json.loads(path.read_text())
    if said.get("form") != FORM:
        return None
    said["holds"] = tuple(Stretch(**each) for each in said["holds"])
    return Manifest(**{**said, "scales": tuple(said["scales"])})


def is_whole(folder: Path, manifest: Manifest) -> bool:
    """Whether all files are what they were."""
    try:
        return all(checksum_of(folder / f"{name}.npy") == value for name, value in manifest.checksums.items())
    except (OSError, ValueError, EOFError):
        return False


def mapped(folder: Path, manifest: Manifest) -> Arrays:
    """The columns of a segment, mapped: nothing is read until it is asked for."""
    return {name: np.asarray(np.load(folder / f"{name}.npy", mmap_mode="r")) for name in manifest.checksums}


def kept_or_made(folder: Path, name: str, make: Callable[[], NDArray[Any]]) -> NDArray[Any]:
    """A column that is derived of a segment and something else (named by its content), kept beside it once it was made."""
    path = folder / f"{name}.npy"
    mark = folder / f"{name}.crc"
    try:
        if int(mark.read_text()) == checksum_of(path):
            return np.asarray(np.load(path, mmap_mode="r"))
    except (OSError, ValueError, EOFError):
        pass
    made = make()
    passing = folder / f"{name}.{os.getpid()}-{secrets.token_hex(4)}"
    try:
        with passing.open("wb") as file:
            np.save(file, made)
        passing.rename(path)
        mark.write_text(str(checksum(made)))
        return np.asarray(np.load(path, mmap_mode="r"))
    except OSError:
        # It is only kept to be found again; another process may have thrown the segment away meanwhile.
        passing.unlink(missing_ok=True)
        return made


def checksum(values: NDArray[Any]) -> int:
    """CRC-32 of a column's bytes."""
    return zlib.crc32(np.ascontiguousarray(values).view(np.uint8).data) if len(values) else 0


def checksum_of(path: Path) -> int:
    """The same of a column's file, read piece by piece: what is mapped stays out of memory until it is asked for."""
    mapped_file = np.load(path, mmap_mode="r")
    if not mapped_file.size:
        return 0
    found = 0
    with path.open("rb") as file:
        file.seek(mapped_file.offset)
        while piece := file.read(1 << 20):
            found = zlib.crc32(piece, found)
    return found


def clear_unfinished(home: Path) -> None:
    """Throw away what a process that is no more had begun, and whatever else is no segment that can be read."""
    for path in home.iterdir() if home.is_dir() else ():
        found = _MAKING.search(path.name)
        if (found and not _lives(int(found[1]))) or (not found and read_manifest(path) is None):
            throw_away(path)


def _lives(process: int) -> bool:
    if process == os.getpid():
        return True
    try:
        os.kill(process, 0)
    except ProcessLookupError:
        return False
    except PermissionError:
        return True
    return True


def throw_away(path: Path) -> None:
    """Remove a folder with what is in it, or a file that stands in its place."""
    if path.is_dir() and not path.is_symlink():
        shutil.rmtree(path, ignore_errors=True)
    else:
        path.unlink(missing_ok=True)
