"""Intake against a bare load of the same lines into the same MariaDB, and its memory for a file of any size."""

from __future__ import annotations

import resource
import time
from collections.abc import Callable
from datetime import UTC, datetime
from pathlib import Path

from sqlalchemy import text

from lofty_abacus.actions.intake.check_files import check_files
from lofty_abacus.actions.intake.post_files import post_files
from lofty_abacus.actions.intake.stage_files import no_progress, stage_files
from lofty_abacus.actions.ledgers.make_ledger import make_ledger
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import NewLedger
from lofty_abacus.server import mariadb
from lofty_abacus.store.books import MariaDbBooks
from lofty_abacus.store.engine import transaction
from lofty_abacus.store.other_database import ReadOnlyDatabase
from lofty_abacus.wiring import now, open_books

HEADINGS = "date,order,line,rep,region,product,customer,channel,quantity,amount,cost,city"
_BARE = (
    "CREATE TABLE bare (day DATE, ord VARCHAR(40), line VARCHAR(40), rep VARCHAR(40), region VARCHAR(40), product VARCHAR(40),"
    " customer VARCHAR(40), channel VARCHAR(40), quantity DECIMAL(19,2), amount DECIMAL(19,2), cost DECIMAL(19,2),"
    " city VARCHAR(40)) ENGINE=InnoDB CHARSET=utf8mb4"
)


def write_csv(path: Path, count: int) -> None:
    """A file of 12 columns and so many lines, three to an order."""
    with path.open("w") as file:
        file.write(f"{HEADINGS}\n")
        for n in range(count):
            file.write(
                f"2026-0{n % 9 + 1}-{n % 28 + 1:02d},O-{n // 3},L-{n:08d},Rep {n % 40},Region {n % 7},P-{n % 300:03d},"
                f"C-{n % 20000},Trade {n % 4},{n % 12 + 1},{n % 977}.{n % 100:02d},{n % 577}.{n % 100:02d},City {n % 90}\n"
            )


def report(home: Path, count: int) -> str:
    """The comparison as Markdown."""
    path = home / "lines.csv"
    write_csv(path, count)
    with mariadb.in_use(home / "mariadb") as running:
        books = open_books(running.url, home / "columns", now)
        for folder in ("staging", "inbox"):
            (home / folder).mkdir()
        office = Office(books, lambda: datetime.now(UTC), home / "staging", home / "inbox", ReadOnlyDatabase())
        make_ledger(office, NewLedger("bench"))
        with transaction(books.engine) as connection:
            connection.execute(text(_BARE))
        bare = _seconds(lambda: _load_bare(books, path))
        before = _megabytes()
        steps: list[tuple[str, float]] = []
        staging = None

        def stage() -> None:
            nonlocal staging
            staging = stage_files(office, "bench", [(path.name, path)])

        steps.append(("staged", _seconds(stage)))
        assert staging is not None
        number = staging.id
        steps.append(("checked", _seconds(lambda: check_files(office, number))))
        steps.append(("posted", _seconds(lambda: post_files(office, number, no_progress))))
        peak = _megabytes()
        books.engine.dispose()
    whole = sum(seconds for _, seconds in steps)
    size = path.stat().st_size / (1 << 20)
    rows = "".join(f"| {name} | {seconds:.1f} | {seconds / bare:.2f} |\n" for name, seconds in steps)
    return (
        f"## Intake of {count:,} lines of CSV, 12 columns, {size:,.0f} MB\n\n"
        f"A bare LOAD DATA LOCAL INFILE of the same file: {bare:.1f} s\n\n"
        "| step | s | ratio to the bare load |\n|---|---|---|\n"
        f"{rows}| all (target <= 3) | {whole:.1f} | {whole / bare:.2f} |\n\n"
        f"Most memory of this process: {peak:,.0f} MB, {before:,.0f} MB before it began (target for 2 GB: < 1,500 MB)\n"
    )


def _load_bare(books: MariaDbBooks, path: Path) -> None:
    with transaction(books.engine) as connection:
        connection.exec_driver_sql(
            f"LOAD DATA LOCAL INFILE '{path}' INTO TABLE bare CHARACTER SET utf8mb4 FIELDS TERMINATED BY ',' IGNORE 1 LINES"
        )


def _seconds(work: Callable[[], object]) -> float:
    start = time.perf_counter()
    work()
    return time.perf_counter() - start


def _megabytes() -> float:
    return resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
