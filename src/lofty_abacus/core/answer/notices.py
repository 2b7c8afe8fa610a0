"""What was left out and why, in numbers: the notice line (sections 1, 4, 5)."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import date

from lofty_abacus.core.answer.answer import Notice
from lofty_abacus.core.answer.evaluation import TOTAL, Evaluation
from lofty_abacus.core.answer.resolve import Resolved
from lofty_abacus.core.comparing.comparisons import SHARES
from lofty_abacus.core.days import add_days
from lofty_abacus.core.grouping.request import LevelTotals, MemberFilter, Source, TotalsRequest
from lofty_abacus.core.lines import BLANK
from lofty_abacus.core.measures.sums import DistinctIds, LineSum
from lofty_abacus.core.measures.table import MEASURES
from lofty_abacus.core.measures.value import given_counts
from lofty_abacus.core.money import decimal_text
from lofty_abacus.core.windows.ranges import EMPTY, DayRange, DaySet

_LINES, _NET = LineSum("lines", "all"), LineSum("amount", "all")
_RETURNS, _RETURN_LINES = LineSum("amount", "return"), LineSum("lines", "return")
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
    every = _totals(source, (_EVER, after_as_of, after_today), ())
    unfiltered = _totals(resolved.source, (counted,), ())
    filtered = _totals(resolved.source, (counted,), resolved.filters)
    posted = Posted(_number(every, _LINES, 0), _number(every, _NET, 0))

    def notice(lines: int, amount: int) -> Notice:
        return Notice("filtered_out", lines, decimal_text(amount, resolved.ledger.scales.amount))

    found = [
        replace(notice(_number(every, _LINES, 1), _number(every, _NET, 1)), code="after_as_of"),
        replace(notice(_number(every, _LINES, 2), _number(every, _NET, 2)), code="after_today"),
        replace(notice(_number(filtered, _RETURN_LINES, 0), _number(filtered, _RETURNS, 0)), code="returns_netted"),
        notice(
            _number(unfiltered, _LINES, 0) - _number(filtered, _LINES, 0),
            _number(unfiltered, _NET, 0) - _number(filtered, _NET, 0),
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
    )


def _since(first: date) -> DaySet:
    return DaySet((DayRange(first, date.max),)) if first < date.max else EMPTY


def _totals(source: Source, windows: tuple[DaySet, ...], filters: tuple[MemberFilter, ...]) -> LevelTotals:
    return source.totals(TotalsRequest(windows, (), filters, frozenset({_LINES, _NET, _RETURNS, _RETURN_LINES})))[0]


def _number(totals: LevelTotals, quantity: LineSum, window: int) -> int:
    return int(totals.values[quantity][window, 0])


def _lacking(evaluation: Evaluation) -> list[Notice]:
    """Lines of the current window that a measure leaves out because they have no cost or quantity."""
    found = []
    for shown in evaluation.resolved.statement.measures:
        pairs = list(given_counts(MEASURES[shown.measure]))
        if pairs:
            having, every = pairs[0]
            left = evaluation.quantity(TOTAL, every, 0) - evaluation.quantity(TOTAL, having, 0)
            found.append(Notice("lacking", left, about=shown.measure))
    return found


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
    if resolved.statement.levels == "as_it_is_now":
        found.append(Notice("levels_as_now", about=resolved.as_of.isoformat()))
    return found


def _still_open(resolved: Resolved) -> list[Notice]:
    """Bases whose returns had longer to come back than those of the current window: *returns still open* (section 1)."""
    if resolved.statement.returns != "sale_day":
        return []
    current = resolved.current.counted.ranges
    return [
        Notice("returns_open", window=at)
        for at, window in enumerate(resolved.windows)
        if at and current and window.counted.ranges and window.counted.ranges[-1].last < current[-1].last
    ]


def _of_windows(resolved: Resolved) -> list[Notice]:
    return [Notice("partly_covered", window=at) for at, window in enumerate(resolved.windows) if window.partly_covered]


def _of_shares(resolved: Resolved) -> list[Notice]:
    """Distinct counts whose shares are shown: an id may count in several parts (section 9)."""
    shown = resolved.statement.measures
    return [
        Notice("parts_overlap", about=each.measure)
        for each in shown
        if MEASURES[each.measure].kind == "distinct" and set(each.show) & set(SHARES)
    ]


def _of_feeds(resolved: Resolved) -> list[Notice]:
    if not resolved.coverage.ends_apart:
        return []
    ends = ", ".join(f"{each.feed} {each.days.last.isoformat()}" for each in resolved.coverage.feeds)
    return [Notice("feeds_end_apart", about=ends)]
