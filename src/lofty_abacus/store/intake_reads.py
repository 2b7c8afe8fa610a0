"""What the checks before a posting must know of the lines that are posted."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from typing import Any

import numpy as np
from sqlalchemy import Connection, Engine, select, text

from lofty_abacus.actions.records import MonthHeld, OrderSold, Replacement
from lofty_abacus.core.days import day_of
from lofty_abacus.core.lines import DAY
from lofty_abacus.core.segments import Segments
from lofty_abacus.store.bulk import load_rows
from lofty_abacus.store.dimensions import dimensions
from lofty_abacus.store.engine import transaction
from lofty_abacus.store.level_entries import histories
from lofty_abacus.store.line_ids import Pieces, posted_ids
from lofty_abacus.store.line_tables import code_column, counted_lines
from lofty_abacus.store.members import find_codes, member_count, members_named
from lofty_abacus.store.tables import ledger, member

#: Lines that are gone through at a time.
LINES_AT_ONCE = 1_000_000
#: Members beyond which a dimension is not gone through one by one.
MOST_MEMBERS = 100_000


def months_going_out(engine: Engine, ledger_id: int, replacement: Replacement, feeds: Sequence[str]) -> list[MonthHeld]:
    """Per month, the lines that such a replacement of files of these feeds would take out."""
    parts: list[str] = []
    values: dict[str, object] = {}
    if replacement.replaces:
        parts.append(f"b.id IN ({', '.join(str(int(each)) for each in replacement.replaces)})")
    if replacement.first_day and replacement.last_day and feeds:
        names = {f"feed{at}": name for at, name in enumerate(feeds)}
        of = ", ".join(f":{name}" for name in names)
        own = f"SELECT id FROM mapping WHERE ledger_id = :ledger AND name IN ({of})"
        parts.append(f"(l.day BETWEEN :first AND :last AND b.mapping_id IN ({own}))")
        values = {**names, "first": replacement.first_day, "last": replacement.last_day, "ledger": ledger_id}
    if not parts:
        return []
    with transaction(engine) as connection:
        scale = connection.execute(select(ledger.c.amount_scale).where(ledger.c.id == ledger_id)).scalar_one()
        rows = connection.execute(
            text(
                "SELECT DATE_FORMAT(l.day, '%Y-%m') AS month, COUNT(*), SUM(l.amount)"
                f" FROM {counted_lines(ledger_id)} WHERE {' OR '.join(parts)} GROUP BY month ORDER BY month"
            ),
            values,
        )
        return [MonthHeld(row[0], int(row[1]), f"{row[2]:.{scale}f}") for row in rows]


def known_members(engine: Engine, ledger_id: int, name: str) -> list[tuple[str, str]]:
    """(key, label) of a dimension's members, the blank one left out; none of a dimension that is not gone through one by one."""
    with transaction(engine) as connection:
        number = _dimension(connection, ledger_id, name)
        if number is None:
            return []
        count = member_count(connection, number)
        if count > MOST_MEMBERS:
            return []
        own = (member.c.dimension_id == number) & (member.c.code < count)
        rows = connection.execute(select(member.c.member_key, member.c.label).where(own, member.c.member_key != ""))
        return [(row[0], row[1]) for row in rows]


def members_among(engine: Engine, ledger_id: int, keys: Mapping[str, Sequence[str]]) -> dict[str, Collection[str]]:
    """Those of some keys that are members, by dimension."""
    with transaction(engine) as connection:
        numbers = {each.name: number for number, each in dimensions(connection, ledger_id)}
        return {
            name: find_codes(connection, numbers[name], some).keys() if name in numbers else set() for name, some in keys.items()
        }


def is_listed(engine: Engine, ledger_id: int, name: str) -> bool:
    """Whether `known_members` gives all members of a dimension: of one with too many it gives none."""
    with transaction(engine) as connection:
        number = _dimension(connection, ledger_id, name)
        return number is None or member_count(connection, number) <= MOST_MEMBERS


def mapped_keys(engine: Engine, ledger_id: int, names: Collection[str]) -> dict[str, dict[str, dict[str, str | None]]]:
    """Per dimension (or level) and level of it, the member key of each key that the lookups know, on the last of their days."""
    mapped: dict[str, dict[str, dict[str, str | None]]] = {name: {} for name in names}
    with transaction(engine) as connection:
        version = int(connection.execute(select(ledger.c.version).where(ledger.c.id == ledger_id)).scalar_one())
        found = dimensions(connection, ledger_id, version)
        numbers = {each.name: number for number, each in found}
        for level_id, each in found:
            if each.of is None or each.of not in mapped:
                continue
            last = {of: said[-1][1] for of, said in histories(connection, level_id, version).items() if said}
            own = members_named(connection, numbers[each.of], last.keys())
            above = members_named(connection, level_id, set(last.values()))
            mapped[each.of][each.name] = {own[of][0]: above[code][0] for of, code in last.items() if of in own and code in above}
    return mapped


def line_ids_posted(engine: Engine, ledger_id: int, pieces: Pieces) -> dict[str, tuple[str, int]]:
    """(file, row) of those line ids that count already. pieces: the ids, some at a time, as often as they are asked for."""
    with transaction(engine) as connection:
        return {each.text: (each.file, each.row) for each in posted_ids(connection, ledger_id, pieces)}


@dataclass(frozen=True)
class LinesAtHand:
    """The lines of a version that is open: many of them are gone through in a moment. scale: decimals of their amounts."""

    segments: Segments
    scale: int


def orders_sold(engine: Engine, ledger_id: int, orders: Sequence[str], at_hand: LinesAtHand | None = None) -> list[OrderSold]:
    """What the posted lines hold of some orders, per product and (product "") as a whole.

    at_hand: those of the current version, if they are; without them MariaDB reads all lines.
    """
    with transaction(engine) as connection:
        own = [(number, each) for number, each in dimensions(connection, ledger_id) if each.of is None and each.role]
        named = {each.role: (number, each.name) for number, each in reversed(own)}
        if "order" not in named:
            return []
        keys = {code: key for key, code in find_codes(connection, named["order"][0], list(orders)).items()}
        if not keys:
            return []
        order, product = named["order"][1], named["product"][1] if "product" in named else None
        if at_hand is None:
            rows = _sold_by_sql(connection, ledger_id, order, product, keys.keys())
        else:
            rows = _sold_at_hand(at_hand, order, product, keys.keys())
        products = _keys(connection, named["product"][0], {row[1] for row in rows}) if product else {0: ""}
        return _by_order([(keys[row[0]], products.get(row[1], ""), *row[2:]) for row in rows])


#: (code of the order, code of the product, whether it is a return, first day, amount).
_SoldRow = tuple[int, int, bool, date, Decimal]


def _sold_by_sql(
    connection: Connection, ledger_id: int, order: str, product: str | None, codes: Collection[int]
) -> list[_SoldRow]:
    of = f"l.{code_column(product)}" if product else "0"
    _wanted(connection, "code INT UNSIGNED PRIMARY KEY", [(code,) for code in codes])
    rows = connection.execute(
        text(
            f"SELECT l.{code_column(order)} AS code, {of} AS product, l.is_return, MIN(l.day), SUM(l.amount)"
            f" FROM {counted_lines(ledger_id)} JOIN wanted w ON w.code = l.{code_column(order)}"
            " GROUP BY code, product, l.is_return"
        )
    ).all()
    connection.exec_driver_sql("DROP TEMPORARY TABLE wanted")
    return [(row[0], row[1], bool(row[2]), row[3], row[4]) for row in rows]


def _sold_at_hand(at_hand: LinesAtHand, order: str, product: str | None, codes: Collection[int]) -> list[_SoldRow]:
    found: dict[tuple[int, int, bool], tuple[int, int]] = {}
    for each in at_hand.segments.each:
        if order not in each.dimensions:
            continue
        wanted = np.zeros(each.members(order).size, np.bool_)
        wanted[[code for code in codes if code < len(wanted)]] = True
        column = each.dimensions[order].codes
        parts = [at + np.flatnonzero(wanted[column[at : at + LINES_AT_ONCE]]) for at in range(0, len(each), LINES_AT_ONCE)]
        lines = np.concatenate([np.empty(0, np.int64), *parts])
        if each.out is not None:
            lines = lines[each.out[lines] == 0]
        of = each.dimensions[product].codes[lines] if product and product in each.dimensions else np.zeros(len(lines), np.uint8)
        days = each.day_numbers(DAY, lines)
        for *place, side, day, amount in zip(
            *(values.tolist() for values in (column[lines], of, each.side[lines], days, each.amount[lines])), strict=True
        ):
            key = (*place, bool(side))
            first, total = found.get(key, (day, 0))
            found[key] = min(first, day), total + amount
    return [(*key, day_of(first), Decimal(total).scaleb(-at_hand.scale)) for key, (first, total) in found.items()]


def _by_order(rows: Sequence[tuple[str, str, bool, date, Decimal]]) -> list[OrderSold]:
    sold: dict[tuple[str, str], dict[str, Any]] = defaultdict(lambda: {"day": None, "sold": Decimal(0), "returned": Decimal(0)})
    for order, product, is_return, day, amount in rows:
        for place in {(order, product), (order, "")}:
            each = sold[place]
            if is_return:
                each["returned"] -= amount
            else:
                each["sold"] += amount
                each["day"] = min(day, each["day"] or day)
    return [
        OrderSold(order, product, each["day"], f"{each['sold']:f}", f"{each['returned']:f}")
        for (order, product), each in sold.items()
        if each["day"] is not None
    ]


def _keys(connection: Connection, dimension_id: int, codes: set[int]) -> dict[int, str]:
    query = select(member.c.code, member.c.member_key).where(member.c.dimension_id == dimension_id, member.c.code.in_(codes))
    return {row[0]: row[1] for row in connection.execute(query)}


def _wanted(connection: Connection, column: str, rows: Sequence[tuple[object, ...]]) -> None:
    connection.exec_driver_sql(f"CREATE OR REPLACE TEMPORARY TABLE wanted ({column}) CHARSET=utf8mb4 COLLATE utf8mb4_nopad_bin")
    load_rows(connection, "wanted", (column.split(maxsplit=1)[0],), rows)


def _dimension(connection: Connection, ledger_id: int, name: str) -> int | None:
    return next((number for number, each in dimensions(connection, ledger_id) if each.name == name), None)
