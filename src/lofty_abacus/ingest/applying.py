"""Apply a mapping to a file's text: exact lines, and every value that cannot be read."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from datetime import date
from functools import partial
from typing import TypeVar

import numpy as np
from numpy.typing import NDArray

from lofty_abacus.core.days import day_number
from lofty_abacus.core.errors import NotExactError
from lofty_abacus.core.money import at_scale, computed_amount, decimal_text
from lofty_abacus.ingest.dates import FIRST_DAY, LAST_DAY, read_date
from lofty_abacus.ingest.mapping import LINE_DIMENSIONS, NUMBERS, ColumnUse, Mapping, Role, plain_name
from lofty_abacus.ingest.numbers import read_number
from lofty_abacus.ingest.problems import MappingError, Problem
from lofty_abacus.ingest.setting_aside import set_aside
from lofty_abacus.ingest.staged import Numbers, StagedLines, StagedLookup
from lofty_abacus.ingest.table import TextColumn, TextTable

LEAST_AMOUNT_SCALE = 2
_Value = TypeVar("_Value")


def check_mapping(table: TextTable, mapping: Mapping) -> None:
    """Refuse a mapping that does not fit the file. Raises MappingError."""
    named = [use.column for use in mapping.columns]
    for header in named:
        if table.column(header) is None:
            raise MappingError(table.file, header, "the file has no such column.", "Map the columns anew.")
    once: tuple[Role, ...] = (
        "date",
        "line",
        "marker",
        *(role for role in LINE_DIMENSIONS if role != "dimension"),
        *NUMBERS,
        "key",
    )
    for role in once:
        holders = [use.column for use in mapping.columns if use.role == role]
        if len(holders) > 1:
            raise MappingError(table.file, role, f"stands for both {holders[0]!r} and {holders[1]!r}.", "Choose one.")
    if mapping.kind == "lookup":
        if mapping.with_role("key") is None or (mapping.with_role("level") is None and mapping.with_role("key_name") is None):
            raise MappingError(table.file, "key", "a lookup needs a key and at least one level or name.", "Choose them.")
    else:
        _check_line_mapping(table, mapping)
    names = [use.name for use in mapping.columns if use.role in (*LINE_DIMENSIONS, "level")]
    for name in names:
        if name != plain_name(name) or names.count(name) > 1:
            why = "is used twice" if names.count(name) > 1 else "is no plain name"
            raise MappingError(table.file, name, f"the dimension name {why}.", "Use letters, digits and _; each once.")


def _check_line_mapping(table: TextTable, mapping: Mapping) -> None:
    computed = mapping.with_role("quantity") is not None and mapping.with_role("price") is not None
    needed: tuple[Role, ...] = ("date",) if computed else ("date", "amount")
    for role in needed:
        if mapping.with_role(role) is None:
            raise MappingError(table.file, role, "no column is given for it.", f"Say which column is the {role}.")
    for use in mapping.columns:
        if use.role == "date" and use.date_format is None:
            raise MappingError(
                table.file, use.column, "its dates can be read in more than one way.", "Say which number is the day."
            )
        if use.role in NUMBERS and use.decimal_mark is None:
            raise MappingError(
                table.file, use.column, "its numbers can be read in more than one way.", "Say what the decimal mark is."
            )


def stage_lines(table: TextTable, mapping: Mapping, zone: str = "UTC") -> StagedLines:
    """Lines of a sales or returns file. Lines with an unreadable value are problems and are not among the lines.

    A line is a return if its file or marker says so, else if its amount is negative (amount 0: if its quantity is): semantics,
    section 1. zone: the ledger's, for times of day that name their own. Raises MappingError.
    """
    check_mapping(table, mapping)
    date_use = mapping.with_role("date")
    assert date_use is not None and date_use.date_format is not None, "the mapping was checked"
    table, aside = set_aside(table, date_use.column, date_use.date_format)
    problems = list(table.problems)
    usable = np.ones(len(table), bool)
    day = _days(table, mapping, problems, usable, zone)
    if mapping.with_role("amount") is not None:
        amount = _numbers(table, mapping.with_role("amount"), problems, usable, LEAST_AMOUNT_SCALE, required=True)
    else:
        amount = _computed_amounts(table, mapping, problems, usable)
    quantity = _numbers(table, mapping.with_role("quantity"), problems, usable, 0, required=False)
    cost = _numbers(table, mapping.with_role("cost"), problems, usable, LEAST_AMOUNT_SCALE, required=False)
    assert amount is not None, "the mapping was checked"
    repeated = _repeated(table, mapping, usable)
    kept = np.flatnonzero(usable)
    amount, quantity, cost = (_take(each, kept) for each in (amount, quantity, cost))
    assert amount is not None
    marked = _marked(table, mapping)[kept]
    if mapping.returns_are == "positive":
        amount, quantity, cost = (_negated(each, marked) for each in (amount, quantity, cost))
        assert amount is not None
    is_return = marked | (amount.minor < 0)
    if quantity is not None:
        is_return |= (amount.minor == 0) & (quantity.minor < 0)
    line_use = mapping.with_role("line")
    dimensions: dict[str, tuple[str | None, TextColumn]] = {
        use.name: (None if use.role == "dimension" else use.role, _take_column(_column(table, use), kept))
        for use in mapping.columns
        if use.role in LINE_DIMENSIONS
    }
    return StagedLines(
        file=table.file,
        mapping=mapping,
        rows=table.rows[kept],
        day=day[kept],
        is_return=is_return,
        amount=amount,
        quantity=quantity,
        cost=cost,
        line_ids=_take_column(_column(table, line_use), kept) if line_use else None,
        dimensions=dimensions,
        problems=sorted(problems, key=lambda each: (each.row, each.column)),
        repeated=repeated,
        left_out=len(table) - len(kept) + len(table.problems),
        blank_rows=table.blank_rows,
        set_aside=aside,
    )


def stage_lookup(table: TextTable, mapping: Mapping) -> StagedLookup:
    """A lookup file; a key that occurs twice with different values is a problem. Raises MappingError."""
    check_mapping(table, mapping)
    key_use = mapping.with_role("key")
    assert key_use is not None, "the mapping was checked"
    problems = list(table.problems)
    used = [use for use in mapping.columns if use.role not in ("not_used",)]
    texts = {use.column: [_column(table, use).texts[code].strip() for code in _column(table, use).codes] for use in used}
    seen: dict[str, tuple[str, ...]] = {}
    kept: list[int] = []
    for at, key in enumerate(texts[key_use.column]):
        values = tuple(texts[use.column][at] for use in used)
        if key not in seen:
            seen[key] = values
            kept.append(at)
        elif seen[key] != values:
            row = int(table.rows[at])
            problems.append(Problem(table.file, row, key_use.column, key, "came before with other values"))

    def column_of(use: ColumnUse | None) -> list[str] | None:
        return None if use is None else [texts[use.column][at] for at in kept]

    levels = {
        use.name: (column_of(use) or [], column_of(_name_of(mapping, use.name))) for use in mapping.columns if use.role == "level"
    }
    names = column_of(mapping.with_role("key_name"))
    keys = column_of(key_use) or []
    return StagedLookup(table.file, mapping, key_use.name, keys, names, levels, problems, table.blank_rows)


def _name_of(mapping: Mapping, level: str) -> ColumnUse | None:
    return next((use for use in mapping.columns if use.role == "level_name" and use.name == level), None)


def _column(table: TextTable, use: ColumnUse) -> TextColumn:
    column = table.column(use.column)
    assert column is not None, "the mapping was checked"
    return column


def _take_column(column: TextColumn, kept: NDArray[np.int64]) -> TextColumn:
    """Members are told apart by key as typed; only white space around it is no part of it."""
    stripped = [text.strip() for text in column.texts]
    if len(set(stripped)) == len(stripped):
        return TextColumn(column.header, stripped, column.codes[kept])
    order = {text: at for at, text in enumerate(dict.fromkeys(stripped))}
    again = np.array([order[text] for text in stripped], np.uint32)
    return TextColumn(column.header, list(order), again[column.codes[kept]])


def _parsed(
    table: TextTable,
    use: ColumnUse,
    read: Callable[[str], _Value | None],
    problems: list[Problem],
    usable: NDArray[np.bool_],
    reason: str,
    *,
    required: bool,
) -> tuple[list[_Value | None], TextColumn]:
    """Read each different text once; rows whose text cannot be read become problems and unusable."""
    column = _column(table, use)
    values = [read(text) if text.strip() else None for text in column.texts]
    bad = np.array([value is None and (required or bool(text.strip())) for value, text in zip(values, column.texts, strict=True)])
    if bad.any():
        for at in np.flatnonzero(bad[column.codes]):
            text = column.texts[column.codes[at]]
            why = reason if text.strip() else "is blank"
            problems.append(Problem(table.file, int(table.rows[at]), use.column, text[:80], why))
            usable[at] = False
    return values, column


def _days(table: TextTable, mapping: Mapping, problems: list[Problem], usable: NDArray[np.bool_], zone: str) -> NDArray[np.int32]:
    use = mapping.with_role("date")
    assert use is not None and use.date_format is not None, "the mapping was checked"
    form = use.date_format

    def read(text: str) -> date | None:
        day = read_date(text, form, zone)
        return day if day is not None and FIRST_DAY <= day <= LAST_DAY else None

    reason = f"is no day from {FIRST_DAY.year} to {LAST_DAY.year} read as {form.replace('_', ', ')}"
    days, column = _parsed(table, use, read, problems, usable, reason, required=True)
    numbers = np.array([0 if day is None else day_number(day) for day in days], np.int32)
    return numbers[column.codes]


def _numbers(
    table: TextTable,
    use: ColumnUse | None,
    problems: list[Problem],
    usable: NDArray[np.bool_],
    least_scale: int,
    *,
    required: bool,
) -> Numbers | None:
    if use is None:
        return None
    mark = use.decimal_mark
    assert mark is not None, "the mapping was checked"
    reason = f"is no exact number of at most 9 decimals with a decimal {mark}"
    values, column = _parsed(table, use, lambda text: read_number(text, mark), problems, usable, reason, required=required)
    return _at_one_scale(table, use.column, values, column.codes, problems, usable, least_scale)


def _computed_amounts(table: TextTable, mapping: Mapping, problems: list[Problem], usable: NDArray[np.bool_]) -> Numbers:
    """quantity x price - discount of each line, exactly; each different combination is computed once (semantics, section 2)."""
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
        read = partial(read_number, mark=mark)
        values, column = _parsed(table, use, read, problems, usable, reason, required=role != "discount")
        columns.append(([value or (0, 0) for value in values], column.codes))
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
                problems.append(Problem(table.file, int(table.rows[at]), "computed amount", error.text, error.why))
        codes[at] = known[combination]
        usable[at] &= amounts[codes[at]] is not None
    return _at_one_scale(table, "computed amount", amounts, codes, problems, usable, LEAST_AMOUNT_SCALE)


def _at_one_scale(
    table: TextTable,
    name: str,
    values: Sequence[tuple[int, int] | None],
    codes: NDArray[np.uint32],
    problems: list[Problem],
    usable: NDArray[np.bool_],
    least_scale: int,
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
    for row in np.flatnonzero(too_large[codes]):
        value = values[codes[row]]
        assert value is not None
        problems.append(
            Problem(table.file, int(table.rows[row]), name, decimal_text(*value), f"is too large for {scale} decimals")
        )
        usable[row] = False
    missing = np.array([value is None for value in values], bool)
    return Numbers(minor[codes], scale, missing[codes])


def _take(numbers: Numbers | None, kept: NDArray[np.int64]) -> Numbers | None:
    return numbers and Numbers(numbers.minor[kept], numbers.scale, numbers.missing[kept])


def _marked(table: TextTable, mapping: Mapping) -> NDArray[np.bool_]:
    """Which lines the file itself calls returns: all of a returns file, or those with such a mark."""
    use = mapping.with_role("marker")
    if mapping.kind == "returns" or use is None:
        return np.full(len(table), mapping.kind == "returns")
    column = _column(table, use)
    marks = {mark.strip().casefold() for mark in mapping.return_marks}
    return np.array([text.strip().casefold() in marks for text in column.texts], bool)[column.codes]


def _negated(numbers: Numbers | None, which: NDArray[np.bool_]) -> Numbers | None:
    """Figures of returns that are written as positive ones."""
    return numbers and Numbers(np.where(which, -numbers.minor, numbers.minor), numbers.scale, numbers.missing)


def _repeated(table: TextTable, mapping: Mapping, usable: NDArray[np.bool_]) -> list[Problem]:
    """Lines whose line id came before in the file; they are left out where the mapping says so."""
    use = mapping.with_role("line")
    if use is None:
        return []
    column = _column(table, use)
    found = []
    seen: set[int] = set()
    for at, code in enumerate(column.codes.tolist()):
        if not column.texts[code].strip():
            continue
        if code in seen:
            text = column.texts[code]
            found.append(Problem(table.file, int(table.rows[at]), use.column, text, "this line id came before"))
            if mapping.repeated == "leave_out":
                usable[at] = False
        seen.add(code)
    return found
