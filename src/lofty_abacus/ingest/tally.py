"""What the pieces of a file add up to: counts, exact totals, days, members, and the rows that a check is about."""

from __future__ import annotations

from collections.abc import Hashable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Generic, TypeVar

import numpy as np
from numpy.typing import NDArray
from propcache.api import cached_property

from lofty_abacus.core.lines import NO_DAY
from lofty_abacus.core.money import INT64_MAX, MAX_SCALE, decimal_text
from lofty_abacus.ingest.problems import Problem
from lofty_abacus.ingest.staged import Numbers, StagedLines
from lofty_abacus.ingest.table import TextColumn

#: Problems of each kind that are kept to be shown; all are counted, and all their rows are known.
SHOWN = 200
#: Members of a dimension that are looked at one by one; a dimension with more (like order ids) is not.
MOST_MEMBERS = 100_000
#: An outlier is further from zero than this many times the 99th percentile of the file's figures, in files of 100 lines or more.
OUTLIER_TIMES = 20
OUTLIER_LEAST_LINES = 100
MOST_RETURNS = 500_000
#: Different figures that are kept side by side before they are put together.
MOST_LOOSE = 1_000_000
_WORD = (1 << 24) - 1
#: One sale line in so many, at most, has its days in another order than the others.
FEW_OF = 10
_Key = TypeVar("_Key", bound=Hashable)


@dataclass
class Told:
    """Problems of one kind: how many, the first of them, and the rows of all."""

    count: int = 0
    first: list[Problem] = field(default_factory=list)
    rows: list[int] = field(default_factory=list)

    def add(self, problems: Sequence[Problem]) -> None:
        """More of them."""
        self.count += len(problems)
        self.first.extend(problems[: SHOWN - len(self.first)])
        self.rows.extend(each.row for each in problems)


@dataclass
class OfMember:
    """Lines and net amount (in units of 1e-9) of a member."""

    lines: int = 0
    nano: int = 0


@dataclass(frozen=True)
class ReturnLine:
    """A return that names its order: with its day number, amount (minus the refund, in units of 1e-9) and row."""

    order: str
    product: str
    day: int
    nano: int
    row: int


@dataclass
class OwnTally:
    """What a figure or a day of the ledger's own adds up to. nano: in units of 1e-9; before, after: sale lines whose day lies
    before or after the day that they are counted on."""

    lines: int = 0
    nano: int = 0
    scale: int = 0
    missing: int = 0
    before: int = 0
    after: int = 0
    first: int | None = None
    last: int | None = None

    def add_figure(self, numbers: Numbers) -> None:
        """More figures."""
        missing = int(numbers.missing.sum())
        self.missing += missing
        self.lines += len(numbers.minor) - missing
        self.nano += numbers.total * 10 ** (MAX_SCALE - numbers.scale)
        self.scale = max(self.scale, numbers.scale)

    def add_days(self, days: NDArray[np.int32], staged: StagedLines) -> None:
        """More days: day numbers, NO_DAY for none."""
        has = days != NO_DAY
        self.missing += int((~has).sum())
        self.lines += int(has.sum())
        sold = has & ~staged.is_return
        self.before += int((sold & (days < staged.day)).sum())
        self.after += int((sold & (days > staged.day)).sum())
        if has.any():
            first, last = int(days[has].min()), int(days[has].max())
            self.first = first if self.first is None else min(first, self.first)
            self.last = last if self.last is None else max(last, self.last)

    @property
    def odd_side(self) -> int:
        """-1 where few sale lines have it before the day that they are counted on, 1 where few have it after; 0 for neither."""
        few, side = min((self.before, -1), (self.after, 1))
        return side if few and few * FEW_OF <= self.before + self.after else 0


@dataclass(frozen=True)
class Words:
    """Amounts in words of 24 bits, as doubles: those words (by number, the lowest is 0) that are not 0 throughout.

    A double holds their sums exactly for more lines than any piece has.
    """

    scale: int
    each: Sequence[tuple[int, NDArray[np.float64]]]

    @classmethod
    def of(cls, numbers: Numbers) -> Words:
        """The words of some amounts."""
        minor = numbers.minor
        words = enumerate((minor & _WORD, minor >> 24 & _WORD, minor >> 48))
        return cls(numbers.scale, [(number, word.astype(np.float64)) for number, word in words if word.any()])


class Sums(Generic[_Key]):
    """Lines and exact totals by key (a day, a member), added up as columns and made into numbers when they are asked for.

    Sums of words are kept in 64 bits, for more pieces than any file has; per scale, since pieces of a file may differ in it.
    """

    def __init__(self) -> None:
        self._places: dict[_Key, int] = {}
        self._lines: NDArray[np.int64] = np.zeros(0, np.int64)
        self._words: dict[int, NDArray[np.int64]] = {}

    def __len__(self) -> int:
        return len(self._places)

    def add(self, keys: Sequence[_Key], codes: NDArray[np.int64], amounts: Words) -> None:
        """Lines whose keys are keys[codes]: codes int64[n], from 0."""
        lines = np.bincount(codes, minlength=len(keys))
        occurring = np.flatnonzero(lines)
        places, mine = self._places, [keys[code] for code in occurring.tolist()]
        for key in mine:
            if key not in places:
                places[key] = len(places)
        at = np.fromiter(map(places.__getitem__, mine), np.int64, len(mine))
        size = len(places)
        # Each key stands in a place of its own: adding where they stand is exact.
        self._lines = _longer(self._lines, size)
        self._lines[at] += lines[occurring]
        words = _longer(self._words.get(amounts.scale, np.zeros((3, 0), np.int64)), size)
        for number, word in amounts.each:
            words[number, at] += np.bincount(codes, weights=word, minlength=len(keys))[occurring].astype(np.int64)
        self._words[amounts.scale] = words

    def by_key(self) -> dict[_Key, OfMember]:
        """Every key's lines and amount."""
        nano = [0] * len(self._places)
        for scale, words in self._words.items():
            unit = 10 ** (MAX_SCALE - scale)
            for at, (low, middle, high) in enumerate(words.T.tolist()):
                nano[at] += (low + (middle << 24) + (high << 48)) * unit
        return {
            key: OfMember(lines, nano[at]) for (key, at), lines in zip(self._places.items(), self._lines.tolist(), strict=True)
        }


def _longer(table: NDArray[np.int64], size: int) -> NDArray[np.int64]:
    """A table with so many columns: new ones are 0."""
    return np.pad(table, [(0, 0)] * (table.ndim - 1) + [(0, size - table.shape[-1])])


class Magnitudes:
    """How often each distance from zero occurs among figures: exact, and as long as there are different ones."""

    def __init__(self) -> None:
        self.scale = 0
        self._parts: list[tuple[NDArray[np.int64], NDArray[np.int64]]] = []
        self._settled = 0

    def add(self, numbers: Numbers) -> None:
        """More figures."""
        values, counts = np.unique(np.abs(numbers.minor), return_counts=True)
        if numbers.scale > self.scale:
            self._parts = [(_finer(known, numbers.scale - self.scale), times) for known, times in self._parts]
            self.scale = numbers.scale
        self._parts.append((_finer(values, self.scale - numbers.scale), counts))
        if sum(len(known) for known, _ in self._parts) > 2 * self._settled + MOST_LOOSE:
            self._settle()

    def bound(self) -> int | None:
        """OUTLIER_TIMES the 99th percentile of the figures that are not 0, in minor units; None for too few figures."""
        self._settle()
        values, counts = self._parts[0] if self._parts else (np.empty(0, np.int64), np.empty(0, np.int64))
        filled = values > 0
        values, upto = values[filled], np.cumsum(counts[filled])
        if not len(upto) or upto[-1] < OUTLIER_LEAST_LINES:
            return None
        rank = -(-int(upto[-1]) * 99 // 100)
        return int(values[np.searchsorted(upto, rank)]) * OUTLIER_TIMES

    def beyond(self) -> int:
        """How many figures are outliers."""
        bound = self.bound()
        if bound is None:
            return 0
        values, counts = self._parts[0]
        return sum(counts[values > min(bound, INT64_MAX)].tolist())

    def is_beyond(self, numbers: Numbers) -> NDArray[np.bool_]:
        """Which of some figures are outliers: bool[n]."""
        bound = self.bound()
        if bound is None:
            return np.zeros(len(numbers.minor), bool)
        return _finer(np.abs(numbers.minor), self.scale - numbers.scale) > min(bound, INT64_MAX)

    def _settle(self) -> None:
        if len(self._parts) > 1:
            every = np.concatenate([values for values, _ in self._parts])
            times = np.concatenate([counts for _, counts in self._parts])
            values, at = np.unique(every, return_inverse=True)
            self._parts = [(values, np.bincount(at, weights=times).astype(np.int64))]
        self._settled = len(self._parts[0][0]) if self._parts else 0


def _finer(values: NDArray[np.int64], decimals: int) -> NDArray[np.int64]:
    """Values with more decimals; those that 64 bits do not hold are the largest that they do."""
    factor = int(10**decimals)
    return np.where(values > INT64_MAX // factor, INT64_MAX, np.minimum(values, INT64_MAX // factor) * factor)


class Tally:
    """Added up piece by piece. Amounts are integers in units of 1e-9, the finest that a ledger keeps."""

    def __init__(self) -> None:
        self.lines = self.sale_lines = self.return_lines = self.left_out = self.blank_rows = 0
        self.nano = self.return_nano = 0
        self.amount_scale = self.quantity_scale = 0
        self.problems, self.repeated, self.identical, self.set_aside = Told(), Told(), Told(), Told()
        #: Per currency for which there is no rate: lines, and their amount in units of 1e-9 of it.
        self.foreign: dict[str, OfMember] = {}
        self._days: Sums[int] = Sums()
        self._members: dict[str, Sums[str] | None] = {}
        self.returns: list[ReturnLine] = []
        self.figures = {"amount": Magnitudes(), "quantity": Magnitudes()}
        #: Figures and days of the ledger's own, by name.
        self.own: dict[str, OwnTally] = {}

    def add(self, staged: StagedLines) -> None:
        """Another piece."""
        nano = 10 ** (MAX_SCALE - staged.amount.scale)
        self.lines += len(staged)
        self.sale_lines += int((~staged.is_return).sum())
        self.return_lines += int(staged.is_return.sum())
        self.left_out += staged.left_out
        self.blank_rows += staged.blank_rows
        self.nano += staged.amount.total * nano
        self.return_nano += _exact_sum(staged.amount.minor[staged.is_return]) * nano
        self.amount_scale = max(self.amount_scale, staged.amount.scale, staged.cost.scale if staged.cost else 0)
        self.quantity_scale = max(self.quantity_scale, staged.quantity.scale if staged.quantity else 0)
        for use, numbers in staged.figures.items():
            self.own.setdefault(use, OwnTally()).add_figure(numbers)
        for use, days in staged.days.items():
            self.own.setdefault(use, OwnTally()).add_days(days, staged)
        for told, found in (
            (self.problems, staged.problems),
            (self.repeated, staged.repeated),
            (self.identical, staged.identical),
            (self.set_aside, staged.set_aside),
        ):
            told.add(found)
        for each in staged.foreign:
            of = self.foreign.setdefault(each.currency, OfMember())
            of.lines += each.lines
            of.nano += each.amount[0] * 10 ** (MAX_SCALE - each.amount[1])
        amounts = Words.of(staged.amount)
        if len(staged):
            first, last = int(staged.day.min()), int(staged.day.max())
            self._days.add(range(first, last + 1), staged.day.astype(np.int64) - first, amounts)
        for name, (role, column) in staged.dimensions.items():
            if role != "order":
                self._add_members(name, column, amounts)
        self._add_returns(staged, nano)
        self.figures["amount"].add(staged.amount)
        if staged.quantity is not None:
            self.figures["quantity"].add(staged.quantity)

    @cached_property
    def by_day(self) -> Mapping[int, OfMember]:
        """Lines and net amount of each day that has lines, when all pieces are added."""
        return self._days.by_key()

    @cached_property
    def members(self) -> Mapping[str, Mapping[str, OfMember] | None]:
        """Per dimension, lines and net amount of its members; None of a dimension with too many of them."""
        return {name: None if sums is None else sums.by_key() for name, sums in self._members.items()}

    @property
    def amount(self) -> str:
        """Net control total as decimal text."""
        return self.text(self.nano)

    def text(self, nano: int) -> str:
        """An amount at the file's scale."""
        return decimal_text(nano // 10 ** (MAX_SCALE - self.amount_scale), self.amount_scale)

    def _add_members(self, name: str, column: TextColumn, amounts: Words) -> None:
        known = self._members.setdefault(name, Sums())
        if known is None:
            return
        known.add(column.texts, column.codes.astype(np.int64), amounts)
        if len(known) > MOST_MEMBERS:
            self._members[name] = None

    def _add_returns(self, staged: StagedLines, nano: int) -> None:
        order = next((column for role, column in staged.dimensions.values() if role == "order"), None)
        if order is None or len(self.returns) >= MOST_RETURNS:
            return
        product = next((column for role, column in staged.dimensions.values() if role == "product"), None)
        for at in np.flatnonzero(staged.is_return)[: MOST_RETURNS - len(self.returns)].tolist():
            self.returns.append(
                ReturnLine(
                    order.text(at),
                    product.text(at) if product else "",
                    int(staged.day[at]),
                    int(staged.amount.minor[at]) * nano,
                    int(staged.rows[at]),
                )
            )


def _exact_sum(minor: NDArray[np.int64]) -> int:
    return (int((minor >> 32).sum()) << 32) + int((minor & 0xFFFFFFFF).sum())
