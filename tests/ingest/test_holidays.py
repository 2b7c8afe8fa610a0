"""Holidays from calendar files: whole days, several days, entries that come again, and what is left out."""

from __future__ import annotations

from datetime import date

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lofty_abacus.ingest.holidays import read_holidays
from lofty_abacus.ingest.problems import UnreadableFileError

FIRST, LAST = date(2025, 1, 1), date(2027, 12, 31)


def calendar(*entries: str) -> str:
    made = "".join(f"BEGIN:VEVENT\r\nUID:{at}@made-up\r\n{entry}\r\nEND:VEVENT\r\n" for at, entry in enumerate(entries))
    return f"BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:-//made up//EN\r\n{made}END:VCALENDAR\r\n"


def days(*entries: str) -> list[tuple[str, str]]:
    return [(each.day.isoformat(), each.name) for each in read_holidays("h.ics", calendar(*entries), FIRST, LAST).days]


def test_whole_days_and_those_over_several_days() -> None:
    assert days("DTSTART;VALUE=DATE:20260501\r\nSUMMARY:First of May") == [("2026-05-01", "First of May")]
    # The end of whole days is the day after the last one; without one it is a day, or as long as it says.
    over = days("DTSTART;VALUE=DATE:20251224\r\nDTEND;VALUE=DATE:20251227\r\nSUMMARY:Days off")
    assert over == [("2025-12-24", "Days off"), ("2025-12-25", "Days off"), ("2025-12-26", "Days off")]
    assert len(days("DTSTART;VALUE=DATE:20260101\r\nDURATION:P2D\r\nSUMMARY:Two")) == 2
    # Days outside of what is asked for are not read, however long ago an entry began.
    edge = days("DTSTART;VALUE=DATE:20271230\r\nDTEND;VALUE=DATE:20280103\r\nSUMMARY:Turn")
    assert [day for day, _ in edge] == ["2027-12-30", "2027-12-31"]


def test_entries_that_come_again() -> None:
    yearly = days("DTSTART;VALUE=DATE:19900501\r\nRRULE:FREQ=YEARLY\r\nSUMMARY:First of May")
    assert [day for day, _ in yearly] == ["2025-05-01", "2026-05-01", "2027-05-01"]
    monday = days("DTSTART;VALUE=DATE:20100906\r\nRRULE:FREQ=YEARLY;BYMONTH=9;BYDAY=1MO\r\nSUMMARY:First Monday")
    assert [day for day, _ in monday] == ["2025-09-01", "2026-09-07", "2027-09-06"]
    without = days("DTSTART;VALUE=DATE:20250101\r\nRRULE:FREQ=YEARLY\r\nEXDATE;VALUE=DATE:20260101\r\nSUMMARY:New Year")
    assert [day for day, _ in without] == ["2025-01-01", "2027-01-01"]
    assert [day for day, _ in days("DTSTART;VALUE=DATE:20240229\r\nRRULE:FREQ=YEARLY\r\nSUMMARY:Leap")] == []


def test_what_is_no_holiday_is_left_out_and_counted() -> None:
    found = read_holidays(
        "h.ics",
        calendar(
            "DTSTART:20260501T090000Z\r\nDTEND:20260501T100000Z\r\nSUMMARY:A meeting",
            "DTSTART;VALUE=DATE:20260601\r\nDTEND;VALUE=DATE:20260901\r\nSUMMARY:A summer",
            "DTSTART;VALUE=DATE:20260701\r\nRRULE:FREQ=SECONDLY\r\nSUMMARY:Every second",
            "DTSTART;VALUE=DATE:20260702\r\nSTATUS:CANCELLED\r\nSUMMARY:Cancelled",
            "DTSTART;VALUE=DATE:20260703\r\nSUMMARY:A day",
            "SUMMARY:No day at all",
        ),
        FIRST,
        LAST,
    )
    assert ([each.name for each in found.days], found.left_out) == (["A day"], 4)


def test_a_day_counts_once_and_names_may_be_anything() -> None:
    twice = days("DTSTART;VALUE=DATE:20260501\r\nSUMMARY:Ünïcode, 名古屋", "DTSTART;VALUE=DATE:20260501\r\nSUMMARY:Again")
    assert [day for day, _ in twice] == ["2026-05-01"]
    assert days("DTSTART;VALUE=DATE:20260501") == [("2026-05-01", "")]


@pytest.mark.parametrize(
    "text",
    ["", "a,b\n1,2\n", "BEGIN:VCALENDAR", "BEGIN:VEVENT\r\nEND:VEVENT", "BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\nEND:VCALENDAR"],
)
def test_what_is_no_calendar_is_refused(text: str) -> None:
    with pytest.raises(UnreadableFileError, match=r"\.ics"):
        read_holidays("h.csv", text, FIRST, LAST)


@given(
    st.text(max_size=200), st.sampled_from(["", "BEGIN:VCALENDAR\r\n", "BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\nDTSTART;VALUE=DATE:"])
)
def test_nothing_that_is_read_breaks_it(text: str, before: str) -> None:
    try:
        read_holidays("h.ics", before + text, FIRST, LAST)
    except UnreadableFileError as error:
        assert str(error).startswith("h.ics")
