"""Holidays from a calendar file (iCalendar, RFC 5545): its entries of whole days, each with its name."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date, datetime
from typing import Any

import recurring_ical_events
from icalendar import Calendar

from lofty_abacus.core.days import add_days
from lofty_abacus.ingest.problems import UnreadableFileError

#: How often entries may come again: finer rules make more entries than any calendar of holidays has.
_RULES = {"DAILY", "WEEKLY", "MONTHLY", "YEARLY"}
MOST_ENTRIES, LONGEST_NAME, LONGEST_ENTRY = 5_000, 80, 31
_WAY_OUT = "Export the calendar of holidays again, as iCalendar (.ics)."


@dataclass(frozen=True, order=True)
class Holiday:
    """A day and what it is called."""

    day: date
    name: str


@dataclass(frozen=True)
class FoundHolidays:
    """Whole days of a calendar file by day, each once; left_out: its other entries (at a time of day, or longer than a month)."""

    days: tuple[Holiday, ...]
    left_out: int


def read_holidays(file: str, text: str, first: date, last: date) -> FoundHolidays:
    """The holidays of a calendar between two days, entries that come again each year as often as they do.

    An entry over several days is a holiday on each. Cancelled entries are none. Raises UnreadableFileError.
    """
    calendar = _parsed(file, text)
    whole, left_out = Calendar(), 0
    for entry in calendar.walk("VEVENT"):
        if str(entry.get("STATUS", "")).upper() == "CANCELLED":
            continue
        if _is_whole(entry):
            whole.add_component(entry)
        else:
            left_out += 1
    if len(whole.subcomponents) > MOST_ENTRIES:
        raise UnreadableFileError(file, f"it has more than {MOST_ENTRIES:,} entries of whole days.", "Export holidays only.")
    try:
        found = recurring_ical_events.of(whole).between(first, add_days(last, 1))
    except (ValueError, TypeError, KeyError, OverflowError) as error:
        raise UnreadableFileError(file, f"an entry that comes again says in no way when: {error}.", _WAY_OUT) from error
    days = {holiday.day: holiday for entry in found for holiday in sorted(_days(entry), reverse=True)}
    return FoundHolidays(tuple(days[day] for day in sorted(days) if first <= day <= last), left_out)


def _parsed(file: str, text: str) -> Any:
    try:
        calendar = Calendar.from_ical(text)
    except (ValueError, IndexError, KeyError) as error:
        raise UnreadableFileError(file, f"it is no calendar file: {str(error)[:120]}.", _WAY_OUT) from error
    if calendar.name != "VCALENDAR":
        raise UnreadableFileError(file, "it holds no calendar.", _WAY_OUT)
    return calendar


def _is_whole(entry: Any) -> bool:
    """Whether an entry is of whole days, and comes again at most once a day."""
    start = getattr(entry.get("DTSTART"), "dt", None)
    if not isinstance(start, date) or isinstance(start, datetime):
        return False
    rule = entry.get("RRULE")
    rules = rule if isinstance(rule, list) else [rule] if rule is not None else []
    often = {str(each).upper() for one in rules for each in one.get("FREQ", [])}
    return often <= _RULES and _length(entry) <= LONGEST_ENTRY


def _length(entry: Any) -> int:
    """How many days an entry takes: up to its end, which it does not hold, or as long as it says; else one."""
    start, end = entry["DTSTART"].dt, getattr(entry.get("DTEND"), "dt", None)
    if isinstance(end, date) and not isinstance(end, datetime):
        return max(int((end - start).days), 1)
    lasts = getattr(entry.get("DURATION"), "dt", None)
    return max(int(lasts.days), 1) if lasts is not None else 1


def _days(entry: Any) -> Iterable[Holiday]:
    name = str(entry.get("SUMMARY", "")).strip()[:LONGEST_NAME]
    for at in range(_length(entry)):
        yield Holiday(add_days(entry["DTSTART"].dt, at), name)
