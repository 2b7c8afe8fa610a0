"""Limits of what is shown. None cuts what a comparison reads (section 6); only a status limit narrows totals (section 8)."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from lofty_abacus.core.comparing.status import Status

#: A member by its key; "" is the blank member, None the member for keys that no lookup knows.
MemberKey = str | None


@dataclass(frozen=True)
class StatusLimit:
    """Only rows that are kept, new, lost or returns only against a base, at a level (the deepest unless named).

    Subtotals, totals, distinct counts and scopes then cover the lines of the rows left.
    """

    status: tuple[Status, ...]
    level: str | None = None
    base: int = 1
    kind: Literal["status"] = "status"


@dataclass(frozen=True)
class TopLimit:
    """Exactly so many rows within each parent by a column, and the rest as one row of its own lines.

    bottom: the lowest. size: the largest in either direction, up and down alike.
    """

    count: int
    column: str
    level: str | None = None
    bottom: bool = False
    rest: bool = True
    size: bool = False
    kind: Literal["top"] = "top"


@dataclass(frozen=True)
class ValueLimit:
    """Only rows whose column lies between two figures, as decimal text; rows without a value are hidden."""

    column: str
    at_least: str | None = None
    at_most: str | None = None
    level: str | None = None
    kind: Literal["value"] = "value"


@dataclass(frozen=True)
class MembersLimit:
    """Only these members of a row dimension are shown; totals and scopes still cover all."""

    dimension: str
    members: tuple[MemberKey, ...]
    kind: Literal["members"] = "members"


Limit = StatusLimit | TopLimit | ValueLimit | MembersLimit
