"""Which sale a return came from (semantics, section 1)."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass
from typing import Literal

import numpy as np

from lofty_abacus.core.lines import BLANK, RETURN, SALE, LineColumns

#: Why a return stays on its own day.
Unplaced = Literal["unknown_order", "before_its_sale", "larger_than_its_sale"]


@dataclass(frozen=True)
class PlacedReturn:
    """A return whose sale is known.

    line: its position. sales: the positions of the lines it came from: one with its product, or, where it names no product or the
    order has no such line, all of its order's, by day. names_product: whether it says itself what came back.
    """

    line: int
    sales: tuple[int, ...]
    names_product: bool


def find_sales(columns: LineColumns) -> tuple[list[PlacedReturn], dict[int, Unplaced]]:
    """(returns with their sales, returns that stay where they are and why), both by position in `columns`.

    Several refunds of a sale add up: the one that would exceed what was sold stays on its own day.
    """
    returns = np.flatnonzero(columns.side == RETURN)
    if "order" not in columns.roles:
        return [], dict.fromkeys(returns.tolist(), "unknown_order")
    orders = columns.dimensions[columns.roles["order"]].codes
    products = (
        columns.dimensions[columns.roles["product"]].codes if "product" in columns.roles else np.zeros(len(orders), np.uint8)
    )
    wanted = np.zeros(int(orders.max()) + 1 if len(orders) else 1, bool)
    wanted[orders[returns]] = True
    wanted[BLANK] = False
    sales = np.flatnonzero((columns.side == SALE) & wanted[orders])
    by_order: dict[int, list[int]] = defaultdict(list)
    by_product: dict[tuple[int, int], list[int]] = defaultdict(list)
    for at, order, product in zip(sales.tolist(), orders[sales].tolist(), products[sales].tolist(), strict=True):
        by_order[order].append(at)
        by_product[order, product].append(at)
    left: dict[tuple[int, int], int] = {}
    placed: list[PlacedReturn] = []
    unplaced: dict[int, Unplaced] = {}
    # Returns come by day: the first refunds of a sale have the first claim on it.
    for at, order, product in zip(returns.tolist(), orders[returns].tolist(), products[returns].tolist(), strict=True):
        own = by_product.get((order, product), []) if product != BLANK else []
        found = own[:1] or by_order.get(order, [])
        if order == BLANK or not found:
            unplaced[at] = "unknown_order"
            continue
        if columns.day[at] < columns.day[found[0]]:
            unplaced[at] = "before_its_sale"
            continue
        # What is refunded of a product is held against all lines of it; everything, against the order.
        claims = [(order, product, own)] if own else []
        claims.append((order, -1, by_order[order]))
        refund = -int(columns.amount[at])
        for one, which, lines in claims:
            left.setdefault((one, which), int(sum(int(columns.amount[each]) for each in lines)))
        if any(left[one, which] < refund for one, which, _ in claims):
            unplaced[at] = "larger_than_its_sale"
            continue
        for one, which, _ in claims:
            left[one, which] -= refund
        placed.append(PlacedReturn(at, tuple(found), product != BLANK))
    return placed, unplaced
