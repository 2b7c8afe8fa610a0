"""The rows of a large sheet piece by piece: each piece is cut out of the archive as a small workbook of its own.

The reader of workbooks holds a whole sheet at a time, some 100 bytes a cell; cut at the ends of rows, a piece bounds the memory.
"""

from __future__ import annotations

import io
import posixpath
import re
import zipfile
from collections.abc import Iterator
from pathlib import Path
from typing import Any
from xml.etree import ElementTree

from python_calamine import CalamineWorkbook

#: Bytes of a sheet (unpacked) beyond which it is read in pieces, and those of a piece.
WHOLE_BYTES = 64 << 20
PIECE_BYTES = 32 << 20
#: A row's number (the first of a sheet is 1) with its cells.
Numbered = tuple[int, list[Any]]
_START = re.compile(rb"<((?:\w+:)?)sheetData\s*>")
_ROW = re.compile(rb'<(?:\w+:)?row\b(?:[^>]*?\br="(\d+)")?[^>]*>')
_RELATION = "{http://schemas.openxmlformats.org/officeDocument/2006/relationships}id"
_RELATIONS = "xl/_rels/workbook.xml.rels"
#: What a sheet is read with: the list of parts, the sheets' names, the formats that tell dates, the texts.
_BESIDE = re.compile(
    r"\[Content_Types\]\.xml|_rels/\.rels|xl/(?:workbook|styles|sharedStrings)\.xml|" + re.escape(_RELATIONS), re.I
)


def sheet_inside(path: Path, sheet: str) -> str | None:
    """The name of a sheet's part within the archive; None where the archive is laid out in a manner of its own."""
    with zipfile.ZipFile(path) as archive:
        try:
            book = ElementTree.fromstring(archive.read("xl/workbook.xml"))
            relations = ElementTree.fromstring(archive.read(_RELATIONS))
        except (KeyError, ElementTree.ParseError):
            return None
        marks = {each.get("name"): each.get(_RELATION) for each in book.iter() if each.tag.rpartition("}")[2] == "sheet"}
        targets = {each.get("Id"): each.get("Target", "") for each in relations}
        inside = posixpath.normpath(posixpath.join("/xl", targets.get(marks.get(sheet), ""))).lstrip("/")
        return inside if inside in archive.namelist() else None


def is_large(path: Path, inside: str | None) -> bool:
    """Whether a sheet is read in pieces."""
    if inside is None:
        return False
    with zipfile.ZipFile(path) as archive:
        return archive.getinfo(inside).file_size > WHOLE_BYTES


def rows_in_pieces(path: Path, sheet: str, inside: str) -> Iterator[list[Numbered]]:
    """The rows of a sheet that have cells, in pieces. Raises what the archive and the reader of workbooks raise."""
    with zipfile.ZipFile(path) as archive:
        beside = {name: archive.read(name) for name in archive.namelist() if _BESIDE.fullmatch(name)}
        with archive.open(inside) as file:
            text = file.read(PIECE_BYTES)
            start = _START.search(text)
            if start is None:
                return
            head, prefix = text[: start.end()], start.group(1)
            end = b"</" + prefix + b"row>"
            text, last = text[start.end() :], 0
            while True:
                more = file.read(PIECE_BYTES)
                # The last piece keeps the sheet's own end; the others are closed where they are cut.
                cut = text.rfind(end) + len(end) if more else len(text)
                if cut >= len(end):
                    closing = b"</" + prefix + b"sheetData></" + prefix + b"worksheet>" if more else b""
                    # Rows may come without a number: an empty one tells where the piece goes on.
                    ahead = b"<" + prefix + b'row r="%d"></' % last + prefix + b"row>" if last else b""
                    yield _read(beside, inside, sheet, head + ahead + text[:cut] + closing)
                    last = _last_row(text[:cut], last)
                    text = text[cut:]
                if not more:
                    return
                text += more


def _read(beside: dict[str, bytes], inside: str, sheet: str, text: bytes) -> list[Numbered]:
    packed = io.BytesIO()
    with zipfile.ZipFile(packed, "w") as archive:
        for name, content in {**beside, inside: text}.items():
            archive.writestr(name, content)
    packed.seek(0)
    found = CalamineWorkbook.from_filelike(packed).get_sheet_by_name(sheet)
    if found.start is None:
        return []
    row, column = found.start
    return [(at, [""] * column + cells) for at, cells in enumerate(found.to_python(skip_empty_area=True), start=row + 1)]


def _last_row(text: bytes, last: int) -> int:
    for each in _ROW.finditer(text):
        last = int(each.group(1)) if each.group(1) else last + 1
    return last
