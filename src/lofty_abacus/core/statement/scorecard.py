"""A scorecard: what is asked beside a statement, and the statement that its verdicts are those of (section 11)."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from datetime import date
from typing import Literal

from lofty_abacus.core.calendar.periods import period_named, period_of, step_period
from lofty_abacus.core.calendar.settings import GRAINS, CalendarSettings, Grain
from lofty_abacus.core.errors import QuestionError
from lofty_abacus.core.saying import say
from lofty_abacus.core.statement.levels import dimensions_of, grains_of
from lofty_abacus.core.statement.statement import Statement
from lofty_abacus.core.windows.as_of import PinnedDay
from lofty_abacus.core.windows.current import LastPeriods, NamedPeriod, RunningPeriod, ToDate
from lofty_abacus.core.windows.stretches import Along

#: Levels of rows that a card shows.
MOST_LEVELS = 2
MOST_HISTORY = 24


@dataclass(frozen=True)
class CardAsked:
    """What is asked of a statement's scorecard. history: how many earlier periods are judged, too. order: of its rows."""

    history: int = 6
    order: Literal["misses", "name", "met"] = "misses"


def card_statement(statement: Statement, asked: CardAsked) -> Statement:
    """The statement whose verdicts the card shows: its measures with their bases and goals, by one or two dimensions.

    Levels of time, what stands across and what stands beside the figures fall away; a running or moving metric keeps the finest
    level of time as what it runs along, so that it is judged in the last period (section 9). Raises QuestionError for a history
    that is too long.
    """
    if not 0 <= asked.history <= MOST_HISTORY:
        raise QuestionError(
            "history",
            say("{count} periods are no history.", count=asked.history),
            say("Take 0 to {most}.", most=MOST_HISTORY),
        )
    grains = grains_of((*statement.rows, *statement.across))
    return replace(
        statement,
        measures=tuple(replace(each, show=(), shares=(), along=along_by(each.along, grains)) for each in statement.measures),
        rows=dimensions_of(statement.rows)[:MOST_LEVELS],
        across=(),
        sort=None,
        shares_add_up=False,
    )


def along_by(along: Along | None, grains: tuple[Grain, ...]) -> Along | None:
    """What a metric runs along without the levels of time of its statement: periods of the finest of them."""
    return along if along is None or not grains else replace(along, by=min(grains, key=GRAINS.index))


def earlier_periods(statement: Statement, as_of: date, calendar: CalendarSettings, count: int) -> Iterator[tuple[str, Statement]]:
    """The card of each of so many periods before the current one, the latest first, each judged as of its own end.

    With each its period's sortable name. None for two dates, which no period comes before.
    """
    window = statement.window
    grain: Grain
    if isinstance(window, NamedPeriod):
        period = period_named(window.period, calendar, "window")
    elif isinstance(window, ToDate | RunningPeriod | LastPeriods):
        grain = window.grain
        period = period_of(as_of, grain, calendar)
        if isinstance(window, RunningPeriod) and window.back:
            period = step_period(period, -window.back, calendar)
    else:
        return
    for back in range(1, count + 1):
        before = step_period(period, -back, calendar)
        named = NamedPeriod(before.key) if isinstance(window, NamedPeriod) else window
        then = replace(named, back=0) if isinstance(named, RunningPeriod) else named
        yield before.key, replace(statement, window=then, as_of=PinnedDay(before.last))
