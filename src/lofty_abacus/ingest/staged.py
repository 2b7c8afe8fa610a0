"""A file's lines as they would be posted."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from lofty_abacus.ingest.mapping import Mapping
from lofty_abacus.ingest.problems import Problem
from lofty_abacus.ingest.table import TextColumn


@dataclass(frozen=True)
class Numbers:
    """Exact numbers at one scale: i64[n] minor units; missing: bool[n]."""

    minor: NDArray[np.int64]
    scale: int
    missing: NDArray[np.bool_]


@dataclass(frozen=True)
class StagedLines:
    """Lines of one file. day: i32[n] day numbers; is_return: bool[n]; rows: i64[n] row numbers in the file.

    dimensions: per name its role (None: the analyst's own) and column. left_out: rows not taken, by decision or as problems.
    set_aside: totals rows and repeated headings, which are no lines; they are listed and never posted.
    """

    file: str
    mapping: Mapping
    rows: NDArray[np.int64]
    day: NDArray[np.int32]
    is_return: NDArray[np.bool_]
    amount: Numbers
    quantity: Numbers | None
    cost: Numbers | None
    line_ids: TextColumn | None
    dimensions: dict[str, tuple[str | None, TextColumn]]
    problems: list[Problem]
    repeated: list[Problem]
    left_out: int
    blank_rows: int
    set_aside: list[Problem]

    def __len__(self) -> int:
        return len(self.rows)


@dataclass(frozen=True)
class StagedLookup:
    """A lookup: keys of a dimension, their names, and per level the member key (and name) of each key."""

    file: str
    mapping: Mapping
    of: str
    keys: list[str]
    names: list[str] | None
    levels: dict[str, tuple[list[str], list[str] | None]]
    problems: list[Problem]
    blank_rows: int

    def __len__(self) -> int:
        return len(self.keys)
