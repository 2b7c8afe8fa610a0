"""Years of 52 or 53 weeks, working days, and named periods."""

from __future__ import annotations

from datetime import date, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lofty_abacus.core.calendar.periods import period_named, period_of, periods_between, position_in, step_period
from lofty_abacus.core.calendar.settings import GRAINS, MONTHS, CalendarSettings, Grain, WeekYears
from lofty_abacus.core.calendar.shifting import cuts_day_number, shift_day
from lofty_abacus.core.calendar.working_days import working_day, working_days
from lofty_abacus.core.errors import QuestionError

#: Ends on the Saturday nearest to 31 January, named after the year before.
RETAIL = CalendarSettings(week_years=WeekYears("4-5-4", 5, 1, "nearest", "before"), week_start=6)
LAST_SUNDAY = CalendarSettings(week_years=WeekYears("4-4-5", 6, 8, "last"))
CALENDARS = st.sampled_from(
    [
        RETAIL,
        LAST_SUNDAY,
        CalendarSettings(),
        CalendarSettings(fiscal_start_month=7),
        CalendarSettings(fiscal_start_month=2, fiscal_year_named="start"),
    ]
)
DAYS = st.integers(0, 20_000).map(lambda n: date(2000, 1, 1) + timedelta(n))


@pytest.mark.parametrize(
    ("calendar", "day", "grain", "key", "first", "last"),
    [
        (RETAIL, "2024-02-03", "year", "2023", "2023-01-29", "2024-02-03"),  # 53 weeks
        (RETAIL, "2024-02-04", "year", "2024", "2024-02-04", "2025-02-01"),
        (RETAIL, "2024-02-03", "month", "2023-P12", "2023-12-31", "2024-02-03"),  # week 53 belongs to the last month
        (RETAIL, "2024-03-03", "month", "2024-P02", "2024-03-03", "2024-04-06"),
        (RETAIL, "2024-05-05", "quarter", "2024-Q2", "2024-05-05", "2024-08-03"),
        (RETAIL, "2024-08-04", "half_year", "2024-H2", "2024-08-04", "2025-02-01"),
        (LAST_SUNDAY, "2025-08-31", "year", "2025", "2024-08-26", "2025-08-31"),  # 53 weeks to the last Sunday of August
        (LAST_SUNDAY, "2024-11-10", "month", "2025-P03", "2024-10-21", "2024-11-24"),
    ],
)
def test_periods_of_whole_weeks(calendar: CalendarSettings, day: str, grain: Grain, key: str, first: str, last: str) -> None:
    found = period_of(date.fromisoformat(day), grain, calendar)
    assert (found.key, found.first.isoformat(), found.last.isoformat()) == (key, first, last)


def test_a_day_keeps_week_and_weekday_cut_at_the_periods_last() -> None:
    assert shift_day(date(2024, 2, 6), 1, "month", RETAIL) == date(2024, 3, 5), "the first Tuesday of each"
    # The fifth week of the 5-week month has no counterpart in a 4-week one: its last day is taken.
    assert shift_day(date(2024, 4, 2), 1, "month", RETAIL) == date(2024, 5, 4) and cuts_day_number(
        date(2024, 4, 2), 1, "month", RETAIL
    )
    assert shift_day(date(2024, 2, 1), -1, "year", RETAIL) == date(2023, 1, 28), "week 53 has no counterpart"
    assert shift_day(date(2024, 5, 7), -1, "year", RETAIL) == date(2023, 5, 2)


@given(day=DAYS, grain=st.sampled_from(GRAINS), calendar=CALENDARS)
def test_periods_tile_time_and_are_found_by_their_names(day: date, grain: Grain, calendar: CalendarSettings) -> None:
    period = period_of(day, grain, calendar)
    assert period.first <= day <= period.last
    after = step_period(period, 1, calendar)
    assert after.first == period.last + timedelta(1) and step_period(after, -1, calendar) == period
    assert period_named(period.key, calendar, "window") == period
    assert period.key < after.key, "names sort by time"


@given(day=DAYS, calendar=CALENDARS)
def test_a_year_is_made_of_its_parts(day: date, calendar: CalendarSettings) -> None:
    year = period_of(day, "year", calendar)
    for grain, months in MONTHS.items():
        parts = periods_between(year.first, year.last, grain, calendar)
        assert len(parts) == 12 // months and parts[0].first == year.first and parts[-1].last == year.last
        assert [position_in(part, "year", calendar) for part in parts] == list(range(12 // months))


@given(
    day=DAYS,
    n=st.integers(-30, 30),
    grain=st.sampled_from(["month", "quarter", "year"]),
    calendar=st.sampled_from([RETAIL, LAST_SUNDAY]),
)
def test_whole_weeks_shift_to_the_same_weekday_and_back_unless_cut(
    day: date, n: int, grain: Grain, calendar: CalendarSettings
) -> None:
    moved = shift_day(day, n, grain, calendar)
    if cuts_day_number(day, n, grain, calendar):
        assert moved == period_of(moved, grain, calendar).last
    else:
        assert moved.weekday() == day.weekday() and shift_day(moved, -n, grain, calendar) == day


@pytest.mark.parametrize("name", ["2026-Q5", "2026-13", "2025-W53", "26", "2026-1", "2026-P03", "2026-H3", "2026-02-30", "now"])
def test_names_that_are_no_periods_are_refused(name: str) -> None:
    with pytest.raises(QuestionError, match="is no period"):
        period_named(name, CalendarSettings(), "window")


@given(first=DAYS, length=st.integers(0, 60), number=st.integers(1, 40))
def test_the_kth_working_day_has_k_working_days_up_to_it(first: date, length: int, number: int) -> None:
    calendar = CalendarSettings(holidays=(first + timedelta(3), first + timedelta(10)))
    last = first + timedelta(length)
    found = working_day(first, last, number, calendar)
    if found is None:
        assert working_days(first, last, calendar) < number
    else:
        assert working_days(first, found, calendar) == number and found.weekday() < 5 and found not in calendar.holidays
