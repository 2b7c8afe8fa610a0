"""Series, running and moving figures, limits, bridges and goals on small ledgers whose numbers were done by hand."""

from __future__ import annotations

from dataclasses import replace
from datetime import date
from fractions import Fraction
from typing import Any

import pytest

from lofty_abacus.core.answer.answer import Answer
from lofty_abacus.core.answer.answering import answer
from lofty_abacus.core.calendar.settings import CalendarSettings
from lofty_abacus.core.errors import QuestionError
from lofty_abacus.core.measures.table import DefinedMeasure
from lofty_abacus.core.proof.finding import find, lines_behind
from lofty_abacus.core.proof.proving import prove
from lofty_abacus.core.statement.levels import TimeLevel
from lofty_abacus.core.statement.limits import MembersLimit, StatusLimit, TopLimit, ValueLimit
from lofty_abacus.core.statement.statement import Goal, Opened, ShareScope, ShownMeasure, Sort, Statement
from lofty_abacus.core.windows.as_of import PinnedDay
from lofty_abacus.core.windows.bases import FixedBase, GivenBase, PeriodBase
from lofty_abacus.core.windows.coverage import FeedCoverage
from lofty_abacus.core.windows.current import Dates, NamedPeriod, ToDate
from lofty_abacus.core.windows.ranges import DayRange
from lofty_abacus.core.windows.stretches import Moving, RunningTotal
from tests.cells import exact, row_of, value
from tests.ledgers import Line, SmallLedger

N, S = "North", "South"


def line(day: str, amount: int, order: str, region: str = N, rep: str = "Ada", product: str = "P1", **more: Any) -> Line:
    return Line(date.fromisoformat(day), amount * 100, order, region, rep, product, more.pop("customer", "C1"), **more)


LINES = [
    line("2025-01-10", 100, "A1"),
    line("2025-02-10", 50, "A2", S, "Bo"),
    line("2025-03-31", 30, "A3"),
    line("2025-10-05", 80, "A4", S, "Cy"),
    line("2025-10-25", 20, "A5"),
    line("2026-01-02", 60, "B1"),
    line("2026-01-31", 40, "B2", S, "Bo"),
    line("2026-03-15", 90, "B3"),
    line("2026-09-17", 10, "B4", S, "Dee"),
    line("2026-10-03", 25, "B5"),
    line("2026-10-17", 5, "B5", S, "Bo"),
    line("2026-10-30", 1000, "B6"),
]
LEDGER = SmallLedger(LINES, DayRange(date(2025, 1, 1), date(2026, 12, 31)), today=date(2026, 11, 23))
AS_OF = PinnedDay(date(2026, 10, 17))
NET = ShownMeasure("net_sales")
MONTH, QUARTER, YEAR = TimeLevel("month"), TimeLevel("quarter"), TimeLevel("year")


def ask(*measures: ShownMeasure, ledger: SmallLedger = LEDGER, depth: int = 3, **parts: Any) -> Answer:
    statement = Statement(measures, **({"as_of": AS_OF} | parts))
    return answer(statement, ledger.facts, ledger.source, ledger.today, Opened(depth))


def column(found: Answer, name: str) -> dict[tuple[str | None, ...], Fraction | str]:
    at = [each.id for each in found.columns].index(name)
    return {(*row.path, *(("…",) if row.rest else ())): exact(row.cells[at]) for row in (*found.rows, found.total)}


def test_a_running_october_meets_the_same_days_of_september() -> None:
    found = ask(ShownMeasure("net_sales", ("difference",)), rows=(MONTH,), bases=(PeriodBase(1, "period"),))
    assert [row.path[0] for row in found.rows] == [f"2026-{month:02d}" for month in range(1, 13)]
    periods = {each.down: each.windows for each in found.periods}
    october = periods[("2026-10",)]
    assert [(each.asked.first, each.asked.last) for each in october if each.asked] == [
        (date(2026, 10, 1), date(2026, 10, 17)), (date(2026, 9, 1), date(2026, 9, 17)),
    ]  # fmt: skip
    assert october[1].fairness == "equal_days"
    net, before = column(found, "net_sales.0.value"), column(found, "net_sales.1.value")
    assert (net[("2026-09",)], net[("2026-10",)], before[("2026-10",)]) == (10, 30, 10), "the whole September keeps its own row"
    assert net[("2026-11",)] == "after_as_of" == column(found, "net_sales.1.difference")[("2026-11",)]
    # The total compares 1 Jan - 17 Oct with that range shifted once by a month: 1 Dec - 17 Sep.
    whole = periods[()][1].asked
    assert whole == DayRange(date(2025, 12, 1), date(2026, 9, 17)) and (net[()], before[()]) == (230, 200)


def test_periods_have_no_status_and_all_rods_are_cut_alike() -> None:
    found = ask(NET, rows=(MONTH, "region"), bases=(PeriodBase(1, "period"),))
    assert all(row.status is None for row in found.rows if len(row.path) == 1) and any(row.status for row in found.rows)
    early = ask(NET, rows=(MONTH,), bases=(PeriodBase(1, "period"),), as_of=PinnedDay(date(2026, 2, 25)))
    assert early.windows[1].asked is not None and early.windows[1].asked.days == 56
    assert [len(window.beads) for window in early.windows] == [12, 2], "months on both, though the second is short"


def test_values_back_are_taken_by_calendar_position_though_months_are_empty() -> None:
    found = ask(NET, rows=(MONTH,), bases=(PeriodBase(2, "period"), PeriodBase(1, "year"), PeriodBase(-1, "period")))
    two_back, year, ahead = (column(found, f"net_sales.{at}.value") for at in (1, 2, 3))
    assert (two_back[("2026-03",)], two_back[("2026-04",)], two_back[("2026-05",)]) == (100, 0, 90)
    assert (year[("2026-03",)], year[("2026-10",)]) == (30, 80), "1 - 17 October 2025"
    assert (ahead[("2026-08",)], ahead[("2026-09",)], ahead[("2026-10",)]) == (10, 30, "after_as_of")


def test_years_across_and_months_down_each_cut_at_the_same_point() -> None:
    parts = {"rows": (MONTH,), "across": (YEAR,), "window": Dates(date(2025, 1, 1), None)}
    found = ask(NET, **parts)
    assert [each.id for each in found.columns] == ["net_sales.0.value", "net_sales.0.value@2025", "net_sales.0.value@2026"]
    assert row_of(found, "10").label == "10"
    assert [exact(cell) for cell in row_of(found, "10").cells] == [130, 100, 30]
    assert [exact(cell) for cell in found.total.cells] == [510, 280, 230]
    same = ask(NET, **parts, cut="same_point")
    assert [exact(cell) for cell in row_of(same, "10").cells] == [110, 80, 30], "October 2025 is cut at the 17th, too"
    assert [exact(cell) for cell in same.total.cells] == [490, 260, 230]
    assert [len(each.windows) for each in same.periods] == [1] * len(same.periods)


def test_running_totals_reset_with_their_grain_and_run_against_the_bases_own_stretch() -> None:
    running = ShownMeasure("net_sales", ("difference",), RunningTotal("year"))
    found = ask(running, ShownMeasure("net_sales", (), RunningTotal("quarter")), rows=(MONTH,), bases=(PeriodBase(1, "year"),))
    year = column(found, "net_sales~running_year.0.value")
    assert [year[(f"2026-{month:02d}",)] for month in (1, 2, 3, 9, 10, 11)] == [100, 100, 190, 200, 230, "after_as_of"]
    base = column(found, "net_sales~running_year.1.value")
    assert [base[(f"2026-{month:02d}",)] for month in (1, 2, 3, 10)] == [100, 150, 180, 260]
    assert column(found, "net_sales~running_year.1.difference")[("2026-10",)] == -30
    quarter = column(found, "net_sales~running_quarter.0.value")
    assert [quarter[(f"2026-{month:02d}",)] for month in (1, 3, 4, 9, 10)] == [100, 190, 0, 10, 30]
    assert year[()] == "not_applicable"
    never = ask(ShownMeasure("orders", (), RunningTotal()), rows=(QUARTER,), window=Dates(date(2025, 1, 1), None))
    orders = column(never, "orders~running.0.value")
    assert [orders[(f"{key}",)] for key in ("2025-Q1", "2025-Q4", "2026-Q1", "2026-Q4")] == [3, 5, 8, 10]


def test_moving_figures_need_all_their_periods() -> None:
    moving = [
        ShownMeasure("net_sales", (), Moving(3)),
        ShownMeasure("net_sales", (), Moving(3, "sum")),
        ShownMeasure("net_sales", (), Moving(3, "mean", True)),
    ]
    found = ask(*moving, rows=(MONTH,), window=Dates(date(2025, 1, 1), None))
    mean, total, some = (column(found, f"net_sales~moving_{name}.0.value") for name in ("mean_3", "sum_3", "mean_3_or_fewer"))
    assert [mean[(key,)] for key in ("2025-01", "2025-02", "2025-03", "2025-05")] == [
        "window_incomplete",
        "window_incomplete",
        60,
        10,
    ]
    assert [total[(key,)] for key in ("2025-03", "2026-03", "2026-04")] == [180, 190, 90]
    assert [some[(key,)] for key in ("2025-01", "2025-02", "2025-03")] == [100, 75, 60]
    assert mean[("2026-09",)] == Fraction(10, 3) and mean[("2026-10",)] == "window_incomplete", "October has not ended"
    assert some[("2026-10",)] == 5, "of August and September"
    proof = prove(
        find(
            found_statement(moving[0]), LEDGER.facts, LEDGER.source, LEDGER.today, ("2025-03",), "net_sales~moving_mean_3.0.value"
        )
    )
    assert (proof.operands[0].divisor, proof.operands[0].counted_days, proof.operands[0].lines) == (3, 90, 3)


def found_statement(*measures: ShownMeasure) -> Statement:
    return Statement(measures, (MONTH,), Dates(date(2025, 1, 1), None), AS_OF)


def test_a_fixed_base_of_the_same_position() -> None:
    shown = ShownMeasure("net_sales", ("difference", "index"))
    found = ask(shown, rows=(QUARTER,), window=Dates(date(2025, 1, 1), None), bases=(FixedBase("2025"),))
    base, index = column(found, "net_sales.1.value"), column(found, "net_sales.1.index")
    assert [base[(key,)] for key in ("2025-Q1", "2026-Q1", "2026-Q4")] == [180, 180, 80], "1 - 17 October of the base year"
    assert index[("2026-Q1",)] == Fraction(190 * 100, 180) and index[("2025-Q1",)] == 100
    assert {each.down: each.windows[1].is_current for each in found.periods}[("2025-Q1",)]
    with pytest.raises(QuestionError, match="is finer than"):
        ask(shown, bases=(FixedBase("2025-03"),))


def test_members_across_with_totals_both_ways() -> None:
    found = ask(
        ShownMeasure("orders"),
        NET,
        rows=("rep",),
        across=("region",),
        window=NamedPeriod("2026"),
        as_of=PinnedDay(date(2026, 12, 31)),
    )
    assert [each.across for each in found.columns] == [(), (), (N,), (N,), (S,), (S,)]
    assert [exact(cell) for cell in found.total.cells] == [6, 1230, 4, 1175, 3, 55], (
        "order B5 counts in both regions, once in all"
    )
    assert [exact(cell) for cell in row_of(found, "Bo").cells] == [2, 45, 0, 0, 2, 45]
    by = ask(ShownMeasure("net_sales", ("rank",)), rows=("rep",), across=("region",), sort=Sort(f"net_sales.0.value@{S}"))
    assert [row.label for row in by.rows] == ["Bo", "Dee", "Ada"], "ties by name"
    assert column(by, f"net_sales.0.rank@{S}") == {("Bo",): 1, ("Dee",): 2, ("Ada",): 3, (): "not_applicable"}


def test_a_column_under_the_blank_member_can_be_sorted_by_and_proved() -> None:
    lines = [line("2026-01-01", 5, "A", "", "Ada"), line("2026-01-01", 9, "B", "", "Bo"), line("2026-01-01", 20, "C", N, "Ada")]
    ledger = SmallLedger(lines, LEDGER.coverage)
    found = ask(NET, ledger=ledger, rows=("rep",), across=("region",), sort=Sort("net_sales.0.value@"))
    assert [row.label for row in found.rows] == ["Bo", "Ada"] and "net_sales.0.value@" in [each.id for each in found.columns]
    statement = Statement((NET,), ("rep",), as_of=AS_OF, across=("region",))
    proof = prove(find(statement, ledger.facts, ledger.source, ledger.today, ("Ada",), "net_sales.0.value@"))
    assert (proof.result.value, proof.operands[0].lines) == ("5.00", 1)
    with pytest.raises(QuestionError, match="has no column"):
        prove(find(statement, ledger.facts, ledger.source, ledger.today, ("Ada",), "net_sales.0.value@West"))


def test_kept_new_and_lost_narrow_totals_and_scopes() -> None:
    shown = (ShownMeasure("net_sales", ("difference", "share_of_all")), ShownMeasure("orders"))
    parts: dict[str, Any] = {"rows": ("rep",), "bases": (PeriodBase(1, "year"),)}
    found = ask(*shown, **parts)
    assert {row.label: row.status for row in found.rows} == {"Ada": "kept", "Bo": "kept", "Cy": "lost", "Dee": "new"}
    kept = ask(*shown, **parts, limits=(StatusLimit(("kept",)),))
    assert [row.label for row in kept.rows] == ["Ada", "Bo"]
    assert (value(kept, "net_sales.0.value"), value(kept, "net_sales.1.value"), value(kept, "orders.0.value")) == (220, 180, 4)
    assert value(kept, "net_sales.0.share_of_all", "Ada") == Fraction(175, 220)
    assert kept.total_of_all is not None and exact(kept.total_of_all.cells[0]) == 230
    notice = next(each for each in kept.notices if each.code == "status_left_out")
    assert (notice.lines, notice.amount, notice.about) == (1, "10.00", "Cy, Dee")
    proof = prove(
        find(
            statement_of(kept_limit := StatusLimit(("kept",)), shown, parts),
            LEDGER.facts,
            LEDGER.source,
            LEDGER.today,
            (),
            "orders.0.value",
        )
    )
    assert (proof.result.value, proof.operands[0].lines) == ("4", 5) and kept_limit.status == ("kept",)


def statement_of(limit: StatusLimit, shown: tuple[ShownMeasure, ...], parts: dict[str, Any]) -> Statement:
    return Statement(shown, as_of=AS_OF, limits=(limit,), **parts)


def test_top_n_with_the_rest_as_one_row_of_its_own_lines() -> None:
    lines = [line("2026-01-01", amount, order, region, rep) for amount, order, region, rep in (
        (50, "O1", N, "Ada"), (40, "O2", N, "Bo"), (30, "O3", N, "Cy"), (20, "O3", N, "Dee"), (20, "O4", N, "Eve"), (10, "O5", S, "Fay"),
    )]  # fmt: skip
    ledger = SmallLedger(lines, DayRange(date(2026, 1, 1), date(2026, 12, 31)))
    shown = (ShownMeasure("net_sales", ("share_of_all", "share_of_parent", "rank")), ShownMeasure("orders"))
    statement = Statement(shown, ("region", "rep"), as_of=AS_OF, limits=(TopLimit(2, "net_sales.0.value"),))
    found = answer(statement, ledger.facts, ledger.source, ledger.today, Opened(2))
    assert [(row.path, row.label, row.rest) for row in found.rows] == [
        ((N,), N, None), ((N, "Ada"), "Ada", None), ((N, "Bo"), "Bo", None), ((N,), "3 others", 3), ((S,), S, None), ((S, "Fay"), "Fay", None),
    ]  # fmt: skip
    rest = found.rows[3]
    assert [exact(cell) for cell in rest.cells] == [70, Fraction(70, 170), Fraction(70, 160), "not_applicable", 2], (
        "O3 counts once"
    )
    assert value(found, "net_sales.0.value", N) == 160, "a list cuts no total"
    proof = prove(find(statement, ledger.facts, ledger.source, ledger.today, (N,), "orders.0.value", rest=True))
    assert (proof.result.value, proof.operands[0].lines) == ("2", 3)
    assert (
        len(lines_behind(find(statement, ledger.facts, ledger.source, ledger.today, (N,), "orders.0.value", rest=True), 0).ids)
        == 3
    )
    lowest = replace(statement, limits=(TopLimit(2, "net_sales.0.value", bottom=True, rest=False),))
    found = answer(lowest, ledger.facts, ledger.source, ledger.today, Opened(2))
    assert [row.label for row in found.rows] == [N, "Dee", "Eve", S, "Fay"], "exactly two, ties by name"


def test_limits_of_what_is_shown_touch_no_total() -> None:
    shown = ShownMeasure("net_sales", ("share_of_all",))
    found = ask(shown, rows=("rep",), limits=(MembersLimit("rep", ("Ada", "Bo")), ValueLimit("net_sales.0.value", "50", None)))
    assert [row.label for row in found.rows] == ["Ada"] and value(found, "net_sales.0.value") == 230
    assert value(found, "net_sales.0.share_of_all", "Ada") == Fraction(175, 230)
    every = ask(shown, rows=("rep",), all_members=True)
    assert value(every, "net_sales.0.value", "Cy") == 0 and len(every.rows) == 4


def test_cumulative_shares_down_a_ranked_list() -> None:
    shown = (ShownMeasure("net_sales", ("cumulative", "cumulative_share", "rank")), ShownMeasure("orders", ("cumulative",)))
    found = ask(*shown, rows=("rep",), sort=Sort("net_sales.0.value"))
    assert [row.label for row in found.rows] == ["Ada", "Bo", "Dee"]
    assert list(column(found, "net_sales.0.cumulative").values()) == [175, 220, 230, 230]
    assert list(column(found, "net_sales.0.cumulative_share").values()) == [Fraction(175, 230), Fraction(220, 230), 1, 1]
    assert list(column(found, "orders.0.cumulative").values()) == [3, 4, 5, 5], "order B5 of Ada and Bo counts once"


def test_shares_of_scopes_that_keep_dimensions() -> None:
    shown = ShownMeasure("net_sales", ("scope",), shares=(ShareScope(("region",)), ShareScope(("rep",), "range")))
    found = ask(shown, rows=(QUARTER, "region", "rep"), window=NamedPeriod("2026"))
    assert value(found, "net_sales.0.share[region]", "2026-Q1", N, "Ada") == 1
    assert value(found, "net_sales.0.scope[region]", "2026-Q4", S, "Bo") == 5
    assert value(found, "net_sales.0.share[rep]_of_range", "2026-Q4", S, "Bo") == Fraction(5, 45), "Bo's part of its own year"
    assert value(found, "net_sales.0.share[rep]_of_range", "2026-Q1") == Fraction(190, 230), "a row that fixes no rep: of all"


def test_the_bridge_adds_up_exactly() -> None:
    shown = ShownMeasure("net_sales", ("difference", "bridge", "contribution"))
    found = ask(shown, rows=("region", "rep"), bases=(PeriodBase(1, "year"),))
    steps = {name: value(found, f"net_sales.1.bridge_{name}") for name in ("lost", "new", "kept_down", "kept_up", "returns_only")}
    assert steps == {"lost": -80, "new": 10, "kept_down": -5, "kept_up": 45, "returns_only": 0}
    assert sum(steps.values()) == value(found, "net_sales.1.difference") == -30  # type: ignore[arg-type]
    assert value(found, "net_sales.1.bridge_lost", S) == -80 and value(found, "net_sales.1.bridge_kept_up", N) == 45
    assert value(found, "net_sales.1.contribution", N) == Fraction(45, 260)


def test_price_volume_and_mix_of_the_semantics_example() -> None:
    lines = [
        line("2025-05-01", 1000, "A", product="A", quantity=100), line("2025-05-01", 2000, "A", product="B", quantity=50),
        line("2026-05-01", 1320, "B", product="A", quantity=120), line("2026-05-01", 1260, "B", product="B", quantity=30),
        line("2026-05-02", 70, "C", S, product="C", quantity=7), line("2025-05-02", 11, "D", S, product="D", quantity=None),
        line("2026-05-02", 12, "D", S, product="D", quantity=1),
    ]  # fmt: skip
    ledger = SmallLedger(lines, DayRange(date(2025, 1, 1), date(2026, 12, 31)))
    shown = ShownMeasure("net_sales", ("difference", "price_volume_mix"))
    statement = Statement((shown,), ("region",), as_of=AS_OF, bases=(PeriodBase(1, "year"),))
    found = answer(statement, ledger.facts, ledger.source, ledger.today)
    north = {
        step: value(found, f"net_sales.1.price_volume_mix_{step}", N)
        for step in ("price", "volume", "mix", "new", "lost", "not_split")
    }
    assert north == {"price": 180, "volume": 0, "mix": -600, "new": 0, "lost": 0, "not_split": 0}
    total = [value(found, f"net_sales.1.price_volume_mix_{step}") for step in north]
    assert total == [180, 0, -600, 70, 0, 1] and sum(total) == value(found, "net_sales.1.difference")  # type: ignore[arg-type]
    proof = prove(find(statement, ledger.facts, ledger.source, ledger.today, (N,), "net_sales.1.price_volume_mix_mix"))
    assert [(fact.name, fact.value) for fact in proof.facts][:3] == [("price", "180.00"), ("volume", "0.00"), ("mix", "-600.00")]


def test_volume_and_mix_are_formed_within_each_unit_of_measure() -> None:
    lines = [
        line("2025-05-01", 100, "A", "kg", product="clay", quantity=10), line("2026-05-01", 120, "B", "kg", product="clay", quantity=12),
        line("2025-05-01", 900, "A", "piece", product="kiln", quantity=1), line("2026-05-01", 1700, "B", "piece", product="kiln", quantity=2),
    ]  # fmt: skip
    ledger = SmallLedger(lines, DayRange(date(2025, 1, 1), date(2026, 12, 31)))
    shown = ShownMeasure("net_sales", ("difference", "price_volume_mix"))
    statement = Statement((shown,), ("rep",), as_of=AS_OF, bases=(PeriodBase(1, "year"),), unit_of_measure="region")
    for one, wanted in (
        (statement, [-100, 920, 0]),
        (replace(statement, unit_of_measure=None), [-100, Fraction("272.73"), Fraction("647.27")]),
    ):
        found = answer(one, ledger.facts, ledger.source, ledger.today)
        assert [value(found, f"net_sales.1.price_volume_mix_{step}") for step in ("price", "volume", "mix")] == wanted


def test_shown_shares_add_up_by_choice() -> None:
    lines = [line("2026-01-01", amount, "O", N, rep) for amount, rep in ((1, "Ada"), (1, "Bo"), (1, "Cy"))]
    ledger = SmallLedger(lines, DayRange(date(2026, 1, 1), date(2026, 12, 31)))
    statement = Statement((ShownMeasure("net_sales", ("share_of_parent",)),), ("region", "rep"), as_of=AS_OF)
    plain = answer(statement, ledger.facts, ledger.source, ledger.today, Opened(2))
    assert all(cell.shown is None for row in plain.rows for cell in row.cells)
    found = answer(replace(statement, shares_add_up=True), ledger.facts, ledger.source, ledger.today, Opened(2))
    assert [row.cells[1].shown for row in found.rows] == ["100.0", "33.4", "33.3", "33.3"]
    returned = SmallLedger([*lines, line("2026-01-02", -1, "O", N, "Dee")], ledger.coverage)
    found = answer(replace(statement, shares_add_up=True), returned.facts, returned.source, ledger.today, Opened(2))
    assert [row.cells[1].shown for row in found.rows[1:]] == [None] * 4, "not with a negative part"


def test_a_statement_can_be_cut_where_the_earliest_feed_ends() -> None:
    facts = replace(LEDGER.facts, feeds=(
        FeedCoverage("sales", DayRange(date(2025, 1, 1), date(2026, 10, 31)), frozenset({"sale"})),
        FeedCoverage("returns", DayRange(date(2025, 1, 1), date(2026, 9, 20)), frozenset({"return"})),
    ))  # fmt: skip
    statement = Statement((NET,), as_of=AS_OF, feeds_end="earliest")
    found = answer(statement, facts, LEDGER.source, LEDGER.today)
    assert found.as_of == date(2026, 9, 20) and value(found, "net_sales.0.value") == 200
    gross = answer(replace(statement, measures=(ShownMeasure("gross_sales"),)), facts, LEDGER.source, LEDGER.today)
    assert gross.as_of == date(2026, 10, 17), "only the feeds that are read"


def test_goals_are_judged_exactly() -> None:
    lines = [line("2025-05-01", 10000, "A"), line("2026-05-01", 9996, "B"), line("2026-05-02", -4, "B")]
    ledger = SmallLedger(lines, DayRange(date(2025, 1, 1), date(2026, 12, 31)))
    statement = Statement(
        (ShownMeasure("net_sales"), ShownMeasure("returns"), ShownMeasure("orders"), ShownMeasure("return_rate")),
        ("region",), as_of=AS_OF, bases=(PeriodBase(1, "year"),),
        goals=(Goal("net_sales", "100"), Goal("returns", "5", "figure"), Goal("orders", "100"), Goal("return_rate", "90")),
    )  # fmt: skip
    found = answer(statement, ledger.facts, ledger.source, ledger.today)
    at = {each.measure: number for number, each in enumerate(found.columns) if each.kind == "goal"}
    net = found.total.cells[at["net_sales"]]
    assert (net.met, net.decimals) == (False, 1) and exact(net) == Fraction(9992, 10000)
    assert found.total.cells[at["returns"]].met, "at most 5, since returns are adverse"
    assert found.total.goals is not None
    assert (found.total.goals.met, found.total.goals.defined, found.total.goals.undefined) == (2, 4, ())
    missed = [line("2025-05-01", 10000, "A"), line("2026-05-01", 9996, "B")]
    close = replace(statement, goals=(Goal("net_sales", "100"),), measures=(NET,))
    verdict = answer(
        close, SmallLedger(missed, ledger.coverage).facts, SmallLedger(missed, ledger.coverage).source, ledger.today
    ).total.cells[2]
    assert (verdict.met, verdict.decimals) == (False, 2), "99.96 % missed is not shown as 100.0 %"


def test_defined_measures_are_evaluated_on_totals() -> None:
    defined = (
        DefinedMeasure("basket", "net_sales / orders otherwise 0", "currency"),
        DefinedMeasure("profit", "net_sales - cost", "currency"),
        DefinedMeasure("capped", "basket at most 50 if orders > 1 otherwise basket", "currency"),
    )
    lines = [*LINES, line("2026-04-01", 7, "", S, "Bo", cost=5_00)]
    ledger = SmallLedger(lines, LEDGER.coverage)
    found = ask(*(ShownMeasure(each.name) for each in defined), ledger=ledger, rows=("region",), defined=defined)
    assert value(found, "basket.0.value") == Fraction(237, 5), "a ratio of sums, never a mean of ratios"
    assert value(found, "profit.0.value") == 2, "only the line that has a cost, on both sides"
    assert value(found, "profit.0.value", N) == "not_given"
    assert value(found, "capped.0.value", N) == 50 and value(found, "capped.0.value", S) == Fraction(62, 3)
    proof = prove(
        find(
            Statement((ShownMeasure("basket"),), as_of=AS_OF, defined=defined),
            ledger.facts,
            ledger.source,
            ledger.today,
            (),
            "basket.0.value",
        )
    )
    assert [(term.name, term.value) for term in proof.operands[0].terms] == [("net_sales", "237.00"), ("orders", "5")]


@pytest.mark.parametrize(
    ("parts", "part", "why"),
    [
        ({"measures": (ShownMeasure("net_sales", (), RunningTotal("year")),)}, "measures[0]", "there are none"),
        ({"measures": (ShownMeasure("net_sales", (), RunningTotal("month")),), "rows": (QUARTER,)}, "measures[0]", "cannot be reset"),
        ({"measures": (ShownMeasure("orders", (), Moving(3)),), "rows": (MONTH,)}, "measures[0]", "mean of orders"),
        ({"measures": (ShownMeasure("net_sales", shares=(ShareScope(("product",)),)),), "rows": ("region",)}, "measures[0]", "cannot keep"),
        ({"measures": (ShownMeasure("return_rate", shares=(ShareScope(),)),)}, "measures[0]", "is a ratio"),
        ({"rows": (MONTH, YEAR)}, "rows", "coarsest to the finest"),
        ({"rows": (MONTH, QUARTER)}, "rows", "coarsest to the finest"),
        ({"rows": (YEAR, QUARTER), "across": (MONTH,)}, "across", "cross"),
        ({"rows": (QUARTER,), "bases": (PeriodBase(1, "week"),)}, "bases[0]", "no level of this series is made of weeks"),
        ({"window": Dates(date(2026, 5, 1), date(2026, 4, 1))}, "window", "before it starts"),
        ({"window": Dates(date(2020, 5, 1), date(2021, 4, 1))}, "window", "none of these days is posted"),
        ({"window": NamedPeriod("2026-Q5")}, "window", "is no period"),
        ({"bases": (GivenBase(NamedPeriod("2025-P01")),)}, "bases[0]", "is no period"),
        ({"limits": (StatusLimit(("new",)),), "rows": ("rep",)}, "limits[0]", "no base 1"),
        ({"limits": (TopLimit(3, "net_sails.0.value"),), "rows": ("rep",)}, "limits[0]", "no column"),
        ({"limits": (MembersLimit("region", (N,)),), "rows": ("rep",)}, "limits[0]", "no level of the rows"),
        ({"limits": (ValueLimit("net_sales.0.value", "1e5"),), "rows": ("rep",)}, "limits[0]", "not a plain decimal"),
        ({"goals": (Goal("orders", "1"),)}, "goals[0]", "does not show"),
        ({"goals": (Goal("net_sales", "100"),)}, "goals[0]", "not compared"),
        ({"measures": (ShownMeasure("orders", ("bridge",)),), "bases": (PeriodBase(1, "year"),)}, "measures[0]", "no sum"),
        ({"measures": (ShownMeasure("units", ("price_volume_mix",)),), "bases": (PeriodBase(1, "year"),)}, "measures[0]", "no price"),
        ({"defined": (DefinedMeasure("x", "net_sales / ordres"),)}, "defined[0]", "character 13: there is no measure 'ordres'"),
        ({"rows": (TimeLevel("day"),), "window": Dates(date(2000, 1, 1), None)}, "window", "more than 4,000 periods"),
    ],
)  # fmt: skip
def test_impossible_questions_name_the_part_and_the_way_out(parts: dict[str, Any], part: str, why: str) -> None:
    statement = Statement(**({"measures": (NET,), "as_of": AS_OF} | parts))
    with pytest.raises(QuestionError, match=why) as caught:
        answer(statement, LEDGER.facts, LEDGER.source, LEDGER.today)
    assert caught.value.part == part and caught.value.way_out


def test_day_rows_take_the_same_weekday_a_week_earlier_where_it_is_said() -> None:
    base = PeriodBase(1, "period", day_back=7)
    found = ask(NET, rows=(MONTH, TimeLevel("day")), window=ToDate("month"), bases=(base,))
    days = {each.down: each.windows for each in found.periods}
    asked = days[("2026-10", "2026-10-17")][1].asked
    assert asked is not None and asked.first == date(2026, 10, 10)
    month = days[("2026-10",)][1].asked
    assert month is not None and (month.first, month.last) == (date(2026, 9, 1), date(2026, 9, 17))


def test_a_fiscal_series_counts_from_april() -> None:
    ledger = SmallLedger(LINES, LEDGER.coverage, calendar=CalendarSettings(fiscal_start_month=4))
    found = ask(NET, ledger=ledger, rows=(YEAR, QUARTER), window=Dates(date(2025, 1, 1), None))
    assert {row.path: exact(row.cells[0]) for row in found.rows if len(row.path) == 1} == {
        ("2025",): 180,
        ("2026",): 290,
        ("2027",): 40,
    }
    assert value(found, "net_sales.0.value", "2026", "2026-Q4") == 190
