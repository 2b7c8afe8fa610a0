"""Delimited text: encoding, separator and quotes found by content, every record with its row number, read in blocks."""

from __future__ import annotations

import csv
import io
from collections import Counter
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from itertools import islice
from pathlib import Path

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
import pyarrow.csv as pa_csv

from lofty_abacus.ingest.ahead import one_ahead
from lofty_abacus.ingest.encodings import SPOILT, check_utf8, encoding_of, mark_length, spoilt_bytes, write_as_utf8
from lofty_abacus.ingest.mapping import Reading
from lofty_abacus.ingest.padded import SEPARATOR, cutter_of, write_separated
from lofty_abacus.ingest.problems import Problem, UnreadableFileError
from lofty_abacus.ingest.table import HEAD, LONGEST_FIELD, FileTable, Record, TextColumn, TextTable, heading_of, wrong_width

SEPARATORS = (",", ";", "\t", "|", "^", "~", "\x1f")
SAMPLE_CHARACTERS = 1 << 16
#: The share of records that a separator must cut alike to be taken for one where blanks would do.
EVEN = 0.5
#: What is told of a line that stands within the field of another one.
SWALLOWED = "stands within a quote that was opened before and not closed on its line"
#: Bytes of a block; a record is never longer.
BLOCK = 4 << 20
#: Columns whose texts are told apart side by side.
COLUMNS_AT_ONCE = 2


def read_delimited(path: Path, name: str, reading: Reading | None = None) -> FileTable:
    """What a file of delimited text holds; its records are read later, in pieces. Raises UnreadableFileError.

    Where the encoding is not UTF-8, the same text is kept as UTF-8 beside the file.
    """
    reading = reading or Reading()
    if path.stat().st_size == 0:
        raise UnreadableFileError(name, "the file is empty.", "Choose a file with a heading row and lines.")
    encoding, spoilt = (reading.encoding, spoilt_bytes(path)) if reading.encoding == "utf-8" else found_encoding(path, reading)
    place = path
    if encoding != "utf-8" or spoilt:
        place = path.with_name(f"{path.name}.{encoding}.utf8")
        if not place.exists():
            write_as_utf8(path, encoding, place, name)
    check_utf8(place, name)
    notes = [f"{spoilt:,} bytes are no {encoding.upper()} text: their rows are listed"] if spoilt else []
    start = mark_length(place)
    with place.open(encoding="utf-8", newline="") as file:
        file.seek(start)
        sample = file.read(SAMPLE_CHARACTERS)
    whole_lines = sample[: sample.rfind("\n") + 1] or sample
    quote = reading.quote if reading.quote is not None else quote_of(whole_lines)
    separator = reading.separator or separator_of(whole_lines, quote)
    shown = separator
    cut = cutter_of(whole_lines) if separator == " " else None
    if cut is not None:
        place, unpadded = place.with_name(f"{place.name}.cut"), place
        write_separated(unpadded, place, cut)
        separator, quote, start = SEPARATOR, "", 0
        notes.append("columns are padded with blanks: they are cut by position")
    head, ends = _head(place, start, separator, quote, name)
    heading = heading_of(head, name, reading.heading_row)
    # Where the heading is the only record there may still be lines: the head is cut at its own number of records.
    offset = ends[heading.position] if heading.position >= 0 else start
    if place.stat().st_size == offset:
        raise UnreadableFileError(name, "there is a heading row and nothing below it.", "Choose a file with lines.")

    def pieces() -> Iterator[TextTable]:
        return _pieces(place, name, offset, heading.row, heading.headers, separator, quote)

    size = place.stat().st_size - offset
    return FileTable(name, encoding, heading.headers, pieces, shown, quote, notes=(*notes, *heading.notes), bytes=size)


def found_encoding(path: Path, reading: Reading) -> tuple[str, int]:
    """The encoding that was chosen, or that a file seems to have, and how many of its bytes are none of it."""
    encoding = reading.encoding or encoding_of(path)
    return encoding, spoilt_bytes(path) if encoding == "utf-8" else 0


def quote_of(sample: str) -> str:
    """The quote sign that fields begin and end with: double, or single where only that is used so."""
    starts = {sign: sum(sample.count(f"{separator}{sign}") for separator in (*SEPARATORS, "\n")) for sign in ('"', "'")}
    ends = {sign: sum(sample.count(f"{sign}{separator}") for separator in (*SEPARATORS, "\n", "\r")) for sign in ('"', "'")}
    single = min(starts["'"], ends["'"])
    return "'" if single > 1 and not min(starts['"'], ends['"']) and starts["'"] == ends["'"] else '"'


def separator_of(sample: str, quote: str = '"') -> str:
    """The separator that cuts the sample's records most evenly into more than one field; a comma where none does."""
    best, best_score = ",", (0.0, 0)
    for separator in SEPARATORS:
        try:
            widths = Counter(len(record) for record in _reader(io.StringIO(sample, newline=""), separator, quote) if record)
        except csv.Error:
            continue
        if not widths:
            continue
        width, times = widths.most_common(1)[0]
        score = (times / widths.total(), width) if width > 1 else (0.0, width)
        if score > best_score:
            best, best_score = separator, score
    if best_score[0] < EVEN and cutter_of(sample) is not None:
        # No separator cuts it, and blanks do.
        return " "
    return best


def _reader(lines: Iterator[str] | io.StringIO, separator: str, quote: str) -> Iterator[list[str]]:
    csv.field_size_limit(LONGEST_FIELD)
    if quote:
        return csv.reader(lines, delimiter=separator, quotechar=quote)
    return csv.reader(lines, delimiter=separator, quoting=csv.QUOTE_NONE)


def _head(path: Path, start: int, separator: str, quote: str, name: str) -> tuple[list[Record], list[int]]:
    """The first records, and the byte at which each of them ends."""
    at = start
    ends: list[int] = []

    def lines() -> Iterator[str]:
        nonlocal at
        with path.open("rb") as raw:
            raw.seek(start)
            for line in io.TextIOWrapper(raw, "utf-8", newline=""):
                at += len(line.encode())
                yield line

    found: list[Record] = []
    try:
        for number, record in enumerate(islice(_reader(lines(), separator, quote), HEAD), start=1):
            found.append((number, record))
            ends.append(at)
    except csv.Error as error:
        raise UnreadableFileError(
            name, f"row {len(found) + 1} cannot be read ({error}).", "Look for a quote sign that is never closed."
        ) from error
    return found, ends


def _pieces(
    path: Path, name: str, offset: int, heading_row: int, headers: tuple[str, ...], separator: str, quote: str
) -> Iterator[TextTable]:
    wrong: list[tuple[int, list[Problem]]] = []

    def odd(row: pa_csv.InvalidRow) -> str:
        at = heading_row + row.number
        # An open quote takes the lines after it into its field: each of them is told, so that none is gone without a word.
        first, *others = row.text.splitlines() or [""]
        swallowed = [Problem(name, at, "", text[:80], SWALLOWED) for text in others if text.strip()]
        wrong.append((row.number, [wrong_width(name, at, row.actual_columns, len(headers), first), *swallowed]))
        return "skip"

    names = [str(at) for at in range(len(headers))]
    seen = 0
    with path.open("rb") as file, ThreadPoolExecutor(COLUMNS_AT_ONCE, thread_name_prefix="column") as pool:
        file.seek(offset)
        try:
            batches = pa_csv.open_csv(
                file,
                read_options=pa_csv.ReadOptions(use_threads=False, block_size=BLOCK, column_names=names),
                parse_options=pa_csv.ParseOptions(
                    delimiter=separator,
                    quote_char=quote or False,
                    newlines_in_values=True,
                    ignore_empty_lines=False,
                    invalid_row_handler=odd,
                ),
                convert_options=pa_csv.ConvertOptions(
                    column_types=dict.fromkeys(names, pa.string()), strings_can_be_null=False, null_values=[]
                ),
            )
            # One block is parsed while the texts of the one before it are told apart.
            for batch in one_ahead(iter(batches)):
                # The reader may be a block ahead: problems of rows beyond this block wait for theirs.
                count = batch.num_rows
                numbers, mine = _row_numbers(seen, count, wrong)
                seen = int(numbers[-1]) if len(numbers) else seen
                problems = [each for _, told in mine for each in told]
                yield _piece(batch, headers, numbers + heading_row, problems, name, separator, pool)
        except pa.ArrowInvalid as error:
            raise UnreadableFileError(
                name,
                f"it cannot be read after about row {heading_row + seen:,} ({str(error)[:120]}).",
                "Look for a quote sign that is never closed.",
            ) from error
    if wrong:
        yield TextTable(
            name,
            [TextColumn(header, [], np.empty(0, np.uint32)) for header in headers],
            np.empty(0, np.int64),
            [each for _, told in wrong for each in told],
            0,
        )


def _row_numbers(
    seen: int, count: int, wrong: list[tuple[int, list[Problem]]]
) -> tuple[np.ndarray, list[tuple[int, list[Problem]]]]:
    """Numbers of the next `count` good rows after row `seen`, stepping over the wrong ones, which are taken off the list."""
    taken: list[tuple[int, list[Problem]]] = []
    last = seen + count
    while wrong and wrong[0][0] <= last:
        taken.append(wrong.pop(0))
        last += 1
    numbers = np.arange(seen + 1, last + 1, dtype=np.int64)
    if taken:
        numbers = np.delete(numbers, [number - seen - 1 for number, _ in taken])
    return numbers, taken


def _piece(
    batch: pa.RecordBatch,
    headers: tuple[str, ...],
    rows: np.ndarray,
    problems: list[Problem],
    name: str,
    separator: str,
    pool: ThreadPoolExecutor,
) -> TextTable:
    columns = list(pool.map(_column, headers, batch.columns))
    filled = np.zeros(batch.num_rows, bool)
    wrong = np.zeros(batch.num_rows, bool)
    for column in columns:
        texts, codes = pa.array(column.given), column.codes
        # A text has no more characters than bytes, and those are known without reading any.
        if len(texts) and pc.max(pc.binary_length(texts)).as_py() > LONGEST_FIELD < pc.max(pc.utf8_length(texts)).as_py():
            longest = int(np.argmax(pc.utf8_length(texts).to_numpy()))
            row = int(rows[int(np.flatnonzero(codes == longest)[0])])
            raise UnreadableFileError(
                name,
                f"row {row:,} has a field of {len(texts[longest].as_py()):,} characters.",
                f"A field has at most {LONGEST_FIELD:,}.",
            )
        if len(texts) and not filled.all():
            filled |= pc.not_equal(pc.utf8_trim_whitespace(texts), "").to_numpy(zero_copy_only=False)[codes]
        if _may_be_odd(texts):
            wrong |= _odd_texts(texts, separator, len(headers))[codes]
    table = TextTable(name, columns, rows, problems, int((~filled).sum()))
    if wrong.any():
        problems += [each for at in np.flatnonzero(wrong & filled).tolist() for each in _told(table, at)]
    kept = filled & ~wrong
    return table if kept.all() else table.taken(np.flatnonzero(kept))


def _column(header: str, given: pa.Array) -> TextColumn:
    """A column with each different text once."""
    values = given.dictionary_encode()
    texts = values.dictionary
    return TextColumn(
        header,
        texts,
        values.indices.to_numpy().astype(np.uint32),
        clean=_has_plain_ends(texts) or bool(pc.utf8_trim_whitespace(texts).equals(texts)),
    )


def _has_plain_ends(texts: pa.Array) -> bool:
    """Whether all texts begin and end with a visible sign of ASCII: then none has white space around it."""
    _, places, data = texts.buffers()
    if not len(texts) or data is None:
        return not len(texts)
    bounds, signs = np.frombuffer(places, np.int32)[texts.offset :][: len(texts) + 1], np.frombuffer(data, np.uint8)
    if (bounds[1:] == bounds[:-1]).any():
        return False
    ends = np.concatenate([signs[bounds[:-1]], signs[bounds[1:] - 1]])
    return bool(((ends > ord(" ")) & (ends < 127)).all())


def _may_be_odd(texts: pa.Array) -> bool:
    """Whether what `_odd_texts` looks for stands anywhere in the bytes of some texts."""
    data = texts.buffers()[2] if len(texts) else None
    return data is not None and any(sign in data.to_pybytes() for sign in (b"\n", SPOILT.encode()))


def _odd_texts(texts: pa.Array, separator: str, width: int) -> np.ndarray:
    """Which texts hold a byte that could not be read, or whole lines that an open quote took in: bool[n]."""
    odd = pc.match_substring(texts, SPOILT).to_numpy(zero_copy_only=False)
    for at in np.flatnonzero(pc.match_substring(texts, "\n").to_numpy(zero_copy_only=False)).tolist() if width > 1 else ():
        odd[at] |= any(line.count(separator) >= width - 1 for line in texts[at].as_py().splitlines()[1:])
    return np.asarray(odd, bool)


def _told(table: TextTable, at: int) -> list[Problem]:
    """The problems of such a record: one for each line that it took in, or for the field that cannot be read."""
    row, found = int(table.rows[at]), []
    for column in table.columns:
        text = column.text(at)
        if SPOILT in text:
            found.append(Problem(table.file, row, column.header, text[:80], "holds a byte that is no text of its encoding"))
        elif "\n" in text:
            found += [Problem(table.file, row, column.header, line[:80], SWALLOWED) for line in text.splitlines() if line.strip()]
    return found
