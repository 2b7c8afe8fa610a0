"""Laws of totals, on random ledgers: against plain loops over Fractions, whatever the order or the splitting of the lines."""

from __future__ import annotations

from datetime import date, timedelta
from fractions import Fraction

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lofty_abacus.core.answer.answer import Answer
from lofty_abacus.core.answer.answering import answer
from lofty_abacus.core.grouping import additive, cells, distinct, kept_parts
from lofty_abacus.core.measures.table import MEASURES
from lofty_abacus.core.statement.statement import Opened, ShownMeasure, Statement
from lofty_abacus.core.windows.as_of import PinnedDay
from lofty_abacus.core.windows.bases import PeriodBase
from lofty_abacus.core.windows.ranges import DayRange
from tests import plain
from tests.cells import value
from tests.ledgers import Line, SmallLedger

START = date(2024, 1, 1)
lines_of_any_kind = st.lists(
    st.builds(
        Line,
        day=st.integers(0, 1000).map(lambda n: START + timedelta(n)),
        amount=st.one_of(st.integers(-50_00, 500_00), st.integers(-(10**15), 10**15)),
        order=st.sampled_from(["", *(f"O{n}" for n in range(8))]),
        region=st.sampled_from(["", "North", "South"]),
        rep=st.sampled_from(["Ada", "Bo", "Cy"]),
        product=st.sampled_from(["", "P1", "P2", "P3"]),
        customer=st.sampled_from(["", "C1", "C2", "C3"]),
        quantity=st.one_of(st.none(), st.integers(-5, 20)),
        cost=st.one_of(st.none(), st.integers(-10_00, 300_00)),
    ),
    min_size=1,
    max_size=60,
)
as_ofs = st.integers(366, 1000).map(lambda n: START + timedelta(n))
COVERED = DayRange(START, date(2026, 12, 31))
ROWS = ("region", "rep")


def ledger_of(lines: list[Line]) -> SmallLedger:
    """With a quantity and a cost somewhere, so that every measure can be asked."""
    return SmallLedger([*lines, Line(START, 1_00, "O1", "North", "Ada", "P1", "C1", 1, 50)], COVERED)


def ask(ledger: SmallLedger, as_of: date) -> Answer:
    measures = tuple(
        ShownMeasure(name, ("difference", "percent_change") + (("share_of_all",) if each.kind != "derived" else ()))  # type: ignore[arg-type]
        for name, each in MEASURES.items()
    )
    statement = Statement(measures, ROWS, as_of=PinnedDay(as_of), bases=(PeriodBase(1, "year"),))
    return answer(statement, ledger.facts, ledger.source, ledger.today, Opened(2))


def windows(found: Answer) -> list[tuple[date, date]]:
    return [(each.asked.first, each.asked.last) for each in found.windows if each.asked]


@settings(max_examples=60, deadline=None)
@given(lines_of_any_kind, as_ofs)
def test_every_cell_equals_the_plain_version(lines: list[Line], as_of: date) -> None:
    ledger = ledger_of(lines)
    found = ask(ledger, as_of)
    current, base = windows(found)
    for row in (*found.rows, found.total):
        mine = [line for line in ledger.lines if (line.region, line.rep)[: len(row.path)] == row.path]
        for name in MEASURES:
            now, before = (plain.measure(name, plain.counted(mine, *window)) for window in (current, base))
            assert value(found, f"{name}.0.value", *row.path) == now
            assert value(found, f"{name}.1.value", *row.path) == before
            change = value(found, f"{name}.1.percent_change", *row.path)
            if MEASURES[name].unit == "percent" and not isinstance(now, str) and not isinstance(before, str):
                assert change == "not_applicable"
            else:
                assert change == plain.percent_change(now, before)


@settings(max_examples=40, deadline=None)
@given(lines_of_any_kind, as_ofs, st.randoms(use_true_random=False))
def test_the_order_of_lines_does_not_matter(lines: list[Line], as_of: date, random) -> None:  # type: ignore[no-untyped-def]
    ledger = ledger_of(lines)
    mixed = list(ledger.lines)
    random.shuffle(mixed)
    one, other = ask(ledger, as_of), ask(ledger.with_lines(mixed), as_of)
    assert one.rows == other.rows and one.total == other.total


@settings(max_examples=40, deadline=None)
@given(lines_of_any_kind, as_ofs)
def test_parts_add_to_totals_and_shares_to_one(lines: list[Line], as_of: date) -> None:
    found = ask(ledger_of(lines), as_of)
    top = [row.path for row in found.rows if len(row.path) == 1]
    for name, measure in MEASURES.items():
        parts = [value(found, f"{name}.0.value", *path) for path in top]
        total = value(found, f"{name}.0.value")
        defined = [part for part in parts if isinstance(part, Fraction)]
        if measure.kind == "additive" and isinstance(total, Fraction):
            assert sum(defined, Fraction(0)) == total
            shares = [value(found, f"{name}.0.share_of_all", *path) for path in top]
            if total > 0 and len(defined) == len(parts):
                assert sum(shares) == 1  # type: ignore[arg-type]
            elif total < 0:
                assert set(shares) <= {"base_is_negative", "not_given"}
        if measure.kind == "distinct":
            assert isinstance(total, Fraction)
            assert max(defined, default=0) <= total <= sum(defined, Fraction(0))


@settings(max_examples=25, deadline=None)
@given(lines_of_any_kind, as_ofs)
def test_every_way_of_adding_up_agrees(lines: list[Line], as_of: date) -> None:
    """Numbered combinations instead of dense cells, sorting instead of marking, tiny blocks, two threads: the same answer."""
    ledger = ledger_of(lines)
    usual = ask(ledger, as_of)
    kept = (cells.LEAST_DENSE, cells.MOST_DENSE, distinct.MOST_MARKS)
    try:
        cells.LEAST_DENSE = cells.MOST_DENSE = distinct.MOST_MARKS = 0
        assert ask(ledger, as_of) == usual
    finally:
        cells.LEAST_DENSE, cells.MOST_DENSE, distinct.MOST_MARKS = kept


def test_running_sums_by_day_give_the_same_answer(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(kept_parts, "LEAST_LINES", 0)
    random = np.random.default_rng(7)
    lines = [
        Line(START + timedelta(int(day)), int(amount), f"O{order}", rep=f"R{order % 3}", product=f"P{order % 2}")
        for day, amount, order in zip(
            np.sort(random.integers(0, 40, 4000)), random.integers(-500, 9000, 4000), random.integers(0, 900, 4000), strict=True
        )
    ]
    ledger = SmallLedger(lines, DayRange(START, date(2024, 12, 31)))
    statement = Statement((ShownMeasure("net_sales"), ShownMeasure("orders")), ("rep",), as_of=PinnedDay(date(2024, 2, 3)))
    source = ledger.source_in(1, 0)
    answers = [answer(statement, ledger.facts, source, ledger.today) for _ in range(3)]
    assert answers[0] == answers[1] == answers[2]
    [columns] = source.segments.each
    assert any(key[0] == "sums" for key in columns.remembered["parts"]._found), "the third answer came from running sums"


def test_sums_beyond_64_bits_stay_exact() -> None:
    big = 2**62
    lines = [Line(START, big, f"O{n}", rep="Ada") for n in range(5)] + [Line(START, -big + 7, "O9", rep="Bo")]
    ledger = SmallLedger(lines, COVERED)
    assert not ledger.source.segments.one_word["amount"]
    statement = Statement((ShownMeasure("gross_sales"), ShownMeasure("net_sales")), ("rep",), as_of=PinnedDay(START))
    found = answer(statement, ledger.facts, ledger.source, ledger.today)
    assert value(found, "gross_sales.0.value") == Fraction(5 * big, 100)
    assert value(found, "net_sales.0.value") == Fraction(4 * big + 7, 100)
    assert value(found, "net_sales.0.value", "Bo") == Fraction(-big + 7, 100)
    assert additive.words_of(ledger.source.segments, ("amount", ())) == 3
