"""How fast the machine is just now: others share it, so figures of time hold beside this only."""

from __future__ import annotations

import statistics
import time
from pathlib import Path

ADDITIONS, RUNS = 5_000_000, 5
#: Places of /proc/stat's first line: what the processors did, of which these two were nothing, or another machine's.
IDLE, TAKEN = 3, 7


def pace() -> str:
    """How long plain Python takes for a known piece of work, one thread of it."""
    times = []
    for _ in range(RUNS):
        start = time.perf_counter()
        total = 0
        for each in range(ADDITIONS):
            total += each
        times.append((time.perf_counter() - start) * 20_000_000 / ADDITIONS)
    return f"20 million additions in Python take {statistics.median(times):.1f} s ({min(times):.1f} to {max(times):.1f})"


class Shares:
    """What the processors did since this was made."""

    def __init__(self) -> None:
        self._before = _ticks()

    def told(self) -> str:
        """In words: how much of their time was idle, and how much other machines took."""
        spent = [after - before for before, after in zip(self._before, _ticks(), strict=True)]
        idle, taken = (spent[each] * 100 // max(sum(spent), 1) for each in (IDLE, TAKEN))
        return f"of the processors' time {idle} % was idle, {taken} % was taken by others"


def _ticks() -> list[int]:
    # The two after these are parts of the first two.
    return [int(each) for each in Path("/proc/stat").read_text().split("\n", 1)[0].split()[1:9]]
