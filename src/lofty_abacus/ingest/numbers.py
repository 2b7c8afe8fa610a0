"""Numbers as text: decimal point or comma, thousands separators, currency signs, brackets and trailing minus; exact."""

from __future__ import annotations

import math
import re
from collections.abc import Iterable
from dataclasses import dataclass
from decimal import Decimal
from typing import Literal

import numpy as np
import pyarrow as pa
from numpy.typing import NDArray

from lofty_abacus.core.errors import NotExactError
from lofty_abacus.core.money import decimal_parts
from lofty_abacus.ingest.currencies import SIGNS, currency_of

DecimalMark = Literal["point", "comma"]
#: How a rate without a percent sign is written: as a part of 1, or of 100.
RateWritten = Literal["fraction", "percent"]
#: Digits that spreadsheets keep of a number; what a binary float holds beyond them was never typed.
DIGITS = 15
#: Texts by which a column is told to have no numbers at all.
GLANCE = 300
#: Characters of a number as it is written: longer texts are none.
LONGEST = 80
_CURRENCY = "|".join([*(re.escape(sign) for sign in sorted(SIGNS, key=len, reverse=True)), r"[A-Z]{3}(?![A-Za-z])"])
_BLANKS = "\u00a0\u202f\u2009 "
#: A currency, a sign and brackets around digits; each at most once, which `read_figure` sees to.
_WRITTEN = re.compile(
    rf"(?P<before>{_CURRENCY})?\s*(?P<open>\(?)\s*(?P<sign1>[-+]?)\s*(?P<inner>{_CURRENCY})?\s*(?P<sign2>[-+]?)"
    rf"(?P<digits>[0-9.,'’{_BLANKS}]*[0-9][.,]?)\s*(?P<sign3>-?)\s*(?P<after>{_CURRENCY})?\s*(?P<sign4>-?)(?P<close>\)?)"
    rf"\s*(?P<last>{_CURRENCY})?"
)
#: Digits by threes (the last three may follow pairs, as in India), one separator throughout.
_GROUPED = {
    mark: re.compile(
        rf"(?P<whole>\d+|\d{{1,3}}(?P<by>[{_BLANKS}'’{other}])\d{{3}}(?:(?P=by)\d{{3}})*"
        rf"|\d{{1,2}}(?P<pairs>[{_BLANKS}{other}])\d{{2}}(?:(?P=pairs)\d{{2}})*(?P=pairs)\d{{3}}|)(?:{re.escape(own)}(?P<rest>\d*))?"
    )
    for mark, own, other in (("point", ".", ","), ("comma", ",", "."))
}
_SIGNS = (("point", re.escape("."), ","), ("comma", ",", re.escape(".")))
#: The most usual way of writing, which nothing else can mean: few digits, in one row, and decimals behind the mark.
_PLAIN = {mark: re.compile(rf"(-?)([0-9]{{1,9}})(?:{own}([0-9]{{0,6}}))?") for mark, own, _ in _SIGNS}
#: Digits by the other mark that are no group of three: no number.
_OTHERWISE = {mark: re.compile(rf"-?[0-9]+{other}(?:[0-9]{{1,2}}|[0-9]{{4,}})?") for mark, _, other in _SIGNS}


@dataclass(frozen=True)
class Figure:
    """A number as it was written: exact (unscaled, decimals), trailing zeros of the decimals dropped.

    currency: the code or sign beside it. style: how its digits are grouped, "" where they are not (see `GroupStyle`).
    """

    unscaled: int
    decimals: int
    currency: str = ""
    style: str = ""


def read_figure(text: str, mark: DecimalMark) -> Figure | None:
    """A number with what stands around it; None where a text is no exact number.

    At most one sign, brackets for one, and one currency; digits are grouped by three, with one separator.
    """
    bare = text.strip()
    plain = _PLAIN[mark].fullmatch(bare)
    if plain is None:
        return None if _OTHERWISE[mark].fullmatch(bare) else _written_figure(bare, mark)
    sign, whole, rest = plain.groups("")
    rest = rest.rstrip("0")
    return Figure(int(f"{sign}{whole}{rest}"), len(rest))


def _written_figure(text: str, mark: DecimalMark) -> Figure | None:
    """As `read_figure`, for any way of writing."""
    bare = text.replace("\u2212", "-")
    if len(bare) > LONGEST:
        return None
    found = _WRITTEN.fullmatch(bare)
    if found is None or bool(found["open"]) != bool(found["close"]):
        return None
    signs = [sign for sign in (found["open"], found["sign1"], found["sign2"], found["sign3"], found["sign4"]) if sign]
    currencies = [each for each in (found["before"], found["inner"], found["after"], found["last"]) if each]
    if len(signs) > 1 or len(currencies) > 1 or any(currency_of(each) is None for each in currencies):
        return None
    digits = _GROUPED[mark].fullmatch(found["digits"])
    if digits is None or not (digits["whole"] or digits["rest"]):
        return None
    by = digits["by"] or digits["pairs"] or ""
    whole = digits["whole"].replace(by, "") if by else digits["whole"]
    style = _style(by, digits["whole"] or "", pairs=bool(digits["pairs"]))
    try:
        unscaled, decimals = decimal_parts(f"{whole}.{digits['rest'] or ''}")
    except NotExactError:
        return None
    while decimals and unscaled % 10 == 0:
        unscaled, decimals = unscaled // 10, decimals - 1
    negative = bool(signs) and signs[0] != "+"
    return Figure(-unscaled if negative else unscaled, decimals, currencies[0] if currencies else "", style)


def _style(by: str, whole: str, *, pairs: bool) -> str:
    """The separator of groups, and 2 or 3 where the digits tell how they are grouped: 1,234 may be either."""
    if not by:
        return ""
    sign = " " if by in _BLANKS else "'" if by == "’" else by
    tells = pairs or whole.count(by) > 1 or whole.index(by) == 3
    return sign + ("2" if pairs else "3" if tells else "")


class GroupStyle:
    """How the digits of a column are grouped: one manner throughout, that of the first number that shows it."""

    def __init__(self) -> None:
        self._sign = self._by = ""

    def takes(self, style: str) -> bool:
        """Whether a number grouped so may stand in the column."""
        sign, by = style[:1], style[1:]
        if (self._sign and sign and sign != self._sign) or (self._by and by and by != self._by):
            return False
        self._sign, self._by = self._sign or sign, self._by or by
        return True


def read_number(text: str, mark: DecimalMark) -> tuple[int, int] | None:
    """(unscaled integer, decimals) of a text, trailing zeros of the decimals dropped; None where it is no exact number."""
    found = read_figure(text, mark)
    return None if found is None else (found.unscaled, found.decimals)


def read_rate(text: str, mark: DecimalMark, written: RateWritten) -> tuple[int, int] | None:
    """A rate as a part of 1: 12.5 % and, written so, 12.5 or 0.125 are 0.125; None where it is none, or lies outside 0 to 1."""
    bare = text.strip()
    percent = bare.endswith("%") or written == "percent"
    found = read_number(bare.removesuffix("%"), mark)
    if found is None:
        return None
    unscaled, decimals = found[0], found[1] + (2 if percent else 0)
    return (unscaled, decimals) if 0 <= unscaled <= 10**decimals else None


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


def read_plain_numbers(values: pa.Array, mark: DecimalMark) -> tuple[NDArray[np.int64], int] | None:
    """(minor units i64[n], decimals) of texts (strings[n]) without any ornament, blank ones 0; None where one of them has some.

    The same numbers as `read_number` gives one by one, for columns of hundreds of thousands of different ones: all texts are read
    at once, sign by sign.
    """
    count = len(values)
    _, places, data = values.buffers()
    bounds = (
        np.frombuffer(places, np.int32)[values.offset : values.offset + count + 1] if places else np.zeros(count + 1, np.int32)
    )
    signs = np.frombuffer(data, np.uint8) if data else np.empty(0, np.uint8)
    starts, lengths = bounds[:-1], np.diff(bounds)
    longest = int(lengths.max(initial=0))
    if longest > 1 + _PLAIN_WHOLE + 1 + _PLAIN_DECIMALS:
        return None
    minor, whole, decimals = np.zeros(count, np.int64), np.zeros(count, np.int8), np.zeros(count, np.int8)
    negative, marked = np.zeros(count, bool), np.zeros(count, bool)
    for at in range(longest):
        here = lengths > at
        sign = np.where(here, signs[np.where(here, starts + at, 0)], 0)
        digit = sign - np.uint8(ord("0"))
        is_digit = digit < 10
        is_mark = (sign == ord("." if mark == "point" else ",")) & ~marked
        is_minus = (sign == ord("-")) if at == 0 else np.zeros(count, bool)
        if not (is_digit | is_mark | is_minus | ~here).all():
            return None
        minor = np.where(is_digit, minor * 10 + digit, minor)
        whole += is_digit & ~marked
        decimals += is_digit & marked
        negative |= is_minus
        marked |= is_mark
    plain = (lengths == 0) | ((whole > 0) & (whole <= _PLAIN_WHOLE) & (decimals <= _PLAIN_DECIMALS) & (marked == (decimals > 0)))
    if not plain.all():
        return None
    scale = int(decimals.max(initial=0))
    minor *= 10 ** (scale - decimals.astype(np.int64))
    while scale and not (minor % 10).any():
        minor //= 10
        scale -= 1
    return np.where(negative, -minor, minor), scale
