"""The commands as a person types them, and the sentence each gets when something is wrong."""

from __future__ import annotations

import csv
import io
import json
import os
import signal
import socket
import subprocess
import sys
import time
from pathlib import Path

import pytest

from lofty_abacus.demo.files import write_demo_files
from lofty_abacus.server import mariadb

ROOT = Path(__file__).resolve().parents[1]


def environment(home: Path) -> dict[str, str]:
    return os.environ | {"LOFTY_HOME": str(home), "PYTHONPATH": str(ROOT / "src")}


def run(home: Path, *words: str, **more: str) -> subprocess.CompletedProcess[str]:
    command = [sys.executable, "-m", "lofty_abacus", *words]
    return subprocess.run(command, capture_output=True, text=True, env=environment(home) | more, cwd=ROOT, check=False)


def test_import_and_answer_without_a_browser(tmp_path: Path) -> None:
    home = tmp_path / "home"
    file = tmp_path / "sales.csv"
    file.write_text("date,order,rep,amount\n2026-02-01,O1,Ada,10.50\n2026-02-02,O2,Bo,4\n2025-02-01,O0,Ada,7\n")
    done = run(home, "import", str(file), "--ledger", "Mine")
    assert done.returncode == 0, done.stderr
    assert "Posted 3 lines, 21.50 net, as version 1 of 'Mine'." in done.stdout
    question = tmp_path / "question.json"
    statement = {
        "measures": [{"measure": "net_sales", "show": ["percent_change"]}],
        "rows": ["rep"],
        "as_of": {"kind": "pinned", "day": "2026-02-02"},
        "bases": [{"back": 1, "unit": "year"}],
    }
    question.write_text(json.dumps({"ledger": "Mine", "statement": statement}))
    rows = list(csv.reader(io.StringIO(run(home, "answer", str(question), "--format", "csv").stdout)))
    assert [row[:5] for row in rows[1:]] == [
        ["Ada", "kept", "10.50", "7.00", "0.5"],
        ["Bo", "new", "4.00", "0.00", ""],
        ["(all)", "kept", "14.50", "7.00", "1.07142857142857"],
    ]
    assert json.loads(run(home, "answer", str(question)).stdout)["version"] == 1
    moved = json.loads(run(home, "answer", str(question), "--as", "movers").stdout)
    assert moved["told"]["text"].startswith("Net sales are 7.50 above the same dates last year (+107.1%).")
    table = list(csv.reader(io.StringIO(run(home, "answer", str(question), "--as", "movers", "--format", "csv").stdout)))
    assert [row[0] for row in table[1:]] == ["Bo", "Ada", "(all)"] and table[1][4] == "4.00"
    judged = {**statement, "goals": [{"metric": "net_sales", "target": "200"}]}
    question.write_text(json.dumps({"ledger": "Mine", "statement": judged, "asked": {"history": 1}}))
    card = json.loads(run(home, "answer", str(question), "--as", "scorecard").stdout)
    assert card["told"]["text"].endswith("Together they meet all goals.") and len(card["history"]) == 1
    verdicts = list(csv.reader(io.StringIO(run(home, "answer", str(question), "--as", "scorecard", "--format", "csv").stdout)))
    at = next(place for place, name in enumerate(verdicts[0]) if name.endswith(": verdict"))
    assert [row[at] for row in verdicts[1:]] == ["missed", "met", "met"]
    wrong = run(home, "answer", str(question), "--as", "movers")
    assert wrong.returncode == 1 and "cannot be read: asked.history" in wrong.stderr
    more = tmp_path / "more.csv"
    more.write_text(
        "date,order,rep,amount,freight,delivery\n2026-02-03,O3,Ada,5.00,0.75,2026-02-01\n2026-02-03,O4,Bo,9.00,,2026-02-02\n"
    )
    assert run(home, "import", str(more), "--ledger", "Mine").returncode == 0
    asked = {"measures": [{"measure": "freight"}], "rows": ["delivery.day"], "conditions": [{"kind": "given", "of": "freight"}]}
    question.write_text(json.dumps({"ledger": "Mine", "statement": asked}))
    sent = list(csv.DictReader(io.StringIO(run(home, "answer", str(question), "--format", "csv").stdout)))
    assert [(row["day of delivery"], row["limited to"]) for row in sent[:1]] == [("2026-02-01", "counting lines with a freight")]
    again = run(home, "import", str(file), "--ledger", "Mine")
    assert again.returncode == 1 and "posted before" in again.stderr
    question.write_text(json.dumps({"ledger": "Mine", "statement": {"measures": [{"measure": "net"}]}}))
    wrong = run(home, "answer", str(question))
    assert wrong.returncode == 1 and "Did you mean" in wrong.stderr and "Traceback" not in wrong.stderr
    question.write_text("{")
    assert "The question cannot be read" in run(home, "answer", str(question)).stderr


def test_each_trouble_is_one_clear_sentence(tmp_path: Path) -> None:
    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))
        taken.listen()
        port = taken.getsockname()[1]
        done = run(tmp_path / "home", "start", "--port", str(port))
    assert done.returncode == 1 and f"Port {port} is taken" in done.stderr and "Traceback" not in done.stderr
    (tmp_path / "file").write_text("")
    done = run(tmp_path / "file" / "home", "start", LOFTY_PORT="48420")
    assert done.returncode == 1 and "cannot be written" in done.stderr and "Traceback" not in done.stderr
    done = run(tmp_path, "start", LOFTY_PORT="many")
    assert done.returncode == 1 and "LOFTY_PORT is 'many'" in done.stderr
    done = run(tmp_path, "start", LOFTY_REDO_MB="little")
    assert done.returncode == 1 and "LOFTY_REDO_MB is 'little'" in done.stderr
    done = run(tmp_path, "import", str(tmp_path / "none.csv"))
    assert done.returncode == 2 and "does not exist" in done.stderr


def test_demo_files_are_the_same_every_time(tmp_path: Path) -> None:
    assert run(tmp_path, "demo-files", str(tmp_path / "one")).returncode == 0
    write_demo_files(tmp_path / "two")
    first = {path.name: path.read_bytes() for path in (tmp_path / "one").iterdir()}
    assert first == {path.name: path.read_bytes() for path in (tmp_path / "two").iterdir()}
    assert len(first) == 37
    odd = first["sales-2025-03.csv"].decode()
    assert odd.startswith("date;order;") and "Mar 2025" in odd and ",00;" in odd


@pytest.mark.parametrize("number", [signal.SIGTERM, signal.SIGHUP])
def test_being_told_to_end_stops_mariadb_too(tmp_path: Path, number: signal.Signals) -> None:
    home = tmp_path / "home"
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    log = (tmp_path / "log").open("w")
    command = [sys.executable, "-m", "lofty_abacus", "start", "--port", str(port)]
    process = subprocess.Popen(command, stdout=log, stderr=log, env=environment(home), cwd=ROOT)
    running = home / "mariadb" / "running.json"
    until = time.monotonic() + 60
    while not running.exists() and time.monotonic() < until:
        time.sleep(0.05)
    pid = json.loads(running.read_text())["pid"]
    process.send_signal(number)
    assert process.wait(60) == 128 + number
    assert not mariadb._is_ours(pid, home / "mariadb") and not running.exists()
