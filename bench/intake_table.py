"""Intake against a bare load of the same lines into the same MariaDB, and its memory for a file of any size."""

from __future__ import annotations

import resource
import statistics
import time
from datetime import UTC, datetime
from pathlib import Path

from sqlalchemy import Engine

from lofty_abacus.actions.intake.post_files import post_files
from lofty_abacus.actions.intake.stage_files import no_progress, stage_files
from lofty_abacus.actions.ledgers.make_ledger import make_ledger
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import NewLedger
from lofty_abacus.server import mariadb
from lofty_abacus.store.engine import transaction
from lofty_abacus.store.other_database import ReadOnlyDatabase
from lofty_abacus.wiring import collect_seldom, now, open_books

#: Hundredths of a second of the processor in half a second, below which a MariaDB is idle; and how long that is waited for.
IDLE_TICKS, LONGEST_WAIT = 3, 60.0
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


def report(home: Path, count: int, pairs: int) -> str:
    """The comparison as Markdown: a bare load and an import by turns, each into a table or ledger of its own."""
    path = home / "lines.csv"
    write_csv(path, count)
    collect_seldom()
    found: list[tuple[float, float, float]] = []
    with mariadb.in_use(home / "mariadb") as running:
        books = open_books(running.url, home / "columns", now)
        for folder in ("staging", "inbox"):
            (home / folder).mkdir()
        office = Office(books, lambda: datetime.now(UTC), home / "staging", home / "inbox", ReadOnlyDatabase())
        before = _megabytes()
        for number in range(pairs):
            wait_until_idle(running.pid)
            bare = load_bare(books.engine, path)
            ledger = make_ledger(office, NewLedger(f"bench {number}")).name
            wait_until_idle(running.pid)
            found.append((bare, *_imported(office, ledger, path)))
        peak = _megabytes()
        books.close()
    size = path.stat().st_size / (1 << 20)
    steps = {
        "a bare LOAD DATA LOCAL INFILE": [bare for bare, _, _ in found],
        "read and recognised": [staged for _, staged, _ in found],
        "checked and loaded": [posted for _, _, posted in found],
        "all of an import": [staged + posted for _, staged, posted in found],
    }
    ratios = [(staged + posted) / bare for bare, staged, posted in found]
    told = [f"| {name} | {_spread(seconds, 's', 1)} |" for name, seconds in steps.items()]
    told.append(f"| an import against the bare load before it (target <= 1.8) | {_spread(ratios, 'x', 2)} |")
    rows = "\n".join(told)
    return (
        f"## Intake of {count:,} lines of CSV, 12 columns, {size:,.0f} MB, {pairs} times by turns\n\n"
        f"| what | median (least, most) |\n|---|---|\n{rows}\n\n"
        f"Most memory of this process: {peak:,.0f} MB, {before:,.0f} MB before it began (target for 2 GB: < 1,500 MB)\n"
    )


def _imported(office: Office, ledger: str, path: Path) -> tuple[float, float]:
    """Seconds until a file is read and recognised, and from there until its lines are posted."""
    start = time.perf_counter()
    staging = stage_files(office, ledger, [(path.name, path)]).id
    staged = time.perf_counter()
    post_files(office, staging, no_progress)
    return staged - start, time.perf_counter() - staged


def load_bare(engine: Engine, path: Path) -> float:
    """Seconds that the file takes into a plain table without any key: as little as MariaDB can do with it."""
    with transaction(engine) as connection:
        connection.exec_driver_sql(_BARE)
    start = time.perf_counter()
    with transaction(engine) as connection:
        connection.exec_driver_sql(
            f"LOAD DATA LOCAL INFILE '{path}' INTO TABLE bare CHARACTER SET utf8mb4 FIELDS TERMINATED BY ',' IGNORE 1 LINES"
        )
    seconds = time.perf_counter() - start
    with transaction(engine) as connection:
        connection.exec_driver_sql("DROP TABLE bare")
    return seconds


def wait_until_idle(process: int) -> None:
    """Until MariaDB has written what came before to its files: neither of the two is to pay for the other."""

    def used() -> int:
        fields = Path(f"/proc/{process}/stat").read_text().rpartition(")")[2].split()
        return int(fields[11]) + int(fields[12])

    before, until = -IDLE_TICKS, time.monotonic() + LONGEST_WAIT
    while (now_used := used()) - before >= IDLE_TICKS and time.monotonic() < until:
        before = now_used
        time.sleep(0.5)


def _spread(values: list[float], unit: str, decimals: int) -> str:
    middle, least, most = (f"{each:.{decimals}f}" for each in (statistics.median(values), min(values), max(values)))
    return f"{middle} {unit} ({least}, {most})"


def _megabytes() -> float:
    return resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
