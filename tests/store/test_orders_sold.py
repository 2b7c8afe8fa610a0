"""What orders have sold, from lines that are at hand and as MariaDB adds them up: the same, whatever was taken out of them."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date
from pathlib import Path
from random import Random

import pytest

from lofty_abacus.actions.errors import RecordsError
from lofty_abacus.actions.intake.post_files import post_files
from lofty_abacus.actions.intake.stage_files import stage_files
from lofty_abacus.actions.ledgers.withdraw_batch import withdraw_batch
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import LineChange, OrderSold, Replacement
from lofty_abacus.store import intake_reads
from lofty_abacus.store.books import MariaDbBooks
from tests.conftest import quiet

Write = Callable[..., tuple[str, Path]]
HEAD, WITH_PRODUCT = "date,order,line,amount", "date,order,line,product,amount"


def post(office: Office, ledger: str, file: tuple[str, Path], replacement: Replacement | None = None) -> int:
    return post_files(office, stage_files(office, ledger, [file]).id, quiet, replacement).batches[0]


def sold(office: Office, ledger: str, orders: list[str]) -> list[OrderSold]:
    return sorted(office.books.orders_sold(office.books.ledger(ledger).id, orders), key=repr)


def by_sql(office: Office, ledger: str, orders: list[str]) -> list[OrderSold]:
    assert isinstance(office.books, MariaDbBooks)
    return sorted(intake_reads.orders_sold(office.books.engine, office.books.ledger(ledger).id, orders), key=repr)


@pytest.fixture
def refused_sql(monkeypatch: pytest.MonkeyPatch) -> Callable[[], None]:
    def refuse() -> None:
        def refused(*_: object) -> None:
            raise RecordsError("MariaDB is not asked for lines that are at hand")

        monkeypatch.setattr(intake_reads, "_sold_by_sql", refused)

    return refuse


@pytest.mark.parametrize("seed", range(3))
def test_lines_at_hand_say_the_same_as_mariadb(
    office: Office, ledger: str, csv_file: Write, seed: int, refused_sql: Callable[[], None], monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(intake_reads, "LINES_AT_ONCE", 7)
    chance = Random(seed)
    orders = [f"O{at}" for at in range(9)] + ["", "nobody's"]
    batches = []
    for number in range(6):
        # The first files have no products.
        head = WITH_PRODUCT if number > 1 else HEAD
        rows = [
            f"2026-0{chance.randint(1, 6)}-{chance.randint(1, 28):02d},{chance.choice(orders[:10])},L{number}-{at},"
            + (f"P{chance.randint(1, 3)}," if number > 1 else "")
            + f"{chance.randint(-90_000, 90_000) / 100:.2f}"
            for at in range(chance.randint(1, 30))
        ]
        days = Replacement((), date(2026, 2, 1), date(2026, 2, 28)) if number == 4 else None
        batches.append(post(office, ledger, csv_file(f"{number}.csv", head, *rows), days))
    withdraw_batch(office, ledger, batches[1], leave_hole=False)
    line = next(
        each for each in office.books.read_lines(office.books.ledger(ledger).id, range(1, 200)) if each.line_ref == "L0-0"
    )
    office.books.correct_line(
        office.books.ledger(ledger).id, line.id, LineChange(amount="12.5"), "typed wrong", date(2026, 7, 1), "T"
    )
    expected = by_sql(office, ledger, orders)
    assert sold(office, ledger, orders) == expected and len(expected) > 10, "nothing is at hand yet"
    office.books.opened(ledger)
    refused_sql()
    assert sold(office, ledger, orders) == expected
    assert sold(office, ledger, ["nobody's"]) == []


def test_lines_that_came_since_are_not_overlooked(
    office: Office, ledger: str, csv_file: Write, monkeypatch: pytest.MonkeyPatch
) -> None:
    post(office, ledger, csv_file("a.csv", HEAD, "2026-03-01,O1,L1,10.00"))
    office.books.opened(ledger)
    # An application that is busy has not made the newest version ready.
    monkeypatch.setattr(MariaDbBooks, "_make_ready", lambda *_: None)
    post(office, ledger, csv_file("b.csv", HEAD, "2026-02-01,O1,L2,5.00"))
    assert sold(office, ledger, ["O1"]) == [OrderSold("O1", "", date(2026, 2, 1), "15.00", "0")]
