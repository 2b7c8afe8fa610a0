"""Parquet: columns as text, dictionaries as they are, decimals and times exactly."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pyarrow as pa
import pyarrow.parquet as pq

from lofty_abacus.ingest.numbers import float_text
from lofty_abacus.ingest.problems import UnreadableFileError
from lofty_abacus.ingest.table import MOST_COLUMNS, TextColumn, TextTable


def read_parquet(path: Path, name: str) -> TextTable:
    """Read a whole file; record i is row i, counted from 1. Raises UnreadableFileError."""
    try:
        table = pq.read_table(path)
    except (pa.ArrowException, OSError) as error:
        raise UnreadableFileError(name, f"it is no Parquet file that can be read ({error}).", "Write it again.") from error
    if not table.num_rows or not table.num_columns:
        raise UnreadableFileError(name, "it has no lines.", "Choose a file with lines.")
    if table.num_columns > MOST_COLUMNS:
        raise UnreadableFileError(name, f"it has {table.num_columns} columns.", f"Intake reads at most {MOST_COLUMNS}.")
    columns = [_column(heading, table.column(heading), name) for heading in table.column_names]
    rows = np.arange(1, table.num_rows + 1, dtype=np.int64)
    return TextTable(name, "parquet", "", columns, rows, [], 0)


def _column(heading: str, values: pa.ChunkedArray, name: str) -> TextColumn:
    if pa.types.is_nested(values.type):
        raise UnreadableFileError(name, f"the column {heading!r} is nested ({values.type}).", "Write plain columns.")
    encoded = values.combine_chunks()
    if isinstance(encoded, pa.ChunkedArray):
        encoded = encoded.chunk(0)
    if not pa.types.is_dictionary(encoded.type):
        encoded = encoded.dictionary_encode()
    texts = ["" if value is None else _text(value) for value in encoded.dictionary.to_pylist()]
    codes = encoded.indices.fill_null(len(texts)).to_numpy(zero_copy_only=False).astype(np.uint32)
    return TextColumn(heading, [*texts, ""], codes)


def _text(value: object) -> str:
    if isinstance(value, bytes):
        return value.decode("utf-8", "replace")
    if isinstance(value, float):
        return float_text(value)
    return str(value)
