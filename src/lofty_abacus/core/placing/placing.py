"""Lines in the order of sale days: every return on the day, and with the members, of the sale it came from (section 1)."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any

import numpy as np
from numpy.typing import NDArray

from lofty_abacus.core.lines import BLANK, Codes, DimensionColumn, Level, LineColumns, Members
from lofty_abacus.core.placing.division import divided
from lofty_abacus.core.placing.sales import Unplaced, find_sales

SEVERAL, NOT_ALLOCATED = "(several)", "(not allocated)"


@dataclass(frozen=True, eq=False)
class PlacedLines:
    """columns: the lines by sale day. own_day: i32[n], each line's own day number. unplaced: returns (positions in the columns
    that were placed) that stay on their own day, and why."""

    columns: LineColumns
    own_day: NDArray[np.int32]
    unplaced: dict[int, Unplaced]

    def known_by(self, as_of: int) -> PlacedLines:
        """The lines as of a day: a return counts only if its own day, too, is not after it. as_of: a day number."""
        late = (self.own_day > as_of) & (self.columns.day.astype(np.int32) + self.columns.first_day <= as_of)
        if not late.any():
            return self
        kept = np.flatnonzero(~late)
        return PlacedLines(self.columns.taken(kept), self.own_day[kept], self.unplaced)

    @cached_property
    def last_own_day(self) -> int:
        """The last own day of a line that lies on another."""
        moved = self.own_day != self.columns.day.astype(np.int32) + self.columns.first_day
        return int(self.own_day[moved].max()) if moved.any() else -(2**31)


@dataclass
class _Part:
    """A return, or a part of one, on its place: from which line, on whose place, with which figures."""

    line: int
    sale: int
    amount: int
    quantity: int
    cost: int
    members: dict[str, int]


def placed_on_sale_days(columns: LineColumns, *, divide: bool) -> PlacedLines:
    """The lines with returns on the days of their sales. divide: refunds known by order only are divided over the order's lines
    in proportion to amount; else they are kept on 'not allocated'. A divided refund is a line per part."""
    placed, unplaced = find_sales(columns)
    if not placed:
        return PlacedLines(columns, columns.day.astype(np.int32) + columns.first_day, unplaced)
    wide = _with_odd_members(columns)
    product = columns.roles.get("product", "")
    parts: list[_Part] = []
    for each in placed:
        if each.names_product or len(each.sales) == 1:
            parts.append(_whole(wide, each.line, each.sales, {}))
            continue
        amounts = [max(int(columns.amount[at]), 0) for at in each.sales]
        if divide and any(amounts):
            parts += _divided(wide, each.line, each.sales, amounts)
        else:
            kept = {product: wide.dimensions[product].members.size - 1} if product else {}
            parts.append(_whole(wide, each.line, each.sales, kept))
    stay = np.ones(len(columns), bool)
    stay[[each.line for each in placed]] = False
    return _joined(wide, np.flatnonzero(stay), parts, unplaced)


def _whole(wide: LineColumns, line: int, sales: Sequence[int], members: dict[str, int]) -> _Part:
    """A return as one line: members it does not bring come from its sale, or are several where the order's lines differ."""
    found = dict(members)
    for name, column in wide.dimensions.items():
        if name in found:
            continue
        if column.codes[line] != BLANK:
            found[name] = int(column.codes[line])
        else:
            codes = {int(column.codes[at]) for at in sales}
            found[name] = codes.pop() if len(codes) == 1 else column.members.size - 2
    return _Part(line, sales[0], int(wide.amount[line]), _figure(wide.quantity, line), _figure(wide.cost, line), found)


def _divided(wide: LineColumns, line: int, sales: Sequence[int], amounts: list[int]) -> list[_Part]:
    """A refund of a whole order as one line per line of it."""
    money = divided(int(wide.amount[line]), amounts)
    quantities = divided(_figure(wide.quantity, line), amounts)
    costs = divided(_figure(wide.cost, line), amounts)
    found = []
    for sale, amount, quantity, cost in zip(sales, money, quantities, costs, strict=True):
        if amount or quantity or cost:
            part = _whole(wide, line, (sale,), {})
            found.append(replace(part, amount=amount, quantity=quantity, cost=cost))
    return found or [_whole(wide, line, sales, {})]


def _figure(values: NDArray[np.int64] | None, at: int) -> int:
    return 0 if values is None else int(values[at])


def _joined(wide: LineColumns, stay: NDArray[np.int64], parts: list[_Part], unplaced: dict[int, Unplaced]) -> PlacedLines:
    """The lines that stay and the parts, by (day, order, line)."""
    lines = np.array([each.line for each in parts], np.int64)
    sales = np.array([each.sale for each in parts], np.int64)
    source = np.concatenate([stay, lines])
    day = np.concatenate([wide.day[stay], wide.day[sales]])

    def figures(values: NDArray[np.int64] | None, own: list[int]) -> NDArray[np.int64] | None:
        return None if values is None else np.concatenate([values[stay], np.array(own, np.int64)])

    codes = {
        name: np.concatenate([column.codes[stay], np.array([each.members[name] for each in parts], column.codes.dtype)])
        for name, column in wide.dimensions.items()
    }
    order = codes[wide.roles["order"]]
    at = np.lexsort((wide.line_id[source], order, day))
    amount = figures(wide.amount, [each.amount for each in parts])
    quantity = figures(wide.quantity, [each.quantity for each in parts])
    cost = figures(wide.cost, [each.cost for each in parts])
    assert amount is not None, "every line has an amount"
    days = day[at].astype(np.int32) + wide.first_day
    dimensions = {name: DimensionColumn(codes[name][at], column.members) for name, column in wide.dimensions.items()}
    columns = replace(
        wide,
        day=day[at],
        side=wide.side[source][at],
        amount=amount[at],
        quantity=None if quantity is None else quantity[at],
        cost=None if cost is None else cost[at],
        quantity_missing=_flags(wide.quantity_missing, source, at),
        cost_missing=_flags(wide.cost_missing, source, at),
        line_id=wide.line_id[source][at],
        dimensions=dimensions,
        levels={name: level.on(dimensions[level.of].codes, days) for name, level in wide.levels.items()},
    )
    own = wide.day.astype(np.int32)[source][at] + wide.first_day
    return PlacedLines(columns, own, unplaced)


def _flags(values: NDArray[np.uint8] | None, source: NDArray[np.int64], at: NDArray[Any]) -> NDArray[np.uint8] | None:
    return None if values is None else values[source][at]


def _with_odd_members(columns: LineColumns) -> LineColumns:
    """The columns with two more members of every dimension and level: several, and not allocated, in that order."""
    dimensions = {
        name: DimensionColumn(_wide_enough(column.codes, column.members.size + 2), _more(column.members))
        for name, column in columns.dimensions.items()
    }
    levels = {}
    for name, level in columns.levels.items():
        size = level.members.size
        mapping = np.concatenate([level.mapping, np.array([size, size + 1], np.int32)])
        codes = None if level.codes is None else _wide_enough(level.codes, size + 2)
        levels[name] = Level(level.of, mapping, _more(level.members), codes, level.changes)
    return replace(columns, dimensions=dimensions, levels=levels)


def _wide_enough(codes: Codes, size: int) -> Codes:
    return (
        codes.astype(np.uint16)
        if codes.dtype == np.uint8 and size > 1 << 8
        else (codes.astype(np.uint32) if codes.dtype == np.uint16 and size > 1 << 16 else codes)
    )


def _more(members: Members) -> Members:
    def load() -> tuple[list[str | None], list[str]]:
        keys = [members.key(code) for code in range(members.size)]
        labels = [members.label(code) for code in range(members.size)]
        return [*keys, SEVERAL, NOT_ALLOCATED], [*labels, SEVERAL, NOT_ALLOCATED]

    return Members(members.size + 2, load)
