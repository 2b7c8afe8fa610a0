"""What every source of totals must give: the columns in memory and the SQL that checks tables, held against the lines themselves."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from datetime import date, timedelta
from pathlib import Path
from random import Random
from typing import get_args

import pytest

from lofty_abacus.actions.intake.post_files import post_files
from lofty_abacus.actions.intake.stage_files import map_file, stage_files
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.ports.figures import OpenedLedger
from lofty_abacus.core.calendar.settings import CalendarSettings
from lofty_abacus.core.days import day_number
from lofty_abacus.core.errors import UnableError
from lofty_abacus.core.grouping.request import (
    Ability,
    DayFilter,
    DayOrderFilter,
    FigureFilter,
    GivenFilter,
    LineConventions,
    LineFilter,
    MemberFilter,
    PathFilter,
    Spread,
    Totals,
    TotalsRequest,
)
from lofty_abacus.core.measures.sums import DistinctIds, LineSum, Quantity
from lofty_abacus.core.windows.ranges import DayRange, DaySet
from tests.conftest import quiet

Write = Callable[..., tuple[str, Path]]
FIRST = date(2025, 1, 1)
QUANTITIES: tuple[Quantity, ...] = (
    *(LineSum("amount", side) for side in ("all", "sale", "return")),
    LineSum("quantity", "all"),
    LineSum("lines", "sale", ("quantity",)),
    LineSum("amount", "all", ("quantity",)),
    LineSum("lines", "all"),
    *(LineSum("freight", side, ("freight",)) for side in ("all", "sale", "return")),
    LineSum("weight", "all", ("weight",)),
    LineSum("amount", "all", ("freight", "weight")),
    DistinctIds("order"),
    DistinctIds("customer"),
)


@dataclass(frozen=True)
class Posted:
    """A line as it was written into the file. amount, freight: cents, below 0 for a return; weight: tenths."""

    day: date
    rep: str
    customer: str
    order: str
    amount: int
    quantity: int | None
    freight: int | None
    weight: int | None
    delivery: date | None


def lines(random: Random) -> list[Posted]:
    def one() -> Posted:
        back = random.random() < 0.2
        amount = random.randint(1, 10**9)
        day = FIRST + timedelta(random.randint(0, 500))
        return Posted(
            day,
            random.choice(["Ada", "Bo", "Cy", ""]),
            random.choice(["K1", "K2", "K3", "K4", ""]),
            f"O{random.randint(1, 40)}",
            -amount if back else amount,
            None if random.random() < 0.1 else random.randint(1, 9) * (-1 if back else 1),
            None if random.random() < 0.2 else random.randint(0, 9999) * (-1 if back else 1),
            None if random.random() < 0.2 else random.randint(1, 999) * (-1 if back else 1),
            None if random.random() < 0.2 else day + timedelta(random.randint(-5, 60)),
        )

    return [one() for _ in range(300)]


def posted(office: Office, ledger: str, csv_file: Write, found: list[Posted]) -> None:
    rows = [
        f"{each.day},{each.rep},{each.customer},{each.order},{each.amount / 100:.2f},"
        f"{'' if each.quantity is None else each.quantity},{'return' if each.amount < 0 else 'sale'},"
        f"{'' if each.freight is None else f'{each.freight / 100:.2f}'},{'' if each.weight is None else f'{each.weight / 10:.1f}'},"
        f"{each.delivery or ''}"
        for each in found
    ]
    heading = "date,rep,customer,order,amount,quantity,type,freight,weight,delivery"
    staging = stage_files(office, ledger, [csv_file("lines.csv", heading, *rows)])
    mapping = staging.files[0].mapping
    assert mapping is not None
    marked = replace(mapping, return_marks=("return",), returns_are="negative")
    post_files(office, map_file(office, staging.id, 0, marked).id, quiet)
    lookup = csv_file("teams.csv", "customer,tier,valid from", "K1,Gold,", "K1,Silver,2025-09-01", "K2,Gold,", "K3,Silver,")
    post_files(office, stage_files(office, ledger, [lookup]).id, quiet)


@pytest.fixture
def opened(office: Office, ledger: str, csv_file: Write) -> Iterator[tuple[OpenedLedger, list[Posted]]]:
    found = lines(Random(11))
    posted(office, ledger, csv_file, found)
    yield office.books.opened(ledger), found


@pytest.fixture(params=["columns", "sql"])
def source(request: pytest.FixtureRequest, office: Office, opened: tuple[OpenedLedger, list[Posted]]) -> Totals:
    book, _ = opened
    return book.source if request.param == "columns" else office.books.posted_totals(book.facts, book.record.id)


def expected(quantity: Quantity, found: list[Posted]) -> int:
    if isinstance(quantity, DistinctIds):
        return len({getattr(each, quantity.role) for each in found if each.amount > 0} - {""})
    read = [each for each in found if quantity.side == "all" or (each.amount < 0) == (quantity.side == "return")]
    read = [each for each in read if all(getattr(each, name) is not None for name in quantity.given)]
    if quantity.column == "lines":
        return len(read)
    return sum(getattr(each, quantity.column) or 0 for each in read)


def tier(line: Posted, on: date) -> str | None:
    if not line.customer:
        return ""
    tiers = {"K1": "Silver" if on >= date(2025, 9, 1) else "Gold", "K2": "Gold", "K3": "Silver"}
    return tiers.get(line.customer)


def stretch(first: int, days: int) -> DaySet:
    start = FIRST + timedelta(first)
    return DaySet((DayRange(start, start + timedelta(days - 1)),))


def check(source: Totals, request: TotalsRequest, counted: Callable[[Posted], bool], found: list[Posted]) -> None:
    [level] = source.totals(request)
    for at, window in enumerate(request.windows):
        inside = [each for each in found if any(r.first <= each.day <= r.last for r in window.ranges) and counted(each)]
        got = {quantity: level.integers([quantity], at, 0)[0] for quantity in request.quantities}
        assert got == {quantity: expected(quantity, inside) for quantity in request.quantities}


def test_windows_are_added_up_each_for_itself_and_may_overlap(source: Totals, opened: tuple[OpenedLedger, list[Posted]]) -> None:
    windows = (stretch(0, 31), stretch(20, 200), stretch(400, 1), stretch(0, 600), DaySet(()), stretch(5000, 3))
    apart = DaySet((*stretch(10, 5).ranges, *stretch(300, 40).ranges))
    request = TotalsRequest((*windows, apart), (), (), frozenset(QUANTITIES))
    check(source, request, lambda _: True, opened[1])


def test_only_members_that_are_named_are_counted(source: Totals, opened: tuple[OpenedLedger, list[Posted]]) -> None:
    book, found = opened
    codes = book.source.members("rep").codes
    kept = MemberFilter("rep", frozenset(codes[name] for name in ("Ada", "")))
    request = TotalsRequest((stretch(0, 600), stretch(100, 50)), (), (kept,), frozenset(QUANTITIES))
    check(source, request, lambda line: line.rep in ("Ada", ""), found)
    nobody = replace(request, filters=(MemberFilter("rep", frozenset()),))
    check(source, nobody, lambda _: False, found)


@pytest.mark.parametrize("as_of", [date(2025, 8, 31), date(2025, 9, 1)])
def test_levels_are_read_on_each_lines_day_or_all_on_one(
    source: Totals, opened: tuple[OpenedLedger, list[Posted]], as_of: date
) -> None:
    book, found = opened
    gold = MemberFilter("tier", frozenset({book.source.members("tier").codes["Gold"]}))
    request = TotalsRequest((stretch(0, 600), stretch(220, 60)), (), (gold,), frozenset(QUANTITIES))
    check(source, request, lambda line: tier(line, line.day) == "Gold", found)
    now = source.read_by(LineConventions(day_number(as_of), "as_it_is_now"))
    check(now, request, lambda line: tier(line, as_of) == "Gold", found)


def test_any_windows_and_filters_give_what_the_lines_give(source: Totals, opened: tuple[OpenedLedger, list[Posted]]) -> None:
    book, found = opened
    random = Random(5)
    for _ in range(20):
        windows = tuple(stretch(random.randint(-20, 500), random.randint(1, 300)) for _ in range(random.randint(1, 4)))
        names = random.sample(["K1", "K2", "K3", "K4", ""], random.randint(1, 4))
        codes = book.source.members("customer").codes
        kept = MemberFilter("customer", frozenset(codes[name] for name in names))
        wanted = frozenset(random.sample(QUANTITIES, random.randint(1, len(QUANTITIES))))
        check(source, TotalsRequest(windows, (), (kept,), wanted), lambda line: line.customer in names, found)  # noqa: B023


def number(year: int, month: int, day: int) -> int:
    return day_number(date(year, month, day))


CONDITIONS: list[tuple[LineFilter, Callable[[Posted], bool]]] = [
    (FigureFilter("amount", 10**6, 10**8), lambda line: 10**6 <= line.amount <= 10**8),
    (FigureFilter("freight", None, 500), lambda line: line.freight is not None and line.freight <= 500),
    (FigureFilter("weight", 15, None), lambda line: line.weight is not None and line.weight >= 15),
    (GivenFilter("freight", given=True), lambda line: line.freight is not None),
    (GivenFilter("quantity", given=False), lambda line: line.quantity is None),
    (DayOrderFilter("delivery", "before", "day"), lambda line: line.delivery is not None and line.delivery < line.day),
    (DayOrderFilter("day", "on", "delivery"), lambda line: line.delivery == line.day),
    (DayOrderFilter("delivery", "after", "day", blank=True), lambda line: line.delivery is None or line.delivery > line.day),
    (
        DayFilter("delivery", ((number(2025, 3, 1), number(2025, 5, 9)), (number(2025, 8, 1), number(2025, 8, 1)))),
        lambda line: (
            line.delivery is not None
            and (date(2025, 3, 1) <= line.delivery <= date(2025, 5, 9) or line.delivery == date(2025, 8, 1))
        ),
    ),
    (DayFilter("delivery", (), blank=True), lambda line: line.delivery is None),
    (DayFilter("delivery", ((-(2**31) + 1, 2**31 - 1),), blank=False, exclude=True), lambda line: line.delivery is None),
    (DayFilter("day", ((number(2025, 2, 1), 2**31 - 1),)), lambda line: line.day >= date(2025, 2, 1)),
]


def test_conditions_on_lines_are_held_alike(source: Totals, opened: tuple[OpenedLedger, list[Posted]]) -> None:
    windows = (stretch(0, 600), stretch(100, 50), stretch(-30, 40))
    for at, (condition, holds) in enumerate(CONDITIONS):
        other, also = CONDITIONS[(at * 5 + 3) % len(CONDITIONS)]
        check(source, TotalsRequest(windows, (), (condition,), frozenset(QUANTITIES)), holds, opened[1])
        both = TotalsRequest(windows, (), (condition, other), frozenset(QUANTITIES))
        check(source, both, lambda line: holds(line) and also(line), opened[1])  # noqa: B023


def test_lines_are_counted_by_another_of_their_days(source: Totals, opened: tuple[OpenedLedger, list[Posted]]) -> None:
    book, found = opened
    by_delivery = source.read_by(LineConventions(day_number(FIRST), day="delivery"))
    delivered = [replace(each, day=each.delivery) for each in found if each.delivery is not None]
    posted_on = {id(moved): each for moved, each in zip(delivered, (one for one in found if one.delivery), strict=True)}
    windows = (stretch(-10, 31), stretch(20, 200), stretch(400, 1), stretch(-100, 1000))
    check(by_delivery, TotalsRequest(windows, (), (), frozenset(QUANTITIES)), lambda _: True, delivered)
    gold = MemberFilter("tier", frozenset({book.source.members("tier").codes["Gold"]}))
    late = DayOrderFilter("delivery", "after", "day")
    check(
        by_delivery,
        TotalsRequest(windows, (), (gold, late), frozenset(QUANTITIES)),
        lambda line: tier(line, line.day) == "Gold" and line.day > posted_on[id(line)].day,
        delivered,
    )


NEEDS: dict[Ability, Callable[[Totals], object]] = {
    "cells": lambda source: source.totals(TotalsRequest((stretch(0, 9),), ("rep",), (), frozenset())),
    "paths": lambda source: source.totals(
        TotalsRequest((stretch(0, 9),), (), (PathFilter(("rep",), frozenset({(1,)})),), frozenset())
    ),
    "levels_as_now": lambda source: source.read_by(LineConventions(day_number(FIRST), "as_it_is_now")),
    "sale_days": lambda source: source.read_by(LineConventions(day_number(FIRST), returns="sale_day")),
    "spread": lambda source: source.read_by(
        LineConventions(day_number(FIRST), spread=Spread("month", CalendarSettings(), working=False))
    ),
    "periods": lambda source: source.read_by(
        LineConventions(day_number(FIRST), periods=(("delivery", "month"),), calendar=CalendarSettings())
    ),
}


def test_every_ability_is_asked_for() -> None:
    assert set(NEEDS) == set(get_args(Ability))


@pytest.mark.parametrize("ability", sorted(NEEDS))
def test_a_source_does_what_it_declares_and_refuses_the_rest(source: Totals, ability: Ability) -> None:
    if ability in source.abilities:
        NEEDS[ability](source)
    else:
        with pytest.raises(UnableError, match=ability):
            NEEDS[ability](source)
