"""`kill -9` again and again, at any moment: of the application, its reading process, or MariaDB.

While files are read, posted, carried over to newer tables, and while the application ends. Each time the ledger must be exactly
as before or exactly as after, everything must agree (`verify`), and the same command must end well when it is given again.
"""

from __future__ import annotations

import contextlib
import json
import os
import random
import shutil
import signal
import socket
import sys
import time
from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass, field, replace
from pathlib import Path

from alembic import command
from alembic.config import Config
from sqlalchemy import create_engine

from bench.crowd_table import call, done, drop
from lofty_abacus.__main__ import main
from lofty_abacus.commands import start
from lofty_abacus.server import mariadb
from lofty_abacus.server.errors import ServerError
from lofty_abacus.settings import Settings, read_settings
from lofty_abacus.store import migrating
from lofty_abacus.wiring import open_office, private_folders
from tests.store.old_ledger import OLD_LEDGER

ROOT = Path(__file__).resolve().parents[1]
LINES = 20_000
LEDGER = "Kept"
LONGEST_SECONDS = 120
State = tuple[tuple[int, int, str], ...]
"""Versions of the ledger: (version, lines, amount)."""


@dataclass
class _Told:
    """What happened over all kills of one kind."""

    kills: Counter[str] = field(default_factory=Counter)
    ended: Counter[str] = field(default_factory=Counter)
    wrong: list[str] = field(default_factory=list)


def report(home: Path, kills: int) -> str:
    """The table of so many kills, a quarter of them in each kind of work."""
    chance = random.Random(20261128)
    ledger, old, file = _begun(home), _old(home), _file(home)
    kinds: list[tuple[str, Callable[[Path, random.Random, _Told], None]]] = [
        ("reading files", lambda at, luck, told: _kill_import(at, ledger, file, "reading", luck, told)),
        ("posting", lambda at, luck, told: _kill_import(at, ledger, file, "posting", luck, told)),
        ("stopping, with a posting under way", lambda at, luck, told: _kill_stop(at, ledger, file, luck, told)),
        ("carrying over to newer tables", lambda at, luck, told: _kill_migration(at, old, luck, told)),
    ]
    lines = ["| killed while | kills | of what | ended as before | as after | wrong |", "|---|---|---|---|---|---|"]
    wrong: list[str] = []
    for number, (name, kill) in enumerate(kinds):
        told = _Told()
        for at in range(kills // len(kinds)):
            place = home / f"kill-{number}-{at}"
            try:
                kill(place, chance, told)
            except Exception as error:
                told.wrong.append(f"{name}, kill {at}: {error!r}")
            _end_all(place)
            shutil.rmtree(place, ignore_errors=True)
            print(f"{name} {at + 1}: {dict(told.ended)}, {len(told.wrong)} wrong", file=sys.stderr, flush=True)
        of_what = ", ".join(f"{what} {times}" for what, times in sorted(told.kills.items()))
        ended = " | ".join(str(told.ended[how]) for how in ("before", "after"))
        lines.append(f"| {name} | {sum(told.kills.values())} | {of_what} | {ended} | {len(told.wrong)} |")
        wrong += told.wrong
    return "\n".join([f"## {kills} kills", "", *lines, "", *wrong, ""])


def _kill_import(home: Path, ledger: Path, file: Path, moment: str, chance: random.Random, told: _Told) -> None:
    shutil.copytree(ledger, home)
    before = _state(home)
    process = _command(home, "import", str(file), "--ledger", LEDGER)
    wanted = (lambda: (home / "staging").exists() and any((home / "staging").iterdir())) if moment == "reading" else (
        lambda: any(word in _said(home) for word in ("Posting", "Preparing"))
    )  # fmt: skip
    _wait(wanted, process, moment)
    time.sleep(chance.uniform(0, 0.35 if moment == "reading" else 0.8))
    victims = ["application", "MariaDB"] + (["reading process"] if moment == "reading" else [])
    victim = chance.choice(victims)
    _kill(home, process, victim, told)
    _ended(process)
    _before_or_after(home, before, told)
    again = _command(home, "import", str(file), "--ledger", LEDGER)
    code = _ended(again)
    if code and "posted before" not in _said(home):
        raise AssertionError(f"the same again failed: {_said(home)[-300:]}")
    _after(_state(home), before)


def _kill_stop(home: Path, ledger: Path, file: Path, chance: random.Random, told: _Told) -> None:
    shutil.copytree(ledger, home)
    before = _state(home)
    port = _free_port()
    process = _command(home, "start", "--port", str(port))
    address = f"http://127.0.0.1:{port}"
    _wait(lambda: _answers(address), process, "starting")
    staged = done(address, drop(address, file.name, file.read_bytes(), LEDGER))["staging"]["id"]
    call(address, f"/api/stagings/{staged}/posting", {})
    time.sleep(chance.uniform(0, 0.4))
    os.kill(process, signal.SIGTERM)
    time.sleep(chance.uniform(0, 0.8))
    victim = chance.choice(["application", "MariaDB"])
    _kill(home, process, victim, told)
    _ended(process)
    state = _before_or_after(home, before, told)
    port = _free_port()
    again = _command(home, "start", "--port", str(port))
    _wait(lambda: _answers(f"http://127.0.0.1:{port}"), again, "starting again")
    os.kill(again, signal.SIGTERM)
    code = _ended(again)
    _same(_state(home), state, f"before the second start (ended with {code})")


def _kill_migration(home: Path, old: Path, chance: random.Random, told: _Told) -> None:
    shutil.copytree(old, home)
    process = _command(home, "verify")
    _wait(lambda: "up to date" in _said(home), process, "carrying over")
    time.sleep(chance.uniform(0, 2.0))
    _kill(home, process, chance.choice(["application", "MariaDB"]), told)
    code = _ended(process)
    again = _command(home, "verify")
    if _ended(again):
        raise AssertionError(f"verify after the kill failed: {_said(home)[-300:]}")
    told.ended["after" if code == 0 else "before"] += 1
    expected: State = ((4, 2, "3.50"), (3, 3, "12.50"), (2, 3, "12.50"), (1, 2, "3.50"))
    _same(_state(home), expected, "carried over")


def _before_or_after(home: Path, before: State, told: _Told) -> State:
    """The state after a kill, which must be the one of before, or have one version more."""
    state = _state(home)
    if len(state) == len(before):
        _same(state, before, "before")
        told.ended["before"] += 1
    else:
        _after(state, before)
        told.ended["after"] += 1
    return state


def _state(home: Path) -> State:
    """The versions as the product tells them, after everything was found to agree."""
    with open_office(_settings(home)) as office:
        faults = office.books.verify()
        if faults:
            raise AssertionError("; ".join(faults))
        return tuple((each.version, each.lines, each.amount) for each in office.books.versions(1))


def _same(state: State, expected: State, what: str) -> None:
    if state != expected:
        raise AssertionError(f"{state} is not as {what}: {expected}")


def _after(state: State, before: State) -> None:
    """One version more, with all lines of the file."""
    if state[1:] != before or state[0][1] != before[0][1] + LINES:
        raise AssertionError(f"{state} is neither {before} nor that and {LINES} lines")


def _kill(home: Path, process: int, victim: str, told: _Told) -> None:
    """Kill the victim, if it has not ended by itself by then."""
    told.kills[victim] += 1
    if victim == "application":
        pids = [process]
    elif victim == "MariaDB":
        running = home / "mariadb" / "running.json"
        pids = [json.loads(running.read_text())["pid"]] if running.exists() else []
    else:
        pids = [int(each) for each in Path(f"/proc/{process}/task/{process}/children").read_text().split()]
        pids = [each for each in pids if b"mariadbd" not in Path(f"/proc/{each}/cmdline").read_bytes()]
    for pid in pids:
        with contextlib.suppress(ProcessLookupError):
            os.kill(pid, signal.SIGKILL)


def _command(home: Path, *words: str) -> int:
    """The command in a process of its own, forked from this one: what it imports is there already."""
    log = home.parent / f"{home.name}.said"
    log.write_text("")
    child = os.fork()
    if child:
        return child
    try:
        os.setsid()
        said = os.open(log, os.O_WRONLY | os.O_APPEND)
        for stream in (1, 2):
            os.dup2(said, stream)
        os.environ["LOFTY_HOME"] = str(home)
        sys.argv = ["lofty_abacus", *words]
        # What these ledgers are about is theirs alone: the start has no demo ledger to load.
        setattr(start, "has_demo", lambda _: True)  # noqa: B010 - a name that the module does not export
        setattr(start, "load_demo_with_briefs", lambda *_: None)  # noqa: B010 - a name that the module does not export
        main()
        os._exit(0)
    except SystemExit as end:
        os._exit(end.code if isinstance(end.code, int) else 1)
    except BaseException as error:
        print(repr(error), file=sys.stderr, flush=True)
        os._exit(1)


def _answers(address: str) -> bool:
    try:
        call(address, "/api/health")
    except OSError:
        return False
    return True


def _end_all(home: Path) -> None:
    """End what may still run in this home."""
    for process in Path("/proc").glob("[0-9]*"):
        with contextlib.suppress(OSError):
            if f"LOFTY_HOME={home}".encode() in (process / "environ").read_bytes():
                os.kill(int(process.name), signal.SIGKILL)
    with contextlib.suppress(ServerError):
        mariadb.stop(home / "mariadb")


def _said(home: Path) -> str:
    return (home.parent / f"{home.name}.said").read_text()


def _wait(wanted: Callable[[], bool], process: int, what: str) -> None:
    until = time.monotonic() + LONGEST_SECONDS
    while not wanted():
        if time.monotonic() > until:
            raise AssertionError(f"{what}: not seen in {LONGEST_SECONDS} s")
        if os.waitid(os.P_PID, process, os.WEXITED | os.WNOHANG | os.WNOWAIT):
            return
        time.sleep(0.005)


def _ended(process: int) -> int:
    """The exit code; processes that do not end are an error."""
    until = time.monotonic() + LONGEST_SECONDS
    while time.monotonic() < until:
        pid, status = os.waitpid(process, os.WNOHANG)
        if pid:
            return os.waitstatus_to_exitcode(status)
        time.sleep(0.01)
    os.kill(process, signal.SIGKILL)
    raise AssertionError(f"the process does not end in {LONGEST_SECONDS} s")


def _settings(home: Path) -> Settings:
    return replace(read_settings(ROOT, {"LOFTY_HOME": str(home)}))


def _begun(home: Path) -> Path:
    """A home with a ledger of one line, MariaDB stopped."""
    first = home / "first.csv"
    first.write_text("date,order,rep,product,amount\n2026-01-01,A,Ada,P1,5\n")
    place = home / "begun"
    if _ended(_command(place, "import", str(first), "--ledger", LEDGER)):
        raise AssertionError(_said(place))
    return place


def _old(home: Path) -> Path:
    """A home of the first tables."""
    place = home / "old"
    private_folders(_settings(place))
    with mariadb.in_use(place / "mariadb") as running:
        engine = create_engine(running.url)
        with engine.connect() as connection:
            config = Config()
            config.set_main_option("script_location", str(Path(migrating.__file__).parent / "migrations"))
            config.attributes["connection"] = connection
            command.upgrade(config, "0001")
            for statement in OLD_LEDGER:
                connection.exec_driver_sql(statement)
            connection.commit()
        engine.dispose()
    return place


def _file(home: Path) -> Path:
    path = home / "lines.csv"
    with path.open("w") as file:
        file.write("date,order,rep,product,amount\n")
        for n in range(LINES):
            file.write(f"2026-0{n % 9 + 1}-{n % 28 + 1:02d},O{n // 3},Rep {n % 40},P{n % 300},{n % 977}.{n % 100:02d}\n")
    return path


def _free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])
