"""Lines on another of their days, and the periods of such a day as a dimension (section 1)."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from lofty_abacus.core.calendar.periods import Period, period_of
from lofty_abacus.core.calendar.settings import CalendarSettings, Grain
from lofty_abacus.core.days import day_number, day_of
from lofty_abacus.core.errors import QuestionError
from lofty_abacus.core.lines import BLANK, DAY, LAST_OFFSET, NO_DAY, DimensionColumn, LineColumns, Members, day_column
from lofty_abacus.core.saying import say
from lofty_abacus.core.segments import Segments


@dataclass(frozen=True, eq=False)
class DatedLines:
    """Lines on another day. undated: how many that count have none, and their net minor units: they are not among them."""

    segments: Segments
    undated: tuple[int, int]


def on_day(segments: Segments, day: str) -> DatedLines:
    """The lines of a version by one of their further days: as a ledger that was posted with it. Raises QuestionError."""
    found, count, minor = [], 0, 0
    for columns in segments:
        numbers = columns.day_numbers(day)
        without = np.flatnonzero((numbers == NO_DAY) & (True if columns.out is None else columns.out == 0))
        count += len(without)
        minor += sum(columns.amount[without].tolist())
        found.append(_sorted_by(columns, numbers))
    return DatedLines(Segments(tuple(found)), (count, minor))


def _sorted_by(columns: LineColumns, numbers: NDArray[np.int32]) -> LineColumns:
    has = np.flatnonzero(numbers != NO_DAY)
    order = columns.dimensions[columns.roles["order"]].codes if "order" in columns.roles else columns.line_id
    at = has[np.lexsort((columns.line_id[has], order[has], numbers[has]))]
    days = numbers[at]
    first = int(days[0]) if len(days) else 0
    if len(days) and int(days[-1]) - first > LAST_OFFSET:
        raise QuestionError(
            "day", say("its days span more than 179 years."), say("Count by another day, or correct those lines.")
        )
    usual = day_column(columns.day_numbers(DAY, at))
    taken = columns.taken(at)
    return replace(
        taken,
        first_day=first,
        day=(days - first).astype(np.uint16),
        days={**taken.days, DAY: usual},
        levels={name: level.on(taken.dimensions[level.of].codes, days) for name, level in taken.levels.items()},
    )


def with_periods(segments: Segments, periods: Sequence[tuple[str, Grain]], calendar: CalendarSettings) -> Segments:
    """The lines with a dimension more for each of some days and grains (`delivery.month`), blank where there is no such day."""
    each = list(segments)
    for day, grain in periods:
        numbers = [columns.day_numbers(day) for columns in segments]
        given = [mine[mine != NO_DAY] for mine in numbers]
        ends = [(int(mine.min()), int(mine.max())) for mine in given if len(mine)]
        found = _periods(min(first for first, _ in ends), max(last for _, last in ends), grain, calendar) if ends else []
        members = _members(found)
        starts = np.array([day_number(period.first) for period in found], np.int64)
        narrow: Any = np.min_scalar_type(len(found))
        for at, mine in enumerate(numbers):
            codes = np.where(mine == NO_DAY, BLANK, np.searchsorted(starts, mine, side="right")).astype(narrow)
            column = DimensionColumn(codes, members)
            each[at] = replace(each[at], dimensions={**each[at].dimensions, f"{day}.{grain}": column})
    return Segments(tuple(each))


def _periods(first: int, last: int, grain: Grain, calendar: CalendarSettings) -> list[Period]:
    """The periods that hold some days (day numbers), in order."""
    found = []
    while first <= last:
        period = period_of(day_of(first), grain, calendar)
        found.append(period)
        first = day_number(period.last) + 1
    return found


def _members(periods: Sequence[Period]) -> Members:
    keys: list[str | None] = ["", *(period.key for period in periods)]
    return Members(len(keys), lambda: (keys, [key or "(blank)" for key in keys]), in_time=True)
