"""Schedules under a clock of their own: month ends, holidays, a change to summer time, a stopped machine."""

from __future__ import annotations

from dataclasses import replace
from datetime import UTC, date, datetime, timedelta
from zoneinfo import ZoneInfo

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lofty_abacus.actions.briefs.keep_briefs import keep_brief, listed_brief
from lofty_abacus.actions.briefs.schedules import checked_schedule, is_day, last_due, next_due
from lofty_abacus.actions.briefs.watch_briefs import Briefs
from lofty_abacus.actions.ledgers.make_ledger import change_settings, settings_of
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records.briefs import Handing, Person, Schedule
from lofty_abacus.core.calendar.settings import CalendarSettings
from lofty_abacus.core.errors import QuestionError
from tests.briefs.ledgers import BY_REGION, LINES, Write, brief, posted

PLAIN = CalendarSettings()
ZONE = "Europe/Berlin"
#: New Year's Day, and a bridge after it.
FREE = replace(PLAIN, holidays=(date(2027, 1, 1),))
SCHEDULES = st.builds(
    Schedule,
    kind=st.sampled_from(["weekly", "month_day", "first_working_day"]),
    weekdays=st.lists(st.integers(0, 6), min_size=1, max_size=3).map(tuple),
    time=st.builds("{:02d}:{:02d}".format, st.integers(0, 23), st.integers(0, 59)),
    day=st.integers(1, 31),
)
MOMENTS = st.datetimes(datetime(2025, 1, 1), datetime(2028, 1, 1)).map(lambda each: each.replace(tzinfo=UTC))


def local(*parts: int) -> datetime:
    return datetime(*parts, tzinfo=ZoneInfo(ZONE)).astimezone(UTC)  # type: ignore[misc, arg-type]


def test_each_monday_at_seven_in_the_ledgers_zone() -> None:
    monday = Schedule("weekly", (0,), "07:00")
    assert next_due(monday, ZONE, PLAIN, local(2026, 11, 29, 12)) == local(2026, 11, 30, 7)
    assert next_due(monday, ZONE, PLAIN, local(2026, 11, 30, 7)) == local(2026, 12, 7, 7)
    assert last_due(monday, ZONE, PLAIN, local(2026, 11, 29), local(2026, 11, 30, 6, 59)) is None
    assert last_due(monday, ZONE, PLAIN, local(2026, 11, 29), local(2026, 11, 30, 7)) == local(2026, 11, 30, 7)


def test_a_change_to_summer_time_skips_and_repeats_nothing() -> None:
    # On 28 March 2027 there is no 02:30 in Berlin; on 31 October there are two.
    night = Schedule("weekly", (6,), "02:30")
    assert next_due(night, ZONE, PLAIN, local(2027, 3, 27)) == datetime(2027, 3, 28, 1, 30, tzinfo=UTC)
    twice = next_due(night, ZONE, PLAIN, local(2027, 10, 30))
    assert twice == datetime(2027, 10, 31, 0, 30, tzinfo=UTC)
    assert next_due(night, ZONE, PLAIN, twice) == local(2027, 11, 7, 2, 30)
    # The same time of day by the clock on the wall, before and after.
    seven = Schedule("weekly", (0,), "07:00")
    assert next_due(seven, ZONE, PLAIN, local(2027, 3, 23)) == datetime(2027, 3, 29, 5, tzinfo=UTC)
    assert next_due(seven, ZONE, PLAIN, local(2027, 3, 16)) == datetime(2027, 3, 22, 6, tzinfo=UTC)


def test_month_ends_and_holidays() -> None:
    last = Schedule("month_day", day=31, time="18:00")
    days = [day for day in (date(2027, 1, 1) + timedelta(n) for n in range(151)) if is_day(last, day, PLAIN)]
    assert days == [date(2027, 1, 31), date(2027, 2, 28), date(2027, 3, 31), date(2027, 4, 30), date(2027, 5, 31)]
    first = Schedule("first_working_day", time="07:00")
    # 1 January 2027 is a Friday and a holiday: the next working day is Monday the 4th.
    assert next_due(first, ZONE, PLAIN, local(2026, 12, 31)) == local(2027, 1, 1, 7)
    assert next_due(first, ZONE, FREE, local(2026, 12, 31)) == local(2027, 1, 4, 7)


@given(SCHEDULES, MOMENTS, st.integers(0, 60 * 24 * 90))
def test_what_was_due_is_what_would_be_due_next(schedule: Schedule, after: datetime, minutes: int) -> None:
    now = after + timedelta(minutes=minutes)
    due = last_due(schedule, ZONE, PLAIN, after, now)
    ahead = next_due(schedule, ZONE, PLAIN, after)
    assert ahead is not None and ahead > after
    if due is None:
        assert ahead > now
    else:
        assert ahead <= due <= now
        following = next_due(schedule, ZONE, PLAIN, due)
        assert following is not None and following > now, "it is the latest"


@pytest.mark.parametrize(
    "wrong", [Schedule(time="7"), Schedule("weekly", ()), Schedule("weekly", (7,)), Schedule("month_day", day=32)]
)
def test_a_schedule_without_a_moment_is_refused(wrong: Schedule) -> None:
    with pytest.raises(QuestionError):
        checked_schedule(wrong)


class Clock:
    """A clock that is set."""

    def __init__(self, now: datetime) -> None:
        self.now = now

    def __call__(self) -> datetime:
        return self.now


def test_a_stopped_machine_makes_up_with_one_issue_and_no_more(office: Office, ledger: str, csv_file: Write) -> None:
    posted(office, ledger, csv_file, *LINES)
    settings = settings_of(office, ledger)
    change_settings(office, ledger, replace(settings, time_zone=ZONE))
    clock = Clock(office.now())
    own = replace(office, now=clock)
    handing = Handing((Person("lead@a.example"),), schedule=Schedule("weekly", (0,), "07:00"))
    one = keep_brief(own, ledger, brief(), handing)
    books = office.books.briefs
    books.scheduled(one.id, local(2026, 11, 25))
    clock.now = local(2026, 11, 30, 6, 59)
    Briefs(own).look()
    assert not books.issues(one.id)
    assert listed_brief(own, one.id).next_due == local(2026, 11, 30, 7)
    # Three Mondays went by while nobody was there; it is started twice.
    clock.now = local(2026, 12, 15, 9)
    Briefs(own).look()
    Briefs(own).look()
    (issue,) = books.issues(one.id)
    mails = office.books.outbox.log(office.books.ledger(ledger).id, issue.id)
    assert len(mails) == 1 and books.brief(one.id).scheduled_to == local(2026, 12, 14, 7)
    clock.now = local(2026, 12, 21, 7, 0)
    Briefs(own).look()
    assert [each.number for each in books.issues(one.id)] == [2, 1]
    # While it is paused nothing goes out, and what was due meanwhile is not made up for.
    keep_brief(own, ledger, brief(), replace(handing, paused=True), one.id)
    clock.now = local(2026, 12, 29)
    Briefs(own).look()
    keep_brief(own, ledger, brief(), handing, one.id)
    books.scheduled(one.id, clock.now)
    Briefs(own).look()
    assert len(books.issues(one.id)) == 2


def test_an_issue_that_cannot_be_made_is_told_and_tried_next_time(office: Office, ledger: str, csv_file: Write) -> None:
    posted(office, ledger, csv_file, *LINES)
    clock = Clock(datetime(2026, 11, 24, tzinfo=UTC))
    own = replace(office, now=clock)
    from lofty_abacus.export.briefs.brief import FigureBlock

    wrong = brief(blocks=(FigureBlock("table", replace(BY_REGION, rows=("colour",))),))
    one = keep_brief(own, ledger, wrong, Handing(schedule=Schedule("weekly", (0, 1, 2, 3, 4, 5, 6), "06:00")))
    office.books.briefs.scheduled(one.id, clock.now)
    clock.now += timedelta(days=1)
    Briefs(own).look()
    kept = office.books.briefs.brief(one.id)
    assert "block 1" in kept.trouble and kept.scheduled_to == clock.now and not office.books.briefs.issues(one.id)
    keep_brief(own, ledger, brief(), kept.handing, one.id)
    office.books.briefs.scheduled(one.id, clock.now)
    clock.now += timedelta(days=1)
    Briefs(own).look()
    assert len(office.books.briefs.issues(one.id)) == 1 and not office.books.briefs.brief(one.id).trouble


def test_an_issue_comes_when_a_feed_was_posted_or_everything_is_there(office: Office, ledger: str, csv_file: Write) -> None:
    by_posting = keep_brief(office, ledger, brief("By posting"), Handing(schedule=Schedule("posted")))
    posted(office, ledger, csv_file, *LINES[:5], name="sales-1.csv")
    complete = keep_brief(office, ledger, brief("Complete"), Handing(schedule=Schedule("complete")))
    Briefs(office).look()
    issues = office.books.briefs.issues
    assert [len(issues(each.id)) for each in (by_posting, complete)] == [1, 0], "nothing is posted up to the as-of date"
    Briefs(office).look()
    assert len(issues(by_posting.id)) == 1
    posted(office, ledger, csv_file, *LINES[5:], "2026-05-31,O20,L20,North,Ada,P1,1,1.00", name="sales-2.csv")
    Briefs(office).look()
    Briefs(office).look()
    assert [len(issues(each.id)) for each in (by_posting, complete)] == [2, 1]
