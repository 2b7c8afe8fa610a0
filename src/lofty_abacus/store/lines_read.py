"""Read lines back with file and row, and add lines up in MariaDB itself to check a table against."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from sqlalchemy import Connection, Engine, bindparam, text

from lofty_abacus.actions.records import AddedUp, CodeFilter, ReadLine
from lofty_abacus.core.lines import BLANK, NOT_MAPPED
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


def added_up(engine: Engine, ledger_id: int, days: DaySet, filters: Sequence[CodeFilter], roles: dict[str, str]) -> AddedUp:
    """Add the lines of some days up in MariaDB. roles: dimension name per role whose different ids are counted."""
    with transaction(engine) as connection:
        known = {each.name: (number, each.of) for number, each in dimensions(connection, ledger_id)}
        where, values = _where(days, filters, known)
        source = counted_lines(ledger_id)
        by_side = connection.execute(
            text(
                "SELECT is_return, COUNT(*) AS n, SUM(amount) AS amount, SUM(quantity) AS quantity, SUM(cost) AS cost"
                f" FROM {source} WHERE {where} GROUP BY is_return"
            ),
            values,
        ).mappings()
        rows = {"return" if row["is_return"] else "sale": dict(row) for row in by_side}
        distinct = {role: _distinct(connection, source, where, values, name) for role, name in roles.items()}

    def text_of(side: str, name: str) -> str:
        value = rows.get(side, {}).get(name)
        return "0" if value is None else f"{value:f}"

    sides = ("sale", "return")
    return AddedUp(
        lines={side: int(rows.get(side, {}).get("n", 0)) for side in sides},
        amount={side: text_of(side, "amount") for side in sides},
        quantity={side: text_of(side, "quantity") for side in sides},
        cost={side: text_of(side, "cost") for side in sides},
        distinct=distinct,
    )


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
