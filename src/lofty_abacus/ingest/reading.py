"""Read a file by what it holds, whatever its name says."""

from __future__ import annotations

import gzip
import tempfile
import zlib
from pathlib import Path

from lofty_abacus.ingest.delimited import read_delimited
from lofty_abacus.ingest.parquet import read_parquet
from lofty_abacus.ingest.problems import UnreadableFileError
from lofty_abacus.ingest.table import TextTable
from lofty_abacus.ingest.workbook import read_workbook

#: Bytes that a compressed file may unpack to.
MOST_UNPACKED = 4 << 30
_BLOCK = 1 << 20


def read_table(path: Path, name: str, sheet: str | None = None) -> TextTable:
    """A file's table: delimited text, workbook or Parquet, each also gzipped. Raises UnreadableFileError."""
    with path.open("rb") as file:
        head = file.read(8)
    if head.startswith(b"\x1f\x8b"):
        with tempfile.NamedTemporaryFile(prefix="lofty-unpacked-", dir=path.parent) as unpacked:
            _unpack(path, Path(unpacked.name), name)
            return read_table(Path(unpacked.name), name, sheet)
    if head.startswith(b"PK\x03\x04"):
        return read_workbook(path, name, sheet)
    if head.startswith(b"PAR1"):
        return read_parquet(path, name)
    if head.startswith(b"\xd0\xcf\x11\xe0"):
        raise UnreadableFileError(name, "it is a workbook of the old binary kind.", "Save it as XLSX or CSV.")
    if head.startswith(b"%PDF"):
        raise UnreadableFileError(name, "it is a PDF.", "Export the lines as CSV or XLSX.")
    return read_delimited(path, name)


def _unpack(path: Path, place: Path, name: str) -> None:
    written = 0
    try:
        with gzip.open(path, "rb") as packed, place.open("wb") as out:
            while block := packed.read(_BLOCK):
                written += len(block)
                if written > MOST_UNPACKED:
                    raise UnreadableFileError(
                        name, f"it unpacks to more than {MOST_UNPACKED >> 20} MB.", "Cut it into smaller files."
                    )
                out.write(block)
    except (OSError, EOFError, zlib.error) as error:
        raise UnreadableFileError(name, f"the compressed file is broken ({error}).", "Pack it again.") from error
