from __future__ import annotations

from decimal import ROUND_HALF_UP, Decimal
from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lofty_abacus.core.errors import NotExactError
from lofty_abacus.core.money import at_scale, decimal_parts, decimal_text, minor_units, ratio_text, round_half_away


@pytest.mark.parametrize(
    ("text", "scale", "minor"), [("12.5", 2, 1250), ("-0.01", 2, -1), ("7", 0, 7), (".5", 1, 5), ("1.000", 0, 1), ("+3", 2, 300)]
)
def test_text_becomes_minor_units(text: str, scale: int, minor: int) -> None:
    assert minor_units(text, scale) == minor


@pytest.mark.parametrize("text", ["", "-", ".", "1e2", "1,000", "0x1", "nan", " 1", "1.0000000001", "one"])
def test_what_is_no_plain_decimal_is_refused(text: str) -> None:
    with pytest.raises(NotExactError):
        minor_units(text, 9)


def test_digits_are_never_lost() -> None:
    with pytest.raises(NotExactError, match="needs more than 1 decimals"):
        minor_units("0.25", 1)
    with pytest.raises(NotExactError, match="too large"):
        minor_units("92233720368547758.08", 2)
    assert minor_units("92233720368547758.07", 2) == 2**63 - 1


def test_a_float_is_no_amount() -> None:
    with pytest.raises(TypeError):
        minor_units(12.5, 2)  # type: ignore[arg-type]


@given(st.integers(-(2**63) + 1, 2**63 - 1), st.integers(0, 9))
def test_text_and_back(minor: int, scale: int) -> None:
    unscaled, decimals = decimal_parts(decimal_text(minor, scale))
    assert at_scale(unscaled, decimals, scale) == minor


@given(st.integers(-(10**20), 10**20), st.integers(1, 10**9), st.integers(0, 6))
def test_rounding_is_half_away_from_zero(top: int, bottom: int, decimals: int) -> None:
    text = round_half_away(Fraction(top, bottom), decimals)
    error = abs(Fraction(text) - Fraction(top, bottom)) * 10**decimals
    assert error <= Fraction(1, 2)
    if error == Fraction(1, 2):
        assert abs(Fraction(text)) > abs(Fraction(top, bottom))
    assert not (text.startswith("-") and Fraction(text) == 0), "a result that rounds to zero has no sign"


@given(st.fractions().filter(lambda f: f != 0))
def test_ratios_have_fifteen_significant_digits(ratio: Fraction) -> None:
    text = ratio_text(ratio)
    assert abs(Fraction(text) - ratio) <= abs(ratio) * Fraction(1, 10**14)
    digits = text.lstrip("-").replace(".", "").lstrip("0").rstrip("0")
    assert len(digits) <= 15 or "." not in text


def test_known_roundings() -> None:
    assert round_half_away(Fraction(1, 8), 2) == "0.13"
    assert round_half_away(Fraction(-1, 8), 2) == "-0.13"
    assert round_half_away(Fraction(-4, 1000), 2) == "0.00"
    assert ratio_text(Fraction(1, 3)) == "0.333333333333333"
    assert ratio_text(Fraction(2, 3)) == "0.666666666666667"
    assert Decimal("0.125").quantize(Decimal("0.01"), ROUND_HALF_UP) == Decimal(round_half_away(Fraction(1, 8), 2))
