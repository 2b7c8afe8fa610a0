"""What is exported is what is seen: columns in the layout's order, totals where they stand, figures as they are written."""

from __future__ import annotations

import csv
import io
import json
import re
from dataclasses import replace
from datetime import date
from fractions import Fraction

import pytest
from openpyxl import load_workbook

from lofty_abacus.core.answer.answer import Answer, Cell
from lofty_abacus.core.answer.answering import answer
from lofty_abacus.core.statement.levels import TimeLevel
from lofty_abacus.core.statement.statement import Goal, Opened, ShownMeasure, Sort, Statement
from lofty_abacus.core.windows.as_of import PinnedDay
from lofty_abacus.core.windows.bases import PeriodBase
from lofty_abacus.export.captions import caption_lines
from lofty_abacus.export.csv_table import MARKS, csv_table
from lofty_abacus.export.json_file import json_file
from lofty_abacus.export.layout import Layout, Written, is_empty_period, laid_out
from lofty_abacus.export.lines import in_order, lines_of, slots_of
from lofty_abacus.export.showing import exact, shown_text
from lofty_abacus.export.workbook import workbook
from lofty_abacus.telling.names import day_words
from tests.export.test_workbook import worked_out
from tests.ledgers import Line, SmallLedger

LEDGER = SmallLedger(
    [
        Line(date(2026, 3, 1), 1234_50, "A", "North", "Ada"), Line(date(2026, 5, 2), -5_50, "A", "North", "Ada", is_return=True),
        Line(date(2025, 3, 1), 3_00, "C", "South", "Cy"), Line(date(2026, 1, 9), 7_25, "D", "South", "Cy"),
    ]
)  # fmt: skip
SHOWN = (ShownMeasure("net_sales", ("difference", "percent_change", "share_of_all")), ShownMeasure("orders"))
BY_REGION = Statement(SHOWN, ("region",), as_of=PinnedDay(date(2026, 5, 31)), bases=(PeriodBase(1, "year"),))
BY_MONTH = replace(BY_REGION, rows=(TimeLevel("month"),), measures=(ShownMeasure("net_sales", ("difference",)),))


def ask(statement: Statement) -> Answer:
    return answer(statement, LEDGER.facts, LEDGER.source, LEDGER.today, Opened(2))


def table(statement: Statement, layout: Layout, *, formatted: bool = False) -> list[list[str]]:
    rows = list(csv.reader(io.StringIO(csv_table(ask(statement), statement, None, layout, formatted=formatted))))
    assert ([] in rows) == formatted, "the caption stands below figures as they are shown"
    assert not formatted or ["As of", f"{day_words(statement.as_of.day)} ({statement.as_of.day.isoformat()})"] in rows  # type: ignore[union-attr]
    return rows[: rows.index([])] if formatted else rows


def test_columns_stand_in_the_layouts_order_and_hidden_ones_are_gone() -> None:
    layout = Layout(hidden=("net_sales.1.value", "orders.1.value"), order=("orders.0.value",), totals="above")
    seen = laid_out(ask(BY_REGION), layout)
    assert [column.id for column in seen.columns] == [
        "orders.0.value", "net_sales.0.value", "net_sales.1.difference", "net_sales.1.percent_change", "net_sales.0.share_of_all",
    ]  # fmt: skip
    found = table(BY_REGION, layout)
    assert [row[0] for row in found[1:]] == ["(all)", "North", "South"]
    assert found[1][2] == "2" and found[2][3] == "1229.00"
    assert [row[0] for row in table(BY_REGION, Layout(totals="off"))[1:]] == ["North", "South"]


@pytest.mark.parametrize("totals", ["above", "below", "off"])
@pytest.mark.parametrize("hidden", [(), ("net_sales.1.value",), ("net_sales.0.value",)])
def test_formulas_of_a_laid_out_workbook_give_the_answers_figures(totals: str, hidden: tuple[str, ...]) -> None:
    layout = Layout(totals=totals, hidden=hidden)  # type: ignore[arg-type]
    found = ask(BY_REGION)
    sheet = load_workbook(io.BytesIO(workbook(found, BY_REGION, None, layout)))["Figures"]
    wanted = {row.path[0] if row.path else "(all)": row for row in (*found.rows, found.total)}
    ids = [column.id for column in laid_out(found, layout).columns]
    compared = 0
    for row in sheet.iter_rows(min_row=2):
        by_id = dict(zip([column.id for column in found.columns], wanted[str(row[0].value)].cells, strict=True))
        reasons = {at for at in range(sheet.max_column) if str(sheet.cell(1, at + 1).value).endswith(": reason")}
        cells = [cell for at, cell in enumerate(row) if at > 1 and at not in reasons and sheet.cell(1, at + 1).value != MARKS]
        for name, cell in zip(ids, cells, strict=True):
            value = by_id[name]
            if value.value is not None:
                exact = (
                    Fraction(int(value.numerator), int(value.denominator))
                    if value.numerator and value.denominator
                    else Fraction(value.value)
                )
                assert abs(Fraction(worked_out(sheet, cell.value)) - exact) < Fraction(1, 10**12), (name, cell.value)  # type: ignore[arg-type]
                compared += 1
    assert compared > 8
    assert [str(row[0].value) for row in sheet.iter_rows(min_row=2)].count("(all)") == (totals != "off")


@pytest.mark.parametrize("totals", ["above", "below", "off"])
@pytest.mark.parametrize("statement", [BY_REGION, replace(BY_MONTH, measures=SHOWN), replace(BY_REGION, across=("rep",))])
def test_measures_below_each_other_are_the_same_figures_in_other_lines(statement: Statement, totals: str) -> None:
    layout = Layout(totals=totals, measures="below", order=("orders.0.value",))  # type: ignore[arg-type]
    found = laid_out(ask(statement), layout)
    slots, lines = slots_of(found, layout), lines_of(found, layout)
    shown = [(id(line.row), at) for line in lines for at in line.columns if at is not None]
    assert sorted(shown) == sorted((id(row), at) for row in in_order(found, layout) for at in range(len(found.columns)))
    for line in lines:
        assert len({found.columns[at].measure for at in line.columns if at is not None}) == 1
    for slot in slots:
        assert len({(found.columns[at].kind, found.columns[at].window, found.columns[at].across) for at in slot}) == 1
    rows = table(statement, layout)
    levels = len(statement.rows)
    assert rows[0][levels] == "measure" and [row[levels] for row in rows[1:3]] == ["Orders", "Net sales"]
    assert len(rows) == 1 + 2 * (len(found.rows) + (totals != "off")) == 1 + len(lines)
    beside = table(statement, replace(layout, measures="beside"))
    figures = [sorted(text for row in each[1:] for text in row if re.fullmatch(r"-?\d+\.\d+", text)) for each in (rows, beside)]
    assert figures[0] == figures[1] != []
    sheet = load_workbook(io.BytesIO(workbook(ask(statement), statement, None, layout)))["Figures"]
    header = [str(cell.value) for cell in sheet[1]]
    places = [at for at, text in enumerate(header) if at > levels + 1 and not text.endswith(": reason") and text != MARKS]
    formulas = 0
    for line, row in zip(lines, sheet.iter_rows(min_row=2), strict=True):
        for at, place in zip(line.columns, places, strict=True):
            content = row[place].value
            value = None if at is None else exact(line.row.cells[at])
            if value is None:
                assert content is None
            else:
                assert abs(Fraction(worked_out(sheet, content)) - value) < Fraction(1, 10**12)  # type: ignore[arg-type]
            formulas += str(content).startswith("=")
    assert formulas >= 3


def test_totals_stand_before_or_after_what_stands_across_or_nowhere() -> None:
    statement = replace(BY_REGION, rows=(), across=("region", "rep"), measures=(ShownMeasure("net_sales"),), bases=())

    def shown(where: str) -> list[str]:
        columns = laid_out(ask(statement), Layout(totals_across=where)).columns  # type: ignore[arg-type]
        return ["/".join(str(each) for each in column.across) for column in columns]

    assert shown("before") == ["", "North", "North/Ada", "South", "South/Cy"]
    assert shown("after") == ["North/Ada", "North", "South/Cy", "South", ""]
    assert shown("off") == ["North/Ada", "South/Cy"]


def test_single_measures_may_be_written_otherwise() -> None:
    layout = Layout(negatives="brackets", zeros="blank", written={"net_sales": Written("minus", "dash")})
    both = replace(BY_MONTH, measures=(ShownMeasure("net_sales"), ShownMeasure("returned_units"), ShownMeasure("lines")))
    months = {row[0]: row for row in table(both, layout, formatted=True)}
    assert "-5.50" in months["May 2026"] and "-" in months["Feb 2026"] and "" in months["Feb 2026"]
    sheet = load_workbook(io.BytesIO(workbook(ask(both), both, None, layout)))["Figures"]
    formats = {cell.number_format for cell in sheet[2]}
    assert {'#,##0.00;-#,##0.00;"-"', '#,##0;(#,##0);""'} <= formats


def test_the_sign_of_the_currency_stands_at_the_edge_of_the_cell() -> None:
    layout = Layout(sign="€", negatives="brackets", zeros="dash")
    months = {row[0]: row for row in table(BY_MONTH, layout, formatted=True)}
    assert "(€5.50)" in months["May 2026"] and "+€1,231.50" in months["Mar 2026"]
    sheet = load_workbook(io.BytesIO(workbook(ask(BY_MONTH), BY_MONTH, None, layout)))["Figures"]
    formats = {cell.number_format for cell in sheet[2]}
    assert '"€"* #,##0.00;"€"* (#,##0.00);"-"' in formats and '"€"* +#,##0.00;"€"* (#,##0.00);"-"' in formats
    with pytest.raises(ValueError, match="sign is at most 5 plain characters"):
        Layout(sign='"')


def test_periods_without_figures_are_hidden_and_totals_stay() -> None:
    found = ask(BY_MONTH)
    empty = [row.label for row in found.rows if is_empty_period(found, row)]
    assert empty == ["2026-02", "2026-04", *(f"2026-{month:02d}" for month in range(6, 13))]
    shown = table(BY_MONTH, Layout(empty_periods="hidden"))
    assert [row[0] for row in shown[1:]] == ["2026-01", "2026-03", "2026-05", "(all)"]
    seen = laid_out(found, Layout(empty_periods="hidden"))
    assert seen.total == found.total and len(seen.rows) == 3


def test_figures_as_they_are_shown() -> None:
    layout = Layout(negatives="brackets", zeros="dash", decimals={"net_sales": 1})
    rows = {row[0]: row for row in table(BY_REGION, layout, formatted=True)}
    assert rows["North"][2] == "1,229.0" and rows["South"][3] == "3.0"
    assert rows["North"][3] == "-", "a zero as it is written"
    months = {row[0]: row for row in table(BY_MONTH, layout, formatted=True)}
    assert "(5.5)" in months["May 2026"] and "+1,231.5" in months["Mar 2026"]
    column = next(each for each in ask(BY_REGION).columns if each.kind == "percent_change")
    assert shown_text(Cell("-0.125", "-1", "8"), column, Layout()) == "-12.5%"
    assert shown_text(Cell("0.0001", "1", "10000"), column, Layout()) == "0.0%", "what rounds to zero has no sign"
    assert shown_text(Cell(None, reason="base_is_zero"), column, Layout()) == ""
    assert shown_text(Cell("12.3456", "123456", "10000"), column, Layout(marks="point_comma")) == "+1.234,6%"


def test_percentages_have_decimals_of_their_own_for_one_measure_and_for_all() -> None:
    shown = (ShownMeasure("net_sales", ("percent_change", "share_of_all")), ShownMeasure("return_rate", ("difference",)))
    statement = replace(BY_REGION, measures=shown)

    def decimals(layout: Layout) -> dict[str, int]:
        return {column.id: column.decimals for column in laid_out(ask(statement), layout).columns}

    usual = decimals(Layout())
    of_all = decimals(Layout(percent_decimals=3))
    percent = {"net_sales.1.percent_change", "net_sales.0.share_of_all"}
    rates = {"return_rate.0.value", "return_rate.1.value", "return_rate.1.difference"}
    assert {name for name in usual if of_all[name] != usual[name]} == percent | rates
    assert {of_all[name] for name in percent | rates} == {3}
    of_one = decimals(Layout(decimals={"return_rate": 0}, percent_decimals=3))
    assert {of_one[name] for name in rates} == {0} and {of_one[name] for name in percent} == {3}


def test_captions_tell_what_the_ledger_says_of_what_is_named() -> None:
    said = {"region": "the customer's", "net_sales": "without tax", "rep": "not named here"}
    means = [["Means", "Net sales: without tax"], ["Means", "Region: the customer's"]]
    caption = json.loads(json_file(ask(BY_REGION), BY_REGION, Layout(), said))["caption"]
    assert [line for line in caption if line[0] == "Means"] == means
    sheet = load_workbook(io.BytesIO(workbook(ask(BY_REGION), BY_REGION, said)))["What this shows"]
    assert [[cell.value for cell in row] for row in sheet.iter_rows() if row[0].value == "Means"] == means
    shown = csv_table(ask(BY_REGION), BY_REGION, said, formatted=True)
    assert [line for line in csv.reader(io.StringIO(shown)) if line[:1] == ["Means"]] == means


def test_the_json_file_holds_question_caption_and_answer() -> None:
    found = json.loads(json_file(ask(BY_REGION), BY_REGION, Layout(hidden=("orders.0.value",))))
    assert found["statement"]["rows"] == ["region"] and found["layout"]["hidden"] == ["orders.0.value"]
    assert ["As of", "31 May 2026 (2026-05-31)"] in found["caption"]
    ids = [column["id"] for column in found["answer"]["columns"]]
    assert "orders.0.value" not in ids
    north = dict(zip(ids, found["answer"]["rows"][0]["cells"], strict=True))
    assert north["net_sales.0.value"]["value"] == "1229.00" and north["net_sales.1.percent_change"]["reason"] == "base_is_zero"


def test_headings_of_columns_stand_before_what_they_are() -> None:
    column = ask(BY_REGION).columns[0]
    layout = Layout(headings={column.id: "=Turnover"})
    plain, named = table(BY_REGION, Layout())[0], table(BY_REGION, layout)[0]
    changed = [(one, other) for one, other in zip(plain, named, strict=True) if one != other]
    assert changed[0] == (changed[0][0], f"'=Turnover: {changed[0][0]}")
    assert all(other.startswith("'=Turnover: ") for _, other in changed)
    for heading in ("two\nlines", "x" * 61):
        with pytest.raises(ValueError, match="one line of at most 60"):
            Layout(headings={column.id: heading})


def test_captions_say_how_the_statement_is_read() -> None:
    statement = replace(
        BY_REGION,
        returns="sale_day", refunds="not_allocated", returns_within="same_time", levels="as_it_is_now", feeds_end="earliest",
        negative_bases="divided", all_members=True, shares_add_up=True, items=("rep",), unit_of_measure="region", cut="same_point",
        goals=(Goal("net_sales", "105", direction="at_least"),), sort=Sort("net_sales.0.value"),
    )  # fmt: skip
    found = ask(BY_REGION)
    said = list(caption_lines(found, statement))
    told = dict(said)["Statement"]
    readings = [
        "each cut at the same point as the running one", "returns on the day of their sale, order refunds not allocated",
        "returns that came back in the same time", "levels as they are now", "all feeds cut at the earliest end",
        "negative bases divided as they are", "every known member", "shown shares add up", "price, volume and mix over each rep",
        "volume and mix within each region", "with the goal net sales at least 105% of the same dates last year",
        "sorted by net sales (this year), the largest first",
    ]  # fmt: skip
    places = [told.index(each) for each in readings]
    assert places == sorted(places)
    usual = dict(caption_lines(found, BY_REGION))["Statement"]
    assert not any(each in usual for each in readings)


def test_rows_that_are_searched_for_are_exported_with_what_they_stand_under() -> None:
    statement, layout = replace(BY_REGION, rows=("region", "rep")), Layout(search=" AD")
    assert [row[:2] for row in table(statement, layout)[1:]] == [["North", "(all)"], ["North", "Ada"], ["(all)", "(all)"]]
    whole, found = table(statement, Layout()), table(statement, layout)
    place = whole[0].index("version") - 4
    assert found[-1][2:place] == whole[-1][2:place], "the total is still that of all rows"
    assert found[1][whole[0].index("limited to")] == "only rows whose name holds “AD”"
    sheet = load_workbook(io.BytesIO(workbook(ask(statement), statement, layout=layout)))["Figures"]
    total = sheet.cell(4, 4).value
    assert not str(total).startswith("="), "a total of rows that are not all there is a value"
