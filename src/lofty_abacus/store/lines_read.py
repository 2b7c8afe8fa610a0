"""Read lines back with file and row, and add lines up in MariaDB itself to check a table against."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from contextlib import suppress
from decimal import Decimal
from typing import Any

from sqlalchemy import Connection, Engine, bindparam, select, text

from lofty_abacus.actions.errors import RecordsError
from lofty_abacus.actions.records import AddedUp, CodeFilter, GivenAmount, ReadLine
from lofty_abacus.core.lines import BLANK, NOT_MAPPED
from lofty_abacus.core.measures.sums import DistinctIds, LineSum, Quantity
from lofty_abacus.core.windows.ranges import DaySet
from lofty_abacus.store.dimensions import Numbered, chain_of, dimensions
from lofty_abacus.store.engine import ChangedMeanwhileError, snapshot, transaction
from lofty_abacus.store.exclusions import condition_at
from lofty_abacus.store.ledgers import active_batches
from lofty_abacus.store.level_entries import chained_history, write_history
from lofty_abacus.store.line_tables import code_column, counted_lines, line_table
from lofty_abacus.store.members import members_named
from lofty_abacus.store.tables import ledger

TRIES = 20


def read_lines(engine: Engine, ledger_id: int, ids: Sequence[int]) -> list[ReadLine]:
    """Lines by id, in the order of the ids."""
    if not ids:
        return []
    with transaction(engine) as connection:
        numbers = {each.name: number for number, each in dimensions(connection, ledger_id) if each.of is None}
        query = (
            f"SELECT l.*, b.file_name FROM {line_table(ledger_id)} l"
            " JOIN batch b ON b.id = l.batch_id AND b.active AND l.excluded = 0 WHERE l.id IN :ids"
        )
        rows = list(
            connection.execute(
                text(query).bindparams(bindparam("ids", expanding=True)), {"ids": [int(each) for each in ids]}
            ).mappings()
        )
        called = {
            name: members_named(connection, number, {row[code_column(name)] for row in rows}) for name, number in numbers.items()
        }
        found = {row["id"]: _line(dict(row), called) for row in rows}
    return [found[int(each)] for each in ids if int(each) in found]


def _line(row: dict[str, Any], called: dict[str, dict[int, tuple[str, str]]]) -> ReadLine:
    """called: per dimension the key and the label of each code."""

    def plain(name: str) -> str | None:
        return None if row[name] is None else f"{row[name]:f}"

    own = {name: of[row[code_column(name)]] for name, of in called.items()}
    return ReadLine(
        id=row["id"],
        day=row["day"],
        side="return" if row["is_return"] else "sale",
        amount=f"{row['amount']:f}",
        quantity=plain("quantity"),
        cost=plain("cost"),
        line_ref=row["line_ref"],
        file=row["file_name"],
        row=row["file_row"],
        batch=row["batch_id"],
        members={name: label for name, (_, label) in own.items()},
        keys={name: key for name, (key, _) in own.items()},
        given=_given(row),
    )


def _given(row: dict[str, Any]) -> GivenAmount | None:
    if row.get("given_currency") is None:
        return None
    amount, rate = (_short(row[name]) for name in ("given_amount", "rate"))
    return GivenAmount(amount, row["given_currency"], rate)


def _short(value: Decimal) -> str:
    """A decimal with its own decimals only, two at least."""
    whole, _, rest = f"{value:f}".partition(".")
    return f"{whole}.{rest.rstrip('0').ljust(2, '0')}"


def added_up(
    engine: Engine,
    ledger_id: int,
    version: int,
    days: DaySet,
    filters: Sequence[CodeFilter],
    quantities: Collection[Quantity],
    roles: dict[str, str],
) -> AddedUp:
    """Add quantities of the lines of some days, as a version has them, up in MariaDB.

    roles: dimension name per role whose different ids are counted. A posting meanwhile changes nothing: all is read as it was.
    """
    for _ in range(TRIES):
        with suppress(ChangedMeanwhileError), snapshot(engine) as connection:
            return _added_up(connection, ledger_id, version, days, filters, quantities, roles)
    raise RecordsError("Postings change the ledger's columns just now: try again in a moment.")


def _added_up(
    connection: Connection,
    ledger_id: int,
    version: int,
    days: DaySet,
    filters: Sequence[CodeFilter],
    quantities: Collection[Quantity],
    roles: dict[str, str],
) -> AddedUp:
    sums = [each for each in quantities if isinstance(each, LineSum)]
    found = dimensions(connection, ledger_id, version)
    where, values = _where(days, filters, found)
    source, levels = counted_lines(ledger_id), "level_member"
    if version != connection.execute(select(ledger.c.version).where(ledger.c.id == ledger_id)).scalar_one():
        source, levels = f"{line_table(ledger_id)} l", "level_then"
        batches = ", ".join(str(each["id"]) for each in active_batches(connection, ledger_id, version)) or "0"
        where += f" AND l.batch_id IN ({batches}){condition_at(connection, ledger_id, version)}"
        _write_levels(connection, found, {each.dimension for each in filters}, version)
    where = where.format(levels=levels)
    columns = ", ".join(["COUNT(*)", *map(_sum, sums)])
    lines, *sums_found = connection.execute(text(f"SELECT {columns} FROM {source} WHERE {where}"), values).one()
    told: dict[Quantity, str] = {each: f"{value or 0:f}" for each, value in zip(sums, sums_found, strict=True)}
    for each in quantities:
        if isinstance(each, DistinctIds):
            told[each] = str(_distinct(connection, source, where, values, roles[each.role]))
    return AddedUp(int(lines), told)


def _write_levels(connection: Connection, found: Numbered, named: set[str], version: int) -> None:
    """What lookups said at an earlier version of the levels that are filtered by, in a table that only this connection sees."""
    connection.exec_driver_sql("CREATE OR REPLACE TEMPORARY TABLE level_then LIKE level_member")
    for number, each in found:
        if each.name in named and each.of is not None:
            write_history(connection, "level_then", number, chained_history(connection, found, each.name, version))


def _sum(quantity: LineSum) -> str:
    """A sum over the lines of its side that have what it needs, as MariaDB adds it up."""
    column = "1" if quantity.column == "lines" else quantity.column
    conditions = [f"{name} IS NOT NULL" for name in quantity.given]
    if quantity.side != "all":
        conditions.append(f"is_return = {int(quantity.side == 'return')}")
    return f"SUM(CASE WHEN {' AND '.join(conditions) or 'TRUE'} THEN {column} END)"


def _distinct(connection: Connection, source: str, where: str, values: dict[str, Any], name: str) -> int:
    column = code_column(name)
    query = f"SELECT COUNT(DISTINCT l.{column}) FROM {source} WHERE {where} AND l.is_return = 0 AND l.{column} <> 0"
    return int(connection.execute(text(query), values).scalar_one())


def _where(days: DaySet, filters: Sequence[CodeFilter], found: Numbered) -> tuple[str, dict[str, Any]]:
    """A condition with a place for the table of levels, and its values."""
    values: dict[str, Any] = {}
    ranges = []
    for at, each in enumerate(days.ranges):
        ranges.append(f"l.day BETWEEN :first{at} AND :last{at}")
        values |= {f"first{at}": each.first, f"last{at}": each.last}
    parts = [f"({' OR '.join(ranges)})" if ranges else "FALSE"]
    numbers = {each.name: number for number, each in found}
    for one in filters:
        codes = ", ".join(map(str, sorted(one.codes))) or "NULL"
        chain = chain_of(found, one.dimension)
        parts.append(f"{_code(one, numbers[one.dimension], chain[-1] if chain else None)} IN ({codes})")
    return " AND ".join(parts), values


def _code(one: CodeFilter, level_id: int, of: str | None) -> str:
    """SQL for a line's member: its own column, or what the lookups say of it on its day, or on the day of the reading."""
    if of is None:
        return f"l.{code_column(one.dimension)}"
    own = f"l.{code_column(of)}"
    day = f"'{one.at.isoformat()}'" if one.at else "l.day"
    said = (
        f"(SELECT v.code FROM {{levels}} v WHERE v.dimension_id = {level_id} AND v.of_code = {own}"
        f" AND v.valid_from <= {day} AND v.valid_until > {day})"
    )
    return f"IF({own} = {BLANK}, {BLANK}, COALESCE({said}, {NOT_MAPPED}))"
