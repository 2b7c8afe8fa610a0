"""Staged lines as files that MariaDB loads: written column by column, exact to the last digit."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
import pyarrow.csv as pa_csv
from numpy.typing import NDArray
from sqlalchemy import Connection

from lofty_abacus.actions.errors import RefusedError
from lofty_abacus.core.lines import NO_DAY
from lofty_abacus.core.measures.value import Scales
from lofty_abacus.core.money import INT64_MAX, decimal_text
from lofty_abacus.ingest.staged import Numbers, StagedLines
from lofty_abacus.store import bulk, line_tables

#: Rows that are written at a time.
ROWS_AT_ONCE = 4096
_OWN = ("id", "file_row", "day", "is_return", "line_ref", "amount", "quantity", "cost")


def write_lines(
    path: Path,
    lines: StagedLines,
    first: int,
    codes: Sequence[NDArray[np.uint32]],
    scales: Scales,
) -> None:
    """Write lines to a file, for `load_lines` with the same dimensions.

    first: the id of the first line, the others follow it; codes: u32[n] per dimension of the lines.

    Raises RefusedError where a number does not fit the ledger's scale, with its row.
    """
    count = len(lines)
    table = pa.table(
        [
            pa.array(np.arange(first, first + count, dtype=np.int64)),
            pa.array(lines.rows),
            pa.array(lines.day, pa.int32()).cast(pa.date32()),
            pa.array(lines.is_return.astype(np.int8)),
            _references(lines, count),
            _decimals(lines.amount, scales.amount, lines),
            _decimals(lines.quantity, scales.quantity, lines),
            _decimals(lines.cost, scales.amount, lines),
            *(_decimals(each, scales.of_column(name), lines) for name, each in lines.figures.items()),
            *(pa.array(each, pa.int32(), mask=each == NO_DAY).cast(pa.date32()) for each in lines.days.values()),
            *(_given(lines) if lines.given is not None else ()),
            *(pa.array(each) for each in codes),
        ],
        names=[*columns_of(own_columns(lines), given=lines.given is not None), *(f"code {at}" for at in range(len(codes)))],
    )
    options = pa_csv.WriteOptions(
        include_header=False, delimiter="\t", quoting_style="needed", null_string="NULL", batch_size=ROWS_AT_ONCE
    )
    try:
        pa_csv.write_csv(table, path, options)
    except BaseException:
        # A disk that is full leaves half a file: nothing is left of it.
        path.unlink(missing_ok=True)
        raise


def own_columns(lines: StagedLines) -> tuple[str, ...]:
    """The columns of figures and days of the ledger's own that some lines bring."""
    return (*map(line_tables.figure_column, lines.figures), *map(line_tables.date_column, lines.days))


def columns_of(own: Sequence[str], *, given: bool) -> tuple[str, ...]:
    """The columns beside those of dimensions: lines in other currencies also have what they were given as."""
    return (*_OWN, *own, *(line_tables.GIVEN_COLUMNS if given else ()))


def load_lines(
    connection: Connection,
    ledger_id: int,
    batch_id: int,
    own: Sequence[str],
    dimensions: Sequence[str],
    path: Path,
    *,
    given: bool,
) -> None:
    """Load such a file as lines of a batch and throw it away.

    own: its `own_columns`. given: whether its lines say what they were given as.
    """
    try:
        columns = [*columns_of(own, given=given), *(line_tables.code_column(name) for name in dimensions)]
        bulk.load_file(connection, line_tables.line_table(ledger_id), columns, path, bulk.FIELDS, {"batch_id": batch_id})
    finally:
        path.unlink()


def _given(lines: StagedLines) -> list[pa.Array]:
    """Amount, currency and rate that lines in other currencies were given as; NULL for the others."""
    given = lines.given
    assert given is not None, "asked of lines that have it"
    foreign = given.places != 0
    amounts = _decimals(Numbers(given.numbers.minor, given.numbers.scale, ~foreign), given.numbers.scale, lines)
    names = [given.names[place] if place else None for place in given.places.tolist()]
    return [amounts, pa.array(names, pa.string()), pa.array([rate or None for rate in given.rates], pa.string())]


def _references(lines: StagedLines, count: int) -> pa.Array:
    column = lines.line_ids
    if column is None:
        return pa.nulls(count, pa.string())
    texts = pc.if_else(pc.equal(column.bare, ""), None, column.bare)
    return pa.DictionaryArray.from_arrays(pa.array(column.codes.astype(np.int32)), texts).dictionary_decode()


def _decimals(numbers: Numbers | None, scale: int, lines: StagedLines) -> pa.Array:
    if numbers is None:
        return pa.nulls(len(lines), pa.string())
    factor = int(10 ** (scale - numbers.scale))
    bound = INT64_MAX // factor
    beyond = np.flatnonzero((numbers.minor > bound) | (numbers.minor < -bound))
    if len(beyond):
        at = int(beyond[0])
        text = decimal_text(int(numbers.minor[at]), numbers.scale)
        raise RefusedError(f"{lines.file}, row {lines.rows[at]}: {text} is too large for {scale} decimals. Nothing was posted.")
    minor = numbers.minor * factor
    if not scale:
        # Whole numbers are written in less than half of the time.
        return pa.array(minor, mask=numbers.missing)
    words = np.column_stack([minor, minor >> 63])
    valid = None
    if numbers.missing.any():
        valid = pa.array(~numbers.missing).buffers()[1]
    return pa.Array.from_buffers(pa.decimal128(19, scale), len(minor), [valid, pa.py_buffer(np.ascontiguousarray(words))])
