"""What a change is made of: the bridge, and price, volume and mix (section 10). Both add exactly, in whole minor units."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray

from lofty_abacus.core.comparing.status import Status, status_of
from lofty_abacus.core.measures.exacts import Integers, integers, plus, scaled, times, total

BridgeStep = Literal["lost", "new", "kept_down", "kept_up", "returns_only"]
BRIDGE_STEPS: tuple[BridgeStep, ...] = ("lost", "new", "kept_down", "kept_up", "returns_only")
SplitStep = Literal["price", "volume", "mix", "new", "lost", "not_split"]
SPLIT_STEPS: tuple[SplitStep, ...] = ("price", "volume", "mix", "new", "lost", "not_split")


@dataclass(frozen=True)
class Compared:
    """n items in one window: their amounts in minor units, numbers of sale lines, quantities, and lines without one; [n] each.

    An item is what a change is formed over: a row of the deepest level, a product.
    """

    amount: Integers
    sale_lines: Integers
    quantity: Integers
    lacking: Integers


def bridge(current: Compared, base: Compared) -> Mapping[str, int]:
    """Lost, new, kept and down, kept and up, returns only: their sum is the difference. Unchanged items add 0."""
    change = plus(current.amount, -base.amount)
    status = _status(current, base)
    kept = status == "kept"
    where: dict[str, NDArray[np.bool_]] = {
        "lost": status == "lost",
        "new": status == "new",
        "kept_down": kept & np.asarray(change <= 0, bool),
        "kept_up": kept & np.asarray(change > 0, bool),
        "returns_only": status == "returns_only",
    }
    return {step: total(change[where[step]]) for step in BRIDGE_STEPS}


def _status(current: Compared, base: Compared) -> NDArray[Any]:
    """The status of each item, as `status_of` has it."""
    found = np.empty(len(current.amount), object)
    now, before = np.asarray(current.sale_lines != 0, bool), np.asarray(base.sale_lines != 0, bool)
    for has_now in (True, False):
        for had in (True, False):
            found[(now == has_now) & (before == had)] = status_of(int(has_now), int(had))
    return found


def split_by_unit(current: Compared, base: Compared, unit: NDArray[np.int64]) -> Mapping[str, int]:
    """Price, volume and mix formed within each unit of measure, i64[n], then added."""
    steps = [split(_some(current, unit == each), _some(base, unit == each)) for each in np.unique(unit).tolist()]
    return {step: sum(each[step] for each in steps) for step in SPLIT_STEPS}


def _some(compared: Compared, where: NDArray[np.bool_]) -> Compared:
    return Compared(compared.amount[where], compared.sale_lines[where], compared.quantity[where], compared.lacking[where])


def split(current: Compared, base: Compared) -> Mapping[str, int]:
    """Price, volume and mix over items of one unit of measure, with what cannot be split beside them.

    e = q1 x s0 / q0 rounded once; price = sum(s1 - e); volume = (Q1 - Q0) x S0 / Q0 rounded once; mix = sum(e) - S0 - volume.
    """
    change, status = plus(current.amount, -base.amount), _status(current, base)
    kept = (status == "kept") & _can_be_split(current) & _can_be_split(base)
    steps: dict[str, int] = dict.fromkeys(SPLIT_STEPS, 0)
    steps["new"], steps["lost"] = total(change[status == "new"]), total(change[status == "lost"])
    steps["not_split"] = total(change[~kept & (status != "new") & (status != "lost")])
    if kept.any():
        expected = total(_rounded(times(current.quantity[kept], base.amount[kept]), base.quantity[kept]))
        quantity_now, quantity_then = total(current.quantity[kept]), total(base.quantity[kept])
        amount_then = total(base.amount[kept])
        moved = integers([(quantity_now - quantity_then) * amount_then])
        steps["price"] = total(current.amount[kept]) - expected
        steps["volume"] = int(_rounded(moved, integers([quantity_then]))[0])
        steps["mix"] = expected - amount_then - steps["volume"]
    return steps


def split_each(current: Compared, base: Compared) -> tuple[Integers, Integers, Integers, NDArray[np.bool_], tuple[Status, ...]]:
    """Per item: its change, the price in it (s1 - e), what volume and mix make of it together (e - s0), whether it is split, its
    status. Over all items that are split, the prices add up to the price and the rest to volume and mix (`split`)."""
    change, status = plus(current.amount, -base.amount), _status(current, base)
    kept = np.asarray((status == "kept") & _can_be_split(current) & _can_be_split(base), bool)
    price, moved = np.zeros(len(change), object), np.zeros(len(change), object)
    if kept.any():
        expected = _rounded(times(current.quantity[kept], base.amount[kept]), base.quantity[kept])
        price[kept] = plus(current.amount[kept], -expected)
        moved[kept] = plus(expected, -base.amount[kept])
    return change, price, moved, kept, tuple(status.tolist())


def _can_be_split(compared: Compared) -> NDArray[np.bool_]:
    return np.asarray((compared.lacking == 0) & (compared.quantity > 0) & (compared.amount >= 0), bool)


def _rounded(top: Integers, bottom: Integers) -> Integers:
    """Quotients with divisors above 0, half away from zero."""
    size = plus(scaled(np.abs(top), 2), bottom) // scaled(bottom, 2)
    return np.where(np.asarray(top < 0, bool), -size, size)
