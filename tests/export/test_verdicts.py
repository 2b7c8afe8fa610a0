"""Goals in files: their verdicts in words, and live in the workbook, equal to the exact ones."""

from __future__ import annotations

import csv
import io
from datetime import date
from fractions import Fraction
from typing import Any

import openpyxl
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from openpyxl.worksheet.worksheet import Worksheet

from lofty_abacus.core.answer.answer import Answer
from lofty_abacus.core.answer.answering import answer
from lofty_abacus.core.statement.statement import Goal, Opened, OwnTarget, ShownMeasure, Statement
from lofty_abacus.core.windows.as_of import PinnedDay
from lofty_abacus.core.windows.bases import PeriodBase
from lofty_abacus.export.csv_table import csv_table
from lofty_abacus.export.workbook import workbook
from tests.export.test_workbook import worked_out
from tests.ledgers import Line, SmallLedger

GOALS = (
    Goal("net_sales", "95.5", own=(OwnTarget("120", ("Ada",)),)),
    Goal("lines", "2", of="figure", direction="at_most"),
)


def answered(sold: list[tuple[str, int, int]]) -> tuple[Answer, Statement]:
    lines = [
        Line(day, amount, f"{rep}{day.year}", "North", rep, "P1", "C1", 1, 50)
        for rep, was, now in sold
        for day, amount in ((date(2025, 3, 2), was), (date(2026, 3, 2), now))
        if amount
    ]
    ledger = SmallLedger([*lines, Line(date(2025, 1, 2), 1_00, "x", "North", "Zed", "P1", "C1", 1, 50)])
    statement = Statement(
        (ShownMeasure("net_sales"), ShownMeasure("lines")),
        ("rep",),
        as_of=PinnedDay(date(2026, 3, 31)),
        bases=(PeriodBase(1, "year"),),
        goals=GOALS,
    )
    return answer(statement, ledger.facts, ledger.source, date(2026, 3, 31), Opened(1)), statement


def verdicts(found: Answer) -> list[list[bool | None]]:
    goals = [at for at, column in enumerate(found.columns) if column.kind == "goal"]
    return [[row.cells[at].met for at in goals] for row in (*found.rows, found.total)]


def product(sheet: Worksheet, text: str) -> Fraction:
    """A cell or a number, times a number."""
    one, _, factor = text.partition("*")
    value = worked_out(sheet, sheet[one].value) if one[0].isalpha() else Fraction(one)
    assert isinstance(value, Fraction)
    return value * Fraction(factor)


def placed(head: list[Any]) -> list[int]:
    return [at for at, name in enumerate(head) if name and str(name).endswith(": verdict")]


def test_csv_says_met_or_missed_beside_each_goal() -> None:
    found, statement = answered([("Ada", 100_00, 119_99), ("Bo", 100_00, 95_50)])
    head, *rows = csv.reader(io.StringIO(csv_table(found, statement)))
    said = [[row[at] for at in placed(head)] for row in rows]
    assert said == [["missed", "met"], ["met", "met"], ["missed", "met"], ["met", "met"]]
    assert len({len(row) for row in (head, *rows)}) == 1


@settings(max_examples=25, deadline=None)
@given(
    st.lists(
        st.tuples(st.sampled_from(["Ada", "Bo", "Cy"]), st.integers(0, 10**9), st.integers(-(10**6), 10**9)),
        min_size=1,
        max_size=8,
    )
)
def test_a_workbook_comes_to_the_same_verdicts_by_its_formulas(sold: list[tuple[str, int, int]]) -> None:
    found, statement = answered(sold)
    formulas = openpyxl.load_workbook(io.BytesIO(workbook(found, statement)))["Figures"]
    kept = openpyxl.load_workbook(io.BytesIO(workbook(found, statement)), data_only=True)["Figures"]
    places = placed([cell.value for cell in formulas[1]])
    assert len(places) == 2
    for at, row in enumerate(verdicts(found), start=2):
        for place, met in zip(places, row, strict=True):
            assert kept.cell(at, place + 1).value == (None if met is None else int(met))
            content = formulas.cell(at, place + 1).value
            if isinstance(content, str):
                condition = content.removeprefix("=IF(").removesuffix(",1,0)")
                left, sign, right = condition.partition(">=") if ">=" in condition else condition.partition("<=")
                one, other = product(formulas, left), product(formulas, right)
                assert (one >= other if sign == ">=" else one <= other) is met
    assert any(str(formulas.cell(at, places[0] + 1).value).startswith("=IF(") for at in range(2, len(found.rows) + 3)) or all(
        row[0] is None for row in verdicts(found)
    )


@pytest.mark.parametrize("met", [True, False])
def test_a_verdict_is_shown_as_a_word(met: bool) -> None:
    found, statement = answered([("Ada", 100_00, 120_00 if met else 100_00)])
    sheet = openpyxl.load_workbook(io.BytesIO(workbook(found, statement)))["Figures"]
    place = placed([cell.value for cell in sheet[1]])[0] + 1
    assert sheet.cell(2, place).number_format == '"met";"met";"missed"'
