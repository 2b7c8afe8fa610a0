"""The raw quantities that lines are added up to: sums over lines, and counts of different ids."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

Side = Literal["sale", "return", "all"]
#: A column of figures: amount, quantity, cost, a figure of the ledger's own by name; or lines, which are counted.
Column = str


@dataclass(frozen=True, order=True)
class LineSum:
    """A sum of one column over the lines of one side ('lines' counts them).

    given: columns that a line must have to be read at all; a missing cost or quantity is not 0 (section 1).
    """

    column: Column
    side: Side
    given: tuple[str, ...] = ()


@dataclass(frozen=True, order=True)
class DistinctIds:
    """The number of different ids of a role among the sale lines; a blank id is no id."""

    role: Literal["order", "customer", "product"]


Quantity = LineSum | DistinctIds
