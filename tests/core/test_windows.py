from __future__ import annotations

from datetime import date

import pytest

from lofty_abacus.core.calendar.settings import CalendarSettings
from lofty_abacus.core.errors import QuestionError
from lofty_abacus.core.windows.as_of import LastCompleted, LastPostedDay, PinnedDay, Today, as_of_day
from lofty_abacus.core.windows.bases import Base, BaseWindow, FixedBase, GivenBase, PeriodBase, ShiftedBase, base_window
from lofty_abacus.core.windows.coverage import Coverage, FeedCoverage, coverage_of, default_coverage
from lofty_abacus.core.windows.current import (
    CurrentWindow,
    Dates,
    LastPeriods,
    NamedPeriod,
    RunningPeriod,
    ToDate,
    ToDateGrain,
    current_window,
)
from lofty_abacus.core.windows.ranges import EMPTY, DayRange, DaySet, day_set
from lofty_abacus.core.windows.window import Window

WIDE = DayRange(date(2020, 1, 1), date(2030, 12, 31))
BOTH = frozenset({"sale", "return"})


def covered(days: DayRange = WIDE, holes: DaySet = EMPTY) -> Coverage:
    return coverage_of([FeedCoverage("lines", days, BOTH, holes)], BOTH)


def pair(
    grain: ToDateGrain,
    as_of: date,
    base: PeriodBase,
    coverage: Coverage | None = None,
    calendar: CalendarSettings | None = None,
) -> tuple[Window, BaseWindow]:
    calendar, coverage, window = calendar or CalendarSettings(), coverage or covered(), ToDate(grain)
    current = current_window(window, as_of, coverage, calendar)
    return current.window, base_window(base, current, as_of, coverage, calendar, "bases[0]")


def days(window: Window) -> tuple[str, str]:
    assert window.asked is not None
    return window.asked.first.isoformat(), window.asked.last.isoformat()


@pytest.mark.parametrize(
    ("grain", "as_of", "base", "expected", "fairness"),
    [
        ("year", date(2026, 10, 17), PeriodBase(1, "year"), ("2025-01-01", "2025-10-17"), "equal_days"),
        ("year", date(2026, 10, 17), PeriodBase(2, "year"), ("2024-01-01", "2024-10-17"), "same_dates"),
        ("year", date(2025, 12, 31), PeriodBase(1, "year"), ("2024-01-01", "2024-12-31"), "whole_periods"),
        ("year", date(2025, 2, 28), PeriodBase(1, "year"), ("2024-01-01", "2024-02-29"), "same_dates"),
        ("year", date(2026, 10, 17), PeriodBase(-1, "year"), ("2027-01-01", "2027-10-17"), None),
        ("month", date(2026, 10, 17), PeriodBase(1, "month"), ("2026-09-01", "2026-09-17"), "equal_days"),
        ("month", date(2026, 3, 31), PeriodBase(1, "month"), ("2026-02-01", "2026-02-28"), "whole_periods"),
        ("month", date(2026, 3, 30), PeriodBase(1, "month"), ("2026-02-01", "2026-02-28"), "unequal"),
        ("month", date(2026, 2, 28), PeriodBase(1, "month"), ("2026-01-01", "2026-01-31"), "whole_periods"),
        ("month", date(2026, 10, 17), PeriodBase(1, "year"), ("2025-10-01", "2025-10-17"), "equal_days"),
        ("quarter", date(2026, 5, 31), PeriodBase(1, "quarter"), ("2026-01-01", "2026-02-28"), "same_dates"),
        ("quarter", date(2026, 5, 30), PeriodBase(1, "quarter"), ("2026-01-01", "2026-02-28"), "unequal"),
        ("half_year", date(2026, 8, 15), PeriodBase(1, "half_year"), ("2026-01-01", "2026-02-15"), "equal_days"),
        ("week", date(2026, 10, 14), PeriodBase(1, "week"), ("2026-10-05", "2026-10-07"), "equal_days"),
        ("week", date(2026, 1, 1), PeriodBase(1, "week"), ("2025-12-22", "2025-12-25"), "equal_days"),
        ("week", date(2026, 10, 14), PeriodBase(1, "year"), ("2025-10-13", "2025-10-15"), "equal_days"),
    ],
)
def test_bases(grain: ToDateGrain, as_of: date, base: PeriodBase, expected: tuple[str, str], fairness: str | None) -> None:
    _, found = pair(grain, as_of, base)
    assert days(found.window) == expected
    assert found.fairness == fairness


def test_a_fiscal_year_to_date() -> None:
    calendar = CalendarSettings(fiscal_start_month=4)
    current, base = pair("year", date(2026, 3, 14), PeriodBase(1, "year"), calendar=calendar)
    assert days(current) == ("2025-04-01", "2026-03-14")
    assert days(base.window) == ("2024-04-01", "2025-03-14")
    assert base.fairness == "equal_days"


def test_no_week_53_there() -> None:
    _, base = pair("week", date(2026, 12, 30), PeriodBase(1, "year"))
    assert base.window.reason == "not_applicable"
    assert base.fairness is None


def test_the_last_day_of_a_period_makes_it_whole() -> None:
    current, _ = pair("month", date(2026, 2, 28), PeriodBase(1, "month"))
    assert current.is_whole


def test_reasons() -> None:
    only_2026 = covered(DayRange(date(2026, 1, 1), date(2026, 6, 30)))
    _, before = pair("year", date(2026, 6, 1), PeriodBase(1, "year"), only_2026)
    assert before.window.reason == "before_coverage"
    current, _ = pair("month", date(2026, 8, 1), PeriodBase(1, "month"), only_2026)
    assert current.reason == "after_coverage"
    _, ahead = pair("year", date(2026, 6, 1), PeriodBase(-1, "year"), only_2026)
    assert ahead.window.reason == "after_as_of"
    hole = covered(WIDE, day_set([DayRange(date(2026, 5, 1), date(2026, 5, 31))]))
    _, not_posted = pair("month", date(2026, 6, 20), PeriodBase(1, "month"), hole)
    assert not_posted.window.reason == "not_posted"


def test_a_hole_cuts_a_window_and_makes_it_unequal() -> None:
    hole = covered(WIDE, day_set([DayRange(date(2026, 5, 1), date(2026, 5, 31))]))
    current, base = pair("year", date(2026, 6, 30), PeriodBase(1, "year"), hole)
    assert current.partly_covered and current.counted.days == 181 - 31
    assert base.fairness == "unequal"


def test_an_overlapping_base_is_marked() -> None:
    # Weeks cannot overlap their neighbours, nor years; nothing here does.
    for grain in ("week", "month", "quarter", "half_year", "year"):
        _, base = pair(grain, date(2026, 3, 14), PeriodBase(1, grain))  # type: ignore[arg-type]
        assert not base.overlaps


def test_the_default_policy_is_the_last_posted_day_not_after_today() -> None:
    coverage = covered(DayRange(date(2024, 1, 1), date(2026, 10, 17)))
    assert as_of_day(LastPostedDay(), coverage, date(2026, 11, 23)) == date(2026, 10, 17)
    assert as_of_day(LastPostedDay(), coverage, date(2026, 5, 2)) == date(2026, 5, 2)
    assert as_of_day(PinnedDay(date(2025, 1, 1)), coverage, date(2026, 5, 2)) == date(2025, 1, 1)
    with pytest.raises(QuestionError, match="nothing is posted"):
        as_of_day(LastPostedDay(), coverage_of([], BOTH), date(2026, 1, 1))


def test_undeclared_coverage() -> None:
    assert default_coverage(date(2025, 3, 14), date(2026, 1, 9)) == DayRange(date(2025, 3, 1), date(2026, 1, 9))
    assert default_coverage(date(2027, 3, 14), None) == DayRange(date(2027, 3, 1), date(2027, 3, 1))


def test_feeds_that_end_apart() -> None:
    feeds = [
        FeedCoverage("sales", DayRange(date(2025, 1, 1), date(2026, 10, 17)), frozenset({"sale"})),
        FeedCoverage("returns", DayRange(date(2025, 1, 1), date(2026, 9, 30)), frozenset({"return"})),
    ]
    assert coverage_of(feeds, BOTH).ends_apart
    assert not coverage_of(feeds, frozenset({"sale"})).ends_apart


@pytest.mark.parametrize(
    ("base", "grain", "why"),
    [
        (PeriodBase(0, "year"), "year", "current window itself"),
        (PeriodBase(4001, "year"), "year", "out of reach"),
        (PeriodBase(1, "month"), "quarter", "no base that is months back"),
        (PeriodBase(1, "week"), "year", "no base that is weeks back"),
    ],
)
def test_impossible_bases_are_refused(base: PeriodBase, grain: ToDateGrain, why: str) -> None:
    with pytest.raises(QuestionError, match=why) as caught:
        pair(grain, date(2026, 10, 17), base)
    assert caught.value.part == "bases[0]" and caught.value.way_out


#: Every kind of window, as of Saturday 17 October 2026.
TODAY_PINNED = date(2026, 10, 17)


@pytest.mark.parametrize(
    ("window", "expected"),
    [
        (ToDate("year"), ("2026-01-01", "2026-10-17")),
        (ToDate("year", completed="month"), ("2026-01-01", "2026-09-30")),
        (ToDate("quarter", completed="month"), None),
        (RunningPeriod("month"), ("2026-10-01", "2026-10-17")),
        (RunningPeriod("quarter", 1), ("2026-07-01", "2026-09-30")),
        (RunningPeriod("week", 2), ("2026-09-28", "2026-10-04")),
        (NamedPeriod("2025-Q4"), ("2025-10-01", "2025-12-31")),
        (NamedPeriod("2026-Q4"), ("2026-10-01", "2026-10-17")),
        (NamedPeriod("2026-W12"), ("2026-03-16", "2026-03-22")),
        (LastPeriods(7, "day"), ("2026-10-11", "2026-10-17")),
        (LastPeriods(3, "month"), ("2026-07-18", "2026-10-17")),
        (LastPeriods(3, "month", "completed"), ("2026-07-01", "2026-09-30")),
        (LastPeriods(1, "year", "completed"), ("2025-01-01", "2025-12-31")),
        (Dates(date(2026, 10, 1), date(2026, 12, 31)), ("2026-10-01", "2026-10-17")),
        (Dates(date(2024, 5, 5)), ("2024-05-05", "2026-10-17")),
    ],
)
def test_current_windows(window: CurrentWindow, expected: tuple[str, str] | None) -> None:
    found = current_window(window, TODAY_PINNED, covered(), CalendarSettings()).window
    if expected is None:
        assert found.reason == "window_incomplete"
    else:
        assert days(found) == expected and found.reason is None


def based(window: CurrentWindow, base: Base, as_of: date = TODAY_PINNED, calendar: CalendarSettings | None = None) -> BaseWindow:
    calendar = calendar or CalendarSettings()
    return base_window(base, current_window(window, as_of, covered(), calendar), as_of, covered(), calendar, "bases[0]")


@pytest.mark.parametrize(
    ("window", "base", "expected", "fairness"),
    [
        (LastPeriods(3, "month"), PeriodBase(1, "period"), ("2026-04-18", "2026-07-17"), "same_dates"),
        (Dates(date(2026, 4, 1), date(2026, 5, 31)), PeriodBase(1, "period"), ("2026-02-01", "2026-03-31"), "same_dates"),
        (Dates(date(2026, 4, 3), date(2026, 5, 31)), PeriodBase(1, "period"), ("2026-02-03", "2026-04-02"), "equal_days"),
        (Dates(date(2026, 4, 3), date(2026, 5, 31)), PeriodBase(2, "year"), ("2024-04-03", "2024-05-31"), "equal_days"),
        (NamedPeriod("2026-03"), PeriodBase(1, "period"), ("2026-02-01", "2026-02-28"), "whole_periods"),
        (NamedPeriod("2026-03"), PeriodBase(1, "period", "same_days"), ("2026-02-01", "2026-02-28"), "whole_periods"),
        (NamedPeriod("2026-02"), PeriodBase(1, "period", "same_days"), ("2026-01-01", "2026-01-28"), "equal_days"),
        (ToDate("month"), PeriodBase(1, "period", "whole"), ("2026-09-01", "2026-09-30"), "unequal"),
        (ToDate("year"), PeriodBase(1, "year", "same_weekdays"), ("2025-01-02", "2025-10-18"), "equal_days"),
        (ToDate("month"), PeriodBase(1, "period", "same_weekdays"), ("2026-09-03", "2026-09-19"), "equal_days"),
        (ToDate("quarter"), PeriodBase(1, "period", "same_weekdays"), ("2026-07-02", "2026-07-18"), "equal_days"),
        (ToDate("year"), PeriodBase(4, "year", "same_weekdays"), ("2021-12-30", "2022-10-15"), "equal_days"),
        (ToDate("month"), ShiftedBase(10, "day"), ("2026-09-21", "2026-10-07"), "equal_days"),
        (ToDate("month"), ShiftedBase(1, "quarter"), ("2026-07-01", "2026-07-17"), "equal_days"),
        (ToDate("quarter"), GivenBase(NamedPeriod("2025-Q4")), ("2025-10-01", "2025-12-31"), "unequal"),
        (NamedPeriod("2026-Q3"), GivenBase(NamedPeriod("2025-Q4")), ("2025-10-01", "2025-12-31"), "equal_days"),
        (NamedPeriod("2026-Q2"), GivenBase(NamedPeriod("2025-Q4")), ("2025-10-01", "2025-12-31"), "whole_periods"),
        (NamedPeriod("2026-02"), GivenBase(NamedPeriod("2025-Q4")), ("2025-10-01", "2025-12-31"), "unequal"),
        (ToDate("month"), FixedBase("2024"), ("2024-10-01", "2024-10-17"), "equal_days"),
        (ToDate("month"), FixedBase("2024", "whole"), ("2024-10-01", "2024-10-31"), "unequal"),
        (ToDate("year", completed="month"), PeriodBase(1, "year"), ("2025-01-01", "2025-09-30"), "equal_days"),
    ],
)  # fmt: skip
def test_bases_of_every_kind(window: CurrentWindow, base: Base, expected: tuple[str, str], fairness: str) -> None:
    found = based(window, base)
    assert days(found.window) == expected and found.fairness == fairness


def test_same_weekdays_move_by_the_nearest_whole_weeks() -> None:
    for grain, weeks in (("week", 1), ("month", 4), ("quarter", 13), ("half_year", 26), ("year", 52)):
        current = current_window(ToDate(grain), TODAY_PINNED, covered(), CalendarSettings()).window  # type: ignore[arg-type]
        found = based(ToDate(grain), PeriodBase(1, "period", "same_weekdays"))  # type: ignore[arg-type]
        assert current.asked is not None and found.window.asked == current.asked.shift(-7 * weeks)
    assert days(based(RunningPeriod("day"), PeriodBase(1, "period", "same_weekdays")).window) == ("2026-10-10", "2026-10-10")


def test_same_number_of_working_days() -> None:
    holidays = CalendarSettings(holidays=(date(2026, 9, 7), date(2026, 10, 5)))
    # To Saturday 17 October: 11 working days, so September ends on the day before its 12th.
    found = based(ToDate("month"), PeriodBase(1, "period", "same_working_days"), calendar=holidays)
    assert (
        days(found.window) == ("2026-09-01", "2026-09-16")
        and found.fairness == "equal_working_days"
        and not found.without_holidays
    )
    friday = based(ToDate("month"), PeriodBase(1, "period", "same_working_days"), date(2026, 10, 16), holidays)
    assert days(friday.window) == ("2026-09-01", "2026-09-16"), "its 11th is Wednesday the 16th"
    assert based(ToDate("month"), PeriodBase(1, "period", "same_working_days")).without_holidays
    none = based(ToDate("month"), PeriodBase(1, "period", "same_working_days"), date(2026, 8, 2))
    assert none.window.reason == "window_incomplete"
    short = based(ToDate("month"), PeriodBase(1, "period", "same_working_days"), date(2026, 3, 30))
    assert days(short.window) == ("2026-02-01", "2026-02-28") and short.fairness == "unequal"


def test_as_of_policies_move_by_themselves() -> None:
    posted = covered(DayRange(date(2024, 1, 1), date(2026, 10, 17)))
    today = date(2026, 11, 23)
    assert as_of_day(Today(), posted, today) == today
    for grain, wanted in (
        ("day", date(2026, 11, 22)),
        ("week", date(2026, 11, 22)),
        ("month", date(2026, 10, 31)),
        ("quarter", date(2026, 9, 30)),
    ):
        assert as_of_day(LastCompleted(grain), posted, today) == wanted  # type: ignore[arg-type]
    declared = coverage_of([FeedCoverage("lines", DayRange(date(2024, 1, 1), date(2026, 10, 17)), BOTH, declared=True)], BOTH)
    assert as_of_day(LastCompleted("day"), declared, today) == date(2026, 10, 17), "held back by what is declared as posted"
    assert as_of_day(LastCompleted("month"), declared, today) == date(2026, 9, 30)
    assert as_of_day(LastCompleted("day"), posted, today, "month") == date(2026, 10, 31)


def test_a_base_that_shares_days_with_the_current_window_is_marked() -> None:
    assert based(ToDate("month"), ShiftedBase(10, "day")).overlaps
    assert not based(ToDate("month"), ShiftedBase(17, "day")).overlaps
    assert not based(ToDate("month"), FixedBase("2026")).overlaps, "its own row says that it is the base"
