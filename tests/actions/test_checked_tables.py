"""The check of a table against the posted lines: of every sum that it rests on, and able to fail."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from datetime import date
from pathlib import Path
from typing import Any

import pytest
from sqlalchemy import text

from lofty_abacus.actions.figures.check_table import TableCheck, check_table
from lofty_abacus.actions.intake.post_files import post_files
from lofty_abacus.actions.intake.stage_files import stage_files
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import Posting
from lofty_abacus.core.measures.table import MEASURES, DefinedMeasure
from lofty_abacus.core.statement.statement import CountedFilter, ShownMeasure, Statement
from lofty_abacus.core.windows.as_of import PinnedDay
from lofty_abacus.core.windows.bases import PeriodBase
from lofty_abacus.demo.scenario import LEDGER_NAME
from tests.conftest import quiet

Write = Callable[..., tuple[str, Path]]
OWN = DefinedMeasure("left_per_unit", "(net_sales - cost) / units")


def checked(office: Office, ledger: str, *measures: str, **changes: Any) -> TableCheck:
    shown = tuple(ShownMeasure(each) for each in measures)
    statement = Statement(shown, ("rep",), as_of=PinnedDay(date(2026, 10, 17)), bases=(PeriodBase(1, "year"),), defined=(OWN,))
    return check_table(office, ledger, replace(statement, **changes))


@pytest.mark.parametrize("measure", [*MEASURES, OWN.name])
def test_every_measure_is_checked_by_the_sums_that_it_is_made_of(office: Office, demo: Posting, measure: str) -> None:
    for changes in ({}, {"filters": (CountedFilter("region", ("Lakes",)),)}):
        check = checked(office, LEDGER_NAME, measure, **changes)
        assert check.agrees and check.lines > 0
        assert {each.window for each in check.totals} == {0, 1}, "in the current window and in the base"
        assert all(each.table == each.database and each.table not in ("", "0") for each in check.totals)


def test_parts_of_ratios_are_named_after_the_measures_that_they_are(office: Office, demo: Posting) -> None:
    names = {
        measure: [each.measure for each in checked(office, LEDGER_NAME, measure).totals if each.window == 0]
        for measure in ("average_order_value", "margin_percent", "return_rate", OWN.name)
    }
    assert names == {
        "average_order_value": ["gross_sales", "orders"],
        "margin_percent": ["net_sales less cost of lines with cost", "net_sales of lines with cost"],
        "return_rate": ["returns", "gross_sales"],
        OWN.name: ["net_sales of lines with cost and quantity", "cost of lines with quantity", "units of lines with cost"],
    }


def test_a_line_that_is_changed_in_the_database_alone_is_found(office: Office, ledger: str, csv_file: Write) -> None:
    file = csv_file(
        "march.csv", "date,order,rep,quantity,amount,cost", "2026-03-01,O1,Ada,2,10.50,4.00", "2026-03-02,O2,Bo,1,7.25,"
    )
    post_files(office, stage_files(office, ledger, [file]).id, quiet)
    measures = ("net_sales", "margin_percent", "average_order_value")
    assert all(checked(office, ledger, each, bases=()).agrees for each in measures)
    number = office.books.opened(ledger).record.id
    with office.books.engine.begin() as connection:  # type: ignore[attr-defined]
        connection.execute(text(f"UPDATE line_{number} SET amount = amount + 0.01 WHERE cost IS NOT NULL"))
    wrong = {each: checked(office, ledger, each, bases=()) for each in measures}
    assert [each.agrees for each in wrong.values()] == [False, False, False]
    found = {each.measure: (each.table, each.database) for each in wrong["margin_percent"].totals}
    assert found["net_sales of lines with cost"] == ("10.50", "10.51")
