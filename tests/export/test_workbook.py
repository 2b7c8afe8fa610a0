"""A workbook opened and read back: its formulas, worked out by hand, give the figures of the answer."""

from __future__ import annotations

import io
import re
from datetime import date, datetime
from fractions import Fraction

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from openpyxl import load_workbook
from openpyxl.worksheet.worksheet import Worksheet

from lofty_abacus.core.answer.answer import Answer
from lofty_abacus.core.answer.answering import answer
from lofty_abacus.core.statement.levels import TimeLevel
from lofty_abacus.core.statement.limits import TopLimit
from lofty_abacus.core.statement.statement import Opened, ShownMeasure, Statement
from lofty_abacus.core.windows.as_of import PinnedDay
from lofty_abacus.core.windows.bases import PeriodBase
from lofty_abacus.export.layout import Layout
from lofty_abacus.export.workbook import workbook
from tests.cells import exact
from tests.ledgers import Line, SmallLedger

LINES = [
    Line(date(2026, 3, 1), 10_00, "A", "North", "=1+1"), Line(date(2026, 3, 2), 5_50, "B", "North", "Bo"),
    Line(date(2025, 3, 1), 3_00, "C", "South", "Cy"), Line(date(2026, 2, 1), 7_25, "D", "South", "Cy"),
]  # fmt: skip
SHOWN = (
    ShownMeasure("net_sales", ("difference", "percent_change", "attainment", "share_of_all", "share_of_parent")),
    ShownMeasure("orders", ("difference",)),
)


def sheet_of(found: Answer, statement: Statement) -> tuple[Worksheet, Worksheet]:
    book = load_workbook(io.BytesIO(workbook(found, statement)))
    assert book.sheetnames == ["Figures", "What this shows"]
    return book["Figures"], book["What this shows"]


def worked_out(sheet: Worksheet, text: str | float | int | None) -> Fraction | str | None:
    """A cell's content as a number: sums, differences and ratios of other cells, followed to their figures."""
    if text is None or not str(text).startswith("="):
        return None if text is None else Fraction(str(text))
    body = str(text)[1:]

    def cell(name: str) -> Fraction:
        value = worked_out(sheet, sheet[name].value)
        assert isinstance(value, Fraction), name
        return value

    if body.startswith("SUM("):
        total = Fraction(0)
        for part in body[4:-1].split(","):
            first, _, last = part.partition(":")
            letter = re.sub(r"\d", "", first)
            for number in range(int(re.sub(r"\D", "", first)), int(re.sub(r"\D", "", last or first)) + 1):
                if sheet[f"{letter}{number}"].value is not None:
                    total += cell(f"{letter}{number}")
        return total
    difference = re.fullmatch(r"([A-Z]+\d+)-([A-Z]+\d+)", body)
    if difference:
        return cell(difference[1]) - cell(difference[2])
    change = re.fullmatch(r"\(([A-Z]+\d+)-([A-Z]+\d+)\)/([A-Z]+\d+)", body)
    if change:
        return (cell(change[1]) - cell(change[2])) / cell(change[3])
    ratio = re.fullmatch(r"([A-Z]+\d+)/([A-Z]+\d+)", body)
    assert ratio is not None, body
    return cell(ratio[1]) / cell(ratio[2])


def test_formulas_give_the_figures_of_the_answer() -> None:
    statement = Statement(SHOWN, ("region", "rep"), as_of=PinnedDay(date(2026, 3, 2)), bases=(PeriodBase(1, "year"),))
    ledger = SmallLedger(LINES)
    found = answer(statement, ledger.facts, ledger.source, ledger.today, Opened(2))
    sheet, caption = sheet_of(found, statement)
    header = [cell.value for cell in sheet[1]]
    places = {column.id: header.index(next(text for text in header if text and text.startswith(words))) + 1 for column, words in (
        (found.columns[0], "Net sales, this"), (found.columns[2], "Net sales, change"), (found.columns[3], "Net sales, % change"),
        (found.columns[4], "Net sales, % of base"), (found.columns[5], "Net sales, share"), (found.columns[6], "Net sales, of parent"),
    )}  # fmt: skip
    formulas = 0
    for at, row in enumerate((*found.rows, found.total), start=2):
        for column, cell in zip(found.columns, row.cells, strict=True):
            if column.id in places:
                content = sheet.cell(at, places[column.id]).value
                formulas += str(content).startswith("=")
                wanted = None if cell.value is None else exact(cell)
                assert worked_out(sheet, content) == wanted, f"{row.label} {column.id}"
    total = len(found.rows) + 2
    assert str(sheet.cell(total, places["net_sales.0.value"]).value) == "=SUM(D2,D5)" and formulas > 20
    shares = [sheet.cell(at, places["net_sales.0.share_of_parent"]).value for at in (2, 3)]
    assert shares == [f"=D2/D{total}", "=D3/D2"], "a share of what stands above is live, too"
    assert sheet.cell(3, 2).value == "'=1+1", "no text runs as a formula"
    assert sheet.cell(total, places["net_sales.1.percent_change"]).number_format == "+0.0%;-0.0%;0.0%"
    said = {str(row[0].value): str(row[1].value) for row in caption.iter_rows()}
    assert said["As of"] == "2 Mar 2026 (2026-03-02)" and "unequal" in said["Base 1"] and "version 1" in said["Ledger"]


def test_months_to_come_are_empty_and_join_no_sum() -> None:
    statement = Statement((ShownMeasure("net_sales"),), (TimeLevel("month"),), as_of=PinnedDay(date(2026, 3, 2)))
    ledger = SmallLedger(LINES)
    found = answer(statement, ledger.facts, ledger.source, ledger.today, Opened(1))
    sheet, _ = sheet_of(found, statement)
    months = {str(row[0].value)[:7]: row[1].value for row in sheet.iter_rows(min_row=2)}
    assert sheet.cell(2, 1).value == datetime(2026, 1, 1) and sheet.cell(2, 1).number_format == "mmm yyyy", "a period is a date"
    assert months["2026-02"] == 7.25 and months["2026-12"] is None and len(found.rows) == 12
    assert months["(all)"] == "=SUM(B2:B13)" and exact(found.total.cells[0]) == Fraction("22.75")


def test_what_is_no_plain_sum_is_a_value() -> None:
    statement = Statement(
        (ShownMeasure("net_sales"), ShownMeasure("orders")),
        ("rep",),
        as_of=PinnedDay(date(2026, 3, 2)),
        limits=(TopLimit(1, "net_sales.0.value"),),
    )
    ledger = SmallLedger([*LINES, Line(date(2026, 3, 1), 10**17, "E", "North", "Big")])
    found = answer(statement, ledger.facts, ledger.source, ledger.today, Opened(1))
    sheet, _ = sheet_of(found, statement)
    assert [sheet.cell(2, 2).value, sheet.cell(3, 1).value] == ["1000000000000000.00", "(3 others)"], "beyond 15 digits as text"
    assert not any(str(cell.value).startswith("=") for row in sheet.iter_rows(min_row=2) for cell in row if cell.value)


@settings(max_examples=40)
@given(
    amounts=st.lists(
        st.tuples(
            st.integers(0, 500), st.integers(-(10**7), 10**7), st.sampled_from(["North", "South"]), st.sampled_from(["Ada", "Bo"])
        ),
        min_size=1,
        max_size=20,
    ),
    timed=st.booleans(),
)
def test_every_formula_of_any_table_is_right(amounts: list[tuple[int, int, str, str]], timed: bool) -> None:
    lines = [
        Line(date.fromordinal(date(2025, 1, 1).toordinal() + n), amount, str(n), region, rep)
        for n, amount, region, rep in amounts
    ]
    rows = (TimeLevel("quarter"), "region") if timed else ("region", "rep")
    statement = Statement(SHOWN, rows, as_of=PinnedDay(date(2026, 5, 1)), bases=(PeriodBase(1, "year"),))
    ledger = SmallLedger(lines)
    found = answer(statement, ledger.facts, ledger.source, ledger.today, Opened(2))
    sheet, _ = sheet_of(found, statement)
    for at, row in enumerate((*found.rows, found.total), start=2):
        figures = row.cells
        written = [cell.value for cell in sheet[at]][len(rows) + 1 :]
        numbers = [each for each in written if each is not None and re.fullmatch(r"=.*|-?[\d.E+-]+", str(each))]
        assert [worked_out(sheet, each) for each in numbers] == [
            exact(cell) if str(each).startswith("=") else Fraction(cell.value or 0)
            for each, cell in zip(numbers, [cell for cell in figures if cell.value is not None], strict=True)
        ]


def test_readers_that_do_not_calculate_see_what_every_formula_comes_to() -> None:
    statement = Statement(SHOWN, ("region", "rep"), as_of=PinnedDay(date(2026, 3, 2)), bases=(PeriodBase(1, "year"),))
    ledger = SmallLedger(LINES)
    saved = workbook(answer(statement, ledger.facts, ledger.source, ledger.today, Opened(2)), statement)
    formulas = load_workbook(io.BytesIO(saved))["Figures"]
    values = load_workbook(io.BytesIO(saved), data_only=True)["Figures"]
    compared = 0
    for row in formulas.iter_rows(min_row=2):
        for cell in row:
            if str(cell.value).startswith("="):
                wanted = worked_out(formulas, cell.value)
                assert isinstance(wanted, Fraction)
                kept = values.cell(cell.row, cell.column).value
                assert kept is not None and abs(Fraction(str(kept)) - wanted) <= abs(wanted) * Fraction(1, 10**12)
                compared += 1
    assert compared > 20
    widths = [formulas.column_dimensions[letter].width for letter in "ABCD"]
    assert all(12 <= width <= 50 for width in widths), "nobody has to widen columns by hand"


@pytest.mark.parametrize("sign", ["=1", "+", "@x", "-"])
def test_a_sign_of_a_currency_is_no_formula(sign: str) -> None:
    with pytest.raises(ValueError, match="sign"):
        Layout(sign=sign)
