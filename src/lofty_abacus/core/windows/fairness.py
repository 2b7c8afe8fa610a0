"""How fair a pair of windows is (section 6). Only *unequal* is a warning."""

from __future__ import annotations

from typing import Literal

from lofty_abacus.core.windows.alignment import Aligned
from lofty_abacus.core.windows.window import Window

Fairness = Literal["equal_days", "equal_working_days", "whole_periods", "same_dates", "unequal"]


def fairness_of(current: Window, base: Window, how: Aligned, *, same_grain: bool = True) -> Fairness:
    """The first that holds of: equal days; equal working days; whole periods; same dates; unequal.

    how: the alignment that gave the base. same_grain: whether the two are of one grain, where both are whole periods.
    """
    complete = _complete(current) and _complete(base)
    if current.counted.days == base.counted.days:
        return "equal_days"
    if how.equal_working_days and complete:
        return "equal_working_days"
    if current.is_whole and base.is_whole and same_grain:
        return "whole_periods"
    if complete and how.is_shift and current.is_whole == base.is_whole:
        return "same_dates"
    return "unequal"


def _complete(window: Window) -> bool:
    """Whether every asked day counts: neither coverage nor the as-of date cuts it."""
    return window.asked is not None and window.counted.days == window.asked.days
