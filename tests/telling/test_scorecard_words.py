"""The sentences above a scorecard, rule by rule (docs/words.md)."""

from __future__ import annotations

from datetime import date

import pytest

from lofty_abacus.core.answer.scorecard import scorecard
from lofty_abacus.core.statement.scorecard import CardAsked
from lofty_abacus.core.statement.statement import Goal, OwnTarget, ShownMeasure, Statement
from lofty_abacus.core.windows.as_of import PinnedDay
from lofty_abacus.core.windows.bases import PeriodBase
from lofty_abacus.core.windows.ranges import DayRange
from lofty_abacus.telling.scorecard import ToldCard, told_card
from tests.ledgers import Line, SmallLedger

BOTH = (Goal("net_sales", "100"), Goal("lines", "1", of="figure"))


def card(*sold: tuple[str, int, int], goals: tuple[Goal, ...] = BOTH) -> ToldCard:
    """Reps with what they sold in the base and now, in minor units; 0 for no line, below 0 for a return."""
    lines = [
        Line(day, amount, f"O{at}{day.year}", "North", rep, "P1", "C1", 1, 50)
        for at, (rep, was, now) in enumerate(sold)
        for day, amount in ((date(2025, 3, 2), was), (date(2026, 3, 2), now))
        if amount
    ]
    ledger = SmallLedger(lines, DayRange(date(2024, 1, 1), date(2026, 12, 31)))
    statement = Statement(
        (ShownMeasure("net_sales"), ShownMeasure("lines")),
        ("rep",),
        as_of=PinnedDay(date(2026, 3, 31)),
        bases=(PeriodBase(1, "year"),),
        goals=goals,
    )
    found = scorecard(statement, ledger.facts, ledger.source, date(2026, 3, 31), CardAsked(2))
    return told_card(found, {})


@pytest.mark.parametrize(
    ("sold", "words"),
    [
        ([("Ada", 1_00, 2_00), ("Bo", 2_00, 2_00)], "Two of two reps meet all goals. Together they meet all goals."),
        (
            [("Ada", 1_00, 2_00), ("Bo", 2_00, 1_00)],
            "One of two reps meets all goals. Bo meets one of two. Together they meet all goals.",
        ),
        (
            [("Ada", 3_00, 2_00), ("Bo", 2_00, 1_00), ("Cy", 2_00, 0)],
            "None of three reps meet all goals. Together they meet one of two.",
        ),
        # A base of 0 or below has no percentage, and is met all the same where the figure reaches it.
        (
            [("Ada", 0, 2_00), ("Bo", -2_00, 1_00), ("Cy", 5_00, 1_00)],
            "Two of three reps meet all goals. Cy meets one of two. Together they meet all goals.",
        ),
    ],
)
def test_each_rule(sold: list[tuple[str, int, int]], words: str) -> None:
    assert card(*sold).told.text == words


def test_a_goal_without_a_figure_is_told_apart() -> None:
    found = card(("Ada", 1_00, 2_00), ("Bo", 1_00, 2_00), goals=(Goal("net_sales", "", own=(OwnTarget("90", ("Ada",)),)),))
    assert found.told.text.startswith("One of one rep meets all goals; one has no goal that can be told.")
    assert [each.goal_words for each in found.told.metrics] == ["as set for each", ""]


def test_what_it_leads_to_is_the_goal_that_is_missed() -> None:
    [sentence] = [each for each in card(("Ada", 1_00, 2_00), ("Bo", 2_00, 1_00)).told.sentences if each[0].text == "Bo"]
    assert (sentence[0].path, sentence[0].column) == (("Bo",), "net_sales.1.goal")
