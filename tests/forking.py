"""Processes that are there to be killed: one has everything imported and makes the others by forking, one for each line that it reads."""

from __future__ import annotations

import faulthandler
import os
import subprocess
import sys
import time
import traceback
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
#: No process takes longer.
LONGEST_SECONDS = 30
Maker = subprocess.Popen[str]


@contextmanager
def maker(module: str, *words: str) -> Iterator[Maker]:
    """Start the process that makes the others; `module` calls `make` with what each of them does."""
    # Libraries that start threads of their own are told not to: what forks has one only.
    alone = {"OPENBLAS_NUM_THREADS": "1", "JE_ARROW_MALLOC_CONF": "background_thread:false"}
    paths = os.environ | alone | {"PYTHONPATH": f"{ROOT / 'src'}:{ROOT}"}
    command = [sys.executable, "-m", module, *words]
    with subprocess.Popen(command, cwd=ROOT, stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True, env=paths) as process:
        yield process
        assert process.stdin is not None
        process.stdin.close()


def begin(process: Maker, *words: object) -> int:
    """Have a process made that does what the words say; its number. What it says comes next, and last how it ended."""
    assert process.stdin is not None and process.stdout is not None
    process.stdin.write(" ".join(map(str, words)) + "\n")
    process.stdin.flush()
    return int(process.stdout.readline())


def said(process: Maker) -> Iterator[str]:
    """What the process that was begun last says, until it has ended."""
    assert process.stdout is not None
    for line in process.stdout:
        yield line
        if line.startswith("ended "):
            return
    raise AssertionError("the process that makes the others is gone")


def wait_until_alone(seconds: float = LONGEST_SECONDS) -> None:
    """Wait until this process has one thread: a lock that another held would stay held in what is forked.

    Pango reads the fonts on threads of its own, which end when they are done: on a busy machine a while after it was asked.
    """
    end = time.monotonic() + seconds
    while len(list(Path("/proc/self/task").iterdir())) > 1:
        assert time.monotonic() < end, "another thread goes on, and what is forked would keep its locks"
        time.sleep(0.01)


def make(do: Callable[..., None]) -> None:
    """Make a process for each line read, and say its number first and its end last."""
    for line in sys.stdin:
        wait_until_alone()
        child = os.fork()
        if child == 0:
            print(os.getpid(), flush=True)
            # Whatever holds it up is told, and fails the test.
            faulthandler.dump_traceback_later(LONGEST_SECONDS, exit=True)
            try:
                do(*line.split())
            except BaseException:
                traceback.print_exc()
                os._exit(1)
            sys.stdout.flush()
            os._exit(0)
        _, status = os.waitpid(child, 0)
        print(f"ended {os.waitstatus_to_exitcode(status)}", flush=True)
