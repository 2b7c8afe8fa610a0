"""Divide an amount in proportion to others, exactly to the last minor unit."""

from __future__ import annotations

from collections.abc import Sequence


def divided(amount: int, over: Sequence[int]) -> list[int]:
    """Parts of an amount in proportion to positive integers; they add up to it.

    Each part is rounded towards zero; what is left goes, one unit each, to the largest remainders, the first among equals.
    """
    whole = sum(over)
    if whole <= 0 or any(each < 0 for each in over):
        raise ValueError("an amount is divided over amounts that are not negative, and not all zero")
    sign = -1 if amount < 0 else 1
    parts = [abs(amount) * each // whole for each in over]
    rests = [abs(amount) * each % whole for each in over]
    for at in sorted(range(len(over)), key=lambda at: (-rests[at], at))[: abs(amount) - sum(parts)]:
        parts[at] += 1
    return [sign * part for part in parts]
