"""The rods: each window with its beads (section 6 and the product's frame)."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from lofty_abacus.core.answer.answer import AnsweredPeriod, AnsweredWindow, Bead, Posted, cells_of
from lofty_abacus.core.answer.resolve import Resolved
from lofty_abacus.core.answer.slots import Slot
from lofty_abacus.core.calendar.periods import Period, period_of, periods_between
from lofty_abacus.core.calendar.settings import GRAINS, CalendarSettings, Grain
from lofty_abacus.core.grouping.request import Source, TotalsRequest
from lofty_abacus.core.measures.value import evaluate_all, quantities_read
from lofty_abacus.core.windows.ranges import DayRange, DaySet
from lofty_abacus.core.windows.window import Window

#: Days from which on it is told by months how much of a window is posted.
DAYS_BY_MONTH = 59
#: What the beads of a rod are, by how many days it may have.
BEADS: tuple[tuple[int, Grain], ...] = ((45, "day"), (140, "week"), (1100, "month"), (3700, "quarter"))


def _bead_grain(days: int) -> Grain:
    return next((grain for most, grain in BEADS if days <= most), "year")


def answered_windows(resolved: Resolved, source: Source) -> tuple[AnsweredWindow, ...]:
    """All windows, the current one first, with beads."""
    windows_of_all = resolved.slots[0].windows
    # All rods are cut alike, by the longest, so that their beads can be held against each other.
    longest = max((window.period.days for window in windows_of_all if window.period), default=1)
    cut = [_bead_periods(window, resolved, _bead_grain(longest)) for window in windows_of_all]
    values = iter(_bead_values(resolved, source, [(counted, at) for at, beads in enumerate(cut) for _, counted in beads]))
    windows = []
    slot = resolved.slots[0]
    for at, beads in enumerate(cut):
        counts = _day_counts(resolved, source, at, [DayRange(period.first, period.last) for period, _ in beads])
        rod = tuple(
            Bead(
                period.key,
                period.first,
                period.last,
                (period.last - period.first).days + 1,
                counted.days,
                next(values),
                *_quiet_and_late(resolved, counts, DayRange(period.first, period.last), counted),
            )
            for period, counted in beads
        )
        windows.append(_answered(slot, at, resolved, rod))
    return tuple(windows)


def _day_counts(
    resolved: Resolved, source: Source, at: int, periods: Sequence[DayRange]
) -> tuple[DayRange, NDArray[np.int64]] | None:
    """The days that a window's periods lie in, and how many lines each has; None of a plan, and where there are no periods."""
    if resolved.plan_of(at) is not None or not periods:
        return None
    whole = DayRange(min(each.first for each in periods), max(each.last for each in periods))
    return whole, source.day_counts(whole)


def _quiet_and_late(
    resolved: Resolved, known: tuple[DayRange, NDArray[np.int64]] | None, days: DayRange, counted: DaySet
) -> tuple[int, int]:
    """(counted days without a posted line, lines after the as-of date); of a plan neither is told."""
    if known is None:
        return 0, 0
    counts = known[1][_span(known[0], days)]
    quiet = sum(int((counts[_span(days, each)] == 0).sum()) for each in counted.ranges)
    after = max((resolved.as_of - days.first).days + 1, 0)
    return quiet, int(counts[after:].sum())


def _span(whole: DayRange, part: DayRange) -> slice:
    return slice((part.first - whole.first).days, (part.last - whole.first).days + 1)


def answered_periods(resolved: Resolved) -> tuple[AnsweredPeriod, ...]:
    """The periods of a series with their windows, the whole range first; none where there is no level of time."""
    if len(resolved.slots) == 1:
        return ()
    return tuple(
        AnsweredPeriod(*slot.path, tuple(_answered(slot, at, resolved, ()) for at in range(len(slot.windows))))
        for slot in resolved.slots
    )


def _answered(slot: Slot, at: int, resolved: Resolved, rod: tuple[Bead, ...]) -> AnsweredWindow:
    window, base = slot.windows[at], slot.bases[at - 1] if at else None
    return AnsweredWindow(
        key=key_of(window, slot, resolved),
        asked=window.asked,
        period=window.period,
        counted=window.counted.ranges,
        counted_days=window.counted.days,
        partly_covered=window.partly_covered,
        reason=window.reason,
        fairness=base.fairness if base else None,
        overlaps=base.overlaps if base else False,
        month_end_rule_matters=base.month_end_rule_matters if base else False,
        beads=rod,
        without_holidays=base.without_holidays if base else False,
        is_current=base.is_current if base else False,
        posted=posted_of(window),
    )


def posted_of(window: Window) -> Posted | None:
    """Of a window that coverage cuts, how many of its months (of a short one days) are posted whole (section 14)."""
    if not window.partly_covered or window.asked is None:
        return None
    if window.asked.days < DAYS_BY_MONTH:
        return Posted(window.counted.days, window.asked.days, "day")
    months = periods_between(window.asked.first, window.asked.last, "month", CalendarSettings())
    whole = 0
    for month in months:
        days = DaySet((DayRange(max(month.first, window.asked.first), min(month.last, window.asked.last)),))
        whole += days.intersect(window.counted).days == days.days
    return Posted(whole, len(months), "month") if whole else Posted(window.counted.days, window.asked.days, "day")


def key_of(window: Window, slot: Slot, resolved: Resolved) -> str | None:
    """The sortable name of the period that a window is; None where it is none of the slot's grain."""
    if window.period is None or slot.current.grain is None:
        return None
    period = period_of(window.period.first, slot.current.grain, resolved.ledger.calendar)
    return period.key if DayRange(period.first, period.last) == window.period else None


def _bead_periods(window: Window, resolved: Resolved, grain: Grain) -> list[tuple[Period, DaySet]]:
    """The periods along a rod with the counted days of each; weeks are cut at the rod's ends."""
    if window.period is None:
        return []
    finest = resolved.ledger.line_grain
    grain = max(grain, finest, key=GRAINS.index)
    found = []
    for period in periods_between(window.period.first, window.period.last, grain, resolved.ledger.calendar):
        first, last = max(period.first, window.period.first), min(period.last, window.period.last)
        inside = Period(first, last, period.grain, period.year, period.number)
        found.append((inside, window.counted.intersect(DaySet((DayRange(first, last),)))))
    return found


def _bead_values(resolved: Resolved, source: Source, beads: list[tuple[DaySet, int]]) -> list[str | None]:
    measure = resolved.metrics[0].measure
    if measure.kind != "additive" or not beads:
        return [None] * len(beads)
    windows, known_by = tuple(days for days, _ in beads), tuple(resolved.known_by(at) for _, at in beads)
    request = TotalsRequest(windows, (), resolved.filters, resolved.quantities_of(measure), known_by)
    total = source.totals(request)[0]
    values = evaluate_all(measure, [total.values[each][:, 0] for each in quantities_read(measure)], resolved.ledger.scales)
    in_plan = [resolved.plan_of(at) is not None for _, at in beads]
    return [
        cell.value if bead.days and not planned else None
        for cell, bead, planned in zip(cells_of(values), windows, in_plan, strict=True)
    ]
