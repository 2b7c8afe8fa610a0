"""Numbers as text: decimal point or comma, thousands separators, currency signs, brackets and trailing minus; exact."""

from __future__ import annotations

import math
import re
from collections.abc import Iterable
from decimal import Decimal
from typing import Literal

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from numpy.typing import NDArray

from lofty_abacus.core.errors import NotExactError
from lofty_abacus.core.money import decimal_parts

DecimalMark = Literal["point", "comma"]
#: Digits that spreadsheets keep of a number; what a binary float holds beyond them was never typed.
DIGITS = 15
#: Texts by which a column is told to have no numbers at all.
GLANCE = 300
_SIGNS = re.compile(r"[\s\u00a0\u202f'’]|[$€£¥₹]|\b[A-Z]{3}\b")
_POINT = re.compile(r"[+-]?(?:\d{1,3}(?:,\d{3})+|\d*)(?:\.\d*)?")
_COMMA = re.compile(r"[+-]?(?:\d{1,3}(?:\.\d{3})+|\d*)(?:,\d*)?")


def read_number(text: str, mark: DecimalMark) -> tuple[int, int] | None:
    """(unscaled integer, decimals) of a text, trailing zeros of the decimals dropped; None where it is no exact number."""
    bare = _SIGNS.sub("", text.replace("\u2212", "-"))
    negative = False
    if bare.startswith("(") and bare.endswith(")"):
        bare, negative = bare[1:-1], True
    elif bare.endswith("-"):
        bare, negative = bare[:-1], True
    if not (_POINT if mark == "point" else _COMMA).fullmatch(bare) or not any(c.isdigit() for c in bare):
        return None
    plain = bare.replace(",", "") if mark == "point" else bare.replace(".", "").replace(",", ".")
    try:
        unscaled, decimals = decimal_parts(plain)
    except NotExactError:
        return None
    while decimals and unscaled % 10 == 0:
        unscaled, decimals = unscaled // 10, decimals - 1
    return (-unscaled if negative else unscaled), decimals


def float_text(value: float) -> str:
    """The decimal number that somebody typed before a file kept it as a binary float: its 15 digits. Not a number: blank."""
    if math.isnan(value):
        return ""
    return f"{Decimal(f'{value:.{DIGITS}g}'):f}" if math.isfinite(value) else str(value)


def decimal_marks(texts: Iterable[str]) -> list[DecimalMark]:
    """The decimal marks under which at least two thirds of the non-blank texts are numbers, the best first.

    Both are returned only where they read different numbers from the same texts: the analyst has to choose.
    """
    filled = [text for text in texts if text.strip()]
    if not filled:
        return []
    first = filled[:GLANCE]
    if all(sum(read_number(text, mark) is not None for text in first) * 3 < len(first) for mark in ("point", "comma")):
        return []
    readings = {mark: [read_number(text, mark) for text in filled] for mark in ("point", "comma")}
    counts = {mark: sum(value is not None for value in values) for mark, values in readings.items()}
    best = max(counts.values())
    if best * 3 < len(filled) * 2:
        return []
    found: list[DecimalMark] = []
    for mark in ("point", "comma"):
        if counts[mark] == best and all(readings[mark] != readings[other] for other in found):
            found.append(mark)
    return found


#: Digits before and after the decimal mark of numbers that are read all at once: together they fit 64 bits.
_PLAIN_WHOLE, _PLAIN_DECIMALS = 12, 6


def read_plain_numbers(texts: list[str], mark: DecimalMark) -> tuple[NDArray[np.int64], int] | None:
    """(minor units i64[n], decimals) of texts without any ornament, blank ones 0; None where one of them has some.

    The same numbers as `read_number` gives one by one, for columns of hundreds of thousands of different ones.
    """
    sign = r"\." if mark == "point" else ","
    values = pa.array(texts, pa.string())
    plain = rf"^(-?[0-9]{{1,{_PLAIN_WHOLE}}}({sign}[0-9]{{1,{_PLAIN_DECIMALS}}})?)?$"
    if not pc.all(pc.match_substring_regex(values, plain)).as_py():
        return None
    if mark == "comma":
        values = pc.replace_substring(values, ",", ".")
    values = pc.if_else(pc.equal(values, ""), "0", values)
    wide = values.cast(pa.decimal128(_PLAIN_WHOLE + _PLAIN_DECIMALS, _PLAIN_DECIMALS))
    minor = np.frombuffer(wide.buffers()[1], np.int64)[::2][wide.offset : wide.offset + len(wide)].copy()
    decimals = _PLAIN_DECIMALS
    while decimals and not (minor % 10).any():
        minor //= 10
        decimals -= 1
    return minor, decimals
