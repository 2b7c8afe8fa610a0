"""The rods: each window with its beads (section 6 and the product's frame)."""

from __future__ import annotations

from lofty_abacus.core.answer.answer import AnsweredWindow, Bead, sum_text
from lofty_abacus.core.answer.resolve import Resolved
from lofty_abacus.core.calendar.periods import Period, period_of, periods_between
from lofty_abacus.core.calendar.settings import GRAINS, Grain
from lofty_abacus.core.grouping.request import Source, TotalsRequest
from lofty_abacus.core.measures.table import MEASURES
from lofty_abacus.core.measures.value import evaluate, quantities_read
from lofty_abacus.core.windows.ranges import DayRange, DaySet
from lofty_abacus.core.windows.window import Window

#: What the beads of a rod are, by the grain of the window.
BEAD_GRAIN: dict[str, Grain] = {"year": "month", "half_year": "month", "quarter": "week", "month": "day", "week": "day"}


def answered_windows(resolved: Resolved, source: Source) -> tuple[AnsweredWindow, ...]:
    """All windows, the current one first, with beads."""
    cut = [_bead_periods(window, resolved) for window in resolved.windows]
    values = iter(_bead_values(resolved, source, [counted for beads in cut for _, counted in beads]))
    windows = []
    for at, (window, beads) in enumerate(zip(resolved.windows, cut, strict=True)):
        base = resolved.bases[at - 1] if at else None
        windows.append(
            AnsweredWindow(
                key=_key(window, resolved),
                asked=window.asked,
                period=window.period,
                counted=window.counted.ranges,
                counted_days=window.counted.days,
                partly_covered=window.partly_covered,
                reason=window.reason,
                fairness=base.fairness if base else None,
                overlaps=base.overlaps if base else False,
                month_end_rule_matters=base.month_end_rule_matters if base else False,
                beads=tuple(
                    Bead(
                        period.key,
                        period.first,
                        period.last,
                        (period.last - period.first).days + 1,
                        counted.days,
                        next(values),
                    )
                    for period, counted in beads
                ),
            )
        )
    return tuple(windows)


def _key(window: Window, resolved: Resolved) -> str | None:
    if window.period is None:
        return None
    return period_of(window.period.first, resolved.statement.window.grain, resolved.ledger.calendar).key


def _bead_periods(window: Window, resolved: Resolved) -> list[tuple[Period, DaySet]]:
    """The periods along a rod with the counted days of each; weeks are cut at the rod's ends."""
    if window.period is None:
        return []
    finest = resolved.ledger.line_grain
    grain = max(BEAD_GRAIN[resolved.statement.window.grain], finest, key=GRAINS.index)
    found = []
    for period in periods_between(window.period.first, window.period.last, grain, resolved.ledger.calendar):
        first, last = max(period.first, window.period.first), min(period.last, window.period.last)
        inside = Period(first, last, period.grain, period.year, period.number)
        found.append((inside, window.counted.intersect(DaySet((DayRange(first, last),)))))
    return found


def _bead_values(resolved: Resolved, source: Source, beads: list[DaySet]) -> list[str | None]:
    measure = MEASURES[resolved.statement.measures[0].measure]
    if measure.kind != "additive" or not beads:
        return [None] * len(beads)
    request = TotalsRequest(tuple(beads), (), resolved.filters, resolved.quantities_of(measure))
    total = source.totals(request)[0]
    texts: list[str | None] = []
    for at, bead in enumerate(beads):
        value = evaluate(measure, total.integers(quantities_read(measure), at, 0), resolved.ledger.scales)
        shown = bead.days and value.exact is not None and value.decimals is not None
        texts.append(sum_text(value.exact, value.decimals) if shown else None)  # type: ignore[arg-type]
    return texts
