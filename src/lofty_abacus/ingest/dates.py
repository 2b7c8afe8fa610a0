"""Dates as text: which formats read a whole column, and the reading itself."""

from __future__ import annotations

import re
from collections.abc import Iterable
from datetime import date
from typing import Literal

DateFormat = Literal["year_month_day", "day_month_year", "month_day_year"]
DATE_FORMATS: tuple[DateFormat, ...] = ("year_month_day", "day_month_year", "month_day_year")
_MONTHS = ("jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec")
_NUMBERS = re.compile(r"(\d{1,4})[-/. ]{1,2}(\d{1,2})[-/. ]{1,2}(\d{1,4})(?:[T ]\d{1,2}:\d{2}(?::\d{2}(?:\.\d+)?)?)?")
_COMPACT = re.compile(r"(\d{4})(\d{2})(\d{2})")
_NAMED = re.compile(r"(?:(\d{1,2})\.?[- ]([A-Za-z]{3,9})|([A-Za-z]{3,9})[- ](\d{1,2}))[.,]?[- ](\d{4})")


def read_date(text: str, form: DateFormat) -> date | None:
    """The day of a text in a format; None where it is none. Names of months are English; a time of day is passed over."""
    stripped = text.strip()
    try:
        if match := _NAMED.fullmatch(stripped):
            name, day = (match[2], match[1]) if match[2] else (match[3], match[4])
            return date(int(match[5]), _MONTHS.index(name[:3].lower()) + 1, int(day))
        match = _COMPACT.fullmatch(stripped) if form == "year_month_day" else None
        match = match or _NUMBERS.fullmatch(stripped)
        if match is None:
            return None
        parts = match[1], match[2], match[3]
        if form == "year_month_day":
            year, month, day = parts
        elif form == "day_month_year":
            day, month, year = parts
        else:
            month, day, year = parts
        return date(int(year), int(month), int(day)) if len(year) == 4 else None
    except ValueError:
        return None


def date_formats(texts: Iterable[str]) -> list[DateFormat]:
    """The formats in which at least two thirds of the non-blank texts are days; formats that read the same are one.

    Two formats that read different days from the same texts are both returned: the analyst has to choose.
    """
    filled = [text for text in texts if text.strip()]
    if not filled:
        return []
    readings = {form: [read_date(text, form) for text in filled] for form in DATE_FORMATS}
    scored = [(sum(day is not None for day in days), form) for form, days in readings.items()]
    best = max(count for count, _ in scored)
    if best * 3 < len(filled) * 2:
        return []
    found: list[DateFormat] = []
    for count, form in scored:
        if count == best and all(readings[form] != readings[other] for other in found):
            found.append(form)
    return found
