"""Conditions on the lines that are counted, beyond their members (section 1). They apply like filters, in every window."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from lofty_abacus.core.windows.current import CurrentWindow

#: What a day is held against instead of another day of the line.
AS_OF = "as_of"


@dataclass(frozen=True)
class FigureBetween:
    """The line's amount, or another of its figures, lies between two figures (decimal text, both included); it has one."""

    figure: str
    at_least: str | None = None
    at_most: str | None = None
    kind: Literal["figure"] = "figure"


@dataclass(frozen=True)
class DayWithin:
    """A day of the line lies within a window, as far as that goes by the as-of date."""

    day: str
    window: CurrentWindow
    kind: Literal["within"] = "within"


@dataclass(frozen=True)
class DayCompared:
    """A day of the line comes before, on or after another one of it, or the as-of date. or_blank: or it has no such day."""

    day: str
    relation: Literal["before", "on", "after"]
    other: str
    or_blank: bool = False
    kind: Literal["compared"] = "compared"


@dataclass(frozen=True)
class TextLike:
    """The name or key of the line's member begins with, contains or equals a text, whatever its letters' size."""

    dimension: str
    relation: Literal["begins", "contains", "equals"]
    text: str
    exclude: bool = False
    kind: Literal["text"] = "text"


@dataclass(frozen=True)
class Given:
    """The line has a member, a figure or a day, or has none."""

    of: str
    given: bool = True
    kind: Literal["given"] = "given"


Condition = FigureBetween | DayWithin | DayCompared | TextLike | Given
