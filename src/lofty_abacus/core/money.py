"""Exact decimals: from text to integers at a scale, and back to text (semantics, section 2).

An amount is an integer number of minor units at the ledger's scale (its count of decimals, 0 to 9). No function here takes or
gives a binary float.
"""

from __future__ import annotations

import re
from fractions import Fraction

from lofty_abacus.core.errors import NotExactError

MAX_SCALE = 9
INT64_MAX = 2**63 - 1
SIGNIFICANT_DIGITS = 15
#: Characters of a number: what a ledger holds is far shorter.
LONGEST_NUMBER = 60
_DECIMAL = re.compile(r"([+-]?)(\d*)(?:\.(\d*))?")


def decimal_parts(text: str) -> tuple[int, int]:
    """Read plain decimal text ('-12.50') as (unscaled integer, decimals): (-1250, 2). Trailing zeros are kept.

    Raises NotExactError for anything else, and for more than nine decimals that are not zeros.
    """
    if len(text) > LONGEST_NUMBER:
        raise NotExactError(f"{text[:20]}...", f"has more than {LONGEST_NUMBER} digits")
    match = _DECIMAL.fullmatch(text)
    if match is None or not (match[2] or match[3]):
        raise NotExactError(text, "is not a plain decimal number")
    fraction = match[3] or ""
    if len(fraction) > MAX_SCALE:
        if fraction[MAX_SCALE:].strip("0"):
            raise NotExactError(text, f"has more than {MAX_SCALE} decimals")
        fraction = fraction[:MAX_SCALE]
    unscaled = int((match[2] or "") + fraction or "0")
    return (-unscaled if match[1] == "-" else unscaled), len(fraction)


def at_scale(unscaled: int, decimals: int, scale: int) -> int:
    """Bring (unscaled, decimals) to `scale` decimals exactly. Raises NotExactError if digits or int64 would be lost."""
    minor: int
    minor, rest = divmod(unscaled * 10**scale, 10**decimals)
    if rest:
        raise NotExactError(decimal_text(unscaled, decimals), f"needs more than {scale} decimals")
    if not -INT64_MAX <= minor <= INT64_MAX:
        raise NotExactError(decimal_text(unscaled, decimals), f"is too large for {scale} decimals")
    return minor


def minor_units(text: str, scale: int) -> int:
    """Plain decimal text as minor units at `scale`: ('12.5', 2) -> 1250. Raises NotExactError, TypeError for a float."""
    if not isinstance(text, str):
        raise TypeError("an amount is made from text, never from a number type")
    return at_scale(*decimal_parts(text), scale)


Decimal = tuple[int, int]
"""An exact decimal as (unscaled integer, decimals)."""


def computed_amount(
    quantity: Decimal, price: Decimal, discount: Decimal, round_to: int | None, rate: Decimal = (0, 0)
) -> Decimal:
    """quantity x price x (1 - rate) - discount with all its decimals (section 2); trailing zeros are dropped.

    round_to: decimals to which each line is rounded, half away from zero. Raises NotExactError where it is None and more than
    nine decimals would be needed.
    """
    decimals = max(quantity[1] + price[1] + rate[1], discount[1])
    kept = 10 ** rate[1] - rate[0]
    exact = Fraction(quantity[0] * price[0] * kept, 10 ** (quantity[1] + price[1] + rate[1]))
    return kept_exactly(exact - Fraction(discount[0], 10 ** discount[1]), decimals, round_to)


def kept_exactly(exact: Fraction, decimals: int, round_to: int | None) -> Decimal:
    """A value of at most so many decimals as a line keeps it, trailing zeros dropped; rounded only where that is said.

    Raises NotExactError where it is not, and more than nine decimals would be needed.
    """
    if round_to is not None:
        return decimal_parts(round_half_away(exact, round_to))
    unscaled = int(exact * 10**decimals)
    while decimals and unscaled % 10 == 0:
        unscaled, decimals = unscaled // 10, decimals - 1
    if decimals > MAX_SCALE:
        text = decimal_text(unscaled, decimals)
        raise NotExactError(text, f"has {decimals} decimals, and a line keeps {MAX_SCALE}: say how lines are rounded")
    return unscaled, decimals


def decimal_text(minor: int, scale: int) -> str:
    """Minor units as plain decimal text with exactly `scale` decimals: (-1250, 2) -> '-12.50'."""
    if not scale:
        return str(minor)
    digits = str(minor)
    if minor < 0 or len(digits) <= scale:
        digits = str(abs(minor)).zfill(scale + 1)
        return f"{'-' if minor < 0 else ''}{digits[:-scale]}.{digits[-scale:]}"
    return f"{digits[:-scale]}.{digits[-scale:]}"


def round_half_away(value: Fraction, decimals: int) -> str:
    """Round once, from the fraction, half away from zero; a result that rounds to zero has no sign (section 2)."""
    scaled = abs(value.numerator) * 10**decimals * 2 + value.denominator
    units = scaled // (2 * value.denominator)
    return decimal_text(-units if value < 0 else units, decimals)


def ratio_text(value: Fraction) -> str:
    """A ratio as decimal text with 15 significant digits, half away from zero, without trailing zeros (section 2)."""
    return ratio_of(value.numerator, value.denominator)


def ratio_of(numerator: int, denominator: int) -> str:
    """The same for a numerator and a denominator above 0."""
    top, bottom = abs(numerator), denominator
    if top == 0:
        return "0"
    exponent = len(str(top)) - len(str(bottom))
    # 10^exponent <= value < 10^(exponent+1) after this step: the digit counts leave it one too high at most.
    if top * 10 ** max(-exponent, 0) < bottom * 10 ** max(exponent, 0):
        exponent -= 1
    decimals = max(SIGNIFICANT_DIGITS - 1 - exponent, 0)
    units = (top * 10**decimals * 2 + bottom) // (2 * bottom)
    text = decimal_text(-units if numerator < 0 else units, decimals)
    return text.rstrip("0").rstrip(".") if decimals else text
