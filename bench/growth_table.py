"""A large ledger that grows, on the path that people take: imported by command line, then posted to and asked over HTTP.

Each figure is the time from the request to the new numbers: whatever is made ready in between is part of it.
"""

from __future__ import annotations

import os
import re
import shutil
import statistics
import subprocess
import sys
import threading
import time
import urllib.error
import urllib.parse
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import date, timedelta
from functools import partial
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
import pyarrow.csv as pa_csv
from numpy.typing import NDArray

from bench.crowd_table import ROOT, call, done, drop, served, until_read
from bench.intake_table import load_bare, wait_until_idle
from bench.kernels_table import NET, cold, five_windows
from bench.page_table import measured
from bench.timing import best
from lofty_abacus.core.lines import DimensionColumn, LineColumns, Members
from lofty_abacus.core.segments import Segments
from lofty_abacus.server import mariadb
from lofty_abacus.store.engine import connect
from lofty_abacus.store.segment_files import mapped, segments_in

HEADINGS = "date,order,line,rep,region,product,customer,channel,quantity,amount,cost,city"
LEDGER = "Growing"
FIRST_DAY, DAYS = date(2024, 1, 1), 1021
#: Lines of a file: a large ledger is imported month by month.
LINES_A_FILE = 3_000_000
POSTED, POSTINGS = 10_000, 5
QUESTION = {
    "ledger": LEDGER,
    "statement": {
        "measures": [{"measure": "net_sales", "show": ["difference", "percent_change"]}, {"measure": "orders"}],
        "rows": ["region", "rep"],
        "bases": [{"back": 1, "unit": "year"}, {"back": 2, "unit": "year"}],
    },
    "opened": {"depth": 2, "paths": []},
}


def write_lines(path: Path, first: int, count: int, whole: int) -> None:
    """Lines number `first` and so on of so many, in the order of days, three to an order."""
    at = np.arange(first, first + count, dtype=np.int64)
    order = at // 3
    mixed = (order * 2654435761) & 0xFFFFFFFF
    day = (FIRST_DAY - date(1970, 1, 1)).days + np.minimum(DAYS, at * DAYS // whole)

    def text(numbers: NDArray[np.int64], before: str = "", width: int = 0) -> pa.Array:
        found = pa.array(numbers).cast(pa.string())
        return pc.binary_join_element_wise(before, pc.utf8_lpad(found, width, "0") if width else found, "")

    def decimals(units: NDArray[np.int64]) -> pa.Array:
        return pc.binary_join_element_wise(text(units), text(at % 100, width=2), ".")

    columns = [
        pa.array(day.astype(np.int32)).cast(pa.date32()),
        text(order, "O-"),
        text(at, "L-", 9),
        text(mixed % 40, "Rep "),
        text(mixed % 7, "Region "),
        text((mixed >> 3) % 300, "P-", 3),
        text((mixed >> 5) % 20000, "C-"),
        text(mixed % 4, "Trade "),
        text(at % 12 + 1),
        decimals(at % 977),
        decimals(at % 577),
        text(mixed % 90, "City "),
    ]
    options = pa_csv.WriteOptions(include_header=False, quoting_style="none")
    with path.open("wb") as file:
        file.write(f"{HEADINGS}\n".encode())
        pa_csv.write_csv(pa.table(columns, HEADINGS.split(",")), file, options)


def report(home: Path, count: int) -> str:
    """The table as Markdown. home: an empty folder with room for the lines (about 300 bytes each)."""
    rows: list[str] = []

    def row(what: str, found: str, target: str = "") -> None:
        rows.append(f"| {what} | {found} | {target} |")

    found = imported(home, count)
    row("imported by command line", f"{found.seconds:.0f} s, {count / found.seconds:,.0f} lines/s", ">= 100,000 lines/s")
    ratios = f"{statistics.median(found.ratios):.2f} x ({min(found.ratios):.2f}, {max(found.ratios):.2f})"
    row("each file, from the command to its end, against a bare load of it before: median (least, most)", ratios, "<= 1.8 x")
    row("most memory of the importing process", f"{found.peak:,.0f} MB", "<= 1,000 MB")
    with served(home) as address:
        process = _process_of(home)
        start = time.perf_counter()
        until_read(lambda: _ask(address))
        row("the first answer: lines that were imported before it are read and sorted", _ms(time.perf_counter() - start))
        row("memory of the application after it, without what is mapped", f"{_memory(process):,.0f} MB", "<= 6,000 MB")
        asked = [_timed(partial(_ask, address, day)) for day in range(8)]
        row("a whole answer, each of another as-of date", _spread(asked), "")
        _postings(address, count, process, row)
        _changes(address, process, row)
        row("memory of the application, without what is mapped", f"{_memory(process):,.0f} MB")
        row("key to numbers on the page in Chromium, median of 31", _page(address), "<= 1,500 ms at 100 million")
        sizes = [path for path in (home / "state" / "columns").glob("ledger-*/segment-*") if path.is_dir()]
        row("segments on disk at the end", f"{len(sizes)}")
    row("5 windows x rep x product, the lines alone", _ms(_kernel(home)), "<= 400 ms at 100 million")
    return f"## A ledger of {count:,} lines that grows\n\n| what | measured | target |\n|---|---|---|\n" + "\n".join(rows) + "\n"


def in_a_row(home: Path, count: int) -> str:
    """Files, memory and the time of an answer while postings follow each other, as Markdown."""
    imported(home, 50_000)
    rows = []
    with served(home) as address:
        process = _process_of(home)
        taken: list[float] = []
        asked: list[float] = []
        for number in range(1, count + 1):
            start = time.perf_counter()
            _post_new(address, 50_000 + number * 50, 50, number)
            taken.append(time.perf_counter() - start)
            asked.append(_timed(partial(_ask, address)))
            if number % (count // 5) == 0:
                folders = [path for path in (home / "state" / "columns").glob("ledger-*/*") if path.is_dir()]
                rows.append(f"| {number} | {len(folders)} | {_memory(process):,.0f} MB | {_spread(taken)} | {_spread(asked)} |")
                taken, asked = [], []
    title = f"## {count} postings in a row"
    head = f"{title}\n\n| postings | segments | memory | a posting | an answer after it |\n|---|---|---|---|---|\n"
    return head + "\n".join(rows) + "\n"


def _post_new(address: str, first: int, lines: int, number: int) -> None:
    with TemporaryDirectory(prefix="lofty-bench-") as folder:
        path = Path(folder) / "more.csv"
        write_lines(path, first, lines, first + lines)
        content = path.read_bytes()
    staged = done(address, drop(address, f"more-{number}.csv", content, LEDGER))["staging"]["id"]
    done(address, call(address, f"/api/stagings/{staged}/posting", {}))


def _page(address: str) -> str:
    """Of key presses on the open page, as `page_table` measures them."""
    cells = measured(LEDGER, f"{address}/figures?{urllib.parse.urlencode({'ledger': LEDGER})}", 1500).split("|")
    return f"{cells[6].strip()}, 9 in 10 within {cells[7].strip()}; usable after {cells[2].strip()}"


def _kernel(home: Path) -> float:
    """Seconds of a question on the segments of the ledger as they lie on the disk, when nothing is remembered of it."""
    parts = []
    held = segments_in(max((home / "state" / "columns").glob("ledger-*"), key=lambda each: len(list(each.iterdir()))))
    sizes = {
        name: 1 + max(int(mapped(path, each)[f"code-{name}"].max()) for path, each in held.items()) for name in ("rep", "product")
    }
    for path, manifest in held.items():
        arrays = mapped(path, manifest)
        known = {name: Members(size, lambda: ([], [])) for name, size in sizes.items()}
        parts.append(
            LineColumns(
                first_day=manifest.first_day,
                **{name: arrays[name] for name in ("day", "side", "amount", "line_id")},  # type: ignore[arg-type]
                dimensions={name: DimensionColumn(arrays[f"code-{name}"], each) for name, each in known.items()},
                levels={},
                largest=manifest.largest,
            )
        )
    return best(cold(Segments(tuple(parts)), five_windows(), ("rep", "product"), NET), 3)


@dataclass(frozen=True)
class Imported:
    """Seconds that the imports took; the most megabytes that one of them held; each file's time against a bare load of it."""

    seconds: float
    peak: float
    ratios: tuple[float, ...]


def imported(home: Path, count: int) -> Imported:
    """Import so many lines by command line, file by file."""
    seconds = peak = 0.0
    ratios = []
    for first in range(0, count, LINES_A_FILE):
        size = min(LINES_A_FILE, count - first)
        path = home / f"lines-{first}.csv"
        write_lines(path, first, size, count)
        bare = _bare(home, path)
        command = [sys.executable, "-m", "lofty_abacus", "import", str(path), "--ledger", LEDGER]
        start = time.perf_counter()
        process = subprocess.Popen(
            command,
            cwd=ROOT,
            env=environment(home),
            stdout=subprocess.DEVNULL,
            stderr=subprocess.PIPE,
        )
        with _watched(process.pid) as most:
            _, said = process.communicate()
        if process.returncode:
            raise RuntimeError(said.decode(errors="replace")[-2000:])
        taken = time.perf_counter() - start
        seconds, ratios = seconds + taken, [*ratios, taken / bare]
        peak = max(peak, most[0])
        path.unlink()
    return Imported(seconds, peak, tuple(ratios))


def _bare(home: Path, path: Path) -> float:
    """Seconds that a bare load of a file takes in a MariaDB of its own."""
    with mariadb.in_use(home / "bare") as running:
        engine = connect(running.url)
        wait_until_idle(running.pid)
        try:
            return load_bare(engine, path)
        finally:
            engine.dispose()


def environment(home: Path) -> dict[str, str]:
    """As on a user's machine, where what was compiled once is kept."""
    found = os.environ | {"LOFTY_HOME": str(home / "state")}
    found.pop("PYTHONDONTWRITEBYTECODE", None)
    return found


def _postings(address: str, count: int, process: int, row: Callable[..., None]) -> None:
    """Files of new lines one after the other, each until its numbers are there."""
    taken, ready, before = [], [], _memory(process)
    with _watched(process) as most:
        for number in range(POSTINGS):
            start = time.perf_counter()
            _post_new(address, count + number * POSTED, POSTED, number)
            posted = time.perf_counter()
            version = _ask(address)
            taken.append(time.perf_counter() - start)
            ready.append(time.perf_counter() - posted)
            if version != _current(address):
                raise RuntimeError("the newest version is not read")
    row(f"{POSTED:,} lines dropped, read, checked, posted and in new numbers", _spread(taken), "<= 2,000 ms")
    row("of that, from posted to new numbers", _spread(ready))
    row("memory for it, at most", f"{most[0] - before:,.0f} MB", "<= 300 MB")


def _changes(address: str, process: int, row: Callable[..., None]) -> None:
    """A line corrected, a batch withdrawn and restored."""
    before = _memory(process)
    with _watched(process) as most:
        corrected = [_timed(partial(_correct, address, line)) for line in (5, 6, 7)]
        batches = call(address, f"/api/ledger/batches?name={LEDGER}")
        batch = next(each["id"] for each in batches if each["lines"] == POSTED)
        named = {"ledger": LEDGER, "batch": batch}
        withdrawn = [_timed(lambda: (call(address, "/api/ledger/withdrawals", named | {"leave_hole": False}), _ask(address)))]
        restored = [_timed(lambda: (call(address, "/api/ledger/restorations", named), _ask(address)))]
    row("a line corrected, until the new numbers", _spread(corrected), "<= 1,000 ms")
    row("a batch withdrawn, until the new numbers", _spread(withdrawn), "<= 1,000 ms")
    row("the same restored", _spread(restored), "<= 1,000 ms")
    row("memory for these, at most", f"{most[0] - before:,.0f} MB", "<= 300 MB")


def _correct(address: str, line: int) -> None:
    body = {"ledger": LEDGER, "line": line, "reason": "typed wrong", "change": {"amount": "1.00"}}
    call(address, "/api/ledger/corrections", body)
    _ask(address)


def _ask(address: str, back: int = 0) -> int:
    """Ask the question as of some days back; the version that answered."""
    statement: dict[str, Any] = {**QUESTION["statement"]}  # type: ignore[dict-item]
    if back:
        day = FIRST_DAY + timedelta(DAYS - back)
        statement["as_of"] = {"kind": "pinned", "day": day.isoformat()}
    found = call(address, "/api/answers", {**QUESTION, "statement": statement})
    return int(found["version"])


def _current(address: str) -> int:
    return int(next(each["version"] for each in call(address, "/api/ledgers") if each["name"] == LEDGER))


def _timed(work: Callable[[], object]) -> float:
    start = time.perf_counter()
    work()
    return time.perf_counter() - start


def _ms(seconds: float) -> str:
    return f"{seconds * 1000:,.0f} ms"


def _spread(taken: list[float]) -> str:
    return f"{_ms(statistics.median(taken))} (slowest {_ms(max(taken))})" if len(taken) > 1 else _ms(taken[0])


def _process_of(home: Path) -> int:
    """The application's process, by the folder that it works on."""
    wanted = f"LOFTY_HOME={home / 'state'}".encode()
    for path in Path("/proc").glob("[0-9]*"):
        try:
            told = (path / "environ").read_bytes().split(b"\0")
            if wanted in told and b"start" in (path / "cmdline").read_bytes().split(b"\0"):
                return int(path.name)
        except OSError:
            continue
    raise RuntimeError("the application is not there")


def _memory(process: int) -> float:
    """Megabytes of a process and those that it started for its work, as the system counts them, without mapped files."""
    found = 0
    for each in (process, *_started_by(process)):
        try:
            said = re.search(r"RssAnon:\s+(\d+) kB", Path(f"/proc/{each}/status").read_text())
            found += int(said[1]) if said else 0
        except OSError:
            continue
    return found / 1024


def _started_by(process: int) -> list[int]:
    """Python processes that another one started: MariaDB is not one of them."""
    try:
        children = [int(each) for each in Path(f"/proc/{process}/task/{process}/children").read_text().split()]
    except OSError:
        return []
    named = []
    for each in children:
        try:
            if "python" in Path(f"/proc/{each}/comm").read_text():
                named.append(each)
        except OSError:
            continue
    return named


@contextmanager
def _watched(process: int) -> Iterator[list[float]]:
    """The most memory of a process meanwhile, in the first place of a list."""
    most, ended = [_memory(process)], threading.Event()

    def watch() -> None:
        while not ended.wait(0.02):
            most[0] = max(most[0], _memory(process))

    thread = threading.Thread(target=watch, daemon=True)
    thread.start()
    try:
        yield most
    finally:
        ended.set()
        thread.join()


def room_for(home: Path, count: int) -> bool:
    """Whether a disk has room for so many lines."""
    return shutil.disk_usage(home).free > count * 600
