"""Statements and answers in words: what the page, the files and the command line say, made once."""

from __future__ import annotations

from dataclasses import replace
from datetime import date
from typing import get_args

import pytest

from lofty_abacus.core.answer.answer import Answer, Notice, NoticeCode
from lofty_abacus.core.answer.answering import answer
from lofty_abacus.core.answer.kinds import KINDS
from lofty_abacus.core.measures.table import MEASURES as MEASURE_TABLE
from lofty_abacus.core.measures.table import DefinedMeasure
from lofty_abacus.core.statement.levels import TimeLevel
from lofty_abacus.core.statement.limits import StatusLimit, TopLimit
from lofty_abacus.core.statement.statement import (
    CountedFilter,
    Goal,
    Opened,
    ShareScope,
    Show,
    ShownMeasure,
    Sort,
    Statement,
)
from lofty_abacus.core.windows.as_of import LastPostedDay, PinnedDay
from lofty_abacus.core.windows.bases import Base, FixedBase, GivenBase, LedgerBase, PeriodBase, ShiftedBase
from lofty_abacus.core.windows.current import CurrentWindow, Dates, LastPeriods, NamedPeriod, RunningPeriod, ToDate
from lofty_abacus.core.windows.reasons import Reason
from lofty_abacus.core.windows.stretches import Moving, RunningTotal
from lofty_abacus.telling import vocabulary
from lofty_abacus.telling.names import count, many, member_words, period_words, range_words
from lofty_abacus.telling.notices import NOTICES, grouped, notice_words
from lofty_abacus.telling.sentence import sentence, sentence_parts, title_of
from lofty_abacus.telling.told import told_of
from lofty_abacus.telling.windows import base_name, window_name
from tests.ledgers import Line, SmallLedger

DAY = date(2026, 10, 17)
PINNED = PinnedDay(DAY)
NET = ShownMeasure("net_sales")
YEAR_BEFORE = PeriodBase(1, "year")
LEDGER = SmallLedger(
    [
        Line(date(year, month, 5), amount * month, order=f"O{year}{month}", region=region, rep=rep)
        for year in (2025, 2026)
        for month in range(1, 11)
        for region, rep, amount in (("North", "Ada", 1_00), ("South", "Bo", 3_00))
    ]
)


def ask(statement: Statement, depth: int = 1) -> Answer:
    return answer(statement, LEDGER.facts, LEDGER.source, LEDGER.today, Opened(depth))


def test_every_code_has_its_words() -> None:
    assert set(vocabulary.MEASURES) == set(vocabulary.DEFINITIONS) == set(MEASURE_TABLE)
    assert set(vocabulary.SHOWS) == set(get_args(Show))
    assert set(vocabulary.HEADINGS) == set(KINDS) - {"value"}
    assert set(vocabulary.REASONS) == set(get_args(Reason))
    assert set(NOTICES) == set(get_args(NoticeCode))


@pytest.mark.parametrize(
    ("window", "words"),
    [
        (ToDate("year"), "year to date at 17 Oct 2026"),
        (ToDate("quarter", completed="month"), "quarter to date at 17 Oct 2026, completed months"),
        (RunningPeriod("month"), "running month at 17 Oct 2026"),
        (RunningPeriod("month", 1), "month before the one of 17 Oct 2026"),
        (RunningPeriod("half_year", 2), "half-year 2 before the one of 17 Oct 2026"),
        (NamedPeriod("2026-Q1"), "Q1 2026 at 17 Oct 2026"),
        (LastPeriods(1, "week"), "last 1 week to 17 Oct 2026"),
        (LastPeriods(12, "month", "completed"), "last 12 months completed by 17 Oct 2026"),
        (Dates(date(2026, 3, 1)), "1 Mar 2026 to 17 Oct 2026"),
        (Dates(date(2025, 11, 1), date(2026, 3, 1)), "1 Nov 2025 – 1 Mar 2026 at 17 Oct 2026"),
    ],
)
def test_windows_are_named(window: CurrentWindow, words: str) -> None:
    assert window_name(window, DAY) == words
    assert "the last posted day" in window_name(window, None)


@pytest.mark.parametrize(
    ("base", "words"),
    [
        (PeriodBase(1, "year"), "the same dates last year"),
        (PeriodBase(-1, "year"), "the same dates next year"),
        (PeriodBase(2, "year"), "the same dates of 2024"),
        (PeriodBase(1, "quarter"), "the same days of the quarter before"),
        (PeriodBase(3, "month"), "the same dates 3 months back"),
        (PeriodBase(-2, "month"), "the same dates 2 months ahead"),
        (PeriodBase(1, "year", "whole"), "last year, the whole period"),
        (PeriodBase(1, "period", "same_working_days"), "the period before, the same number of working days"),
        (PeriodBase(4, "period"), "4 periods back"),
        (ShiftedBase(1, "month"), "the days 1 month earlier"),
        (ShiftedBase(-2, "week", "same_weekdays"), "the days 2 weeks later, the same weekdays"),
        (FixedBase("2019"), "the same period of 2019"),
        (GivenBase(NamedPeriod("2026-W07")), "Week 7 2026"),
        (GivenBase(Dates(date(2026, 1, 1), date(2026, 1, 31))), "1 Jan – 31 Jan 2026"),
        (LedgerBase("Plan", "whole", "working_days"), "the ledger Plan, the whole period, spread over working days"),
    ],
)
def test_bases_are_named(base: Base, words: str) -> None:
    assert base_name(base, Statement((NET,)), DAY) == words


def test_at_days_the_period_before_is_a_weekday_or_the_day_before() -> None:
    at_days = Statement((NET,), (TimeLevel("month"), TimeLevel("day")))
    names = [base_name(PeriodBase(1, "period", day_back=back), at_days, DAY) for back in (7, 14, 1)]
    assert names == ["the same weekday a week earlier", "the same weekday 2 weeks earlier", "the day before"]


def test_the_sentence_says_every_part() -> None:
    statement = Statement(
        (NET,), (TimeLevel("month"), "region"), as_of=PINNED, bases=(PeriodBase(1, "period"),),
        filters=(CountedFilter("region", ("N", None), exclude=True),), limits=(StatusLimit(("new", "lost"), "region"),),
        goals=(Goal("net_sales", "105"),), defined=(DefinedMeasure("x", "net_sales * 2"),),
    )  # fmt: skip
    assert sentence(statement) == (
        "Show net sales, by month then region, for the year to date at 17 Oct 2026, against the month before, where region is not"
        " N or not mapped, showing only new or lost of region, with the goal net sales 105% of the month before."
        " Where x = net_sales * 2."
    )
    assert [each.part for each in sentence_parts(statement)] == [
        "measures", "rows", "window", "cut", "bases", "filters", "limits", "goals",
    ]  # fmt: skip


def test_bases_go_by_the_year_of_the_as_of_date() -> None:
    statement = Statement(
        (NET,),
        ("region",),
        as_of=PinnedDay(date(2021, 10, 17)),
        bases=(PeriodBase(2, "year"),),
        goals=(Goal("net_sales", "105"),),
    )
    assert "against the same dates of 2019, with the goal net sales 105% of the same dates of 2019" in sentence(statement)


def test_a_moving_as_of_date_says_where_it_is_now() -> None:
    statement = Statement((NET,), as_of=LastPostedDay())
    assert sentence(statement) == "Show net sales, for the year to date at the last posted day."
    found = ask(statement)
    assert sentence(statement, found).endswith(f"(now {found.as_of.day} {found.as_of:%b %Y}).")


def test_measures_say_what_stands_beside_them() -> None:
    shown = (
        replace(NET, show=("difference", "percent_change"), bases=(1,), name="Turnover"),
        ShownMeasure("orders", along=RunningTotal("year")),
        ShownMeasure("units", ("share_of_all",), Moving(3, as_many=True), (ShareScope(("region",), time="year"),)),
    )
    statement = Statement(shown, ("rep",), as_of=PINNED, bases=(YEAR_BEFORE, PeriodBase(1, "month")))
    assert sentence_parts(statement)[0].words == (
        "Show Turnover (net sales) with change, % change (against the same dates last year only), and running total of orders from"
        " each year's start, and mean of the last 3 or fewer of units with share of all, share within region of its year"
    )
    assert title_of(statement) == (
        "Turnover and running total of orders from each year's start and mean of the last 3 or fewer of units by rep"
    )
    assert title_of(Statement((NET,), (TimeLevel("month"),))) == "Net sales by month"


def test_limits_and_order_name_columns_as_people_read_them() -> None:
    top = TopLimit(3, "net_sales.1.difference", rest=False, size=True)
    statement = Statement(
        (replace(NET, show=("difference",)),), ("rep",), as_of=PINNED, bases=(YEAR_BEFORE,), limits=(top,),
        sort=Sort("net_sales.0.value", descending=False),
    )  # fmt: skip
    words = {each.part: each.words for each in sentence_parts(statement, ask(statement))}
    assert words["limits"] == "showing the largest 3 by size of net sales change (2025), without the rest"
    assert words["sort"] == "sorted by net sales (this year), the smallest first"


def test_columns_have_their_headings_and_definitions() -> None:
    statement = Statement(
        (replace(NET, show=("difference", "share_of_all")), ShownMeasure("orders", name="Receipts")), ("region",), as_of=PINNED,
        bases=(YEAR_BEFORE,),
    )  # fmt: skip
    told = told_of(ask(statement), statement, {"net_sales": "without tax"})
    assert (told.rows, told.total, told.title) == ("Region", "All regions", "Net sales and Receipts by region")
    assert [each.heading for each in told.columns] == ["This year", "2025", "Change", "Share", "This year", "2025"]
    assert [each.base for each in told.columns] == ["", "", "on 2025", "", "", ""]
    assert [each.metric for each in told.columns][::4] == ["Net sales, EUR", "Receipts"]
    assert [each.plain for each in told.columns][:5] == [
        "Net sales, this year", "Net sales, 2025", "Net sales, change on 2025", "Net sales, share this year",
        "Receipts, this year",
    ]  # fmt: skip
    assert [each.short for each in told.columns][:3] == ["This year", "2025", "Change on 2025"]
    about = "Net sales: Gross sales less returns. without tax."
    why = "Not equal: 290 days of it count against 156, since lines are posted for a part only."
    assert told.columns[0].definition == f"{about} 1 Jan – 17 Oct 2026"
    assert told.columns[2].definition == f"{about} Change against 1 Jan – 17 Oct 2025. {why}"
    assert told.columns[3].definition == f"{about} Share of all rows, 1 Jan – 17 Oct 2026"
    assert told.windows == ("This year", "2025") and told.unequal == ("", why)


def test_series_and_what_stands_across_are_named() -> None:
    statement = Statement(
        (replace(NET, show=("percent_change",)),), ("region",), as_of=PINNED, bases=(PeriodBase(1, "period"),),
        across=(TimeLevel("month"),),
    )  # fmt: skip
    told = told_of(ask(statement), statement)
    october = [each for each in told.columns if each.across.startswith("Oct 2026")]
    assert {each.across for each in october} == {"Oct 2026, to the 17th"} and told.columns[0].across == "All months"
    assert [each.plain for each in october] == [
        "Oct 2026, to the 17th: Net sales".replace("Net", "net"),
        "Oct 2026, to the 17th: net sales, month before",
        "Oct 2026, to the 17th: net sales, % change on month before",
    ]


def test_notices_are_told_in_words() -> None:
    plain, moved = Statement((NET,)), Statement((NET,), returns="sale_day")
    netted = Notice("returns_netted", 1_200, "-1234567.5")
    assert notice_words(netted, plain) == "1,200 returns netted on their own date (−1,234,567.5)"
    assert notice_words(netted, moved) == "1,200 returns netted on the day of their sale (−1,234,567.5)"
    assert notice_words(Notice("returns_netted", 1, "-20.00"), plain) == "1 return netted on its own date (−20.00)"
    assert notice_words(Notice("partly_covered"), plain) == "the current window is only partly covered by posted days"
    assert notice_words(Notice("partly_covered", window=2), plain) == "base 2 is only partly covered by posted days"
    assert notice_words(Notice("levels_as_now", about="2026-10-17"), plain) == "levels as they are on 17 Oct 2026, for all days"
    assert notice_words(Notice("lacking", 1, about="margin_percent"), plain) == (
        "1 line without the column that margin % needs are not in it"
    )
    for code in get_args(NoticeCode):
        words = notice_words(Notice(code, 2, "1.00", "2026-01-31", 1), plain)
        assert words and "{" not in words


def test_a_statement_that_cannot_be_answered_is_told_all_the_same() -> None:
    odd = Statement(
        (replace(NET, bases=(0, -3, 7)),), bases=(GivenBase(NamedPeriod("soon")),), goals=(Goal("nothing", "1", base=-4),),
        window=NamedPeriod("2026-Q9x"),
    )  # fmt: skip
    assert sentence(odd) == (
        "Show net sales, for 2026-Q9x at the last posted day, against soon, with the goal nothing 1% of base -4."
    )


def test_names_are_written_as_people_write_them() -> None:
    assert [period_words(key) for key in ("2026", "2026-Q1", "2026-03", "2026-W07", "2026-P03", "2026-03-09", "2026-H1")] == [
        "2026", "Q1 2026", "Mar 2026", "Week 7 2026", "Month 3 2026", "9 Mar 2026", "H1 2026",
    ]  # fmt: skip
    for odd in ("", "2026-", "2026-13", "2026-00", "26", "x", "2026-Q", "2026-1", "2026-03-9", "9999-W99-1"):
        assert period_words(odd) == odd
    assert [many(name) for name in ("country", "day", "branch", "sales_rep", "boss")] == [
        "countries", "days", "branches", "sales reps", "bosses",
    ]  # fmt: skip
    assert (
        member_words(["a", "", None, "d"], " or ") == "a, blank and 2 more"
        and member_words(["a", None], " or ") == "a or not mapped"
    )
    assert (count(1, "day"), count(1_200, "day")) == ("1 day", "1,200 days")
    assert (grouped("-0.50"), grouped(""), grouped("12345")) == ("−0.50", "", "12,345")
    assert range_words(DAY, DAY) == "17 Oct 2026"
