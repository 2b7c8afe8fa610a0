from __future__ import annotations

from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lofty_abacus.ingest.problems import UnreadableFileError
from tests.reading import ReadFile, read_whole


def read(tmp_path: Path, content: bytes, name: str = "lines.csv") -> ReadFile:
    path = tmp_path / "file"
    path.write_bytes(content)
    return read_whole(path, name)


def texts(table: ReadFile, header: str) -> list[str]:
    return table.texts(header)


@pytest.mark.parametrize(
    ("content", "encoding", "separator"),
    [
        ("day,city\n1,Köln\n".encode(), "utf-8", ","),
        ("day;city\n1;Köln\n".encode("utf-8-sig"), "utf-8", ";"),
        ("day\tcity\n1\tKöln\n".encode("utf-16"), "utf-16-le", "\t"),
        ("day|city\n1|Köln\n".encode("cp1252"), "cp1252", "|"),
    ],
)
def test_encodings_and_separators_are_found(tmp_path: Path, content: bytes, encoding: str, separator: str) -> None:
    table = read(tmp_path, content)
    assert (table.file.encoding, table.file.separator) == (encoding, separator)
    assert texts(table, "city") == ["Köln"]


def test_row_numbers_count_blank_rows_and_quoted_line_ends(tmp_path: Path) -> None:
    table = read(tmp_path, b'a,b\n1,"x\ny"\n\n,\n2,z\n')
    assert table.rows.tolist() == [2, 5]
    assert table.table.blank_rows == 2
    assert texts(table, "b") == ["x\ny", "z"]


def test_ragged_rows_are_problems_with_their_row(tmp_path: Path) -> None:
    table = read(tmp_path, b"a,b\n1,2\n3\n4,5,6\n")
    assert [(each.row, each.reason) for each in table.problems] == [
        (3, "has 1 fields where the heading has 2"),
        (4, "has 3 fields where the heading has 2"),
    ]


@pytest.mark.parametrize(
    ("content", "words"),
    [
        (b"", "the file is empty"),
        (b"\n\n", "no heading row"),
        (b"a,b\n", "nothing below it"),
        (b"a,a\n1,2\n", "over more than one column"),
        (b"a,b\n1,\x00\n", "NUL bytes"),
        (b'a,b\n1,"' + b"x" * 40_000 + b'"\n', "cannot be read"),
    ],
)
def test_files_that_cannot_be_read_say_why(tmp_path: Path, content: bytes, words: str) -> None:
    with pytest.raises(UnreadableFileError, match=words):
        read(tmp_path, content)


@settings(max_examples=200, deadline=None)
@given(content=st.binary(max_size=400))
def test_no_bytes_crash_the_reader(tmp_path_factory: pytest.TempPathFactory, content: bytes) -> None:
    path = tmp_path_factory.mktemp("fuzz") / "file"
    path.write_bytes(content)
    try:
        table = read_whole(path, "file")
    except UnreadableFileError:
        return
    assert all(len(column.codes) == len(table) for column in table.columns)
