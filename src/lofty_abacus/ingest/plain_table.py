"""A file's table as it is kept beside the file: columns of text in pieces, with everything that was said of them.

Any file is brought to this form once, in a process of its own (`apart.py`); whoever works with it afterwards reads nothing that
somebody else made.
"""

from __future__ import annotations

import json
import unicodedata
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import numpy as np
import pyarrow as pa

from lofty_abacus.ingest.ahead import one_ahead
from lofty_abacus.ingest.problems import Problem
from lofty_abacus.ingest.table import FileTable, TextColumn, TextTable

_TEXT = pa.dictionary(pa.int32(), pa.string())
_PIECE = b"lofty piece"


def write_table(file: FileTable, place: Path, progress: Callable[[int], None]) -> None:
    """Write a file's table; it appears whole. Texts come to their composed form (NFC): a letter is one however it was typed.

    Raises UnreadableFileError, OSError.
    """
    making = place.with_name(f"{place.name}.making")
    composed = rows = 0
    schema = pa.schema([("rows", pa.int64()), *((f"{at}", _TEXT) for at in range(len(file.headers)))])
    try:
        with pa.OSFile(str(making), "wb") as out, pa.ipc.new_stream(out, schema) as stream:
            for piece in one_ahead(file.pieces()):
                columns, changed = _columns_of(piece)
                composed += changed
                batch = pa.record_batch([pa.array(piece.rows, pa.int64()), *columns], schema=schema)
                about = {
                    "problems": [[each.row, each.column, each.text, each.reason] for each in piece.problems],
                    "blank_rows": piece.blank_rows,
                    "clean": [column.clean for column in piece.columns],
                }
                stream.write_batch(batch, custom_metadata={_PIECE: json.dumps(about).encode()})
                rows += len(piece)
                progress(rows)
        said = f"{composed:,} texts had letters in parts (a and a mark beside it): they are read as one letter"
        head = {
            "encoding": file.encoding,
            "headers": [unicodedata.normalize("NFC", each) for each in file.headers],
            "separator": file.separator,
            "quote": file.quote,
            "sheets": list(file.sheets),
            "notes": [*file.notes, *([said] if composed else [])],
            "bytes": file.bytes,
            "data_sheets": list(file.data_sheets),
        }
        head_place = _head_of(place)
        head_making = head_place.with_name(f"{head_place.name}.making")
        head_making.write_text(json.dumps(head))
        making.rename(place)
        head_making.rename(head_place)
    finally:
        making.unlink(missing_ok=True)


def read_table(place: Path, name: str) -> FileTable | None:
    """A table that was written so; None where there is none."""
    try:
        head = json.loads(_head_of(place).read_text())
    except (OSError, ValueError):
        return None
    headers = tuple(head["headers"])
    return FileTable(
        name,
        head["encoding"],
        headers,
        lambda: _pieces(place, name, headers),
        head["separator"],
        head["quote"],
        tuple(head["sheets"]),
        tuple(head["notes"]),
        head["bytes"],
        tuple(head["data_sheets"]),
    )


def _head_of(place: Path) -> Path:
    return place.with_name(f"{place.name}.about")


def _columns_of(piece: TextTable) -> tuple[list[pa.Array], int]:
    """A piece's columns as dictionaries, and how many texts were brought to their composed form."""
    found, composed = [], 0
    for column in piece.columns:
        texts = column.given
        if not isinstance(texts, pa.Array) or not _is_plain(texts):
            own = column.texts
            again = [text if text.isascii() else unicodedata.normalize("NFC", text) for text in own]
            composed += sum(one != other for one, other in zip(own, again, strict=True))
            texts = pa.array(again, pa.string())
        codes = pa.array(column.codes.astype(np.int32))
        found.append(pa.DictionaryArray.from_arrays(codes, texts.cast(pa.string())))
    return found, composed


def _is_plain(texts: pa.Array) -> bool:
    """Whether all bytes of some texts are ASCII: then no letter is in parts."""
    data = texts.buffers()[2]
    return data is None or not len(data) or int(np.frombuffer(data, np.uint8).max()) < 128


def _pieces(place: Path, name: str, headers: tuple[str, ...]) -> Iterator[TextTable]:
    with pa.memory_map(str(place)) as source, pa.ipc.open_stream(source) as stream:
        while True:
            try:
                batch, about = stream.read_next_batch_with_custom_metadata()
            except StopIteration:
                return
            yield _piece(batch, json.loads(about[_PIECE]), name, headers)


def _piece(batch: pa.RecordBatch, about: dict[str, Any], name: str, headers: tuple[str, ...]) -> TextTable:
    columns = []
    for at, header in enumerate(headers):
        values = batch.column(at + 1)
        columns.append(
            TextColumn(header, values.dictionary, values.indices.to_numpy().astype(np.uint32), clean=about["clean"][at])
        )
    problems = [Problem(name, *each) for each in about["problems"]]
    return TextTable(name, columns, batch.column(0).to_numpy(), problems, about["blank_rows"])
