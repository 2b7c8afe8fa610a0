"""Values that may be undefined, and the evaluation of a measure on totals."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from fractions import Fraction

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


#: Looks up a quantity's integer at its scale for one row and window.
Totals = Callable[[Quantity], int]


def evaluate(measure: Measure, totals: Totals, scales: Scales) -> Value:
    """A measure on totals. Division by 0 is `base_is_zero`; a percent measure with a negative denominator `base_is_negative`;
    no line that has the needed column at all, `not_given` (section 1).
    """
    if _nothing_given(measure, totals):
        return undefined("not_given")
    top = _linear(measure.top, totals, scales)
    if measure.bottom is None:
        return Value(top, None, max(scales.of(each) for each in measure.top.quantities))
    bottom = _linear(measure.bottom, totals, scales)
    if bottom == 0:
        return undefined("base_is_zero")
    if bottom < 0 and measure.unit == "percent":
        return undefined("base_is_negative")
    return Value(top / bottom)


def given_counts(measure: Measure) -> Iterable[tuple[LineSum, LineSum]]:
    """Pairs of (lines that have what the measure needs, all lines), to tell how many a missing column left out."""
    for each in measure.quantities:
        if isinstance(each, LineSum) and each.given:
            yield LineSum("lines", each.side, each.given), LineSum("lines", each.side)


def _nothing_given(measure: Measure, totals: Totals) -> bool:
    """Whether there are lines, and none of them has the column that the measure reads. No lines at all is a plain 0."""
    return any(totals(having) == 0 and totals(every) > 0 for having, every in given_counts(measure))


def _linear(terms: Terms, totals: Totals, scales: Scales) -> Fraction:
    scale = max(scales.of(each) for each in terms.quantities)
    total = sum(sign * totals(each) * 10 ** (scale - scales.of(each)) for sign, each in terms.terms)
    return Fraction(total, 10**scale)
