"""Read lines back with file and row, and add lines up in MariaDB itself to check a table against."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from typing import Any

from sqlalchemy import Connection, Engine, bindparam, text

from lofty_abacus.actions.records import AddedUp, CodeFilter, ReadLine
from lofty_abacus.core.lines import BLANK, NOT_MAPPED
from lofty_abacus.core.measures.sums import DistinctIds, LineSum, Quantity
from lofty_abacus.core.windows.ranges import DaySet
from lofty_abacus.store.engine import transaction
from lofty_abacus.store.ledgers import dimensions
from lofty_abacus.store.line_tables import code_column, counted_lines, line_table


def read_lines(engine: Engine, ledger_id: int, ids: Sequence[int]) -> list[ReadLine]:
    """Lines by id, in the order of the ids."""
    if not ids:
        return []
    with transaction(engine) as connection:
        numbers = {each.name: number for number, each in dimensions(connection, ledger_id) if each.of is None}
        columns = [f"v.`{name}` AS `of-{name}`, k{number}.member_key AS `key-{name}`" for name, number in numbers.items()]
        keys = [
            f" JOIN member k{number} ON k{number}.dimension_id = {number} AND k{number}.code = l.{code_column(name)}"
            for name, number in numbers.items()
        ]
        query = (
            "SELECT v.id, v.day, v.side, v.amount, v.quantity, v.cost, v.line_ref, v.file_name, v.file_row, l.batch_id"
            f"{''.join(', ' + column for column in columns)} FROM ledger_{int(ledger_id)}_lines v"
            f" JOIN {line_table(ledger_id)} l ON l.id = v.id{''.join(keys)} WHERE v.id IN :ids"
        )
        rows = connection.execute(
            text(query).bindparams(bindparam("ids", expanding=True)), {"ids": [int(each) for each in ids]}
        ).mappings()
        found = {row["id"]: _line(dict(row), list(numbers)) for row in rows}
    return [found[int(each)] for each in ids if int(each) in found]


def _line(row: dict[str, Any], names: list[str]) -> ReadLine:
    def plain(name: str) -> str | None:
        return None if row[name] is None else f"{row[name]:f}"

    return ReadLine(
        id=row["id"],
        day=row["day"],
        side=row["side"],
        amount=f"{row['amount']:f}",
        quantity=plain("quantity"),
        cost=plain("cost"),
        line_ref=row["line_ref"],
        file=row["file_name"],
        row=row["file_row"],
        batch=row["batch_id"],
        members={name: row[f"of-{name}"] for name in names},
        keys={name: row[f"key-{name}"] for name in names},
    )


def added_up(
    engine: Engine,
    ledger_id: int,
    days: DaySet,
    filters: Sequence[CodeFilter],
    quantities: Collection[Quantity],
    roles: dict[str, str],
) -> AddedUp:
    """Add quantities of the lines of some days up in MariaDB. roles: dimension name per role whose different ids are counted."""
    sums = [each for each in quantities if isinstance(each, LineSum)]
    with transaction(engine) as connection:
        known = {each.name: (number, each.of) for number, each in dimensions(connection, ledger_id)}
        where, values = _where(days, filters, known)
        source = counted_lines(ledger_id)
        columns = ", ".join(["COUNT(*)", *map(_sum, sums)])
        lines, *found = connection.execute(text(f"SELECT {columns} FROM {source} WHERE {where}"), values).one()
        told: dict[Quantity, str] = {each: f"{value or 0:f}" for each, value in zip(sums, found, strict=True)}
        for each in quantities:
            if isinstance(each, DistinctIds):
                told[each] = str(_distinct(connection, source, where, values, roles[each.role]))
    return AddedUp(int(lines), told)


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


def _where(days: DaySet, filters: Sequence[CodeFilter], known: dict[str, tuple[int, str | None]]) -> tuple[str, dict[str, Any]]:
    values: dict[str, Any] = {}
    ranges = []
    for at, each in enumerate(days.ranges):
        ranges.append(f"l.day BETWEEN :first{at} AND :last{at}")
        values |= {f"first{at}": each.first, f"last{at}": each.last}
    parts = [f"({' OR '.join(ranges)})" if ranges else "FALSE"]
    for one in filters:
        codes = ", ".join(map(str, sorted(one.codes))) or "NULL"
        number, of = known[one.dimension]
        parts.append(f"{_code(one, number, of)} IN ({codes})")
    return " AND ".join(parts), values


def _code(one: CodeFilter, level_id: int, of: str | None) -> str:
    """SQL for a line's member: its own column, or what the lookups say of it on its day, or on the day of the reading."""
    if of is None:
        return f"l.{code_column(one.dimension)}"
    own = f"l.{code_column(of)}"
    day = f"'{one.at.isoformat()}'" if one.at else "l.day"
    said = (
        f"(SELECT v.code FROM level_member v WHERE v.dimension_id = {level_id} AND v.of_code = {own}"
        f" AND v.valid_from <= {day} AND v.valid_until > {day})"
    )
    return f"IF({own} = {BLANK}, {BLANK}, COALESCE({said}, {NOT_MAPPED}))"
