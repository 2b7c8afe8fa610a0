"""Difference, % change, attainment and shares of exact values, whole columns at a time (sections 8 and 9)."""

from __future__ import annotations

from typing import Literal

import numpy as np

from lofty_abacus.core.measures.exacts import Exacts, divided, minus, plus, scaled
from lofty_abacus.core.measures.table import Unit

Comparison = Literal["difference", "percent_change", "attainment"]
COMPARISONS: tuple[Comparison, ...] = ("difference", "percent_change", "attainment")
Share = Literal["share_of_all", "share_of_parent"]
SHARES: tuple[Share, ...] = ("share_of_all", "share_of_parent")


def difference(current: Exacts, base: Exacts) -> Exacts:
    """c - b; in points for percent measures. An undefined operand makes it undefined, the current value's reason first."""
    return minus(current, base)


def attainment(current: Exacts, base: Exacts, *, negative_bases: bool = False) -> Exacts:
    """c / b: `base_is_zero` where b = 0, `base_is_negative` where b < 0, unless that is divided as it is."""
    return divided(current, base, negative_too=negative_bases)


def percent_change(current: Exacts, base: Exacts, unit: Unit, *, negative_bases: bool = False) -> Exacts:
    """(c - b) / b; `not_applicable` for percent measures, whose difference in points says it."""
    if unit == "percent":
        return minus(current, base).without(np.ones(len(current), bool), "not_applicable")
    ratio = attainment(current, base, negative_bases=negative_bases)
    return Exacts(plus(ratio.top, -ratio.bottom), ratio.bottom, ratio.reason * 0, ratio.decimals).unless(ratio.reason)


def index(current: Exacts, base: Exacts, *, negative_bases: bool = False) -> Exacts:
    """100 c / b, undefined as attainment is."""
    ratio = attainment(current, base, negative_bases=negative_bases)
    return Exacts(scaled(ratio.top, 100), ratio.bottom, ratio.reason, ratio.decimals)


def share(value: Exacts, scope: Exacts) -> Exacts:
    """value / scope, same window and filters; scope 0 or below: `base_is_zero` / `base_is_negative`."""
    return divided(value, scope)
