"""Processes that are forked: another thread is waited for until it ends, and one that goes on is told instead of forked beside."""

from __future__ import annotations

import subprocess
import sys

from tests.forking import ROOT

MAKES = """
import threading, time
from tests.forking import make, wait_until_alone
threading.Thread(target=time.sleep, args=({seconds},), daemon=True).start()
{does}
"""


def ran(seconds: float, does: str, asked: str = "") -> subprocess.CompletedProcess[str]:
    code = MAKES.format(seconds=seconds, does=does)
    command = [sys.executable, "-c", code]
    return subprocess.run(command, input=asked, capture_output=True, text=True, cwd=ROOT, timeout=60, check=False)


def test_a_thread_that_is_about_to_end_is_waited_for() -> None:
    done = ran(0.5, "make(lambda: print('done'))", "\n")
    assert done.returncode == 0, done.stderr
    number, *rest = done.stdout.splitlines()
    assert number.isdigit() and rest == ["done", "ended 0"]


def test_a_thread_that_goes_on_is_told() -> None:
    told = ran(60, "wait_until_alone(0.2)")
    assert told.returncode == 1 and "another thread goes on" in told.stderr
