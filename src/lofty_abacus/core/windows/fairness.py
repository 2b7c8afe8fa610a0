"""How fair a pair of windows is (section 6). Only *unequal* is a warning."""

from __future__ import annotations

from typing import Literal

from lofty_abacus.core.windows.window import Window

Fairness = Literal["equal_days", "whole_periods", "same_dates", "unequal"]


def fairness_of(current: Window, base: Window, *, day_cut: bool) -> Fairness:
    """The first that holds of: equal days; whole periods; same dates; unequal.

    day_cut: whether the shift cut a day number (30 March to 28 February).
    """
    if current.counted.days == base.counted.days:
        return "equal_days"
    if current.is_whole and base.is_whole:
        return "whole_periods"
    complete = _complete(current) and _complete(base)
    if complete and not day_cut and current.is_whole == base.is_whole:
        return "same_dates"
    return "unequal"


def _complete(window: Window) -> bool:
    """Whether every asked day counts: neither coverage nor the as-of date cuts it."""
    return window.asked is not None and window.counted.days == window.asked.days
