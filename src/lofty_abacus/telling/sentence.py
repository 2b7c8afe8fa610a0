"""A statement as it is read, in one sentence, part by part: each with the field of the statement that it tells."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from datetime import date

from lofty_abacus.core.saying import counted, say
from lofty_abacus.core.statement.levels import grains_of
from lofty_abacus.core.statement.limits import Limit, MembersLimit, StatusLimit, TopLimit, ValueLimit
from lofty_abacus.core.statement.statement import CountedFilter, Goal, ShownMeasure, Statement
from lofty_abacus.core.windows.as_of import PinnedDay
from lofty_abacus.core.windows.current import Dates, NamedPeriod
from lofty_abacus.telling.conditions import condition_words
from lofty_abacus.telling.conventions import convention_words
from lofty_abacus.telling.framed import Framed
from lofty_abacus.telling.measures import column_words, metric_words, scope_words
from lofty_abacus.telling.names import capital, day_name, day_words, dimension_name, level_name, measure_name, member_words
from lofty_abacus.telling.vocabulary import CUTS, SHOWS, STATUS
from lofty_abacus.telling.windows import base_name, window_name


@dataclass(frozen=True)
class Piece:
    """One thing that a part names, as it can be pointed at: a measure, what stands beside it, a level, a base."""

    kind: str
    words: str


@dataclass(frozen=True)
class Said:
    """Some words of the sentence. part: the field of the statement that they tell; pieces: each thing that it names, in order."""

    part: str
    words: str
    pieces: tuple[Piece, ...] = ()


def sentence_parts(statement: Statement, answer: Framed | None = None) -> tuple[Said, ...]:
    """The parts of the sentence in their order. answer: what it came to, for the as-of date and the names of columns."""
    return tuple(_parts(statement, answer))


def _parts(statement: Statement, answer: Framed | None) -> Iterator[Said]:
    as_of = _as_of(statement, answer)

    def said(part: str, before: str, words: Sequence[str], between: str | None = None) -> Iterator[Said]:
        if words:
            yield Said(part, f"{before} {(between or say(' and ')).join(words)}", tuple(Piece(part, each) for each in words))

    shown = [_metric_pieces(each) for each in statement.measures]
    measures = [_shown_words(*each, own, statement, as_of) for each, own in zip(shown, statement.measures, strict=True)]
    pieces = [Piece(kind, words) for each in shown for kind, words in zip(("measures", "show"), each, strict=True)]
    shares = (Piece("share_scopes", scope_words(scope)) for each in statement.measures for scope in each.shares)
    yield Said("measures", say("Show {names}", names=say(", and ").join(measures)), (*pieces, *shares))
    yield from said("rows", say("by"), [level_name(each) for each in statement.rows], say(" then "))
    yield from said("across", say("across"), [level_name(each) for each in statement.across], say(" then "))
    lead = say("for") if isinstance(statement.window, NamedPeriod | Dates) else say("for the")
    window = window_name(statement.window, as_of, is_over=_is_over(answer))
    yield Said("window", f"{lead} {window}", (Piece("window", window), Piece("before_window", lead)))
    if statement.cut == "same_point" or grains_of((*statement.rows, *statement.across)):
        words = CUTS[statement.cut]
        yield Said("cut", words if statement.cut == "same_point" else "", (Piece("cut", words),))
    if statement.day:
        words = say("counted by {day}", day=day_name(statement.day))
        yield Said("day", words, (Piece("day", words),))
    yield from said("bases", say("against"), [base_name(each, statement, as_of) for each in statement.bases])
    yield from said("filters", say("where"), [filter_words(each) for each in statement.filters])
    yield from said("conditions", say("counting lines with"), [condition_words(each) for each in statement.conditions])
    conventions = convention_words(statement)
    if conventions:
        chosen = tuple(Piece(name, words) for name, words in conventions)
        yield Said("conventions", ", ".join(words for _, words in conventions), chosen)
    yield from said("limits", say("showing"), [limit_words(each, statement, answer) for each in statement.limits])
    yield from said("goals", say("with the goal"), [goal_words(each, statement, as_of) for each in statement.goals])
    if statement.sort is not None:
        by = column_words(statement.sort.column, statement, answer)
        largest = statement.sort.descending
        words = say("sorted by {by}, the largest first", by=by) if largest else say("sorted by {by}, the smallest first", by=by)
        yield Said("sort", words, (Piece("sort", words),))


def sentence(statement: Statement, answer: Framed | None = None) -> str:
    """The whole sentence, with the formulas of measures of one's own."""
    parts = ", ".join(each.words.strip() for each in sentence_parts(statement, answer) if each.words)
    moving = say(" (now {day})", day=day_words(answer.as_of)) if answer and not isinstance(statement.as_of, PinnedDay) else ""
    own = "; ".join(f"{each.name} = {each.expression}" for each in statement.defined)
    return f"{parts}{moving}." + (say(" Where {own}.", own=own) if own else "")


def title_of(statement: Statement) -> str:
    """What a statement is called where nobody named it: Net sales and orders by region and month."""
    measures = [each.name or metric_words(each) for each in statement.measures]
    levels = [level_name(each) for each in (*statement.rows, *statement.across)]
    by = say(" by {names}", names=say(" and ").join(levels)) if levels else ""
    return capital(say(" and ").join(measures[:3]) + by)


def _as_of(statement: Statement, answer: Framed | None) -> date | None:
    if answer is not None:
        return answer.as_of
    return statement.as_of.day if isinstance(statement.as_of, PinnedDay) else None


def _is_over(answer: Framed | None) -> bool:
    """Whether the current window would be the same whatever the as-of date: a later one adds no day to it."""
    window = answer.windows[0] if answer and answer.windows else None
    whole = window.period if window else None
    return bool(answer and whole and whole.last <= answer.as_of)


def _metric_pieces(shown: ShownMeasure) -> tuple[str, str]:
    """A metric by what it is called, and what stands beside it; '' for nothing."""
    name = f"{shown.name} ({metric_words(shown)})" if shown.name else metric_words(shown)
    return name, ", ".join([*(SHOWS[each] for each in shown.show), *map(scope_words, shown.shares)])


def _shown_words(name: str, beside: str, shown: ShownMeasure, statement: Statement, as_of: date | None) -> str:
    """A metric with what stands beside it, and with which bases it is compared where not with all."""
    bases = [statement.bases[at - 1] for at in shown.bases or () if 1 <= at <= len(statement.bases)]
    against = (
        say(" (against {names} only)", names=say(" and ").join(base_name(each, statement, as_of) for each in bases))
        if bases
        else ""
    )
    return (say("{name} with {beside}", name=name, beside=beside) if beside else name) + against


def filter_words(counted: CountedFilter) -> str:
    """What lines are counted."""
    name, members = dimension_name(counted.dimension), member_words(counted.members, say(" or "))
    if counted.exclude:
        return say("{dimension} is not {members}", dimension=name, members=members)
    return say("{dimension} is {members}", dimension=name, members=members)


def limit_words(limit: Limit, statement: Statement, answer: Framed | None = None) -> str:
    """What is shown of the rows."""
    level = getattr(limit, "level", None)
    of_level = say(" of {dimension}", dimension=dimension_name(level)) if level else ""
    match limit:
        case TopLimit():
            by = column_words(limit.column, statement, answer)
            if limit.size:
                listed = say("the largest {count}{of_level} by size of {column}", count=limit.count, of_level=of_level, column=by)
            elif limit.bottom:
                listed = say("the bottom {count}{of_level} by {column}", count=limit.count, of_level=of_level, column=by)
            else:
                listed = say("the top {count}{of_level} by {column}", count=limit.count, of_level=of_level, column=by)
            return listed + ("" if limit.rest else say(", without the rest"))
        case StatusLimit():
            return say("only {names}{of_level}", names=say(" or ").join(STATUS[each] for each in limit.status), of_level=of_level)
        case ValueLimit():
            low = "" if limit.at_least is None else say(" from {at_least}", at_least=limit.at_least)
            high = "" if limit.at_most is None else say(" up to {at_most}", at_most=limit.at_most)
            return f"{column_words(limit.column, statement, answer)}{low}{high}{of_level}"
        case MembersLimit():
            return say(
                "only {dimension} {members}",
                dimension=dimension_name(limit.dimension),
                members=member_words(limit.members, ", "),
            )


def goal_words(goal: Goal, statement: Statement, as_of: date | None) -> str:
    """A goal: net sales at least 100% of the same dates last year."""
    shown = next((each for each in statement.measures if each.id == goal.metric), None)
    name = metric_words(shown) if shown else measure_name(goal.metric)
    way = f"{goal.direction.replace('_', ' ')} " if goal.direction else ""
    if goal.own:
        apart = counted("{number} of its own", "{number} of their own", len(goal.own))
        if not goal.target:
            return say("{name} {way}as set, {apart}", name=name, way=way, apart=apart)
        return say("{goal}, {apart}", goal=goal_words(replace(goal, own=()), statement, as_of), apart=apart)
    if goal.of == "figure":
        return f"{name} {way}{goal.target}"
    known = 1 <= goal.base <= len(statement.bases)
    of = base_name(statement.bases[goal.base - 1], statement, as_of) if known else say("base {base}", base=goal.base)
    return say("{name} {way}{target}% of {of}", name=name, way=way, target=goal.target, of=of)
