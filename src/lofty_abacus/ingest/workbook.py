"""Workbooks (XLSX): one sheet as records of text. Numbers are read with the 15 digits that a spreadsheet keeps."""

from __future__ import annotations

import zipfile
from collections.abc import Iterator
from datetime import date, datetime, time
from pathlib import Path
from typing import Any

from python_calamine import CalamineError, CalamineWorkbook, SheetVisibleEnum

from lofty_abacus.ingest.numbers import float_text
from lofty_abacus.ingest.problems import UnreadableFileError
from lofty_abacus.ingest.table import Record, TextTable, collect

#: Unpacked bytes beyond which a workbook is refused before it is read.
MOST_UNPACKED = 2 << 30


def read_workbook(path: Path, name: str, sheet: str | None) -> TextTable:
    """Read a sheet (None: the first visible one). Raises UnreadableFileError."""
    _refuse_bombs(path, name)
    try:
        workbook = CalamineWorkbook.from_path(str(path))
        visible = [each.name for each in workbook.sheets_metadata if each.visible == SheetVisibleEnum.Visible]
        hidden = [each.name for each in workbook.sheets_metadata if each.visible != SheetVisibleEnum.Visible]
        names = [*visible, *hidden]
        if not names:
            raise UnreadableFileError(name, "it has no sheet.", "Choose another file.")
        chosen = sheet if sheet in names else names[0]
        rows: list[list[Any]] = workbook.get_sheet_by_name(chosen).to_python(skip_empty_area=False)
    except (CalamineError, OSError, ValueError) as error:
        raise UnreadableFileError(name, f"it is no workbook that can be read ({error}).", "Save it as XLSX or CSV.") from error
    notes = [f"hidden sheet{'s' if len(hidden) > 1 else ''} {', '.join(map(repr, hidden))} not read"] if hidden else []
    order = (chosen, *(each for each in names if each != chosen))
    return collect(_records(rows), name, "workbook", sheets=order, notes=notes)


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


def _records(rows: list[list[Any]]) -> Iterator[Record]:
    """Rows without the empty columns at their right end."""
    width = max((at for row in rows for at, value in enumerate(row, start=1) if value != ""), default=0)
    for number, row in enumerate(rows, start=1):
        yield number, [cell_text(value) for value in row[:width]]


def _refuse_bombs(path: Path, name: str) -> None:
    try:
        with zipfile.ZipFile(path) as archive:
            unpacked = sum(each.file_size for each in archive.infolist())
    except zipfile.BadZipFile as error:
        raise UnreadableFileError(name, "the archive is broken.", "Save the workbook again.") from error
    if unpacked > MOST_UNPACKED:
        raise UnreadableFileError(name, f"it unpacks to {unpacked >> 20} MB.", f"At most {MOST_UNPACKED >> 20} MB are read.")
