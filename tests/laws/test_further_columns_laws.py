"""Figures and days of a ledger's own, and conditions on lines: each law against a ledger that is plainer (semantics, section 1)."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from datetime import date, timedelta
from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lofty_abacus.core.answer.answer import Answer
from lofty_abacus.core.answer.answering import answer
from lofty_abacus.core.calendar.periods import period_of
from lofty_abacus.core.calendar.settings import GRAINS, CalendarSettings, WeekYears
from lofty_abacus.core.errors import QuestionError
from lofty_abacus.core.measures.table import DefinedMeasure
from lofty_abacus.core.proof.finding import find, lines_behind
from lofty_abacus.core.statement.conditions import (
    AS_OF,
    Condition,
    DayCompared,
    DayWithin,
    FigureBetween,
    Given,
    TextLike,
)
from lofty_abacus.core.statement.statement import CountedFilter, Opened, ShownMeasure, Statement
from lofty_abacus.core.windows.as_of import PinnedDay
from lofty_abacus.core.windows.bases import LedgerBase, PeriodBase
from lofty_abacus.core.windows.current import Dates, ToDate
from lofty_abacus.core.windows.ranges import DayRange
from tests.cells import exact
from tests.ledgers import Line, SmallLedger

START = date(2025, 1, 1)
AS_OF_DAY = date(2026, 5, 20)
COVERED = DayRange(date(2025, 1, 1), date(2026, 6, 15))
days = st.integers(0, 540).map(lambda n: START + timedelta(n))
some_lines = st.lists(
    st.builds(
        Line,
        day=days,
        amount=st.integers(-40_00, 200_00),
        order=st.sampled_from(["", "O1", "O2", "O3"]),
        region=st.sampled_from(["North", "South"]),
        product=st.sampled_from(["P1", "p10", "Q"]),
        quantity=st.one_of(st.none(), st.integers(-3, 9)),
        freight=st.one_of(st.none(), st.integers(-5_00, 30_00)),
        weight=st.one_of(st.none(), st.integers(0, 500)),
        delivery=st.one_of(st.none(), days),
    ),
    min_size=1,
    max_size=40,
)
STATEMENT = Statement(
    (ShownMeasure("net_sales", ("difference", "percent_change", "share_of_all")),),
    ("region",),
    ToDate("year"),
    PinnedDay(AS_OF_DAY),
    (PeriodBase(1, "year"),),
)


def ledger_of(lines: list[Line]) -> SmallLedger:
    return SmallLedger(lines, coverage=COVERED, today=AS_OF_DAY)


def answered(statement: Statement, ledger: SmallLedger) -> Answer:
    return answer(statement, ledger.facts, ledger.source, AS_OF_DAY, Opened(9))


def cells(found: Answer) -> dict[tuple[object, ...], list[object]]:
    rows = {row.path: [exact(cell) for cell in row.cells] for row in (found.total, *found.rows)}
    return {path: values for path, values in rows.items() if not path or any(value not in (0, None) for value in values)}


@given(some_lines)
def test_each_of_two_amounts_is_answered_as_if_it_were_the_only_one(lines: list[Line]) -> None:
    if all(line.freight is None for line in lines):
        return
    alone = [
        replace(line, amount=line.freight or 0, is_return=line.returned, quantity=None)
        for line in lines
        if line.freight is not None
    ]
    for further, own in (("freight", "net_sales"), ("freight_of_sales", "gross_sales"), ("freight_of_returns", "returns")):
        shown = replace(STATEMENT, measures=(replace(STATEMENT.measures[0], measure=further),))
        plain = replace(STATEMENT, measures=(replace(STATEMENT.measures[0], measure=own),))
        mine, theirs = cells(answered(shown, ledger_of(lines))), cells(answered(plain, ledger_of(alone)))
        # Where lines are there and none of their side has the figure, it is not given; a ledger without those lines has none.
        for path in mine.keys() & theirs.keys():
            pairs = [(here, there) for here, there in zip(mine[path], theirs[path], strict=True) if here != "not_given"]
            assert all(here == there for here, there in pairs), (further, path)
        assert theirs.keys() <= mine.keys()


@given(some_lines)
def test_a_quantity_of_its_own_has_its_own_scale(lines: list[Line]) -> None:
    if all(line.weight is None for line in lines):
        return
    heavy = DefinedMeasure("freight_per_kilo", "freight / weight")
    measures = (ShownMeasure("weight"), ShownMeasure("freight_per_kilo"))
    statement = replace(STATEMENT, measures=measures, rows=(), bases=(), window=Dates(START, None), defined=(heavy,))
    ledger = ledger_of(lines)
    if all(line.freight is None for line in lines):
        with pytest.raises(QuestionError, match="no line of this ledger has a freight"):
            answered(statement, ledger)
        return
    found = answered(statement, ledger)
    counted = [line for line in lines if line.day <= AS_OF_DAY]
    weights = [line.weight for line in counted if line.weight is not None]
    if weights:
        assert exact(found.total.cells[0]) == Fraction(sum(weights), 10)
    both = [line for line in counted if line.weight is not None and line.freight is not None]
    if sum(line.weight or 0 for line in both):
        expected = Fraction(sum(line.freight or 0 for line in both), 100) / Fraction(sum(line.weight or 0 for line in both), 10)
        assert exact(found.total.cells[1]) == expected


@given(some_lines)
def test_counting_by_another_day_is_a_ledger_posted_with_that_day(lines: list[Line]) -> None:
    delivered = [replace(line, day=line.delivery) for line in lines if line.delivery is not None]
    if not delivered:
        return
    ledger = ledger_of(lines)
    statement = replace(STATEMENT, day="delivery", measures=(*STATEMENT.measures, ShownMeasure("orders", ("percent_change",))))
    found = answered(statement, ledger)
    by_delivery = ledger.facts.days[0].feeds[0].days
    posted = SmallLedger(delivered, coverage=by_delivery, today=AS_OF_DAY)
    expected = answered(replace(statement, day=""), posted)
    assert cells(found) == cells(expected)
    assert [each.counted_days for each in found.windows] == [each.counted_days for each in expected.windows]
    undated = [line for line in lines if line.delivery is None]
    told = next((each for each in found.notices if each.code == "undated"), None)
    assert (told.lines if told else 0) == len(undated)
    if told is not None:
        assert Fraction(told.amount or 0) == Fraction(sum(line.amount for line in undated), 100)
    # What a figure is made of are those lines, and no others.
    cell = find(statement, ledger.facts, ledger.source, AS_OF_DAY, (), "net_sales.0.value")
    behind = {int(line) for operand in range(len(cell.figures)) for line in lines_behind(cell, operand).ids}
    first, last = max(date(2026, 1, 1), by_delivery.first), min(AS_OF_DAY, by_delivery.last)
    assert behind == {at for at, line in enumerate(lines) if line.delivery is not None and first <= line.delivery <= last}


def text_of(line: Line, name: str) -> str:
    return str(getattr(line, name)).casefold()


CONDITIONS: list[tuple[Condition, Callable[[Line], bool]]] = [
    (FigureBetween("amount", "10", "99.5"), lambda line: 10_00 <= line.amount <= 99_50),
    (FigureBetween("amount", "0.001"), lambda line: line.amount >= 1),
    (FigureBetween("freight", None, "12.345"), lambda line: line.freight is not None and line.freight <= 12_34),
    (FigureBetween("weight", "0.05"), lambda line: line.weight is not None and line.weight >= 1),
    (
        DayWithin("delivery", ToDate("quarter")),
        lambda line: line.delivery is not None and date(2026, 4, 1) <= line.delivery <= AS_OF_DAY,
    ),
    (DayCompared("delivery", "before", "day"), lambda line: line.delivery is not None and line.delivery < line.day),
    (DayCompared("delivery", "on", "day"), lambda line: line.delivery is not None and line.delivery == line.day),
    (DayCompared("day", "before", "delivery"), lambda line: line.delivery is not None and line.day < line.delivery),
    (
        DayCompared("delivery", "after", AS_OF, or_blank=True),
        lambda line: line.delivery is None or line.delivery > AS_OF_DAY,
    ),
    (DayCompared("delivery", "before", AS_OF), lambda line: line.delivery is not None and line.delivery < AS_OF_DAY),
    (TextLike("product", "begins", "p"), lambda line: text_of(line, "product").startswith("p")),
    (TextLike("product", "contains", "1", exclude=True), lambda line: "1" not in line.product),
    (TextLike("product", "equals", "q"), lambda line: line.product == "Q"),
    (Given("delivery"), lambda line: line.delivery is not None),
    (Given("delivery", given=False), lambda line: line.delivery is None),
    (Given("freight"), lambda line: line.freight is not None),
    (Given("quantity", given=False), lambda line: line.quantity is None),
    (Given("order", given=False), lambda line: not line.order),
]


@given(some_lines, st.lists(st.sampled_from(range(len(CONDITIONS))), min_size=1, max_size=3, unique=True))
def test_conditions_are_a_ledger_of_only_the_lines_that_hold_them(lines: list[Line], chosen: list[int]) -> None:
    ledger = ledger_of([*lines, Line(START, 1_00, "O9", "North", "", "P1", "", 1, 1, None, 1_00, 10, START)])
    conditions = tuple(CONDITIONS[at][0] for at in chosen)
    kept = [line for line in ledger.lines if all(CONDITIONS[at][1](line) for at in chosen)]
    mine = cells(answered(replace(STATEMENT, conditions=conditions), ledger))
    plain = ledger_of(kept)
    assert mine == cells(answer(STATEMENT, replace(plain.facts, feeds=ledger.facts.feeds), plain.source, AS_OF_DAY, Opened(9)))


@given(
    some_lines,
    st.sampled_from(GRAINS),
    st.sampled_from([CalendarSettings(), CalendarSettings(week_years=WeekYears("4-5-4", 5, 1, "nearest"))]),
)
def test_periods_of_a_day_are_members_in_the_order_of_time(lines: list[Line], grain: str, calendar: CalendarSettings) -> None:
    if all(line.delivery is None for line in lines):
        return
    ledger = replace(ledger_of(lines), calendar=calendar)
    statement = replace(
        STATEMENT, rows=(f"delivery.{grain}",), bases=(), window=Dates(START, None), measures=(ShownMeasure("net_sales"),)
    )
    found = answered(statement, ledger)
    expected: dict[str, int] = {}
    for line in lines:
        if line.day <= AS_OF_DAY:
            key = period_of(line.delivery, grain, calendar).key if line.delivery else ""  # type: ignore[arg-type]
            expected[key] = expected.get(key, 0) + line.amount
    assert {row.path[0]: exact(row.cells[0]) for row in found.rows} == {
        key: Fraction(sum_, 100) for key, sum_ in expected.items()
    }
    order = [row.path[0] for row in found.rows]
    assert order == [*sorted(key for key in expected if key), *([""] if "" in expected else [])]
    # A filter by such a period counts the same lines.
    for key in order[:3]:
        only = replace(statement, rows=(), filters=(CountedFilter(f"delivery.{grain}", (key,)),))
        assert exact(answered(only, ledger).total.cells[0]) == Fraction(expected[key or ""], 100)
        others = replace(only, filters=(CountedFilter(f"delivery.{grain}", (key,), exclude=True),))
        left = sum(expected.values()) - expected[key or ""]
        assert exact(answered(others, ledger).total.cells[0]) == Fraction(left, 100)


def test_the_usual_day_is_a_dimension_where_another_counts() -> None:
    lines = [Line(START, 5_00, delivery=date(2025, 3, 2)), Line(date(2025, 2, 3), 7_00, delivery=date(2025, 3, 9))]
    statement = replace(STATEMENT, day="delivery", rows=("day.month",), bases=(), measures=(ShownMeasure("net_sales"),))
    found = answered(replace(statement, window=Dates(START, None)), ledger_of([*lines, Line(START, 1_00)]))
    assert [(row.path[0], exact(row.cells[0])) for row in found.rows] == [("2025-01", Fraction(5)), ("2025-02", Fraction(7))]


def test_returns_on_the_day_of_their_sale_take_their_figures_along() -> None:
    sold = [
        Line(START, 100_00, "O1", product="P1", freight=9_00, weight=30),
        Line(START, 50_00, "O1", product="Q", freight=1_00, weight=10),
    ]
    back = Line(date(2025, 3, 1), -10_01, "O1", freight=-1_00, weight=-4)
    statement = replace(
        STATEMENT, measures=(ShownMeasure("freight_of_returns"), ShownMeasure("weight")), rows=("product",), bases=(),
        window=Dates(START, date(2025, 1, 31)), returns="sale_day",
    )  # fmt: skip
    found = cells(answered(statement, ledger_of([*sold, back])))
    # In proportion to the amounts, to the last minor unit: 1.00 over 100.00 and 50.00 is 0.67 and 0.33; 0.4 kg is 0.3 and 0.1.
    assert found["P1",] == [Fraction("0.67"), Fraction("2.7")] and found["Q",] == [Fraction("0.33"), Fraction("0.9")]
    whole = cells(answered(replace(statement, refunds="not_allocated"), ledger_of([*sold, back])))
    assert whole["(not allocated)",] == [Fraction(1), Fraction("-0.4")]


def test_a_figure_of_ones_own_has_no_price_to_split_by() -> None:
    ledger = ledger_of([Line(START, 5_00, freight=1_00), Line(date(2026, 1, 2), 6_00, freight=2_00)])
    with pytest.raises(QuestionError, match="freight has no price"):
        answered(replace(STATEMENT, measures=(ShownMeasure("freight", ("price_volume_mix",)),)), ledger)
    by_delivery = ledger_of([replace(line, delivery=line.day) for line in ledger.lines])
    split = replace(STATEMENT, measures=(ShownMeasure("net_sales", ("price_volume_mix",)),), items=("product",))
    assert cells(answered(replace(split, day="delivery"), by_delivery)) == cells(answered(split, by_delivery))


def test_what_cannot_be_counted_says_why() -> None:
    ledger = ledger_of([Line(START, 5_00, delivery=START, freight=1_00)])

    def refusal(**changed: object) -> str:
        with pytest.raises(QuestionError) as told:
            answered(replace(STATEMENT, **changed), ledger)  # type: ignore[arg-type]
        return str(told.value)

    assert "no day 'deliverie'" in refusal(day="deliverie") and "delivery" in refusal(day="deliverie")
    assert "another day is not that of a sale" in refusal(day="delivery", returns="sale_day")
    assert "no line of this ledger has a figure 'cost'" in refusal(conditions=(FigureBetween("cost", "1"),))
    assert "no bound is given" in refusal(conditions=(FigureBetween("amount"),))
    assert "that large and that small" in refusal(conditions=(FigureBetween("amount", "5", "1"),))
    assert "is no number" in refusal(conditions=(FigureBetween("amount", "1e3"),))
    assert "held against itself" in refusal(conditions=(DayCompared("delivery", "on", "delivery"),))
    assert "no day 'shipped'" in refusal(conditions=(DayCompared("shipped", "on", AS_OF),))
    assert "no text is given" in refusal(conditions=(TextLike("product", "begins", " "),))
    assert "no dimension 'colour'" in refusal(conditions=(TextLike("colour", "begins", "x"),))
    assert "no dimension 'colour'" in refusal(conditions=(Given("colour"),))
    with pytest.raises(QuestionError, match="stand for many lines"):
        plan = ledger_of([Line(START, 5_00)])
        statement = replace(STATEMENT, bases=(LedgerBase("Plan"),), conditions=(FigureBetween("amount", "1"),))
        answer(statement, ledger.facts, ledger.source, AS_OF_DAY, Opened(1), {"Plan": (plan.facts, plan.source)})
