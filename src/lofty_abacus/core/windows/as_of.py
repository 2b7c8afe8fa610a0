"""The as-of date: everything is counted up to and including it (section 4)."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from typing import Literal

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


def as_of_day(policy: AsOfPolicy, coverage: Coverage, today: date) -> date:
    """The as-of date a policy means today, in the ledger's zone. Raises QuestionError where nothing is posted yet."""
    if isinstance(policy, PinnedDay):
        return policy.day
    if coverage.span is None:
        raise QuestionError("as of", "nothing is posted in this ledger yet.", "Post a file, or pin a date.")
    return min(coverage.span.last, today)
