"""Lines that stand for whole periods, spread over their days: any window then has an exact plan (section 11)."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from lofty_abacus.core.calendar.periods import period_of
from lofty_abacus.core.calendar.settings import CalendarSettings, Grain
from lofty_abacus.core.calendar.working_days import is_working_day
from lofty_abacus.core.days import add_days, day_number, day_of
from lofty_abacus.core.lines import LineColumns


def spread_over_days(columns: LineColumns, grain: Grain, calendar: CalendarSettings, *, working: bool) -> LineColumns:
    """Every line as one line per day of its period: amounts, quantities and costs divided evenly in minor units, the remainder
    one unit each to the first days. working: over working days only, where the period has any."""
    days = columns.day.astype(np.int64) + columns.first_day
    different, period_at = np.unique(days, return_inverse=True)
    spans = [_days_of(int(day), grain, calendar, working=working) for day in different.tolist()]
    counts = np.array([len(span) for span in spans], np.int64)[period_at] if len(days) else np.zeros(0, np.int64)
    line = np.repeat(np.arange(len(days)), counts)
    place = np.arange(len(line)) - np.repeat(np.cumsum(counts) - counts, counts)
    starts = np.concatenate(([0], np.cumsum([len(span) for span in spans])))[:-1].astype(np.int64)
    every = np.concatenate(spans) if spans else np.zeros(0, np.int64)
    on = every[starts[period_at][line] + place] if len(line) else np.zeros(0, np.int64)
    order = np.argsort(on, kind="stable")
    line, place, on = line[order], place[order], on[order]
    first = int(on[0]) if len(on) else columns.first_day

    def divided(values: NDArray[np.int64]) -> NDArray[np.int64]:
        return _part(values[line], counts[line], place)

    taken = columns.taken(line)
    dimensions = taken.dimensions
    numbers: Any = on.astype(np.int32)
    return replace(
        taken,
        first_day=first,
        day=(on - first).astype(np.uint16),
        amount=divided(columns.amount),
        figures={name: replace(each, values=divided(columns.figures[name].values)) for name, each in taken.figures.items()},
        levels={name: level.on(dimensions[level.of].codes, numbers) for name, level in columns.levels.items()},
    )


def _part(values: NDArray[np.int64], counts: NDArray[np.int64], place: NDArray[np.int64]) -> NDArray[np.int64]:
    """The part of each value that falls on its day number `place`: the whole units, and one of the rest for the first days."""
    size = np.abs(values)
    whole, left = size // counts, size % counts
    return np.asarray(np.sign(values) * (whole + (place < left)), np.int64)


def _days_of(day: int, grain: Grain, calendar: CalendarSettings, *, working: bool) -> NDArray[np.int64]:
    period = period_of(day_of(day), grain, calendar)
    every = [add_days(period.first, n) for n in range((period.last - period.first).days + 1)]
    worked = [each for each in every if is_working_day(each, calendar)] if working else []
    return np.array([day_number(each) for each in worked or every], np.int64)
