"""What the core must know of a ledger to check and answer a statement."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Literal

from lofty_abacus.core.calendar.settings import CalendarSettings
from lofty_abacus.core.errors import QuestionError, nearest
from lofty_abacus.core.lines import DAY
from lofty_abacus.core.measures.table import DefinedMeasure, FurtherFigure, Measure, measures_with
from lofty_abacus.core.measures.value import Scales
from lofty_abacus.core.saying import say
from lofty_abacus.core.statement.levels import period_level
from lofty_abacus.core.windows.coverage import FeedCoverage


@dataclass(frozen=True)
class Member:
    """A member: told apart by key; `label` is shown. The key None is the member for keys that no lookup knows."""

    key: str | None
    label: str


@dataclass(frozen=True)
class Dimension:
    """A dimension or level. `of` names the dimension whose keys a lookup maps to this level; None for a line's own dimension.

    role: what it stands for ('rep', 'customer', 'order', ...), None for the analyst's own.
    """

    name: str
    role: str | None = None
    of: str | None = None
    description: str = ""


@dataclass(frozen=True)
class FurtherDay:
    """A further day of a ledger's lines (delivery, invoice), and what its feeds cover by it (section 1)."""

    name: str
    feeds: tuple[FeedCoverage, ...] = ()
    description: str = ""


@dataclass(frozen=True)
class LedgerFacts:
    """A ledger version as the core sees it. `has` names the columns of figures that any line brings beside its amount.

    figures, days: those of its own (section 1), whether a line of this version has them or not. day: by which of its days it
    is counted and `feeds` are covered; '' for the usual one. usual_day: by which a new statement counts. line_grain: what its
    lines stand for, days or whole weeks, months, quarters or years (section 7). descriptions: what it says of its 'amount',
    'quantity', 'cost' and of its own figures and days.
    """

    name: str
    version: int
    currency: str
    scales: Scales
    calendar: CalendarSettings
    feeds: tuple[FeedCoverage, ...]
    dimensions: tuple[Dimension, ...]
    has: frozenset[str]
    line_grain: Literal["day", "week", "month", "quarter", "year"] = "day"
    descriptions: Mapping[str, str] = field(default_factory=dict)
    figures: tuple[FurtherFigure, ...] = ()
    days: tuple[FurtherDay, ...] = ()
    day: str = ""
    usual_day: str = ""

    @property
    def day_names(self) -> tuple[str, ...]:
        """The days of its lines, where they have further ones: those, and the usual one."""
        return (*(each.name for each in self.days), DAY) if self.days else ()

    def measures(self, defined: Sequence[DefinedMeasure] = ()) -> Mapping[str, Measure]:
        """All measures by name: those of every ledger, of this one's own figures, and defined ones. Raises QuestionError."""
        return measures_with(defined, self.figures)

    def counted_by(self, day: str) -> LedgerFacts:
        """The same counted by one of its days ('' for the usual one). Raises QuestionError where it has no such day."""
        if day == self.day:
            return self
        found = next((each for each in self.days if each.name == day), None)
        if found is None:
            known = [each.name for each in self.days]
            raise QuestionError("day", say("this ledger has no day {day!r}.", day=day), nearest(day, known))
        return replace(self, day=day, feeds=found.feeds)

    def dimension(self, name: str) -> Dimension | None:
        """The dimension of that name, if the ledger has it; the periods of one of its days are one each (section 1)."""
        found = next((each for each in self.dimensions if each.name == name), None)
        if found is None and period_level(name, self.day_names) is not None:
            return Dimension(name)
        return found

    def with_role(self, role: str) -> Dimension | None:
        """The line's own dimension that has a role, if any."""
        return next((each for each in self.dimensions if each.role == role and each.of is None), None)
