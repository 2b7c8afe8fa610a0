"""Against hand-written SQL on the same MariaDB in the same run, without and with a covering index."""

from __future__ import annotations

import time
from collections.abc import Callable
from datetime import UTC, datetime
from pathlib import Path

from sqlalchemy import Engine, text

from bench.kernels_table import NET, ORDERS, five_windows
from bench.ledgers import generated
from bench.timing import best
from bench.unasked import WORKERS, unasked
from lofty_abacus.actions.records import NewLedger
from lofty_abacus.core.days import day_of
from lofty_abacus.core.grouping.request import TotalsRequest
from lofty_abacus.core.grouping.source import ColumnsSource
from lofty_abacus.core.measures.sums import Quantity
from lofty_abacus.server import mariadb
from lofty_abacus.store import bulk, ledgers, line_tables
from lofty_abacus.store.engine import transaction
from lofty_abacus.wiring import now, open_books


def report(home: Path, count: int) -> str:
    """The comparison as Markdown."""
    lines, columns, _ = generated(count)
    with mariadb.in_use(home / "mariadb") as running:
        books = open_books(running.url, home / "columns", now)
        ledger_id = ledgers.make_ledger(books.engine, NewLedger("bench"))
        table = line_tables.line_table(ledger_id)
        names = ("rep", "product", "order")
        with transaction(books.engine) as connection:
            line_tables.add_dimension_columns(connection, ledger_id, names)
            codes = [columns.dimensions[name].codes.tolist() for name in names]
            days = {number: day_of(number).isoformat() for number in set(lines.day.tolist())}
            start = time.perf_counter()
            bulk.load_rows(
                connection,
                table,
                ("batch_id", "file_row", "day", "is_return", "amount", *(line_tables.code_column(name) for name in names)),
                (
                    (1, at, days[day], 0, f"{cents // 100}.{cents % 100:02d}", *row)
                    for at, (day, cents, *row) in enumerate(
                        zip(lines.day.tolist(), lines.amount.tolist(), *codes, strict=True), start=2
                    )
                ),
            )
            loaded = time.perf_counter() - start
        source = ColumnsSource(columns, workers=WORKERS)
        questions: list[tuple[str, str, tuple[Quantity, ...]]] = [
            ("5 windows x rep x product, net sales", _sums_sql(table), (NET,)),
            ("5 windows x rep, distinct orders", _orders_sql(table), (ORDERS,)),
        ]
        found = []
        plain = {name: best(lambda sql=sql: _ask(books.engine, sql), 2) for name, sql, _ in questions}
        with transaction(books.engine) as connection:
            connection.execute(text(f"CREATE INDEX covering ON {table} (day, rep_code, product_code, order_code, amount)"))
            connection.execute(text(f"ANALYZE TABLE {table}"))
        covering = {name: best(lambda sql=sql: _ask(books.engine, sql), 2) for name, sql, _ in questions}
        for name, _, what in questions:
            rows = ("rep", "product") if NET in what else ("rep",)
            request = TotalsRequest(five_windows(), rows, (), frozenset(what))
            ours = best(_cold(source, request))
            found.append(
                f"| {name} | {ours * 1000:.1f} | {plain[name] * 1000:.0f} | {plain[name] / ours:.0f}x |"
                f" {covering[name] * 1000:.0f} | {covering[name] / ours:.0f}x |"
            )
        books.engine.dispose()
    when = datetime.now(UTC).date()
    return (
        f"## Against hand-written SQL, {len(lines):,} lines ({when}; loaded in {loaded:.1f} s)\n\n"
        "| question | ours, ms | SQL, ms | ratio (target >= 100x) | with covering index, ms | ratio (target >= 50x) |\n"
        "|---|---|---|---|---|---|\n" + "\n".join(found) + "\n"
    )


def _cold(source: ColumnsSource, request: TotalsRequest) -> Callable[[], object]:
    return lambda: unasked(source.segments.first).totals(request)


def _ask(engine: Engine, sql: str) -> object:
    with engine.connect() as connection:
        return connection.execute(text(sql)).all()


def _windows_sql() -> list[str]:
    return [f"day BETWEEN '{each.ranges[0].first}' AND '{each.ranges[0].last}'" for each in five_windows()]


def _sums_sql(table: str) -> str:
    sums = ", ".join(f"SUM(IF({window}, amount, 0)) w{at}" for at, window in enumerate(_windows_sql()))
    return f"SELECT rep_code, product_code, {sums} FROM {table} GROUP BY rep_code, product_code"


def _orders_sql(table: str) -> str:
    counts = ", ".join(
        f"COUNT(DISTINCT IF({window} AND is_return = 0, order_code, NULL)) w{at}" for at, window in enumerate(_windows_sql())
    )
    return f"SELECT rep_code, {counts} FROM {table} GROUP BY rep_code"
