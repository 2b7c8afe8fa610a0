"""Amounts in other currencies: told apart, and taken at the rates that a person gave. Unlike currencies never add."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import date, timedelta
from fractions import Fraction

import numpy as np
from numpy.typing import NDArray

from lofty_abacus.core.days import day_of
from lofty_abacus.core.errors import NotExactError
from lofty_abacus.core.money import decimal_parts, decimal_text, kept_exactly
from lofty_abacus.ingest.currencies import currency_of
from lofty_abacus.ingest.dates import grain_of, read_date
from lofty_abacus.ingest.figures import LEAST_AMOUNT_SCALE, Problems, Read, at_one_scale, column_of, mark_of
from lofty_abacus.ingest.mapping import FileMapping, Rate
from lofty_abacus.ingest.numbers import read_number
from lofty_abacus.ingest.staged import Given, Numbers
from lofty_abacus.ingest.table import TextTable

#: A rate of a day holds until the next one of its currency, and for so many days at most: markets close for a few days.
RATE_DAYS = 7


@dataclass
class Exchange:
    """What a piece of lines is exchanged by. own: the ledger's currency."""

    own: str
    mapping: FileMapping
    _known: dict[tuple[str, date], Rate | None] = field(default_factory=dict)

    def rate(self, currency: str, day: date) -> Rate | None:
        """The rate of a currency on a day: one for all days, or the latest of those that begin by then and still hold."""
        key = (currency, day)
        if key not in self._known:
            own = [each for each in self.mapping.rates if each.currency == currency]
            dated = [each for each in own if each.first_day and each.first_day <= day.isoformat()]
            last = max(dated, key=lambda each: each.first_day or "", default=None)
            if last is not None and not _holds(last, day):
                last = None
            self._known[key] = last or next((each for each in own if each.first_day is None), None)
        return self._known[key]


def _holds(rate: Rate, day: date) -> bool:
    first = date.fromisoformat(rate.first_day or "")
    last = date.fromisoformat(rate.last_day) if rate.last_day else first + timedelta(RATE_DAYS - 1)
    return day <= last


def currencies_of(problems: Problems, exchange: Exchange, reads: Sequence[Read | None]) -> tuple[list[str], NDArray[np.int64]]:
    """(codes of currencies, the place of each record's among them: i64[n]). The ledger's own stands first.

    A record takes what its currency column says, else what stands beside its figures, else what the mapping says of the file. Two
    that differ, and words that are no currency, are problems.
    """
    table, own = problems.table, exchange.own
    names = [own]
    usual = exchange.mapping.currency or own
    found = np.full(len(table), -1, np.int64)

    def place(code: str) -> int:
        if code not in names:
            names.append(code)
        return names.index(code)

    use = exchange.mapping.with_role("currency")
    if use is not None:
        column = column_of(table, use)
        meant = [currency_of(text, own) if text.strip() else "" for text in column.texts]
        places = np.array([place(code) if code else -1 for code in meant], np.int64)
        found = places[column.codes] if len(places) else found
        bad = np.array([code is None for code in meant], bool)
        for at in np.flatnonzero(bad[column.codes]).tolist() if meant else []:
            problems.add(at, use.column, column.text(at), "is no currency: use a code such as EUR")
    for read in reads:
        if read is None:
            continue
        beside = np.array([place(currency_of(sign, own) or own) if sign else -1 for sign in read.currencies], np.int64)[
            read.codes
        ]
        differ = (found >= 0) & (beside >= 0) & (found != beside)
        for at in np.flatnonzero(differ).tolist():
            problems.add(at, "currency", names[int(beside[at])], f"stands in a line of {names[int(found[at])]}")
        found = np.where(beside >= 0, beside, found)
    return names, np.where(found >= 0, found, place(usual))


def exchanged(
    problems: Problems,
    exchange: Exchange,
    names: Sequence[str],
    places: NDArray[np.int64],
    day: NDArray[np.int32],
    numbers: Numbers,
    what: str,
) -> Numbers:
    """Numbers in the ledger's currency: each times the rate of its currency and day, exactly, or rounded as the mapping says."""
    foreign = np.flatnonzero((places != 0) & problems.usable & ~numbers.missing)
    if not len(foreign):
        return numbers
    values: list[tuple[int, int] | None] = [None]
    codes = np.zeros(len(numbers.minor), np.uint32)
    known: dict[tuple[int, str], int] = {}
    for at in foreign.tolist():
        rate = exchange.rate(names[int(places[at])], day_of(int(day[at])))
        if rate is None:
            continue
        key = (int(numbers.minor[at]), rate.rate)
        if key not in known:
            known[key] = len(values)
            try:
                values.append(_times(key[0], numbers.scale, rate.rate, exchange.mapping.round_to))
            except NotExactError as error:
                values.append(None)
                problems.add(at, what, error.text, error.why)
        codes[at] = known[key]
        problems.usable[at] &= values[codes[at]] is not None
    taken = at_one_scale(problems, what, values, codes, numbers.scale)
    factor = int(10 ** (taken.scale - numbers.scale))
    # A line that is not used (no rate, no exact value) must not keep decimals that no other has.
    minor = np.where(codes > 0, taken.minor, numbers.minor * factor) * problems.usable
    scale = taken.scale
    while scale > LEAST_AMOUNT_SCALE and not (minor % 10).any():
        minor, scale = minor // 10, scale - 1
    return Numbers(minor, scale, numbers.missing)


def _times(minor: int, scale: int, rate: str, round_to: int | None) -> tuple[int, int]:
    unscaled, decimals = decimal_parts(rate)
    return kept_exactly(Fraction(minor * unscaled, 10 ** (scale + decimals)), scale + decimals, round_to)


def given_of(
    exchange: Exchange, names: Sequence[str], places: NDArray[np.int64], day: NDArray[np.int32], numbers: Numbers
) -> Given | None:
    """What foreign lines were given as: amount, currency and rate of each; None where there is no such line."""
    if not (places != 0).any():
        return None
    rates = [""] * len(places)
    for at in np.flatnonzero(places != 0).tolist():
        rate = exchange.rate(names[int(places[at])], day_of(int(day[at])))
        rates[at] = rate.rate if rate else ""
    return Given(tuple(names), places, tuple(rates), numbers)


def stage_rates(table: TextTable, mapping: FileMapping, own: str) -> tuple[tuple[Rate, ...], list[tuple[int, str, str, str]]]:
    """The rates of a file of rates, and what cannot be read of it: (record, column, text, why)."""
    currency, rate, dated = mapping.with_role("currency"), mapping.with_role("rate"), mapping.with_role("date")
    assert currency is not None and rate is not None, "the mapping was checked"
    found: list[Rate] = []
    wrong: list[tuple[int, str, str, str]] = []
    for at in range(len(table)):
        code_text, rate_text = column_of(table, currency).text(at).strip(), column_of(table, rate).text(at).strip()
        code, number = currency_of(code_text, own), read_number(rate_text, mark_of(rate))
        first = last = None
        if dated is not None:
            assert dated.date_format is not None, "the mapping was checked"
            text = column_of(table, dated).text(at).strip()
            day = read_date(text, dated.date_format)
            if day is None:
                wrong.append((at, dated.column, text, "is no day or month of a rate"))
                continue
            first = (day.replace(day=1) if grain_of(dated.date_format) == "month" else day).isoformat()
            last = day.isoformat() if grain_of(dated.date_format) == "month" else None
        if code is None:
            wrong.append((at, currency.column, code_text, "is no currency: use a code such as EUR"))
        elif number is None or number[0] <= 0:
            wrong.append((at, rate.column, rate_text, "is no rate above 0"))
        else:
            found.append(Rate(code, decimal_text(*number), first, last))
    return tuple(found), wrong
