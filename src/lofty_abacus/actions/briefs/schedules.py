"""When a schedule is due. Which days count is the ledger's calendar to say (its holidays); moments are of its time zone."""

from __future__ import annotations

import re
from calendar import monthrange
from datetime import UTC, date, datetime, time, timedelta
from zoneinfo import ZoneInfo

from lofty_abacus.actions.records.briefs import Schedule
from lofty_abacus.core.calendar.settings import CalendarSettings
from lofty_abacus.core.calendar.working_days import working_day
from lofty_abacus.core.errors import QuestionError

_TIME = re.compile(r"([01]\d|2[0-3]):[0-5]\d")
#: A machine that stood longer than this begins anew.
MOST_DAYS = 400
_WEEK = 7
_MONTH = 31


def checked_schedule(schedule: Schedule) -> None:
    """Raise QuestionError for a schedule that has no moment."""
    if not _TIME.fullmatch(schedule.time):
        raise QuestionError("schedule", f"{schedule.time!r} is no time of day.", "Write one such as 07:00.")
    if schedule.kind == "weekly" and not schedule.weekdays:
        raise QuestionError("schedule", "it names no day of the week.", "Choose one.")
    if any(not 0 <= each < _WEEK for each in schedule.weekdays):
        raise QuestionError("schedule", "it names a day that no week has.", "Take 0 (Monday) to 6 (Sunday).")
    if not 1 <= schedule.day <= _MONTH:
        raise QuestionError("schedule", f"no month has a day {schedule.day}.", f"Take 1 to {_MONTH}.")


def by_clock(schedule: Schedule) -> bool:
    """Whether a schedule goes by the clock, not by what is posted."""
    return schedule.kind in ("weekly", "month_day", "first_working_day")


def last_due(schedule: Schedule, zone: str, calendar: CalendarSettings, after: datetime, now: datetime) -> datetime | None:
    """The latest moment at which a schedule was due after one moment and up to another; None: it was not.

    However many moments a stopped machine missed, one issue makes up for them.
    """
    place = ZoneInfo(zone)
    day = now.astimezone(place).date()
    for _ in range(min((now - after).days + 2, MOST_DAYS)):
        moment = _moment(schedule, place, day)
        if moment <= after:
            return None
        if moment <= now and is_day(schedule, day, calendar):
            return moment
        day -= timedelta(days=1)
    return None


def next_due(schedule: Schedule, zone: str, calendar: CalendarSettings, after: datetime) -> datetime | None:
    """The first moment after one at which a schedule is due; None for one that goes by postings, or that never is."""
    if not by_clock(schedule):
        return None
    place = ZoneInfo(zone)
    day = after.astimezone(place).date()
    for _ in range(MOST_DAYS):
        moment = _moment(schedule, place, day)
        if moment > after and is_day(schedule, day, calendar):
            return moment
        day += timedelta(days=1)
    return None


def is_day(schedule: Schedule, day: date, calendar: CalendarSettings) -> bool:
    """Whether a schedule is due on a day. A month that is shorter than the day of the month ends on it."""
    last = monthrange(day.year, day.month)[1]
    if schedule.kind == "weekly":
        return day.weekday() in schedule.weekdays
    if schedule.kind == "month_day":
        return day.day == min(schedule.day, last)
    if schedule.kind == "first_working_day":
        return working_day(day.replace(day=1), day.replace(day=last), 1, calendar) == day
    return False


def _moment(schedule: Schedule, place: ZoneInfo, day: date) -> datetime:
    """A time of day as a moment: one that a change to summer time leaves out comes as much later, one that comes twice, first."""
    return datetime.combine(day, time.fromisoformat(schedule.time), place).astimezone(UTC)
