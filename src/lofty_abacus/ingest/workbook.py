"""Workbooks (XLSX): one sheet as records of text. Numbers are read with the 15 digits that a spreadsheet keeps."""

from __future__ import annotations

import lzma
import re
import struct
import zipfile
import zlib
from collections.abc import Iterator
from datetime import date, datetime, time
from functools import lru_cache
from pathlib import Path
from typing import Any
from xml.etree.ElementTree import ParseError

from python_calamine import CalamineError, CalamineWorkbook, SheetVisibleEnum

from lofty_abacus.ingest.mapping import Reading
from lofty_abacus.ingest.numbers import float_text
from lofty_abacus.ingest.problems import UnreadableFileError, is_out_of_room
from lofty_abacus.ingest.sheet_pieces import Numbered, is_large, rows_in_pieces, sheet_inside
from lofty_abacus.ingest.table import HEAD, FileTable, Record, TextTable, heading_of, table_of_records

#: Unpacked bytes beyond which a workbook is refused before it is read.
MOST_UNPACKED = 2 << 30
PIECE_ROWS = 100_000
#: A sheet's own mark of a hidden row.
_HIDDEN_ROW = re.compile(rb'<row\b[^>]*\bhidden="(?:1|true)"')

#: What reading a broken archive, or the XML in it, may end in; RuntimeError: encrypted, or of a kind that is not known here.
_BROKEN = (zipfile.BadZipFile, zlib.error, lzma.LZMAError, struct.error, OSError, ValueError, EOFError, RuntimeError, ParseError)


def read_workbook(path: Path, name: str, reading: Reading | None = None) -> FileTable:
    """What a sheet holds (none named: the first visible one). Raises UnreadableFileError."""
    reading = reading or Reading()
    _refuse_bombs(path, name)
    try:
        visible, hidden = _sheets(path)
        names = [*visible, *hidden]
        if not names:
            raise UnreadableFileError(name, "it has no sheet.", "Choose another file.")
        chosen = reading.sheet if reading.sheet in names else names[0]
        inside = sheet_inside(path, chosen)
        with_data = [each for each in visible if reading.sheet is None and (each == chosen or _holds_table(path, each))]
        first = next(_pieces(path, chosen, inside), [])
        count = _hidden_rows(path, inside)
    except (CalamineError, *_BROKEN) as error:
        if is_out_of_room(error):
            raise
        raise UnreadableFileError(name, f"it is no workbook that can be read ({error}).", "Save it as XLSX or CSV.") from error
    width = max((_used(row) for _, row in first), default=0)
    heading = heading_of([_record(at, row, width) for at, row in first[:HEAD]], name, reading.heading_row)
    if not first or first[-1][0] <= heading.row:
        raise UnreadableFileError(name, "there is a heading row and nothing below it.", "Choose a file with lines.")
    notes = [*heading.notes]
    if hidden:
        notes.append(f"hidden sheet{'s' if len(hidden) > 1 else ''} {', '.join(map(repr, hidden))} not read")
    if count:
        notes.append(f"{count} hidden row{'s' if count > 1 else ''} read like the others")
    order = (chosen, *(each for each in names if each != chosen))

    def pieces() -> Iterator[TextTable]:
        for piece in _pieces(path, chosen, inside):
            below = [_record(at, row, width) for at, row in piece if at > heading.row]
            for start in range(0, len(below), PIECE_ROWS):
                yield table_of_records(below[start : start + PIECE_ROWS], heading.headers, name)

    size = path.stat().st_size
    return FileTable(
        name,
        "workbook",
        heading.headers,
        pieces,
        sheets=order,
        notes=tuple(notes),
        bytes=size,
        data_sheets=tuple(with_data),
    )


def _holds_table(path: Path, sheet: str) -> bool:
    """Whether a sheet has two rows of at least two cells, which a page of remarks has not."""
    rows = next(_pieces(path, sheet, sheet_inside(path, sheet)), [])
    return [sum(cell != "" for cell in row) > 1 for _, row in rows[:HEAD]].count(True) > 1


def _pieces(path: Path, sheet: str, inside: str | None) -> Iterator[list[Numbered]]:
    """A sheet's rows: one piece where it is small, so that nothing is taken apart without need."""
    if inside is not None and is_large(path, inside):
        yield from rows_in_pieces(path, sheet, inside)
    else:
        yield list(enumerate(_rows(path, sheet, path.stat().st_mtime_ns), start=1))


@lru_cache(maxsize=2)
def _rows(path: Path, sheet: str, written: int) -> list[list[Any]]:
    """A sheet's cells: kept for a moment, since a sheet is read several times between its drop and its posting.

    written: when the file was, so that another file in its place is read anew.
    """
    rows: list[list[Any]] = CalamineWorkbook.from_path(str(path)).get_sheet_by_name(sheet).to_python(skip_empty_area=False)
    return rows


def _sheets(path: Path) -> tuple[list[str], list[str]]:
    found = CalamineWorkbook.from_path(str(path)).sheets_metadata
    visible = [each.name for each in found if each.visible == SheetVisibleEnum.Visible]
    return visible, [each.name for each in found if each.visible != SheetVisibleEnum.Visible]


def _record(number: int, row: list[Any], width: int) -> Record:
    """A row as wide as the first rows are; a cell beyond that width stays, and is then a problem of its row."""
    return number, [cell_text(value) for value in row[: max(width, _used(row))]] + [""] * (width - len(row))


def _used(row: list[Any]) -> int:
    """Cells of a row up to its last one that holds something."""
    used = len(row)
    while used and row[used - 1] == "":
        used -= 1
    return used


def _hidden_rows(path: Path, inside: str | None) -> int:
    """How many rows of a sheet are hidden; 0 where the archive names its sheets in a manner of its own."""
    if inside is None:
        return 0
    with zipfile.ZipFile(path) as archive:
        count, rest = 0, b""
        with archive.open(inside) as file:
            while block := file.read(1 << 20):
                text = rest + block
                cut = text.rfind(b">") + 1
                count += len(_HIDDEN_ROW.findall(text[:cut]))
                rest = text[cut:]
        return count


def cell_text(value: object) -> str:
    """A cell as the text that somebody would have typed."""
    if isinstance(value, bool):
        return "true" if value else "false"
    if isinstance(value, float):
        return float_text(value)
    if isinstance(value, datetime):
        return value.date().isoformat() if value.time() == time() else value.isoformat(sep=" ")
    if isinstance(value, date):
        return value.isoformat()
    return str(value)


def _refuse_bombs(path: Path, name: str) -> None:
    try:
        with zipfile.ZipFile(path) as archive:
            unpacked = sum(each.file_size for each in archive.infolist())
    except _BROKEN as error:
        raise UnreadableFileError(name, "the archive is broken.", "Save the workbook again.") from error
    if unpacked > MOST_UNPACKED:
        raise UnreadableFileError(name, f"it unpacks to {unpacked >> 20} MB.", f"At most {MOST_UNPACKED >> 20} MB are read.")
