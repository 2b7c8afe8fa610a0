"""The periods of a series, each a window of its own with its bases (section 7); the whole range is the first slot."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field, replace
from datetime import date
from itertools import pairwise

from lofty_abacus.core.calendar.periods import Period, period_named, period_of, periods_between
from lofty_abacus.core.calendar.settings import GRAINS, CalendarSettings, Grain
from lofty_abacus.core.calendar.shifting import shift_day
from lofty_abacus.core.errors import QuestionError
from lofty_abacus.core.patience import heed
from lofty_abacus.core.saying import say
from lofty_abacus.core.statement.levels import grains_of
from lofty_abacus.core.statement.statement import Statement
from lofty_abacus.core.windows.bases import Base, BaseWindow, FixedBase, LedgerBase, PeriodBase, ShiftedBase, base_window
from lofty_abacus.core.windows.coverage import Coverage
from lofty_abacus.core.windows.current import Current, Step
from lofty_abacus.core.windows.ranges import DayRange, DaySet, day_set
from lofty_abacus.core.windows.window import Window, missing_window, window_on

MOST_SLOTS = 4000

#: Keys of periods, or positions in one, down the rows and across.
TimePath = tuple[tuple[str, ...], tuple[str, ...]]
WHOLE: TimePath = ((), ())


@dataclass(frozen=True)
class Slot:
    """One period with its bases. path: where it stands. grain: None for a range and for a position in several periods."""

    path: TimePath
    current: Current
    bases: tuple[BaseWindow, ...]

    @property
    def windows(self) -> tuple[Window, ...]:
        """The current window and the bases, in order."""
        return (self.current.window, *(base.window for base in self.bases))


@dataclass(frozen=True)
class Surroundings:
    """What all windows of a statement are resolved against."""

    as_of: date
    coverage: Coverage
    calendar: CalendarSettings
    plans: Mapping[str, Coverage] = field(default_factory=dict)

    def coverage_for(self, base: Base) -> Coverage:
        """The coverage that a base lies in: the ledger's own, or another's."""
        return self.plans[base.ledger] if isinstance(base, LedgerBase) else self.coverage


def slots_of(statement: Statement, root: Current, around: Surroundings) -> tuple[Slot, ...]:
    """The whole range first, then every period in time order, an outer one before those in it. Raises QuestionError."""
    down, across = grains_of(statement.rows), grains_of(statement.across)
    if not down and not across:
        return (Slot(WHOLE, root, _bases(statement.bases, root, around)),)
    _check(down, across)
    _check_steps(statement.bases, root, (*down, *across))
    _check_count(root, (*down, *across))
    parts = (
        _crossed(root, down, across, statement, around) if down and across else _nested(root, down or across, statement, around)
    )
    slots: list[Slot] = []
    for keys, current in parts:
        path: TimePath = keys if down and across else (keys[0], ()) if down else ((), keys[0])
        heed()
        slots.append(Slot(path, current, _bases_in_series(statement.bases, current, around)))
        if len(slots) > MOST_SLOTS:
            raise _too_many_periods()
    return (_whole(statement, root, slots, (*down, *across), around), *slots)


#: Days that a period of a grain has at most.
_LONGEST: dict[Grain, int] = {"day": 1, "week": 7, "month": 42, "quarter": 105, "half_year": 190, "year": 378}


def _check_count(root: Current, grains: tuple[Grain, ...]) -> None:
    """Refuse more periods than are shown before any is listed."""
    whole = root.window.period
    if whole is not None and any(whole.days // _LONGEST[grain] > MOST_SLOTS for grain in grains):
        raise _too_many_periods()


def _too_many_periods() -> QuestionError:
    return QuestionError(
        "window",
        say("the series has more than {most_slots:,} periods.", most_slots=MOST_SLOTS),
        say("Take a coarser level, or a shorter range."),
    )


def _check(down: tuple[Grain, ...], across: tuple[Grain, ...]) -> None:
    for part, grains in (("rows", down), ("across", across)):
        if any(GRAINS.index(a) <= GRAINS.index(b) for a, b in pairwise(grains)):
            raise QuestionError(part, say("levels of time stand from the coarsest to the finest."), say("Exchange them."))
    if down and across and (len(down) > 1 or len(across) > 1 or down == across):
        raise QuestionError(
            "across",
            say("two levels of time cross, one down and another across."),
            say("Keep one on each side, of unlike grain."),
        )


def _check_steps(bases: tuple[Base, ...], root: Current, grains: tuple[Grain, ...]) -> None:
    for at, base in enumerate(bases):
        if isinstance(base, PeriodBase) and base.unit not in ("period", "year", *grains, root.grain):
            raise QuestionError(
                f"bases[{at}]",
                say("no level of this series is made of {replace}s.", replace=base.unit.replace("_", "-")),
                say("Step by period (the previous one of each level) or by year."),
            )


def _nested(
    root: Current, grains: tuple[Grain, ...], statement: Statement, around: Surroundings
) -> Iterator[tuple[TimePath, Current]]:
    whole = root.window.period
    if whole is None:
        return

    def walk(within: DayRange, left: tuple[Grain, ...], keys: tuple[str, ...], cut: date) -> Iterator[tuple[TimePath, Current]]:
        for period in periods_between(within.first, within.last, left[0], around.calendar):
            here = (*keys, period.key)
            until = cut if keys else _cut_of(period, statement, around)
            part = DayRange(max(period.first, within.first), min(period.last, within.last))
            yield (here, ()), _part(period, part, until, around)
            if len(left) > 1:
                yield from walk(part, left[1:], here, until)

    yield from walk(whole, grains, (), date.max)


def _crossed(
    root: Current, down: tuple[Grain, ...], across: tuple[Grain, ...], statement: Statement, around: Surroundings
) -> Iterator[tuple[TimePath, Current]]:
    """Coarse periods one way, positions in them the other: (2025, 03) is March 2025, (·, 03) every March together."""
    whole = root.window.period
    if whole is None:
        return
    coarse_down = GRAINS.index(down[0]) > GRAINS.index(across[0])
    coarse, fine = (down[0], across[0]) if coarse_down else (across[0], down[0])
    positions: dict[str, list[Window]] = {}
    found: list[tuple[TimePath, Current]] = []

    def path(outer: tuple[str, ...], inner: tuple[str, ...]) -> TimePath:
        return (outer, inner) if coarse_down else (inner, outer)

    for period in periods_between(whole.first, whole.last, coarse, around.calendar):
        until = _cut_of(period, statement, around)
        part = DayRange(max(period.first, whole.first), min(period.last, whole.last))
        found.append((path((period.key,), ()), _part(period, part, until, around)))
        for at, inner in enumerate(periods_between(period.first, period.last, fine, around.calendar), start=1):
            within = DayRange(inner.first, inner.last).intersect(part)
            if within is None or (fine == "week" and inner.first < period.first):
                continue
            key = f"{at:02d}"
            current = _part(inner, within, until, around)
            positions.setdefault(key, []).append(current.window)
            found.append((path((period.key,), (key,)), current))
    for key in sorted(positions):
        found.append((path((), (key,)), Current(_together(positions[key]), None, Step(1, fine))))
    yield from found


def _part(period: Period, part: DayRange, until: date, around: Surroundings) -> Current:
    """A period's days inside the range, cut at the as-of date and at the point where all are cut."""
    whole = DayRange(period.first, period.last)
    step = Step(1, period.grain)
    if part.first > until:
        return Current(missing_window(whole, "not_applicable"), period.grain, step)
    part = DayRange(part.first, min(part.last, until))
    asked = part if part.first > around.as_of else DayRange(part.first, min(part.last, around.as_of))
    return Current(window_on(asked, whole, around.coverage, around.as_of), period.grain, step)


def _cut_of(period: Period, statement: Statement, around: Surroundings) -> date:
    """Where an outer period is cut if all are cut at the same point: as far into it as the as-of date is into the running one."""
    if statement.cut == "as_of":
        return date.max
    running = period_of(around.as_of, period.grain, around.calendar)
    if around.as_of == running.last:
        return period.last
    if period.grain in ("day", "week"):
        return date.fromordinal(around.as_of.toordinal() + (period.first - running.first).days)
    first, last = sorted((running, period))
    n = len(periods_between(first.first, last.first, period.grain, around.calendar)) - 1
    return shift_day(around.as_of, n if period.first > running.first else -n, period.grain, around.calendar)


def _together(windows: list[Window]) -> Window:
    """Several windows as one; undefined, with the first one's reason, where none has a counted day."""
    counted = day_set(each for window in windows for each in window.counted.ranges)
    reason = None if counted.ranges else windows[0].reason or "not_applicable"
    return Window(None, None, counted, any(each.partly_covered for each in windows), reason)


def _whole(statement: Statement, root: Current, slots: list[Slot], grains: tuple[Grain, ...], around: Surroundings) -> Slot:
    """The range as a whole. It compares with the range shifted once; where there is no single shift, with nothing."""
    outer = [slot for slot in slots if len(slot.path[0]) + len(slot.path[1]) == 1 and slot.current.window.period is not None]
    if statement.cut == "same_point" and len(outer) > 1:
        coarse = max(grains, key=GRAINS.index)
        whole = _together([slot.current.window for slot in outer if slot.current.grain == coarse])
        window = Window(root.window.asked, root.window.period, whole.counted, whole.partly_covered, whole.reason)
        current = replace(root, window=window)
        plans = [base_window(base, current, around.as_of, around.coverage_for(base), around.calendar, "bases")
                 if isinstance(base, LedgerBase) and base.align == "same_dates" else BaseWindow(base, _none(), None, False, False)
                 for base in statement.bases]  # fmt: skip
        return Slot(WHOLE, current, tuple(plans))
    return Slot(WHOLE, root, tuple(_base_of_whole(base, at, root, grains, around) for at, base in enumerate(statement.bases)))


def _base_of_whole(base: Base, at: int, root: Current, grains: tuple[Grain, ...], around: Surroundings) -> BaseWindow:
    shifted: Base = base
    if isinstance(base, PeriodBase) and base.unit != "year":
        steps = [grain for grain in grains if base.unit in ("period", grain)]
        if len(steps) != 1 or base.align not in ("same_dates", "same_weekdays"):
            return BaseWindow(base, _none(), None, False, False)
        back = base.day_back if steps[0] == "day" and base.day_back is not None else base.back
        shifted = ShiftedBase(back, steps[0], base.align)
    elif isinstance(base, FixedBase):
        return BaseWindow(base, _none(), None, False, False)
    found = base_window(shifted, root, around.as_of, around.coverage_for(base), around.calendar, f"bases[{at}]")
    # Every row has its own base: that the range overlaps its shift is how series are.
    return replace(found, base=base, overlaps=False)


def _bases(bases: tuple[Base, ...], current: Current, around: Surroundings) -> tuple[BaseWindow, ...]:
    return tuple(
        base_window(base, current, around.as_of, around.coverage_for(base), around.calendar, f"bases[{at}]")
        for at, base in enumerate(bases)
    )


def _bases_in_series(bases: tuple[Base, ...], current: Current, around: Surroundings) -> tuple[BaseWindow, ...]:
    """The bases of one period; a step that is another level's own does not apply to it."""
    found = []
    for at, base in enumerate(bases):
        other_level = isinstance(base, PeriodBase) and base.unit not in ("period", "year", current.grain)
        finer = isinstance(base, FixedBase) and _is_finer(base, current, around)
        if (current.window.asked is None and not isinstance(base, LedgerBase)) or other_level or finer:
            reason = current.window.reason if current.window.asked is None else None
            found.append(BaseWindow(base, missing_window(None, reason or "not_applicable"), None, False, False))
        else:
            found.append(base_window(base, current, around.as_of, around.coverage_for(base), around.calendar, f"bases[{at}]"))
    return tuple(found)


def _is_finer(base: FixedBase, current: Current, around: Surroundings) -> bool:
    named = period_named(base.period, around.calendar, "bases")
    return current.grain is not None and GRAINS.index(named.grain) < GRAINS.index(current.grain)


def _none() -> Window:
    return Window(None, None, DaySet(), False, "not_applicable")
