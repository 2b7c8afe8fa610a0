"""Goals: met or not, decided exactly (section 11)."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction
from typing import Literal

from lofty_abacus.core.measures.exacts import Value
from lofty_abacus.core.measures.table import Polarity
from lofty_abacus.core.money import decimal_parts, round_half_away
from lofty_abacus.core.windows.reasons import Reason

Direction = Literal["at_least", "at_most"]
MOST_DECIMALS = 9


@dataclass(frozen=True)
class Verdict:
    """Whether a goal is met (None: it cannot be told, for a reason). decimals: what the percentage must be shown with so that the
    rounded figure does not contradict the verdict (99.96 % missed is not shown as 100.0 %)."""

    met: bool | None
    reason: Reason | None = None
    decimals: int = 1


def direction_of(polarity: Polarity) -> Direction:
    """More is asked for where more is favourable, less where it is adverse."""
    return "at_most" if polarity == "more_is_adverse" else "at_least"


def judged(
    target: str, of: Literal["base", "figure"], direction: Direction | None, polarity: Polarity, values: Sequence[Value]
) -> Verdict:
    """Judge a goal, exactly: 100 c >= t b. values: the current one and, of a goal that is a percentage of a base, the base."""
    for value in values:
        if value.exact is None:
            return Verdict(None, value.reason)
    exact = [value.exact for value in values if value.exact is not None]
    unscaled, decimals = decimal_parts(target)
    wanted = Fraction(unscaled, 10**decimals)
    goal = wanted * exact[1] / 100 if of == "base" else wanted
    more = (direction or direction_of(polarity)) == "at_least"
    met = exact[0] >= goal if more else exact[0] <= goal
    against = exact[1] if of == "base" else wanted
    if against <= 0:
        return Verdict(met)
    percent, asked = exact[0] * 100 / against, wanted if of == "base" else Fraction(100)
    return Verdict(met, None, _decimals(percent, asked, met=met, more=more))


def _decimals(percent: Fraction, asked: Fraction, *, met: bool, more: bool) -> int:
    for decimals in range(1, MOST_DECIMALS):
        shown = Fraction(round_half_away(percent, decimals))
        if (shown >= asked if more else shown <= asked) == met:
            return decimals
    return MOST_DECIMALS
