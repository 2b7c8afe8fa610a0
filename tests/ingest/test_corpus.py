"""A corpus of odd files as they come in: each with the lines, the total and the days that it must give, whatever its manners."""

from __future__ import annotations

import gzip
import io
import re
import time
from collections.abc import Callable
from dataclasses import dataclass, field, replace
from datetime import date, datetime, timedelta
from decimal import Decimal
from pathlib import Path
from typing import Any

import openpyxl
import pyarrow as pa
import pyarrow.parquet as pq
import pytest

from lofty_abacus.core.days import day_of
from lofty_abacus.core.money import decimal_text
from lofty_abacus.ingest.apart import read_apart
from lofty_abacus.ingest.mapping import FileMapping, Reading
from lofty_abacus.ingest.problems import UnreadableFileError
from lofty_abacus.ingest.reader import Bounds
from tests.ingest.bombs import BOMBS
from tests.reading import read_whole


@dataclass(frozen=True)
class Odd:
    """A file and what it must give. settle: what an analyst decides where the file leaves something open."""

    content: bytes
    lines: int
    total: str
    first: str
    last: str
    encoding: str = "utf-8"
    separator: str = ","
    problems: int = 0
    aside: int = 0
    blank: int = 0
    returns: int = 0
    settle: dict[str, Any] = field(default_factory=dict)
    date_format: str = ""
    decimal_mark: str = ""
    reading: Reading = field(default_factory=Reading)
    name: str = "lines.csv"


def text(*rows: str, end: str = "\n", encoding: str = "utf-8") -> bytes:
    return (end.join(rows) + end).encode(encoding)


def sheet(rows: list[list[object]], prepare: Callable[[Any], None] = lambda _: None) -> bytes:
    book = openpyxl.Workbook()
    for row in rows:
        book.active.append(row)
    prepare(book)
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def parquet(**columns: Any) -> bytes:
    out = io.BytesIO()
    pq.write_table(pa.table(columns), out)
    return out.getvalue()


def hide(book: Any) -> None:
    book.active.row_dimensions[2].hidden = True
    book.create_sheet("secret").sheet_state = "veryHidden"


def merged_title(book: Any) -> None:
    book.active.insert_rows(1, 2)
    book.active["A1"] = "Sales of March"
    book.active.merge_cells("A1:C1")


PLAIN = ("date,rep,amount", "2026-03-01,Ada,10.50", "2026-03-20,Bo,2")
GERMAN = ("Datum;Vertreter;Umsatz", "01.03.2026;Ada;10,50", "20.03.2026;Bo;2")
ABC = {"lines": 2, "total": "12.50", "first": "2026-03-01", "last": "2026-03-20"}

CORPUS: dict[str, Odd] = {
    "plain": Odd(text(*PLAIN), **ABC),
    "windows line ends": Odd(text(*PLAIN, end="\r\n"), **ABC),
    "old line ends": Odd(text(*PLAIN, end="\r"), **ABC),
    "no line end at the end": Odd(text(*PLAIN)[:-1], **ABC),
    "a byte order mark": Odd(text(*PLAIN, encoding="utf-8-sig"), **ABC),
    "UTF-16 with a mark": Odd(text(*PLAIN, encoding="utf-16"), encoding="utf-16-le", **ABC),
    "UTF-16 without a mark": Odd(text(*PLAIN, encoding="utf-16-le"), encoding="utf-16-le", **ABC),
    "UTF-16 the other way round": Odd(text(*PLAIN, encoding="utf-16-be"), encoding="utf-16-be", **ABC),
    "Windows-1252": Odd(text(*GERMAN, "21.03.2026;Köhl;0", encoding="cp1252"), 3, "12.50", "2026-03-01", "2026-03-21", "cp1252", ";"),
    "a chosen encoding": Odd(
        text("date,rep,amount", "2026-03-01,Łódź,12.50", encoding="cp1250"),
        1, "12.50", "2026-03-01", "2026-03-01", "cp1250", reading=Reading(encoding="cp1250"),
    ),
    "semicolons and decimal commas": Odd(text(*GERMAN), separator=";", **ABC),
    "tabs": Odd(text(*(row.replace(",", "\t") for row in PLAIN)), separator="\t", **ABC),
    "bars": Odd(text(*(row.replace(",", "|") for row in PLAIN)), separator="|", **ABC),
    "carets": Odd(text(*(row.replace(",", "^") for row in PLAIN)), separator="^", **ABC),
    "a chosen separator": Odd(text(*(row.replace(",", ":") for row in PLAIN)), separator=":", reading=Reading(separator=":"), **ABC),
    "single quotes": Odd(text("date,rep,amount", "'2026-03-01','Ada, A.','10.50'", "'2026-03-20','Bo','2'"), **ABC),
    "quotes within quotes": Odd(text("date,rep,amount", '2026-03-01,"Ada ""the pot"" X",10.50', "2026-03-20,Bo,2"), **ABC),
    "line ends within quotes": Odd(text("date,rep,amount", '2026-03-01,"Ada\nX",10.50', "2026-03-20,Bo,2"), **ABC),
    "separators within quotes": Odd(text("date,rep,amount", '2026-03-01,"Ada, X","10.50"', "2026-03-20,Bo,2"), **ABC),
    "titles above the table": Odd(text("Report of March,,", ",,", *PLAIN), **ABC),
    "a heading in a chosen row": Odd(text("a,b,c", *PLAIN), reading=Reading(heading_row=2), **ABC),
    "blank lines": Odd(text(PLAIN[0], "", PLAIN[1], ",,", " , , ", PLAIN[2], ""), blank=4, **ABC),
    "totals and headings again": Odd(
        text(*PLAIN, *PLAIN[1:], "Total,,12.50", PLAIN[0], *PLAIN[1:], "2026-03-21,Bo,1", "Summe,,1"),
        7, "38.50", "2026-03-01", "2026-03-21", aside=3, settle={"identical": "keep"},
    ),
    "ragged rows": Odd(text(*PLAIN, "2026-03-21,Cy", "2026-03-21,Cy,1,2"), problems=2, settle={"unreadable": "leave_out"}, **ABC),
    "white space everywhere": Odd(text(" date , rep ,amount", " 2026-03-01 , Ada , 10.50 ", "2026-03-20,Bo,  2"), **ABC),
    "American dates": Odd(text("date,rep,amount", "3/1/2026,Ada,10.50", "3/20/2026,Bo,2"), **ABC),
    "ambiguous dates, settled": Odd(
        text("date,rep,amount", "01/03/2026,Ada,10.50", "02/03/2026,Bo,2"),
        2, "12.50", "2026-03-01", "2026-03-02", date_format="day_month_year",
    ),
    "two-digit years": Odd(text("date,rep,amount", "01.03.26,Ada,10.50", "20.03.26,Bo,2"), **ABC),
    "names of months": Odd(text("date,rep,amount", "1 March 2026,Ada,10.50", "20-Mar-26,Bo,2"), **ABC),
    "German months": Odd(text("Datum;Wer;Betrag", "1. März 2026;Ada;10,50", "20. Mrz. 2026;Bo;2"), separator=";", **ABC),
    "compact dates": Odd(text("date,rep,amount", "20260301,Ada,10.50", "20260320,Bo,2"), **ABC),
    "times with zones": Odd(text("date,rep,amount", "2026-03-01T08:00:00Z,Ada,10.50", "2026-03-20T10:00:00.123456789+01:00,Bo,2"), **ABC),
    "serial dates": Odd(text("date,rep,amount", "46082,Ada,10.50", "46101.75,Bo,2"), **ABC),
    "a date in three columns": Odd(text("year,month,day,rep,amount", "2026,3,1,Ada,10.50", "2026,March,20,Bo,2"), **ABC),
    "known by month": Odd(text("period,rep,amount", "2026-03,Ada,10.50", "2026-04,Bo,2"), 2, "12.50", "2026-03-31", "2026-04-30"),
    "known by month in two columns": Odd(text("year,month,amount", "2026,3,10.50", "2026,4,2"), 2, "12.50", "2026-03-31", "2026-04-30"),
    "known by week": Odd(text("week,rep,amount", "2026-W12,Ada,10.50", "2026-W13,Bo,2"), 2, "12.50", "2026-03-22", "2026-03-29"),
    "thousands and currency": Odd(
        text("date;rep;amount", "2026-03-01;Ada;€ 1.010,50", "2026-03-20;Bo;EUR 2,00"), 2, "1012.50", "2026-03-01", "2026-03-20", separator=";"
    ),
    "brackets and trailing minus": Odd(
        text("date,rep,amount", '2026-03-01,Ada,"(1,000.00)"', "2026-03-20,Bo,12.50-", "2026-03-20,Bo,2000"),
        3, "987.50", "2026-03-01", "2026-03-20", returns=2,
    ),
    "Swiss apostrophes": Odd(text("date,rep,amount", "2026-03-01,Ada,1'010.50", "2026-03-20,Bo,2"), 2, "1012.50", "2026-03-01", "2026-03-20"),
    "fine decimals": Odd(text("date,rep,amount", "2026-03-01,Ada,0.000000001", "2026-03-20,Bo,12"), 2, "12.000000001", "2026-03-01", "2026-03-20"),
    "amounts beyond plain reading": Odd(
        text("date,rep,amount", "2026-03-01,Ada,9000000000000000.50", "2026-03-20,Bo,2"), 2, "9000000000000002.50", "2026-03-01", "2026-03-20"
    ),
    "marked returns": Odd(
        text("date,type,rep,amount", "2026-03-01,Sale,Ada,15.50", "2026-03-20,Refund,Bo,3"), 2, "12.50", "2026-03-01", "2026-03-20", returns=1
    ),
    "an amount computed": Odd(text("date,rep,qty,unit price,discount", "2026-03-01,Ada,3,4.00,1.50", "2026-03-20,Bo,1,2,"), **ABC),
    "a workbook": Odd(sheet([["date", "rep", "amount"], [date(2026, 3, 1), "Ada", 10.5], [datetime(2026, 3, 20, 9), "Bo", 2]]),
                      encoding="workbook", separator="", **ABC),
    "a workbook with a merged title": Odd(
        sheet([["date", "rep", "amount"], [date(2026, 3, 1), "Ada", 10.5], ["20.03.2026", "Bo", "2"]], merged_title),
        encoding="workbook", separator="", date_format="day_month_year", **ABC,
    ),
    "a workbook with hidden rows and sheets": Odd(
        sheet([["date", "rep", "amount"], ["2026-03-01", "Ada", 10.5], ["2026-03-20", "Bo", 2]], hide), encoding="workbook", separator="", **ABC
    ),
    "Parquet": Odd(
        parquet(date=[date(2026, 3, 1), date(2026, 3, 20)], rep=pa.array(["Ada", "Bo"]).dictionary_encode(),
                amount=pa.array([Decimal("10.50"), Decimal("2.00")], pa.decimal128(18, 2))),
        encoding="parquet", separator="", **ABC,
    ),
    "gzipped": Odd(gzip.compress(text(*PLAIN)), **ABC),
    "a name that lies": Odd(text(*PLAIN), name="lines.xlsx", **ABC),
    "one column too wide to be seen": Odd(text("date,rep,amount", f"2026-03-01,{'x' * 20_000},10.50", "2026-03-20,Bo,2"), **ABC),
    "no heading": Odd(text(*PLAIN[1:]), reading=Reading(heading_row=0), **ABC),
    "brackets within minus signs": Odd(
        text(*PLAIN, *(f"2026-03-20,Bo,{at}" for at in range(11, 31)), "2026-03-20,Bo,(-5.00)", "2026-03-20,Bo,-5-"),
        22, "422.50", "2026-03-01", "2026-03-20", problems=2, settle={"unreadable": "leave_out"},
    ),
    "digits apart": Odd(text(*PLAIN, "2026-03-20,Bo,5 10"), problems=1, settle={"unreadable": "leave_out"}, **ABC),
    "Indian groups": Odd(
        text("date;rep;amount", "2026-03-01;Ada;12,34,567.50", "2026-03-20;Bo;1,00,000.00"),
        2, "1334567.50", "2026-03-01", "2026-03-20", separator=";",
    ),
    "one spoilt byte": Odd(
        text("date,rep,amount") + b"2026-03-01,Ada K\xff,1\n" + text(PLAIN[1], "2026-03-20,Köhl,2") * 30,
        60, "375.00", "2026-03-01", "2026-03-20", problems=1, settle={"unreadable": "leave_out", "identical": "keep"},
    ),
    "a number of 4,300 digits": Odd(
        text(*PLAIN, f"2026-03-20,Bo,{'9' * 4300}"), problems=1, settle={"unreadable": "leave_out"}, **ABC
    ),
    "headings of the tables' own": Odd(
        text("date,id,day_,side,quantity,amount,cost,rep", "2026-03-01,i1,x,left,1,10.50,2,Ada", "2026-03-20,i2,y,right,2,2,1,Bo"), **ABC
    ),
    **{
        f"{many} dimensions": Odd(
            text(
                ",".join(["date", "amount", *(f"part {at}" for at in range(many))]),
                ",".join(["2026-03-01", "10.50", *(f"a{at}" for at in range(many))]),
                ",".join(["2026-03-20", "2", *(f"b{at}" for at in range(many))]),
            ),
            **ABC,
        )
        for many in (60, 200)
    },
    "whole quarters": Odd(text("period,rep,amount", "2026 Q1,Ada,10.50", "Q2 2026,Bo,2"), 2, "12.50", "2026-03-31", "2026-06-30"),
    "padded columns": Odd(
        text("date        rep       amount", "2026-03-01  Ada        10.50", "2026-03-20  Bo          2.00"), separator=" ", **ABC
    ),
    "letters in parts": Odd(text("date,rep,amount", "2026-03-01,Ko\u0308hl,10.50", "2026-03-20,K\u00f6hl,2"), **ABC),
    "gzipped twice": Odd(gzip.compress(gzip.compress(text(*PLAIN))), **ABC),
    "emoji and other scripts": Odd(text("date,rep,amount", "2026-03-01,🏺 アダ,10.50", "2026-03-20,Бо,2"), **ABC),
}  # fmt: skip


def settled(mapping: FileMapping, odd: Odd) -> FileMapping:
    """The mapping with what an analyst says where the file is silent."""
    columns = tuple(
        replace(use, date_format=odd.date_format) if odd.date_format and use.role == "date" else use for use in mapping.columns
    )
    return replace(mapping, columns=columns, **odd.settle)


def test_the_corpus_is_large_enough() -> None:
    from tests.ingest.test_formats import HOSTILE

    assert len(CORPUS) >= 60 and len(HOSTILE) >= 14


@pytest.mark.parametrize("name", sorted(CORPUS))
def test_odd_files_give_their_lines_total_and_days(tmp_path: Path, name: str) -> None:
    odd = CORPUS[name]
    path = tmp_path / "file"
    path.write_bytes(odd.content)
    found = read_whole(path, odd.name, odd.reading)
    assert (found.file.encoding, found.file.separator) == (odd.encoding, odd.separator)
    if odd.date_format:
        first = next(use for use in found.proposed().columns if use.role == "date")
        assert first.date_format in (None, odd.date_format), "an ambiguous column is never guessed"
    staged = found.staged(settled(found.proposed(), odd))
    assert len(staged) == odd.lines
    assert decimal_text(staged.amount.total, staged.amount.scale) == odd.total
    assert [day_of(int(staged.day.min())).isoformat(), day_of(int(staged.day.max())).isoformat()] == [odd.first, odd.last]
    assert (len(staged.problems), len(staged.set_aside), staged.blank_rows) == (odd.problems, odd.aside, odd.blank)
    assert int(staged.is_return.sum()) == odd.returns


@pytest.mark.parametrize("name", sorted(BOMBS))
def test_what_would_take_the_machine_ends_within_its_bounds(tmp_path: Path, name: str) -> None:
    make, words = BOMBS[name]
    path = tmp_path / "bomb"
    path.write_bytes(make())
    size = path.stat().st_size
    started = time.monotonic()
    try:
        table = read_apart(path, "bomb.xlsx")
        assert all("fields" in each.reason for each in table.whole().problems)
        assert len(table.whole()) <= 1_000, "what is read of it is what it holds"
    except UnreadableFileError as error:
        assert re.search(words, str(error)), str(error)
    assert time.monotonic() - started < Bounds.of(size).seconds * 10
    left = sum(each.stat().st_size for each in tmp_path.iterdir()) - size
    assert left <= Bounds.of(size).disk * 2, "what is left of it is within its bounds"
    good = tmp_path / "good"
    good.write_bytes(b"date,amount\n2026-03-01,1\n")
    assert len(read_apart(good, "f.csv").whole()) == 1, "the next file is read as if nothing had been"


def test_hidden_rows_and_sheets_are_mentioned(tmp_path: Path) -> None:
    path = tmp_path / "file"
    path.write_bytes(CORPUS["a workbook with hidden rows and sheets"].content)
    assert read_whole(path, "book.xlsx").file.notes == ("hidden sheet 'secret' not read", "1 hidden row read like the others")


def test_files_are_read_in_pieces_as_they_are_in_one(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    from lofty_abacus.ingest import delimited

    rows = ["date,line id,rep,amount"]
    for n in range(5_000):
        rows.append(f"{date(2026, 1, 1) + timedelta(n % 300)},L{n % 4_900},Rep {n % 7},{n}.{n % 100:02d}")
        if n % 1_000 == 7:
            rows += ["", "ragged,row"]
    path = tmp_path / "file"
    path.write_bytes(text(*rows))
    whole = read_whole(path, "lines.csv")
    monkeypatch.setattr(delimited, "BLOCK", 4_096)
    pieces = list(whole.file.pieces())
    assert len(pieces) > 20
    again = whole.file.whole()
    assert again.rows.tolist() == whole.rows.tolist()
    assert [each.row for each in again.problems] == [each.row for each in whole.problems]
    assert [again.fields(at) for at in (0, 2_499, 4_999)] == [whole.table.fields(at) for at in (0, 2_499, 4_999)]
