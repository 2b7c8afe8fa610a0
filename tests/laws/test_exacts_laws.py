"""Whole columns of exact values behave as fractions, one by one: sums, quotients, order, places and bounds, whatever their size."""

from __future__ import annotations

from fractions import Fraction

import numpy as np
from hypothesis import example, given
from hypothesis import strategies as st

from lofty_abacus.core.answer.answer import cells_of
from lofty_abacus.core.measures.exacts import (
    Exacts,
    Value,
    divided,
    integers,
    minus,
    order,
    plus,
    ranks,
    scaled,
    summed_up,
    times,
    total,
    undefined,
    within,
)
from lofty_abacus.core.money import ratio_text, round_half_away

HUGE = st.integers(-(2**70), 2**70) | st.integers(-(2**63), 2**63 - 1) | st.integers(-5, 5)
SUMS = st.builds(lambda minor, decimals: Value(Fraction(minor, 10**decimals), None, decimals), HUGE, st.integers(0, 9))
#: Ratios that floats cannot tell apart are among them.
NEAR = st.builds(
    lambda whole, above, below: Value(Fraction(whole * 10**18 + above, 10**18 + below)),
    st.integers(-3, 3), st.integers(-2, 2), st.integers(0, 2),
)  # fmt: skip
RATIOS = st.builds(lambda top, bottom: Value(Fraction(top, bottom)), HUGE, st.integers(1, 2**66)) | NEAR
VALUES = st.lists(SUMS | RATIOS | st.sampled_from([undefined("not_given"), undefined("base_is_zero")]), max_size=12)
PAIRS = st.lists(st.tuples(SUMS | RATIOS | st.just(undefined("after_as_of")), SUMS | RATIOS), min_size=1, max_size=8)


def back(column: Exacts) -> list[Value]:
    return [column.value(at) for at in range(len(column))]


@given(VALUES)
def test_a_column_holds_its_values(values: list[Value]) -> None:
    assert back(Exacts.of(values)) == values


@given(st.lists(st.tuples(HUGE, HUGE), min_size=1, max_size=8), HUGE)
def test_integers_never_overflow(pairs: list[tuple[int, int]], factor: int) -> None:
    one, other = integers([a for a, _ in pairs]), integers([b for _, b in pairs])
    assert times(one, other).tolist() == [a * b for a, b in pairs]
    assert plus(one, other).tolist() == [a + b for a, b in pairs]
    assert scaled(one, factor).tolist() == [a * factor for a, _ in pairs]
    assert total(one) == sum(a for a, _ in pairs)
    assert summed_up(one).tolist() == [sum(a for a, _ in pairs[: at + 1]) for at in range(len(pairs))]


@given(PAIRS)
def test_differences_and_quotients_are_those_of_fractions(pairs: list[tuple[Value, Value]]) -> None:
    one, other = Exacts.of([a for a, _ in pairs]), Exacts.of([b for _, b in pairs])
    for (a, b), change, ratio, any_ratio in zip(
        pairs, back(minus(one, other)), back(divided(one, other)), back(divided(one, other, negative_too=True)), strict=True
    ):
        if a.exact is None or b.exact is None:
            assert change == ratio == any_ratio == Value(None, a.reason or b.reason)
            continue
        decimals = None if a.decimals is None or b.decimals is None else max(a.decimals, b.decimals)
        assert change == Value(a.exact - b.exact, None, decimals)
        if b.exact == 0:
            assert ratio == any_ratio == undefined("base_is_zero")
        else:
            assert any_ratio == Value(a.exact / b.exact)
            assert ratio == (any_ratio if b.exact > 0 else undefined("base_is_negative"))


@example(values=[Value(Fraction(0), None, 0), Value(Fraction(-(2**63)), None, 0)], descending=True, by_size=False)
@example(values=[Value(Fraction(5), None, 0), Value(Fraction(-(2**63)), None, 0)], descending=False, by_size=True)
@given(VALUES, st.booleans(), st.booleans())
def test_order_is_exact_and_ties_stay_as_they_come(values: list[Value], descending: bool, by_size: bool) -> None:
    def key(at: int) -> tuple[bool, Fraction]:
        exact = values[at].exact
        size = Fraction(0) if exact is None else abs(exact) if by_size else exact
        return exact is None, -size if descending else size

    places, count = order(Exacts.of(values), descending=descending, by_size=by_size)
    assert places.tolist() == sorted(range(len(values)), key=key)
    assert count == sum(value.exact is not None for value in values)


@given(VALUES, st.booleans())
def test_alike_values_share_a_place(values: list[Value], descending: bool) -> None:
    exact = [value.exact for value in values]
    expected = [
        -1 if each is None else sum(other is not None and (other > each if descending else other < each) for other in exact)
        for each in exact
    ]
    assert ranks(Exacts.of(values), descending=descending).tolist() == expected


@given(VALUES, st.none() | st.fractions(), st.none() | st.fractions())
def test_bounds_count(values: list[Value], low: Fraction | None, high: Fraction | None) -> None:
    expected = [
        value.exact is not None and (low is None or value.exact >= low) and (high is None or value.exact <= high)
        for value in values
    ]
    assert within(Exacts.of(values), low, high).tolist() == expected


@given(VALUES)
def test_cells_say_what_fractions_say(values: list[Value]) -> None:
    for value, cell in zip(values, cells_of(Exacts.of(values)), strict=True):
        if value.exact is None:
            assert (cell.value, cell.reason) == (None, value.reason)
        elif value.decimals is None:
            assert (cell.value, cell.numerator, cell.denominator) == (
                ratio_text(value.exact), str(value.exact.numerator), str(value.exact.denominator),
            )  # fmt: skip
        else:
            # Half away from zero has nothing to round in an exact sum.
            assert cell.value == round_half_away(value.exact, value.decimals)


def test_many_ties_cost_nothing_and_stay_in_order() -> None:
    values = Exacts.of([Value(Fraction(-1))] * 3 + [Value(Fraction(10**18 + at % 2, 10**18)) for at in range(20_000)])
    places, _ = order(values)
    assert places[:3].tolist() == [0, 1, 2]
    assert (np.diff(places[3:10_003]) > 0).all() and (np.diff(places[10_003:]) > 0).all()
