"""A resolved window: the days asked for, the days that count, and what is to be said about them."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

from lofty_abacus.core.windows.coverage import Coverage
from lofty_abacus.core.windows.ranges import DayRange, DaySet
from lofty_abacus.core.windows.reasons import Reason


@dataclass(frozen=True)
class Window:
    """One window of a statement.

    asked: the days it stands for, cut at the as-of date where it is the current window; None where no such window exists.
    period: the whole period it is a part of (for the frame); None where there is none.
    counted: its days inside coverage and not after the as-of date.
    reason: why it is undefined; None if it has a counted day.
    """

    asked: DayRange | None
    period: DayRange | None
    counted: DaySet
    partly_covered: bool
    reason: Reason | None

    @property
    def is_whole(self) -> bool:
        """Whether it is a whole period with every day counted."""
        return self.period is not None and self.asked == self.period and self.counted.days == self.period.days


def window_on(asked: DayRange, period: DayRange | None, coverage: Coverage, as_of: date) -> Window:
    """Resolve a window against coverage and the as-of date (section 5)."""
    return Window(asked, period, coverage.counted(asked, as_of), coverage.cuts(asked, as_of), coverage.reason(asked, as_of))


def missing_window(period: DayRange | None, reason: Reason) -> Window:
    """A window that does not exist (no week 53 there), with its reason."""
    return Window(None, period, DaySet(), False, reason)
