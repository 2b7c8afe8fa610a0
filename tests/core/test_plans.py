"""Plans: another ledger of the same currency, known by month and spread over its days (section 11)."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, timedelta
from fractions import Fraction
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lofty_abacus.core.answer.answer import Answer
from lofty_abacus.core.answer.answering import answer
from lofty_abacus.core.answer.resolve import OtherLedgers
from lofty_abacus.core.calendar.settings import CalendarSettings
from lofty_abacus.core.days import day_number
from lofty_abacus.core.errors import QuestionError
from lofty_abacus.core.placing.spreading import spread_over_days
from lofty_abacus.core.proof.finding import find, lines_behind
from lofty_abacus.core.proof.proving import prove
from lofty_abacus.core.statement.levels import TimeLevel
from lofty_abacus.core.statement.statement import CountedFilter, Goal, Opened, ShownMeasure, Statement
from lofty_abacus.core.windows.as_of import PinnedDay
from lofty_abacus.core.windows.bases import LedgerBase, PeriodBase
from lofty_abacus.core.windows.current import ToDate
from lofty_abacus.core.windows.ranges import DayRange
from lofty_abacus.core.windows.stretches import RunningTotal
from tests.cells import value
from tests.ledgers import Line, SmallLedger, columns_of

N, S = "North", "South"
SOLD = [
    Line(date(2026, 1, 5), 20_00, "A", N, "Ada"),
    Line(date(2026, 2, 3), 40_00, "B", N, "Ada"),
    Line(date(2026, 2, 4), 9_00, "C", S, "Bo"),
]
#: 31.05 for January: 1.01 on each of its first five days, 1.00 on the others. 28.00 for February; West is unknown to sales.
PLANNED = [
    Line(date(2026, 1, 31), 31_05, "", N), Line(date(2026, 2, 28), 28_00, "", N), Line(date(2026, 3, 31), 62_00, "", N),
    Line(date(2026, 2, 28), 5_60, "", "West"),
]  # fmt: skip
LEDGER = SmallLedger(SOLD, DayRange(date(2026, 1, 1), date(2026, 3, 31)))
PLAN = SmallLedger(PLANNED, DayRange(date(2026, 1, 1), date(2026, 12, 31)))
OTHERS: OtherLedgers = {"plan": (replace(PLAN.facts, name="plan", line_grain="month"), PLAN.source)}
SHOWN = ShownMeasure("net_sales", ("difference", "attainment"))


def ask(*measures: ShownMeasure, others: OtherLedgers = OTHERS, **parts: Any) -> Answer:
    given_parts = {"rows": ("region",), "as_of": PinnedDay(date(2026, 2, 10)), "bases": (LedgerBase("plan"),)} | parts
    statement = Statement(measures or (SHOWN,), **given_parts)
    return answer(statement, LEDGER.facts, LEDGER.source, LEDGER.today, Opened(2), others)


def test_any_window_has_an_exact_plan() -> None:
    found = ask()
    assert value(found, "net_sales.1.value", N) == Fraction("41.05"), "31.05 of January and 10 days of February"
    assert value(found, "net_sales.1.value") == Fraction("43.05"), "and 2.00 of West, which has no row"
    assert value(found, "net_sales.1.attainment", N) == Fraction(60_00, 41_05)
    assert value(found, "net_sales.1.value", S) == "not_given" == value(found, "net_sales.1.difference", S)
    assert found.windows[1].fairness == "equal_days"
    notice = next(each for each in found.notices if each.code == "only_in_plan")
    assert (notice.about, notice.amount, notice.window) == ("West", "2.00", 1)
    three_days = ask(window=ToDate("month"), as_of=PinnedDay(date(2026, 1, 3)))
    assert value(three_days, "net_sales.1.value", N) == Fraction("3.03")


def test_the_as_of_date_cuts_actuals_never_plans() -> None:
    whole = ask(bases=(LedgerBase("plan", "whole"),), window=ToDate("quarter"))
    assert value(whole, "net_sales.1.value", N) == Fraction("121.05") and whole.windows[1].fairness == "unequal"


def test_plans_stand_beside_other_bases_in_series_goals_and_running_totals() -> None:
    running = ShownMeasure("net_sales", ("attainment",), RunningTotal("year"))
    found = ask(
        SHOWN, running, rows=(TimeLevel("month"), "region"), bases=(PeriodBase(1, "period"), LedgerBase("plan")),
        window=ToDate("quarter"), goals=(Goal("net_sales", "100", base=2),),
    )  # fmt: skip
    assert value(found, "net_sales.2.value", "2026-02", N) == 10 and value(found, "net_sales.1.value", "2026-02", N) == 20
    assert value(found, "net_sales~running_year.2.value", "2026-02", N) == Fraction("41.05")
    assert value(found, "net_sales.2.value", "2026-03", N) == 62, "the plan of a month to come is known"
    assert value(found, "net_sales.0.value", "2026-03", N) == "after_as_of"
    at = [each.kind for each in found.columns].index("goal")
    assert found.rows[0].cells[at].met is False and value(found, "net_sales.2.goal", "2026-01") == Fraction(20_00, 31_05)
    assert [row.status for row in found.rows if row.path == ("2026-02", N)] == ["kept"], "by the first base, which is no plan"


def test_working_days_take_the_plan() -> None:
    friday = ask(window=ToDate("month"), as_of=PinnedDay(date(2026, 2, 1)), bases=(LedgerBase("plan", spread="working_days"),))
    assert value(friday, "net_sales.1.value") == "not_given", "the 1st is a Sunday: nothing is planned for it"
    monday = ask(window=ToDate("month"), as_of=PinnedDay(date(2026, 2, 2)), bases=(LedgerBase("plan", spread="working_days"),))
    assert value(monday, "net_sales.1.value", N) == Fraction("1.40"), "28.00 over 20 working days"


def test_proof_names_the_plans_own_lines() -> None:
    statement = Statement((SHOWN,), ("region",), as_of=PinnedDay(date(2026, 2, 10)), bases=(LedgerBase("plan"),))
    asked = (statement, LEDGER.facts, LEDGER.source, LEDGER.today, (N,), "net_sales.1.difference")
    proof = prove(find(*asked, others=OTHERS))
    assert [(each.cell.value, each.lines, each.ledger) for each in proof.operands] == [("60.00", 2, ""), ("41.05", 2, "plan")]
    found = lines_behind(find(*asked, others=OTHERS), 1)
    assert found.ids.tolist() == [0, 1] and found.ledger == "plan", "each line once, though it is spread over many days"
    unknown = prove(find(statement, LEDGER.facts, LEDGER.source, LEDGER.today, (S,), "net_sales.1.value", others=OTHERS))
    assert (unknown.result.reason, unknown.operands[0].lines) == ("not_given", 0)


@pytest.mark.parametrize(
    ("others", "parts", "why"),
    [
        ({}, {}, "there is no ledger 'plan'"),
        ({"plan": (replace(OTHERS["plan"][0], currency="USD"), PLAN.source)}, {}, "is kept in USD"),
        (OTHERS, {"rows": ("region", "shelf")}, "no dimension 'shelf'"),
        ({"plan": (replace(OTHERS["plan"][0], dimensions=()), PLAN.source)}, {}, "plan has no 'region'"),
        (
            {"plan": (replace(OTHERS["plan"][0], has=frozenset()), PLAN.source)},
            {"measures": (ShownMeasure("units"),)},
            "cannot give units",
        ),
    ],
)
def test_ledgers_that_cannot_be_compared_with_are_refused(others: OtherLedgers, parts: dict[str, Any], why: str) -> None:
    with pytest.raises(QuestionError, match=why):
        ask(*parts.pop("measures", ()), others=others, **parts)


def test_filters_are_told_by_key() -> None:
    found = ask(rows=(), filters=(CountedFilter("region", (S,), exclude=True),))
    assert value(found, "net_sales.0.value") == 60 and value(found, "net_sales.1.value") == Fraction("43.05")


@given(
    amounts=st.lists(st.tuples(st.integers(0, 700), st.integers(-(10**12), 10**12)), min_size=1, max_size=12),
    working=st.booleans(),
    grain=st.sampled_from(["week", "month"]),
)
def test_nothing_is_lost_by_spreading(amounts: list[tuple[int, int]], working: bool, grain: str) -> None:
    lines = [Line(date(2024, 1, 1) + timedelta(n), amount, region=N, quantity=amount // 7) for n, amount in amounts]
    columns = columns_of(lines)
    calendar = CalendarSettings(holidays=(date(2024, 1, 2),))
    found = spread_over_days(columns, grain, calendar, working=working)  # type: ignore[arg-type]
    assert (found.day[1:] >= found.day[:-1]).all()
    days = found.day.astype(int) + found.first_day
    for at, line in enumerate(lines):
        mine = found.line_id == at
        parts = found.amount[mine]
        assert int(parts.sum()) == line.amount and int(parts.max() - parts.min()) <= 1
        assert int(found.figures["quantity"].values[mine].sum()) == line.quantity
        assert abs(int(days[mine][0]) - day_number(line.day)) <= 31
        signs = [int(part) for part in parts if part]
        assert not signs or min(signs) * max(signs) > 0, "no part has another sign"
