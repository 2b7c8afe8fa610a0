"""Columns beside those that every report needs: which day counts, and what is a figure or a day of the ledger's own."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from lofty_abacus.core.days import day_number
from lofty_abacus.core.lines import NO_DAY
from lofty_abacus.ingest.contents import (
    MOST_TEXTS_READ,
    day_formats,
    decimals_seen,
    facts_of,
    formats_of,
    has_parts_of_one,
    has_percent_signs,
)
from lofty_abacus.ingest.dates import read_date
from lofty_abacus.ingest.headings import (
    FURTHER_AMOUNT_WORDS,
    FURTHER_QUANTITY_WORDS,
    NO_SUM_WORDS,
    USUAL_DAY_WORDS,
    names_exactly,
    score,
    words_of,
)
from lofty_abacus.ingest.mapping import Role, plain_name
from lofty_abacus.ingest.table import TextColumn, TextTable


def usual_day(table: TextTable) -> TextColumn | None:
    """The column of the day that counts: headed so, else the earliest of those headed like a date, or of all.

    A later day is another one.
    """
    days = [column for column in table.columns if formats_of(column)]
    dated = [column for column in days if score(column.header, "date")] or [each for each in days if day_formats(each)]
    plain = [column for column in dated if plain_name(column.header) in USUAL_DAY_WORDS]
    if plain or len(dated) < 2:
        return max(plain or dated, key=lambda column: score(column.header, "date"), default=None)
    numbers = [_day_numbers(column) for column in dated]
    whole = np.all([mine != NO_DAY for mine in numbers], axis=0)
    if not whole.any():
        return max(dated, key=lambda column: score(column.header, "date"))
    together = np.stack(numbers)[:, whole]
    # The one that comes first on most lines: a slip of the pen of a year makes no difference.
    return dated[int((together == together.min(axis=0)).sum(axis=1).argmax())]


def _day_numbers(column: TextColumn) -> NDArray[np.int32]:
    """The days of the first rows of a column, read in the first way that they can be."""
    written, codes = formats_of(column)[0], column.codes[:MOST_TEXTS_READ]
    needed = np.zeros(len(column.texts), bool)
    needed[codes] = True
    days = [read_date(text, written, "UTC") if wanted else None for text, wanted in zip(column.texts, needed, strict=True)]
    return np.array([NO_DAY if day is None else day_number(day) for day in days], np.int32)[codes]


def further_role(column: TextColumn) -> Role | None:
    """A figure or day of the ledger's own that a column without a role of its own can be, by its heading and content."""
    is_number, is_date = facts_of(column)
    words = words_of(column.header)
    if is_date and not is_number:
        return "further_day"
    if not is_number or is_date or words & {*NO_SUM_WORDS} or has_percent_signs(column):
        return None
    if words & {*FURTHER_QUANTITY_WORDS}:
        return "further_quantity"
    if words & {*FURTHER_AMOUNT_WORDS} or any(names_exactly(word, "amount") or names_exactly(word, "cost") for word in words):
        return "further_amount"
    # Whole numbers may be keys; figures with decimals are none, unless they all lie below 1: those may be rates.
    return "further_amount" if decimals_seen(column) > len(column.texts[:1000]) // 2 and not has_parts_of_one(column) else None
