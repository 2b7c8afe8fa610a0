"""The posted lines as a source of totals that MariaDB adds up by itself: what a table is checked against."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from contextlib import suppress
from datetime import timedelta
from fractions import Fraction
from typing import Any

import numpy as np
from sqlalchemy import Connection, Engine, select, text

from lofty_abacus.actions.errors import RecordsError
from lofty_abacus.core.days import EPOCH
from lofty_abacus.core.errors import UnableError
from lofty_abacus.core.grouping.request import (
    Ability,
    DayFilter,
    DayOrderFilter,
    FigureFilter,
    Filter,
    GivenFilter,
    LevelTotals,
    LineConventions,
    LineFilter,
    MemberFilter,
    PathFilter,
    TotalsRequest,
    needed_by,
    needed_to_read,
)
from lofty_abacus.core.lines import BLANK, DAY, NOT_MAPPED
from lofty_abacus.core.measures.sums import DistinctIds, LineSum, Quantity
from lofty_abacus.core.measures.value import Scales
from lofty_abacus.core.money import decimal_text
from lofty_abacus.core.windows.ranges import DaySet
from lofty_abacus.store import kept_sums
from lofty_abacus.store.dimensions import Numbered, chain_of, dimensions
from lofty_abacus.store.engine import ChangedMeanwhileError, snapshot
from lofty_abacus.store.exclusions import condition_at
from lofty_abacus.store.interruptible import rows_of
from lofty_abacus.store.kept_sums import KeptSums, Sums
from lofty_abacus.store.ledgers import active_batches
from lofty_abacus.store.level_entries import chained_history, write_history
from lofty_abacus.store.line_tables import code_column, counted_lines, date_column, figure_column, line_table
from lofty_abacus.store.tables import ledger
from lofty_abacus.store.version_lines import Part, counting_parts

TRIES = 20
#: Windows that are added up in one reading of the lines.
AT_ONCE = 8


class SqlTotals:
    """The lines of a ledger's version, added up in MariaDB. roles: the dimension of each role; scales: decimals of its integers.

    levels_at: the day number as of which levels are read; None: each line's own day. day: by which of their days they count.
    """

    abilities: frozenset[Ability] = frozenset({"levels_as_now"})

    def __init__(
        self,
        engine: Engine,
        ledger_id: int,
        version: int,
        scales: Scales,
        roles: Mapping[str, str],
        kept: KeptSums,
        levels_at: int | None = None,
        day: str = DAY,
    ) -> None:
        self._engine, self._ledger_id, self._version = engine, ledger_id, version
        self._scales, self._roles, self._levels_at, self._day = scales, roles, levels_at, day
        self._kept = kept

    def read_by(self, how: LineConventions) -> SqlTotals:
        """The same lines, read as said. Raises UnableError for a reading that it does not declare."""
        lacking = needed_to_read(how) - self.abilities
        if lacking:
            raise UnableError(lacking)
        at = how.as_of if how.levels == "as_it_is_now" else None
        return SqlTotals(self._engine, self._ledger_id, self._version, self._scales, self._roles, self._kept, at, how.day or DAY)

    def totals(self, request: TotalsRequest) -> Sequence[LevelTotals]:
        """Totals of all lines by window, with their number. A posting meanwhile changes nothing: all is read as it was.

        Raises UnableError, RecordsError.
        """
        lacking = needed_by(request) - self.abilities
        if lacking:
            raise UnableError(lacking)
        wanted = sorted(request.quantities | {LineSum("lines", "all")}, key=repr)
        for _ in range(TRIES):
            with suppress(ChangedMeanwhileError):
                found: list[Sums] = []
                for at in range(0, len(request.windows), AT_ONCE):
                    found += self._of_windows(request.windows[at : at + AT_ONCE], request.filters, wanted)
                values = {
                    each: np.array([[sums.values[each]] for sums in found], np.object_).reshape(len(found), 1) for each in wanted
                }
                return [LevelTotals(np.zeros((1, 0), np.int32), values)]
        raise RecordsError("Postings change the ledger's columns just now: try again in a moment.")

    def _of_windows(self, windows: Sequence[DaySet], filters: Sequence[Filter], wanted: Sequence[Quantity]) -> Sequence[Sums]:
        """The sums of some windows: of a large ledger those of the batches that were added up just now are kept."""
        with snapshot(self._engine) as connection:
            parts = counting_parts(connection, self._ledger_id, self._version)
            found = dimensions(connection, self._ledger_id, self._version)
        levels = {each.name for _, each in found if each.of is not None}
        # What lookups say of a level changes what lines are read, whatever batch they came with.
        if sum(each.lines for each in parts) <= kept_sums.FEW_LINES or any(
            isinstance(each, MemberFilter) and each.dimension in levels for each in filters
        ):
            return self._added_up(windows, filters, wanted, None)
        key = (self._ledger_id, self._scales, self._day, tuple(windows), tuple(filters), tuple(wanted))

        def added_up(of: Collection[Part] | None) -> tuple[Sums, ...]:
            return tuple(self._added_up(windows, filters, wanted, of))

        # Ids of customers or products come again with every batch: of them all lines are read at once.
        comes_again = any(isinstance(each, DistinctIds) and each.role != "order" for each in wanted)
        return self._kept.sums(key, parts, added_up, comes_again=comes_again)

    def _added_up(
        self, windows: Sequence[DaySet], filters: Sequence[Filter], wanted: Sequence[Quantity], of: Collection[Part] | None
    ) -> list[Sums]:
        """The sums of some windows: of all lines, or of some parts. One reading adds up; each count of ids is one of its own."""
        with snapshot(self._engine) as connection:
            found = dimensions(connection, self._ledger_id, self._version)
            date = _date(self._day)
            members = [each for each in filters if isinstance(each, MemberFilter)]
            values: dict[str, Any] = {}
            within = [_within(days, date, at, values) for at, days in enumerate(windows)]
            conditions = [_condition(each, self._scales) for each in filters if not isinstance(each, (MemberFilter, PathFilter))]
            where = " AND ".join([f"({' OR '.join(within)})", *_members(members, found, self._levels_at, date), *conditions])
            if of is not None:
                where += f" AND ({' OR '.join(_stretches(of))})"
            source, levels = counted_lines(self._ledger_id), "level_member"
            if self._version != connection.execute(select(ledger.c.version).where(ledger.c.id == self._ledger_id)).scalar_one():
                source, levels = f"{line_table(self._ledger_id)} l", "level_then"
                batches = ", ".join(str(each["id"]) for each in active_batches(connection, self._ledger_id, self._version)) or "0"
                where += f" AND l.batch_id IN ({batches}){condition_at(connection, self._ledger_id, self._version)}"
                _write_levels(connection, found, {each.dimension for each in members}, self._version)
            where = where.format(levels=levels)
            # What all lines fulfil that are read is not asked of each of them again.
            inside = [f" AND {each}" for each in within] if len(within) > 1 else [""]
            added = [each for each in wanted if isinstance(each, LineSum)]
            columns = [_sum(each, one) for one in inside for each in added]
            [row] = rows_of(connection, text(f"SELECT {', '.join(columns)} FROM {source} WHERE {where}"), values)
            numbers = iter(row)
            sums = [{each: self._exactly(each, next(numbers)) for each in added} for _ in inside]
            counted = [each for each in wanted if isinstance(each, DistinctIds)]
            ids = [[self._ids(connection, each, f"{source} WHERE {where}{one}", values) for each in counted] for one in inside]
        return [_together(counted, *each) for each in zip(sums, ids, strict=True)]

    def _ids(self, connection: Connection, wanted: DistinctIds, lines: str, values: Mapping[str, Any]) -> Sequence[Any]:
        """How many different ids the sale lines among some have, the least and the highest code.

        They are read on their own: of a plain column MariaDB counts in half the time that it takes with conditions in between.
        """
        column = f"l.{code_column(self._roles[wanted.role])}"
        counted = f"COUNT(DISTINCT {column}), MIN({column}), MAX({column})"
        asked = f"SELECT {counted} FROM {lines} AND l.is_return = 0 AND {column} <> 0"
        [found] = rows_of(connection, text(asked), values)
        return found

    def _exactly(self, quantity: LineSum, value: Any) -> int:
        return int(Fraction(value or 0) * 10 ** self._scales.of(quantity))


def _together(counted: Sequence[DistinctIds], sums: Mapping[LineSum, int], ids: Sequence[Sequence[Any]]) -> Sums:
    """What is said of a window: its sums, and of each count of different ids the count, the least and the highest code."""
    values: dict[Quantity, int] = dict(sums.items())
    codes: dict[Quantity, tuple[int, int]] = {}
    for each, (count, least, most) in zip(counted, ids, strict=True):
        values[each] = int(count)
        if least is not None:
            codes[each] = (int(least), int(most))
    return Sums(values, codes)


def _write_levels(connection: Connection, found: Numbered, named: set[str], version: int) -> None:
    """What lookups said at an earlier version of the levels that are filtered by, in a table that only this connection sees."""
    connection.exec_driver_sql("CREATE OR REPLACE TEMPORARY TABLE level_then LIKE level_member")
    for number, each in found:
        if each.name in named and each.of is not None:
            write_history(connection, "level_then", number, chained_history(connection, found, each.name, version))


def _stretches(parts: Collection[Part]) -> list[str]:
    """Conditions for the lines of some batches, of those that follow each other in one."""
    ranges: list[list[int]] = []
    for each in sorted(part.stretch for part in parts):
        if ranges and each.first == ranges[-1][1] + 1:
            ranges[-1][1] = each.last
        else:
            ranges.append([each.first, each.last])
    return [f"l.id BETWEEN {first} AND {last}" for first, last in ranges]


def _sum(quantity: LineSum, within: str) -> str:
    """A sum over the lines of its side that have what it needs, as MariaDB adds it up. within: a further condition, with AND."""
    column = "1" if quantity.column == "lines" else _column(quantity.column)
    conditions = "".join(f" AND {_column(name)} IS NOT NULL" for name in quantity.given) + within
    if quantity.side != "all":
        conditions += f" AND is_return = {int(quantity.side == 'return')}"
    return f"SUM(CASE WHEN {conditions.removeprefix(' AND ')} THEN {column} END)" if conditions else f"SUM({column})"


def _column(figure: str) -> str:
    """Where the lines have a figure: those of every ledger under their names."""
    return f"l.{figure}" if figure in ("amount", "quantity", "cost") else f"l.{figure_column(figure)}"


def _date(day: str) -> str:
    return "l.day" if day == DAY else f"l.{date_column(day)}"


def _condition(each: LineFilter, scales: Scales) -> str:
    """SQL for a condition on what stands on a line."""
    match each:
        case FigureFilter(figure, least, most):
            column, scale = _column(figure), scales.of_column(figure)
            ends = ((">=", least), ("<=", most))
            bounds = [f"{column} {sign} {decimal_text(bound, scale)}" for sign, bound in ends if bound is not None]
            return " AND ".join([f"{column} IS NOT NULL", *bounds])
        case GivenFilter(figure, given):
            return f"{_column(figure)} IS {'NOT ' if given else ''}NULL"
        case DayOrderFilter(day, relation, other, blank):
            mine, theirs = _date(day), _date(other)
            held = f"{mine} {_SIGNS[relation]} {theirs}"
            return f"({held} OR {mine} IS NULL)" if blank else f"({mine} IS NOT NULL AND {held})"
        case DayFilter(day, stretches, blank, exclude):
            column = _date(day)
            number = f"DATEDIFF({column}, '{EPOCH.isoformat()}')"
            within = [f"{number} BETWEEN {first} AND {last}" for first, last in stretches]
            within += [f"{column} IS NULL"] if blank else []
            return f"COALESCE({' OR '.join(within) or 'FALSE'}, FALSE) = {'FALSE' if exclude else 'TRUE'}"


_SIGNS = {"before": "<", "on": "=", "after": ">"}


def _within(days: DaySet, date: str, window: int, values: dict[str, Any]) -> str:
    """A condition for the days of a window, whose bounds are put into `values`."""
    ranges = []
    for at, each in enumerate(days.ranges):
        first, last = f"first{window}_{at}", f"last{window}_{at}"
        ranges.append(f"{date} BETWEEN :{first} AND :{last}")
        values |= {first: each.first, last: each.last}
    return f"({' OR '.join(ranges)})" if ranges else "FALSE"


def _members(filters: Sequence[MemberFilter], found: Numbered, levels_at: int | None, date: str) -> list[str]:
    """Conditions on members, with a place for the table of levels."""
    parts = []
    numbers = {each.name: number for number, each in found}
    for one in filters:
        codes = ", ".join(map(str, sorted(one.codes))) or "NULL"
        chain = chain_of(found, one.dimension)
        parts.append(f"{_code(one, numbers[one.dimension], chain[-1] if chain else None, levels_at, date)} IN ({codes})")
    return parts


def _code(one: MemberFilter, level_id: int, of: str | None, levels_at: int | None, date: str) -> str:
    """SQL for a line's member: its own column, or what the lookups say of it on its day, or on the day of the reading."""
    if of is None:
        return f"l.{code_column(one.dimension)}"
    own = f"l.{code_column(of)}"
    day = date if levels_at is None else f"'{(EPOCH + timedelta(levels_at)).isoformat()}'"
    said = (
        f"(SELECT v.code FROM {{levels}} v WHERE v.dimension_id = {level_id} AND v.of_code = {own}"
        f" AND v.valid_from <= {day} AND v.valid_until > {day})"
    )
    return f"IF({own} = {BLANK}, {BLANK}, COALESCE({said}, {NOT_MAPPED}))"
