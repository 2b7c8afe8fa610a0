"""Apply a mapping to a piece of a file: exact lines, and every value that cannot be read."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field, replace
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from lofty_abacus.core.days import day_number, day_of
from lofty_abacus.core.lines import NO_DAY
from lofty_abacus.ingest.dates import FIRST_DAY, LAST_DAY, DateFormat, month_end, part_of_date, read_date
from lofty_abacus.ingest.exchanging import Exchange, currencies_of, exchanged, given_of
from lofty_abacus.ingest.figures import (
    LEAST_AMOUNT_SCALE,
    Manners,
    Problems,
    Read,
    column_of,
    computed_amounts,
    computed_costs,
    numbers_of,
)
from lofty_abacus.ingest.mapping import FURTHER_FIGURES, LINE_DIMENSIONS, Correction, FileMapping, Merge
from lofty_abacus.ingest.problems import Problem
from lofty_abacus.ingest.repeats import Repeats
from lofty_abacus.ingest.setting_aside import set_aside
from lofty_abacus.ingest.staged import Foreign, Given, Numbers, StagedLines
from lofty_abacus.ingest.table import TextColumn, TextTable


@dataclass(frozen=True)
class Applying:
    """What is applied to the pieces of a file beside its mapping, in their order.

    zone, currency: the ledger's. corrections: of single rows of this file. manners: how its columns write numbers.
    line_ids, rows: what came before in the file.
    """

    zone: str = "UTC"
    corrections: tuple[Correction, ...] = ()
    line_ids: Repeats = field(default_factory=Repeats)
    rows: Repeats = field(default_factory=Repeats)
    currency: str = "EUR"
    manners: Manners = field(default_factory=Manners)

    def again(self) -> Applying | None:
        """What a second pass needs to see every repeat; None where this pass saw them all."""
        line_ids, rows = self.line_ids.suspects(), self.rows.suspects()
        if len(line_ids) == len(self.line_ids.known) and len(rows) == len(self.rows.known):
            return None
        return replace(self, line_ids=Repeats(line_ids), rows=Repeats(rows), manners=Manners())


def stage_lines(table: TextTable, mapping: FileMapping, applying: Applying | None = None) -> StagedLines:
    """Lines of a piece of a sales or returns file whose mapping was checked (`check_mapping`).

    Lines with an unreadable value are problems and are not among the lines. A line is a return if its file or marker says so,
    else if its amount is negative (amount 0: if its quantity is): semantics, section 1.
    """
    applying = applying or Applying()
    table = corrected(table, (*mapping.corrections, *applying.corrections))
    day = days_of(table, mapping, applying.zone)
    table, aside = set_aside(table, day == NO_DAY)
    if aside:
        day = days_of(table, mapping, applying.zone)
    problems = Problems(table)
    _add_undated(problems, mapping, day)
    amount_use, quantity_use = mapping.with_role("amount"), mapping.with_role("quantity")
    manners = applying.manners
    beside: list[Read | None] = []
    if amount_use is not None:
        amount, read = numbers_of(problems, amount_use, LEAST_AMOUNT_SCALE, manners, required=True)
        beside.append(read)
    else:
        amount, reads = computed_amounts(problems, mapping, manners)
        beside += reads
    quantity = numbers_of(problems, quantity_use, 0, manners, required=False)[0] if quantity_use else None
    cost, read = _costs(problems, mapping, manners)
    beside.append(read)
    own: dict[str, Numbers] = {}
    for use in mapping.columns:
        if use.role in FURTHER_FIGURES:
            least = LEAST_AMOUNT_SCALE if use.role == "further_amount" else 0
            own[use.name], read = numbers_of(problems, use, least, manners, required=False)
            beside.append(read)
    own_days = _own_days(problems, mapping, applying.zone)
    given: Given | None = None
    foreign: tuple[Foreign, ...] = ()
    exchange = Exchange(applying.currency, mapping)
    if mapping.with_role("currency") or any(beside) or mapping.currency not in (None, applying.currency):
        names, places = currencies_of(problems, exchange, beside)
        foreign = _without_rate(problems, exchange, names, places, day, amount)
        given = given_of(exchange, names, places, day, amount)
        amount = exchanged(problems, exchange, names, places, day, amount, "amount")
        cost = exchanged(problems, exchange, names, places, day, cost, "cost") if cost is not None else None
        for use in mapping.columns:
            if use.role == "further_amount":
                own[use.name] = exchanged(problems, exchange, names, places, day, own[use.name], use.column)
    repeated, identical = _repeats(problems, mapping, applying)
    kept = np.flatnonzero(problems.usable)
    marked = _marked(table, mapping)[kept]
    turned = marked if mapping.returns_are == "positive" else np.zeros(len(kept), bool)

    def taken(numbers: Numbers) -> Numbers:
        return numbers.taken(kept).negated(turned)

    amount = taken(amount)
    quantity, cost = (each and taken(each) for each in (quantity, cost))
    is_return = marked | (amount.minor < 0)
    if quantity is not None:
        is_return |= (amount.minor == 0) & (quantity.minor < 0)
    line_use = mapping.with_role("line")
    return StagedLines(
        file=table.file,
        rows=table.rows[kept],
        day=day[kept],
        is_return=is_return,
        amount=amount,
        quantity=quantity,
        cost=cost,
        line_ids=_members(column_of(table, line_use), kept) if line_use else None,
        dimensions={
            use.name: (
                None if use.role == "dimension" else use.role,
                _members(column_of(table, use), kept, [each for each in mapping.merges if each.dimension == use.name]),
            )
            for use in mapping.columns
            if use.role in LINE_DIMENSIONS
        },
        problems=sorted(problems.found, key=lambda each: (each.row, each.column)),
        repeated=repeated,
        identical=identical,
        left_out=len(table) - len(kept) + len(table.problems),
        blank_rows=table.blank_rows,
        set_aside=aside,
        given=given.taken(kept, turned) if given is not None else None,
        foreign=foreign,
        figures={name: taken(numbers) for name, numbers in own.items()},
        days={name: numbers[kept] for name, numbers in own_days.items()},
    )


def _own_days(problems: Problems, mapping: FileMapping, zone: str) -> dict[str, NDArray[np.int32]]:
    """The days of the ledger's own by name: a blank one is none; what cannot be read is a problem."""
    found = {}
    for use in mapping.columns:
        if use.role != "further_day":
            continue
        assert use.date_format is not None, "the mapping was checked"
        column = column_of(problems.table, use)
        numbers = _numbers_of_days(column, use.date_format, zone)
        read_as = use.date_format.replace("_", ", ")
        reason = f"is no day from {FIRST_DAY.year} to {LAST_DAY.year} read as {read_as}"
        for at in np.flatnonzero((numbers == NO_DAY) & ~column.blank).tolist():
            problems.add(at, use.column, column.text(at), reason)
        found[use.name] = numbers
    return found


def _numbers_of_days(column: TextColumn, written: DateFormat, zone: str) -> NDArray[np.int32]:
    days = [read_date(text, written, zone) for text in column.texts]
    numbers = [day_number(day) if day is not None and FIRST_DAY <= day <= LAST_DAY else NO_DAY for day in days]
    return np.array(numbers, np.int32)[column.codes] if numbers else np.empty(0, np.int32)


def _costs(problems: Problems, mapping: FileMapping, manners: Manners) -> tuple[Numbers | None, Read | None]:
    """What lines cost: as the file says, or quantity x cost of one."""
    cost, unit_cost, quantity = (mapping.with_role(role) for role in ("cost", "unit_cost", "quantity"))
    if cost is not None:
        return numbers_of(problems, cost, LEAST_AMOUNT_SCALE, manners, required=False)
    if unit_cost is not None and quantity is not None:
        return computed_costs(problems, mapping, quantity, unit_cost, manners)
    return None, None


def _without_rate(
    problems: Problems,
    exchange: Exchange,
    names: Sequence[str],
    places: NDArray[np.int64],
    day: NDArray[np.int32],
    amount: Numbers,
) -> tuple[Foreign, ...]:
    """Lines in a currency for which there is no rate on their day: they are not used, and told by currency."""
    lacking = [
        at
        for at in np.flatnonzero((places != 0) & problems.usable).tolist()
        if exchange.rate(names[int(places[at])], day_of(int(day[at]))) is None
    ]
    problems.usable[lacking] = False
    by_currency = {name: [at for at in lacking if names[int(places[at])] == name] for name in names[1:]}
    return tuple(
        Foreign(name, len(mine), (sum(int(amount.minor[at]) for at in mine), amount.scale))
        for name, mine in by_currency.items()
        if mine
    )


def corrected(table: TextTable, corrections: Iterable[Correction]) -> TextTable:
    """The table with texts as an analyst corrected them."""
    columns = list(table.columns)
    for each in corrections:
        for at, column in enumerate(columns):
            if column.header != each.column:
                continue
            if each.row is None:
                wrong = each.text.strip()
                texts = [each.to if text == wrong else text for text in column.stripped]
                columns[at] = TextColumn(column.header, texts, column.codes)
            elif (row := int(np.searchsorted(table.rows, each.row))) < len(table) and table.rows[row] == each.row:
                codes = column.codes.copy()
                codes[row] = len(column.texts)
                columns[at] = TextColumn(column.header, [*column.texts, each.to], codes)
    return replace(table, columns=columns)


def days_of(table: TextTable, mapping: FileMapping, zone: str) -> NDArray[np.int32]:
    """The day number of each record: i32[n]; the least int32 where there is none. A period is its last day (section 7)."""
    use = mapping.with_role("date")
    if use is None:
        return _days_of_parts(table, mapping)
    assert use.date_format is not None, "the mapping was checked"
    return _numbers_of_days(column_of(table, use), use.date_format, zone)


def _days_of_parts(table: TextTable, mapping: FileMapping) -> NDArray[np.int32]:
    """Days of dates that stand in columns of their own: year, month and, where lines are known by day, day."""
    parts: list[tuple[Literal["year", "month", "day"], TextColumn]] = []
    for role, part in (("date_year", "year"), ("date_month", "month"), ("date_day", "day")):
        use = mapping.with_role(role)  # type: ignore[arg-type]
        if use is not None:
            parts.append((part, column_of(table, use)))  # type: ignore[arg-type]
    values = [
        np.array([part_of_date(text, part) or 0 for text in column.texts], np.int64)[column.codes] for part, column in parts
    ]
    keys = values[0] * 10_000 + values[1] * 100 + (values[2] if len(values) > 2 else 0)
    different, codes = np.unique(keys, return_inverse=True)
    return np.array([_day_of_parts(int(key), with_day=len(values) > 2) for key in different], np.int32)[codes]


def _day_of_parts(key: int, *, with_day: bool) -> int:
    year, month, day = key // 10_000, key // 100 % 100, key % 100
    if not year or not month or (with_day and not day):
        return NO_DAY
    end = month_end(year, month)
    if day > end.day:
        return NO_DAY
    return day_number(end.replace(day=day) if with_day else end)


def _add_undated(problems: Problems, mapping: FileMapping, day: NDArray[np.int32]) -> None:
    bad = np.flatnonzero(day == NO_DAY).tolist()
    if not bad:
        return
    date_use = mapping.with_role("date")
    uses = [each for each in mapping.columns if each.role in ("date_year", "date_month", "date_day")]
    read_as = (date_use.date_format or "").replace("_", ", ") if date_use else "from its parts"
    what = mapping.grain
    reason = f"is no {what} from {FIRST_DAY.year} to {LAST_DAY.year} read {'as ' if date_use else ''}{read_as}"
    for at in bad:
        if date_use is not None:
            text, column = column_of(problems.table, date_use).text(at), date_use.column
        else:
            text = " ".join(column_of(problems.table, use).text(at) for use in uses)
            column = uses[-1].column
        problems.add(at, column, text, reason if text.strip() else "is blank")


def _members(column: TextColumn, kept: NDArray[np.int64], merges: Sequence[Merge] = ()) -> TextColumn:
    """Members are told apart by key as typed; only white space around it is no part of it. Merges are decisions (section 1)."""
    if column.clean and not merges:
        return column.with_codes(column.codes[kept])
    into = {each.member: each.into for each in merges}
    texts = [into.get(text, text) for text in column.stripped]
    order = {text: at for at, text in enumerate(dict.fromkeys(texts))}
    again = np.array([order[text] for text in texts], np.uint32)
    return TextColumn(column.header, list(order), again[column.codes[kept]], clean=True)


def _marked(table: TextTable, mapping: FileMapping) -> NDArray[np.bool_]:
    """Which lines the file itself calls returns: all of a returns file, or those with such a mark."""
    use = mapping.with_role("marker")
    if mapping.kind == "returns" or use is None:
        return np.full(len(table), mapping.kind == "returns")
    column = column_of(table, use)
    marks = {mark.strip().casefold() for mark in mapping.return_marks}
    return np.array([text.strip().casefold() in marks for text in column.texts], bool)[column.codes]


def _repeats(problems: Problems, mapping: FileMapping, applying: Applying) -> tuple[list[Problem], list[Problem]]:
    """Lines whose line id, or (in files without line ids) whose every field, came before; left out where the mapping says so."""
    table = problems.table
    use = mapping.with_role("line")
    if use is not None:
        column = column_of(table, use)
        again = np.flatnonzero(applying.line_ids.of_column(column)).tolist()
        if mapping.repeated == "leave_out":
            problems.usable[again] = False
        return [_told(table, at, use.column, column.text(at), "this line id came before") for at in again], []
    again = np.flatnonzero(applying.rows.of_rows(table)).tolist()
    if mapping.identical == "leave_out":
        problems.usable[again] = False
    return [], [_told(table, at, "", " ".join(table.fields(at)), "the same row came before") for at in again]


def _told(table: TextTable, at: int, column: str, text: str, why: str) -> Problem:
    return Problem(table.file, int(table.rows[at]), column, text[:80], why)
