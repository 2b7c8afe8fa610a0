"""Many people at once: readers who ask, check and prove while posters post and withdraw, over HTTP, as pages do.

Told is how long each kind of question takes, and how often something went wrong: an error, a check that raises a false alarm, an
answer that mixes versions (its total is not the journal's for the version that it names).
"""

from __future__ import annotations

import json
import os
import random
import re
import signal
import socket
import statistics
import subprocess
import sys
import time
import urllib.error
import urllib.parse
import urllib.request
from collections import Counter, defaultdict
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from decimal import Decimal
from http import HTTPStatus
from pathlib import Path
from threading import Lock, Thread
from typing import Any

from bench.machine import Disturbances
from lofty_abacus.demo.scenario import LEDGER_NAME

ROOT = Path(__file__).resolve().parents[1]
READERS, POSTERS = 20, 2
LINES_A_FILE = 500
#: Rows that a page asks to be filled at first.
FIRST_ROWS = 60
START_SECONDS = 180
#: How often a page looks how far a job is.
LOOK_SECONDS = 0.2
#: Within what time the lines of a hundred million are read for the first answer.
READ_SECONDS = 1800
#: All days on which a line may lie: what lies beyond coverage is the same in every version.
EVER = {"kind": "dates", "first": "2022-01-01", "last": "2029-12-31"}


@dataclass
class _Told:
    """What happened, from all threads."""

    times: dict[str, list[float]] = field(default_factory=lambda: defaultdict(list))
    ended: dict[str, list[float]] = field(default_factory=lambda: defaultdict(list))
    wrong: Counter[str] = field(default_factory=Counter)
    examples: list[str] = field(default_factory=list)
    lock: Lock = field(default_factory=Lock)
    beyond: Decimal | None = None
    """What the journal holds beyond the days that are covered: the same for every version."""

    def took(self, what: str, seconds: float) -> None:
        with self.lock:
            self.times[what].append(seconds)
            self.ended[what].append(time.perf_counter())

    def failed(self, how: str, example: str) -> None:
        with self.lock:
            self.wrong[how] += 1
            if len(self.examples) < 5:
                self.examples.append(f"{how}: {example[:300]}")


def report(home: Path, seconds: float, ledger: str = LEDGER_NAME) -> str:
    """The table of a crowd that works for some seconds on a ledger of an application of its own."""
    told = _Told()
    with served(home) as address, Disturbances() as disturbances:
        first = {"ledger": ledger, "statement": {"measures": [{"measure": "net_sales"}]}}
        until_read(lambda: call(address, "/api/answers", first))
        until = time.monotonic() + seconds
        crowd = [Thread(target=_read, args=(address, ledger, told, until, number)) for number in range(READERS)]
        crowd += [Thread(target=_post, args=(address, ledger, told, until, number)) for number in range(POSTERS)]
        for each in crowd:
            each.start()
        for each in crowd:
            each.join()
        versions = call(address, "/api/ledger/versions?" + urllib.parse.urlencode({"name": ledger}))
    lines = [
        f"## {READERS} readers and {POSTERS} posters for {seconds:.0f} s on {ledger}, {len(versions)} versions at the end",
        "",
        "| asked | times | median | 9 in 10 within | 95 in 100 within | slowest |",
        "|---|---|---|---|---|---|",
    ]
    alone = [
        taken
        for taken, end in zip(told.times["a table"], told.ended["a table"], strict=True)
        if not disturbances.at(end - taken, end)
    ]
    for what, times in [*sorted(told.times.items()), ("a table, while others left us the processors", alone)]:
        if not times:
            continue
        twentieths = statistics.quantiles(times, n=20) if len(times) > 1 else times * 19
        lines.append(
            f"| {what} | {len(times):,} | {statistics.median(times) * 1000:.0f} ms | {twentieths[17] * 1000:.0f} ms"
            f" | {twentieths[18] * 1000:.0f} ms"
            f" | {max(times) * 1000:.0f} ms |"
        )
    counted = ", ".join(f"{told.wrong[how]} {how}" for how in ("errors", "false alarms", "mixed versions"))
    return "\n".join([*lines, "", f"Wrong: {counted}.", *told.examples, ""])


def _read(address: str, ledger: str, told: _Told, until: float, number: int) -> None:
    chance = random.Random(number)
    dimensions = ["rep", "customer", "product", "channel"]
    while time.monotonic() < until:
        rows = chance.sample(dimensions, chance.randint(0, 2))
        if ledger != LEDGER_NAME and "customer" in rows:
            # Twenty thousand customers by anything else are more rows than a table may have.
            rows = ["customer"]
        statement = {
            "measures": [{"measure": "net_sales"}, {"measure": "orders"}],
            "rows": rows,
            "window": EVER,
            "as_of": {"kind": "pinned", "day": "2029-12-31"},
        }
        opened = {"depth": max(len(rows), 1), "paths": []}
        question = {"ledger": ledger, "statement": statement, "opened": opened, "fill": FIRST_ROWS}

        def ask(question: dict[str, Any] = question) -> None:
            version, total = _told_total(_timed(told, "a table", lambda: content_of(address, "/api/answers", question)))
            journal = call(address, "/api/ledger/versions?" + urllib.parse.urlencode({"name": ledger}))
            said = next(Decimal(each["amount"]) for each in journal if each["version"] == version)
            with told.lock:
                beyond = told.beyond = said - Decimal(total) if told.beyond is None else told.beyond
            if said - Decimal(total) != beyond:
                told.failed("mixed versions", f"version {version} is {total}, the journal says {said}, {beyond} beyond")
            checked = question | {"version": version}
            check = _timed(told, "its check", lambda: call(address, "/api/checks", checked))
            if not check["agrees"]:
                told.failed("false alarms", json.dumps(check))
            number = {"ledger": ledger, "statement": question["statement"], "path": [], "column": "net_sales.0.value"}
            _timed(told, "a proof", lambda: call(address, "/api/proofs", number))

        _guarded(told, ask)


def _told_total(answer: bytes) -> tuple[int, str]:
    """The version that an answer is of, and its first total.

    Only these are read: twenty people have machines of their own, and do not wait for each other's tables to be taken in.
    """
    at = answer.rindex(b'"total":{') + len(b'"total":')
    total, _ = json.JSONDecoder().raw_decode(answer[at:].decode())
    version = re.search(rb'"version":(\d+)', answer)
    assert version is not None, answer[:200]
    return int(version[1]), total["cells"][0]["value"]


def _post(address: str, ledger: str, told: _Told, until: float, number: int) -> None:
    chance, made = random.Random(1000 + number), 0
    while time.monotonic() < until:
        made += 1
        rows = [
            f"2026-0{chance.randint(1, 9)}-{chance.randint(1, 28):02d},X{number}-{made}-{at // 3},Ada Field,"
            f"C{chance.randint(1, 40)},{chance.randint(-999, 9999)}.{chance.randint(0, 99):02d}"
            for at in range(LINES_A_FILE)
        ]
        content = "\n".join(["date,order,rep,customer,amount", *rows]).encode()

        def post(content: bytes = content, name: str = f"crowd-{number}-{made}.csv") -> None:
            start = time.perf_counter()
            staged = done(address, drop(address, name, content, ledger))["staging"]["id"]
            posting = done(address, call(address, f"/api/stagings/{staged}/posting", {}))["posting"]
            told.took("a posting (dropped, read, posted)", time.perf_counter() - start)
            if chance.random() < 0.3:
                taken = {"ledger": ledger, "batch": posting["batches"][0], "leave_hole": False}
                _timed(told, "a withdrawal", lambda: call(address, "/api/ledger/withdrawals", taken))

        _guarded(told, post)


def _guarded(told: _Told, work: Callable[[], None]) -> None:
    try:
        work()
    except urllib.error.HTTPError as error:
        told.failed("errors", f"{error.code} {error.url} {error.read().decode(errors='replace')}")
    except (OSError, KeyError, RuntimeError) as error:
        told.failed("errors", repr(error))


def _timed(told: _Told, what: str, work: Callable[[], Any]) -> Any:
    start = time.perf_counter()
    found = work()
    told.took(what, time.perf_counter() - start)
    return found


def call(address: str, path: str, body: object | None = None) -> Any:
    """What the API answers to a body, or to none."""
    return json.loads(content_of(address, path, body))


def until_read(ask: Callable[[], object]) -> None:
    """Ask until the lines that were imported are read: who asks before is told to ask again."""
    until = time.monotonic() + READ_SECONDS
    while True:
        try:
            ask()
        except urllib.error.HTTPError as error:
            if error.code != HTTPStatus.SERVICE_UNAVAILABLE or time.monotonic() > until:
                raise
        else:
            return


def content_of(address: str, path: str, body: object | None = None) -> bytes:
    """The same as it comes: what is asked is timed, not what this process makes of it."""
    content = None if body is None else json.dumps(body).encode()
    request = urllib.request.Request(address + path, content, {"Content-Type": "application/json"})
    with urllib.request.urlopen(request, timeout=120) as answer:
        found: bytes = answer.read()
        return found


def drop(address: str, name: str, content: bytes, ledger: str = LEDGER_NAME) -> Any:
    """A file dropped on a ledger: the job that stages it."""
    edge = "lofty-crowd"
    form = (
        f'--{edge}\r\nContent-Disposition: form-data; name="ledger"\r\n\r\n{ledger}\r\n'
        f'--{edge}\r\nContent-Disposition: form-data; name="files"; filename="{name}"\r\n\r\n'
    ).encode()
    whole = form + content + f"\r\n--{edge}--\r\n".encode()
    request = urllib.request.Request(f"{address}/api/stagings", whole, {"Content-Type": f"multipart/form-data; boundary={edge}"})
    with urllib.request.urlopen(request, timeout=120) as answer:
        return json.load(answer)


def done(address: str, job: Any) -> Any:
    """A job once it is done. Raises RuntimeError if it failed."""
    while job["state"] == "running":
        time.sleep(LOOK_SECONDS)
        job = call(address, f"/api/jobs/{job['id']}")
    if job["state"] != "done":
        raise RuntimeError(f"the job failed: {job['failure']}")
    return job


@contextmanager
def served(home: Path) -> Iterator[str]:
    """The application as a person starts it, with the demo ledger."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    environment = os.environ | {"LOFTY_HOME": str(home / "state"), "LOFTY_PORT": str(port)}
    log = (home / "said").open("w")
    command = [sys.executable, "-m", "lofty_abacus", "start"]
    process = subprocess.Popen(command, stdout=log, stderr=log, env=environment, cwd=ROOT)
    address = f"http://127.0.0.1:{port}"
    try:
        until = time.monotonic() + START_SECONDS
        while True:
            try:
                call(address, "/api/health")
                break
            except OSError:
                if time.monotonic() > until or process.poll() is not None:
                    raise
                time.sleep(0.2)
        yield address
    finally:
        process.send_signal(signal.SIGINT)
        process.wait(60)
