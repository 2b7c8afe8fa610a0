"""Nasty generated ledgers through intake: leap days, month ends, gaps, negative totals, one-sided members, odd names."""

from __future__ import annotations

import csv
import random
from dataclasses import replace
from datetime import date, timedelta
from pathlib import Path

import pytest

from lofty_abacus.actions.intake.post_files import post_files
from lofty_abacus.actions.intake.stage_files import map_file, stage_files
from lofty_abacus.actions.ledgers.make_ledger import make_ledger
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import NewLedger
from lofty_abacus.core.windows.bases import PeriodBase
from tests.conftest import quiet
from tests.oracle.comparing import Case, compare_all

REGIONS = ["North", "north", "Nörd", "North.", "", "Élan", "Elan", "名古屋", "🏺 Clay"]
REPS = ["Ada", "ada", "A\\N", "\\N", "Bo\tTab", 'Qu"ote', "Semi;colon", "Line\nbreak", "-5", "NULL", "%", "O'Neil", ""]
DAYS = [
    date(2024, 2, 28), date(2024, 2, 29), date(2024, 3, 1), date(2024, 3, 31), date(2024, 4, 30), date(2024, 12, 31),
    date(2025, 1, 1), date(2025, 2, 28), date(2025, 3, 1), date(2025, 3, 30), date(2025, 3, 31), date(2025, 4, 30),
    date(2026, 1, 1), date(2026, 2, 28), date(2026, 3, 1), date(2026, 3, 30), date(2026, 3, 31), date(2026, 12, 31),
]  # fmt: skip
D, Y = date, PeriodBase


def write(path: Path, seed: int, lines: int = 700) -> None:
    chance = random.Random(seed)
    with path.open("w", encoding="utf-8", newline="") as file:
        writer = csv.writer(file)
        writer.writerow(["date", "order", "region", "rep", "product", "customer", "quantity", "amount", "cost"])
        for _ in range(lines):
            day = chance.choice(DAYS) if chance.random() < 0.6 else D(2024, 1, 1) + timedelta(chance.randrange(1090))
            if D(2025, 8, 1) <= day <= D(2025, 10, 31):
                continue
            amount = chance.choice(
                ["0", "0.00", "-0.01", "1", f"{chance.randrange(-90000, 60000) / 100:.2f}", f"{chance.randrange(99)}.125"]
            )
            writer.writerow(
                [
                    day.isoformat(),
                    chance.choice(["", *(f"O{n}" for n in range(120))]),
                    # Members that live in one year only: new in one comparison and lost in another.
                    chance.choice(REGIONS) if chance.random() < 0.9 else f"Only {day.year}",
                    chance.choice(REPS),
                    chance.choice(["P1", "P2", "P3", ""]),
                    chance.choice(["C1", "C2", "C3", "C4", ""]),
                    chance.choice(["", "-1", "0", "1", "2.5", "12"]),
                    amount,
                    chance.choice(["", "0.5", "3", "-1.25"]),
                ]
            )


CASES = [
    Case("year", D(2025, 2, 28), ("region", "rep"), (Y(1, "year"),), ((D(2025, 1, 1), D(2025, 2, 28)), (D(2024, 1, 1), D(2024, 2, 29)))),
    Case("year", D(2026, 12, 31), ("rep", "region", "product"), (Y(1, "year"), Y(2, "year")),
         ((D(2026, 1, 1), D(2026, 12, 31)), (D(2025, 1, 1), D(2025, 12, 31)), (D(2024, 1, 1), D(2024, 12, 31)))),
    Case("month", D(2026, 3, 30), ("region",), (Y(1, "month"), Y(1, "year")),
         ((D(2026, 3, 1), D(2026, 3, 30)), (D(2026, 2, 1), D(2026, 2, 28)), (D(2025, 3, 1), D(2025, 3, 30)))),
    Case("month", D(2025, 4, 30), ("rep",), (Y(1, "month"),), ((D(2025, 4, 1), D(2025, 4, 30)), (D(2025, 3, 1), D(2025, 3, 31)))),
    Case("quarter", D(2025, 10, 31), ("customer", "rep"), (Y(1, "quarter"), Y(1, "year")),
         ((D(2025, 10, 1), D(2025, 10, 31)), (D(2025, 7, 1), D(2025, 7, 31)), (D(2024, 10, 1), D(2024, 10, 31)))),
    Case("week", D(2026, 1, 1), ("region",), (Y(1, "week"),), ((D(2025, 12, 29), D(2026, 1, 1)), (D(2025, 12, 22), D(2025, 12, 25)))),
]  # fmt: skip


@pytest.mark.parametrize("seed", [1, 2, 3])
def test_every_cell_equals_sql(office: Office, tmp_path: Path, seed: int) -> None:
    name = f"generated {seed}"
    make_ledger(office, NewLedger(name))
    write(tmp_path / "lines.csv", seed)
    staging = stage_files(office, name, [("lines.csv", tmp_path / "lines.csv")])
    mapping = staging.files[0].mapping
    assert mapping is not None
    map_file(office, staging.id, 0, replace(mapping, covers_from="2024-01-01", covers_through="2026-12-31"))
    post_files(office, staging.id, quiet)
    assert sum(compare_all(office, name, case) for case in CASES) > 5000
