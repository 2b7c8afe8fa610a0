"""Read a file by what it holds, whatever its name says."""

from __future__ import annotations

import gzip
import zlib
from pathlib import Path

from lofty_abacus.ingest.delimited import read_delimited
from lofty_abacus.ingest.mapping import Reading
from lofty_abacus.ingest.parquet import read_parquet
from lofty_abacus.ingest.problems import UnreadableFileError, is_out_of_room
from lofty_abacus.ingest.table import FileTable
from lofty_abacus.ingest.workbook import read_workbook

#: Bytes that a compressed file may unpack to.
MOST_UNPACKED = 4 << 30
_BLOCK = 1 << 20


def read_file(path: Path, name: str, reading: Reading | None = None) -> FileTable:
    """A file's table: delimited text, workbook or Parquet, each also gzipped. Raises UnreadableFileError.

    What reading needs beside the file (its unpacked bytes, its text as UTF-8) is kept beside it and made once.
    """
    with path.open("rb") as file:
        head = file.read(8)
    if head.startswith(b"\x1f\x8b"):
        unpacked = path.with_name(f"{path.name}.unpacked")
        if not unpacked.exists():
            _unpack(path, unpacked, name)
        return read_file(unpacked, name, reading)
    if head.startswith(b"PK\x03\x04"):
        return read_workbook(path, name, reading)
    if head.startswith(b"PAR1"):
        return read_parquet(path, name)
    if head.startswith(b"\xd0\xcf\x11\xe0"):
        raise UnreadableFileError(name, "it is a workbook of the old binary kind.", "Save it as XLSX or CSV.")
    if head.startswith(b"%PDF"):
        raise UnreadableFileError(name, "it is a PDF.", "Export the lines as CSV or XLSX.")
    return read_delimited(path, name, reading)


def _unpack(path: Path, place: Path, name: str) -> None:
    making = place.with_name(f"{place.name}.making")
    written = 0
    try:
        with gzip.open(path, "rb") as packed, making.open("wb") as out:
            while block := packed.read(_BLOCK):
                written += len(block)
                if written > MOST_UNPACKED:
                    raise UnreadableFileError(
                        name, f"it unpacks to more than {MOST_UNPACKED >> 20} MB.", "Cut it into smaller files."
                    )
                out.write(block)
        making.rename(place)
    except (OSError, EOFError, zlib.error) as error:
        if is_out_of_room(error):
            raise
        raise UnreadableFileError(name, f"the compressed file is broken ({error}).", "Pack it again.") from error
    finally:
        making.unlink(missing_ok=True)
