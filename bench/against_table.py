"""The questions of the kernels, put by turns to this checkout and to another one: what a change cost."""

from __future__ import annotations

import os
import statistics
import subprocess
import sys
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
#: Pairs of runs for each question; who goes first changes from one to the next.
PAIRS = 60


class _Checkout:
    """A process that answers questions with a checkout's own code."""

    def __init__(self, folder: Path) -> None:
        paths = os.environ | {"PYTHONPATH": f"{folder / 'src'}:{folder}"}
        command = [sys.executable, str(ROOT / "bench" / "asked.py")]
        self._process = subprocess.Popen(command, cwd=folder, env=paths, stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True)
        self.questions = self._read().split("\t")

    def seconds(self, question: str) -> float:
        assert self._process.stdin is not None
        self._process.stdin.write(question + "\n")
        self._process.stdin.flush()
        return float(self._read())

    def _read(self) -> str:
        assert self._process.stdout is not None
        line = self._process.stdout.readline()
        assert line, "the process that answers is gone"
        return line.rstrip("\n")

    def close(self) -> None:
        self._process.communicate()


def report(other: Path) -> str:
    """The table as Markdown. other: the checkout to compare with."""
    before, now = _Checkout(other), _Checkout(ROOT)
    rows = []
    try:
        for question in now.questions:
            pairs = []
            for number in range(PAIRS):
                order = (before, now) if number % 2 else (now, before)
                taken = {each: each.seconds(question) for each in order}
                pairs.append((taken[before], taken[now]))
            ratio = statistics.median(here / there for there, here in pairs)
            least = [min(each) * 1000 for each in zip(*pairs, strict=True)]
            rows.append(f"| {question} | {least[0]:.1f} | {least[1]:.1f} | {ratio:.3f} |")
    finally:
        before.close()
        now.close()
    head = (
        f"## The other checkout and this one, {PAIRS} pairs each\n\n"
        "| question | there, ms | here, ms | median of the pairs |\n|---|---|---|---|\n"
    )
    return head + "\n".join(rows) + "\n"
