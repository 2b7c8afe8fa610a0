"""A large sheet read in pieces gives what the same sheet gives when it is read whole."""

from __future__ import annotations

import io
import re
import zipfile
from datetime import date, timedelta
from pathlib import Path

import openpyxl
import pytest

from lofty_abacus.ingest import sheet_pieces
from lofty_abacus.ingest.mapping import Reading
from lofty_abacus.ingest.workbook import read_workbook

LINES = 400


def sales() -> bytes:
    made = openpyxl.Workbook()
    made.active.title = "Cover"
    sheet = made.create_sheet("Sales")
    sheet.append(["Sales of the spring"])
    sheet.append([])
    sheet.append(["Date", "Rep", "Amount", "Note"])
    for at in range(LINES):
        day = date(2026, 3, 1) + timedelta(at % 31)
        sheet.append([day if at % 3 else day.isoformat(), f"Rep {at % 7}", at / 8, None if at % 5 else "x < y & z"])
        if at % 50 == 49:
            sheet.append([])
    sheet.row_dimensions[9].hidden = True
    out = io.BytesIO()
    made.save(out)
    return out.getvalue()


def rewritten(content: bytes, pattern: bytes, by: bytes) -> bytes:
    """The workbook with the text of its second sheet changed."""
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(content)) as old, zipfile.ZipFile(out, "w") as new:
        for name in old.namelist():
            text = old.read(name)
            new.writestr(name, re.sub(pattern, by, text) if name.endswith("sheet2.xml") else text)
    return out.getvalue()


KINDS = {
    "as it is saved": sales,
    "rows and cells without their places": lambda: rewritten(sales(), rb'(<(?:row|c)\b[^>]*?) r="[A-Z]*\d+"', rb"\1"),
}


@pytest.mark.parametrize("kind", KINDS)
@pytest.mark.parametrize("piece", [3_000, 20_000])
def test_pieces_give_what_the_whole_gives(tmp_path: Path, monkeypatch: pytest.MonkeyPatch, kind: str, piece: int) -> None:
    path = tmp_path / "sales.xlsx"
    path.write_bytes(KINDS[kind]())
    whole = read_workbook(path, "sales.xlsx", Reading(sheet="Sales"))
    expected = whole.whole()
    monkeypatch.setattr(sheet_pieces, "WHOLE_BYTES", 0)
    monkeypatch.setattr(sheet_pieces, "PIECE_BYTES", piece)
    found = read_workbook(path, "sales.xlsx", Reading(sheet="Sales"))
    assert (found.headers, found.notes, found.sheets) == (whole.headers, whole.notes, whole.sheets)
    assert len([each for each in found.pieces() if len(each)]) > 1, "the sheet is cut"
    again = found.whole()
    assert len(expected) == LINES and again.rows.tolist() == expected.rows.tolist()
    assert [again.fields(at) for at in range(LINES)] == [expected.fields(at) for at in range(LINES)]


def test_a_row_wider_than_the_first_rows_is_a_problem_of_its_own(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    made = openpyxl.Workbook()
    made.active.append(["date", "amount"])
    for at in range(LINES):
        made.active.append(["2026-03-01", at])
    made.active.append(["2026-03-02", 5, "stray"])
    path = tmp_path / "sales.xlsx"
    made.save(path)
    monkeypatch.setattr(sheet_pieces, "WHOLE_BYTES", 0)
    monkeypatch.setattr(sheet_pieces, "PIECE_BYTES", 4_000)
    table = read_workbook(path, "sales.xlsx").whole()
    assert len(table) == LINES and [(each.row, each.reason) for each in table.problems] == [
        (LINES + 2, "has 3 fields where the heading has 2")
    ]
