"""What a change is made of: the bridge, and price, volume and mix (section 10). Both add exactly, in whole minor units."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction
from typing import Literal

from lofty_abacus.core.comparing.status import status_of

BridgeStep = Literal["lost", "new", "kept_down", "kept_up", "returns_only"]
BRIDGE_STEPS: tuple[BridgeStep, ...] = ("lost", "new", "kept_down", "kept_up", "returns_only")
SplitStep = Literal["price", "volume", "mix", "new", "lost", "not_split"]
SPLIT_STEPS: tuple[SplitStep, ...] = ("price", "volume", "mix", "new", "lost", "not_split")


@dataclass(frozen=True)
class Side:
    """An item in one window: its amount in minor units, its number of sale lines, its quantity (None: some line lacks one)."""

    amount: int
    sale_lines: int
    quantity: int | None = None


@dataclass(frozen=True)
class Item:
    """What a change is formed over: a row of the deepest level, a product."""

    current: Side
    base: Side
    unit: int = 0
    """What its quantity is counted in, told apart by number."""


def bridge(items: Iterable[Item]) -> Mapping[BridgeStep, int]:
    """Lost, new, kept and down, kept and up, returns only: their sum is the difference. Unchanged items add 0."""
    steps: dict[BridgeStep, int] = dict.fromkeys(BRIDGE_STEPS, 0)
    for item in items:
        change = item.current.amount - item.base.amount
        status = status_of(item.current.sale_lines, item.base.sale_lines)
        step: BridgeStep = ("kept_up" if change > 0 else "kept_down") if status == "kept" else status or "returns_only"
        steps[step] += change
    return steps


def split_by_unit(items: Sequence[Item]) -> Mapping[SplitStep, int]:
    """Price, volume and mix formed within each unit of measure, then added."""
    by_unit: dict[int, list[Item]] = defaultdict(list)
    for item in items:
        by_unit[item.unit].append(item)
    steps = [split(group) for group in by_unit.values()]
    return {step: sum(each[step] for each in steps) for step in SPLIT_STEPS}


def split(items: Sequence[Item]) -> Mapping[SplitStep, int]:
    """Price, volume and mix over items of one unit of measure, with what cannot be split beside them.

    e = q1 x s0 / q0 rounded once; price = sum(s1 - e); volume = (Q1 - Q0) x S0 / Q0 rounded once; mix = sum(e) - S0 - volume.
    """
    steps: dict[SplitStep, int] = dict.fromkeys(SPLIT_STEPS, 0)
    kept: list[tuple[int, int, int, int]] = []
    for item in items:
        change = item.current.amount - item.base.amount
        status = status_of(item.current.sale_lines, item.base.sale_lines)
        if status in ("new", "lost"):
            steps[status] += change
        elif status == "kept" and _can_be_split(item.current) and _can_be_split(item.base):
            assert item.current.quantity is not None and item.base.quantity is not None
            kept.append((item.current.quantity, item.current.amount, item.base.quantity, item.base.amount))
        else:
            steps["not_split"] += change
    if kept:
        expected = [_rounded(Fraction(q1 * s0, q0)) for q1, _, q0, s0 in kept]
        quantity_now, quantity_then = sum(q1 for q1, *_ in kept), sum(q0 for _, _, q0, _ in kept)
        amount_then = sum(s0 for *_, s0 in kept)
        steps["price"] = sum(s1 for _, s1, _, _ in kept) - sum(expected)
        steps["volume"] = _rounded(Fraction((quantity_now - quantity_then) * amount_then, quantity_then))
        steps["mix"] = sum(expected) - amount_then - steps["volume"]
    return steps


def _can_be_split(side: Side) -> bool:
    return side.quantity is not None and side.quantity > 0 and side.amount >= 0


def _rounded(value: Fraction) -> int:
    """Half away from zero."""
    units = (abs(value.numerator) * 2 + value.denominator) // (2 * value.denominator)
    return -units if value < 0 else units
