"""Dates as text: which formats read a whole column, and the reading itself."""

from __future__ import annotations

import re
from collections.abc import Iterable
from datetime import date, datetime, timedelta
from typing import Literal
from zoneinfo import ZoneInfo

DateFormat = Literal["year_month_day", "day_month_year", "month_day_year", "spreadsheet_serial"]
#: Formats that are looked for in any column; a spreadsheet's serial numbers only where the heading says date.
DATE_FORMATS: tuple[DateFormat, ...] = ("year_month_day", "day_month_year", "month_day_year")
#: Two-digit years are 1970 to 2069.
FIRST_SHORT_YEAR = 70
_MONTHS = ("jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec")
_CLOCK = r"(?:[T ](\d{1,2}:\d{2}(?::\d{2}(?:\.\d{1,6})?)?)\s?(Z|[+-]\d{2}:?\d{2})?)?"
_NUMBERS = re.compile(r"(\d{1,4})[-/. ]{1,2}(\d{1,2})[-/. ]{1,2}(\d{1,4})" + _CLOCK)
_COMPACT = re.compile(r"(\d{4})(\d{2})(\d{2})")
_NAMED = re.compile(r"(?:(\d{1,2})\.?[- ]([A-Za-z]{3,9})|([A-Za-z]{3,9})[- ](\d{1,2}))[.,]?[- ](\d{4}|\d{2})")
_SERIAL = re.compile(r"(\d{5})(?:\.\d+)?")
_SERIAL_ZERO = date(1899, 12, 30)
#: Days that lines may have: others are typing errors, and a ledger's columns span 179 years at most.
FIRST_DAY, LAST_DAY = date(1950, 1, 1), date(2120, 12, 31)


def read_date(text: str, form: DateFormat, zone: str = "UTC") -> date | None:
    """The day of a text in a format; None where it is none.

    Names of months are English. A time of day is passed over, unless it names its own zone: then the ledger's zone decides.
    """
    stripped = text.strip()
    if form == "spreadsheet_serial":
        serial = _SERIAL.fullmatch(stripped)
        return _SERIAL_ZERO + timedelta(int(serial[1])) if serial else None
    try:
        return _written_day(stripped, form, zone)
    except (ValueError, OverflowError):
        return None


def _written_day(stripped: str, form: DateFormat, zone: str) -> date | None:
    """The day of a text; raises ValueError for a day that no calendar has."""
    if match := _NAMED.fullmatch(stripped):
        name, day = (match[2], match[1]) if match[2] else (match[3], match[4])
        return date(_full_year(match[5]), _MONTHS.index(name[:3].lower()) + 1, int(day))
    if form == "year_month_day" and (compact := _COMPACT.fullmatch(stripped)):
        return date(int(compact[1]), int(compact[2]), int(compact[3]))
    match = _NUMBERS.fullmatch(stripped)
    if match is None:
        return None
    found = _in_order(match[1], match[2], match[3], form)
    if found is None or match[5] is None:
        return found
    moment = datetime.fromisoformat(f"{found.isoformat()}T{match[4].rjust(5, '0')}{match[5]}")
    return moment.astimezone(ZoneInfo(zone)).date()


def has_short_years(texts: Iterable[str]) -> bool:
    """Whether dates with two-digit years are among the texts: the rule for them is to be shown."""
    return any((match := _NUMBERS.fullmatch(text.strip())) and len(match[1]) < 3 and len(match[3]) == 2 for text in texts)


def _in_order(first: str, second: str, third: str, form: DateFormat) -> date | None:
    if len(first) == 4:
        # A year in front is followed by the month in any column: real dates of a workbook among text ones come this way.
        return date(int(first), int(second), int(third))
    if form == "year_month_day":
        return None
    day, month = (first, second) if form == "day_month_year" else (second, first)
    return date(_full_year(third), int(month), int(day)) if len(third) in (2, 4) and len(first) < 3 else None


def _full_year(text: str) -> int:
    if len(text) == 4:
        return int(text)
    return int(text) + (1900 if int(text) >= FIRST_SHORT_YEAR else 2000)


def serial_dates(texts: Iterable[str]) -> bool:
    """Whether all non-blank texts can be a spreadsheet's serial numbers of days between 1970 and 2100."""
    filled = [text.strip() for text in texts if text.strip()]
    return bool(filled) and all(_SERIAL.fullmatch(text) and 25569 <= int(text[:5]) <= 73415 for text in filled)


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
