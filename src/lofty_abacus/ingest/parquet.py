"""Parquet: columns as text, dictionaries as they are, decimals and times exactly; read in batches of rows."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import numpy as np
import pyarrow as pa
import pyarrow.parquet as pq

from lofty_abacus.ingest.numbers import float_text
from lofty_abacus.ingest.problems import UnreadableFileError, is_out_of_room
from lofty_abacus.ingest.table import FileTable, TextColumn, TextTable, heading_texts

PIECE_ROWS = 200_000
#: What reading broken bytes can raise: headings that are no text and days that no calendar has among them.
_BROKEN = (pa.ArrowException, OSError, ValueError, OverflowError)


def read_parquet(path: Path, name: str) -> FileTable:
    """What a file holds; record i is row i, counted from 1. Raises UnreadableFileError."""
    try:
        with pq.ParquetFile(path) as file:
            schema, count = file.schema_arrow, file.metadata.num_rows
    except _BROKEN as error:
        if is_out_of_room(error):
            raise
        raise UnreadableFileError(name, f"it is no Parquet file that can be read ({error}).", "Write it again.") from error
    if not count or not len(schema):
        raise UnreadableFileError(name, "it has no lines.", "Choose a file with lines.")
    for column in schema:
        if pa.types.is_nested(column.type):
            raise UnreadableFileError(name, f"the column {column.name!r} is nested ({column.type}).", "Write plain columns.")
    headers = heading_texts(schema.names, name)

    def pieces() -> Iterator[TextTable]:
        return _pieces(path, name, headers)

    return FileTable(name, "parquet", headers, pieces, bytes=path.stat().st_size)


def _pieces(path: Path, name: str, headers: tuple[str, ...]) -> Iterator[TextTable]:
    seen = 0
    try:
        with pq.ParquetFile(path) as file:
            for batch in file.iter_batches(PIECE_ROWS):
                columns = [_column(header, values) for header, values in zip(headers, batch.columns, strict=True)]
                yield TextTable(name, columns, np.arange(seen + 1, seen + batch.num_rows + 1, dtype=np.int64), [], 0)
                seen += batch.num_rows
    except _BROKEN as error:
        if is_out_of_room(error):
            raise
        raise UnreadableFileError(name, f"it cannot be read after row {seen:,} ({error}).", "Write it again.") from error


def _column(header: str, values: pa.Array) -> TextColumn:
    encoded = values if pa.types.is_dictionary(values.type) else values.dictionary_encode()
    texts = ["" if value is None else _text(value) for value in encoded.dictionary.to_pylist()]
    codes = encoded.indices.fill_null(len(texts)).to_numpy(zero_copy_only=False).astype(np.uint32)
    return TextColumn(header, [*texts, ""], codes)


def _text(value: object) -> str:
    if isinstance(value, bytes):
        return value.decode("utf-8", "replace")
    if isinstance(value, float):
        return float_text(value)
    return str(value)
