"""The demo ledger as files, with everything that real files have wrong with them."""

from __future__ import annotations

import csv
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from datetime import timedelta
from pathlib import Path

import numpy as np

from lofty_abacus.core.days import day_number, day_of
from lofty_abacus.core.money import decimal_text
from lofty_abacus.demo.generate import SEED, Lines, World, make_lines, make_world
from lofty_abacus.demo.scenario import AS_OF, CHANNELS, CITIES, KINDS, LAST_DAY, REPS

LINES = 58_600
CUSTOMERS = 420
#: The month whose file has text dates and decimal commas, and the one whose file repeats some lines.
ODD_MONTH, REPEATED_MONTH = (2025, 3), (2025, 8)
REPEATED = 12
PRE_ORDERS = 37
RETURN_SHARE = 0.024
SALES_HEADER = (
    "date", "order", "line", "rep", "customer", "product", "channel", "units", "amount", "cost",
    "list amount", "freight", "delivery",
)  # fmt: skip
RETURNS_HEADER = ("return date", "order", "rep", "customer", "product", "channel", "units", "amount")

_STUDIOS = ("Clay House", "Wheelroom", "Kilnyard", "Slip & Fire", "Ember Pottery", "Moss Ceramics", "The Glaze Loft", "Bisque")
_SCHOOLS = ("Primary School", "Grammar School", "College", "Evening School", "Art Academy")
_SHOPS = ("Craft Supplies", "Hobby Corner", "Art Store", "Makers' Shop")
_SIZES = ("500 g", "1 kg", "5 kg", "12.5 kg", "small", "medium", "large", "set of 4", "set of 10")


@dataclass(frozen=True)
class WrittenFile:
    """A file of the demo and how the demo's analyst deals with it: 'sales', 'odd', 'repeated', 'returns', 'lookup'."""

    path: Path
    manner: str


def write_demo_files(folder: Path) -> list[WrittenFile]:
    """Write all files of the demo ledger into a folder; the same bytes every time."""
    folder.mkdir(parents=True, exist_ok=True)
    world = make_world(CUSTOMERS)
    lines = make_lines(LINES, world)
    files = [
        WrittenFile(_write(folder / "products.csv", ("product", "product name", "category", "line"), _products(world)), "lookup"),
        WrittenFile(
            _write(
                folder / "customers.csv",
                ("customer", "customer name", "city", "city name", "district", "region"),
                _customers(world),
            ),
            "lookup",
        ),
    ]
    for month in np.unique(lines.months).tolist():
        files.append(_sales_file(folder, lines, world, 1970 + month // 12, month % 12 + 1))
    files.append(WrittenFile(_write(folder / "returns.csv", RETURNS_HEADER, _returns(lines, world)), "returns"))
    return files


def _sales_file(folder: Path, lines: Lines, world: World, year: int, month: int) -> WrittenFile:
    path = folder / f"sales-{year}-{month:02d}.csv"
    at = np.flatnonzero(lines.months == (year - 1970) * 12 + month - 1)
    if (year, month) == ODD_MONTH:
        rows = _sales_rows(lines, world, at, date_text=_text_date, number=_comma)
        return WrittenFile(_write(path, SALES_HEADER, rows, separator=";"), "odd")
    rows = list(_sales_rows(lines, world, at))
    if (year, month) == (AS_OF.year, AS_OF.month):
        rows += _pre_orders(lines, world)
    if (year, month) == REPEATED_MONTH:
        step = len(rows) // REPEATED
        return WrittenFile(_write(path, SALES_HEADER, rows + rows[: REPEATED * step : step]), "repeated")
    return WrittenFile(_write(path, SALES_HEADER, rows), "sales")


def _write(path: Path, header: Sequence[str], rows: Iterable[Sequence[object]], separator: str = ",") -> Path:
    with path.open("w", encoding="utf-8", newline="") as file:
        writer = csv.writer(file, delimiter=separator, lineterminator="\n")
        writer.writerow(header)
        writer.writerows(rows)
    return path


def _iso(day: int) -> str:
    return day_of(day).isoformat()


def _text_date(day: int) -> str:
    return f"{day_of(day):%d. %b %Y}"


def _point(minor: int) -> str:
    return decimal_text(minor, 2)


def _comma(minor: int) -> str:
    whole, cents = divmod(minor, 100)
    return f"{whole:,}".replace(",", ".") + f",{cents:02d}"


def _sales_rows(
    lines: Lines,
    world: World,
    at: Iterable[int],
    date_text: Callable[[int], str] = _iso,
    number: Callable[[int], str] = _point,
) -> Iterable[Sequence[object]]:
    order_before, line = 0, 0
    for i in at:
        order = int(lines.order[i])
        line = line + 1 if order == order_before else 1
        order_before = order
        # A few orders came by telephone without a cost sheet: their cost is blank, which is not 0.
        cost = "" if order % 97 == 0 else number(int(lines.cost[i]))
        yield (
            date_text(int(lines.day[i])),
            _order_id(order),
            f"{_order_id(order)}/{line}",
            REPS[lines.rep[i]].name,
            _customer_id(int(lines.customer[i])),
            _product_id(int(lines.product[i])),
            CHANNELS[world.channel[lines.customer[i]]],
            int(lines.units[i]),
            number(int(lines.amount[i])),
            cost,
            number(int(lines.listed[i])),
            # What was fetched has neither a freight nor a day of delivery.
            number(int(lines.sent.freight[i])) if lines.sent.day[i] else "",
            date_text(int(lines.sent.day[i])) if lines.sent.day[i] else "",
        )


def _order_id(order: int) -> str:
    return f"K-{10_000 + order}"


def _customer_id(customer: int) -> str:
    return f"C-{1001 + customer}"


def _product_id(product: int) -> str:
    return f"P-{101 + product}"


def _pre_orders(lines: Lines, world: World) -> list[Sequence[object]]:
    """Orders entered in October for delivery, and dated, after the as-of date."""
    random = np.random.Generator(np.random.PCG64(SEED + 2))
    rows: list[Sequence[object]] = []
    latest = (LAST_DAY - AS_OF).days
    days = np.sort(random.integers(5, latest - 10, PRE_ORDERS))
    source = random.choice(np.flatnonzero(lines.months == lines.months[-1]), PRE_ORDERS, replace=False)
    for number, (ahead, i) in enumerate(zip(days.tolist(), source.tolist(), strict=True)):
        day = AS_OF + timedelta(days=ahead)
        (row,) = _sales_rows(lines, world, [i])
        rows.append((day.isoformat(), f"K-9{number:04d}", f"K-9{number:04d}/1", *row[3:]))
    return rows


def _returns(lines: Lines, world: World) -> list[Sequence[object]]:
    """Goods that came back 2 to 60 days later, positive figures; some name no order, some one that nobody knows."""
    random = np.random.Generator(np.random.PCG64(SEED + 3))
    chosen = np.flatnonzero(random.random(len(lines)) < RETURN_SHARE)
    rows = []
    for i in chosen.tolist():
        day = int(lines.day[i]) + int(random.integers(2, 61))
        if day > day_number(AS_OF):
            continue
        units = int(random.integers(1, int(lines.units[i]) + 1))
        amount = int(lines.amount[i]) * units // int(lines.units[i])
        chance = random.random()
        order = "" if chance < 0.05 else f"K-{chr(88)}{i}" if chance < 0.07 else _order_id(int(lines.order[i]))
        (row,) = _sales_rows(lines, world, [i])
        rows.append((_iso(day), order, *row[3:7], units, _point(amount)))
    return sorted(rows, key=lambda row: (str(row[0]), str(row[1]), str(row[4])))


def _products(world: World) -> Iterable[Sequence[object]]:
    seen: dict[int, int] = {}
    for product, at in enumerate(world.kind.tolist()):
        kind = KINDS[at]
        seen[at] = seen.get(at, 0) + 1
        name = f"{kind.line} {_SIZES[(product * 5 + at) % len(_SIZES)]} no. {seen[at]}"
        yield _product_id(product), name, kind.category, kind.line


def _customers(world: World) -> Iterable[Sequence[object]]:
    for customer, (at, channel) in enumerate(zip(world.city.tolist(), world.channel.tolist(), strict=True)):
        city = CITIES[at]
        words = (_STUDIOS, _SCHOOLS, _SHOPS)[channel]
        name = f"{city.name} {words[customer % len(words)]}" + (f" {customer // 100 + 1}" if customer >= 100 else "")
        yield _customer_id(customer), name, city.code, city.name, city.district, city.region
