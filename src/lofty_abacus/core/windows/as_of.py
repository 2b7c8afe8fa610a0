"""The as-of date: everything is counted up to and including it (section 4)."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import date
from typing import Literal

from lofty_abacus.core.calendar.periods import period_of
from lofty_abacus.core.calendar.settings import GRAINS, CalendarSettings, Grain
from lofty_abacus.core.days import FIRST_DAY, LAST_DAY, add_days
from lofty_abacus.core.errors import BeyondCalendarError, QuestionError
from lofty_abacus.core.saying import say
from lofty_abacus.core.windows.coverage import Coverage


@dataclass(frozen=True)
class PinnedDay:
    """Count up to one named day, until somebody changes it."""

    day: date
    kind: Literal["pinned"] = "pinned"


@dataclass(frozen=True)
class Today:
    """Count up to today in the ledger's zone."""

    kind: Literal["today"] = "today"


@dataclass(frozen=True)
class LastCompleted:
    """Count up to the end of the last completed day, week, month or quarter, held back by a declared posted-through day."""

    grain: Literal["day", "week", "month", "quarter"]
    kind: Literal["last_completed"] = "last_completed"


@dataclass(frozen=True)
class LastPostedDay:
    """Count up to the last posted day that is not after today: the default; it moves by itself as files are posted."""

    kind: Literal["last_posted"] = "last_posted"


AsOfPolicy = PinnedDay | Today | LastCompleted | LastPostedDay


def as_of_day(
    policy: AsOfPolicy, coverage: Coverage, today: date, line_grain: Grain = "day", calendar: CalendarSettings | None = None
) -> date:
    """The as-of date a policy means today, in the ledger's zone. Raises QuestionError where nothing is posted yet.

    Where lines stand for whole weeks or months (line_grain, section 7) a pinned date inside one is refused, and the other
    policies stop at the end of the last whole one.
    """
    calendar = calendar or CalendarSettings()
    match policy:
        case PinnedDay():
            check_years(policy.day, policy.day, "as of")
            return _pinned(policy.day, line_grain, calendar)
        case Today():
            return _last_end(today, line_grain, calendar)
        case LastCompleted():
            declared = [each.days.last for each in coverage.feeds if each.declared]
            return _last_end(min([add_days(today, -1), *declared]), _coarser(policy.grain, line_grain), calendar)
        case LastPostedDay():
            if coverage.span is None:
                raise QuestionError("as of", say("nothing is posted in this ledger yet."), say("Post a file, or pin a date."))
            return _last_end(min(coverage.span.last, today), line_grain, calendar)


def check_years(first: date, last: date, part: str) -> None:
    """Refuse days beyond the calendar's years. Raises QuestionError."""
    if first < FIRST_DAY or last > LAST_DAY:
        day = first if first < FIRST_DAY else last
        raise QuestionError(
            part,
            say("{isoformat} is beyond the calendar's years.", isoformat=day.isoformat()),
            say("Take days from {year} to {year2}.", year=FIRST_DAY.year, year2=LAST_DAY.year),
        )


@contextmanager
def within_years(part: str) -> Iterator[None]:
    """Refuse what steps out of all calendars: raises QuestionError."""
    try:
        yield
    except (OverflowError, ValueError, BeyondCalendarError) as error:
        raise QuestionError(
            part,
            say("it lies beyond the calendar's years."),
            say("Take days from {year} to {year2}.", year=FIRST_DAY.year, year2=LAST_DAY.year),
        ) from error


def _pinned(day: date, line_grain: Grain, calendar: CalendarSettings) -> date:
    period = period_of(day, line_grain, calendar)
    if day != period.last:
        raise QuestionError(
            "as of",
            say(
                "the lines of this ledger stand for whole {line_grain}s, and {isoformat} lies inside one.",
                line_grain=line_grain,
                isoformat=day.isoformat(),
            ),
            say(
                "Take {isoformat} or {isoformat2}.",
                isoformat=add_days(period.first, -1).isoformat(),
                isoformat2=period.last.isoformat(),
            ),
        )
    return day


def _last_end(day: date, grain: Grain, calendar: CalendarSettings) -> date:
    """The last day of a period of that grain that is not after a day."""
    period = period_of(day, grain, calendar)
    return day if day == period.last else add_days(period.first, -1)


def _coarser(one: Grain, other: Grain) -> Grain:
    return max(one, other, key=GRAINS.index)
