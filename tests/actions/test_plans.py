"""A plan posted as a ledger of its own, known by month, compared with what was sold."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

from lofty_abacus.actions.figures.answer_scorecard import answer_scorecard
from lofty_abacus.actions.figures.answer_statement import answer_statement
from lofty_abacus.actions.figures.check_table import check_table
from lofty_abacus.actions.figures.prove_number import AskedNumber, lines_of_number, prove_number
from lofty_abacus.actions.intake.post_files import post_files
from lofty_abacus.actions.intake.stage_files import stage_files
from lofty_abacus.actions.ledgers.make_ledger import make_ledger
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import NewLedger
from lofty_abacus.core.days import day_of
from lofty_abacus.core.statement.scorecard import CardAsked
from lofty_abacus.core.statement.statement import Goal, Opened, ShownMeasure, Statement
from lofty_abacus.core.windows.as_of import PinnedDay
from lofty_abacus.core.windows.bases import LedgerBase
from lofty_abacus.core.windows.current import ToDate
from tests.conftest import quiet

Write = Callable[..., tuple[str, Path]]


def test_a_monthly_plan_is_met_to_the_day(office: Office, ledger: str, csv_file: Write) -> None:
    sold = csv_file("s.csv", "date,order,rep,amount", "2026-01-05,A,Ada,20", "2026-02-03,B,Ada,40", "2026-02-04,C,Bo,9")
    post_files(office, stage_files(office, ledger, [sold]).id, quiet)
    plan = f"{ledger} plan"
    make_ledger(office, replace(NewLedger(plan), line_grain="month"))
    planned = csv_file("p.csv", "month,rep,amount", "2026-01,Ada,31.05", "2026-02,Ada,28", "2026-02,Bo,14", "2026-03,Ada,62")
    post_files(office, stage_files(office, plan, [planned]).id, quiet)
    statement = Statement(
        (ShownMeasure("net_sales", ("attainment",)),), ("rep",), as_of=PinnedDay(day_of(20_493)), bases=(LedgerBase(plan),)
    )  # fmt: skip
    found = answer_statement(office, ledger, statement, Opened(1))
    assert found.as_of.isoformat() == "2026-02-09"
    assert {row.label: row.cells[1].value for row in found.rows} == {"Ada": "40.05", "Bo": "4.50"}
    assert check_table(office, ledger, statement).agrees
    proof = prove_number(office, AskedNumber(ledger, statement, "net_sales.1.value", ("Ada",)))
    page = lines_of_number(office, AskedNumber(ledger, statement, "net_sales.1.value", ("Ada",)), 0, 0, 10)
    assert proof.operands[0].ledger == plan and [(line.file, line.row, line.amount) for line in page.lines] == [
        ("p.csv", 3, "28.00"), ("p.csv", 2, "31.05"),
    ]  # fmt: skip


def test_a_scorecard_against_a_plan_rolls_on_with_what_is_posted(office: Office, ledger: str, csv_file: Write) -> None:
    sold = csv_file(
        "s.csv", "date,order,rep,amount", "2026-01-31,A,Ada,32", "2026-02-28,B,Ada,20", "2026-02-28,C,Bo,14", "2026-02-28,D,Cy,1"
    )
    post_files(office, stage_files(office, ledger, [sold]).id, quiet)
    plan = f"{ledger} plan"
    make_ledger(office, replace(NewLedger(plan), line_grain="month"))
    planned = csv_file(
        "p.csv", "month,rep,amount", "2026-01,Ada,31", "2026-02,Ada,28", "2026-02,Bo,14", "2026-03,Ada,31", "2026-03,Bo,7"
    )
    post_files(office, stage_files(office, plan, [planned]).id, quiet)
    statement = Statement(
        (ShownMeasure("net_sales"), ShownMeasure("orders", bases=())),
        ("rep",),
        ToDate("month"),
        bases=(LedgerBase(plan),),
        goals=(Goal("net_sales", "100"),),
    )

    def verdicts() -> dict[str, bool | None]:
        card = answer_scorecard(office, ledger, statement, CardAsked(1))
        at = next(at for at, column in enumerate(card.answer.columns) if column.kind == "goal")
        return {row.label: row.cells[at].met for row in (*card.answer.rows, card.answer.total)}

    # Who has no plan is not judged; January was judged at its own end.
    assert verdicts() == {"Ada": False, "Bo": True, "Cy": None, "": False}
    card = answer_scorecard(office, ledger, statement, CardAsked(1))
    assert [(each.key, each.total.met) for each in card.history] == [("2026-01", (True,))]
    assert "one has no goal that can be told" in card.told.text
    # The next month is posted: the card is that of March by itself, and February a part of its history.
    later = csv_file("l.csv", "date,order,rep,amount", "2026-03-31,E,Ada,31", "2026-03-31,F,Bo,6.99")
    post_files(office, stage_files(office, ledger, [later]).id, quiet)
    assert verdicts() == {"Ada": True, "Bo": False, "": False}
    card = answer_scorecard(office, ledger, statement, CardAsked(2))
    assert [(each.key, each.total.met) for each in card.history] == [("2026-02", (False,)), ("2026-01", (True,))]
