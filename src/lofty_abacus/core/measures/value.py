"""Values that may be undefined, and the evaluation of a measure on totals."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from fractions import Fraction
from functools import cache

from lofty_abacus.core.measures.sums import LineSum, Quantity
from lofty_abacus.core.measures.table import Measure, Terms
from lofty_abacus.core.windows.reasons import Reason


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
class Scales:
    """Decimals of the ledger's amounts and quantities (section 2)."""

    amount: int
    quantity: int

    def of(self, quantity: Quantity) -> int:
        """The decimals of one quantity's integers."""
        if not isinstance(quantity, LineSum) or quantity.column == "lines":
            return 0
        return self.quantity if quantity.column == "quantity" else self.amount


@cache
def quantities_read(measure: Measure) -> tuple[Quantity, ...]:
    """Everything that `evaluate` needs, in the order in which it takes the integers."""
    counts = (each for pair in given_counts(measure) for each in pair)
    return tuple(dict.fromkeys((*measure.quantities, *counts)))


def evaluate(measure: Measure, integers: Sequence[int], scales: Scales) -> Value:
    """A measure on totals: `integers` are those of `quantities_read(measure)`, each at its column's scale.

    Division by 0 is `base_is_zero`; a percent measure with a negative denominator `base_is_negative`; no line that has the needed
    column at all, `not_given`; no lines at all is a plain 0 (section 1).
    """
    recipe = _recipe(measure, scales)
    if any(integers[having] == 0 and integers[every] > 0 for having, every in recipe.given):
        return undefined("not_given")
    top = sum(weight * integers[at] for weight, at in recipe.top)
    if recipe.bottom is None:
        return Value(Fraction(top, recipe.top_unit), None, recipe.decimals)
    bottom = sum(weight * integers[at] for weight, at in recipe.bottom)
    if bottom == 0:
        return undefined("base_is_zero")
    if bottom < 0 and measure.unit == "percent":
        return undefined("base_is_negative")
    return Value(Fraction(top * recipe.bottom_unit, bottom * recipe.top_unit))


def given_counts(measure: Measure) -> Iterable[tuple[LineSum, LineSum]]:
    """Pairs of (lines that have what the measure needs, all lines), to tell how many a missing column left out."""
    for each in measure.quantities:
        if isinstance(each, LineSum) and each.given:
            yield LineSum("lines", each.side, each.given), LineSum("lines", each.side)


@dataclass(frozen=True)
class _Recipe:
    """A measure with its quantities as positions and its scales as weights: top, bottom as (weight, position)."""

    top: tuple[tuple[int, int], ...]
    bottom: tuple[tuple[int, int], ...] | None
    top_unit: int
    bottom_unit: int
    decimals: int
    given: tuple[tuple[int, int], ...]


@cache
def _recipe(measure: Measure, scales: Scales) -> _Recipe:
    at = {each: position for position, each in enumerate(quantities_read(measure))}

    def weighted(terms: Terms) -> tuple[tuple[tuple[int, int], ...], int]:
        decimals = max(scales.of(each) for each in terms.quantities)
        return tuple((sign * 10 ** (decimals - scales.of(each)), at[each]) for sign, each in terms.terms), decimals

    top, top_decimals = weighted(measure.top)
    bottom, bottom_decimals = weighted(measure.bottom) if measure.bottom else (None, 0)
    given = tuple((at[having], at[every]) for having, every in given_counts(measure))
    return _Recipe(top, bottom, 10**top_decimals, 10**bottom_decimals, top_decimals, given)
