"""Figures of a piece of a file: exact numbers of a column, and amounts computed from quantity, price and discount."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial
from typing import TypeVar

import numpy as np
from numpy.typing import NDArray

from lofty_abacus.core.errors import NotExactError
from lofty_abacus.core.money import at_scale, computed_amount, decimal_text
from lofty_abacus.ingest.mapping import ColumnUse, Mapping, Role
from lofty_abacus.ingest.numbers import read_number, read_plain_numbers
from lofty_abacus.ingest.problems import Problem
from lofty_abacus.ingest.staged import Numbers
from lofty_abacus.ingest.table import TextColumn, TextTable

LEAST_AMOUNT_SCALE = 2
_Value = TypeVar("_Value")


class Problems:
    """What cannot be read in a piece, and which of its records are still usable: bool[n]."""

    def __init__(self, table: TextTable) -> None:
        self.table = table
        self.found: list[Problem] = list(table.problems)
        self.usable = np.ones(len(table), bool)

    def add(self, at: int, column: str, text: str, why: str) -> None:
        """A record that cannot be used."""
        self.found.append(Problem(self.table.file, int(self.table.rows[at]), column, text[:80], why))
        self.usable[at] = False


def numbers_of(problems: Problems, use: ColumnUse, least_scale: int, *, required: bool) -> Numbers:
    """A column's numbers at the scale of the finest; those that cannot be read are problems."""
    column = column_of(problems.table, use)
    mark = use.decimal_mark
    assert mark is not None, "the mapping was checked"
    plain = read_plain_numbers(column.stripped, mark) if len(column.codes) else None
    if plain is not None and not (required and column.blank.any()):
        minor, scale = plain
        if scale < least_scale:
            minor, scale = minor * 10 ** (least_scale - scale), least_scale
        if not len(minor) or int(np.abs(minor).max()) < 10**17:
            return Numbers(minor[column.codes], scale, column.blank)
    reason = f"is no exact number of at most 9 decimals with a decimal {mark}"
    values = parsed(problems, use, partial(read_number, mark=mark), reason, required=required)
    return _at_one_scale(problems, use.column, values, column.codes, least_scale)


def computed_amounts(problems: Problems, mapping: Mapping) -> Numbers:
    """quantity x price - discount of each line, exactly; each different combination is computed once (semantics, section 2)."""
    table = problems.table
    columns: list[tuple[list[tuple[int, int] | None], NDArray[np.uint32]]] = []
    parts_of: tuple[Role, ...] = ("quantity", "price", "discount")
    for role in parts_of:
        use = mapping.with_role(role)
        if use is None:
            columns.append(([(0, 0)], np.zeros(len(table), np.uint32)))
            continue
        mark = use.decimal_mark
        assert mark is not None, "the mapping was checked"
        reason = f"is no exact number of at most 9 decimals with a decimal {mark}"
        values = parsed(problems, use, partial(read_number, mark=mark), reason, required=role != "discount")
        columns.append(([value or (0, 0) for value in values], column_of(table, use).codes))
    known: dict[tuple[int, ...], int] = {}
    codes = np.empty(len(table), np.uint32)
    amounts: list[tuple[int, int] | None] = []
    for at, combination in enumerate(zip(*(codes_of.tolist() for _, codes_of in columns), strict=True)):
        if combination not in known:
            known[combination] = len(amounts)
            parts = [texts[code] or (0, 0) for (texts, _), code in zip(columns, combination, strict=True)]
            try:
                amounts.append(computed_amount(parts[0], parts[1], parts[2], mapping.round_to))
            except NotExactError as error:
                amounts.append(None)
                problems.add(at, "computed amount", error.text, error.why)
        codes[at] = known[combination]
        problems.usable[at] &= amounts[codes[at]] is not None
    return _at_one_scale(problems, "computed amount", amounts, codes, LEAST_AMOUNT_SCALE)


def column_of(table: TextTable, use: ColumnUse) -> TextColumn:
    """The column that a use names; the mapping was checked against the file."""
    column = table.column(use.column)
    assert column is not None, "the mapping was checked"
    return column


def parsed(
    problems: Problems, use: ColumnUse, read: Callable[[str], _Value | None], reason: str, *, required: bool
) -> list[_Value | None]:
    """Read each different text once; rows whose text cannot be read become problems and unusable."""
    column = column_of(problems.table, use)
    values = [read(text) if text.strip() else None for text in column.texts]
    bad = np.array(
        [value is None and (required or bool(text.strip())) for value, text in zip(values, column.texts, strict=True)], bool
    )
    if bad.any():
        for at in np.flatnonzero(bad[column.codes]).tolist():
            text = column.text(at)
            problems.add(at, use.column, text, reason if text.strip() else "is blank")
    return values


def _at_one_scale(
    problems: Problems, name: str, values: Sequence[tuple[int, int] | None], codes: NDArray[np.uint32], least_scale: int
) -> Numbers:
    """Different values, as codes per line, brought to the scale of the finest; those that int64 cannot hold are problems."""
    scale = max([least_scale, *(value[1] for value in values if value is not None)])
    minor = np.zeros(len(values), np.int64)
    too_large = np.zeros(len(values), bool)
    for at, value in enumerate(values):
        if value is not None:
            try:
                minor[at] = at_scale(*value, scale)
            except NotExactError:
                too_large[at] = True
    for row in np.flatnonzero(too_large[codes]).tolist() if len(values) else []:
        value = values[codes[row]]
        assert value is not None
        problems.add(row, name, decimal_text(*value), f"is too large for {scale} decimals")
    missing = np.array([value is None for value in values], bool)
    return Numbers(minor[codes], scale, missing[codes])
