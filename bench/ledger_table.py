"""A ledger as the application holds it: opened from its columns, asked over HTTP, and what it takes of memory."""

from __future__ import annotations

import gzip
import json
import socket
import threading
import time
import urllib.request
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, replace
from datetime import UTC, datetime
from pathlib import Path
from tempfile import TemporaryDirectory
from types import SimpleNamespace
from typing import Any, cast

import numpy as np
import uvicorn
from numpy.typing import NDArray

from bench.timing import best
from bench.unasked import WORKERS, unasked
from lofty_abacus.actions.errors import UnreachableError
from lofty_abacus.actions.ports import Books, Office, OtherDatabase
from lofty_abacus.actions.records import Kept, LedgerHoldings, LedgerRecord, VersionRecord
from lofty_abacus.api.app import build_routes, make_app
from lofty_abacus.core.answer.answering import answer
from lofty_abacus.core.grouping.request import LineConventions, TotalsRequest
from lofty_abacus.core.grouping.source import ColumnsSource
from lofty_abacus.core.lines import Figure, LineColumns
from lofty_abacus.core.measures.sums import LineSum
from lofty_abacus.core.statement.ledger import LedgerFacts
from lofty_abacus.core.statement.levels import TimeLevel
from lofty_abacus.core.statement.statement import Opened, ShownMeasure, Statement
from lofty_abacus.core.windows.as_of import LastPostedDay, PinnedDay
from lofty_abacus.core.windows.bases import PeriodBase
from lofty_abacus.core.windows.current import Dates
from lofty_abacus.core.windows.ranges import DayRange, DaySet
from lofty_abacus.core.windows.stretches import RunningTotal
from lofty_abacus.demo.scenario import AS_OF, FIRST_DAY
from lofty_abacus.store.segment_build import narrowed, write_segment
from lofty_abacus.store.segment_files import Stretch, is_whole, mapped, read_manifest

#: What the issue's target names: 3 measures, 3 windows, 2 levels of rows and totals.
QUESTION = {
    "ledger": "bench",
    "statement": {
        "measures": [
            {"measure": "net_sales", "show": ["difference", "percent_change"]},
            {"measure": "orders"},
            {"measure": "units"},
        ],
        "rows": ["region", "rep"],
        "as_of": {"kind": "pinned", "day": AS_OF.isoformat()},
        "bases": [{"back": 1, "unit": "year"}, {"back": 2, "unit": "year"}],
    },
    "opened": {"depth": 2},
}


@dataclass(frozen=True)
class _Book:
    record: LedgerRecord
    facts: LedgerFacts
    lines: int
    source: ColumnsSource


def report(columns: LineColumns, facts: LedgerFacts) -> str:
    """The table as Markdown."""
    rows: list[str] = []

    def row(what: str, found: str, target: str = "") -> None:
        rows.append(f"| {what} | {found} | {target} |")

    with TemporaryDirectory(prefix="lofty-bench-") as home:
        folder = _written(columns, Path(home) / "columns")
        before = _resident()
        start = time.perf_counter()
        opened = _opened(columns, folder)
        row("opening from the columns, checksums verified", f"{time.perf_counter() - start:.2f} s", "<= 1 s at 10 million")
        source = ColumnsSource(opened, workers=WORKERS)
        with served(facts, source) as address:
            row("a statement over HTTP (JSON), the first of the process", f"{asked(address) * 1000:.0f} ms")
            again = best(lambda: asked(address))
        with served(facts, unasked(opened)) as address:
            # The first request of all makes the framework's own tables, whatever it asks.
            urllib.request.urlopen(f"{address}/api/health").close()
            cold = asked(address)
        row("a statement over HTTP (JSON), nothing remembered of it", f"{cold * 1000:.0f} ms", "<= 500 ms at 10 million")
        row("the same again", f"{again * 1000:.0f} ms")
        taken = (_resident() - before) / len(columns)
        row("memory taken by the process for it, a line", f"{taken:.1f} B", "< 40 B")
        every = sum(values.nbytes for values in _arrays(opened).values()) / len(columns)
        row("all columns, a line", f"{every:.1f} B", "< 40 B")
    months = Statement(
        (ShownMeasure("net_sales", ("difference",)), ShownMeasure("net_sales", (), RunningTotal("year"))),
        (TimeLevel("month"), "region"), Dates(FIRST_DAY), PinnedDay(AS_OF), (PeriodBase(1, "period"), PeriodBase(1, "year")),
    )  # fmt: skip
    seconds = best(lambda: answer(months, facts, unasked(columns), AS_OF, Opened(2)), 3)
    row("a series: 34 months x region, 2 bases, running totals", f"{seconds * 1000:.0f} ms")
    _returns(columns, row)
    return f"## A ledger of {len(columns):,} lines\n\n| what | measured | target |\n|---|---|---|\n" + "\n".join(rows) + "\n"


def _returns(columns: LineColumns, row: Any) -> None:
    """What the second order of the lines costs: returns on the days of their sales."""
    every = DaySet((DayRange(FIRST_DAY, AS_OF),))
    request = TotalsRequest((every,), ("region",), (), frozenset({LineSum("amount", "all")}))
    returned = _with_returns(columns)
    plain = best(lambda: unasked(returned).totals(request), 3)
    how = LineConventions(int(returned.day[-1]) + returned.first_day, returns="sale_day")
    source = ColumnsSource(returned, workers=WORKERS)
    start = time.perf_counter()
    source.read_by(how)
    made = time.perf_counter() - start
    placed = best(lambda: unasked(source.read_by(how).segments).totals(request), 3)
    row("returns on the sale's day: made once a version (1 line in 50 is a return)", f"{made:.1f} s")
    row("region totals on that order, against returns on their own day", f"{placed / plain:.2f}x")


def _with_returns(columns: LineColumns) -> LineColumns:
    """The same lines with every 50th one a return of the order 200 lines before it."""
    at = np.arange(200, len(columns), 50)
    side, amount = columns.side.copy(), columns.amount.copy()
    side[at], amount[at] = 1, -np.abs(amount[at]) // 10
    order = columns.dimensions["order"]
    codes = order.codes.copy()
    codes[at] = codes[at - 200]
    by_day = np.lexsort((codes, columns.day))
    found = replace(columns, side=side, amount=amount, dimensions={**columns.dimensions, "order": replace(order, codes=codes)})
    return found.taken(by_day)


def _arrays(columns: LineColumns) -> dict[str, NDArray[Any]]:
    found: dict[str, NDArray[Any]] = {name: getattr(columns, name) for name in ("day", "side", "amount", "line_id")}
    found |= {name: each.values for name, each in columns.figures.items()}
    return found | {f"code-{name}": each.codes for name, each in columns.dimensions.items()}


def _written(columns: LineColumns, home: Path) -> Path:
    arrays = _arrays(columns)
    arrays["line_id"] = arrays["line_id"].astype(np.uint32)
    arrays["quantity"] = narrowed(arrays["quantity"])
    holds = [Stretch(int(columns.line_id.min()), int(columns.line_id.max()), 1)]
    numbers = {name: at for at, name in enumerate(columns.dimensions)}
    return write_segment(home, 1, arrays, columns.first_day, (2, 0), holds, {1: "bench"}, numbers, {}, {})


def _opened(columns: LineColumns, folder: Path) -> LineColumns:
    manifest = read_manifest(folder)
    assert manifest is not None and is_whole(folder, manifest), "the columns are whole"
    arrays = mapped(folder, manifest)
    dimensions = {name: replace(each, codes=arrays[f"code-{name}"]) for name, each in columns.dimensions.items()}
    own = {name: arrays[name] for name in ("day", "side", "amount", "line_id")}
    figures = {name: Figure(arrays[name]) for name in columns.figures}
    return replace(columns, dimensions=dimensions, figures=figures, largest=manifest.largest, remembered={}, **own)  # type: ignore[arg-type]


def _no_database(*_: object) -> None:
    """The ledger of the bench is in no database: its answers are not checked against one."""
    raise UnreachableError


#: The time at which a ledger of the bench is asked.
_NOW = datetime(2026, 11, 1, tzinfo=UTC)


def office_of(facts: LedgerFacts, source: ColumnsSource) -> Office:
    """An office with this ledger as its only one, without a database."""
    record = LedgerRecord(1, "bench", facts.currency, "UTC", LastPostedDay(), 1)
    count = len(source)
    batches = [SimpleNamespace(lines=count, active=True, kind="sales")]
    books = SimpleNamespace(
        opened=lambda name, version=None, without=(): _Book(record, facts, count, source),
        ledgers=lambda: [record],
        ledger=lambda name: record,
        facts=lambda number, version=None: facts,
        holdings=lambda number: LedgerHoldings(count, 1, 1, 0, 0),
        saved_statements=lambda number: Kept(()),
        versions=lambda number: [VersionRecord(facts.version, _NOW, "", "posted", count, "0")],
        verify_columns=lambda number=None: 0,
        batches=lambda number: batches,
        posted_totals=_no_database,
        languages=(),
    )
    nowhere = Path("/nonexistent/staging")
    return Office(cast(Books, books), lambda: _NOW, nowhere, nowhere, cast(OtherDatabase, None))


@contextmanager
def served(facts: LedgerFacts, source: ColumnsSource, web: Path | None = None) -> Iterator[str]:
    """The application on loopback, with this ledger as its only one. web: the front end's folder, where it is wanted."""
    office = office_of(facts, source)
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    app = make_app(office, web)
    build_routes(app)  # as at a start
    server = uvicorn.Server(uvicorn.Config(app, host="127.0.0.1", port=port, log_level="error"))
    thread = threading.Thread(target=server.run, daemon=True)
    thread.start()
    while not server.started:
        time.sleep(0.01)
    try:
        yield f"http://127.0.0.1:{port}"
    finally:
        server.should_exit = True
        thread.join(10)


def asked(address: str) -> float:
    """Seconds of the question over HTTP."""
    body = json.dumps(QUESTION).encode()
    headers = {"Content-Type": "application/json", "Accept-Encoding": "gzip"}
    start = time.perf_counter()
    with urllib.request.urlopen(urllib.request.Request(f"{address}/api/answers", body, headers)) as response:
        raw = response.read()
        found = json.loads(gzip.decompress(raw) if response.headers.get("Content-Encoding") == "gzip" else raw)
    seconds = time.perf_counter() - start
    assert found["total"]["cells"][0]["value"], "it is answered"
    return seconds


def _resident() -> int:
    """Bytes of memory that this process holds now."""
    status = Path("/proc/self/status").read_text()
    return next(int(line.split()[1]) * 1024 for line in status.splitlines() if line.startswith("VmRSS"))
