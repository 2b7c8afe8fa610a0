"""Laws of shifting (semantics, section 3) and of ranges, each with its stated exceptions."""

from __future__ import annotations

from datetime import date, timedelta

from hypothesis import assume, given
from hypothesis import strategies as st

from lofty_abacus.core.calendar.settings import CalendarSettings, Grain
from lofty_abacus.core.calendar.shifting import shift_bounds, shift_day
from lofty_abacus.core.days import is_month_end
from lofty_abacus.core.windows.ranges import DayRange, DaySet, day_set

days = st.dates(date(1950, 1, 1), date(2080, 12, 31))
units: st.SearchStrategy[Grain] = st.sampled_from(["day", "week", "month", "quarter", "half_year", "year"])
steps = st.integers(-60, 60)
calendars = st.builds(CalendarSettings, month_end_rule=st.booleans())


def _small(unit: Grain, n: int) -> int:
    return n if unit in ("day", "week", "month") else n % 20


@given(days, steps, units, calendars)
def test_back_and_forth_returns_days_1_to_27_and_last_days(day: date, n: int, unit: Grain, calendar: CalendarSettings) -> None:
    n = _small(unit, n)
    assume(day.day <= 27 or (calendar.month_end_rule and is_month_end(day)) or unit in ("day", "week"))
    # The 28th of February is a last day in most years: it goes to a last day, and comes back as one.
    there = shift_day(day, n, unit, calendar)
    assert shift_day(there, -n, unit, calendar) == day


@given(days, days, steps, units, calendars)
def test_shifting_never_reverses_days(one: date, other: date, n: int, unit: Grain, calendar: CalendarSettings) -> None:
    n = _small(unit, n)
    first, last = min(one, other), max(one, other)
    if not calendar.month_end_rule:
        assert shift_day(first, n, unit, calendar) <= shift_day(last, n, unit, calendar)
    moved = shift_bounds(first, last, n, unit, calendar)
    assert moved[0] <= moved[1]


@given(days, steps, calendars)
def test_a_quarter_is_three_months_and_a_year_twelve(day: date, n: int, calendar: CalendarSettings) -> None:
    n %= 20
    assert shift_day(day, n, "quarter", calendar) == shift_day(day, 3 * n, "month", calendar)
    assert shift_day(day, n, "half_year", calendar) == shift_day(day, 6 * n, "month", calendar)
    assert shift_day(day, n, "year", calendar) == shift_day(day, 12 * n, "month", calendar)


@given(days, units, calendars)
def test_shifting_by_nothing_is_nothing(day: date, unit: Grain, calendar: CalendarSettings) -> None:
    assert shift_day(day, 0, unit, calendar) == day


ranges = st.builds(lambda first, length: DayRange(first, first + timedelta(length)), days, st.integers(0, 400))
sets = st.lists(ranges, max_size=5).map(day_set)


@given(sets, sets, sets)
def test_sets_of_days_obey_the_laws_of_sets(a: DaySet, b: DaySet, c: DaySet) -> None:
    assert a.union(b) == b.union(a)
    assert a.intersect(b) == b.intersect(a)
    assert a.union(a) == a == a.intersect(a)
    assert a.intersect(b.union(c)) == a.intersect(b).union(a.intersect(c))
    assert a.difference(b).is_disjoint(b)
    assert a.difference(b).union(a.intersect(b)) == a
    assert a.union(b).days == a.days + b.days - a.intersect(b).days


@given(sets)
def test_a_set_has_one_form(a: DaySet) -> None:
    assert day_set(reversed(a.ranges)) == a
    for one, following in zip(a.ranges, a.ranges[1:], strict=False):
        assert (following.first - one.last).days > 1
