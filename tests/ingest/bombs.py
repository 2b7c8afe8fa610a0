"""Files that would take the machine from everybody: small as they come, large as they are read."""

from __future__ import annotations

import gzip
import io
import zipfile
from collections.abc import Callable

import openpyxl


def far_cell(place: str) -> bytes:
    """A workbook of one line with a cell far away."""
    row = place.lstrip("ABCDEFGHIJKLMNOPQRSTUVWXYZ")
    return with_rows(f'<row r="{row}"><c r="{place}" t="inlineStr"><is><t>x</t></is></c></row>'.encode())


def with_rows(rows: bytes, shared: bytes = b"") -> bytes:
    """A workbook of one line with further rows as they stand in the archive, and shared strings."""
    book = openpyxl.Workbook()
    for row in (["date", "amount"], ["2026-03-01", 1]):
        book.active.append(row)
    out = io.BytesIO()
    book.save(out)
    again = io.BytesIO()
    with zipfile.ZipFile(out) as old, zipfile.ZipFile(again, "w", zipfile.ZIP_DEFLATED) as new:
        for each in old.namelist():
            content = old.read(each)
            if each.endswith("sheet1.xml"):
                content = content.replace(b"</sheetData>", rows + b"</sheetData>")
            if each == "[Content_Types].xml" and shared:
                content = content.replace(
                    b"</Types>",
                    b'<Override PartName="/xl/sharedStrings.xml" ContentType='
                    b'"application/vnd.openxmlformats-officedocument.spreadsheetml.sharedStrings+xml"/></Types>',
                )
            new.writestr(each, content)
        if shared:
            start = b'<sst xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main">'
            new.writestr("xl/sharedStrings.xml", start + shared + b"</sst>")
    return again.getvalue()


def nested() -> bytes:
    """Lines packed twenty times over."""
    content = b"a,b\n" + b"1,2\n" * 1000
    for _ in range(20):
        content = gzip.compress(content)
    return content


def padded_with_styles() -> bytes:
    """A million rows that hold nothing but the look of their cells."""
    return with_rows(b"".join(b'<row r="%d"><c r="A%d" s="0"/><c r="B%d" s="0"/></row>' % (n, n, n) for n in range(3, 1_048_577)))


def shared_strings() -> bytes:
    """Texts that no cell shows: three million, and one of 200 MB."""
    return with_rows(b"", b"<si><t>x</t></si>" * 3_000_000 + b"<si><t>" + b"y" * (200 << 20) + b"</t></si>")


#: How each is made, and what is said of it; a file that comes to something is read as what it is.
BOMBS: dict[str, tuple[Callable[[], bytes], str]] = {
    "gzip of zeros": (lambda: gzip.compress(b"\0" * (600 << 20), 9), "asks for more than|NUL"),
    "gzip of lines": (lambda: gzip.compress(b"date,amount\n" + b"2026-03-01,1\n" * (60 << 20), 9), "asks for more than"),
    "commas": (lambda: b"date,amount\n" + b"," * (4 << 20), "cannot be read|fields|asks for"),
    "gzip in gzip": (nested, "packed more than once|asks for"),
    "a sheet padded with styles": (padded_with_styles, "asks for more than"),
    "shared strings": (shared_strings, "asks for more than"),
    "zeros far into the file": (lambda: b"a,b\n" + b"1,2\n" * 50_000 + b"1,\0\n", "NUL bytes"),
    **{
        f"a cell at {place}": (lambda place=place: far_cell(place), "asks for more than|columns")
        for place in ("XFD1048576", "A1048576", "XFD2")
    },  # type: ignore[misc]
}
