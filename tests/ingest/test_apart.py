"""Files are read in processes of their own: what they ask for is bounded, and nothing else notices."""

from __future__ import annotations

import os
import threading
import unicodedata
from pathlib import Path

import pytest

from lofty_abacus.ingest import apart
from lofty_abacus.ingest.apart import read_apart
from lofty_abacus.ingest.reading import read_file


def put(tmp_path: Path, content: bytes, name: str = "f.csv") -> Path:
    path = tmp_path / name
    path.write_bytes(content)
    return path


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
