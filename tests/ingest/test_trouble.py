"""Files that could be read wrongly in silence: each is told, asked about or refused before anything is posted."""

from __future__ import annotations

import io
from dataclasses import replace
from pathlib import Path

import openpyxl
import pytest

from lofty_abacus.core.days import day_of
from lofty_abacus.ingest.mapping import FileMapping, Reading
from lofty_abacus.ingest.noting import notes_on
from lofty_abacus.ingest.numbers import read_figure, read_rate
from lofty_abacus.ingest.problems import MappingError
from lofty_abacus.ingest.surveying import survey
from tests.reading import ReadFile, read_whole


def given(
    tmp_path: Path, *rows: str, name: str = "lines.csv", encoding: str = "utf-8", reading: Reading | None = None
) -> ReadFile:
    path = tmp_path / name
    path.write_bytes(("\n".join(rows) + "\n").encode(encoding))
    return read_whole(path, name, reading)


def raw(tmp_path: Path, content: bytes, name: str = "lines.csv") -> ReadFile:
    path = tmp_path / name
    path.write_bytes(content)
    return read_whole(path, name)


def roles(mapping: FileMapping) -> dict[str, str]:
    return {use.column: use.role for use in mapping.columns}


def notes(file: ReadFile) -> tuple[str, ...]:
    return (*file.file.notes, *notes_on(survey(file.file).sample, file.proposed(), "Europe/Vienna"))


def test_a_file_without_a_heading_loses_no_line(tmp_path: Path) -> None:
    file = given(tmp_path, "2026-03-01,Ada,10.50", "2026-03-02,Bo,5.25", "2026-03-03,Cy,1.00")
    assert file.file.headers == ("column 1", "column 2", "column 3") and len(file) == 3
    assert "there is no heading row: the columns are numbered" in file.file.notes
    assert roles(file.proposed()) == {"column 1": "date", "column 2": "dimension", "column 3": "amount"}
    staged = file.staged()
    assert (len(staged), staged.amount.total, staged.rows.tolist()) == (3, 1675, [1, 2, 3])
    headed = given(tmp_path, "2024,2025", "1,2", "3,4", name="pivot.csv")
    assert headed.file.headers == ("2024", "2025"), "years are headings"
    chosen = given(tmp_path, "a,b", "c,d", "e,f", name="plain.csv", reading=Reading(heading_row=0))
    assert len(chosen) == 3


def test_a_workbook_without_a_heading_loses_no_line(tmp_path: Path) -> None:
    book = openpyxl.Workbook()
    for row in (["2026-03-01", "Ada", 10.5], ["2026-03-02", "Bo", 5.25]):
        book.active.append(row)
    out = io.BytesIO()
    book.save(out)
    assert len(raw(tmp_path, out.getvalue(), "b.xlsx")) == 2


@pytest.mark.parametrize(
    "text", ["(-5.00)", "-5-", "5 10", "1,23", "1 23,456", "1,234,5", "12.5%", "5.00 XYZ", "USD 5 EUR", "9" * 4300, "1" * 61]
)
def test_figures_that_could_mean_two_things_are_none(text: str) -> None:
    assert read_figure(text, "point") is None


@pytest.mark.parametrize(
    ("text", "minor", "decimals", "currency"),
    [
        ("$1,234.50", 12345, 1, "$"),
        ("-$5.00", -5, 0, "$"),
        ("($5.25)", -525, 2, "$"),
        ("5.25- USD", -525, 2, "USD"),
        ("12,34,567.5", 12345675, 1, ""),
        ("CHF 1'234.50", 12345, 1, "CHF"),
        ("₹ 1,00,000", 100000, 0, "₹"),
        ("1\u202f234", 1234, 0, ""),
    ],
)
def test_figures_with_what_stands_beside_them(text: str, minor: int, decimals: int, currency: str) -> None:
    found = read_figure(text, "point")
    assert found is not None and (found.unscaled, found.decimals, found.currency) == (minor, decimals, currency)


def test_digits_are_grouped_in_one_manner_throughout_a_column(tmp_path: Path) -> None:
    file = given(
        tmp_path, "date;amount", "2026-03-01;1,234,567.5", "2026-03-02;12,34,567.5", "2026-03-03;1 234.5", "2026-03-04;1,234.5"
    )  # fmt: skip
    staged = file.staged()
    assert [each.row for each in staged.problems] == [3, 4]
    assert staged.problems[0].reason == "has its digits grouped otherwise than its column"


def test_one_spoilt_byte_does_not_turn_the_whole_file(tmp_path: Path) -> None:
    content = "date,rep,amount\n2026-03-01,Zoë,1\n2026-03-02,Jürgen,2\n2026-03-03,B\udce9,3\n".encode("utf-8", "surrogateescape")
    file = raw(tmp_path, content)
    assert file.file.encoding == "utf-8" and file.texts("rep") == ["Zoë", "Jürgen"]
    (problem,) = file.problems
    assert (problem.row, problem.column, problem.reason) == (4, "rep", "holds a byte that is no text of its encoding")
    assert any("1 bytes are no UTF-8 text" in note for note in file.file.notes)
    assert raw(tmp_path, "date,rep\n2026-03-01,Zoë\n".encode("cp1252"), "w.csv").texts("rep") == ["Zoë"], (
        "a file of another encoding"
    )


def test_lines_within_an_open_quote_are_each_told(tmp_path: Path) -> None:
    swallowed = [f"2026-03-0{day},R{day},{day}" for day in range(2, 7)]
    file = given(tmp_path, "date,rep,amount", '2026-03-01,"Ada,1', *swallowed, '2026-03-08,"Bo,8', "2026-03-09,Cy,9")
    staged = file.staged(replace(file.proposed(), unreadable="leave_out"))
    assert len(staged) == 1 and staged.left_out == 7, "every line of the file is either taken or told"
    assert {each.text.split(",")[0] for each in staged.problems} >= {f"2026-03-0{day}" for day in range(2, 7)}
    inner = given(tmp_path, "date,note,amount", '2026-03-01,"first', 'second line",1', "2026-03-02,b,2", name="inner.csv")
    assert len(inner.staged()) == 2, "a note of two lines is a note"
    right = given(
        tmp_path, "rep,date,amount", 'Ada,2026-03-01,"1', "Bo,2026-03-02,2", 'Cy,2026-03-03,3"', "Di,2026-03-04,4", name="r.csv"
    )
    assert len(right) == 1 and len(right.problems) == 3, "a quote that is closed again later takes no line in without a word"


def test_impossible_dates_do_not_make_a_lookup_of_lines(tmp_path: Path) -> None:
    file = given(tmp_path, "id,date,amount", "1,2026-13-45,10", "2,2026-99-99,5", "3,soon,2")
    mapping = file.proposed()
    assert mapping.kind == "sales" and roles(mapping)["date"] != "date"
    with pytest.raises(MappingError, match="date: no column is given for it"):
        file.staged(mapping)


def test_an_amount_column_that_is_empty_is_not_replaced_in_silence(tmp_path: Path) -> None:
    file = given(tmp_path, "date,amount,weight", "2026-03-01,,10.5", "2026-03-02,,5.5")
    assert "amount" not in roles(file.proposed()).values()
    assert "the column 'amount' is empty" in notes(file)


def test_a_number_within_its_order_is_no_line_id(tmp_path: Path) -> None:
    rows = [f"2026-03-01,O{order},{line},{order}.50" for order in range(20) for line in (1, 2, 3)]
    for heading in ("order_line", "line_no", "position", "line"):
        file = given(tmp_path, f"date,order,{heading},amount", *rows)
        assert roles(file.proposed())[heading] not in ("line", "quantity"), heading
    unique = given(tmp_path, "date,line_id,amount", *(f"2026-03-01,L{at},1" for at in range(30)))
    assert roles(unique.proposed())["line_id"] == "line"


def test_a_return_flag_marks_lines_and_does_not_make_all_of_them_returns(tmp_path: Path) -> None:
    file = given(tmp_path, "date,rep,amount,return_flag", "2026-03-01,Ada,10,N", "2026-03-02,Bo,5,Y", "2026-03-03,Cy,2,N")
    mapping = file.proposed()
    assert (mapping.kind, roles(mapping)["return_flag"], mapping.return_marks) == ("sales", "marker", ("Y",))
    staged = file.staged()
    assert staged.is_return.tolist() == [False, True, False] and staged.amount.minor.tolist() == [1000, -500, 200]
    dated = given(
        tmp_path, "return_date,return_no,amount", *(f"2026-03-{day:02d},R{day},5" for day in range(1, 20)), name="back.csv"
    )
    assert dated.proposed().kind == "returns"


def test_a_cost_per_unit_is_multiplied(tmp_path: Path) -> None:
    file = given(tmp_path, "date,quantity,amount,unit_cost", "2026-03-01,3,30,2.5", "2026-03-02,,10,4", "2026-03-03,2,9,")
    assert roles(file.proposed())["unit_cost"] == "unit_cost"
    staged = file.staged()
    assert staged.cost is not None
    assert staged.cost.minor.tolist() == [750, 0, 0] and staged.cost.missing.tolist() == [False, True, True]


def test_a_discount_can_be_a_rate(tmp_path: Path) -> None:
    file = given(
        tmp_path, "date,quantity,price,discount", "2026-03-01,2,10.00,10%", "2026-03-02,1,5.00,12.5%", "2026-03-03,1,4.00,"
    )
    mapping = file.proposed()
    assert roles(mapping)["discount"] == "discount_rate"
    assert file.staged().amount.minor.tolist() == [18000, 4375, 4000] and file.staged().amount.scale == 3
    assert read_rate("0.25", "point", "fraction") == (25, 2) and read_rate("25", "point", "percent") == (25, 2)
    assert read_rate("120 %", "point", "fraction") is None
    said = given(tmp_path, "date,quantity,price,discount", "2026-03-01,2,10.00,0.1", "2026-03-02,1,5.00,0.05", name="b.csv")
    assert roles(said.proposed())["discount"] == "discount"
    assert any("if they are rates, say so" in note for note in notes(said))


def test_columns_padded_with_blanks_are_cut_by_position_or_runs(tmp_path: Path) -> None:
    by_position = given(
        tmp_path,
        "date       rep       amount",
        "2026-03-01 Ada Byte   10.50",
        "2026-03-02 Bo          5.25",
        "2026-03-03            1.00",
    )
    assert by_position.file.headers == ("date", "rep", "amount") and by_position.fields[2] == ["2026-03-03", "", "1.00"]
    assert by_position.staged().amount.total == 1675
    by_runs = given(
        tmp_path, "date  rep  amount", "2026-03-01   Ada Byte  10.5", "2026-03-02  Bo Diddley-Longname   5.25", name="r.txt"
    )
    assert by_runs.fields == [["2026-03-01", "Ada Byte", "10.5"], ["2026-03-02", "Bo Diddley-Longname", "5.25"]]
    single = given(tmp_path, "name", "Ada Byte", "Bo", name="one.csv")
    assert single.file.headers == ("name",)


@pytest.mark.parametrize(
    ("texts", "days", "grain"),
    [
        (("1956 Q1", "1956 Q2"), ("1956-03-31", "1956-06-30"), "quarter"),
        (("Q1 1956", "Q4 1956"), ("1956-03-31", "1956-12-31"), "quarter"),
        (("2025-Q3", "2026Q1"), ("2025-09-30", "2026-03-31"), "quarter"),
        (("1990", "1991"), ("1990-12-31", "1991-12-31"), "year"),
    ],
)
def test_lines_of_whole_quarters_and_years(tmp_path: Path, texts: tuple[str, ...], days: tuple[str, ...], grain: str) -> None:
    file = given(tmp_path, "period,rep,amount", *(f"{text},Ada,{at + 1}.5" for at, text in enumerate(texts)))
    mapping = file.proposed()
    assert mapping.grain == grain
    assert tuple(day_of(number).isoformat() for number in file.staged().day.tolist()) == days


def test_times_with_and_without_a_zone_are_told(tmp_path: Path) -> None:
    file = given(tmp_path, "date,amount", "2026-03-01T23:30:00+00:00,1", "2026-03-02T10:00:00,2", "2026-03-03T10:00:00,3")
    said = notes(file)
    assert "a time that names its zone counts on its day in the ledger's zone, Europe/Vienna" in said
    assert any("2 of 3 different times name no zone" in note for note in said)


def test_serial_dates_are_told(tmp_path: Path) -> None:
    file = given(tmp_path, "date,amount", "46095,1.5", "46096,2.5")
    assert "dates are a spreadsheet's day numbers: 46095 is 2026-03-14" in notes(file)


def test_headings_that_come_to_one_name_are_told_apart(tmp_path: Path) -> None:
    file = given(tmp_path, "date,amount,Größe,Grosse,地区,品目", "2026-03-01,1.5,a,b,c,d")
    names = [use.name for use in file.proposed().columns if use.role == "dimension"]
    assert len(set(names)) == len(names) == 4
    assert len(file.staged()) == 1
