"""The sentences above movers, rule by rule (docs/words.md)."""

from __future__ import annotations

from datetime import date

import pytest

from lofty_abacus.core.answer.movers import movers
from lofty_abacus.core.statement.movers import MoversAsked
from lofty_abacus.core.statement.statement import ShownMeasure, Statement
from lofty_abacus.core.windows.as_of import PinnedDay
from lofty_abacus.core.windows.bases import PeriodBase
from lofty_abacus.core.windows.ranges import DayRange
from lofty_abacus.telling.movers import told_movers
from tests.ledgers import Line, SmallLedger

NOW, THEN = date(2026, 3, 2), date(2025, 3, 2)
DAY = PinnedDay(date(2026, 3, 31))


def said(*pairs: tuple[str, int, int], measure: str = "net_sales") -> str:
    """The words over reps, each with what it sold in the base and now, in minor units; 0 for no line."""
    lines = [
        Line(day, amount, f"O{at}{day.year}", "North", rep, "P1", "C1", 1, 50)
        for at, (rep, was, now) in enumerate(pairs)
        for day, amount in ((THEN, was), (NOW, now))
        if amount
    ]
    ledger = SmallLedger(lines, DayRange(date(2025, 1, 1), date(2026, 12, 31)))
    statement = Statement((ShownMeasure(measure),), ("rep",), as_of=DAY, bases=(PeriodBase(1, "year"),))
    return told_movers(movers(statement, ledger.facts, ledger.source, date(2026, 3, 31), MoversAsked())).told.text


@pytest.mark.parametrize(
    ("pairs", "words"),
    [
        # Rule 1 alone: one member, and what has no percentage of its base.
        ([("Ada", 100_00, 150_00)], "Net sales are 50.00 above the same dates last year (+50.0%)."),
        ([("Ada", 100_00, 100_00)], "Net sales are unchanged against the same dates last year."),
        ([("Ada", 0, 1_250_00)], "Net sales are 1,250.00 above the same dates last year. Ada sold in the current window only."),
        # Rules 2 and 4.
        (
            [("Ada", 100_00, 150_00), ("Bo", 100_00, 90_00)],
            "Net sales are 40.00 above the same dates last year (+20.0%). One rep rose, one fell. Only Bo fell (−10.00).",
        ),
        (
            [("Ada", 100_00, 90_00), ("Bo", 100_00, 80_00)],
            "Net sales are 30.00 below the same dates last year (−15.0%). Two reps fell, none rose.",
        ),
        # Rule 3: one, two, or a number of them.
        (
            [("Ada", 1_00, 101_00), ("Bo", 1_00, 3_00), ("Cy", 1_00, 2_00)],
            "Net sales are 103.00 above the same dates last year (+3,433.3%). Three reps rose, none fell. "
            "Ada alone makes 97% of all rises.",
        ),
        (
            [("Ada", 1_00, 51_00), ("Bo", 1_00, 41_00), ("Cy", 1_00, 2_00), ("Di", 9_00, 3_00), ("Ed", 9_00, 8_00)],
            "Net sales are 84.00 above the same dates last year (+400.0%). Three reps rose, two fell. "
            "Ada and Bo make 99% of all rises. Di fell most (−6.00).",
        ),
        (
            [(name, 1_00, 11_00) for name in ("Ada", "Bo", "Cy", "Di", "Ed")],
            "Net sales are 50.00 above the same dates last year (+1,000.0%). Five reps rose, none fell. "
            "Four of five reps that rose make 80% of all rises.",
        ),
        # Rule 5, and what rule 4 has told already.
        (
            [("Ada", 1_00, 51_00), ("Bo", 30_00, 0), ("Cy", 0, 7_00)],
            "Net sales are 27.00 above the same dates last year (+87.1%). Two reps rose, one fell. "
            "Only Bo fell (−30.00), having sold in the base only. Cy sold in the current window only.",
        ),
    ],
)
def test_each_rule(pairs: list[tuple[str, int, int]], words: str) -> None:
    assert said(*pairs) == words


def test_a_percent_measure_moves_in_points_and_a_single_thing_is(monkeypatch: pytest.MonkeyPatch) -> None:
    words = said(("Ada", 100_00, 200_00), measure="margin_percent")
    assert words.startswith("Margin % is 0.3 points above the same dates last year.")


def test_nothing_is_said_where_there_is_no_base() -> None:
    ledger = SmallLedger(
        [Line(NOW, 1_00, "O1", "North", "Ada", "P1", "C1", 1, 50)], DayRange(date(2026, 1, 1), date(2026, 12, 31))
    )
    statement = Statement((ShownMeasure("net_sales"),), ("rep",), as_of=DAY, bases=(PeriodBase(1, "year"),))
    found = told_movers(movers(statement, ledger.facts, ledger.source, date(2026, 3, 31), MoversAsked()))
    assert found.told.sentences == () and found.unknown == 1 and not found.steps
