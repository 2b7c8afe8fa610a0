"""A base below zero: undefined, or divided as it is where the statement says so (section 8)."""

from __future__ import annotations

from datetime import date
from fractions import Fraction
from typing import Literal

import pytest

from lofty_abacus.core.answer.answering import answer
from lofty_abacus.core.statement.statement import Opened, ShownMeasure, Statement
from lofty_abacus.core.windows.as_of import PinnedDay
from lofty_abacus.core.windows.bases import PeriodBase
from tests.cells import value
from tests.ledgers import Line, SmallLedger

LEDGER = SmallLedger(
    [
        Line(date(2025, 3, 1), -4_00, "A", "North", is_return=True), Line(date(2026, 3, 1), 6_00, "B", "North"),
        Line(date(2026, 3, 1), 1_00, "C", "South"),
    ]
)  # fmt: skip


@pytest.mark.parametrize(
    ("how", "percent", "attainment"),
    [("undefined", "base_is_negative", "base_is_negative"), ("divided", Fraction(10, -4), Fraction(6, -4))],
)
def test_a_negative_base(how: Literal["undefined", "divided"], percent: object, attainment: object) -> None:
    shown = ShownMeasure("net_sales", ("difference", "percent_change", "attainment"))
    statement = Statement(
        (shown,), ("region",), as_of=PinnedDay(date(2026, 3, 31)), bases=(PeriodBase(1, "year"),), negative_bases=how
    )
    found = answer(statement, LEDGER.facts, LEDGER.source, LEDGER.today, Opened(1))
    assert value(found, "net_sales.1.difference", "North") == 10, "the difference stands either way"
    assert value(found, "net_sales.1.percent_change", "North") == percent
    assert value(found, "net_sales.1.attainment", "North") == attainment
    assert value(found, "net_sales.1.percent_change", "South") == "base_is_zero", "nothing divides by 0"
