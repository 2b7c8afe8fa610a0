"""Shown shares that add up: each is rounded down, and the largest remainders get one unit more (section 9)."""

from __future__ import annotations

from collections.abc import Sequence
from fractions import Fraction

from lofty_abacus.core.money import decimal_text


def adding_up(parts: Sequence[Fraction], decimals: int) -> list[str]:
    """Parts of a whole as percentages with so many decimals that add up to the rounded whole.

    Only for a complete scope without negative parts. One unit each goes to the largest remainders, the first among equals.
    """
    scale = 100 * 10**decimals
    exact = [part * scale for part in parts]
    units = [int(each) for each in exact]
    total = sum(exact, Fraction(0))
    whole = (2 * total.numerator + total.denominator) // (2 * total.denominator)
    order = sorted(range(len(parts)), key=lambda at: (units[at] - exact[at], at))
    for at in order[: max(whole - sum(units), 0)]:
        units[at] += 1
    return [decimal_text(each, decimals) for each in units]
