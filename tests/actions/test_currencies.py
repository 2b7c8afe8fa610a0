"""Amounts in other currencies: told, refused, and taken at the rate that a person gives."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from datetime import date
from fractions import Fraction
from pathlib import Path
from typing import Any

import pytest

from lofty_abacus.actions.errors import RefusedError
from lofty_abacus.actions.figures.answer_statement import answer_statement
from lofty_abacus.actions.figures.check_table import check_table
from lofty_abacus.actions.figures.prove_number import AskedNumber, lines_of_number
from lofty_abacus.actions.intake.check_files import check_files
from lofty_abacus.actions.intake.post_files import post_files
from lofty_abacus.actions.intake.stage_files import map_file, stage_files
from lofty_abacus.actions.intake.stagings import Staging
from lofty_abacus.actions.ledgers.make_ledger import make_ledger
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import GivenAmount, NewLedger
from lofty_abacus.core.statement.statement import Opened, ShownMeasure, Statement
from lofty_abacus.core.windows.as_of import PinnedDay
from lofty_abacus.ingest.mapping import Rate
from lofty_abacus.ingest.problems import MappingError
from tests.cells import value
from tests.conftest import quiet

Write = Callable[..., tuple[str, Path]]
NET = Statement((ShownMeasure("net_sales"),), ("rep",), as_of=PinnedDay(date(2026, 12, 31)))


def net(office: Office, ledger: str) -> Fraction | str:
    return value(answer_statement(office, ledger, NET, Opened()), "net_sales.0.value")


def decide(office: Office, staging: Staging, file: int = 0, **changes: Any) -> None:
    mapping = staging.files[file].mapping
    assert mapping is not None
    map_file(office, staging.id, file, replace(mapping, **changes))


def test_another_currency_is_refused_with_counts_and_sums(office: Office, ledger: str, csv_file: Write) -> None:
    rows = ("2026-03-01,Ada,€ 10.50", "2026-03-02,Bo,$5.00", "2026-03-02,Bo,(USD 1.25)", "2026-03-03,Cy,£7")
    staging = stage_files(office, ledger, [csv_file("s.csv", "date,rep,amount", *rows)])
    check = check_files(office, staging.id)
    found = check.files[0].finding("other_currencies")
    assert not check.ready and found is not None
    assert [(each.key, each.lines, each.amount) for each in found.members] == [("GBP", 1, "7.00"), ("USD", 2, "3.75")]
    assert "kept in EUR, and the file has 1 line of 7.00 GBP, 2 lines of 3.75 USD" in check.files[0].blocking[0]
    with pytest.raises(RefusedError, match="at which rate"):
        post_files(office, staging.id, quiet)
    decide(office, staging, rates=(Rate("USD", "0.92"),))
    assert [each.key for each in check_files(office, staging.id).files[0].finding("other_currencies").members] == ["GBP"]  # type: ignore[union-attr]
    decide(office, staging, rates=(Rate("USD", "0.92"), Rate("GBP", "1.1533")))
    assert check_files(office, staging.id).files[0].amount == "22.0231"
    post_files(office, staging.id, quiet)
    assert net(office, ledger) == Fraction("10.5") + Fraction("3.75") * Fraction("0.92") + 7 * Fraction("1.1533")
    assert check_table(office, ledger, NET).agrees
    lines = lines_of_number(office, AskedNumber(ledger, NET, "net_sales.0.value"), 0, 0, 10).lines
    assert {(each.amount, each.given) for each in lines} == {
        ("10.5000", None),
        ("4.6000", GivenAmount("5.00", "USD", "0.92")),
        ("-1.1500", GivenAmount("-1.25", "USD", "0.92")),
        ("8.0731", GivenAmount("7.00", "GBP", "1.1533")),
    }
    again = stage_files(office, ledger, [csv_file("t.csv", "date,rep,amount", "2026-04-01,Ada,$1")])
    assert not check_files(office, again.id).ready, "a rate is said for each file"


def test_a_currency_column_and_a_file_in_one_other_currency(office: Office, csv_file: Write) -> None:
    make_ledger(office, NewLedger("francs", "CHF"))
    staging = stage_files(
        office,
        "francs",
        [csv_file("s.csv", "date,rep,amount,currency", "2026-03-01,Ada,10,CHF", "2026-03-01,Bo,20,EUR", "2026-03-01,Cy,5,XYZ")],
    )
    assert staging.files[0].mapping.with_role("currency").column == "currency"  # type: ignore[union-attr]
    check = check_files(office, staging.id).files[0]
    assert [each.text for each in check.finding("unreadable").problems] == ["XYZ"]  # type: ignore[union-attr]
    decide(office, staging, rates=(Rate("EUR", "0.95"),), unreadable="leave_out")
    post_files(office, staging.id, quiet)
    assert net(office, "francs") == 29
    whole = stage_files(office, "francs", [csv_file("t.csv", "date,rep,amount", "2026-03-02,Ada,10", "2026-03-02,Bo,20")])
    decide(office, whole, currency="EUR")
    assert check_files(office, whole.id).files[0].finding("other_currencies").count == 2  # type: ignore[union-attr]
    decide(office, whole, currency="EUR", rates=(Rate("EUR", "0.5"),))
    post_files(office, whole.id, quiet)
    assert net(office, "francs") == 44


def test_a_sign_beside_a_figure_must_agree_with_its_column(office: Office, ledger: str, csv_file: Write) -> None:
    staging = stage_files(
        office, ledger, [csv_file("s.csv", "date,rep,amount,currency", "2026-03-01,Ada,$10,EUR", "2026-03-01,Bo,€5,EUR")]
    )
    (problem,) = check_files(office, staging.id).files[0].finding("unreadable").problems  # type: ignore[union-attr]
    assert (problem.row, problem.text, problem.reason) == (2, "USD", "stands in a line of EUR")


def test_rates_by_month_and_by_day_come_as_a_file(office: Office, ledger: str, csv_file: Write) -> None:
    rates = csv_file("rates.csv", "month,currency,rate", "2026-02,USD,0.90", "2026-03,USD,0.92")
    lines = csv_file("s.csv", "date,rep,amount", "2026-02-28,Ada,$10", "2026-03-01,Ada,$10", "2026-04-01,Ada,$10")
    staging = stage_files(office, ledger, [rates, lines])
    assert [each.mapping.kind for each in staging.files] == ["rates", "sales"]  # type: ignore[union-attr]
    found = check_files(office, staging.id).files[1].finding("other_currencies")
    assert found is not None and [(each.lines, each.amount) for each in found.members] == [(1, "10.00")], "April has no rate"
    decide(office, staging, 1, rates=(Rate("USD", "1"),))
    posting = post_files(office, staging.id, quiet)
    assert (posting.lines, posting.amount) == (3, "28.20")
    by_day = csv_file("daily.csv", "date;currency;rate", "2026-05-01;USD;0,80", "2026-05-04;USD;0,70")
    more = csv_file("may.csv", "date,rep,amount", "2026-05-03,Bo,$10", "2026-05-10,Bo,$10")
    assert post_files(office, stage_files(office, ledger, [by_day, more]).id, quiet).amount == "15.00"
    alone = stage_files(office, ledger, [csv_file("r.csv", "month,currency,rate", "2026-02,USD,0.90")])
    assert "Rates are kept with the lines" in check_files(office, alone.id).files[0].blocking[0]


def test_a_rate_that_needs_too_many_decimals_is_rounded_only_by_decision(office: Office, ledger: str, csv_file: Write) -> None:
    staging = stage_files(office, ledger, [csv_file("s.csv", "date,rep,amount", "2026-03-01,Ada,$10.123456")])
    decide(office, staging, rates=(Rate("USD", "0.91234"),))
    assert "say how lines are rounded" in check_files(office, staging.id).files[0].finding("unreadable").problems[0].reason  # type: ignore[union-attr]
    decide(office, staging, rates=(Rate("USD", "0.91234"),), round_to=2)
    assert post_files(office, staging.id, quiet).amount == "9.24"


@pytest.mark.parametrize(
    "rate", [Rate("USD", "0"), Rate("USD", "-1"), Rate("USD", "soon"), Rate("usd", "1"), Rate("USD", "1" * 40)]
)
def test_a_rate_that_is_none_is_refused(office: Office, ledger: str, csv_file: Write, rate: Rate) -> None:
    staging = stage_files(office, ledger, [csv_file("s.csv", "date,rep,amount", "2026-03-01,Ada,$10")])
    with pytest.raises(MappingError, match="rates"):
        decide(office, staging, rates=(rate,))
