"""Odd and hostile files: each with the values it must give, or the sentence it must get."""

from __future__ import annotations

import gzip
import io
import zipfile
from collections.abc import Callable
from datetime import date, datetime
from decimal import Decimal
from pathlib import Path

import openpyxl
import pyarrow as pa
import pyarrow.parquet as pq
import pytest

from lofty_abacus.ingest import reading, workbook
from lofty_abacus.ingest.mapping import Reading
from lofty_abacus.ingest.problems import UnreadableFileError
from tests.reading import ReadFile, read_whole


def read(tmp_path: Path, content: bytes, name: str = "file.csv", sheet: str | None = None) -> ReadFile:
    path = tmp_path / "file"
    path.write_bytes(content)
    for made in tmp_path.glob("file.*"):
        made.unlink()  # what was made of the content before
    return read_whole(path, name, Reading(sheet=sheet))


def fields(table: ReadFile) -> list[list[str]]:
    return table.fields


def book(fill: Callable[[openpyxl.Workbook], None]) -> bytes:
    made = openpyxl.Workbook()
    fill(made)
    out = io.BytesIO()
    made.save(out)
    return out.getvalue()


def sales_book(made: openpyxl.Workbook) -> None:
    sheet = made.active
    sheet.title = "Sales"
    sheet["A1"] = "Sales of the spring"
    sheet.merge_cells("A1:C1")
    sheet.append([])
    sheet.append(["Date", "Rep", "Amount"])
    sheet.append([date(2026, 3, 1), "Ada", 12.1])
    sheet.append([datetime(2026, 3, 2, 14, 30), "Bo", 1234567.89])
    sheet.append(["03.03.2026", "Cy", -5])
    sheet.append([])
    made.create_sheet("Other").append(["x", "y"])
    made["Other"].append([1, 2])
    hidden = made.create_sheet("Old")
    hidden.sheet_state = "hidden"
    hidden.append(["z"])


def test_a_workbook_with_titles_dates_and_other_sheets(tmp_path: Path) -> None:
    table = read(tmp_path, book(sales_book), "sales.xlsx")
    assert [column.header for column in table.columns] == ["Date", "Rep", "Amount"]
    assert fields(table) == [
        ["2026-03-01", "Ada", "12.1"],
        ["2026-03-02 14:30:00", "Bo", "1234567.89"],
        ["03.03.2026", "Cy", "-5"],
    ]
    assert table.rows.tolist() == [4, 5, 6]
    assert table.file.sheets == ("Sales", "Other", "Old")
    assert table.file.notes == ("1 row above the heading passed over", "hidden sheet 'Old' not read")
    other = read(tmp_path, book(sales_book), "sales.xlsx", "Other")
    assert fields(other) == [["1", "2"]] and other.file.sheets[0] == "Other"


def test_numbers_of_a_workbook_are_those_that_were_typed(tmp_path: Path) -> None:
    values = [0.1, 0.3, 1e-7, 123456789.01, 99999999999999.9, 1e20, 2.675, 0.1 + 0.2]

    def fill(made: openpyxl.Workbook) -> None:
        made.active.append(["date", "amount"])
        for value in values:
            made.active.append(["2026-01-01", value])

    texts = [row[1] for row in fields(read(tmp_path, book(fill)))]
    assert texts == ["0.1", "0.3", "0.0000001", "123456789.01", "99999999999999.9", "100000000000000000000", "2.675", "0.3"]


def parquet(table: pa.Table) -> bytes:
    out = io.BytesIO()
    pq.write_table(table, out)
    return out.getvalue()


def test_parquet_with_decimals_times_dictionaries_and_nulls(tmp_path: Path) -> None:
    table = pa.table(
        {
            "date": pa.array([date(2026, 3, 1), date(2026, 3, 2)]),
            "at": pa.array([datetime(2026, 3, 1, 9), None], pa.timestamp("us")),
            "rep": pa.array(["Ada", "Bo"]).dictionary_encode(),
            "amount": pa.array([Decimal("1234567890123.45"), Decimal("-0.10")], pa.decimal128(18, 2)),
            "quantity": pa.array([2, None], pa.int64()),
        }
    )
    found = read(tmp_path, parquet(table), "lines.parquet")
    assert fields(found) == [
        ["2026-03-01", "2026-03-01 09:00:00", "Ada", "1234567890123.45", "2"],
        ["2026-03-02", "", "Bo", "-0.10", ""],
    ]
    staged = found.staged()
    assert staged.amount.minor.tolist() == [123456789012345, -10]
    assert staged.quantity is not None and staged.quantity.missing.tolist() == [False, True]


@pytest.mark.parametrize("inner", [b"date,amount\n2026-01-01,5\n", "xlsx", "parquet"])
def test_each_format_may_be_gzipped(tmp_path: Path, inner: bytes | str) -> None:
    if inner == "xlsx":
        content = book(sales_book)
    elif inner == "parquet":
        content = parquet(pa.table({"date": ["2026-01-01"], "amount": ["5"]}))
    else:
        assert isinstance(inner, bytes)
        content = inner
    assert len(read(tmp_path, gzip.compress(content), "lines.gz")) in (1, 3)


def test_a_title_above_a_delimited_table(tmp_path: Path) -> None:
    table = read(tmp_path, b"Report of March\n\ndate,rep,amount\n2026-03-01,Ada,5\n2026-03-02,Bo,6\n")
    assert [column.header for column in table.columns] == ["date", "rep", "amount"]
    assert table.rows.tolist() == [4, 5] and table.file.notes == ("1 row above the heading passed over",)


def broken_gzip() -> bytes:
    return gzip.compress(b"date,amount\n" * 10_000)[:-40]


def empty_book(made: openpyxl.Workbook) -> None:
    made.active.title = "Empty"


def header_only(made: openpyxl.Workbook) -> None:
    made.active.append(["date", "amount"])


def later_archive() -> bytes:
    """A workbook whose list of contents asks for a version of the format that there is not."""
    raw = bytearray(book(lambda made: made.active.append(["date", "amount"])))
    raw[raw.index(b"PK\x01\x02") + 6] = 64
    return bytes(raw)


def encrypted_archive() -> bytes:
    """A workbook whose parts are marked as encrypted."""
    raw = bytearray(book(lambda made: made.active.append(["date", "amount"])))
    for mark, flags in ((b"PK\x03\x04", 6), (b"PK\x01\x02", 8)):
        at = raw.find(mark)
        while at >= 0:
            raw[at + flags] |= 1
            at = raw.find(mark, at + 4)
    return bytes(raw)


HOSTILE: dict[str, tuple[Callable[[], bytes], str]] = {
    "broken gzip": (broken_gzip, "the compressed file is broken"),
    "gzip of nothing": (lambda: gzip.compress(b""), "the file is empty"),
    "broken archive": (lambda: b"PK\x03\x04" + b"x" * 200, "the archive is broken"),
    "an archive of a later kind": (later_archive, "the archive is broken"),
    "an encrypted archive": (encrypted_archive, "no workbook that can be read|the archive is broken"),
    "an archive that is no workbook": (lambda: _archive({"hello.txt": b"hi"}), "no workbook that can be read"),
    "an empty workbook": (lambda: book(empty_book), "no heading row"),
    "a workbook with a heading only": (lambda: book(header_only), "nothing below it"),
    "half a Parquet file": (lambda: parquet(pa.table({"a": [1, 2]}))[:-9], "no Parquet file that can be read"),
    "Parquet without lines": (lambda: parquet(pa.table({"a": pa.array([], pa.int64())})), "it has no lines"),
    "Parquet with a heading that is no text": (
        lambda: parquet(pa.table({"column": [1]})).replace(b"column", b"\x80\x80\x80\x80\x80\x80"),
        "no Parquet file that can be read",
    ),
    "nested Parquet": (lambda: parquet(pa.table({"a": [[1], [2]]})), "is nested"),
    "an old workbook": (lambda: b"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1" + b"\0" * 600, "old binary kind"),
    "a PDF": (lambda: b"%PDF-1.7\n...", "it is a PDF"),
    "a picture": (lambda: b"\x89PNG\r\n\x1a\n" + b"\0" * 400, "NUL bytes"),
    "two headings of one name": (lambda: b"date,amount,amount\n2026-01-01,1,2\n", "over more than one column"),
    "a field that never ends": (lambda: b"a,b\n" + b"1,2\n" * 50 + b'1,"' + b"x" * 40_000, "has a field of|cannot be read after"),
    "an over-long field": (
        lambda: b"a,b\n" + b"1,2\n" * 50 + b"1," + b"x" * 40_000 + b"\n",
        "row 52 has a field of 40,000 characters",
    ),
    "zeros far into the file": (lambda: b"a,b\n" + b"1,2\n" * 50_000 + b"1,\0\n", "NUL bytes \\(the first is byte 200,007\\)"),
    "text that is no UTF-8": (lambda: b"\xef\xbb\xbfa,b\n1,\xff\n", "cannot be read as UTF-8 text"),
    "half of UTF-16": (lambda: "a,b\n1,2\n".encode("utf-16")[:-1], "cannot be read as utf-16-le text"),
    "far too many columns": (
        lambda: b",".join(b"c%d" % n for n in range(300)) + b"\n" + b"1," * 299 + b"1\n",
        "it has 300 columns",
    ),
}


def _archive(files: dict[str, bytes]) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, content in files.items():
            archive.writestr(name, content)
    return out.getvalue()


@pytest.mark.parametrize("name", sorted(HOSTILE))
def test_hostile_files_get_a_sentence(tmp_path: Path, name: str) -> None:
    make, words = HOSTILE[name]
    with pytest.raises(UnreadableFileError, match=words):
        read(tmp_path, make(), name)


def test_bombs_are_refused_before_they_go_off(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(reading, "MOST_UNPACKED", 1 << 20)
    with pytest.raises(UnreadableFileError, match="unpacks to more than 1 MB"):
        read(tmp_path, gzip.compress(b"a,b\n" * (1 << 20)))
    monkeypatch.setattr(workbook, "MOST_UNPACKED", 1 << 20)
    with pytest.raises(UnreadableFileError, match="unpacks to 3 MB"):
        read(tmp_path, _archive({"xl/worksheets/sheet1.xml": b" " * (3 << 20)}))


def test_wrong_extensions_do_not_matter(tmp_path: Path) -> None:
    assert len(read(tmp_path, b"date,amount\n2026-01-01,5\n", "lines.xlsx")) == 1
    assert len(read(tmp_path, book(sales_book), "sales.csv")) == 3
