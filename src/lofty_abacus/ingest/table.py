"""A file as columns of text, whatever its format, read in pieces that fit into memory."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from numpy.typing import NDArray
from propcache.api import cached_property

from lofty_abacus.ingest.dates import DATE_FORMATS, read_date
from lofty_abacus.ingest.numbers import read_number
from lofty_abacus.ingest.problems import Problem, UnreadableFileError
from lofty_abacus.ingest.text_hashes import hashed

MOST_COLUMNS = 250
#: Rows among which the heading is looked for.
HEAD = 30
#: Characters of a field: longer ones are a quote that never ends, or no table at all.
LONGEST_FIELD = 32_000

Record = tuple[int, list[str]]


class TextColumn:
    """A column with each different text once: texts[codes[i]] is the text of record i. codes: u32[n].

    clean: whether no text has white space around it. Texts may come as an Arrow array, read into Python when first needed.
    """

    def __init__(self, header: str, texts: list[str] | pa.Array, codes: NDArray[np.uint32], *, clean: bool = False) -> None:
        self.header = header
        self.codes = codes
        self.clean = clean
        self._given = texts

    @cached_property
    def texts(self) -> list[str]:
        """Each different text once."""
        given = self._given
        return given if isinstance(given, list) else given.to_pylist()

    @cached_property
    def stripped(self) -> list[str]:
        """The texts without white space around them; two of them may be the same."""
        return self.texts if self.clean else [text.strip() for text in self.texts]

    @cached_property
    def bare(self) -> pa.Array:
        """The texts without white space around them, as an Arrow array: as they came where they came as one."""
        return self._given if self.clean and isinstance(self._given, pa.Array) else pa.array(self.stripped, pa.string())

    @cached_property
    def hashes(self) -> NDArray[np.uint64]:
        """The hash of each text without white space around it: u64[texts]."""
        return hashed(self.stripped)

    @cached_property
    def blank(self) -> NDArray[np.bool_]:
        """Which records have no text: bool[n]."""
        if not len(self.codes):
            return np.zeros(0, bool)
        empty: NDArray[np.bool_] = pc.equal(self.bare, "").to_numpy(zero_copy_only=False)
        return empty[self.codes] if empty.any() else np.zeros(len(self.codes), bool)

    @property
    def given(self) -> list[str] | pa.Array:
        """The texts as they came."""
        return self._given

    def first_texts(self, count: int) -> list[str]:
        """Some of the texts."""
        return self._given[:count] if isinstance(self._given, list) else self._given[:count].to_pylist()

    def text(self, at: int) -> str:
        """The text of a record."""
        return self.texts[int(self.codes[at])]

    def with_codes(self, codes: NDArray[np.uint32]) -> TextColumn:
        """The same texts for other records. What was read into Python, and hashed, stays so."""
        column = TextColumn(self.header, self._given, codes, clean=self.clean)
        if "texts" in vars(self):
            column.texts = self.texts
        if "hashes" in vars(self):
            column.hashes = self.hashes
        return column

    def taken(self, kept: NDArray[np.int64]) -> TextColumn:
        """The column at some records, without texts that none of them has."""
        used, codes = np.unique(self.codes[kept], return_inverse=True)
        return TextColumn(self.header, [self.texts[code] for code in used.tolist()], codes.astype(np.uint32), clean=self.clean)


@dataclass(frozen=True, eq=False)
class TextTable:
    """Some rows of a file as columns of text. rows: i64[n], the row number of each as a spreadsheet counts (the first is 1).

    problems: rows of the wrong width; blank_rows: how many were passed over among these.
    """

    file: str
    columns: list[TextColumn]
    rows: NDArray[np.int64]
    problems: list[Problem]
    blank_rows: int

    def __len__(self) -> int:
        return len(self.rows)

    def column(self, header: str) -> TextColumn | None:
        """The column under a heading."""
        return next((each for each in self.columns if each.header == header), None)

    def fields(self, at: int) -> list[str]:
        """A record as it stands in the file."""
        return [column.text(at) for column in self.columns]

    def taken(self, kept: NDArray[np.int64]) -> TextTable:
        """Some of the records."""
        columns = [column.taken(kept) for column in self.columns]
        return TextTable(self.file, columns, self.rows[kept], self.problems, self.blank_rows)


@dataclass(frozen=True, eq=False)
class FileTable:
    """A file that can be read, piece by piece and as often as needed.

    encoding: of text files; 'workbook' or 'parquet' for those. sheets: of a workbook, the one read first. notes: what an analyst
    should know of the reading (rows above the heading, hidden sheets), as sentences. bytes: to read, for progress. data_sheets:
    those that are not hidden and hold a table.
    """

    file: str
    encoding: str
    headers: tuple[str, ...]
    pieces: Callable[[], Iterator[TextTable]] = field(repr=False)
    separator: str = ""
    quote: str = ""
    sheets: tuple[str, ...] = ()
    notes: tuple[str, ...] = ()
    bytes: int = 0
    data_sheets: tuple[str, ...] = ()

    def whole(self) -> TextTable:
        """All pieces as one: for files that are known to be small, like lookups."""
        pieces = list(self.pieces())
        if len(pieces) == 1:
            return pieces[0]
        columns = [_joined([piece.columns[at] for piece in pieces]) for at in range(len(self.headers))]
        rows = np.concatenate([piece.rows for piece in pieces]) if pieces else np.empty(0, np.int64)
        problems = [each for piece in pieces for each in piece.problems]
        return TextTable(self.file, columns, rows, problems, sum(piece.blank_rows for piece in pieces))


def _joined(parts: Sequence[TextColumn]) -> TextColumn:
    known: dict[str, int] = {}
    codes = []
    for part in parts:
        again = np.array([known.setdefault(text, len(known)) for text in part.texts], np.uint32)
        codes.append(again[part.codes] if len(part.codes) else np.empty(0, np.uint32))
    return TextColumn(parts[0].header, list(known), np.concatenate(codes))


@dataclass(frozen=True)
class Heading:
    """Where the heading of a table stands: its position among the first records, its row number and texts."""

    position: int
    row: int
    headers: tuple[str, ...]
    notes: tuple[str, ...]


def heading_of(head: Sequence[Record], name: str, row: int | None = None) -> Heading:
    """The heading: the row named, else the first that is about as full as most rows are; titles above fill a cell or two.

    Where that row is a line already (or row 0 is named) there is no heading, and the columns are numbered. Raises
    UnreadableFileError.
    """
    filled = [sum(bool(text.strip()) for text in record) for _, record in head]
    if row == 0:
        return _numbered(head, next((at for at, count in enumerate(filled) if count), 0), ())
    if row is not None:
        at = next((at for at, (number, _) in enumerate(head) if number == row), None)
        if at is None or not filled[at]:
            raise UnreadableFileError(name, f"row {row} is no heading.", f"Choose one of the first {HEAD} rows.")
    else:
        usual = Counter(count for count in filled if count).most_common(1)
        if not usual:
            raise UnreadableFileError(name, "it has no heading row.", "Choose a file with a heading row and lines.")
        at = next(at for at, count in enumerate(filled) if count * 5 >= usual[0][0] * 4)
    above = sum(count > 0 for count in filled[:at])
    said = (f"{above} row{'s' if above > 1 else ''} above the heading passed over",) if above else ()
    if row is None and _is_line(head[at][1], [record for _, record in head[at + 1 : at + 11]]):
        return _numbered(head, at, ("there is no heading row: the columns are numbered",))
    return Heading(at, head[at][0], heading_texts(head[at][1], name), said)


def _numbered(head: Sequence[Record], at: int, said: tuple[str, ...]) -> Heading:
    """No heading above the record at a position."""
    width = max((len(record) for _, record in head[at:]), default=0)
    return Heading(at - 1, head[at - 1][0] if at else 0, tuple(f"column {number}" for number in range(1, width + 1)), said)


def _is_line(record: Sequence[str], below: Sequence[Sequence[str]]) -> bool:
    """Whether a record has a day where the records below it have days, or a figure with decimals where they have figures."""

    def like(at: int, test: Callable[[str], bool]) -> bool:
        texts = [each[at] for each in below if at < len(each) and each[at].strip()]
        return bool(texts) and 3 * sum(map(test, texts)) >= 2 * len(texts)

    for at, text in enumerate(record):
        if (_is_day(text) and like(at, _is_day)) or (_has_decimals(text) and like(at, _is_figure)):
            return True
    return False


def _is_day(text: str) -> bool:
    return any(read_date(text, form) is not None for form in DATE_FORMATS)


def _has_decimals(text: str) -> bool:
    return any(found is not None and found[1] > 0 for found in _figures(text))


def _is_figure(text: str) -> bool:
    return any(found is not None for found in _figures(text))


def _figures(text: str) -> tuple[tuple[int, int] | None, tuple[int, int] | None]:
    return read_number(text, "point"), read_number(text, "comma")


def heading_texts(record: Sequence[str], name: str) -> tuple[str, ...]:
    """The headings of a record; columns without one are counted. Raises UnreadableFileError where two are the same."""
    if len(record) > MOST_COLUMNS:
        raise UnreadableFileError(name, f"it has {len(record)} columns.", f"Intake reads at most {MOST_COLUMNS}.")
    headers = [text.strip() or f"column {at}" for at, text in enumerate(record, start=1)]
    repeated = [text for text, times in Counter(headers).items() if times > 1]
    if repeated:
        raise UnreadableFileError(name, f"the heading {repeated[0]!r} stands over more than one column.", "Rename one.")
    return tuple(headers)


def table_of_records(records: Sequence[Record], headers: Sequence[str], name: str, between: str = " ") -> TextTable:
    """Numbered records as a table; rows of the wrong width are problems, blank rows are counted."""
    problems: list[Problem] = []
    rows: list[int] = []
    known: list[dict[str, int]] = [{} for _ in headers]
    codes: list[list[int]] = [[] for _ in headers]
    blank_rows = 0
    for row, record in records:
        if not any(text.strip() for text in record):
            blank_rows += 1
        elif len(record) != len(headers):
            problems.append(wrong_width(name, row, len(record), len(headers), between.join(record)))
        else:
            rows.append(row)
            for text, code, texts in zip(record, codes, known, strict=True):
                code.append(texts.setdefault(text, len(texts)))
    columns = [
        TextColumn(header, list(texts), np.array(code, np.uint32))
        for header, texts, code in zip(headers, known, codes, strict=True)
    ]
    return TextTable(name, columns, np.array(rows, np.int64), problems, blank_rows)


def wrong_width(name: str, row: int, found: int, wanted: int, text: str) -> Problem:
    """The problem of a row with too many or too few fields."""
    return Problem(name, row, "", text[:80], f"has {found} fields where the heading has {wanted}")
