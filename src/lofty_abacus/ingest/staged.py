"""Lines and lookups as they would be posted."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import date

import numpy as np
from numpy.typing import NDArray

from lofty_abacus.ingest.mapping import FileMapping
from lofty_abacus.ingest.problems import Problem
from lofty_abacus.ingest.table import TextColumn


@dataclass(frozen=True)
class Numbers:
    """Exact numbers at one scale: i64[n] minor units; missing: bool[n]."""

    minor: NDArray[np.int64]
    scale: int
    missing: NDArray[np.bool_]

    def taken(self, kept: NDArray[np.int64]) -> Numbers:
        """Some of the numbers."""
        return Numbers(self.minor[kept], self.scale, self.missing[kept])

    def negated(self, which: NDArray[np.bool_]) -> Numbers:
        """Figures of returns that are written as positive ones. which: bool[n]."""
        return Numbers(np.where(which, -self.minor, self.minor), self.scale, self.missing)

    @property
    def total(self) -> int:
        """Exact sum in minor units, whatever its size."""
        high, low = (self.minor >> 32).sum(dtype=np.int64), (self.minor & 0xFFFFFFFF).sum(dtype=np.int64)
        return (int(high) << 32) + int(low)


@dataclass(frozen=True)
class Given:
    """What lines in other currencies were given as.

    names: codes, the ledger's own first; places: i64[n], which one each line has.
    rates: per line, "" for the ledger's own. numbers: the amounts as the file has them.
    """

    names: tuple[str, ...]
    places: NDArray[np.int64]
    rates: tuple[str, ...]
    numbers: Numbers

    def taken(self, kept: NDArray[np.int64], turned: NDArray[np.bool_]) -> Given:
        """Some of the lines. turned: whose figures change their sign."""
        rates = tuple(self.rates[at] for at in kept.tolist())
        return Given(self.names, self.places[kept], rates, self.numbers.taken(kept).negated(turned))


@dataclass(frozen=True)
class Foreign:
    """Lines in a currency for which there is no rate: how many, and their amount in it as (unscaled integer, decimals)."""

    currency: str
    lines: int
    amount: tuple[int, int]


@dataclass(frozen=True)
class StagedLines:
    """Lines of one piece of a file. day: i32[n] day numbers; is_return: bool[n]; rows: i64[n] row numbers in the file.

    figures, days: those of the ledger's own by name; days are day numbers, i32[n], NO_DAY for none.
    dimensions: per name its role (None: the analyst's own) and column. left_out: rows not taken, by decision or as problems.
    repeated, identical: rows whose line id, or whose every field, came before in the file.
    set_aside: totals rows and repeated headings, which are no lines; they are listed and never posted. given: what lines in other
    currencies were given as. foreign: lines that are not among these, since there is no rate for them.
    """

    file: str
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
    identical: list[Problem]
    left_out: int
    blank_rows: int
    set_aside: list[Problem]
    given: Given | None = None
    foreign: tuple[Foreign, ...] = ()
    figures: dict[str, Numbers] = field(default_factory=dict)
    days: dict[str, NDArray[np.int32]] = field(default_factory=dict)

    def __len__(self) -> int:
        return len(self.rows)


@dataclass(frozen=True)
class LookupEntry:
    """A key's member of one level, from a day on (None: for all days)."""

    key: str
    member: str
    valid_from: date | None = None


@dataclass(frozen=True)
class StagedLookup:
    """A lookup: entries per level, and what keys of the dimension and members of the levels are called.

    names: labels by key; level_names: labels by level and member. keys: how many different ones.
    """

    file: str
    mapping: FileMapping
    of: str
    keys: int
    entries: dict[str, tuple[LookupEntry, ...]]
    names: dict[str, str]
    level_names: dict[str, dict[str, str]]
    problems: list[Problem]
    conflicts: list[Problem]
    blank_rows: int

    def __len__(self) -> int:
        return self.keys
