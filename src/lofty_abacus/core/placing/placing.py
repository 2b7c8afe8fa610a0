"""Lines in the order of sale days: every return on the day, and with the members, of the sale it came from (section 1)."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray
from propcache.api import cached_property

from lofty_abacus.core.lines import BLANK, RETURN, Codes, DimensionColumn, Figure, Level, LineColumns, Members
from lofty_abacus.core.placing.division import divided
from lofty_abacus.core.placing.sales import Unplaced, find_sales
from lofty_abacus.core.segments import Segments, joined, without

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


@dataclass(frozen=True, eq=False)
class PlacedSegments:
    """A version's lines with its returns on the days of their sales.

    others: the segments without returns and the orders that they are of, which stand together in a segment of their own, placed.
    unplaced: how many returns stay on their own day, and their net minor units.
    """

    others: tuple[LineColumns, ...]
    placed: PlacedLines
    unplaced: tuple[int, int]

    def known_by(self, as_of: int) -> tuple[Segments, NDArray[np.int32]]:
        """The lines as of a day; own days (day numbers, i32[n]) of those in the last segment."""
        known = self.placed.known_by(as_of)
        return Segments((*self.others, known.columns)), known.own_day


def segments_on_sale_days(segments: Segments, *, divide: bool) -> PlacedSegments:
    """The same for a version in segments: only returns, and sales of their orders, are looked at together."""
    concerned = [_concerned(each, wanted) for each, wanted in zip(segments, _orders_returned(segments), strict=True)]
    related = joined([each.taken(np.flatnonzero(of)) for each, of in zip(segments, concerned, strict=True)])
    placed = placed_on_sale_days(related, divide=divide)
    at = np.fromiter(placed.unplaced, np.int64, len(placed.unplaced))
    # Members that no line has may come with the placed ones: all segments know them, whether they use them or not.
    wide = placed.columns
    others = [
        replace(without(each, of), dimensions=_as_known(each, wide), levels=_levels_as_known(each, wide))
        for each, of in zip(segments, concerned, strict=True)
    ]
    return PlacedSegments(tuple(others), placed, (len(at), int(sum(related.amount[at].tolist()))))


def _orders_returned(segments: Segments) -> list[NDArray[np.bool_] | None]:
    """Per segment the same: bool per order code, whether anything of the order came back; None where there are no orders."""
    if "order" not in segments.roles:
        return [None] * len(segments.each)
    name = segments.roles["order"]
    wanted = np.zeros(segments.members(name).size, bool)
    for each in segments:
        back = (each.side == RETURN) & (True if each.out is None else each.out == 0)
        wanted[each.dimensions[name].codes[np.flatnonzero(back)]] = True
    wanted[BLANK] = False
    return [wanted] * len(segments.each)


def _concerned(columns: LineColumns, wanted: NDArray[np.bool_] | None) -> NDArray[np.bool_]:
    """Lines that count and are returns or of an order that something came back of: bool[n]."""
    found = columns.side == RETURN
    if wanted is not None:
        found = found | wanted[columns.dimensions[columns.roles["order"]].codes]
    return np.asarray(found if columns.out is None else found & (columns.out == 0))


def _as_known(columns: LineColumns, wide: LineColumns) -> dict[str, DimensionColumn]:
    return {name: DimensionColumn(own.codes, wide.dimensions[name].members) for name, own in columns.dimensions.items()}


def _levels_as_known(columns: LineColumns, wide: LineColumns) -> dict[str, Level]:
    return {name: replace(wide.levels[name], codes=own.codes) for name, own in columns.levels.items()}


@dataclass
class _Part:
    """A return, or a part of one, on its place: from which line, on whose place, with which figures."""

    line: int
    sale: int
    amount: int
    figures: dict[str, int]
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
    return _Part(line, sales[0], int(wide.amount[line]), _figures(wide, line), found)


def _divided(wide: LineColumns, line: int, sales: Sequence[int], amounts: list[int]) -> list[_Part]:
    """A refund of a whole order as one line per line of it."""
    money = divided(int(wide.amount[line]), amounts)
    figures = {name: divided(value, amounts) for name, value in _figures(wide, line).items()}
    found = []
    for at, (sale, amount) in enumerate(zip(sales, money, strict=True)):
        mine = {name: values[at] for name, values in figures.items()}
        if amount or any(mine.values()):
            part = _whole(wide, line, (sale,), {})
            found.append(replace(part, amount=amount, figures=mine))
    return found or [_whole(wide, line, sales, {})]


def _figures(wide: LineColumns, at: int) -> dict[str, int]:
    return {name: int(each.values[at]) for name, each in wide.figures.items()}


def _joined(wide: LineColumns, stay: NDArray[np.int64], parts: list[_Part], unplaced: dict[int, Unplaced]) -> PlacedLines:
    """The lines that stay and the parts, by (day, order, line)."""
    lines = np.array([each.line for each in parts], np.int64)
    sales = np.array([each.sale for each in parts], np.int64)
    source = np.concatenate([stay, lines])
    day = np.concatenate([wide.day[stay], wide.day[sales]])

    def figures(values: NDArray[np.int64], own: list[int]) -> NDArray[np.int64]:
        return np.concatenate([values[stay], np.array(own, np.int64)])[at]

    codes = {
        name: np.concatenate([column.codes[stay], np.array([each.members[name] for each in parts], column.codes.dtype)])
        for name, column in wide.dimensions.items()
    }
    order = codes[wide.roles["order"]]
    at = np.lexsort((wide.line_id[source], order, day))
    days = day[at].astype(np.int32) + wide.first_day
    dimensions = {name: DimensionColumn(codes[name][at], column.members) for name, column in wide.dimensions.items()}
    columns = replace(
        wide,
        remembered={},
        day=day[at],
        side=wide.side[source][at],
        amount=figures(wide.amount, [each.amount for each in parts]),
        figures={
            name: Figure(figures(each.values, [part.figures[name] for part in parts]), _flags(each.missing, source, at))
            for name, each in wide.figures.items()
        },
        days={name: each.taken(source[at]) for name, each in wide.days.items()},
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

    return Members(members.size + 2, load, members.in_time)
