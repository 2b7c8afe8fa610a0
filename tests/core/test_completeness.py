"""Everything that can be asked has an example: the lists are asked of the code, and answers show each of their entries."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date
from itertools import product
from typing import get_args

from lofty_abacus.core.answer.answer import Answer, NoticeCode
from lofty_abacus.core.answer.answering import answer
from lofty_abacus.core.answer.columns import ColumnKind
from lofty_abacus.core.calendar.settings import CalendarSettings, Grain
from lofty_abacus.core.comparing.change import BRIDGE_STEPS, SPLIT_STEPS
from lofty_abacus.core.comparing.status import Status
from lofty_abacus.core.measures.table import MEASURES, Kind
from lofty_abacus.core.statement.levels import RowLevel, TimeLevel
from lofty_abacus.core.statement.limits import StatusLimit
from lofty_abacus.core.statement.statement import CountedFilter, Goal, Opened, ShareScope, Show, ShownMeasure, Statement
from lofty_abacus.core.windows.alignment import Alignment
from lofty_abacus.core.windows.as_of import PinnedDay
from lofty_abacus.core.windows.bases import Base, FixedBase, GivenBase, LedgerBase, PeriodBase, ShiftedBase
from lofty_abacus.core.windows.coverage import FeedCoverage
from lofty_abacus.core.windows.current import CurrentWindow, Dates, LastPeriods, NamedPeriod, RunningPeriod, ToDate
from lofty_abacus.core.windows.fairness import Fairness
from lofty_abacus.core.windows.ranges import DayRange, DaySet
from lofty_abacus.core.windows.reasons import Reason
from lofty_abacus.core.windows.stretches import Along, Moving, RunningTotal
from tests.ledgers import Line, SmallLedger

LINES = [
    Line(date(2024, 12, 30), 5_00, "A0", "North", "Ada", "P1", "C1", 1, 2_00),
    Line(date(2025, 1, 10), 10_00, "A1", "North", "Ada", "P1", "C1", 2, 4_00),
    Line(date(2025, 2, 11), 7_00, "A2", "South", "Bo", "P2", "", 1, None),
    Line(date(2025, 10, 2), 3_00, "A4", "West", "Dee", "P1", "C1", None, None),
    Line(date(2025, 5, 2), -9_00, "A2", "East", "Eve", "P2", "C3", None, None),
    Line(date(2026, 1, 4), 6_00, "B1", "North", "Ada", "P1", "C1", 1, 3_00),
    Line(date(2026, 2, 12), 8_00, "B2", "South", "Cy", "P1", "C2", 2, 1_00),
    Line(date(2026, 3, 5), -2_00, "B1", "North", "Ada", "P1", "C1", -1, -1_00),
    Line(date(2026, 3, 6), -2_00, "A1", "East", "Eve", "P1", "C1", -1, -1_00),
    Line(date(2026, 9, 6), 4_00, "", "North", "Ada", "P1", "C2", None, None),
    Line(date(2026, 12, 6), 9_00, "B9", "North", "Ada", "P1", "C2", 1, 1_00),
]
HOLE = DaySet((DayRange(date(2026, 6, 1), date(2026, 6, 30)),))
LEDGER = SmallLedger(LINES, DayRange(date(2024, 12, 1), date(2026, 12, 31)), HOLE, today=date(2026, 11, 1))
PLAN = SmallLedger([Line(date(2026, 1, 31), 31_00, region="North", quantity=31, cost=31, order="P", product="P1", customer="C1")])
DAYS = {
    "year": PinnedDay(date(2026, 10, 17)), "leap": PinnedDay(date(2024, 12, 31)), "month end": PinnedDay(date(2026, 3, 30)),
    "Sunday": PinnedDay(date(2026, 2, 1)), "week 53": PinnedDay(date(2026, 12, 30)), "first day": PinnedDay(date(2026, 8, 2)),
}  # fmt: skip


def bases() -> Iterator[Base]:
    for align in get_args(Alignment):
        yield PeriodBase(1, "period", align)
        yield PeriodBase(1, "year", align)
    yield ShiftedBase(3, "week")
    yield ShiftedBase(40, "day", "same_weekdays")
    yield GivenBase(NamedPeriod("2025-Q1"))
    yield GivenBase(Dates(date(2025, 5, 1), date(2025, 5, 31)))
    yield FixedBase("2025")
    yield LedgerBase("plan")


def statements() -> Iterator[Statement]:
    every = tuple(ShownMeasure(name, ("difference", "percent_change", "attainment", "index")) for name in MEASURES)
    for base, day in product(bases(), DAYS.values()):
        yield Statement(every, ("region",), ToDate("month"), day, (base,))
    windows: list[CurrentWindow] = [
        ToDate("week"), ToDate("quarter", completed="month"), RunningPeriod("month", 1), NamedPeriod("2026-06"), NamedPeriod("2027"),
        LastPeriods(3, "month", "completed"), Dates(date(2026, 1, 1), date(2026, 3, 31)),
    ]  # fmt: skip
    for window in windows:
        yield Statement(every, ("rep",), window, DAYS["year"], (PeriodBase(1, "period"),))
    for grain in get_args(Grain):
        levels: tuple[RowLevel, ...] = (TimeLevel(grain),)
        yield Statement(
            (ShownMeasure("net_sales", ("difference",)),), levels, LastPeriods(2, "month"), DAYS["year"], (PeriodBase(1, "year"),)
        )
    alongs: list[Along] = [RunningTotal("year"), RunningTotal(), Moving(2), Moving(2, "sum"), Moving(2, "mean", True)]
    for along in alongs:
        yield Statement(
            (ShownMeasure("net_sales", ("difference",), along),),
            (TimeLevel("month"),),
            ToDate("year"),
            DAYS["year"],
            (PeriodBase(1, "year"),),
        )
    shown: tuple[Show, ...] = get_args(Show)
    counts: tuple[Show, ...] = tuple(each for each in shown if each not in ("bridge", "price_volume_mix"))
    yield Statement(
        (ShownMeasure("net_sales", shown, shares=(ShareScope(("region",)),)), ShownMeasure("orders", counts), ShownMeasure("active_customers")),
        ("region", "rep"), ToDate("year"), DAYS["year"], (PeriodBase(1, "year"),),
        goals=(Goal("net_sales", "90"),), limits=(StatusLimit(("kept", "new")),), filters=(CountedFilter("rep", ("Eve",), exclude=True),),
    )  # fmt: skip
    for within in ("as_of", "same_time"):
        yield Statement(
            (ShownMeasure("net_sales"),), (), ToDate("quarter"), DAYS["month end"], (PeriodBase(1, "period"),),
            returns="sale_day", levels="as_it_is_now", returns_within=within,  # type: ignore[arg-type]
        )  # fmt: skip


def answers() -> list[Answer]:
    plan = {"plan": (PLAN.facts, PLAN.source)}
    apart = SmallLedger(LINES, LEDGER.coverage).facts
    feeds = (*apart.feeds, FeedCoverage("late", DayRange(date(2025, 1, 1), date(2026, 5, 31)), frozenset({"sale"})))
    found = [answer(each, LEDGER.facts, LEDGER.source, LEDGER.today, Opened(2), plan) for each in statements()]
    some = Statement((ShownMeasure("net_sales"),), ("region",), as_of=DAYS["year"], bases=(LedgerBase("plan"),))
    west = SmallLedger([*PLAN.lines, Line(date(2026, 1, 31), 1_00, region="Far")])
    both = apart.__class__(**{**vars(apart), "feeds": feeds})
    found.append(answer(some, both, LEDGER.source, LEDGER.today, Opened(1), {"plan": (west.facts, west.source)}))
    holidays = SmallLedger(LINES, LEDGER.coverage, calendar=CalendarSettings(holidays=(date(2026, 1, 1),)))
    for day in DAYS.values():
        by_work = Statement((ShownMeasure("orders"),), (), ToDate("month"), day, (PeriodBase(1, "period", "same_working_days"),))
        found.append(answer(by_work, holidays.facts, holidays.source, LEDGER.today))
    weekly = Statement((ShownMeasure("lines"),), (), ToDate("week"), DAYS["week 53"], (PeriodBase(1, "year"),))
    found.append(answer(weekly, LEDGER.facts, LEDGER.source, LEDGER.today))
    sent = SmallLedger([*LINES, Line(date(2026, 1, 5), 1_00, delivery=date(2026, 1, 9))], LEDGER.coverage, today=LEDGER.today)
    by_delivery = Statement((ShownMeasure("lines"),), (), ToDate("year"), DAYS["year"], day="delivery")
    found.append(answer(by_delivery, sent.facts, sent.source, LEDGER.today))
    return found


def test_every_kind_reason_mark_and_notice_has_an_example() -> None:
    found = answers()
    columns = {column.kind for each in found for column in each.columns}
    assert columns == {name for part in get_args(ColumnKind) for name in get_args(part)}
    assert {column.measure_kind for each in found for column in each.columns} == set(get_args(Kind))
    rows = [row for each in found for row in (*each.rows, each.total)]
    assert {cell.reason for row in rows for cell in row.cells} - {None} == set(get_args(Reason))
    assert {row.status for row in rows} - {None} == set(get_args(Status))
    windows = [
        window for each in found for window in (*each.windows, *(one for period in each.periods for one in period.windows))
    ]
    assert {window.fairness for window in windows} - {None} == set(get_args(Fairness))
    steps = {column.step for each in found for column in each.columns} - {""}
    assert steps == {*BRIDGE_STEPS, *SPLIT_STEPS}
    codes = {notice.code for each in found for notice in each.notices}
    assert codes == set(get_args(NoticeCode))


def test_every_measure_meets_every_base_and_alignment() -> None:
    for base, name in product(bases(), MEASURES):
        shown = ShownMeasure(name, ("difference", "percent_change", "attainment"))
        statement = Statement((shown,), ("region",), ToDate("month"), DAYS["year"], (base,))
        found = answer(statement, LEDGER.facts, LEDGER.source, LEDGER.today, Opened(1), {"plan": (PLAN.facts, PLAN.source)})
        for row in (*found.rows, found.total):
            for column, cell in zip(found.columns, row.cells, strict=True):
                assert (cell.value is None) == (cell.reason is not None), f"{name} {base} {column.id}"
