"""Places of the table, as many as there are in one column across and at one depth of rows."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from propcache.api import cached_property

from lofty_abacus.core.answer.evaluation import Points
from lofty_abacus.core.answer.nodes import ROOT, Node, Place, Siblings


@dataclass(frozen=True)
class Places:
    """n rows of one depth in one column across. rows: as nodes, or as siblings that need not be made into nodes."""

    rows: Sequence[Node] | Siblings
    across: Node = ROOT

    @staticmethod
    def of(place: Place) -> Places:
        """A single place."""
        return Places((place.row,), place.across)

    def __len__(self) -> int:
        return len(self.rows)

    @cached_property
    def first(self) -> Node:
        """One of the rows, for what they share."""
        return self.rows[0]

    @property
    def depth(self) -> int:
        """How many levels the rows stand below the total."""
        return self.first.depth

    @property
    def row_dimensions(self) -> tuple[str, ...]:
        """The dimensions that the rows fix."""
        return self.first.spot.dimensions

    @property
    def dimensions(self) -> tuple[str, ...]:
        """The dimensions that the places fix: the rows' first, then those of the column across."""
        return self.row_dimensions + self.across.spot.dimensions

    @cached_property
    def codes(self) -> NDArray[np.int64]:
        """The codes of `dimensions`: i64[n, dimensions]."""
        count, width = len(self), len(self.row_dimensions)
        found = np.empty((count, len(self.dimensions)), np.int64)
        if isinstance(self.rows, Siblings) and not self.rows.is_time:
            found[:, : width - 1] = self.rows.parent.spot.codes
            found[:, width - 1] = self.rows.codes
        elif width:
            found[:, :width] = [each.spot.codes for each in self.rows]
        found[:, width:] = self.across.spot.codes
        return found

    @cached_property
    def times(self) -> Sequence[tuple[str, ...]]:
        """The periods of each row."""
        if isinstance(self.rows, Siblings) and not self.rows.is_time:
            return [self.rows.parent.time] * len(self)
        return [each.time for each in self.rows]

    @cached_property
    def different_times(self) -> frozenset[tuple[str, ...]]:
        """The periods that rows stand in."""
        return frozenset(self.times)

    def points(self, windows: NDArray[np.int64]) -> Points:
        """Their own lines in some windows, i64[n]."""
        return Points(self.dimensions, self.codes, windows)

    def only(self, columns: Sequence[int], windows: NDArray[np.int64]) -> Points:
        """The lines of some of their dimensions, by place among `dimensions`, in some windows."""
        return Points(tuple(self.dimensions[at] for at in columns), self.codes[:, list(columns)], windows)

    def lists(self) -> list[NDArray[np.int64]]:
        """The places of the rows of each list of siblings, i64[rows of it] each."""
        if isinstance(self.rows, Siblings):
            return [np.arange(len(self), dtype=np.int64)]
        found: dict[tuple[str | None, ...], list[int]] = {}
        for at, row in enumerate(self.rows):
            found.setdefault(row.path[:-1], []).append(at)
        return [np.array(each, np.int64) for each in found.values()]
