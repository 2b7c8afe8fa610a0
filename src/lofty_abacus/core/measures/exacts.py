"""Columns of exact values: numerators and denominators as whole columns, with the reasons where there is no value.

64-bit integers as long as they hold every product and sum that is formed; Python's own beyond. No binary float decides
anything: the order of ratios begins with their nearest floats and is settled by cross products wherever two of those lie close.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from fractions import Fraction
from typing import Any, TypeAlias, cast, get_args

import numpy as np
from numpy.typing import NDArray

from lofty_abacus.core.windows.reasons import Reason

Integers: TypeAlias = NDArray[np.int64] | NDArray[np.object_]
REASONS: tuple[Reason, ...] = get_args(Reason)
#: Stands for "a ratio" among the decimals of values.
RATIO = -1
_LIMIT = 2**63
#: Floats of exact values that lie closer than this, relatively, are held against each other exactly.
_CLOSE = 1e-13


@dataclass(frozen=True)
class Value:
    """An exact value in whole units of its measure (never minor units), or the reason why there is none.

    decimals: decimals of an exact sum; None for a ratio.
    """

    exact: Fraction | None
    reason: Reason | None = None
    decimals: int | None = None

    @property
    def is_defined(self) -> bool:
        """Whether there is a value."""
        return self.exact is not None


def undefined(reason: Reason) -> Value:
    """No value, and why."""
    return Value(None, reason)


@dataclass(frozen=True)
class Exacts:
    """n exact values in whole units: top / bottom, [n], bottom above 0.

    reason: u8[n], 0 where there is a value, else the place of its reason among `REASONS`, from 1. decimals: i8[n], those of an
    exact sum, RATIO for a ratio.
    """

    top: Integers
    bottom: Integers
    reason: NDArray[np.uint8]
    decimals: NDArray[np.int8]

    def __len__(self) -> int:
        return len(self.top)

    @staticmethod
    def of(values: Sequence[Value]) -> Exacts:
        """Values as a column."""
        exact = [Fraction(0) if each.exact is None else each.exact for each in values]
        return Exacts(
            integers([each.numerator for each in exact]),
            integers([each.denominator for each in exact]),
            np.array([0 if each.exact is not None else _code(each.reason) for each in values], np.uint8),
            np.array([RATIO if each.decimals is None else each.decimals for each in values], np.int8),
        )

    @staticmethod
    def sums(top: Integers, decimals: int) -> Exacts:
        """Exact sums in minor units at so many decimals."""
        count = len(top)
        return Exacts(top, np.full(count, 10**decimals, np.int64), np.zeros(count, np.uint8), np.full(count, decimals, np.int8))

    @staticmethod
    def undefined(reason: Reason, count: int) -> Exacts:
        """As many values that there are none of."""
        zeros = np.zeros(count, np.int64)
        return Exacts(zeros, zeros + 1, np.full(count, _code(reason), np.uint8), np.full(count, RATIO, np.int8))

    def value(self, at: int) -> Value:
        """One of them."""
        if self.reason[at]:
            return Value(None, REASONS[int(self.reason[at]) - 1])
        decimals = int(self.decimals[at])
        return Value(Fraction(int(self.top[at]), int(self.bottom[at])), None, None if decimals == RATIO else decimals)

    def take(self, places: NDArray[np.int64]) -> Exacts:
        """Some of them, by place."""
        return Exacts(self.top[places], self.bottom[places], self.reason[places], self.decimals[places])

    def repeated(self, count: int) -> Exacts:
        """The only one, as many times."""
        return self.take(np.zeros(count, np.int64)) if len(self) != count else self

    def without(self, where: NDArray[np.bool_], reason: Reason) -> Exacts:
        """Undefined, for a reason, where it says so and there was a value."""
        return self.unless(np.where(where, _code(reason), 0).astype(np.uint8))

    def before_all(self, reason: NDArray[np.uint8]) -> Exacts:
        """Undefined where a reason is given, whatever else it may be undefined for: u8[n] as `reason`."""
        if not reason.any():
            return self
        found = self.unless(reason)
        return replace(found, reason=np.where(reason != 0, reason, found.reason).astype(np.uint8))

    def put(self, places: NDArray[np.int64], others: Exacts) -> Exacts:
        """With others in some places."""
        top, bottom = _wide(self.top, others.top), _wide(self.bottom, others.bottom)
        reason, decimals = self.reason.copy(), self.decimals.copy()
        top[places], bottom[places] = others.top, others.bottom
        reason[places], decimals[places] = others.reason, others.decimals
        return Exacts(top, bottom, reason, decimals)

    def over(self, divisors: NDArray[np.int64]) -> Exacts:
        """Divided by whole numbers from 1 on, [n]; by 1 a sum stays one."""
        decimals = np.where(divisors == 1, self.decimals, RATIO).astype(np.int8)
        return Exacts(self.top, times(self.bottom, divisors), self.reason, decimals)

    def unless(self, reason: NDArray[np.uint8]) -> Exacts:
        """Undefined where a reason is given and there was a value: u8[n] as `reason`."""
        if not reason.any():
            return self
        found = np.where(self.reason == 0, reason, self.reason).astype(np.uint8)
        top = self.top.copy()
        bottom = self.bottom.copy()
        top[found != 0], bottom[found != 0] = 0, 1
        return Exacts(top, bottom, found, self.decimals)


def _wide(column: Integers, other: Integers) -> Integers:
    """A copy of a column that takes the other's integers, too."""
    return column.copy() if column.dtype == other.dtype else column.astype(object)


def codes_of(reasons: Sequence[Reason | None]) -> NDArray[np.uint8]:
    """Reasons as a column, 0 for none."""
    return np.array([0 if each is None else _code(each) for each in reasons], np.uint8)


def _code(reason: Reason | None) -> int:
    assert reason is not None, "an undefined value has a reason"
    return REASONS.index(reason) + 1


def integers(values: Sequence[int]) -> Integers:
    """Integers as a column of 64 bits, or of Python's own where one needs more."""
    try:
        return np.array(values, np.int64)
    except OverflowError:
        return np.array(values, object)


def largest(column: Integers) -> int:
    """The largest size of its integers."""
    return max(int(column.max()), -int(column.min())) if len(column) else 0


def _plain(*columns: Integers) -> bool:
    return all(each.dtype != object for each in columns)


def times(one: Integers, other: Integers) -> Integers:
    """Products, exact."""
    if _plain(one, other) and largest(one) * largest(other) < _LIMIT:
        return cast("Integers", np.multiply(one, other))
    return cast("Integers", np.multiply(one.astype(object), other.astype(object)))


def scaled(one: Integers, factor: int) -> Integers:
    """Products with one factor, exact."""
    if factor == 1:
        return one
    if one.dtype != object and abs(factor) < _LIMIT and largest(one) * abs(factor) < _LIMIT:
        return one * factor
    return one.astype(object) * factor


def plus(one: Integers, other: Integers) -> Integers:
    """Sums, exact."""
    if _plain(one, other) and largest(one) + largest(other) < _LIMIT:
        return cast("Integers", np.add(one, other))
    return cast("Integers", np.add(one.astype(object), other.astype(object)))


def total(column: Integers) -> int:
    """The sum of a column, exact."""
    if column.dtype != object and largest(column) * len(column) < _LIMIT:
        return int(column.sum())
    return sum(column.tolist())


def summed_up(column: Integers) -> Integers:
    """Running sums of a column, exact."""
    if column.dtype != object and largest(column) * len(column) < _LIMIT:
        return column.cumsum()
    return column.astype(object).cumsum()


def reasons(*columns: Exacts) -> NDArray[np.uint8]:
    """Why what is made of these has no value: the first one's reason, else the next one's; 0 where all have values."""
    found = columns[0].reason
    for each in columns[1:]:
        found = np.where(found != 0, found, each.reason)
    return found


def minus(one: Exacts, other: Exacts) -> Exacts:
    """Differences; of sums a sum with the decimals of the finer one."""
    if np.array_equal(one.bottom, other.bottom):
        top, bottom = plus(one.top, -other.top), one.bottom
    else:
        top = plus(times(one.top, other.bottom), -times(other.top, one.bottom))
        bottom = times(one.bottom, other.bottom)
    both = (one.decimals >= 0) & (other.decimals >= 0)
    decimals = np.where(both, np.maximum(one.decimals, other.decimals), RATIO).astype(np.int8)
    nothing = np.zeros(len(one), np.uint8)
    return Exacts(top, bottom, nothing, decimals).unless(reasons(one, other))


def divided(one: Exacts, other: Exacts, *, negative_too: bool = False) -> Exacts:
    """Quotients: `base_is_zero` where the divisor is 0, `base_is_negative` where it is below, unless that is divided as it is."""
    top, bottom = times(one.top, other.bottom), times(one.bottom, other.top)
    zero, negative = other.top == 0, other.top < 0
    why = reasons(one, other)
    why = np.where((why == 0) & zero, _code("base_is_zero"), why)
    if not negative_too:
        why = np.where((why == 0) & negative, _code("base_is_negative"), why)
    turned = np.where(negative, -1, 1)
    nothing = np.zeros(len(one), np.uint8)
    ratio = np.full(len(one), RATIO, np.int8)
    return Exacts(top * turned, bottom * turned, nothing, ratio).unless(why.astype(np.uint8))


def order(column: Exacts, *, descending: bool = False, by_size: bool = False) -> tuple[NDArray[np.int64], int]:
    """The places of values in exact order, ties as they come, those without a value last; and how many have one."""
    defined, rest = np.flatnonzero(column.reason == 0), np.flatnonzero(column.reason != 0)
    top, bottom = column.top[defined], column.bottom[defined]
    if len(top) and top.dtype != object and int(top.min()) == -_LIMIT:
        # The smallest integer of 64 bits has no counterpart above zero.
        top = top.astype(object)
    if by_size:
        top = np.abs(top)
    if descending:
        top = -top
    return np.concatenate((defined[_ascending(top, bottom)], rest)).astype(np.int64), len(defined)


def _ascending(top: Integers, bottom: Integers) -> NDArray[np.int64]:
    if not len(top):
        return np.empty(0, np.int64)
    if (bottom == bottom[0]).all():
        return np.argsort(top, kind="stable")
    near: NDArray[np.float64] = (top / bottom).astype(np.float64)
    found: NDArray[np.int64] = np.argsort(near, kind="stable")
    near = near[found]
    close = np.abs(np.diff(near)) <= _CLOSE * np.maximum(np.abs(near[1:]), np.abs(near[:-1]))
    # Equal ones are in their order already; only runs that hold close and unlike ones are settled exactly.
    loose = np.flatnonzero(close & ~_alike(top[found], bottom[found]))
    done = 0
    for at in loose.tolist():
        if at < done:
            continue
        start, stop = at, at + 1
        while start > done and close[start - 1]:
            start -= 1
        while stop < len(close) and close[stop]:
            stop += 1
        run = found[start : stop + 1]
        exact = {place: Fraction(int(top[place]), int(bottom[place])) for place in run.tolist()}
        found[start : stop + 1] = sorted(run.tolist(), key=lambda place, exact=exact: (exact[place], place))  # type: ignore[misc]
        done = stop + 1
    return found


def _alike(top: Integers, bottom: Integers) -> NDArray[np.bool_]:
    """Whether each value equals the one after it: bool[n - 1]."""
    found: Any = times(top[:-1], bottom[1:]) == times(top[1:], bottom[:-1])
    return np.asarray(found, bool)


def ranks(column: Exacts, *, descending: bool) -> NDArray[np.int64]:
    """How many values come before each, i64[n]: alike ones share a place; -1 where there is no value."""
    places, count = order(column, descending=descending)
    found = np.full(len(column), -1, np.int64)
    if count:
        first = places[:count]
        begins = np.concatenate(([True], ~_alike(column.top[first], column.bottom[first])))
        found[first] = np.flatnonzero(begins)[np.cumsum(begins) - 1]
    return found


def within(column: Exacts, low: Fraction | None, high: Fraction | None) -> NDArray[np.bool_]:
    """Whether there is a value, and it lies within bounds that count: bool[n]."""
    found = np.asarray(column.reason == 0, bool)
    if low is not None:
        found = found & np.asarray(scaled(column.top, low.denominator) >= scaled(column.bottom, low.numerator), bool)
    if high is not None:
        found = found & np.asarray(scaled(column.top, high.denominator) <= scaled(column.bottom, high.numerator), bool)
    return found
