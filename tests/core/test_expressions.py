"""The expression language: what it means, and where it says that something is wrong."""

from __future__ import annotations

from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lofty_abacus.core.errors import QuestionError
from lofty_abacus.core.measures.exacts import Value, undefined
from lofty_abacus.core.measures.expressions import names_in, parse
from lofty_abacus.core.measures.value import evaluate_expression

KNOWN = {
    "a": Fraction(6),
    "b": Fraction(4),
    "zero": Fraction(0),
    "minus": Fraction(-2),
    "none": "not_given",
    "late": "after_as_of",
}
VALUES = {name: Value(each) if isinstance(each, Fraction) else undefined(each) for name, each in KNOWN.items()}  # type: ignore[arg-type]


def result(text: str, *, percent: bool = False) -> Fraction | str | None:
    found = evaluate_expression(parse(text, KNOWN, "defined[0]"), VALUES, percent=percent)
    return found.exact if found.exact is not None else found.reason


@pytest.mark.parametrize(
    ("text", "wanted"),
    [
        ("a + b * 2", 14),
        ("(a + b) * 2", 20),
        ("a - b - 1", 1),
        ("a / b / 2", Fraction(3, 4)),
        ("-a + b", -2),
        ("--a", 6),
        ("a * -0.5", -3),
        ("0.1 + 0.2", Fraction(3, 10)),
        ("a at most 5", 5),
        ("minus at least 0", 0),
        ("a at least 1 at most 3", 3),
        ("a / zero", "base_is_zero"),
        ("a / zero otherwise 7", 7),
        ("none otherwise late otherwise b", 4),
        ("none + late", "not_given"),
        ("late + none", "after_as_of"),
        ("a if b > 3", 6),
        ("a if b > 4", "not_applicable"),
        ("a if b > 4 otherwise b", 4),
        ("a if b > 4 otherwise b if zero = 0 otherwise 1", 4),
        ("a if none > 4 otherwise b", "not_given"),
        ("a if not b > 4 and (a > b or zero <> 0)", 6),
        ("a if (a + b) * 2 >= 20 otherwise 0", 6),
        ("a if (a) = 6 otherwise 0", 6),
        ("a / minus", -3),
    ],
)
def test_meanings(text: str, wanted: Fraction | str) -> None:
    assert result(text) == wanted


def test_a_percentage_has_no_negative_denominator() -> None:
    assert result("a / minus", percent=True) == "base_is_negative"


@pytest.mark.parametrize(
    ("text", "where", "why"),
    [
        ("a +", 4, "is missing before 'the end'"),
        ("a b", 3, "'b' does not belong here"),
        ("a + bb", 5, "there is no measure 'bb'"),
        ("(a + b", 7, "')' is missing"),
        ("a ^ 2", 3, "'^' has no meaning"),
        ("a at 3", 6, "'least' or 'most'"),
        ("a if b", 7, "a comparison is missing"),
        ("1.0000000001 * a", 1, "more than 9 decimals"),
        ("", 1, "is missing before 'the end'"),
        ("(" * 70 + "a" + ")" * 70, 61, "nested too deeply"),
        ("a if " + "(" * 30 + "a > 1" + ")" * 30, 15, "too many brackets"),
    ],
)
def test_errors_name_the_place(text: str, where: int, why: str) -> None:
    with pytest.raises(QuestionError, match=f"character {where}: ") as caught:
        parse(text, KNOWN, "defined[0]")
    assert why in str(caught.value) and caught.value.part == "defined[0]" and caught.value.way_out


@given(text=st.text(alphabet="ab01 .+-*/()<>=iftherwsmoand", max_size=40))
def test_any_text_is_read_or_refused(text: str) -> None:
    try:
        found = parse(text, KNOWN, "defined[0]")
    except QuestionError as error:
        assert error.part == "defined[0]"
        return
    assert set(names_in(found)) <= set(KNOWN)
    evaluate_expression(found, VALUES)


numbers = st.integers(0, 99).map(str)
trees = st.recursive(
    st.one_of(numbers, st.sampled_from(["a", "b", "minus"])),
    lambda inner: st.tuples(inner, st.sampled_from("+-*"), inner).map(lambda parts: f"({' '.join(parts)})"),
    max_leaves=12,
)


@given(text=trees)
def test_arithmetic_is_that_of_fractions(text: str) -> None:
    names = {name: each for name, each in KNOWN.items() if isinstance(each, Fraction)}
    assert result(text) == eval(text, {"__builtins__": {}}, names)


def test_measures_are_named_as_people_write_them() -> None:
    known = {"net_sales": Fraction(100), "orders": Fraction(8), "net": Fraction(1)}
    values = {name: Value(each) for name, each in known.items()}

    def found(text: str) -> Fraction | None:
        return evaluate_expression(parse(text, known, "defined[0]"), values, percent=False).exact

    assert found("net sales / orders") == found("net_sales / orders") == found("Net Sales / Orders") == Fraction(100, 8)
    assert found("net + net sales") == 101, "the longest name that is known"
    with pytest.raises(QuestionError, match="profit"):
        parse("net profit", known, "defined[0]")
