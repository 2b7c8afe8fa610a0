"""From a checked statement to windows, filters by code, columns, and the quantities to be read."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field, replace
from datetime import date

from propcache.api import cached_property

from lofty_abacus.core.answer.columns import ColumnRecipe, Metric, columns_of
from lofty_abacus.core.answer.filtering import Filtering, codes_like, periods_read
from lofty_abacus.core.answer.slots import Slot, Surroundings, TimePath, slots_of
from lofty_abacus.core.calendar.settings import GRAINS, Grain
from lofty_abacus.core.days import day_number
from lofty_abacus.core.errors import QuestionError, nearest
from lofty_abacus.core.grouping.request import Filter, LineConventions, MemberFilter, Source, Spread
from lofty_abacus.core.measures.sums import DistinctIds, LineSum, Quantity, Side
from lofty_abacus.core.measures.table import Measure
from lofty_abacus.core.measures.value import given_counts
from lofty_abacus.core.name_order import PLAIN, NameOrder
from lofty_abacus.core.saying import say
from lofty_abacus.core.statement.checking import check_statement, unavailable
from lofty_abacus.core.statement.conditions import TextLike
from lofty_abacus.core.statement.ledger import LedgerFacts
from lofty_abacus.core.statement.levels import dimensions_of, grains_of, period_level
from lofty_abacus.core.statement.statement import Statement
from lofty_abacus.core.windows.as_of import as_of_day
from lofty_abacus.core.windows.bases import BaseWindow, LedgerBase
from lofty_abacus.core.windows.coverage import Coverage, coverage_of
from lofty_abacus.core.windows.current import Dates, current_window
from lofty_abacus.core.windows.ranges import DayRange
from lofty_abacus.core.windows.stretches import Along, RunningTotal, StretchWindow, last_period, stretch_of
from lofty_abacus.core.windows.window import Window, missing_window, window_on


@dataclass(frozen=True)
class Plan:
    """Another ledger as it is compared with: its facts, its lines by day, and the statement's filters in its codes."""

    ledger: LedgerFacts
    source: Source
    coverage: Coverage
    filters: tuple[MemberFilter, ...]

    def known(self, quantities: frozenset[Quantity]) -> frozenset[Quantity]:
        """Those of some quantities that its lines have the columns of."""
        return frozenset(each for each in quantities if self._has(each))

    def _has(self, quantity: Quantity) -> bool:
        if isinstance(quantity, DistinctIds):
            return self.ledger.with_role(quantity.role) is not None
        return {quantity.column, *quantity.given} - {"amount", "lines"} <= self.ledger.has


#: Ledgers by name, for statements that are compared with others.
OtherLedgers = Mapping[str, tuple[LedgerFacts, Source]]


@dataclass(frozen=True)
class Resolved:
    """A statement made definite for one ledger version and one today. source: the lines, read as the statement says.
    names: the order in which its reader expects names.

    slots: the whole range, then its periods. alongs: what figures run along, first None for the periods' own.
    """

    statement: Statement
    ledger: LedgerFacts
    source: Source
    as_of: date
    today: date
    coverage: Coverage
    slots: tuple[Slot, ...]
    alongs: tuple[Along | None, ...]
    filters: tuple[Filter, ...]
    metrics: tuple[Metric, ...]
    columns: tuple[ColumnRecipe, ...]
    quantities: frozenset[Quantity]
    plans: Mapping[str, Plan] = field(default_factory=dict)
    names: NameOrder = PLAIN

    def plan_of(self, window: int) -> Plan | None:
        """The other ledger that a window is counted in, if it is a plan's."""
        base = 0 if window == self.ever else window % (len(self.statement.bases) + 1)
        of = self.statement.bases[base - 1] if base else None
        return self.plans.get(of.ledger) if isinstance(of, LedgerBase) else None

    @property
    def current(self) -> Window:
        """The current window of the whole range."""
        return self.slots[0].current.window

    @property
    def bases(self) -> tuple[BaseWindow, ...]:
        """The bases of the whole range."""
        return self.slots[0].bases

    @cached_property
    def rows(self) -> tuple[str, ...]:
        """The dimensions down the rows."""
        return dimensions_of(self.statement.rows)

    @cached_property
    def across(self) -> tuple[str, ...]:
        """The dimensions across."""
        return dimensions_of(self.statement.across)

    @cached_property
    def slot_at(self) -> Mapping[TimePath, int]:
        """Slots by where they stand."""
        return {slot.path: at for at, slot in enumerate(self.slots)}

    def window_at(self, slot: int, along: int, window: int) -> int:
        """The place of a window among `stretches`: of a slot, what runs along it, and which base (0: current)."""
        per_slot = len(self.alongs) * (len(self.statement.bases) + 1)
        return slot * per_slot + along * (len(self.statement.bases) + 1) + window

    @cached_property
    def stretches(self) -> tuple[StretchWindow, ...]:
        """All windows, by slot, then by what runs along, then current and bases."""
        found: list[StretchWindow] = []
        starts = [window.asked.first if window.asked else None for window in self.slots[0].windows]
        for at, slot in enumerate(self.slots):
            grain = slot.current.grain if at else None
            for along in self.alongs:
                for number, (window, start) in enumerate(zip(slot.windows, starts, strict=True)):
                    found.append(StretchWindow(window) if along is None else self._stretch(along, at, number, grain, start))
        if self._reads_ever:
            span = self.coverage.span
            days = None if span is None or span.first > self.as_of else DayRange(span.first, min(span.last, self.as_of))
            missing = missing_window(None, "not_posted")
            found.append(StretchWindow(missing if days is None else window_on(days, None, self.coverage, self.as_of)))
        return tuple(found)

    @cached_property
    def ever(self) -> int:
        """The place of the window of all that is posted up to the as-of date; -1 where no share is of it."""
        return len(self.slots) * len(self.alongs) * (len(self.statement.bases) + 1) if self._reads_ever else -1

    @cached_property
    def _reads_ever(self) -> bool:
        return any(scope.period == "ever" for shown in self.statement.measures for scope in shown.shares)

    def _stretch(self, along: Along, slot: int, number: int, grain: Grain | None, start: date | None) -> StretchWindow:
        window, plan = self.slots[slot].windows[number], self.plan_of(number)
        calendar = self.ledger.calendar
        if along.by is not None and not grains_of((*self.statement.rows, *self.statement.across)):
            # No level of time says what it runs along: it ends with the period of the window's last day.
            window, grain = last_period(window, along.by, calendar), along.by
        if plan is None:
            return stretch_of(along, window, grain, start, self.as_of, self.coverage, calendar)
        return stretch_of(along, window, grain, start, date.max, plan.coverage, calendar)

    @cached_property
    def windows(self) -> tuple[Window, ...]:
        """The windows of `stretches`; the first are the current window and the bases of the whole range."""
        return tuple(each.window for each in self.stretches)

    def known_by(self, window: int) -> int | None:
        """The day number by which a return must have come back to count in a window: *same time for returns* (section 1).

        The base's returns get as long after its last day as those of the current window had until the as-of date.
        """
        if window == self.ever:
            return None
        statement, of_base = self.statement, window % (len(self.statement.bases) + 1)
        current, base = self.windows[window - of_base].asked, self.windows[window].asked
        if self.plan_of(window) is not None:
            return None
        if not of_base or statement.returns != "sale_day" or statement.returns_within != "same_time" or not current or not base:
            return None
        return min(day_number(self.as_of), day_number(base.last) + (self.as_of - current.last).days)

    def quantities_of(self, measure: Measure) -> frozenset[Quantity]:
        """What must be read to evaluate one measure."""
        return _quantities([measure])


def resolve(
    statement: Statement,
    ledger: LedgerFacts,
    source: Source,
    today: date,
    others: OtherLedgers | None = None,
    names: NameOrder = PLAIN,
) -> Resolved:
    """Check a statement and make it definite. others: the ledgers that its bases name; names: the order of its reader's.

    Raises QuestionError.
    """
    ledger = ledger.counted_by(statement.day)
    known = ledger.measures(statement.defined)
    check_statement(statement, ledger, known)
    alongs: tuple[Along | None, ...] = tuple(dict.fromkeys([None, *(shown.along for shown in statement.measures)]))
    metrics = tuple(Metric(shown, known[shown.measure], alongs.index(shown.along)) for shown in statement.measures)
    measures = [metric.measure for metric in metrics]
    coverage = coverage_of(ledger.feeds, _sides(measures))
    as_of = as_of_day(statement.as_of, coverage, today, ledger.line_grain, ledger.calendar)
    if statement.feeds_end == "earliest" and coverage.feeds:
        as_of = min(as_of, *(each.days.last for each in coverage.feeds))
    how = LineConventions(
        day_number(as_of),
        statement.levels,
        statement.returns,
        statement.refunds,
        day=statement.day,
        periods=periods_read(statement, ledger),
        calendar=ledger.calendar,
    )
    source = source.read_by(how)
    root = current_window(statement.window, as_of, coverage, ledger.calendar)
    _check_covered(statement, root.window, coverage)
    plans = plans_of(statement, ledger, others or {}, measures, as_of)
    covered = {name: plan.coverage for name, plan in plans.items()}
    slots = slots_of(statement, root, Surroundings(as_of, coverage, ledger.calendar, covered))
    filters = Filtering(ledger, source, as_of, coverage).filters(statement)
    columns = columns_of(statement, metrics)
    _check_resets(statement)
    for part, column in _columns_named(statement):
        if column not in {each.id for each in columns}:
            raise QuestionError(
                part, say("no column is {column!r}.", column=column), nearest(column, [each.id for each in columns])
            )
    quantities = _quantities(measures) | _for_splitting(columns)
    return Resolved(
        statement, ledger, source, as_of, today, coverage, slots, alongs, filters, metrics, columns, quantities, plans, names
    )


def plans_of(
    statement: Statement, ledger: LedgerFacts, others: OtherLedgers, measures: list[Measure], as_of: date
) -> Mapping[str, Plan]:
    """The ledgers that the bases name, ready to be added up. Raises QuestionError where one cannot be compared with."""
    found: dict[str, Plan] = {}
    for at, base in enumerate(statement.bases):
        if not isinstance(base, LedgerBase):
            continue
        part = f"bases[{at}]"
        if base.ledger not in others:
            raise QuestionError(part, say("there is no ledger {ledger!r}.", ledger=base.ledger), nearest(base.ledger, others))
        facts, source = others[base.ledger]
        if facts.currency != ledger.currency:
            raise QuestionError(
                part,
                say("{ledger} is kept in {currency}.", ledger=base.ledger, currency=facts.currency),
                say("Compare with a ledger in {currency}.", currency=ledger.currency),
            )
        for name in (*dimensions_of((*statement.rows, *statement.across)), *(each.dimension for each in statement.filters)):
            if facts.dimension(name) is None:
                raise QuestionError(
                    part,
                    say("{ledger} has no {name!r}.", ledger=base.ledger, name=name),
                    say("Take it out of the rows and filters, or plan by it."),
                )
        # A measure that is not held against this base need not be known there.
        compared = [
            measure
            for measure, shown in zip(measures, statement.measures, strict=True)
            if shown.bases is None or at + 1 in shown.bases
        ]
        for measure in compared:
            lacking = unavailable(measure, facts)
            if lacking:
                raise QuestionError(
                    part,
                    say("{ledger} cannot give {name}: {lacking}.", ledger=base.ledger, name=measure.name, lacking=lacking),
                    say("Compare other measures with it."),
                )
        # Periods are the plan's own; one statement has one set of working days, its ledger's.
        worked, free = ledger.calendar.working_weekdays, ledger.calendar.holidays
        calendar = replace(facts.calendar, working_weekdays=worked, holidays=free)
        spread = Spread(facts.line_grain, calendar, base.spread == "working_days") if facts.line_grain != "day" else None
        how = LineConventions(
            day_number(as_of),
            statement.levels,
            spread=spread,
            periods=periods_read(statement, facts),
            calendar=ledger.calendar,
        )
        source = source.read_by(how)
        filters = _plan_filters(statement, facts, source, part)
        found[base.ledger] = Plan(facts, source, coverage_of(facts.feeds, _sides(compared or measures)), filters)
    return found


_NO_LINES = (
    "the lines of a plan are held to no condition on their figures and days: they stand for many lines.",
    "Take the condition away, or compare with a period.",
)


def _plan_filters(statement: Statement, facts: LedgerFacts, source: Source, part: str) -> tuple[MemberFilter, ...]:
    """A statement's filters in the codes of a plan, of the members that it knows. Raises QuestionError."""
    found = []
    for each in statement.filters:
        if period_level(each.dimension, facts.day_names) is not None:
            raise QuestionError(part, *_NO_LINES)
        members = source.members(each.dimension)
        named = frozenset(members.codes[key] for key in each.members if key in members.codes)
        found.append(MemberFilter(each.dimension, frozenset(range(members.size)) - named if each.exclude else named))
    for condition in statement.conditions:
        if not isinstance(condition, TextLike):
            raise QuestionError(part, *_NO_LINES)
        if facts.dimension(condition.dimension) is None:
            missing = say("{ledger} has no {name!r}.", ledger=facts.name, name=condition.dimension)
            raise QuestionError(part, missing, say("Take the condition away, or compare with a period."))
        members = source.members(condition.dimension)
        codes = codes_like(members, condition)
        left = frozenset(range(members.size)) - codes if condition.exclude else codes
        found.append(MemberFilter(condition.dimension, left))
    return tuple(found)


def _columns_named(statement: Statement) -> Iterable[tuple[str, str]]:
    """(part, column) of every place where a statement names one of its columns; those across are told by what follows '@'."""
    if statement.sort:
        yield "sort", statement.sort.column.split("@")[0]
    for at, limit in enumerate(statement.limits):
        if limit.kind in ("top", "value"):
            yield f"limits[{at}]", limit.column.split("@")[0]


def _check_covered(statement: Statement, window: Window, coverage: Coverage) -> None:
    """Two dates that were written down and lie outside all that is posted are a slip; periods that move by themselves are not."""
    if isinstance(statement.window, Dates) and window.reason in ("before_coverage", "after_coverage") and coverage.span:
        first, last = coverage.span.first.isoformat(), coverage.span.last.isoformat()
        raise QuestionError(
            "window", say("none of these days is posted."), say("Choose days from {first} to {last}.", first=first, last=last)
        )


def _check_resets(statement: Statement) -> None:
    grains = (*grains_of(statement.rows), *grains_of(statement.across))
    for at, shown in enumerate(statement.measures):
        if isinstance(shown.along, RunningTotal) and shown.along.reset is not None:
            finest = min(grains or (shown.along.by or "day",), key=GRAINS.index)
            if GRAINS.index(shown.along.reset) < GRAINS.index(finest):
                raise QuestionError(
                    f"measures[{at}]",
                    say(
                        "a running total of {replace}s cannot be reset each {replace2}.",
                        replace=finest.replace("_", "-"),
                        replace2=shown.along.reset.replace("_", "-"),
                    ),
                    say("Reset it by {replace} or more, or show finer periods.", replace=finest.replace("_", "-")),
                )


def _sides(measures: list[Measure]) -> frozenset[str]:
    """Which lines the measures read: sale lines, return lines or both; distinct counts read sale lines."""
    sides: set[str] = set()
    for quantity in (each for measure in measures for each in measure.quantities):
        side = quantity.side if isinstance(quantity, LineSum) else "sale"
        sides |= {"sale", "return"} if side == "all" else {side}
    return frozenset(sides)


def _quantities(measures: list[Measure]) -> frozenset[Quantity]:
    """All that is read: proof shows an all-lines sum as its sales less its returns, so both sides are kept."""
    read: set[Quantity] = set()
    for measure in measures:
        for each in measure.quantities:
            sides: tuple[Side, ...] = ("all", "sale", "return")
            read.update([each] if isinstance(each, DistinctIds) else [replace(each, side=side) for side in sides])
        for part in (measure, *measure.parts):
            for pair in given_counts(part):
                read.update(pair)
    return frozenset(read | {LineSum("amount", "all"), LineSum("lines", "all"), LineSum("lines", "sale")})


def _for_splitting(columns: tuple[ColumnRecipe, ...]) -> frozenset[Quantity]:
    """Quantities, and how many lines have one, where price, volume and mix are shown."""
    if not any(column.kind == "price_volume_mix" for column in columns):
        return frozenset()
    sides: tuple[Side, ...] = ("all", "sale")
    return frozenset(LineSum(column, side, ("quantity",)) for column in ("quantity", "lines") for side in sides)
