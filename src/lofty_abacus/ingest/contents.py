"""What the texts of a column can be read as: days, numbers, ids; found once for all questions about a file."""

from __future__ import annotations

from weakref import WeakKeyDictionary

import numpy as np

from lofty_abacus.ingest.dates import PERIOD_FORMATS, DateFormat, date_formats, serial_dates
from lofty_abacus.ingest.headings import VALID_WORDS, score
from lofty_abacus.ingest.mapping import plain_name
from lofty_abacus.ingest.numbers import DecimalMark, decimal_marks, read_number
from lofty_abacus.ingest.setting_aside import may_say_total, says_total
from lofty_abacus.ingest.table import TextColumn

MOST_TEXTS_READ = 20_000
MOST_NUMBERS_READ = 5_000
#: What columns were found to be: several questions about a file ask it again.
_days_found: WeakKeyDictionary[TextColumn, list[DateFormat]] = WeakKeyDictionary()
_marks_found: WeakKeyDictionary[TextColumn, list[DecimalMark]] = WeakKeyDictionary()
_values_found: WeakKeyDictionary[TextColumn, list[str]] = WeakKeyDictionary()


def facts_of(column: TextColumn) -> tuple[bool, bool]:
    """(is a number column, is a date column)."""
    return bool(marks_of(column)), bool(day_formats(column))


def formats_of(column: TextColumn) -> list[DateFormat]:
    """How a column's dates can be read; serial numbers and periods count only under a heading that says date or period."""
    texts, formats = values_of(column), day_formats(column)
    if formats or not (score(column.header, "date") or plain_name(column.header) in VALID_WORDS):
        return formats
    return ["spreadsheet_serial"] if serial_dates(texts) else date_formats(texts, PERIOD_FORMATS)


def day_formats(column: TextColumn) -> list[DateFormat]:
    """How a column's texts can be read as days."""
    if column not in _days_found:
        _days_found[column] = date_formats(values_of(column))
    return _days_found[column]


def marks_of(column: TextColumn) -> list[DecimalMark]:
    """With which decimal marks a column's texts are numbers."""
    if column not in _marks_found:
        _marks_found[column] = decimal_marks(values_of(column)[:MOST_NUMBERS_READ])
    return _marks_found[column]


def values_of(column: TextColumn) -> list[str]:
    """The column's texts without those of totals rows and repeated headings, which are no values of it."""
    if column not in _values_found:
        texts = column.texts[:MOST_TEXTS_READ]
        together = "\n".join(texts)
        if column.header in together or may_say_total(together):
            texts = [text for text in texts if text.strip() != column.header and not says_total(text)]
        _values_found[column] = texts
    return _values_found[column]


def decimals_seen(column: TextColumn) -> int:
    """How many decimals its first texts have together."""
    marks = marks_of(column)
    values = [read_number(text, marks[0]) for text in column.texts[:1000]] if marks else []
    return sum(value[1] for value in values if value)


def is_unique(column: TextColumn) -> bool:
    """Whether a column can be the id of lines: a number within its order repeats with every order."""
    filled = len(column.codes)
    return not filled or 2 * len(np.unique(column.codes)) > filled


def has_percent_signs(column: TextColumn) -> bool:
    """Whether a column's figures are all written with a percent sign."""
    texts = [text.strip() for text in column.texts[:MOST_NUMBERS_READ] if text.strip()]
    return bool(texts) and all(text.endswith("%") for text in texts)


def has_parts_of_one(column: TextColumn) -> bool:
    """Whether a column's figures all lie between 0 and 1, and not all are 0: they may be rates."""
    texts = [text.strip() for text in column.texts[:MOST_NUMBERS_READ] if text.strip()]
    marks = marks_of(column)
    values = [read_number(text, marks[0]) for text in texts] if marks else []
    parts = [value for value in values if value is not None]
    return bool(parts) and all(0 <= value[0] < 10 ** value[1] for value in parts) and any(value[0] for value in parts)
