"""`kill -9` of the application or of MariaDB in the middle of a posting: the ledger is exactly before or exactly after."""

from __future__ import annotations

import json
import os
import re
import shutil
import signal
import subprocess
import sys
import time
from contextlib import suppress
from pathlib import Path

import pymysql
import pytest

from lofty_abacus.server import mariadb
from tests.conftest import SMALL_REDO

ROOT = Path(__file__).resolve().parents[2]
LINES = 120_000


@pytest.fixture(scope="module")
def big_file(tmp_path_factory: pytest.TempPathFactory) -> Path:
    path = tmp_path_factory.mktemp("big") / "big.csv"
    with path.open("w") as file:
        file.write("date,order,rep,product,amount\n")
        for n in range(LINES):
            file.write(f"2026-0{n % 9 + 1}-{n % 28 + 1:02d},O{n // 3},Rep {n % 40},P{n % 300},{n % 977}.{n % 100:02d}\n")
    return path


@pytest.fixture(scope="module")
def begun(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A home with a ledger of one line, MariaDB stopped: each test takes a copy."""
    folder = tmp_path_factory.mktemp("begun")
    first = folder / "first.csv"
    first.write_text("date,order,rep,product,amount\n2026-01-01,A,Ada,P1,5\n")
    done = command(folder / "home", "import", str(first), "--ledger", "L")
    _, said = done.communicate(timeout=120)
    assert done.returncode == 0, said
    return folder / "home"


def command(home: Path, *words: str) -> subprocess.Popen[str]:
    environment = os.environ | {"LOFTY_HOME": str(home), "PYTHONPATH": str(ROOT / "src")}
    return subprocess.Popen(
        [sys.executable, "-m", "lofty_abacus", *words],
        env=environment,
        cwd=ROOT,
        text=True,
        stdout=subprocess.PIPE,
        stderr=subprocess.PIPE,
    )


def ledger_state(home: Path) -> tuple[int, int, int, int]:
    """(version, lines that count, lines in the table, batches) as MariaDB has them, after a clean start."""
    with mariadb.in_use(home / "mariadb", redo_megabytes=SMALL_REDO) as running:
        connection = pymysql.connect(
            host="127.0.0.1", port=running.port, user=mariadb.USER, password=running.password, database=mariadb.DATABASE
        )
        try:
            with connection.cursor() as cursor:
                cursor.execute(
                    "SELECT version, (SELECT COALESCE(SUM(line_count), 0) FROM batch WHERE active),"
                    " (SELECT COUNT(*) FROM line_1), (SELECT COUNT(*) FROM batch) FROM ledger"
                )
                row = cursor.fetchone()
        finally:
            connection.close()
    assert row is not None
    return tuple(int(value) for value in row)  # type: ignore[return-value]


@pytest.mark.parametrize("victim", ["application", "mariadb"])
def test_a_kill_while_files_are_staged_changes_nothing(tmp_path: Path, begun: Path, big_file: Path, victim: str) -> None:
    home = tmp_path / "home"
    shutil.copytree(begun, home)
    staging = command(home, "import", str(big_file), "--ledger", "L")
    until = time.monotonic() + 60
    while not list((home / "staging").glob("*/file-0")):
        assert time.monotonic() < until and staging.poll() is None, "the file is being staged"
        time.sleep(0.01)
    pid = json.loads((home / "mariadb" / "running.json").read_text())["pid"]
    os.kill(staging.pid if victim == "application" else pid, signal.SIGKILL)
    staging.communicate(timeout=120)
    state = ledger_state(home)
    if victim == "application":
        assert state == (1, 1, 1, 1)
    else:
        # MariaDB is started again meanwhile: the import goes on, or says that it could not.
        assert state == ((2, LINES + 1, LINES + 1, 2) if staging.returncode == 0 else (1, 1, 1, 1))
    again = command(home, "import", str(big_file), "--ledger", "L")
    _, said = again.communicate(timeout=300)
    assert again.returncode == 0 or "posted before" in said, said
    assert ledger_state(home) == (2, LINES + 1, LINES + 1, 2)


@pytest.mark.parametrize("victim", ["application", "mariadb"])
@pytest.mark.parametrize("moment", ["early", "late"])
def test_a_kill_leaves_all_or_nothing(tmp_path: Path, begun: Path, big_file: Path, victim: str, moment: str) -> None:
    home = tmp_path / "home"
    shutil.copytree(begun, home)
    posting = command(home, "import", str(big_file), "--ledger", "L")
    assert posting.stderr is not None
    seen = ""
    for line in posting.stderr:
        seen += line
        if re.search(r"Posting|Preparing|big.csv: sales", line):
            break
    pid = json.loads((home / "mariadb" / "running.json").read_text())["pid"]
    # The moment within the posting is a matter of chance on purpose: whatever it hits, the outcome must be one of two.
    time.sleep(0.05 if moment == "early" else 0.9)
    # On a quick machine the posting may be over by then: nothing is left to be killed, and all of it is there.
    with suppress(ProcessLookupError):
        os.kill(posting.pid if victim == "application" else pid, signal.SIGKILL)
    posting.communicate(timeout=120)
    if victim == "application":
        assert posting.returncode in (-signal.SIGKILL, 0)
    version, counting, lines, batches = ledger_state(home)
    assert (version, counting, batches) in {(1, 1, 1), (2, LINES + 1, 2)}, f"version {version}, {counting} lines after {seen}"
    # Lines that no batch names may be left where it was killed between its two commits: the next posting clears them away.
    assert lines == counting or version == 1, f"{lines} lines after {seen}"
    again = command(home, "import", str(big_file), "--ledger", "L")
    _, said = again.communicate(timeout=300)
    assert again.returncode == 0 or "posted before" in said, said
    assert ledger_state(home) == (2, LINES + 1, LINES + 1, 2)
