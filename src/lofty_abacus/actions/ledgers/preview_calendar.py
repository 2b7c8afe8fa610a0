"""How the year falls out under some settings, and what they change in the statements, before they are confirmed."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import date

from lofty_abacus.actions.figures.answer_statement import other_ledgers
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import FeedDeclared, LedgerSettings
from lofty_abacus.actions.statements.default_statements import default_statements
from lofty_abacus.core.answer.resolve import resolve
from lofty_abacus.core.calendar.periods import Period, period_of, periods_between, step_period
from lofty_abacus.core.calendar.working_days import is_working_day, working_days
from lofty_abacus.core.days import add_days
from lofty_abacus.core.errors import QuestionError
from lofty_abacus.core.grouping.request import Source
from lofty_abacus.core.statement.ledger import LedgerFacts
from lofty_abacus.core.statement.statement import Statement
from lofty_abacus.core.windows.as_of import as_of_day
from lofty_abacus.core.windows.coverage import FeedCoverage, coverage_of
from lofty_abacus.core.windows.ranges import DayRange


@dataclass(frozen=True)
class CalendarDay:
    """A day of the year: the week it is in, whether it is worked, whether lines are posted on it."""

    day: date
    week: str
    working: bool
    posted: bool


@dataclass(frozen=True)
class CalendarMonth:
    """A month of the year, with the quarter and half-year it belongs to."""

    key: str
    quarter: str
    half_year: str
    working_days: int
    days: tuple[CalendarDay, ...]


@dataclass(frozen=True)
class StatementChange:
    """A statement whose windows the settings move: its windows before and after (first to last day), or why it fails then."""

    name: str
    before: tuple[str, ...]
    after: tuple[str, ...]
    refused: str = ""


@dataclass(frozen=True)
class CalendarPreview:
    """A year as it falls out, the as-of date by the policy, and the statements that change; unchanged: how many do not."""

    year: str
    first: date
    last: date
    as_of: date
    months: tuple[CalendarMonth, ...]
    changes: tuple[StatementChange, ...]
    unchanged: int


def preview_calendar(office: Office, ledger: str, settings: LedgerSettings, years_ahead: int = 0) -> CalendarPreview:
    """The year of the as-of date, or one so many years ahead of it (back, if negative), under settings that are not yet kept.

    Raises NotFoundError, and QuestionError for settings that cannot be counted by.
    """
    book = office.books.opened(ledger)
    today = book.record.today(office.now())
    now = book.facts
    then = replace(now, calendar=settings.calendar, feeds=tuple(_declared(each, settings.coverage) for each in now.feeds))
    as_of = as_of_day(
        settings.as_of, coverage_of(then.feeds, frozenset({"sale", "return"})), today, settings.line_grain, settings.calendar
    )
    year = step_period(period_of(as_of, "year", settings.calendar), years_ahead, settings.calendar)
    counts = book.source.day_counts(DayRange(year.first, year.last))
    months = tuple(
        CalendarMonth(
            month.key,
            period_of(month.first, "quarter", settings.calendar).key,
            period_of(month.first, "half_year", settings.calendar).key,
            working_days(month.first, month.last, settings.calendar),
            tuple(
                CalendarDay(
                    day,
                    period_of(day, "week", settings.calendar).key,
                    is_working_day(day, settings.calendar),
                    bool(counts[(day - year.first).days]),
                )
                for day in _days(month)
            ),
        )
        for month in periods_between(year.first, year.last, "month", settings.calendar)
    )
    statements = (*office.books.saved_statements(book.record.id).rows, *default_statements(now, book.record.as_of))
    changes, unchanged = [], 0
    for each in statements:
        before = _windows(office, each.statement, now, today, book.source)
        after = _windows(office, each.statement, then, today, book.source)
        if before == after:
            unchanged += 1
            continue
        shown = 1 + len(each.statement.bases)
        refused = after if isinstance(after, str) else ""
        was, will = (() if isinstance(found, str) else found[:shown] for found in (before, after))
        changes.append(StatementChange(each.name, was, will, refused))
    return CalendarPreview(year.key, year.first, year.last, as_of, months, tuple(changes), unchanged)


def _days(month: Period) -> list[date]:
    return [add_days(month.first, at) for at in range((month.last - month.first).days + 1)]


def _declared(feed: FeedCoverage, coverage: tuple[FeedDeclared, ...]) -> FeedCoverage:
    """A feed's coverage as the settings declare it."""
    said = next((each for each in coverage if each.feed == feed.feed), None)
    if said is None:
        return feed
    first, last = said.covers_from or feed.days.first, said.covers_through or feed.days.last
    return replace(feed, days=DayRange(first, last), declared=True) if first <= last else feed


def _windows(office: Office, statement: Statement, facts: LedgerFacts, today: date, source: Source) -> tuple[str, ...] | str:
    """A statement's windows as days, the current one first; in words why there are none."""
    try:
        resolved = resolve(statement, facts, source, today, other_ledgers(office, statement))
    except QuestionError as error:
        return str(error)
    asked = [window.asked for slot in resolved.slots for window in slot.windows]
    return tuple("no such period" if each is None else f"{each.first} to {each.last}" for each in asked)
