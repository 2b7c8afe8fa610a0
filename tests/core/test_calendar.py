from __future__ import annotations

from datetime import date
from itertools import pairwise

import pytest

from lofty_abacus.core.calendar.periods import period_of, periods_between, step_period
from lofty_abacus.core.calendar.settings import CalendarSettings, Grain
from lofty_abacus.core.calendar.shifting import cuts_day_number, month_end_rule_matters, shift_bounds, shift_day
from lofty_abacus.core.calendar.weeks import day_in_week, week_number, weeks_in
from lofty_abacus.core.errors import QuestionError

PLAIN = CalendarSettings()
NO_RULE = CalendarSettings(month_end_rule=False)


@pytest.mark.parametrize(
    ("day", "n", "unit", "expected"),
    [
        (date(2025, 2, 28), -1, "year", date(2024, 2, 29)),
        (date(2024, 2, 29), -1, "year", date(2023, 2, 28)),
        (date(2026, 4, 30), -1, "month", date(2026, 3, 31)),
        (date(2026, 3, 30), -1, "month", date(2026, 2, 28)),
        (date(2026, 3, 31), -1, "month", date(2026, 2, 28)),
        (date(2026, 5, 31), -1, "quarter", date(2026, 2, 28)),
        (date(2026, 1, 15), -1, "half_year", date(2025, 7, 15)),
        (date(2026, 1, 1), -1, "day", date(2025, 12, 31)),
        (date(2026, 1, 1), 1, "week", date(2026, 1, 8)),
        (date(2024, 1, 31), 1, "month", date(2024, 2, 29)),
    ],
)
def test_shifting_a_day(day: date, n: int, unit: Grain, expected: date) -> None:
    assert shift_day(day, n, unit, PLAIN) == expected


def test_one_shift_of_n_is_not_n_shifts() -> None:
    assert shift_day(date(2026, 3, 30), -2, "month", PLAIN) == date(2026, 1, 30)
    assert shift_day(shift_day(date(2026, 3, 30), -1, "month", PLAIN), -1, "month", PLAIN) == date(2026, 1, 31)


def test_the_month_end_rule_can_be_switched_off() -> None:
    assert shift_day(date(2025, 2, 28), -1, "year", NO_RULE) == date(2024, 2, 28)
    assert month_end_rule_matters(date(2025, 2, 28), -1, "year", CalendarSettings())
    assert not month_end_rule_matters(date(2025, 2, 27), -1, "year", CalendarSettings())


def test_shifting_a_window() -> None:
    assert shift_bounds(date(2026, 4, 1), date(2026, 4, 30), -1, "month", PLAIN) == (date(2026, 3, 1), date(2026, 3, 31))
    assert shift_bounds(date(2025, 2, 28), date(2025, 3, 10), -1, "year", PLAIN) == (date(2024, 2, 28), date(2024, 3, 10))
    assert shift_bounds(date(2025, 2, 28), date(2025, 2, 28), -1, "year", PLAIN) == (date(2024, 2, 29), date(2024, 2, 29))


def test_a_cut_day_number() -> None:
    assert cuts_day_number(date(2026, 3, 30), -1, "month", PLAIN)
    assert not cuts_day_number(date(2026, 3, 31), -1, "month", PLAIN), "a last day goes to a last day"
    assert cuts_day_number(date(2026, 3, 31), -1, "month", NO_RULE)
    assert not cuts_day_number(date(2026, 3, 31), -1, "week", PLAIN)


def test_a_shift_out_of_the_calendar_is_refused() -> None:
    with pytest.raises(QuestionError, match="no date of this calendar"):
        shift_day(date(300, 1, 1), -400, "year", PLAIN)


@pytest.mark.parametrize(
    ("start", "named", "day", "year", "quarter", "first"),
    [
        (1, "end", date(2026, 3, 14), "2026", "2026-Q1", date(2026, 1, 1)),
        (4, "end", date(2026, 3, 14), "2026", "2026-Q4", date(2025, 4, 1)),
        (4, "end", date(2026, 4, 1), "2027", "2027-Q1", date(2026, 4, 1)),
        (4, "start", date(2026, 3, 14), "2025", "2025-Q4", date(2025, 4, 1)),
        (12, "end", date(2026, 12, 1), "2027", "2027-Q1", date(2026, 12, 1)),
        (7, "start", date(2026, 6, 30), "2025", "2025-Q4", date(2025, 7, 1)),
    ],
)
def test_fiscal_years(start: int, named: str, day: date, year: str, quarter: str, first: date) -> None:
    calendar = CalendarSettings(fiscal_start_month=start, fiscal_year_named=named)  # type: ignore[arg-type]
    assert period_of(day, "year", calendar).key == year
    assert period_of(day, "year", calendar).first == first
    assert period_of(day, "quarter", calendar).key == quarter


def test_months_keep_their_names_in_a_fiscal_year() -> None:
    assert period_of(date(2026, 3, 14), "month", CalendarSettings(fiscal_start_month=4)).key == "2026-03"


@pytest.mark.parametrize(
    ("day", "start", "expected"),
    [
        (date(2026, 1, 1), 0, (2026, 1)),
        (date(2024, 12, 30), 0, (2025, 1)),
        (date(2027, 1, 3), 0, (2026, 53)),
        (date(2021, 1, 3), 0, (2020, 53)),
        (date(2026, 1, 3), 6, (2025, 53)),
        (date(2026, 1, 4), 6, (2026, 1)),
    ],
)
def test_week_one_holds_the_fourth_of_january(day: date, start: int, expected: tuple[int, int]) -> None:
    assert week_number(day, start) == expected


def test_iso_weeks_for_forty_years() -> None:
    for number in range(date(2000, 1, 1).toordinal(), date(2040, 1, 1).toordinal()):
        day = date.fromordinal(number)
        assert week_number(day, 0) == day.isocalendar()[:2]


def test_a_53rd_week() -> None:
    assert (weeks_in(2026, 0), weeks_in(2025, 0)) == (53, 52)
    assert day_in_week(2025, 53, 0, 0) is None
    assert day_in_week(2026, 53, 6, 0) == date(2027, 1, 3)


@pytest.mark.parametrize("grain", ["day", "week", "month", "quarter", "half_year", "year"])
@pytest.mark.parametrize("start", [1, 4, 10])
def test_periods_tile_time(grain: Grain, start: int) -> None:
    calendar = CalendarSettings(fiscal_start_month=start, week_start=start % 7)
    periods = periods_between(date(2023, 5, 17), date(2026, 2, 3), grain, calendar)
    for one, following in pairwise(periods):
        assert (following.first - one.last).days == 1
        assert step_period(one, 1, calendar) == following
        assert step_period(following, -1, calendar) == one
        assert one < following
    assert periods[0].first <= date(2023, 5, 17) and periods[-1].last >= date(2026, 2, 3)
    assert len({each.key for each in periods}) == len(periods)


def test_settings_that_make_no_sense() -> None:
    with pytest.raises(ValueError, match="1 to 12"):
        CalendarSettings(fiscal_start_month=13)
    with pytest.raises(ValueError, match="Monday"):
        CalendarSettings(week_start=7)
