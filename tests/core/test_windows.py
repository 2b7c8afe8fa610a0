from __future__ import annotations

from datetime import date

import pytest

from lofty_abacus.core.calendar.settings import CalendarSettings
from lofty_abacus.core.errors import QuestionError
from lofty_abacus.core.windows.as_of import LastPostedDay, PinnedDay, as_of_day
from lofty_abacus.core.windows.bases import BaseWindow, PeriodBase, base_window, check_base
from lofty_abacus.core.windows.coverage import Coverage, FeedCoverage, coverage_of, default_coverage
from lofty_abacus.core.windows.current import ToDate, ToDateGrain, current_window
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
    return current, base_window(base, window, current, as_of, coverage, calendar)


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
        (PeriodBase(401, "year"), "year", "out of reach"),
        (PeriodBase(1, "month"), "quarter", "no base that is months back"),
        (PeriodBase(1, "week"), "year", "no base that is weeks back"),
    ],
)
def test_impossible_bases_are_refused(base: PeriodBase, grain: ToDateGrain, why: str) -> None:
    with pytest.raises(QuestionError, match=why) as caught:
        check_base(base, ToDate(grain), "bases[0]")
    assert caught.value.part == "bases[0]" and caught.value.way_out
