"""Fuzzing of the readers: whatever the bytes, a file gives lines or a sentence, never an unhandled error."""

from __future__ import annotations

import gzip
import re
from pathlib import Path

import pyarrow as pa
import pyarrow.compute as pc
import pytest
from hypothesis import example, given, settings
from hypothesis import strategies as st

from lofty_abacus.ingest.applying import Applying, stage_lines
from lofty_abacus.ingest.delimited import _column
from lofty_abacus.ingest.fitting import check_mapping
from lofty_abacus.ingest.lookups import stage_lookup
from lofty_abacus.ingest.mapping import Reading
from lofty_abacus.ingest.numbers import DecimalMark, read_number, read_plain_numbers
from lofty_abacus.ingest.problems import MappingError, UnreadableFileError
from lofty_abacus.ingest.proposing import propose
from lofty_abacus.ingest.reading import read_file
from lofty_abacus.ingest.surveying import survey
from lofty_abacus.ingest.tally import Tally
from tests.ingest.test_corpus import CORPUS

_FIELDS = st.one_of(
    st.sampled_from(
        ["", " ", "2026-03-01", "31.12.2025", "1/2/26", "Total", "date", "amount", '"', '""', "'", "12.5", "-1,5", "(3)"]
    ),
    st.text(max_size=12),
)
_DELIMITED = st.builds(
    lambda heading, rows, separator, end: end.join(separator.join(row) for row in [heading, *rows]).encode("utf-8", "replace"),
    st.lists(
        st.sampled_from(["date", "amount", "rep", "line id", "type", "year", "month", "qty", "price", "key"]),
        min_size=1,
        max_size=6,
    ),
    st.lists(st.lists(_FIELDS, min_size=1, max_size=7), max_size=12),
    st.sampled_from([",", ";", "\t", "|"]),
    st.sampled_from(["\n", "\r\n", "\r"]),
)
_READINGS = st.builds(
    Reading,
    st.sampled_from([None, "utf-8", "cp1252", "utf-16-le"]),
    st.sampled_from([None, ",", ";", "x"]),
    st.sampled_from([None, "", "'", '"']),
    st.none(),
    st.sampled_from([None, 1, 2, 30]),
)


def through(path: Path, content: bytes, reading: Reading | None = None) -> None:
    """Everything that intake does with a file before it is posted. Only errors with a sentence may come out of it."""
    for each in path.parent.glob(f"{path.name}*"):
        each.unlink()
    path.write_bytes(content)
    try:
        file = read_file(path, "file", reading)
        found = survey(file)
        mapping = propose(found.sample)
        if mapping.kind == "lookup":
            stage_lookup(file, mapping)
            return
        check_mapping(file, mapping)
        tally, applying = Tally(), Applying()
        for piece in file.pieces():
            staged = stage_lines(piece, mapping, applying)
            tally.add(staged)
            assert len(staged) + staged.left_out + len(staged.set_aside) == len(piece) + len(piece.problems), "no row is lost"
        applying.again()
        assert tally.figures["amount"].beyond() <= tally.lines
        assert tally.lines == sum(each.lines for each in tally.by_day.values())
    except (UnreadableFileError, MappingError) as error:
        assert str(error).startswith("file: ") and str(error).endswith((".", "!"))


@pytest.fixture(scope="module")
def place(tmp_path_factory: pytest.TempPathFactory) -> Path:
    return tmp_path_factory.mktemp("fuzz") / "file"


@settings(max_examples=400, deadline=None)
@given(content=st.binary(max_size=400))
@example(content=b"\xef\xbb\xbf")
@example(content=b"PK\x03\x04")
@example(content=b"PAR1PAR1")
@example(content=b"\x1f\x8b\x08")
def test_any_bytes(place: Path, content: bytes) -> None:
    through(place, content)


@settings(max_examples=500, deadline=None)
@given(content=_DELIMITED, reading=st.one_of(st.none(), _READINGS))
def test_anything_that_looks_like_a_table(place: Path, content: bytes, reading: Reading | None) -> None:
    through(place, content, reading)


@pytest.mark.parametrize("name", ["a workbook", "Parquet", "gzipped", "UTF-16 with a mark", "quotes within quotes"])
@settings(max_examples=60, deadline=None)
@given(data=st.data())
def test_files_with_broken_bytes(place: Path, name: str, data: st.DataObject) -> None:
    content = bytearray(CORPUS[name].content)
    for _ in range(data.draw(st.integers(1, 4))):
        at = data.draw(st.integers(0, len(content) - 1))
        content[at] = data.draw(st.integers(0, 255))
    cut = data.draw(st.integers(0, len(content)))
    through(place, bytes(content))
    through(place, bytes(content[:cut]))


@settings(max_examples=60, deadline=None)
@given(content=_DELIMITED)
def test_packed_tables(place: Path, content: bytes) -> None:
    through(place, gzip.compress(content))


_PLAIN = {"point": re.compile(r"(-?[0-9]{1,12}(\.[0-9]{1,6})?)?"), "comma": re.compile(r"(-?[0-9]{1,12}(,[0-9]{1,6})?)?")}
_NUMBERS = st.one_of(
    st.from_regex(r"-?[0-9]{1,12}([.,][0-9]{1,6})?|", fullmatch=True),
    st.from_regex(r"-{0,2}[0-9]{0,13}[.,]?[0-9]{0,7}[.,-]?", fullmatch=True),
    st.text(max_size=4),
)


@settings(max_examples=400, deadline=None)
@given(texts=st.lists(_NUMBERS, max_size=8), cut=st.integers(0, 3))
@example(texts=["999999999999.999999", "-0.000001"], cut=0)
@example(texts=["1.50", "2.00", "", "-"], cut=0)
@pytest.mark.parametrize("mark", ["point", "comma"])
def test_numbers_read_at_once_are_those_read_one_by_one(texts: list[str], cut: int, mark: DecimalMark) -> None:
    at_once = read_plain_numbers(pa.array(texts, pa.string())[cut:], mark)
    texts = texts[cut:]
    assert (at_once is not None) == all(_PLAIN[mark].fullmatch(text) for text in texts)
    if at_once is None:
        return
    minor, scale = at_once
    one_by_one = [read_number(text, mark) if text else (0, 0) for text in texts]
    assert scale == max((value[1] for value in one_by_one if value), default=0)
    for text, value, found in zip(texts, one_by_one, minor.tolist(), strict=True):
        assert value is not None, text
        assert found == value[0] * 10 ** (scale - value[1]), text


@settings(max_examples=300, deadline=None)
@given(texts=st.lists(st.text("ab é\u00a0\u2003\t\n\x00\x1f\x7f€😀", max_size=3), max_size=5), start=st.integers(0, 2))
def test_a_column_is_clean_where_no_text_has_white_space_around_it(texts: list[str], start: int) -> None:
    column = _column("c", pa.array(texts, pa.string())[start:])
    trimmed = pc.utf8_trim_whitespace(pa.array(texts[start:], pa.string())).to_pylist()
    assert column.clean == (trimmed == texts[start:])
    assert [column.text(at) for at in range(len(texts[start:]))] == texts[start:]
    assert column.blank.tolist() == [not text.strip() for text in texts[start:]]
