"""Difference, % change, attainment and shares of exact values."""

from __future__ import annotations

from typing import Literal

from lofty_abacus.core.measures.table import Unit
from lofty_abacus.core.measures.value import Value, undefined

Comparison = Literal["difference", "percent_change", "attainment"]
COMPARISONS: tuple[Comparison, ...] = ("difference", "percent_change", "attainment")
Share = Literal["share_of_all", "share_of_parent"]
SHARES: tuple[Share, ...] = ("share_of_all", "share_of_parent")


def difference(current: Value, base: Value) -> Value:
    """c - b; in points for percent measures. An undefined operand makes it undefined, the current value's reason first."""
    if current.exact is None or base.exact is None:
        return _first_reason(current, base)
    decimals = None
    if current.decimals is not None and base.decimals is not None:
        decimals = max(current.decimals, base.decimals)
    return Value(current.exact - base.exact, None, decimals)


def attainment(current: Value, base: Value, *, divided: bool = False) -> Value:
    """c / b: `base_is_zero` where b = 0, `base_is_negative` where b < 0, unless that is divided as it is."""
    if current.exact is None or base.exact is None:
        return _first_reason(current, base)
    if base.exact == 0:
        return undefined("base_is_zero")
    if base.exact < 0 and not divided:
        return undefined("base_is_negative")
    return Value(current.exact / base.exact)


def percent_change(current: Value, base: Value, unit: Unit, *, divided: bool = False) -> Value:
    """(c - b) / b; `not_applicable` for percent measures, whose difference in points says it."""
    if current.exact is None or base.exact is None:
        return _first_reason(current, base)
    if unit == "percent":
        return undefined("not_applicable")
    ratio = attainment(current, base, divided=divided)
    return ratio if ratio.exact is None else Value(ratio.exact - 1)


def share(value: Value, scope: Value) -> Value:
    """value / scope, same window and filters; scope 0 or below: `base_is_zero` / `base_is_negative`."""
    return attainment(value, scope)


def _first_reason(current: Value, base: Value) -> Value:
    return Value(None, current.reason or base.reason)
