"""Dates as text: which formats read a whole column, and the reading itself."""

from __future__ import annotations

import calendar
import re
import unicodedata
from collections.abc import Iterable
from datetime import date, datetime, timedelta
from functools import lru_cache
from typing import Literal
from zoneinfo import ZoneInfo

DateFormat = Literal[
    "year_month_day",
    "day_month_year",
    "month_day_year",
    "spreadsheet_serial",
    "year_month",
    "month_year",
    "year_week",
    "year_quarter",
    "year",
]
#: Formats that are looked for in any column; a spreadsheet's serial numbers only where the heading says date.
DATE_FORMATS: tuple[DateFormat, ...] = ("year_month_day", "day_month_year", "month_day_year")
#: Periods are looked for where no column is a day.
PERIOD_FORMATS: tuple[DateFormat, ...] = ("year_month", "month_year", "year_week", "year_quarter", "year")
#: Two-digit years are 1970 to 2069.
FIRST_SHORT_YEAR = 70
#: Texts by which a column is told to have no dates at all.
GLANCE = 300
#: Days that lines may have: others are typing errors, and a ledger's columns span 179 years at most.
FIRST_DAY, LAST_DAY = date(1950, 1, 1), date(2120, 12, 31)

#: Names of months without accents, and how many letters of them tell them apart.
_MONTH_NAMES = (
    ("january", "januar", "janner", "janvier", "enero", "gennaio", "janeiro", "januari"),
    ("february", "februar", "fevrier", "febrero", "febbraio", "fevereiro", "februari"),
    ("march", "marz", "mars", "marzo", "marco", "maart", "mrz"),
    ("april", "avril", "abril", "aprile"),
    ("may", "mai", "mayo", "maggio", "maio", "mei"),
    ("june", "juni", "juin", "junio", "giugno", "junho"),
    ("july", "juli", "juillet", "julio", "luglio", "julho"),
    ("august", "aout", "agosto", "augustus"),
    ("september", "septembre", "septiembre", "settembre", "setembro", "sept"),
    ("october", "oktober", "octobre", "octubre", "ottobre", "outubro"),
    ("november", "novembre", "noviembre", "novembro"),
    ("december", "dezember", "decembre", "diciembre", "dicembre", "dezembro"),
)
_CLOCK = r"(?:[T ](\d{1,2}:\d{2}(?::\d{2}(?:\.\d{1,9})?)?)\s?(Z|[+-]\d{2}:?\d{2})?)?"
_NUMBERS = re.compile(r"(\d{1,4})[-/. ]{1,2}(\d{1,2})[-/. ]{1,2}(\d{1,4})" + _CLOCK)
_COMPACT = re.compile(r"(\d{4})(\d{2})(\d{2})")
_WORD = r"([^\W\d_]{3,10})\.?"
_NAMED = re.compile(rf"(?:(\d{{1,2}})\.?[- ](?:de )?{_WORD}|{_WORD}[- ](\d{{1,2}}))[.,]?[- ](?:de )?(\d{{4}}|\d{{2}})")
_SERIAL = re.compile(r"(\d{5})(?:\.\d+)?")
_SERIAL_ZERO = date(1899, 12, 30)
_YEAR_MONTH = re.compile(r"(\d{4})[-/. ]?(?:M)?(\d{1,2})")
_MONTH_YEAR = re.compile(r"(\d{1,2})[-/. ](\d{4})")
_NAMED_MONTH = re.compile(rf"(?:{_WORD}[-/ ](?:de )?(\d{{4}}|\d{{2}})|(\d{{4}})[-/ ]{_WORD})")
_YEAR_QUARTER = re.compile(
    r"(\d{4})[-/. ]?Q([1-4])|Q([1-4])[-/. ]?(\d{4})|([1-4])\.? ?(?:Q|Quartal)[-/. ]?(\d{4})", re.IGNORECASE
)
_YEAR = re.compile(r"(\d{4})")
_YEAR_WEEK = re.compile(r"(\d{4})[-/ ]?(?:W|KW|wk)\s?(\d{1,2})", re.IGNORECASE)


def grain_of(form: DateFormat) -> Literal["day", "week", "month", "quarter", "year"]:
    """What a format tells of a line: its day, or only its week, month, quarter or year."""
    match form:
        case "year_week":
            return "week"
        case "year_month" | "month_year":
            return "month"
        case "year_quarter":
            return "quarter"
        case "year":
            return "year"
        case _:
            return "day"


@lru_cache(maxsize=100_000)
def read_date(text: str, form: DateFormat, zone: str = "UTC") -> date | None:
    """The day of a text in a format; None where it is none. A period is its last day.

    A time of day is passed over, unless it names its own zone: then the ledger's zone decides.
    """
    stripped = text.strip()
    try:
        if form == "spreadsheet_serial":
            serial = _SERIAL.fullmatch(stripped)
            return _SERIAL_ZERO + timedelta(int(serial[1])) if serial else None
        if form in PERIOD_FORMATS:
            return _period_end(stripped, form)
        return _written_day(stripped, form, zone)
    except (ValueError, OverflowError):
        return None


def month_of(name: str) -> int | None:
    """The month that a name or its beginning (three letters at least) means, in several languages; None: none, or several."""
    bare = unicodedata.normalize("NFKD", name).encode("ascii", "ignore").decode().lower()
    found = {at for at, names in enumerate(_MONTH_NAMES, start=1) if len(bare) > 2 and any(n.startswith(bare) for n in names)}
    return found.pop() if len(found) == 1 else None


def part_of_date(text: str, part: Literal["year", "month", "day"]) -> int | None:
    """A year, month or day that stands in a column of its own; a month may be a name."""
    stripped = text.strip()
    if part == "month" and not stripped[:1].isdigit():
        return month_of(stripped.rstrip("."))
    digits = stripped.removesuffix(".0")
    if not digits.isdigit() or len(digits) > 4:
        return None
    number = _full_year(digits) if part == "year" and len(digits) == 2 else int(digits)
    within = {"year": FIRST_DAY.year <= number <= LAST_DAY.year, "month": 1 <= number <= 12, "day": 1 <= number <= 31}
    return number if within[part] else None


def month_end(year: int, month: int) -> date:
    """The last day of a month. Raises ValueError."""
    return date(year, month, calendar.monthrange(year, month)[1])


def _period_end(stripped: str, form: DateFormat) -> date | None:
    if form == "year_week":
        week = _YEAR_WEEK.fullmatch(stripped)
        return date.fromisocalendar(int(week[1]), int(week[2]), 7) if week else None
    if form == "year_quarter":
        quarter = _YEAR_QUARTER.fullmatch(stripped)
        if quarter is None:
            return None
        year, number = quarter[1] or quarter[4] or quarter[6], quarter[2] or quarter[3] or quarter[5]
        return month_end(int(year), int(number) * 3)
    if form == "year":
        only = _YEAR.fullmatch(stripped)
        return date(int(only[1]), 12, 31) if only else None
    if named := _NAMED_MONTH.fullmatch(stripped):
        month = month_of(named[1] or named[4])
        return month_end(_full_year(named[2] or named[3]), month) if month else None
    match = (_YEAR_MONTH if form == "year_month" else _MONTH_YEAR).fullmatch(stripped)
    if match is None:
        return None
    year, number = (match[1], match[2]) if form == "year_month" else (match[2], match[1])
    return month_end(int(year), int(number))


def _written_day(stripped: str, form: DateFormat, zone: str) -> date | None:
    """The day of a text; raises ValueError for a day that no calendar has."""
    if match := _NAMED.fullmatch(stripped):
        name, day = (match[2], match[1]) if match[2] else (match[3], match[4])
        named = month_of(name)
        return date(_full_year(match[5]), named, int(day)) if named else None
    if form == "year_month_day" and (compact := _COMPACT.fullmatch(stripped)):
        return date(int(compact[1]), int(compact[2]), int(compact[3]))
    match = _NUMBERS.fullmatch(stripped)
    if match is None:
        return None
    found = _in_order(match[1], match[2], match[3], form)
    if found is None or match[5] is None:
        return found
    clock, _, fraction = match[4].rjust(5, "0").partition(".")
    moment = datetime.fromisoformat(
        f"{found.isoformat()}T{clock}{'.' + fraction[:6].ljust(6, '0') if fraction else ''}{match[5]}"
    )
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


def zones_of(texts: Iterable[str]) -> tuple[int, int]:
    """(how many of some times of day name their zone, how many do not)."""
    clocks = [match for text in texts if (match := _NUMBERS.fullmatch(text.strip())) and match[4]]
    named = sum(match[5] is not None for match in clocks)
    return named, len(clocks) - named


def serial_dates(texts: Iterable[str]) -> bool:
    """Whether all non-blank texts can be a spreadsheet's serial numbers of days between 1970 and 2100."""
    filled = [text.strip() for text in texts if text.strip()]
    return bool(filled) and all(_SERIAL.fullmatch(text) and 25569 <= int(text[:5]) <= 73415 for text in filled)


def date_formats(texts: Iterable[str], among: tuple[DateFormat, ...] = DATE_FORMATS) -> list[DateFormat]:
    """The formats in which at least two thirds of the non-blank texts are days (or periods); formats that read alike are one.

    Two formats that read different days from the same texts are both returned: the analyst has to choose.
    """
    filled = [text for text in texts if text.strip()]
    if not filled:
        return []
    first = filled[:GLANCE]
    if all(sum(read_date(text, form) is not None for text in first) * 3 < len(first) for form in among):
        return []
    readings = {form: [read_date(text, form) for text in filled] for form in among}
    scored = [(sum(day is not None for day in days), form) for form, days in readings.items()]
    best = max(count for count, _ in scored)
    if best * 3 < len(filled) * 2:
        return []
    found: list[DateFormat] = []
    for count, form in scored:
        if count == best and all(readings[form] != readings[other] for other in found):
            found.append(form)
    return found
