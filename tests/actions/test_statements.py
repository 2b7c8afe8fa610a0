"""Statements kept under names, and the common questions that any ledger is offered."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

import pytest

from lofty_abacus.actions.errors import NotFoundError, RefusedError
from lofty_abacus.actions.figures.answer_statement import answer_statement
from lofty_abacus.actions.intake.post_files import post_files
from lofty_abacus.actions.intake.stage_files import stage_files
from lofty_abacus.actions.ledgers.make_ledger import make_ledger
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import NewLedger, Posting, SavedStatement
from lofty_abacus.actions.statements.keep_statements import forget_statement, list_statements, save_statement
from lofty_abacus.core.errors import QuestionError
from lofty_abacus.core.measures.table import DefinedMeasure
from lofty_abacus.core.statement.levels import TimeLevel
from lofty_abacus.core.statement.limits import TopLimit
from lofty_abacus.core.statement.statement import Goal, Opened, ShownMeasure, Statement
from lofty_abacus.core.windows.as_of import LastCompleted
from lofty_abacus.core.windows.bases import FixedBase, PeriodBase
from lofty_abacus.core.windows.current import LastPeriods
from lofty_abacus.core.windows.stretches import Moving
from lofty_abacus.demo.scenario import LEDGER_NAME
from tests.conftest import quiet

Write = Callable[..., tuple[str, Path]]
LARGE = Statement(
    (ShownMeasure("net_sales", ("difference",), Moving(3), name="Trend"), ShownMeasure("basket")), (TimeLevel("month"), "rep"),
    LastPeriods(12, "month", "completed"), LastCompleted("month"), (PeriodBase(1, "period", day_back=7), FixedBase("2025")),
    defined=(DefinedMeasure("basket", "net_sales / lines"),), limits=(TopLimit(3, "basket.0.value"),), goals=(Goal("basket", "100"),),
)  # fmt: skip


@pytest.fixture
def posted(office: Office, ledger: str, csv_file: Write) -> str:
    file = csv_file("s.csv", "date,order,rep,amount", "2025-01-05,A,Ada,20", "2026-02-03,B,Ada,40", "2026-02-04,C,Bo,9")
    post_files(office, stage_files(office, ledger, [file]).id, quiet)
    return ledger


def test_a_statement_is_kept_whole_and_opened_again(office: Office, posted: str) -> None:
    kept = save_statement(
        replace(office, person="Ada"), posted, SavedStatement(" Trend ", LARGE, Opened(2, (("2026-02",),)), "Monthly", "by rep")
    )
    assert (kept.name, kept.saved_by) == ("Trend", "Ada") and kept.saved_at is not None
    (found,) = list_statements(office, posted).saved
    assert (found.statement, found.opened, found.folder, found.description, found.saved_by) == (
        LARGE, Opened(2, (("2026-02",),)), "Monthly", "by rep", "Ada",
    )  # fmt: skip
    save_statement(office, posted, replace(kept, statement=Statement((ShownMeasure("lines"),))))
    assert [each.statement.measures[0].measure for each in list_statements(office, posted).saved] == ["lines"], "in its place"
    forget_statement(office, posted, "Trend")
    assert list_statements(office, posted).saved == ()
    with pytest.raises(NotFoundError, match="keeps no statement 'Trend'"):
        forget_statement(office, posted, "Trend")


def test_what_cannot_be_answered_or_named_is_not_kept(office: Office, posted: str) -> None:
    with pytest.raises(QuestionError, match="no dimension 'region'"):
        save_statement(office, posted, SavedStatement("x", Statement((ShownMeasure("lines"),), ("region",))))
    with pytest.raises(RefusedError, match="write one"):
        save_statement(office, posted, SavedStatement("  ", LARGE))
    with pytest.raises(RefusedError, match="121 characters"):
        save_statement(office, posted, SavedStatement("n" * 121, LARGE))


def test_the_common_questions_are_offered_with_the_ledgers_own_columns(office: Office, posted: str, demo: Posting) -> None:
    offered = {each.name: each.statement for each in list_statements(office, LEDGER_NAME).offered}
    assert list(offered) == [
        "Year to date", "Same period last year", "This month and the month before", "Quarter to date",
        "The month before and after last month", "The last 30 days against a year, a quarter, a month before",
        "The year so far against the same part of 2024", "Month over month", "Orders month over month", "Day over day", "Year by year",
        "The same part of every year", "Months by rep", "Running total this year",
        "Running totals of the year, the quarter, the month", "Running total by region", "Months with their mean of three",
        "Shares in region", "Quarter to date by category, most changed first",
        "Growth of the quarter where both sold, by customer", "New and lost by customer",
        "Who moved this year, and why", "Goals of last month",
    ]  # fmt: skip
    assert offered["Shares in region"].rows == ("region", "rep")
    for name, each in offered.items():
        assert answer_statement(office, LEDGER_NAME, each, Opened(2)).rows, name
    own = list_statements(office, posted).offered
    assert all(answer_statement(office, posted, each.statement, each.opened).total for each in own) and len(own) == 22
    make_ledger(office, replace(NewLedger(f"{posted} weeks"), line_grain="week"))
    weeks = {each.name for each in list_statements(office, f"{posted} weeks").offered}
    assert weeks == {"Year to date", "Year by year", "The same part of every year", "Who moved this year, and why"}
