"""Names of dimensions and levels: whose they are, what happens to them when a posting fails, and lookups of lookups."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from datetime import date
from fractions import Fraction
from pathlib import Path

import pytest
from sqlalchemy import text

from lofty_abacus.actions.errors import RefusedError, StoppedError
from lofty_abacus.actions.figures.answer_statement import answer_statement
from lofty_abacus.actions.figures.check_table import check_table
from lofty_abacus.actions.figures.prove_number import AskedNumber, lines_of_number
from lofty_abacus.actions.intake.check_files import check_files
from lofty_abacus.actions.intake.post_files import post_files
from lofty_abacus.actions.intake.stage_files import map_file, stage_files
from lofty_abacus.actions.intake.stagings import Staging
from lofty_abacus.actions.ledgers.describe_ledger import describe_ledger
from lofty_abacus.actions.ledgers.make_ledger import make_ledger
from lofty_abacus.actions.ledgers.withdraw_batch import withdraw_batch
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import NewLedger, Posting
from lofty_abacus.core.statement.statement import CountedFilter, Opened, ShownMeasure, Statement
from lofty_abacus.core.windows.as_of import PinnedDay
from lofty_abacus.store.books import MariaDbBooks
from lofty_abacus.store.line_tables import VIEW_COLUMNS
from lofty_abacus.store.preparing import prepare_tables
from lofty_abacus.wiring import now, open_books
from tests.cells import value
from tests.conftest import quiet

Write = Callable[..., tuple[str, Path]]
AS_OF = PinnedDay(date(2026, 12, 31))


def by(*rows: str) -> Statement:
    return Statement((ShownMeasure("net_sales"),), rows, as_of=AS_OF)


def net(office: Office, ledger: str, statement: Statement) -> dict[tuple[str | None, ...], Fraction | str]:
    answer = answer_statement(office, ledger, statement, Opened(len(statement.rows)))
    return {row.path: value(answer, "net_sales.0.value", *row.path) for row in answer.rows}


def post(office: Office, ledger: str, *files: tuple[str, Path]) -> Posting:
    return post_files(office, stage_files(office, ledger, files).id, quiet)


def rename(office: Office, staging: Staging, file: int, name: str, to: str) -> None:
    mapping = staging.files[file].mapping
    assert mapping is not None
    columns = tuple(
        replace(use, name=to) if use.name == name and use.role in ("level", "level_name") else use for use in mapping.columns
    )
    map_file(office, staging.id, file, replace(mapping, columns=columns))


def test_a_level_belongs_to_its_dimension_and_is_asked_about_before_posting(office: Office, ledger: str, csv_file: Write) -> None:
    lines = csv_file("sales.csv", "date,customer,employee,amount", "2026-03-01,C1,E1,10", "2026-03-02,C2,E2,5")
    customers = csv_file("customers.csv", "customer,first_name", "C1,Ann", "C2,Bob")
    employees = csv_file("employees.csv", "employee,first_name", "E1,Zoe", "E2,Yan")
    staging = stage_files(office, ledger, [lines, customers, employees])
    check = check_files(office, staging.id)
    found = check.files[2].finding("name_taken")
    assert not check.ready and found is not None and (found.about, found.proposed) == ("first_name", "employee_first_name")
    assert check.files[2].blocking == (
        "“first name” is a level of customer already: call this one “employee first name”, or otherwise.",
    )
    with pytest.raises(RefusedError, match="level of customer already"):
        post_files(office, staging.id, quiet)
    rename(office, staging, 2, "first_name", found.proposed)
    assert check_files(office, staging.id).ready
    post_files(office, staging.id, quiet)
    assert net(office, ledger, by("first_name")) == {("Ann",): 10, ("Bob",): 5}, "customers are called as their lookup says"
    assert net(office, ledger, by("employee_first_name")) == {("Yan",): 5, ("Zoe",): 10}
    # The same in two postings: the ledger knows whose the name is.
    again = stage_files(office, ledger, [csv_file("more.csv", "employee,first_name", "E1,Zoe", "E2,Yvonne", "E3,Xaver")])
    assert again.files[0].kept, "the mapping with the name of its own is kept"
    assert check_files(office, again.id).ready


def test_a_lookup_whose_keys_stand_on_no_line_is_decided(office: Office, ledger: str, csv_file: Write) -> None:
    staging = stage_files(
        office,
        ledger,
        [
            csv_file("s.csv", "date,product,amount", "2026-03-01,P-1,10", "2026-03-01,P-2,1"),
            csv_file("products.csv", "product,group", "1,Clay", "2,Tools", "3,Kilns"),
        ],
    )
    check = check_files(office, staging.id)
    found = check.files[1].finding("lookup_maps_nothing")
    assert (
        not check.ready and found is not None and (found.weight, found.count, found.of, found.about) == ("stop", 3, 3, "product")
    )
    assert "None of its 3 keys is a known product" in check.files[1].blocking[0]
    mapping = staging.files[1].mapping
    assert mapping is not None
    map_file(office, staging.id, 1, replace(mapping, unknown_keys="keep"))
    assert check_files(office, staging.id).ready
    some = stage_files(
        office,
        ledger,
        [csv_file("t.csv", "date,product,amount", "2026-03-01,P1,10"), csv_file("p.csv", "product,kind", "P1,Clay", "P2,Tools")],
    )
    look = check_files(office, some.id).files[1].finding("lookup_keys_unknown")
    assert look is not None and (look.weight, look.count, look.of) == ("look", 1, 2)


def test_lookups_of_lookups_map_to_any_depth_and_by_day(office: Office, ledger: str, csv_file: Write) -> None:
    post(
        office,
        ledger,
        # The lookups stand before what brings their keys: order in a drop is no matter.
        csv_file("districts.csv", "district,country", "East,A", "West,B"),
        csv_file("cities.csv", "city_id,district", "10,East", "20,West"),
        csv_file("customers.csv", "customer,city_id", "C1,10", "C2,20", "C3,99"),
        csv_file(
            "sales.csv", "date,customer,amount", "2026-02-01,C1,1", "2026-03-01,C1,10", "2026-03-01,C2,5", "2026-03-01,C3,2", "2026-03-01,,4", "2026-03-02,C9,3"
        ),
    )  # fmt: skip
    facts = office.books.facts(office.books.ledger(ledger).id)
    assert {each.name: each.of for each in facts.dimensions} == {
        "customer": None, "city_id": "customer", "district": "city_id", "country": "district",
    }  # fmt: skip
    expected = {("",): 4, ("East",): 11, ("West",): 5, (None,): 5}
    assert net(office, ledger, by("district")) == expected
    assert net(office, ledger, by("country")) == {("",): 4, ("A",): 11, ("B",): 5, (None,): 5}
    assert check_table(office, ledger, replace(by("district"), filters=(CountedFilter("country", ("A",)),))).agrees
    # From March on city 10 lies in the West: the chain follows by day.
    post(office, ledger, csv_file("moved.csv", "city_id,valid_from,district", "10,2026-03-01,West"))
    assert net(office, ledger, by("district")) == {("",): 4, ("East",): 1, ("West",): 15, (None,): 5}
    assert net(office, ledger, by("country")) == {("",): 4, ("A",): 1, ("B",): 15, (None,): 5}
    assert net(office, ledger, replace(by("country"), levels="as_it_is_now")) == {("",): 4, ("B",): 16, (None,): 5}
    only = replace(by("country"), filters=(CountedFilter("country", ("B",)),))
    assert check_table(office, ledger, only).agrees, "the database follows the chain by itself"
    assert isinstance(office.books, MariaDbBooks)
    number = office.books.ledger(ledger).id
    with office.books.engine.connect() as connection:
        rows = connection.execute(text(f"SELECT country, SUM(amount) FROM ledger_{number}_lines GROUP BY country")).all()
    assert {row[0]: int(row[1]) for row in rows} == {"(blank)": 4, "A": 1, "B": 15, "(not mapped)": 5}
    # An earlier version is checked by what it was.
    assert net(office, ledger, by("country"))[("A",)] == 1
    assert (
        check_table(office, ledger, replace(by("country"), filters=(CountedFilter("country", ("A",)),)), 1).totals[0].table
        == "11.00"
    )
    batch = next(each for each in office.books.batches(number) if each.file == "cities.csv")
    withdraw_batch(office, ledger, batch.id, leave_hole=False)
    assert net(office, ledger, by("country")) == {("",): 4, ("B",): 10, (None,): 11}, "what the later lookup said stays"


def test_a_level_called_like_its_own_key_is_found_by_the_check(office: Office, ledger: str, csv_file: Write) -> None:
    staging = stage_files(
        office,
        ledger,
        [csv_file("s.csv", "date,product,amount", "2026-03-01,P1,10"), csv_file("p.csv", "product_id,product,kind", "P1,Clay,A")],
    )
    check = check_files(office, staging.id)
    found = check.files[1].finding("name_taken")
    assert not check.ready and found is not None and found.proposed == "product_level"
    rename(office, staging, 1, "product", found.proposed)
    assert check_files(office, staging.id).ready and post_files(office, staging.id, quiet).version == 1


class Unlucky(Exception):
    """Somebody pulls the plug."""


@pytest.mark.parametrize("end", [StoppedError(), Unlucky()])
def test_a_posting_that_ends_early_leaves_no_dimension_behind(
    office: Office, ledger: str, csv_file: Write, end: Exception
) -> None:
    post(office, ledger, csv_file("a.csv", "date,rep,amount", "2026-03-01,Ada,1"))
    before = describe_ledger(office, ledger)
    staging = stage_files(
        office,
        ledger,
        [csv_file("b.csv", "date,rep,shop,amount", "2026-03-01,Ada,S1,1.1254"), csv_file("shops.csv", "shop,town", "S1,Linz")],
    )

    seen: list[object] = []

    def stop(doing: str, done: int, total: int) -> None:
        if doing.startswith("Posting"):
            # Whoever looks while it runs sees the ledger as it is.
            seen.append(describe_ledger(office, ledger).dimensions)
            raise end

    with pytest.raises(type(end)):
        post_files(office, staging.id, stop)
    assert seen == [before.dimensions]
    assert describe_ledger(office, ledger) == before, "the decimals, too"
    assert isinstance(office.books, MariaDbBooks)
    number = office.books.ledger(ledger).id
    with office.books.engine.connect() as connection:
        columns = connection.execute(text(f"SHOW COLUMNS FROM line_{number}")).all()
        assert "shop_code" not in [row[0] for row in columns]
        assert next(row[1] for row in columns if row[0] == "amount") == "decimal(19,2)"
    assert post_files(office, staging.id, quiet).version == 2
    assert net(office, ledger, by("town")) == {("",): 1, ("Linz",): Fraction("1.1254")}


def test_leftovers_of_a_posting_that_was_killed_are_cleared_at_the_next_start(
    office: Office, ledger: str, csv_file: Write, tmp_path: Path
) -> None:
    post(office, ledger, csv_file("a.csv", "date,rep,amount", "2026-03-01,Ada,1"))
    before = describe_ledger(office, ledger)
    staging = stage_files(office, ledger, [csv_file("b.csv", "date,rep,shop,amount", "2026-03-01,Ada,S1,1.12345")])
    books = office.books
    assert isinstance(books, MariaDbBooks)
    from lofty_abacus.actions.intake.post_files import _posted_file

    number = books.ledger(ledger).id
    prepare_tables(books.engine, number, [_posted_file(office, staging, 0)])
    assert describe_ledger(office, ledger) == before, "what is prepared belongs to no version yet"
    again = open_books(books.engine.url.render_as_string(hide_password=False), tmp_path / "columns", now)
    with again.engine.connect() as connection:
        assert "shop_code" not in [row[0] for row in connection.execute(text(f"SHOW COLUMNS FROM line_{number}"))]
        assert connection.execute(text(f"SELECT COUNT(*) FROM dimension WHERE ledger_id = {number}")).scalar() == 1
    again.engine.dispose()


@pytest.mark.parametrize("name", VIEW_COLUMNS)
def test_any_heading_may_be_a_dimension(office: Office, ledger: str, csv_file: Write, name: str) -> None:
    from lofty_abacus.ingest.mapping import ColumnUse

    staging = stage_files(office, ledger, [csv_file("s.csv", f"when,{name},sold", "2026-03-01,X,10", "2026-03-01,Y,5")])
    mapping = staging.files[0].mapping
    assert mapping is not None
    uses = (
        ColumnUse("when", "date", date_format="year_month_day"),
        ColumnUse(name, "dimension", name),
        ColumnUse("sold", "amount", decimal_mark="point"),
    )
    map_file(office, staging.id, 0, replace(mapping, columns=uses))
    post_files(office, staging.id, quiet)
    assert net(office, ledger, by(name)) == {("X",): 10, ("Y",): 5}
    (line,) = lines_of_number(office, AskedNumber(ledger, by(name), "net_sales.0.value", ("Y",)), 0, 0, 10).lines
    assert line.members == {name: "Y"} and describe_ledger(office, ledger).lines == 2
    assert check_table(office, ledger, by(name)).agrees


@pytest.mark.parametrize("count", [60, 198])
def test_many_dimensions_are_posted_and_read_back(office: Office, ledger: str, csv_file: Write, count: int) -> None:
    names = [f"attribute_{at}" for at in range(count)]
    file = csv_file(
        "s.csv", ",".join(["date", "amount", *names]), ",".join(["2026-03-01", "10", *(f"v{at}" for at in range(count))])
    )
    post(office, ledger, file)
    assert net(office, ledger, by(names[-1])) == {(f"v{count - 1}",): 10}
    (line,) = lines_of_number(office, AskedNumber(ledger, by(names[0]), "net_sales.0.value"), 0, 0, 10).lines
    assert len(line.members) == count
    assert isinstance(office.books, MariaDbBooks)
    number = office.books.ledger(ledger).id
    with office.books.engine.connect() as connection:
        row = connection.execute(text(f"SELECT * FROM ledger_{number}_lines")).mappings().one()
    assert row[names[-1]] == f"v{count - 1}"


def test_more_dimensions_than_a_ledger_can_have_are_told_by_the_check(office: Office, csv_file: Write) -> None:
    make_ledger(office, NewLedger("wide"))
    names = [f"a_{at}" for at in range(150)]
    post(office, "wide", csv_file("s.csv", ",".join(["date", "amount", *names]), ",".join(["2026-03-01", "10", *names])))
    more = [f"b_{at}" for at in range(60)]
    staging = stage_files(
        office, "wide", [csv_file("t.csv", ",".join(["date", "amount", *more]), ",".join(["2026-03-01", "10", *more]))]
    )
    assert "would have 210 dimensions and levels; it can have 200" in check_files(office, staging.id).files[0].blocking[0]


def test_a_numeric_key_beside_its_lookup_is_no_quantity(office: Office, ledger: str, csv_file: Write) -> None:
    lines = csv_file("s.csv", "date,store,amount", "2026-03-01,1,10", "2026-03-01,2,5", "2026-03-02,1,2")
    staging = stage_files(office, ledger, [lines, csv_file("stores.csv", "store,town", "1,Linz", "2,Graz", "3,Wels")])
    roles = {use.column: use.role for use in staging.files[0].mapping.columns}  # type: ignore[union-attr]
    assert roles == {"date": "date", "store": "dimension", "amount": "amount"}
    post_files(office, staging.id, quiet)
    assert net(office, ledger, by("town")) == {("Graz",): 5, ("Linz",): 12}
    # The ledger knows it from then on, without a lookup beside it.
    later = stage_files(office, ledger, [csv_file("t.csv", "date,store,amount,note", "2026-04-01,1,10,a", "2026-04-01,2,5,b")])
    assert {use.column: use.role for use in later.files[0].mapping.columns}["store"] == "dimension"  # type: ignore[union-attr]
