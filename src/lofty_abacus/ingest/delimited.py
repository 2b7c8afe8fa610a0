"""Delimited text to columns of text: encoding and separator found by content, every record kept with its row number."""

from __future__ import annotations

import codecs
import csv
import io
from array import array
from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import TextIO

import numpy as np
from numpy.typing import NDArray

from lofty_abacus.ingest.problems import Problem, UnreadableFileError

SEPARATORS = (",", ";", "\t", "|")
SAMPLE_BYTES = 1 << 16
LONGEST_FIELD = 32_000
MOST_COLUMNS = 200


@dataclass(frozen=True)
class TextColumn:
    """A column with each different text once: texts[codes[i]] is the text of record i. codes: u32[n]."""

    header: str
    texts: list[str]
    codes: NDArray[np.uint32]


@dataclass(frozen=True)
class TextTable:
    """A file as columns of text. rows: i64[n], the row number of each record as a spreadsheet counts (the header is row 1)."""

    file: str
    encoding: str
    separator: str
    columns: list[TextColumn]
    rows: NDArray[np.int64]
    problems: list[Problem]
    blank_rows: int

    def __len__(self) -> int:
        return len(self.rows)

    def column(self, header: str) -> TextColumn | None:
        """The column under a heading."""
        return next((each for each in self.columns if each.header == header), None)


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
            return _read(file, name, encoding, separator)
    except (UnicodeError, csv.Error) as error:
        raise UnreadableFileError(name, f"it cannot be read as {encoding} text ({error}).", "Save it as CSV (UTF-8).") from error


def _read(file: TextIO, name: str, encoding: str, separator: str) -> TextTable:
    csv.field_size_limit(LONGEST_FIELD)
    records = enumerate(csv.reader(file, delimiter=separator), start=1)
    header = _header(records, name)
    problems: list[Problem] = []
    rows = array("q")
    codes = [array("I") for _ in header]
    known: list[dict[str, int]] = [{} for _ in header]
    blank_rows = 0
    width = len(header)
    for row, record in records:
        if len(record) != width:
            if not any(field.strip() for field in record):
                blank_rows += 1
                continue
            text = separator.join(record)[:80]
            problems.append(Problem(name, row, "", text, f"has {len(record)} fields where the heading has {width}"))
            continue
        if not any(record):
            blank_rows += 1
            continue
        rows.append(row)
        for field, code, texts in zip(record, codes, known, strict=True):
            code.append(texts.setdefault(field, len(texts)))
    if not rows and not problems:
        raise UnreadableFileError(name, "there is a heading row and nothing below it.", "Choose a file with lines.")
    columns = [
        TextColumn(heading, list(texts), np.frombuffer(code, np.uint32) if len(code) else np.empty(0, np.uint32))
        for heading, texts, code in zip(header, known, codes, strict=True)
    ]
    numbers = np.frombuffer(rows, np.int64) if len(rows) else np.empty(0, np.int64)
    return TextTable(name, encoding, separator, columns, numbers, problems, blank_rows)


def _header(records: Iterator[tuple[int, list[str]]], name: str) -> list[str]:
    for _, record in records:
        if any(field.strip() for field in record):
            header = [field.strip() for field in record]
            break
    else:
        raise UnreadableFileError(name, "it has no heading row.", "Choose a file with a heading row and lines.")
    if len(header) > MOST_COLUMNS:
        raise UnreadableFileError(name, f"it has {len(header)} columns.", f"Intake reads at most {MOST_COLUMNS}.")
    header = [field or f"column {at}" for at, field in enumerate(header, start=1)]
    repeated = [field for field, times in Counter(header).items() if times > 1]
    if repeated:
        raise UnreadableFileError(name, f"the heading {repeated[0]!r} stands over more than one column.", "Rename one.")
    return header
