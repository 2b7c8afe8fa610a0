from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

import pytest

from lofty_abacus.core.days import day_of
from lofty_abacus.ingest.mapping import ColumnUse, FileMapping, plain_name
from lofty_abacus.ingest.problems import MappingError
from lofty_abacus.ingest.proposing import refreshed
from tests.reading import ReadFile, read_whole

Write = Callable[..., tuple[str, Path]]


def table_of(written: tuple[str, Path]) -> ReadFile:
    return read_whole(written[1], written[0])


def roles(mapping: FileMapping) -> dict[str, str]:
    return {use.column: use.role for use in mapping.columns}


def test_columns_are_recognised_by_name(csv_file: Write) -> None:
    table = table_of(
        csv_file(
            "sales-2026-01.csv",
            "Invoice date,Invoice no,Sales rep,Territory,SKU,Client,Qty,Net amount,Cost,Campaign",
            "2026-01-05,R1,Ada,North,P1,C1,2,10.50,5,Spring",
        )
    )
    mapping = table.proposed()
    assert mapping.kind == "sales" and mapping.name == "sales"
    assert list(roles(mapping).values()) == [
        "date", "order", "rep", "region", "product", "customer", "quantity", "amount", "cost", "dimension",
    ]  # fmt: skip
    assert mapping.columns[-1].name == "campaign"


def test_columns_are_recognised_by_content(csv_file: Write) -> None:
    table = table_of(csv_file("x.csv", "Wann,Wer,Wieviel,Stk", '14.03.2026,Ada,"1,50",2', '15.03.2026,Bo,"2,75",1'))
    mapping = table.proposed()
    assert roles(mapping) == {"Wann": "date", "Wer": "dimension", "Wieviel": "amount", "Stk": "quantity"}
    assert mapping.columns[0].date_format == "day_month_year"
    assert mapping.columns[2].decimal_mark == "comma"


def test_returns_and_lookups_are_recognised(csv_file: Write) -> None:
    back = table_of(csv_file("returns.csv", "return date,order,amount", "2026-01-05,O1,12.00")).proposed()
    assert (back.kind, back.returns_are) == ("returns", "positive")
    cities = csv_file("cities.csv", "customer,customer name,city,city name,region", "C1,Ada & Co,X1,Alder Ford,North")
    lookup = table_of(cities).proposed({"customer": "customer"})
    assert lookup.kind == "lookup"
    assert [(use.role, use.name) for use in lookup.columns] == [
        ("key", "customer"),
        ("key_name", "customer"),
        ("level", "city"),
        ("level_name", "city"),
        ("level", "region"),
    ]


@pytest.mark.parametrize(
    ("headings", "key"),
    [("Vendeur,Nom,Équipe", "rep"), ("Artikel,Bezeichnung,Warengruppe", "product"), ("klant,Naam,regio klant", "customer")],
)
def test_names_in_lookups_are_recognised_in_other_languages(csv_file: Write, headings: str, key: str) -> None:
    mapping = table_of(csv_file("names.csv", headings, "V1,Aline Mercier,Nord", "V2,Bruno Castel,Sud")).proposed()
    assert mapping.kind == "lookup"
    assert [(use.role, use.name) for use in mapping.columns][:2] == [("key", key), ("key_name", key)]
    assert mapping.columns[2].role == "level"


def test_lines_with_problems_are_listed_and_left_aside(csv_file: Write) -> None:
    table = table_of(
        csv_file(
            "sales.csv",
            "date,order,rep,quantity,amount",
            "2026-01-05,O1,Ada,2,10.50",
            "2026-02-30,O2,Ada,1,4.00",
            "2026-01-07,O3,Bo,,abc",
            "2026-01-08,O4,,,7",
            "2026-01-08,O5,Bo,1,",
        )
    )
    staged = table.staged()
    assert [(each.row, each.column, each.text, each.reason) for each in staged.problems] == [
        (3, "date", "2026-02-30", "is no day from 1950 to 2120 read as year, month, day"),
        (4, "amount", "abc", "is no exact number of at most 9 decimals with a decimal point"),
        (6, "amount", "", "is blank"),
    ]
    assert staged.rows.tolist() == [2, 5]
    assert staged.amount.minor.tolist() == [1050, 700]
    assert staged.quantity is not None and staged.quantity.missing.tolist() == [False, True]
    assert [day_of(number).isoformat() for number in staged.day.tolist()] == ["2026-01-05", "2026-01-08"]


def test_return_or_sale(csv_file: Write) -> None:
    table = table_of(
        csv_file(
            "sales.csv",
            "date,order,quantity,amount",
            "2026-01-05,A,1,5",
            "2026-01-05,B,1,-5",
            "2026-01-05,C,-1,0",
            "2026-01-05,D,1,0.00",
        )
    )
    assert table.staged().is_return.tolist() == [False, True, True, False]
    back = table_of(csv_file("returns.csv", "return date,order,quantity,amount", "2026-01-05,A,1,5.25"))
    staged = back.staged()
    assert staged.is_return.tolist() == [True]
    assert (staged.amount.minor.tolist(), staged.quantity.minor.tolist() if staged.quantity else None) == ([-525], [-1])


def test_repeated_line_ids_are_listed_and_left_out_by_decision(csv_file: Write) -> None:
    table = table_of(csv_file("s.csv", "date,line id,amount", "2026-01-05,L1,5", "2026-01-05,L2,6", "2026-01-05,L1,5"))
    mapping = table.proposed()
    assert [(each.row, each.text) for each in table.staged(mapping).repeated] == [(4, "L1")]
    assert len(table.staged(mapping)) == 3
    assert len(table.staged(replace(mapping, repeated="leave_out"))) == 2


def test_a_lookup_key_with_two_values_is_a_conflict(csv_file: Write) -> None:
    table = table_of(csv_file("p.csv", "product,category", "P1,Clays", "P2,Tools", "P1,Clays", "P2,Glazes"))
    mapping = FileMapping("p", "lookup", (ColumnUse("product", "key", "product"), ColumnUse("category", "level", "category")))
    staged = table.lookup(mapping)
    assert [(each.key, each.member) for each in staged.entries["category"]] == [("P1", "Clays"), ("P2", "Tools")]
    assert [(each.row, each.text) for each in staged.conflicts] == [(5, "P2")]
    later = table.lookup(replace(mapping, conflicts="last"))
    assert [each.member for each in later.entries["category"]] == ["Clays", "Glazes"] and later.conflicts == []


def test_a_kept_mapping_looks_at_formats_again(csv_file: Write) -> None:
    kept = table_of(csv_file("a.csv", "date,rep,amount", "2026-01-05,Ada,10.50", "2026-01-06,Ada,11.25")).proposed()
    odd = refreshed(kept, table_of(csv_file("b.csv", "date;rep;amount", "14.03.2026;Ada;10,50", "15.03.2026;Bo;11,25")).table)
    assert (odd.columns[0].date_format, odd.columns[2].decimal_mark) == ("day_month_year", "comma")


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"columns": (ColumnUse("amount", "amount", decimal_mark="point"),)}, "date: no column is given"),
        ({"columns": (ColumnUse("date", "date", date_format="year_month_day"),)}, "amount: no column is given"),
        ({"columns": (ColumnUse("gone", "not_used"),)}, "no such column"),
        ({"columns": (ColumnUse("date", "date"), ColumnUse("amount", "amount", decimal_mark="point"))}, "more than one way"),
        (
            {
                "columns": (
                    ColumnUse("date", "date", date_format="year_month_day"),
                    ColumnUse("amount", "amount", decimal_mark="point"),
                    ColumnUse("rep", "dimension", "My rep"),
                )
            },
            "no plain name",
        ),
    ],
)
def test_mappings_that_do_not_fit_are_refused(csv_file: Write, change: dict[str, object], words: str) -> None:
    table = table_of(csv_file("s.csv", "date,rep,amount", "2026-01-05,Ada,5"))
    with pytest.raises(MappingError, match=words):
        table.staged(replace(table.proposed(), **change))  # type: ignore[arg-type]


def test_plain_names() -> None:
    assert plain_name("Sales Rep.") == "sales_rep"
    assert plain_name("Région") == "region"
    assert plain_name("2nd level") == "column_2nd_level"
    assert plain_name("***") == "column"


def test_an_amount_is_computed_exactly_where_none_is_given(csv_file: Write) -> None:
    table = table_of(csv_file("s.csv", "date,rep,qty,unit price,discount", "2026-03-01,Ada,3,1.3355,0.5", "2026-03-02,Bo,2,10,"))
    mapping = table.proposed()
    assert [use.role for use in mapping.columns] == ["date", "rep", "quantity", "price", "discount"]
    exact = table.staged(mapping).amount
    assert (exact.minor.tolist(), exact.scale) == ([35065, 200000], 4)
    rounded = table.staged(replace(mapping, round_to=2)).amount
    assert (rounded.minor.tolist(), rounded.scale) == ([351, 2000], 2)


def test_a_computed_amount_beyond_nine_decimals_needs_a_rounding(csv_file: Write) -> None:
    table = table_of(csv_file("s.csv", "date,qty,price", "2026-03-01,0.00001,0.000001", "2026-03-02,1,2"))
    staged = table.staged()
    assert [(each.row, each.reason) for each in staged.problems] == [
        (2, "has 11 decimals, and a line keeps 9: say how lines are rounded")
    ]
    assert len(table.staged(replace(table.proposed(), round_to=4))) == 2


def test_totals_rows_and_repeated_headings_are_set_aside_and_listed(csv_file: Write) -> None:
    table = table_of(
        csv_file(
            "s.csv",
            "date,rep,amount",
            "2026-03-01,Ada,5",
            "Subtotal Ada,,5",
            "date,rep,amount",
            "2026-03-02,Total Tools Ltd,7",
            "2026-03-03,Bo,1",
            "2026-03-04,Bo,1",
            "2026-03-05,Bo,1",
            ",Grand total,12",
        )
    )
    staged = table.staged()
    assert [(each.row, each.reason) for each in staged.set_aside] == [
        (3, "a totals row"),
        (4, "a repeated heading"),
        (9, "a totals row"),
    ]
    assert staged.rows.tolist() == [2, 5, 6, 7, 8] and staged.problems == [] and staged.left_out == 0
    assert staged.amount.minor.tolist() == [500, 700, 100, 100, 100], (
        "a rep who is called Total is no totals row: the line has a date"
    )


@pytest.mark.parametrize(("sign", "written"), [("", "positive"), ("-", "negative")])
def test_marked_lines_are_returns_however_they_are_written(csv_file: Write, sign: str, written: str) -> None:
    table = table_of(
        csv_file(
            "s.csv",
            "date,type,qty,amount",
            "2026-03-01,Sale,2,10",
            f"2026-03-02,Credit note,{sign}1,{sign}4",
            "2026-03-03,Sale,1,0",
        )
    )
    mapping = table.proposed()
    assert (mapping.with_role("marker"), mapping.return_marks, mapping.returns_are) == (
        ColumnUse("type", "marker"),
        ("Credit note",),
        written,
    )
    staged = table.staged(mapping)
    assert staged.is_return.tolist() == [False, True, False]
    assert staged.amount.minor.tolist() == [1000, -400, 0]
    assert staged.quantity is not None and staged.quantity.minor.tolist() == [2, -1, 1]


def test_serial_numbers_are_dates_only_under_a_date_heading(csv_file: Write) -> None:
    table = table_of(csv_file("s.csv", "date,order,amount", "46082,46090,5", "46083,46091,6"))
    mapping = table.proposed()
    assert [(use.role, use.date_format) for use in mapping.columns[:2]] == [("date", "spreadsheet_serial"), ("order", None)]
    assert [day_of(number).isoformat() for number in table.staged(mapping).day.tolist()] == ["2026-03-01", "2026-03-02"]


def test_the_ledgers_zone_decides_the_day_of_a_moment(csv_file: Write) -> None:
    table = table_of(
        csv_file("s.csv", "date,amount", "2026-03-01T23:30:00Z,5", "2026-03-02T00:30:00+02:00,6", "2026-03-01 23:30,7")
    )
    mapping = table.proposed()

    def days(zone: str) -> list[str]:
        return [day_of(number).isoformat()[8:] for number in table.staged(mapping, zone).day.tolist()]

    assert days("UTC") == ["01", "01", "01"]
    assert days("Europe/Vienna") == ["02", "01", "01"]


def test_a_day_far_out_of_time_is_a_typing_error(csv_file: Write) -> None:
    table = table_of(
        csv_file("s.csv", "date,amount", "2026-03-01,5", "2026-03-02,5", "0206-03-01,5", "9999-12-31T23:00:00-05:00,1")
    )
    staged = table.staged()
    assert [each.row for each in staged.problems] == [4, 5]
    assert len(staged) == 2


def test_a_column_without_any_text_is_not_used(csv_file: Write) -> None:
    table = table_of(csv_file("s.csv", "date,Beleg,amount,remark", "2026-03-01,B-1,5,", "2026-03-02,B-2,6, "))
    assert [use.role for use in table.proposed().columns] == ["date", "order", "amount", "not_used"]
