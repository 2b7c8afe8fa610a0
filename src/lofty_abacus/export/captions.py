"""What a table shows, in words: the caption that goes wherever its figures go."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from types import MappingProxyType

from lofty_abacus.core.answer.answer import Answer, AnsweredWindow
from lofty_abacus.core.statement.levels import RowLevel
from lofty_abacus.core.statement.limits import Limit, MemberKey, MembersLimit, StatusLimit, TopLimit, ValueLimit
from lofty_abacus.core.statement.statement import Goal, ShareScope, Statement
from lofty_abacus.export.layout import Layout
from lofty_abacus.export.saying import REASONS, posted_words

_NOTHING: Mapping[str, str] = MappingProxyType({})
_PLAIN = Layout()


def caption_lines(
    answer: Answer, statement: Statement, said: Mapping[str, str] = _NOTHING, layout: Layout = _PLAIN
) -> Iterator[tuple[str, str]]:
    """(what, words): ledger and version, as-of date, measures, rows, windows, filters, what was left out.

    said: what the ledger says of its dimensions and measures, by name. layout: what it hides of the rows is said, too.
    """
    yield "Ledger", f"{answer.ledger}, version {answer.version}, {answer.currency}"
    yield "As of", answer.as_of.isoformat()
    for shown in statement.measures:
        along = f", {shown.along.name.replace('_', ' ')}" if shown.along else ""
        besides = [*(name.replace("_", " ") for name in shown.show), *map(_scope, shown.shares)]
        beside = f" with {', '.join(besides)}" if besides else ""
        against = f", against base {' and '.join(map(str, shown.bases))} only" if shown.bases else ""
        called = f" (called {shown.name})" if shown.name else ""
        yield "Measure", f"{shown.measure.replace('_', ' ')}{along}{beside}{against}{called}"
    for each in statement.defined:
        yield "Defined", f"{each.name} = {each.expression}"
    if statement.rows:
        yield "Rows", ", then ".join(_level(level) for level in statement.rows)
    if statement.across:
        yield "Across", ", then ".join(_level(level) for level in statement.across)
    for name in _named(statement):
        if said.get(name):
            yield "Means", f"{name.replace('_', ' ')}: {said[name]}"
    for at, window in enumerate(answer.windows):
        yield (f"Base {at}" if at else "Current"), _window(window)
    for period in answer.periods[1:]:
        windows = "; ".join(f"{f'base {at}: ' if at else ''}{_window(window)}" for at, window in enumerate(period.windows))
        yield "Period", f"{' / '.join((*period.down, *period.across))}: {windows}"
    for filtered in statement.filters:
        yield "Counted", f"{filtered.dimension} is {'not ' if filtered.exclude else ''}{_members(filtered.members)}"
    for words in _shown(statement, layout):
        yield "Shown", words
    for goal in statement.goals:
        yield "Goal", _goal(goal)
    if statement.sort is not None:
        yield "Order", f"by {statement.sort.column}, {'largest' if statement.sort.descending else 'smallest'} first"
    yield "Returns", _returns(statement)
    for words in _readings(statement):
        yield "Reading", words
    for notice in answer.notices:
        figures = f": {notice.lines} lines, {notice.amount}" if notice.lines else ""
        about = f" ({notice.about})" if notice.about else ""
        yield "Note", f"{notice.code.replace('_', ' ')}{figures}{about}"
    yield "Posted", f"{answer.posted_lines} lines, {answer.posted_amount} net"


def _shown(statement: Statement, layout: Layout) -> Iterator[str]:
    """What is shown of the rows."""
    yield from map(_limit, statement.limits)
    if layout.search.strip():
        yield f"only rows whose name holds “{layout.search.strip()}”"
    if layout.empty_periods == "hidden":
        yield "no periods without figures"


def _scope(scope: ShareScope) -> str:
    kept = f"share within {', '.join(scope.keep)}" if scope.keep else "share of all"
    kept += f" within the {scope.time.replace('_', '-')}" if scope.time else ""
    return kept + {"own": "", "range": " of the whole range", "ever": " of all that is posted"}[scope.period]


def _goal(goal: Goal) -> str:
    way = f"{goal.direction.replace('_', ' ')} " if goal.direction else ""
    of = f"% of base {goal.base}" if goal.of == "base" else ""
    return f"{goal.metric} {way}{goal.target}{of}"


def _returns(statement: Statement) -> str:
    if statement.returns == "own_day":
        return "on their own day"
    refunds = ", order refunds not allocated" if statement.refunds == "not_allocated" else ""
    return f"on the day of their sale{refunds}" + (", in the same time" if statement.returns_within == "same_time" else "")


def _readings(statement: Statement) -> Iterator[str]:
    """How the statement is read where that is not as usual."""
    if statement.cut == "same_point":
        yield "each period cut at the same point"
    if statement.levels == "as_it_is_now":
        yield "levels as they are now"
    if statement.feeds_end == "earliest":
        yield "all feeds cut at the earliest end"
    if statement.negative_bases == "divided":
        yield "negative bases divided as they are"
    if statement.all_members:
        yield "every known member"
    if statement.shares_add_up:
        yield "shown shares add up"
    if statement.items:
        yield f"price, volume and mix over each {' and '.join(statement.items)}"
    if statement.unit_of_measure:
        yield f"volume and mix within each {statement.unit_of_measure}"


def _named(statement: Statement) -> list[str]:
    """The measures and dimensions that a statement names, each once."""
    levels = [each for each in (*statement.rows, *statement.across) if isinstance(each, str)]
    measures, filtered = [each.measure for each in statement.measures], [each.dimension for each in statement.filters]
    return list(dict.fromkeys([*measures, *levels, *filtered]))


def _limit(limit: Limit) -> str:
    """What of the rows is shown, in words."""
    match limit:
        case TopLimit():
            of = f" {limit.level}" if limit.level else ""
            rest = "" if limit.rest else ", without the rest"
            if limit.size:
                return f"the {limit.count} largest{of} up or down by {limit.column}{rest}"
            return f"the {'lowest' if limit.bottom else 'top'} {limit.count}{of} by {limit.column}{rest}"
        case StatusLimit():
            return f"only {' or '.join(limit.status).replace('_', ' ')}" + (f" {limit.level}" if limit.level else "")
        case ValueLimit():
            low = f" from {limit.at_least}" if limit.at_least is not None else ""
            return f"{limit.column}{low}" + (f" up to {limit.at_most}" if limit.at_most is not None else "")
        case MembersLimit():
            return f"only {limit.dimension} {_members(limit.members)}"


def _members(members: tuple[MemberKey, ...]) -> str:
    return ", ".join("(not mapped)" if key is None else key or "(blank)" for key in members)


def _level(level: RowLevel) -> str:
    return level if isinstance(level, str) else level.time.replace("_", "-")


def _window(window: AnsweredWindow) -> str:
    if window.asked is None:
        return REASONS.get(window.reason or "", "each period its own")
    words = f"{window.asked.first.isoformat()} to {window.asked.last.isoformat()}, {window.counted_days} days counted"
    if window.fairness:
        words += f", {window.fairness.replace('_', ' ')}"
    if window.partly_covered:
        words += f", {posted_words(window) or 'partly covered'}"
    return words
