"""What stands in the rows and across: dimensions, and levels of time."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from lofty_abacus.core.calendar.settings import GRAINS, Grain


@dataclass(frozen=True)
class TimeLevel:
    """Each period of a grain inside the statement's window: a level of a series (section 7)."""

    time: Grain


#: A dimension or level by name, or a level of time.
RowLevel = str | TimeLevel


def period_level(name: str, days: Iterable[str]) -> tuple[str, Grain] | None:
    """(day, grain) of a level of the periods of one of a ledger's further days: `delivery.month`; None for any other name."""
    day, _, grain = name.partition(".")
    return (day, grain) if grain in GRAINS and day in days else None


def dimensions_of(levels: tuple[RowLevel, ...]) -> tuple[str, ...]:
    """The dimensions among levels, in their order."""
    return tuple(each for each in levels if isinstance(each, str))


def grains_of(levels: tuple[RowLevel, ...]) -> tuple[Grain, ...]:
    """The levels of time among levels, in their order."""
    return tuple(each.time for each in levels if isinstance(each, TimeLevel))
