"""Figures and days of a ledger's own, from the file to the answer, its proof, its check and its files (semantics, section 1)."""

from __future__ import annotations

import csv
import io
import json
from collections.abc import Callable
from dataclasses import replace
from datetime import date
from fractions import Fraction
from pathlib import Path

import pytest
from openpyxl import load_workbook
from sqlalchemy import text

from lofty_abacus.actions.briefs.compose_brief import compose
from lofty_abacus.actions.errors import RefusedError
from lofty_abacus.actions.figures.answer_movers import answer_movers
from lofty_abacus.actions.figures.answer_statement import answer_statement, told_answer
from lofty_abacus.actions.figures.check_table import check_table
from lofty_abacus.actions.figures.prove_number import AskedNumber, lines_of_number, records_of_number
from lofty_abacus.actions.intake.check_files import check_files, rows_of_finding
from lofty_abacus.actions.intake.keep_mappings import export_mapping
from lofty_abacus.actions.intake.post_files import post_files
from lofty_abacus.actions.intake.stage_files import map_file, stage_files
from lofty_abacus.actions.ledgers.correct_line import correct_line
from lofty_abacus.actions.ledgers.describe_ledger import describe_ledger, find_members
from lofty_abacus.actions.ledgers.keep_ledgers import delete_ledger
from lofty_abacus.actions.ledgers.make_ledger import change_settings, settings_of
from lofty_abacus.actions.ledgers.withdraw_batch import restore_batch, withdraw_batch
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import Described, LineChange, Posting
from lofty_abacus.core.errors import QuestionError
from lofty_abacus.core.statement.conditions import DayCompared, FigureBetween
from lofty_abacus.core.statement.movers import MoversAsked
from lofty_abacus.core.statement.statement import CountedFilter, DefinedMeasure, Opened, ShownMeasure, Statement
from lofty_abacus.core.windows.as_of import PinnedDay
from lofty_abacus.core.windows.bases import PeriodBase
from lofty_abacus.core.windows.current import Dates, ToDate
from lofty_abacus.export.briefs.brief import Brief, FigureBlock
from lofty_abacus.export.briefs.composed import ComposedFigures
from lofty_abacus.export.csv_table import csv_table
from lofty_abacus.export.json_file import json_file
from lofty_abacus.export.layout import Layout
from lofty_abacus.export.workbook import workbook
from lofty_abacus.ingest.problems import MappingError
from lofty_abacus.store.books import MariaDbBooks
from lofty_abacus.store.line_tables import line_table
from tests.cells import exact, value
from tests.conftest import quiet
from tests.store.test_columns_kept import merged, segments
from tests.store.test_columns_kept import post as post_small

Write = Callable[..., tuple[str, Path]]
HEADER = "order date,delivery date,order,product,amount,shipping cost,VAT,weight,vat rate"
LINES = (
    "2026-01-05,2026-01-09,A1,P1,100.00,5.50,19.00,12.5,19",
    "2026-01-06,2026-02-16,A2,P2,250.00,,47.50,3.25,19",
    "2026-02-08,,A3,P1,75.50,2.00,14.35,,19",
    "2026-02-09,2026-02-11,A3,P1,-20.00,-0.50,-3.80,-1.0,19",
)
AS_OF = PinnedDay(date(2026, 12, 31))
ALL = Statement((ShownMeasure("net_sales"),), (), Dates(date(2026, 1, 1), None), AS_OF)


def post(office: Office, ledger: str, *files: tuple[str, Path]) -> Posting:
    return post_files(office, stage_files(office, ledger, files).id, quiet)


def total(office: Office, ledger: str, measure: str, version: int | None = None, **changed: object) -> Fraction | str | None:
    statement = replace(ALL, measures=(ShownMeasure(measure),), **changed)  # type: ignore[arg-type]
    return exact(answer_statement(office, ledger, statement, Opened(), version).total.cells[0])


def rows_of(office: Office, query: str) -> list[tuple[object, ...]]:
    assert isinstance(office.books, MariaDbBooks)
    with office.books.engine.connect() as connection:
        return [tuple(row) for row in connection.execute(text(query))]


def test_what_columns_are_is_proposed_from_names_and_content(office: Office, ledger: str, csv_file: Write) -> None:
    mapping = stage_files(office, ledger, [csv_file("s.csv", HEADER, *LINES)]).files[0].mapping
    assert mapping is not None
    uses = {each.column: each for each in mapping.columns}
    assert {name: each.role for name, each in uses.items()} == {
        "order date": "date",
        "delivery date": "further_day",
        "order": "order",
        "product": "product",
        "amount": "amount",
        "shipping cost": "further_amount",
        "VAT": "further_amount",
        "weight": "further_quantity",
        "vat rate": "dimension",
    }
    assert (uses["weight"].unit, uses["weight"].polarity) == ("kg", "neutral")
    assert uses["VAT"].polarity == "more_is_adverse" and uses["delivery date"].name == "delivery_date"


@pytest.mark.parametrize(
    ("heading", "row", "roles"),
    [
        ("delivery date,order date,amount", "2026-02-09,2026-02-01,5.00", "further_day date amount"),
        ("invoice date,date,net,freight cost", "2026-02-09,2026-02-01,5.00,1.20", "further_day date amount further_amount"),
        ("ship date,paid on,total", "2026-02-03,2026-02-20,5.00", "date further_day amount"),
        ("Lieferdatum,Auftragsdatum,Umsatz,Gewicht", "2026-02-20,2026-02-03,5.00,7", "further_day date amount further_quantity"),
        (
            "Fecha,Entrega,Vendedora,Artículo,Importe,Portes",
            "2026-02-03,2026-02-05,Ana,A1,5.00,1.20",
            "date further_day rep product amount further_amount",
        ),
        (
            "Datum,Ordernr,Regelnr,Vertegenwoordiger,Regio,Klant,Aantal,Bedrag",
            "2026-02-03,901,a7-5.00,Joris,Noord,K1,2,5.00",
            "date order line rep region customer quantity amount",
        ),
        (
            "Date de facture,N° de commande,N° de ligne,Vendeur,Région,Article,Client,Quantité,Montant HT",
            "2026-02-03,CMD-901,7001-5.00,Aline,Nord,ART1,CL1,2,5.00",
            "date order line rep region product customer quantity amount",
        ),
        (
            "Data,Ordine,Riga,Agente,Zona,Articolo,Cliente,Quantità,Importo,Costo",
            "2026-02-03,OR-901,R7-5.00,AG1,Nord,A1,C1,2,5.00,3.00",
            "date order line rep region product customer quantity amount cost",
        ),
        (
            "Data,Encomenda,Linha,Vendedor,Região,Produto,Cliente,Quantidade,Valor,Custo",
            "2026-02-03,E-901,L7-5.00,Rui,Norte,P1,C1,2,5.00,3.00",
            "date order line rep region product customer quantity amount cost",
        ),
        ("date,net amount,gross amount,cost", "2026-02-03,5.00,5.95,3.10", "date amount further_amount cost"),
        ("date,amount,hours,store no", "2026-02-03,5.00,3,4711", "date amount further_quantity dimension"),
        ("date,amount,unit weight,commission", "2026-02-03,5.00,3.5,0.25", "date amount dimension further_amount"),
    ],
)
def test_a_second_amount_is_no_cost_and_a_later_day_not_the_one_that_counts(
    office: Office, ledger: str, csv_file: Write, heading: str, row: str, roles: str
) -> None:
    mapping = stage_files(office, ledger, [csv_file("s.csv", heading, row, row.replace("5.", "7."))]).files[0].mapping
    assert mapping is not None and " ".join(each.role for each in mapping.columns) == roles


def test_a_ledger_has_many_of_them_and_says_when_there_are_too_many(office: Office, ledger: str, csv_file: Write) -> None:
    taxes = [f"tax {number}" for number in range(120)]
    line = ",".join(["2026-02-03", "5.00", *(f"{number}.25" for number in range(120))])
    post_files(
        office, stage_files(office, ledger, [csv_file("t.csv", ",".join(["date", "amount", *taxes]), line, line)]).id, quiet
    )
    assert total(office, ledger, "tax_0") == Fraction("0.5") and total(office, ledger, "tax_119") == Fraction("238.5")
    fees = [f"fee {number}" for number in range(90)]
    line = ",".join(["2026-02-04", "5.00", *(f"{number}.25" for number in range(90))])
    more = stage_files(office, ledger, [csv_file("f.csv", ",".join(["date", "amount", *fees]), line)])
    check = check_files(office, more.id, quiet)
    many = "The ledger would have 210 figures and days of its own; it can have 200: leave some columns out."
    assert not check.ready and many in check.files[0].blocking
    with pytest.raises(RefusedError, match="leave some columns out"):
        post_files(office, more.id, quiet)
    assert total(office, ledger, "tax_119") == Fraction("238.5")


def test_further_figures_are_measures_with_both_sides(office: Office, ledger: str, csv_file: Write) -> None:
    staging = stage_files(office, ledger, [csv_file("s.csv", HEADER, *LINES)])
    check = check_files(office, staging.id, quiet).files[0]
    told = [(each.name, each.lines, each.total, each.first_day, each.last_day) for each in check.own]
    assert told == [
        ("delivery_date", 3, None, date(2026, 1, 9), date(2026, 2, 16)),
        ("shipping_cost", 3, "7.00", None, None),
        ("vat", 4, "77.05", None, None),
        ("weight", 3, "14.75", None, None),
    ]
    assert [(each.code, each.count, each.about) for each in check.findings if each.about == "delivery_date"] == [
        ("days_missing", 1, "delivery_date")
    ]
    post_files(office, staging.id, quiet)
    found = {
        name: total(office, ledger, name)
        for name in ("shipping_cost", "shipping_cost_of_sales", "shipping_cost_of_returns", "vat", "weight", "weight_of_returns")
    }
    assert found == {
        "shipping_cost": Fraction(7),
        "shipping_cost_of_sales": Fraction("7.5"),
        "shipping_cost_of_returns": Fraction("0.5"),
        "vat": Fraction("77.05"),
        "weight": Fraction("14.75"),
        "weight_of_returns": Fraction(1),
    }
    net = DefinedMeasure("net_of_shipping", "net_sales - shipping_cost", "currency")
    # The order without a freight is left out of both, and that is told.
    assert total(office, ledger, "net_of_shipping", defined=(net,)) == Fraction("148.5")
    statement = replace(ALL, measures=(ShownMeasure("net_of_shipping"), ShownMeasure("weight")), defined=(net,))
    answer = told_answer(office, ledger, statement, Opened())
    assert any(each.code == "lacking" and each.about == "weight" for each in answer.notices)
    # The view of the ledger has them under their names.
    number = office.books.ledger(ledger).id
    assert rows_of(office, f"SELECT SUM(shipping_cost), SUM(weight), MAX(delivery_date) FROM ledger_{number}_lines")[0][1:] == (
        pytest.approx(14.75),
        date(2026, 2, 16),
    )


def test_every_sum_is_checked_by_the_day_that_counts(office: Office, ledger: str, csv_file: Write) -> None:
    post(office, ledger, csv_file("s.csv", HEADER, *LINES))
    shown = tuple(ShownMeasure(name, ("difference",)) for name in ("net_sales", "shipping_cost", "weight_of_sales"))
    conditions = (FigureBetween("amount", "-50", "200"), DayCompared("delivery_date", "after", "day"))
    for statement in (
        replace(ALL, measures=shown, bases=(PeriodBase(1, "year"),), window=ToDate("year")),
        replace(
            ALL, measures=(ShownMeasure("net_sales"), ShownMeasure("shipping_cost")), day="delivery_date", conditions=conditions
        ),
        replace(ALL, filters=(CountedFilter("delivery_date.month", ("2026-02", "")),)),
    ):
        check = check_table(office, ledger, statement)
        assert check.agrees and check.totals and check.words.startswith("Agrees to the cent"), check
    by_month = replace(ALL, rows=("delivery_date.month",))
    found = answer_statement(office, ledger, by_month, Opened())
    assert [(row.path[0], exact(row.cells[0])) for row in found.rows] == [
        ("2026-01", Fraction(100)),
        ("2026-02", Fraction(230)),
        ("", Fraction("75.5")),
    ]
    assert [each.key for each in find_members(office, ledger, "delivery_date.month", "2026", 9).members] == ["2026-01", "2026-02"]
    lines = csv_table(told_answer(office, ledger, by_month, Opened()), by_month)
    assert "\n2026-01," in lines and "month of delivery date" in lines.lower()


def test_proofs_show_the_figures_and_days_of_their_lines(office: Office, ledger: str, csv_file: Write) -> None:
    post(office, ledger, csv_file("s.csv", HEADER, *LINES))
    statement = replace(ALL, measures=(ShownMeasure("shipping_cost"),), day="delivery_date")
    number = AskedNumber(ledger, statement, "shipping_cost.0.value")
    page = lines_of_number(office, number, 0, 0, 9)
    # Deliveries are covered as far as the orders are: to 9 February.
    assert [(each.figures["shipping_cost"], each.days["delivery_date"]) for each in page.lines] == [("5.50", date(2026, 1, 9))]
    heading, *records = records_of_number(office, number, 0)
    assert {"delivery_date", "shipping_cost", "vat", "weight"} <= set(map(str, heading))
    found = [dict(zip(map(str, heading), each, strict=True)) for each in records]
    assert sum(Fraction(str(each["shipping_cost"])) for each in found) == total(
        office, ledger, "shipping_cost", day="delivery_date"
    )
    assert list(csv.reader(io.StringIO(",".join(map(str, heading)))))


def test_deliveries_before_their_order_are_listed_with_their_rows(office: Office, ledger: str, csv_file: Write) -> None:
    lines = [f"2026-03-{at:02d},2026-03-{at + 2:02d},D{at},P1,{at}.00,1.00,1.00,2.5,19" for at in range(3, 15)]
    lines[4] = lines[4].replace("2026-03-09", "2025-03-09")
    staging = stage_files(office, ledger, [csv_file("s.csv", HEADER, *lines)])
    finding = check_files(office, staging.id, quiet).files[0].finding("days_out_of_order")
    assert finding is not None and (finding.count, finding.about, finding.weight) == (1, "delivery_date", "look")
    assert finding.words == "1 line whose delivery date comes on the other side of its day"
    assert [row.row for row in rows_of_finding(office, staging.id, 0, "days_out_of_order", "delivery_date", None, 0, 9).rows] == [
        6
    ]


def test_a_figure_that_comes_later_was_not_given_before(office: Office, ledger: str, csv_file: Write) -> None:
    post(office, ledger, csv_file("old.csv", "date,order,product,amount", "2025-01-05,Z1,P1,10.00", "2025-02-05,Z2,P1,20.00"))
    with pytest.raises(QuestionError, match="there is no measure 'weight'"):
        total(office, ledger, "weight")
    later = post(office, ledger, csv_file("s.csv", HEADER, *LINES))
    assert total(office, ledger, "weight") == Fraction("14.75")
    before = Dates(date(2025, 1, 1), date(2025, 12, 31))
    assert total(office, ledger, "weight", window=before) == "not_given"
    statement = replace(ALL, measures=(ShownMeasure("weight"),), window=Dates(date(2025, 1, 1), None))
    answer = answer_statement(office, ledger, statement, Opened())
    assert [(each.code, each.lines) for each in answer.notices if each.code == "lacking"] == [("lacking", 3)]
    undated = told_answer(office, ledger, replace(ALL, day="delivery_date"), Opened())
    assert [each.lines for each in undated.notices if each.code == "undated"] == [3]
    assert any("3 lines without a delivery date count nowhere here (105.50)" in each for each in undated.told.notices)
    # At the version before nobody knows of it.
    with pytest.raises(QuestionError, match="there is no measure 'weight'"):
        total(office, ledger, "weight", version=later.version - 1)
    withdraw_batch(office, ledger, later.batches[0], leave_hole=False)
    with pytest.raises(QuestionError, match="no line of this ledger has a weight"):
        total(office, ledger, "weight")
    restore_batch(office, ledger, later.batches[0])
    assert total(office, ledger, "weight") == Fraction("14.75")


def test_a_finer_file_raises_the_scale_exactly(office: Office, ledger: str, csv_file: Write) -> None:
    post(office, ledger, csv_file("s.csv", HEADER, *LINES))
    finer = "2026-03-01,2026-03-02,B1,P1,1.005,0.00025,0.1,0.123456789,19"
    post(office, ledger, csv_file("t.csv", HEADER, finer))
    assert total(office, ledger, "weight") == Fraction("14.873456789")
    assert total(office, ledger, "shipping_cost") == Fraction("7.00025")
    assert total(office, ledger, "net_sales") == Fraction("406.505")
    assert check_table(office, ledger, replace(ALL, measures=(ShownMeasure("weight"), ShownMeasure("shipping_cost")))).agrees


def test_what_a_posting_prepared_and_never_posted_is_cleared_away(office: Office, ledger: str, csv_file: Write) -> None:
    post(office, ledger, csv_file("old.csv", "date,order,product,amount", "2025-01-05,Z1,P1,10.00"))
    staging = stage_files(office, ledger, [csv_file("s.csv", HEADER, *LINES)])

    def stop(doing: str, done: int, of: int) -> None:
        if doing.startswith("Posting") and done:
            raise InterruptedError("stopped")

    with pytest.raises(InterruptedError):
        post_files(office, staging.id, stop)
    table = line_table(office.books.ledger(ledger).id)
    columns = {str(row[0]) for row in rows_of(office, f"SHOW COLUMNS FROM {table}")}
    assert not {name for name in columns if name.endswith(("_figure", "_date"))}
    assert describe_ledger(office, ledger).days == ()
    post_files(office, staging.id, quiet)
    assert total(office, ledger, "weight") == Fraction("14.75")


def test_names_mean_one_thing(office: Office, ledger: str, csv_file: Write) -> None:
    def mapped(name: str, role: str = "further_amount") -> None:
        staging = stage_files(
            office,
            ledger,
            [csv_file(f"{name}.csv", "date,product,amount,freight", f"2026-01-05,P1,{len(name) + len(role)},1.50")],
        )
        mapping = staging.files[0].mapping
        assert mapping is not None
        columns = tuple(replace(each, name=name, role=role) if each.column == "freight" else each for each in mapping.columns)  # type: ignore[arg-type]
        post_files(office, map_file(office, staging.id, 0, replace(mapping, columns=columns)).id, quiet)

    for taken in ("net_sales", "cost", "day", "as_of", "lines", "orders"):
        with pytest.raises(MappingError, match="means something else already"):
            mapped(taken)
    mapped("freight")
    with pytest.raises(RefusedError, match="a further amount in this ledger already"):
        mapped("freight", "further_quantity")
    with pytest.raises(RefusedError, match="a dimension of this ledger already"):
        mapped_as_dimension(office, ledger, csv_file)


def mapped_as_dimension(office: Office, ledger: str, csv_file: Write) -> None:
    staging = stage_files(office, ledger, [csv_file("d.csv", "date,amount,colour", "2026-01-05,3.00,1.5")])
    mapping = staging.files[0].mapping
    assert mapping is not None
    columns = tuple(
        replace(each, name="product", role="further_amount", decimal_mark="point") if each.column == "colour" else each
        for each in mapping.columns
    )
    post_files(office, map_file(office, staging.id, 0, replace(mapping, columns=columns)).id, quiet)


def test_a_corrected_line_keeps_its_figures_and_days(office: Office, ledger: str, csv_file: Write) -> None:
    post(office, ledger, csv_file("s.csv", HEADER, *LINES))
    line = lines_of_number(office, AskedNumber(ledger, ALL, "net_sales.0.value"), 0, 0, 9).lines[-1]
    before = {name: total(office, ledger, name) for name in ("weight", "vat")}
    correct_line(office, ledger, line.id, LineChange(amount="1.00"), "a slip")
    assert {name: total(office, ledger, name) for name in ("weight", "vat")} == before
    assert total(office, ledger, "net_sales", day="delivery_date") == Fraction(1)
    assert check_table(office, ledger, replace(ALL, measures=(ShownMeasure("vat"),), day="delivery_date")).agrees


def test_segments_with_and_without_them_are_put_together(office: Office, ledger: str, csv_file: Write) -> None:
    for at in range(4):
        post_small(office, ledger, csv_file, at)
    for at in range(1, 9):
        row = f"2026-04-{at:02d},{'' if at % 3 == 0 else f'2026-04-{at + 1:02d}'},C{at},P1,{at}.50,{at}.25,1.00,{at + 1},19"
        post(office, ledger, csv_file(f"s{at}.csv", HEADER, row))
        total(office, ledger, "weight")
    merged(office)
    post_small(office, ledger, csv_file, 9)
    assert total(office, ledger, "weight") == Fraction(44) and total(office, ledger, "shipping_cost") == Fraction(38)
    assert len(segments(office, ledger)) < 12
    assert total(office, ledger, "net_sales", day="delivery_date") == sum(
        Fraction(at) + Fraction("0.5") for at in (1, 2, 4, 5, 7)
    )
    merged(office)
    assert check_table(office, ledger, replace(ALL, measures=(ShownMeasure("weight"),), day="delivery_date")).agrees


def test_a_ledger_has_a_usual_day(office: Office, ledger: str, csv_file: Write) -> None:
    post(office, ledger, csv_file("s.csv", HEADER, *LINES))
    settings = settings_of(office, ledger)
    with pytest.raises(RefusedError, match="no day 'deliverydate'"):
        change_settings(office, ledger, replace(settings, usual_day="deliverydate"))
    told = (Described("weight", "As packed."), Described("delivery_date", "When it left."))
    change_settings(office, ledger, replace(settings, usual_day="delivery_date", descriptions=told))
    found = describe_ledger(office, ledger)
    assert found.first.day == "delivery_date" and found.usual_day == "delivery_date" == settings_of(office, ledger).usual_day
    assert next(each for each in found.figures if each.name == "weight").description == "As packed."
    assert found.days[0].description == "When it left."
    (kept,) = export_mapping(
        office, ledger, office.books.kept_mappings(office.books.ledger(ledger).id).rows[0].shape
    ).mapping.columns[1:2]
    assert kept.role == "further_day"
    delete_ledger(office, ledger, ledger)


def test_columns_are_seen_again_in_files_of_other_shapes(office: Office, ledger: str, csv_file: Write) -> None:
    post(office, ledger, csv_file("s.csv", HEADER, *LINES))
    other = stage_files(
        office, ledger, [csv_file("o.csv", "date,amount,weight,VAT", "2026-05-05,9.00,4,1", "2026-05-06,8.00,5,2")]
    )
    mapping = other.files[0].mapping
    assert mapping is not None and [each.role for each in mapping.columns] == [
        "date",
        "amount",
        "further_quantity",
        "further_amount",
    ]
    assert value(answer_statement(office, ledger, ALL, Opened()), "net_sales.0.value") == Fraction("405.5")


def test_files_and_briefs_say_by_which_day_and_under_which_conditions(office: Office, ledger: str, csv_file: Write) -> None:
    post(office, ledger, csv_file("s.csv", HEADER, *LINES))
    large = FigureBetween("amount", "50")
    measures = (ShownMeasure("shipping_cost", ("difference",)), ShownMeasure("net_sales"))
    before = Statement(measures, ("delivery_date.month",), ToDate("year"), PinnedDay(date(2026, 2, 9)), (PeriodBase(1, "year"),))
    statement = replace(before, conditions=(large,))
    answer = told_answer(office, ledger, statement, Opened())
    book = load_workbook(io.BytesIO(workbook(answer, statement)))
    texts = [str(cell.value) for sheet in book for row in sheet.iter_rows() for cell in row if cell.value is not None]
    assert "2026-01" in texts and any("amount at least 50" in each for each in texts)
    said = json.loads(json_file(answer, statement, Layout()))
    assert said["statement"]["conditions"][0]["figure"] == "amount" and "amount at least 50" in said["answer"]["told"]["sentence"]
    by_delivery = replace(statement, day="delivery_date", rows=("product",))
    blocks = tuple(FigureBlock(kind, by_delivery) for kind in ("headline", "table", "movers", "words"))  # type: ignore[arg-type]
    composed = compose(office, ledger, Brief("By delivery", as_of=PinnedDay(date(2026, 2, 9)), blocks=blocks), None)
    for block in composed.blocks:
        assert isinstance(block, ComposedFigures)
        assert "counted by delivery date, lines with amount at least 50" in block.caption
    assert composed.blocks[0].answer.total.cells[0].value == "5.50"  # type: ignore[union-attr]
    moved = answer_movers(office, ledger, statement, MoversAsked())
    assert {each.label for each in (*moved.ups.movers, *moved.downs.movers)} <= {"Jan 2026", "Feb 2026", "(blank)"}


def test_a_figure_takes_8_bytes_a_line_and_a_day_2(office: Office, ledger: str, csv_file: Write) -> None:
    post(office, ledger, csv_file("s.csv", HEADER, *LINES))
    (columns,) = office.books.opened(ledger).source.segments.each  # type: ignore[attr-defined]
    sizes = {name: each.values.dtype.itemsize for name, each in columns.figures.items()}
    assert set(sizes) == {"shipping_cost", "vat", "weight"} and max(sizes.values()) <= 8
    assert columns.days["delivery_date"].offsets.dtype.itemsize == 2
    # Nothing is made of a day while nobody counts by it.
    assert not office.books.opened(ledger).source._readings  # type: ignore[attr-defined]
