"""Figures of a piece of a file: exact numbers of a column, and amounts computed from quantity, price and discount."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from functools import partial
from typing import TypeVar

import numpy as np
from numpy.typing import NDArray

from lofty_abacus.core.errors import NotExactError
from lofty_abacus.core.money import at_scale, computed_amount, decimal_text
from lofty_abacus.ingest.mapping import ColumnUse, FileMapping, Role
from lofty_abacus.ingest.numbers import DecimalMark, Figure, GroupStyle, read_figure, read_plain_numbers, read_rate
from lofty_abacus.ingest.problems import Problem
from lofty_abacus.ingest.staged import Numbers
from lofty_abacus.ingest.table import TextColumn, TextTable

LEAST_AMOUNT_SCALE = 2
#: What is counted in money: a currency may stand beside it.
MONEY: tuple[Role, ...] = ("amount", "cost", "unit_cost", "price", "discount")
_Value = TypeVar("_Value")
Exact = tuple[int, int]


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


@dataclass
class Manners:
    """How the columns of a file write numbers, as far as it was read: groups of digits are of one style throughout."""

    styles: dict[str, GroupStyle] = field(default_factory=lambda: defaultdict(GroupStyle))


@dataclass(frozen=True)
class Read:
    """The numbers of a column: an exact value per different text (None: blank or unreadable), and the currency written beside
    it."""

    values: list[Exact | None]
    currencies: list[str]
    codes: NDArray[np.uint32]


def numbers_of(
    problems: Problems, use: ColumnUse, least_scale: int, manners: Manners, *, required: bool
) -> tuple[Numbers, Read | None]:
    """A column's numbers at the scale of the finest; those that cannot be read are problems.

    With the currencies written beside them, where there are any (None: there are none).
    """
    column = column_of(problems.table, use)
    mark = mark_of(use)
    plain = read_plain_numbers(column.bare, mark) if len(column.codes) else None
    if plain is not None and not (required and column.blank.any()):
        minor, scale = plain
        if scale < least_scale:
            minor, scale = minor * 10 ** (least_scale - scale), least_scale
        if not len(minor) or int(np.abs(minor).max()) < 10**17:
            return Numbers(minor[column.codes], scale, column.blank), None
    read = read_column(problems, use, manners, required=required)
    return at_one_scale(problems, use.column, read.values, read.codes, least_scale), read if any(read.currencies) else None


def read_column(problems: Problems, use: ColumnUse, manners: Manners, *, required: bool) -> Read:
    """A column's numbers, each different text once; those that cannot be read, or are grouped otherwise, are problems."""
    column, mark = column_of(problems.table, use), mark_of(use)
    style = manners.styles[use.column]

    def read(text: str) -> Figure | None:
        found = read_figure(text, mark)
        if found is None or (found.currency and use.role not in MONEY):
            return None
        return found if style.takes(found.style) else None

    def reason(text: str) -> str:
        if read_figure(text, mark) is None:
            return f"is no exact number of at most 9 decimals with a decimal {mark}"
        return (
            "has its digits grouped otherwise than its column"
            if use.role in MONEY
            else "is an amount of money, or grouped otherwise"
        )

    figures = parsed(problems, use, read, reason, required=required)
    values = [None if each is None else (each.unscaled, each.decimals) for each in figures]
    return Read(values, [each.currency if each else "" for each in figures], column.codes)


def computed_amounts(problems: Problems, mapping: FileMapping, manners: Manners) -> tuple[Numbers, list[Read]]:
    """quantity x price x (1 - rate) - discount of each line, exactly; each different combination is computed once (section 2).

    With the numbers of price and discount, for the currencies beside them.
    """
    table = problems.table
    columns: list[tuple[list[Exact | None], NDArray[np.uint32]]] = []
    money: list[Read] = []
    parts_of: tuple[Role, ...] = ("quantity", "price", "discount", "discount_rate")
    for role in parts_of:
        use = mapping.with_role(role)
        if use is None:
            columns.append(([(0, 0)], np.zeros(len(table), np.uint32)))
        elif role == "discount_rate":
            reading = partial(read_rate, mark=mark_of(use), written=mapping.rates_are)
            values = parsed(problems, use, reading, "is no rate from 0 to 100 %", required=False)
            columns.append((list(values), column_of(table, use).codes))
        else:
            read = read_column(problems, use, manners, required=role != "discount")
            columns.append((read.values, read.codes))
            money += [read] if role in MONEY else []
    known: dict[tuple[int, ...], int] = {}
    codes = np.empty(len(table), np.uint32)
    amounts: list[Exact | None] = []
    for at, combination in enumerate(zip(*(codes_of.tolist() for _, codes_of in columns), strict=True)):
        if combination not in known:
            known[combination] = len(amounts)
            parts = [texts[code] or (0, 0) for (texts, _), code in zip(columns, combination, strict=True)]
            try:
                amounts.append(computed_amount(parts[0], parts[1], parts[2], mapping.round_to, parts[3]))
            except NotExactError as error:
                amounts.append(None)
                problems.add(at, "computed amount", error.text, error.why)
        codes[at] = known[combination]
        problems.usable[at] &= amounts[codes[at]] is not None
    return at_one_scale(problems, "computed amount", amounts, codes, LEAST_AMOUNT_SCALE), money


def computed_costs(
    problems: Problems, mapping: FileMapping, quantity: ColumnUse, unit_cost: ColumnUse, manners: Manners
) -> tuple[Numbers, Read]:
    """quantity x cost of one, exactly; a line that lacks one of the two has no cost."""
    counted = read_column(Problems(problems.table), quantity, Manners(), required=False)
    costs = read_column(problems, unit_cost, manners, required=False)
    known: dict[tuple[int, int], int] = {}
    values: list[Exact | None] = []
    codes = np.empty(len(problems.table), np.uint32)
    for at, pair in enumerate(zip(counted.codes.tolist(), costs.codes.tolist(), strict=True)):
        if pair not in known:
            known[pair] = len(values)
            number, cost = counted.values[pair[0]], costs.values[pair[1]]
            try:
                values.append(None if number is None or cost is None else computed_amount(number, cost, (0, 0), mapping.round_to))
            except NotExactError as error:
                values.append(None)
                problems.add(at, "computed cost", error.text, error.why)
        codes[at] = known[pair]
    return at_one_scale(problems, "computed cost", values, codes, LEAST_AMOUNT_SCALE), costs


def mark_of(use: ColumnUse) -> DecimalMark:
    """The decimal mark of a column; the mapping was checked."""
    assert use.decimal_mark is not None, "the mapping was checked"
    return use.decimal_mark


def column_of(table: TextTable, use: ColumnUse) -> TextColumn:
    """The column that a use names; the mapping was checked against the file."""
    column = table.column(use.column)
    assert column is not None, "the mapping was checked"
    return column


def parsed(
    problems: Problems,
    use: ColumnUse,
    read: Callable[[str], _Value | None],
    reason: str | Callable[[str], str],
    *,
    required: bool,
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
            why = reason if isinstance(reason, str) else reason(text)
            problems.add(at, use.column, text, why if text.strip() else "is blank")
    return values


def at_one_scale(
    problems: Problems, name: str, values: Sequence[Exact | None], codes: NDArray[np.uint32], least_scale: int
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
