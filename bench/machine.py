"""How fast the machine is just now: others share it, so figures of time hold beside this only."""

from __future__ import annotations

import statistics
import time
from pathlib import Path
from threading import Event, Thread

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


class Disturbances:
    """When others took the processors, looked at twice a second as long as this is entered."""

    def __init__(self) -> None:
        self._seen: list[tuple[float, float]] = []
        self._ended = Event()
        self._thread = Thread(target=self._look, daemon=True)

    def __enter__(self) -> Disturbances:
        self._thread.start()
        return self

    def __exit__(self, *_: object) -> None:
        self._ended.set()
        self._thread.join()

    def _look(self) -> None:
        before = _ticks()
        while not self._ended.wait(0.5):
            now = _ticks()
            spent = [after - earlier for earlier, after in zip(before, now, strict=True)]
            before = now
            self._seen.append((time.perf_counter(), spent[TAKEN] / max(sum(spent), 1)))

    def at(self, start: float, end: float) -> bool:
        """Whether others took more than one part in fifty between two moments, or just before or after."""
        return any(share > 0.02 for moment, share in self._seen if start - 0.5 <= moment <= end + 0.5)


def _ticks() -> list[int]:
    # The two after these are parts of the first two.
    return [int(each) for each in Path("/proc/stat").read_text().split("\n", 1)[0].split()[1:9]]
