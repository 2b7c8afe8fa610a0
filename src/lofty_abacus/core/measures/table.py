"""The measures, as a table that code, tests and documents all walk (section 1)."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Literal

from propcache.api import cached_property

from lofty_abacus.core.errors import QuestionError, nearest
from lofty_abacus.core.measures.expressions import WORDS, Expression, names_in, parse
from lofty_abacus.core.measures.sums import DistinctIds, LineSum, Quantity, Side
from lofty_abacus.core.saying import say

_NAME = re.compile(r"[^\W\d]\w{0,59}")
Kind = Literal["additive", "distinct", "derived"]
Unit = Literal["currency", "count", "percent", "currency_per_unit", "units", "number"]
Polarity = Literal["more_is_favourable", "more_is_adverse", "neutral"]


@dataclass(frozen=True)
class Terms:
    """A linear form over quantities: the sum of sign x quantity, at the scale of its column."""

    terms: tuple[tuple[int, Quantity], ...]

    @property
    def quantities(self) -> tuple[Quantity, ...]:
        """The quantities read."""
        return tuple(quantity for _, quantity in self.terms)


@dataclass(frozen=True)
class Measure:
    """One measure: `top`, or for a derived measure `top / bottom`, both evaluated on totals; or a formula over other measures."""

    name: str
    kind: Kind
    unit: Unit
    polarity: Polarity
    decimals: int
    top: Terms
    bottom: Terms | None = None
    formula: Expression | None = None
    parts: tuple[Measure, ...] = ()

    @cached_property
    def _hash(self) -> int:
        return hash((self.name, self.kind, self.unit, self.decimals, self.top, self.bottom, self.formula, self.parts))

    def __hash__(self) -> int:
        # Every value is looked up by its measure: the tree of its terms is walked once.
        return self._hash

    @property
    def quantities(self) -> tuple[Quantity, ...]:
        """Everything its evaluation reads."""
        if self.formula is not None:
            return tuple(dict.fromkeys(each for part in self.parts for each in part.quantities))
        return self.top.quantities + (self.bottom.quantities if self.bottom else ())

    @property
    def given(self) -> frozenset[str]:
        """The columns that a line must have to be read by this measure."""
        return frozenset(name for each in self.quantities if isinstance(each, LineSum) for name in each.given)


def _sum(column: Literal["amount", "quantity", "cost", "lines"], side: Literal["sale", "return", "all"]) -> LineSum:
    return LineSum(column, side, (column,) if column in ("quantity", "cost") else ())


def _plus(*quantities: Quantity) -> Terms:
    return Terms(tuple((1, each) for each in quantities))


_GROSS, _BACK, _NET = _sum("amount", "sale"), _sum("amount", "return"), _sum("amount", "all")
_UNITS, _UNITS_BACK, _COST = _sum("quantity", "all"), _sum("quantity", "return"), _sum("cost", "all")
_NET_WITH_COST, _NET_WITH_QUANTITY = LineSum("amount", "all", ("cost",)), LineSum("amount", "all", ("quantity",))
_LINES, _ORDERS = _sum("lines", "all"), DistinctIds("order")

MORE: Polarity = "more_is_favourable"
LESS: Polarity = "more_is_adverse"
NEUTRAL: Polarity = "neutral"

MEASURES: dict[str, Measure] = {
    measure.name: measure
    for measure in (
        Measure("net_sales", "additive", "currency", MORE, 2, _plus(_NET)),
        Measure("gross_sales", "additive", "currency", MORE, 2, _plus(_GROSS)),
        Measure("returns", "additive", "currency", LESS, 2, Terms(((-1, _BACK),))),
        Measure("units", "additive", "units", MORE, 0, _plus(_UNITS)),
        Measure("returned_units", "additive", "units", LESS, 0, Terms(((-1, _UNITS_BACK),))),
        Measure("cost", "additive", "currency", LESS, 2, _plus(_COST)),
        Measure("lines", "additive", "count", NEUTRAL, 0, _plus(_LINES)),
        Measure("orders", "distinct", "count", MORE, 0, _plus(_ORDERS)),
        Measure("active_customers", "distinct", "count", MORE, 0, _plus(DistinctIds("customer"))),
        Measure("active_products", "distinct", "count", MORE, 0, _plus(DistinctIds("product"))),
        Measure("average_order_value", "derived", "currency", MORE, 2, _plus(_GROSS), _plus(_ORDERS)),
        Measure("price_per_unit", "derived", "currency_per_unit", MORE, 2, _plus(_NET_WITH_QUANTITY), _plus(_UNITS)),
        Measure(
            "margin_percent",
            "derived",
            "percent",
            MORE,
            1,
            Terms(((1, _NET_WITH_COST), (-1, _COST))),
            _plus(_NET_WITH_COST),
        ),
        Measure("return_rate", "derived", "percent", LESS, 1, Terms(((-1, _BACK),)), _plus(_GROSS)),
    )
}


@dataclass(frozen=True)
class FurtherFigure:
    """A figure of a ledger's own (section 1): an amount in its currency and scale, or a quantity in a unit and scale of its own.

    decimals: its scale. unit: what a quantity is counted in, as the reader sees it.
    """

    name: str
    kind: Literal["amount", "quantity"]
    decimals: int
    unit: str = ""
    polarity: Polarity = NEUTRAL
    description: str = ""


#: What the sides of a figure of one's own are called behind its name.
SIDES: tuple[tuple[Side, str, int], ...] = (("all", "", 1), ("sale", "_of_sales", 1), ("return", "_of_returns", -1))
MOST_SHOWN_DECIMALS = 2


def further_measures(figures: Sequence[FurtherFigure]) -> dict[str, Measure]:
    """The measures that a ledger's own figures are, by name: of all lines, of its sales, and of its returns, shown positive.

    Each counts only the lines that have it.
    """
    return {
        f"{each.name}{ending}": Measure(
            f"{each.name}{ending}",
            "additive",
            "currency" if each.kind == "amount" else "units",
            each.polarity,
            2 if each.kind == "amount" else min(each.decimals, MOST_SHOWN_DECIMALS),
            Terms(((sign, LineSum(each.name, side, (each.name,))),)),
        )
        for each in figures
        for side, ending, sign in SIDES
    }


def measure_named(name: str, part: str, known: Mapping[str, Measure] = MEASURES) -> Measure:
    """The measure of that name. Raises QuestionError with the nearest known name."""
    if name not in known:
        raise QuestionError(part, say("there is no measure {name!r}.", name=name), nearest(name, known))
    return known[name]


@dataclass(frozen=True)
class DefinedMeasure:
    """A derived measure of the analyst's own: an expression over other measures (docs/expressions.md) and how it is shown."""

    name: str
    expression: str
    unit: Unit = "number"
    decimals: int = 2
    polarity: Polarity = MORE


def measures_with(
    defined: Sequence[DefinedMeasure], figures: Sequence[FurtherFigure] = (), part: str = "defined"
) -> Mapping[str, Measure]:
    """The measures, those of a ledger's own figures, and those defined on top of them, each of which may use the ones before it.

    Raises QuestionError.
    """
    known = MEASURES | further_measures(figures)
    for at, each in enumerate(defined):
        here = f"{part}[{at}]"
        if _NAME.fullmatch(each.name) is None or each.name in WORDS:
            raise QuestionError(
                here,
                say("{name!r} cannot be a name.", name=each.name),
                say("Use letters, digits and _, and no word of the language."),
            )
        if each.name in known:
            raise QuestionError(here, say("there is a measure {name!r} already.", name=each.name), say("Choose another name."))
        if not 0 <= each.decimals <= 9:
            raise QuestionError(here, say("{decimals} decimals cannot be shown.", decimals=each.decimals), say("Take 0 to 9."))
        known[each.name] = _defined(each, known, here)
    return known


def _defined(each: DefinedMeasure, known: Mapping[str, Measure], part: str) -> Measure:
    formula = parse(each.expression, known, part)
    used = [known[name] for name in dict.fromkeys(names_in(formula))]
    if not used:
        raise QuestionError(part, say("the expression names no measure."), say("Use at least one."))
    # Where one part needs a cost or quantity, all read only the lines that have it (section 1).
    given = tuple(sorted(frozenset().union(*(one.given for one in used))))
    parts = tuple(_reading_only(one, given) for one in used)
    return Measure(each.name, "derived", each.unit, each.polarity, each.decimals, Terms(()), None, formula, parts)


def _reading_only(measure: Measure, given: tuple[str, ...]) -> Measure:
    def narrowed(terms: Terms) -> Terms:
        return Terms(tuple((sign, replace(one, given=given) if isinstance(one, LineSum) else one) for sign, one in terms.terms))

    return replace(
        measure,
        top=narrowed(measure.top),
        bottom=narrowed(measure.bottom) if measure.bottom else None,
        parts=tuple(_reading_only(part, given) for part in measure.parts),
    )
