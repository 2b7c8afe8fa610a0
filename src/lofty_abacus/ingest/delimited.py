"""Delimited text: encoding and separator found by content, every record with its row number."""

from __future__ import annotations

import codecs
import csv
import io
from collections import Counter
from pathlib import Path

from lofty_abacus.ingest.problems import UnreadableFileError
from lofty_abacus.ingest.table import TextTable, collect

SEPARATORS = (",", ";", "\t", "|")
SAMPLE_BYTES = 1 << 16
LONGEST_FIELD = 32_000


def encoding_of(path: Path) -> str:
    """The text encoding of a file: by byte order mark, else UTF-8 where it decodes, else Windows-1252."""
    with path.open("rb") as file:
        head = file.read(4)
        if head.startswith(b"\xef\xbb\xbf"):
            return "utf-8-sig"
        if head.startswith((b"\xff\xfe", b"\xfe\xff")):
            return "utf-16"
        file.seek(0)
        decoder = codecs.getincrementaldecoder("utf-8")()
        try:
            while block := file.read(1 << 20):
                decoder.decode(block)
            decoder.decode(b"", final=True)
        except UnicodeDecodeError:
            return "cp1252"
    return "utf-8"


def separator_of(sample: str) -> str:
    """The separator that cuts the sample's records most evenly into more than one field; a comma where none does."""
    best, best_score = ",", (0.0, 0)
    for separator in SEPARATORS:
        widths = Counter(len(record) for record in csv.reader(io.StringIO(sample), delimiter=separator) if record)
        if not widths:
            continue
        width, times = widths.most_common(1)[0]
        score = (times / widths.total(), width) if width > 1 else (0.0, width)
        if score > best_score:
            best, best_score = separator, score
    return best


def read_delimited(path: Path, name: str) -> TextTable:
    """Read a whole file. Raises UnreadableFileError; rows of the wrong width are problems, blank rows are counted."""
    if path.stat().st_size == 0:
        raise UnreadableFileError(name, "the file is empty.", "Choose a file with a heading row and lines.")
    encoding = encoding_of(path)
    try:
        with path.open(encoding=encoding, newline="") as file:
            sample = file.read(SAMPLE_BYTES)
            if "\0" in sample:
                raise UnreadableFileError(name, "it holds NUL bytes, so it is no delimited text.", "Save it as CSV (UTF-8).")
            separator = separator_of(sample[: sample.rfind("\n") + 1] or sample)
            file.seek(0)
            csv.field_size_limit(LONGEST_FIELD)
            return collect(enumerate(csv.reader(file, delimiter=separator), start=1), name, encoding, separator)
    except (UnicodeError, csv.Error) as error:
        raise UnreadableFileError(name, f"it cannot be read as {encoding} text ({error}).", "Save it as CSV (UTF-8).") from error
