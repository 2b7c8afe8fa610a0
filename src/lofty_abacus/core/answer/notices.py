"""What was left out and why, in numbers: the notice line (sections 1, 4, 5)."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import date

from lofty_abacus.core.answer.answer import Notice
from lofty_abacus.core.answer.evaluation import TOTAL, Evaluation
from lofty_abacus.core.answer.resolve import Resolved
from lofty_abacus.core.answer.rows import names_left_out
from lofty_abacus.core.days import add_days, day_number, day_of
from lofty_abacus.core.grouping.request import Filter, LevelTotals, LineConventions, MemberFilter, Source, TotalsRequest
from lofty_abacus.core.lines import BLANK
from lofty_abacus.core.measures.sums import DistinctIds, LineSum
from lofty_abacus.core.measures.value import given_counts
from lofty_abacus.core.money import decimal_text
from lofty_abacus.core.windows.ranges import EMPTY, DayRange, DaySet

_LINES, _NET = LineSum("lines", "all"), LineSum("amount", "all")
_RETURNS, _RETURN_LINES = LineSum("amount", "return"), LineSum("lines", "return")
MOST_NAMES = 5
_EVER = DaySet((DayRange(date.min, date.max),))


@dataclass(frozen=True)
class Posted:
    """All posted lines of the version: their number and net amount in minor units."""

    lines: int
    amount: int


def notices_of(evaluation: Evaluation, source: Source) -> tuple[Posted, tuple[Notice, ...]]:
    """The posted lines as a whole, and every notice, in the order in which they are read out."""
    resolved = evaluation.resolved
    counted = resolved.current.counted
    after_as_of = _since(add_days(resolved.as_of, 1))
    after_today = _since(add_days(max(resolved.today, resolved.as_of), 1))
    # On the day by which the statement counts; what lacks it is told by itself.
    dated = source.read_by(LineConventions(day_number(resolved.as_of), day=resolved.statement.day))
    undated = resolved.source.undated
    windows = (_EVER, after_as_of, after_today)
    if dated is resolved.source:
        # Lines that are read in one way only are gone through once.
        every = _totals(dated, (*windows, counted), ())
        unfiltered, own = every, len(windows)
    else:
        every, unfiltered, own = _totals(dated, windows, ()), _totals(resolved.source, (counted,), ()), 0
    filtered, mine = (_totals(resolved.source, (counted,), resolved.filters), 0) if resolved.filters else (unfiltered, own)
    posted = Posted(_number(every, _LINES, 0) + undated[0], _number(every, _NET, 0) + undated[1])

    def notice(lines: int, amount: int) -> Notice:
        return Notice("filtered_out", lines, decimal_text(amount, resolved.ledger.scales.amount))

    found = [
        replace(notice(_number(every, _LINES, 1), _number(every, _NET, 1)), code="after_as_of"),
        replace(notice(_number(every, _LINES, 2), _number(every, _NET, 2)), code="after_today"),
        replace(notice(*undated), code="undated", about=resolved.statement.day),
        replace(notice(_number(filtered, _RETURN_LINES, mine), _number(filtered, _RETURNS, mine)), code="returns_netted"),
        notice(
            _number(unfiltered, _LINES, own) - _number(filtered, _LINES, mine),
            _number(unfiltered, _NET, own) - _number(filtered, _NET, mine),
        ),
        *_lacking(evaluation),
        *_blank_ids(evaluation, resolved.source),
    ]
    return posted, (
        *(each for each in found if each.lines),
        *_of_reading(resolved),
        *_of_windows(resolved),
        *_of_shares(resolved),
        *_of_feeds(resolved),
        *_of_plans(evaluation),
    )


def _since(first: date) -> DaySet:
    return DaySet((DayRange(first, date.max),)) if first < date.max else EMPTY


def _totals(source: Source, windows: tuple[DaySet, ...], filters: tuple[Filter, ...]) -> LevelTotals:
    return source.totals(TotalsRequest(windows, (), filters, frozenset({_LINES, _NET, _RETURNS, _RETURN_LINES})))[0]


def _number(totals: LevelTotals, quantity: LineSum, window: int) -> int:
    return int(totals.values[quantity][window, 0])


def _lacking(evaluation: Evaluation) -> list[Notice]:
    """Lines of the current window that a measure leaves out because they have no cost or quantity."""
    found = []
    for metric in evaluation.resolved.metrics:
        pairs = [pair for one in (metric.measure, *metric.measure.parts) for pair in given_counts(one)]
        if pairs:
            having, every = pairs[0]
            left = evaluation.quantity(TOTAL, every, 0) - evaluation.quantity(TOTAL, having, 0)
            found.append(Notice("lacking", left, about=metric.measure.name))
    return list(dict.fromkeys(found))


def left_out_by_status(every: Evaluation, limited: Evaluation) -> list[Notice]:
    """The lines of the current window that rows of another status have, with the first of their names (section 8)."""
    names = [name for kept in limited.kept for name in names_left_out(every, kept, MOST_NAMES + 1)]
    if not names:
        return []
    lines, minor = (every.quantity(TOTAL, each, 0) - limited.quantity(TOTAL, each, 0) for each in (_LINES, _NET))
    about = ", ".join(names[:MOST_NAMES]) + (", ..." if len(names) > MOST_NAMES else "")
    return [Notice("status_left_out", lines, decimal_text(minor, every.resolved.ledger.scales.amount), about)]


def _blank_ids(evaluation: Evaluation, source: Source) -> list[Notice]:
    """Sale lines of the current window whose id is blank, for each kind of id that a shown measure counts."""
    resolved = evaluation.resolved
    roles = {each.role for each in resolved.quantities if isinstance(each, DistinctIds)}
    sale_lines = LineSum("lines", "sale")
    found = []
    for role in sorted(roles):
        dimension = resolved.ledger.with_role(role)
        assert dimension is not None, "checked with the statement"
        blank = MemberFilter(dimension.name, frozenset({BLANK}))
        request = TotalsRequest((resolved.current.counted,), (), (*resolved.filters, blank), frozenset({sale_lines}))
        found.append(Notice("blank_ids", _number(source.totals(request)[0], sale_lines, 0), about=role))
    return found


def _of_reading(resolved: Resolved) -> list[Notice]:
    """Returns that stay on their own day though read on the day of the sale; levels read as they are now."""
    found = []
    lines, minor = resolved.source.unplaced
    if lines:
        found.append(Notice("returns_unplaced", lines, decimal_text(minor, resolved.ledger.scales.amount)))
    found += _still_open(resolved)
    found += _same_time(resolved)
    if resolved.statement.levels == "as_it_is_now":
        found.append(Notice("levels_as_now", about=resolved.as_of.isoformat()))
    return found


def _still_open(resolved: Resolved) -> list[Notice]:
    """Bases whose returns had longer to come back than those of the current window: *returns still open* (section 1)."""
    if resolved.statement.returns != "sale_day" or resolved.statement.returns_within == "same_time":
        return []
    current = resolved.current.counted.ranges
    return [
        Notice("returns_open", window=at)
        for at, window in enumerate(resolved.slots[0].windows)
        if at and current and window.counted.ranges and window.counted.ranges[-1].last < current[-1].last
    ]


def _same_time(resolved: Resolved) -> list[Notice]:
    """Bases whose returns count only as far as they came back in the time that those of the current window had."""
    days = [(at, resolved.known_by(at)) for at in range(len(resolved.bases) + 1)]
    return [Notice("returns_same_time", window=at, about=day_of(by).isoformat()) for at, by in days if by is not None]


def _of_windows(resolved: Resolved) -> list[Notice]:
    windows = resolved.slots[0].windows
    return [
        *(Notice("partly_covered", window=at) for at, window in enumerate(windows) if window.partly_covered),
        *(Notice("without_holidays", window=at) for at, base in enumerate(resolved.bases, start=1) if base.without_holidays),
    ]


def _of_shares(resolved: Resolved) -> list[Notice]:
    """Distinct counts whose shares are shown: an id may count in several parts (section 9)."""
    overlapping = (
        each.measure.name for each in resolved.columns if each.kind.startswith("share") and each.measure.kind == "distinct"
    )
    return [Notice("parts_overlap", about=name) for name in dict.fromkeys(overlapping)]


def _of_plans(evaluation: Evaluation) -> list[Notice]:
    """Members of the outermost rows that only a plan knows: they have no row, and count in its total."""
    resolved = evaluation.resolved
    found = []
    for at in range(1, len(resolved.bases) + 1):
        plan = resolved.plan_of(at)
        if plan is None or not resolved.rows or resolved.windows[at].reason is not None:
            continue
        members, known = plan.source.members(resolved.rows[0]), resolved.source.members(resolved.rows[0]).codes
        there = evaluation.in_plan(plan)
        codes = [code for code in there.members_at(TOTAL, resolved.rows[0], [at]) if members.key(code) not in known]
        spots = [TOTAL.and_((resolved.rows[0],), (code,)) for code in codes]
        lines, minor = (sum(there.quantity(spot, each, at) for spot in spots) for each in (_LINES, _NET))
        if codes:
            about = ", ".join(members.label(code) for code in codes[:MOST_NAMES])
            found.append(Notice("only_in_plan", lines, decimal_text(minor, plan.ledger.scales.amount), about, at))
    return found


def _of_feeds(resolved: Resolved) -> list[Notice]:
    if not resolved.coverage.ends_apart:
        return []
    ends = ", ".join(f"{each.feed} {each.days.last.isoformat()}" for each in resolved.coverage.feeds)
    return [Notice("feeds_end_apart", about=ends)]
