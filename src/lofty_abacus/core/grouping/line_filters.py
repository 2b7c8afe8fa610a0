"""Which lines hold a condition on what stands on them: a figure, a day (section 1)."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from lofty_abacus.core.grouping.request import DayFilter, DayOrderFilter, FigureFilter, GivenFilter, LineFilter
from lofty_abacus.core.lines import NO_DAY, LineColumns


class HeldLines:
    """The lines of a segment that hold a condition."""

    def __init__(self, columns: LineColumns, condition: LineFilter) -> None:
        self._columns, self._condition = columns, condition

    def keeps(self, lines: slice | NDArray[np.int64]) -> NDArray[np.bool_]:
        """Which of some lines hold it: bool[lines]."""
        match self._condition:
            case FigureFilter():
                return self._between(self._condition, lines)
            case GivenFilter(figure, given):
                return np.asarray(self._has(figure, lines) == given)
            case DayFilter(day, stretches, blank, exclude):
                days = self._columns.day_numbers(day, lines)
                held = (days == NO_DAY) & blank
                for first, last in stretches:
                    held |= (days >= first) & (days <= last) & (days != NO_DAY)
                return np.asarray(held != exclude)
            case DayOrderFilter(day, relation, other, blank):
                mine, others = (self._columns.day_numbers(each, lines) for each in (day, other))
                held = {"before": mine < others, "on": mine == others, "after": mine > others}[relation]
                return np.asarray((held & (mine != NO_DAY) & (others != NO_DAY)) | ((mine == NO_DAY) & blank))

    def _between(self, condition: FigureFilter, lines: slice | NDArray[np.int64]) -> NDArray[np.bool_]:
        values = self._columns.values(condition.figure)[lines]
        held = self._has(condition.figure, lines)
        if condition.least is not None:
            held &= values >= condition.least
        if condition.most is not None:
            held &= values <= condition.most
        return held

    def _has(self, figure: str, lines: slice | NDArray[np.int64]) -> NDArray[np.bool_]:
        flags = self._columns.missing(figure)
        if flags is None:
            return np.ones(len(self._columns.side[lines]), bool)
        return np.asarray(flags[lines] == 0)
