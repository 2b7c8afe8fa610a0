"""Files are read in processes of their own: what they ask for is bounded, and nothing else notices."""

from __future__ import annotations

import gzip
import io
import os
import re
import threading
import time
import unicodedata
import zipfile
from pathlib import Path

import openpyxl
import pytest

from lofty_abacus.ingest import apart
from lofty_abacus.ingest.apart import read_apart
from lofty_abacus.ingest.problems import UnreadableFileError
from lofty_abacus.ingest.reader import Bounds
from lofty_abacus.ingest.reading import read_file


def put(tmp_path: Path, content: bytes, name: str = "f.csv") -> Path:
    path = tmp_path / name
    path.write_bytes(content)
    return path


def far_cell(place: str) -> bytes:
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
                row = place.lstrip("ABCDEFGHIJKLMNOPQRSTUVWXYZ")
                cell = f'<row r="{row}"><c r="{place}" t="inlineStr"><is><t>x</t></is></c></row></sheetData>'.encode()
                content = content.replace(b"</sheetData>", cell)
            new.writestr(each, content)
    return again.getvalue()


def test_what_is_read_apart_is_what_is_read_here(tmp_path: Path) -> None:
    text = "date,rep,amount\n2026-03-01,Ada,1\n2026-03-02,Bo\n\n2026-03-03,Zoë,3\n"
    path = put(tmp_path, text.encode())
    here, there = read_file(path, "f.csv").whole(), read_apart(path, "f.csv").whole()
    assert [there.fields(at) for at in range(len(there))] == [here.fields(at) for at in range(len(here))]
    assert (there.rows.tolist(), there.problems, there.blank_rows) == (here.rows.tolist(), here.problems, here.blank_rows)
    assert read_apart(path, "f.csv").headers == read_file(path, "f.csv").headers


def test_letters_in_parts_are_one_letter_and_told(tmp_path: Path) -> None:
    apart_name, whole = unicodedata.normalize("NFD", "Zoë"), "Zoë"
    path = put(tmp_path, f"date,rep,amount\n2026-03-01,{apart_name},1\n2026-03-02,{whole},2\n".encode())
    table = read_apart(path, "f.csv")
    assert {table.whole().fields(at)[1] for at in range(2)} == {"Zoë"}
    assert any("letters in parts" in note for note in table.notes)


@pytest.mark.parametrize("place", ["XFD1048576", "A1048576", "XFD2"])
def test_a_far_cell_ends_nothing(tmp_path: Path, place: str) -> None:
    path = put(tmp_path, far_cell(place), "far.xlsx")
    assert path.stat().st_size < 10_000
    try:
        table = read_apart(path, "far.xlsx")
    except UnreadableFileError as error:
        assert "asks for more than" in str(error) or "columns" in str(error)
    else:
        assert len(table.whole()) == 2, "the far cell is a row with nothing else in it, to be told"
    good = put(tmp_path, b"date,amount\n2026-03-01,1\n")
    assert len(read_apart(good, "f.csv").whole()) == 1, "the next file is read as if nothing had been"


def nested() -> bytes:
    content = b"a,b\n" + b"1,2\n" * 1000
    for _ in range(20):
        content = gzip.compress(content)
    return content


BOMBS = {
    "gzip of zeros": (lambda: gzip.compress(b"\0" * (600 << 20), 9), "asks for more than|NUL"),
    "gzip of lines": (lambda: gzip.compress(b"date,amount\n" + b"2026-03-01,1\n" * (60 << 20), 9), "asks for more than"),
    "commas": (lambda: b"date,amount\n" + b"," * (4 << 20), "cannot be read|fields|asks for"),
    "gzip in gzip": (nested, "packed more than once|asks for"),
}


@pytest.mark.parametrize("name", sorted(BOMBS))
def test_bombs_end_within_their_bounds(tmp_path: Path, name: str) -> None:
    make, words = BOMBS[name]
    path = put(tmp_path, make())
    started = time.monotonic()
    try:
        table = read_apart(path, "bomb")
        assert all("fields" in each.reason for each in table.whole().problems)
    except UnreadableFileError as error:
        assert re.search(words, str(error)), str(error)
    bounds = Bounds.of(path.stat().st_size)
    assert time.monotonic() - started < bounds.seconds * 10
    left = sum(each.stat().st_size for each in tmp_path.iterdir()) - path.stat().st_size
    assert left <= bounds.disk * 2, "what is left of it is within its bounds"


def test_a_stopped_reading_ends_and_a_killed_reader_is_started_again(tmp_path: Path) -> None:
    path = put(tmp_path, b"date,rep,amount\n" + b"2026-03-01,Ada,1\n" * 3_000_000)

    class Stop(Exception):
        pass

    def stop(rows: int) -> None:
        raise Stop

    with pytest.raises(Stop):
        read_apart(path, "f.csv", progress=stop)
    assert apart._reader._process is not None
    os.kill(apart._reader._process.pid, 9)
    apart._reader._process.wait()
    small = put(tmp_path, b"date,amount\n2026-03-01,1\n", "small.csv")
    assert len(read_apart(small, "small.csv").whole()) == 1


def test_one_large_file_does_not_hold_up_a_small_one(tmp_path: Path) -> None:
    large = put(tmp_path, b"date,rep,amount\n" + b"2026-03-01,Ada,1\n" * 4_000_000, "large.csv")
    small = put(tmp_path, b"date,amount\n2026-03-01,1\n", "small.csv")
    ended: list[str] = []

    def read(path: Path) -> None:
        read_apart(path, path.name)
        ended.append(path.name)

    threads = [threading.Thread(target=read, args=(path,)) for path in (large, small)]
    for each in threads:
        each.start()
    for each in threads:
        each.join()
    assert ended == ["small.csv", "large.csv"]
