"""The demo's data has what real data has: every irregularity that the scenario promises, found in the files."""

from __future__ import annotations

import csv
from collections import Counter, defaultdict
from datetime import date, timedelta

import numpy as np
import pytest

from lofty_abacus.demo.files import write_demo_files
from lofty_abacus.demo.generate import make_lines, make_world
from lofty_abacus.demo.scenario import AS_OF, LAST_DAY

Rows = list[dict[str, str]]


@pytest.fixture(scope="module")
def files(tmp_path_factory: pytest.TempPathFactory) -> dict[str, Rows]:
    folder = tmp_path_factory.mktemp("demo")
    write_demo_files(folder)
    found = {}
    for path in folder.iterdir():
        text = path.read_text()
        separator = ";" if ";" in text.splitlines()[0] else ","
        found[path.name] = list(csv.DictReader(text.splitlines(), delimiter=separator))
    return found


@pytest.fixture(scope="module")
def sales(files: dict[str, Rows]) -> Rows:
    """All sale lines with readable dates."""
    return [row for name, rows in files.items() if name.startswith("sales") and name != "sales-2025-03.csv" for row in rows]


def days(rows: Rows) -> set[date]:
    return {date.fromisoformat(row["date"]) for row in rows}


def test_about_sixty_thousand_lines_in_monthly_files(files: dict[str, Rows], sales: Rows) -> None:
    assert len([name for name in files if name.startswith("sales")]) == 34
    assert 58_000 < len(sales) + len(files["sales-2025-03.csv"]) < 62_000


def test_seasons_weekdays_a_leap_day_and_days_without_sales(sales: Rows) -> None:
    seen = days(sales)
    assert date(2024, 2, 29) in seen
    assert not any(day.weekday() == 6 for day in seen if day <= AS_OF)
    assert date(2025, 12, 25) not in seen
    months = Counter(row["date"][:7] for row in sales)
    assert months["2025-09"] > 1.4 * months["2025-07"]


def test_a_rep_joins_and_one_leaves(sales: Rows) -> None:
    of = defaultdict(set)
    for row in sales:
        of[row["rep"]].add(row["date"])
    assert min(of["M. Oduya"]) >= "2025-04-01" and max(of["S. Belmore"]) <= "2025-09-30"
    assert min(of["A. Corran"]) < "2024-01-10"


def test_an_area_closes_a_line_is_launched_and_one_dropped(files: dict[str, Rows], sales: Rows) -> None:
    city = {row["customer"]: row["city"] for row in files["customers.csv"]}
    closed = [row for row in sales if city[row["customer"]] == "LK1" and "2025-02-01" <= row["date"] <= "2025-05-31"]
    assert not closed and any(city[row["customer"]] == "LK1" and row["date"] > "2025-06-01" for row in sales)
    line = {row["product"]: row["line"] for row in files["products.csv"]}
    assert min(row["date"] for row in sales if line[row["product"]] == "Raku range") >= "2025-03-01"
    assert max(row["date"] for row in sales if line[row["product"]] == "Slip casting") <= "2024-10-31"


def test_returns_come_later_and_some_know_no_order(files: dict[str, Rows], sales: Rows) -> None:
    sold = {row["order"]: row["date"] for row in sales}
    returns = files["returns.csv"]
    assert len(returns) > 1000 and all(float(row["amount"]) >= 0 for row in returns)
    known = [row for row in returns if row["order"] in sold]
    assert all(row["return date"] > sold[row["order"]] for row in known)
    assert sum(row["order"] == "" for row in returns) > 20
    assert sum(row["order"].startswith("K-X") for row in returns) > 5


def test_pre_orders_are_dated_after_the_as_of_date(sales: Rows) -> None:
    ahead = [day for day in (date.fromisoformat(row["date"]) for row in sales) if day > AS_OF]
    assert len(ahead) == 37 and max(ahead) <= LAST_DAY
    assert max(days(sales) - set(ahead)) >= AS_OF - timedelta(1)


def test_an_order_has_lines_in_two_categories(files: dict[str, Rows], sales: Rows) -> None:
    category = {row["product"]: row["category"] for row in files["products.csv"]}
    of = defaultdict(set)
    for row in sales:
        of[row["order"]].add(category[row["product"]])
    assert any(len(found) > 1 for found in of.values())


def test_one_file_has_text_dates_and_one_repeats_lines(files: dict[str, Rows]) -> None:
    odd = files["sales-2025-03.csv"][0]
    assert odd["date"].endswith("Mar 2025") and "," in odd["amount"]
    lines = Counter(row["line"] for row in files["sales-2025-08.csv"])
    assert sum(times - 1 for times in lines.values()) == 12


def test_two_cities_share_a_name(files: dict[str, Rows]) -> None:
    codes = {row["city"] for row in files["customers.csv"] if row["city name"] == "Alder Ford"}
    assert len(codes) == 2


def test_the_generator_makes_any_number_of_lines() -> None:
    lines = make_lines(1_000_000, make_world(5000))
    assert 0.99e6 < len(lines) < 1.01e6
    assert (np.diff(lines.day) >= 0).all() and (np.diff(lines.order) >= 0).all()
    again = make_lines(1_000_000, make_world(5000))
    assert (lines.amount == again.amount).all()
