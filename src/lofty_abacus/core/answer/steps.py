"""What a change is made of, over the items under a row: whole columns of integers (section 10)."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from lofty_abacus.core.answer.columns import ColumnRecipe
from lofty_abacus.core.answer.evaluation import Evaluation, Points, Spot
from lofty_abacus.core.comparing.change import Compared, bridge, split_by_unit
from lofty_abacus.core.measures.exacts import REASONS, Integers
from lofty_abacus.core.measures.sums import LineSum
from lofty_abacus.core.windows.reasons import Reason


def steps_of(evaluation: Evaluation, spot: Spot, recipe: ColumnRecipe, current: int, base: int) -> Mapping[str, int] | Reason:
    """The steps of a bridge, or of price, volume and mix, in minor units; or why there are none. current, base: windows."""
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
    if recipe.kind == "bridge":
        return bridge(now, then)
    return split_by_unit(now, then, codes[:, -1] if by_unit else np.zeros(len(codes), np.int64))


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
