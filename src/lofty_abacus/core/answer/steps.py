"""What a change is made of, over the items under a row: whole columns of integers (section 10)."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from lofty_abacus.core.answer.columns import ColumnRecipe
from lofty_abacus.core.answer.evaluation import Evaluation, Points, Spot
from lofty_abacus.core.comparing.change import Compared, bridge, split_by_unit, split_each
from lofty_abacus.core.comparing.status import Status
from lofty_abacus.core.measures.exacts import REASONS, Integers
from lofty_abacus.core.measures.sums import LineSum
from lofty_abacus.core.windows.reasons import Reason


@dataclass(frozen=True)
class SplitItems:
    """n items of price, volume and mix. codes: of their dimensions, i64[n, dimensions]; change, price, moved: minor units, [n].

    moved: what volume and mix make of an item together. split: bool[n], whether an item is split at all; 0 where it is not.
    """

    dimensions: tuple[str, ...]
    codes: NDArray[np.int64]
    status: tuple[Status, ...]
    change: Integers
    price: Integers
    moved: Integers
    split: NDArray[np.bool_]
    decimals: int


@dataclass(frozen=True)
class _Items:
    """The items under a row in two windows. own: the dimensions that tell them apart; by_unit: the last of them is the unit."""

    codes: NDArray[np.int64]
    own: tuple[str, ...]
    by_unit: bool
    now: Compared
    then: Compared


def steps_of(evaluation: Evaluation, spot: Spot, recipe: ColumnRecipe, current: int, base: int) -> Mapping[str, int] | Reason:
    """The steps of a bridge, or of price, volume and mix, in minor units; or why there are none. current, base: windows."""
    items = _compared(evaluation, spot, recipe, current, base)
    if not isinstance(items, _Items):
        return items
    if recipe.kind == "bridge":
        return bridge(items.now, items.then)
    units = items.codes[:, -1] if items.by_unit else np.zeros(len(items.codes), np.int64)
    return split_by_unit(items.now, items.then, units)


def split_items(evaluation: Evaluation, spot: Spot, recipe: ColumnRecipe, current: int, base: int) -> SplitItems | Reason:
    """The items that price, volume and mix are made of, with their own part of it; or why there are none (section 10)."""
    items = _compared(evaluation, spot, recipe, current, base)
    if not isinstance(items, _Items):
        return items
    decimals = max(evaluation.resolved.ledger.scales.of(each) for each in recipe.measure.quantities)
    change, price, moved, split, status = split_each(items.now, items.then)
    return SplitItems(items.own, items.codes[:, len(spot.dimensions) :], status, change, price, moved, split, decimals)


def _compared(evaluation: Evaluation, spot: Spot, recipe: ColumnRecipe, current: int, base: int) -> _Items | Reason:
    dimensions, by_unit = _items(evaluation, spot, recipe)
    table = evaluation.table(dimensions)
    cells = table.under(spot.codes)
    codes = table.totals.codes[cells.start : cells.stop].astype(np.int64)

    def of_window(window: int) -> Compared | Reason:
        points = Points(dimensions, codes, np.full(len(codes), window, np.int64))
        amounts = evaluation.values(points, recipe.measure)
        if amounts.reason.any():
            return REASONS[int(amounts.reason[amounts.reason != 0][0]) - 1]
        (sale_lines,) = evaluation.quantities(points, (LineSum("lines", "sale"),))
        return Compared(amounts.top, sale_lines, *_quantities(evaluation, points, recipe))

    now, then = of_window(current), of_window(base)
    if not isinstance(now, Compared):
        return now
    if not isinstance(then, Compared):
        return then
    return _Items(codes, dimensions[len(spot.dimensions) :], by_unit, now, then)


def _items(evaluation: Evaluation, spot: Spot, recipe: ColumnRecipe) -> tuple[tuple[str, ...], bool]:
    """The dimensions whose members are the items: rows of the deepest level, or what price, volume and mix are named over.

    And whether the last of them is the unit that quantities are counted in.
    """
    resolved = evaluation.resolved
    statement, product = resolved.statement, resolved.ledger.with_role("product")
    if recipe.kind == "bridge":
        named, unit = resolved.rows, None
    else:
        named = statement.items or ((product.name,) if product else resolved.rows)
        unit = statement.unit_of_measure
    own = (name for name in named if name not in spot.dimensions and name != unit)
    # The unit comes last; where the row fixes it, all items are of one unit.
    last = (unit,) if unit and unit not in spot.dimensions else ()
    return (*spot.dimensions, *own, *last), bool(last)


def _quantities(evaluation: Evaluation, points: Points, recipe: ColumnRecipe) -> tuple[Integers, Integers]:
    """The items' quantities, and how many of their lines have none; no quantities where the bridge needs none."""
    if recipe.kind == "bridge":
        none = np.zeros(len(points.codes), np.int64)
        return none, none
    side = "sale" if recipe.measure.name == "gross_sales" else "all"
    lines, having, quantity = evaluation.quantities(
        points,
        (
            LineSum("lines", side),  # type: ignore[arg-type]
            LineSum("lines", side, ("quantity",)),  # type: ignore[arg-type]
            LineSum("quantity", side, ("quantity",)),  # type: ignore[arg-type]
        ),
    )
    return quantity, lines - having
