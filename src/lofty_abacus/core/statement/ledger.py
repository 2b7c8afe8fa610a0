"""What the core must know of a ledger to check and answer a statement."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Literal

from lofty_abacus.core.calendar.settings import CalendarSettings
from lofty_abacus.core.measures.value import Scales
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
class LedgerFacts:
    """A ledger version as the core sees it. `has` names the optional columns that any line brings: 'quantity', 'cost'.

    line_grain: what its lines stand for, days or whole weeks, months, quarters or years (section 7). descriptions: what it says
    of its 'amount', 'quantity' and 'cost'.
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

    def dimension(self, name: str) -> Dimension | None:
        """The dimension of that name, if the ledger has it."""
        return next((each for each in self.dimensions if each.name == name), None)

    def with_role(self, role: str) -> Dimension | None:
        """The line's own dimension that has a role, if any."""
        return next((each for each in self.dimensions if each.role == role and each.of is None), None)
