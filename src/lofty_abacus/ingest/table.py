"""A file as columns of text, whatever its format."""

from __future__ import annotations

from array import array
from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import chain, islice

import numpy as np
from numpy.typing import NDArray

from lofty_abacus.ingest.problems import Problem, UnreadableFileError

MOST_COLUMNS = 200
#: Rows among which the heading is looked for.
HEAD = 30

Record = tuple[int, list[str]]


@dataclass(frozen=True)
class TextColumn:
    """A column with each different text once: texts[codes[i]] is the text of record i. codes: u32[n]."""

    header: str
    texts: list[str]
    codes: NDArray[np.uint32]


@dataclass(frozen=True, eq=False)
class TextTable:
    """A file as columns of text. rows: i64[n], the row number of each record as a spreadsheet counts (the first row is 1).

    encoding: of text files; 'workbook' or 'parquet' for those. sheets: of a workbook, the one read first. notes: what an analyst
    should know of the reading (rows above the heading, hidden sheets), as sentences.
    """

    file: str
    encoding: str
    separator: str
    columns: list[TextColumn]
    rows: NDArray[np.int64]
    problems: list[Problem]
    blank_rows: int
    sheets: tuple[str, ...] = ()
    notes: tuple[str, ...] = ()

    def __len__(self) -> int:
        return len(self.rows)

    def column(self, header: str) -> TextColumn | None:
        """The column under a heading."""
        return next((each for each in self.columns if each.header == header), None)


def collect(
    records: Iterator[Record],
    name: str,
    encoding: str,
    separator: str = "",
    sheets: tuple[str, ...] = (),
    notes: Sequence[str] = (),
) -> TextTable:
    """Numbered records to columns. Raises UnreadableFileError; rows of the wrong width are problems, blank rows are counted."""
    head = list(islice(records, HEAD))
    at = _heading_position(head, name)
    header = _heading(head[at][1], name)
    above = sum(any(field.strip() for field in record) for _, record in head[:at])
    said = [*notes, f"{above} row{'s' if above > 1 else ''} above the heading passed over"] if above else list(notes)
    problems: list[Problem] = []
    rows = array("q")
    codes = [array("I") for _ in header]
    known: list[dict[str, int]] = [{} for _ in header]
    blank_rows, width = 0, len(header)
    for row, record in chain(head[at + 1 :], records):
        if not any(field.strip() for field in record):
            blank_rows += 1
            continue
        if len(record) != width:
            why = f"has {len(record)} fields where the heading has {width}"
            problems.append(Problem(name, row, "", (separator or " ").join(record)[:80], why))
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
    return TextTable(name, encoding, separator, columns, numbers, problems, blank_rows, sheets, tuple(said))


def _heading_position(head: list[Record], name: str) -> int:
    """The first row that is about as full as most rows are; titles above a table fill a cell or two."""
    filled = [sum(bool(field.strip()) for field in record) for _, record in head]
    usual = Counter(count for count in filled if count).most_common(1)
    if not usual:
        raise UnreadableFileError(name, "it has no heading row.", "Choose a file with a heading row and lines.")
    return next(at for at, count in enumerate(filled) if count * 5 >= usual[0][0] * 4)


def _heading(record: list[str], name: str) -> list[str]:
    if len(record) > MOST_COLUMNS:
        raise UnreadableFileError(name, f"it has {len(record)} columns.", f"Intake reads at most {MOST_COLUMNS}.")
    header = [field.strip() or f"column {at}" for at, field in enumerate(record, start=1)]
    repeated = [field for field, times in Counter(header).items() if times > 1]
    if repeated:
        raise UnreadableFileError(name, f"the heading {repeated[0]!r} stands over more than one column.", "Rename one.")
    return header
