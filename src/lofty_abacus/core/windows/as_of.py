"""The as-of date: everything is counted up to and including it (section 4)."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from typing import Literal

from lofty_abacus.core.calendar.periods import period_of
from lofty_abacus.core.calendar.settings import CalendarSettings, Grain
from lofty_abacus.core.days import add_days
from lofty_abacus.core.errors import QuestionError
from lofty_abacus.core.windows.coverage import Coverage


@dataclass(frozen=True)
class PinnedDay:
    """Count up to one named day, until somebody changes it."""

    day: date
    kind: Literal["pinned"] = "pinned"


@dataclass(frozen=True)
class LastPostedDay:
    """Count up to the last posted day that is not after today: the default; it moves by itself as files are posted."""

    kind: Literal["last_posted"] = "last_posted"


AsOfPolicy = PinnedDay | LastPostedDay


def as_of_day(
    policy: AsOfPolicy, coverage: Coverage, today: date, line_grain: Grain = "day", calendar: CalendarSettings | None = None
) -> date:
    """The as-of date a policy means today, in the ledger's zone. Raises QuestionError where nothing is posted yet.

    Where lines stand for whole weeks or months (line_grain, section 7) a pinned date inside one is refused, and the last
    posted day is the end of the last whole one.
    """
    calendar = calendar or CalendarSettings()
    if isinstance(policy, PinnedDay):
        period = period_of(policy.day, line_grain, calendar)
        if policy.day != period.last:
            raise QuestionError(
                "as of",
                f"the lines of this ledger stand for whole {line_grain}s, and {policy.day.isoformat()} lies inside one.",
                f"Take {add_days(period.first, -1).isoformat()} or {period.last.isoformat()}.",
            )
        return policy.day
    if coverage.span is None:
        raise QuestionError("as of", "nothing is posted in this ledger yet.", "Post a file, or pin a date.")
    last = min(coverage.span.last, today)
    period = period_of(last, line_grain, calendar)
    return last if last == period.last else add_days(period.first, -1)
