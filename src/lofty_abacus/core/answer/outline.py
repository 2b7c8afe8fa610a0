"""What a statement comes to before anything is added up: its windows and columns by name."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

from lofty_abacus.core.answer.frame import key_of
from lofty_abacus.core.answer.kinds import ColumnKind
from lofty_abacus.core.answer.resolve import Resolved
from lofty_abacus.core.answer.slots import TimePath
from lofty_abacus.core.windows.ranges import DayRange


@dataclass(frozen=True)
class OutlinedWindow:
    """A window. key: the sortable name of its period, None where it is none; asked: its days; period: what they are cut from."""

    key: str | None
    asked: DayRange | None
    period: DayRange | None


@dataclass(frozen=True)
class OutlinedColumn:
    """A column. along: what its figures run along, '' for the period's own; step: of a bridge or a split, else ''."""

    id: str
    measure: str
    kind: ColumnKind
    window: int
    name: str
    along: str
    step: str


@dataclass(frozen=True)
class Outline:
    """The parts of an answer that are known without its figures. periods: of a series, the whole range first."""

    as_of: date
    windows: tuple[OutlinedWindow, ...]
    columns: tuple[OutlinedColumn, ...]
    periods: tuple[TimePath, ...]


def outline_of(resolved: Resolved) -> Outline:
    """The outline of a statement that is resolved. Nothing is added up."""
    root = resolved.slots[0]
    columns = (
        OutlinedColumn(
            recipe.id,
            recipe.measure.name,
            recipe.kind,
            recipe.window,
            recipe.metric.shown.name,
            recipe.metric.shown.along.name if recipe.metric.shown.along else "",
            recipe.step,
        )
        for recipe in resolved.columns
    )
    return Outline(
        resolved.as_of,
        tuple(OutlinedWindow(key_of(window, root, resolved), window.asked, window.period) for window in root.windows),
        tuple(columns),
        tuple(slot.path for slot in resolved.slots) if len(resolved.slots) > 1 else (),
    )
