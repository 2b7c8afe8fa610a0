"""Values that may be undefined, and the evaluation of a measure on totals."""

from __future__ import annotations

import operator
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache

import numpy as np

from lofty_abacus.core.measures.exacts import Exacts, Integers, Value, codes_of, divided, plus, scaled, undefined
from lofty_abacus.core.measures.exacts import integers as whole_numbers
from lofty_abacus.core.measures.expressions import Choice, Condition, Expression, Joined, Name, Number, Operation
from lofty_abacus.core.measures.sums import LineSum, Quantity
from lofty_abacus.core.measures.table import Measure, Terms
from lofty_abacus.core.windows.reasons import Reason

#: Measures of which it is remembered what they read; people define their own.
MOST_MEASURES = 2_000


@dataclass(frozen=True)
class Scales:
    """Decimals of the ledger's amounts and quantities, and of the quantities of its own by name (section 2)."""

    amount: int
    quantity: int
    further: tuple[tuple[str, int], ...] = ()

    def of(self, quantity: Quantity) -> int:
        """The decimals of one quantity's integers."""
        if not isinstance(quantity, LineSum) or quantity.column == "lines":
            return 0
        return self.of_column(quantity.column)

    def of_column(self, name: str) -> int:
        """The decimals of a column of figures."""
        return self.quantity if name == "quantity" else dict(self.further).get(name, self.amount)


@lru_cache(maxsize=MOST_MEASURES)
def quantities_read(measure: Measure) -> tuple[Quantity, ...]:
    """Everything that `evaluate` needs, in the order in which it takes the integers."""
    if measure.formula is not None:
        return tuple(dict.fromkeys(each for part in measure.parts for each in quantities_read(part)))
    counts = (each for pair in given_counts(measure) for each in pair)
    return tuple(dict.fromkeys((*measure.quantities, *counts)))


def evaluate(measure: Measure, integers: Sequence[int], scales: Scales) -> Value:
    """A measure on totals: `integers` are those of `quantities_read(measure)`, each at its column's scale."""
    return evaluate_all(measure, [whole_numbers([each]) for each in integers], scales).value(0)


def evaluate_all(measure: Measure, columns: Sequence[Integers], scales: Scales) -> Exacts:
    """A measure on columns of totals, [n] each: those of `quantities_read(measure)`, each at its column's scale.

    Division by 0 is `base_is_zero`; a percent measure with a negative denominator `base_is_negative`; no line that has the needed
    column at all, `not_given`; no lines at all is a plain 0 (section 1).
    """
    if measure.formula is not None:
        return _of_formula(measure, columns, scales)
    recipe = _recipe(measure, scales)
    top = Exacts.sums(_weighted(recipe.top, columns), recipe.decimals)
    if recipe.bottom is None:
        found = top
    else:
        below = Exacts.sums(_weighted(recipe.bottom, columns), recipe.bottom_decimals)
        found = divided(top, below, negative_too=measure.unit != "percent")
    lacking = np.zeros(len(found), bool)
    for having, every in recipe.given:
        lacking |= np.asarray((columns[having] == 0) & (columns[every] > 0), bool)
    return found.before_all(np.where(lacking, codes_of(["not_given"]), 0).astype(np.uint8))


def _weighted(terms: tuple[tuple[int, int], ...], columns: Sequence[Integers]) -> Integers:
    found: Integers | None = None
    for weight, at in terms:
        each = scaled(columns[at], weight)
        found = each if found is None else plus(found, each)
    assert found is not None, "a measure has a quantity"
    return found


def _of_formula(measure: Measure, columns: Sequence[Integers], scales: Scales) -> Exacts:
    at = {each: position for position, each in enumerate(quantities_read(measure))}
    parts = {
        part.name: evaluate_all(part, [columns[at[each]] for each in quantities_read(part)], scales) for part in measure.parts
    }
    percent, found = measure.unit == "percent", []
    for row in range(len(columns[0]) if columns else 1):
        values = {name: each.value(row) for name, each in parts.items()}
        found.append(evaluate_expression(measure.formula, values, percent=percent))  # type: ignore[arg-type]
    return Exacts.of(found)


def evaluate_expression(expression: Expression, values: Mapping[str, Value], *, percent: bool = False) -> Value:
    """An expression on the totals of its measures. An undefined part makes it undefined with the leftmost part's reason, unless
    the expression says what to take instead; percent: a negative denominator is `base_is_negative` (section 1)."""
    match expression:
        case Number():
            return Value(expression.value, None, expression.decimals)
        case Name():
            return values[expression.name]
        case Choice():
            holds = _holds(expression.condition, values, percent=percent)
            if not isinstance(holds, bool):
                return undefined(holds)
            if holds:
                return evaluate_expression(expression.value, values, percent=percent)
            if expression.other is None:
                return undefined("not_applicable")
            return evaluate_expression(expression.other, values, percent=percent)
        case Operation():
            left = evaluate_expression(expression.left, values, percent=percent)
            if expression.sign == "otherwise" and left.exact is not None:
                return left
            right = evaluate_expression(expression.right, values, percent=percent)
            return right if expression.sign == "otherwise" else _operated(expression.sign, left, right, percent=percent)


def _operated(sign: str, left: Value, right: Value, *, percent: bool) -> Value:
    if left.exact is None or right.exact is None:
        return Value(None, left.reason or right.reason)
    decimals = None if left.decimals is None or right.decimals is None else max(left.decimals, right.decimals)
    match sign:
        case "+":
            return Value(left.exact + right.exact, None, decimals)
        case "-":
            return Value(left.exact - right.exact, None, decimals)
        case "*":
            return Value(left.exact * right.exact)
        case "least":
            return Value(max(left.exact, right.exact), None, decimals)
        case "most":
            return Value(min(left.exact, right.exact), None, decimals)
    if right.exact == 0:
        return undefined("base_is_zero")
    if right.exact < 0 and percent:
        return undefined("base_is_negative")
    return Value(left.exact / right.exact)


def _holds(condition: Condition, values: Mapping[str, Value], *, percent: bool) -> bool | Reason:
    """Whether a condition holds; the leftmost reason where a value that it compares is undefined."""
    if isinstance(condition, Joined):
        found = [_holds(part, values, percent=percent) for part in condition.parts]
        reason = next((each for each in found if not isinstance(each, bool)), None)
        if reason is not None:
            return reason
        if condition.word == "not":
            return not found[0]
        return all(found) if condition.word == "and" else any(found)
    left = evaluate_expression(condition.left, values, percent=percent)
    right = evaluate_expression(condition.right, values, percent=percent)
    if left.exact is None or right.exact is None:
        reason = left.reason or right.reason
        assert reason is not None, "an undefined value has a reason"
        return reason
    return _COMPARE[condition.sign](left.exact, right.exact)


_COMPARE: dict[str, Callable[[Fraction, Fraction], bool]] = {
    "=": operator.eq, "<>": operator.ne, "<": operator.lt, "<=": operator.le, ">": operator.gt, ">=": operator.ge,
}  # fmt: skip


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
    decimals: int
    bottom_decimals: int
    given: tuple[tuple[int, int], ...]


@lru_cache(maxsize=MOST_MEASURES)
def _recipe(measure: Measure, scales: Scales) -> _Recipe:
    at = {each: position for position, each in enumerate(quantities_read(measure))}

    def weighted(terms: Terms) -> tuple[tuple[tuple[int, int], ...], int]:
        decimals = max(scales.of(each) for each in terms.quantities)
        return tuple((sign * 10 ** (decimals - scales.of(each)), at[each]) for sign, each in terms.terms), decimals

    top, top_decimals = weighted(measure.top)
    bottom, bottom_decimals = weighted(measure.bottom) if measure.bottom else (None, 0)
    given = tuple((at[having], at[every]) for having, every in given_counts(measure))
    return _Recipe(top, bottom, top_decimals, bottom_decimals, given)
