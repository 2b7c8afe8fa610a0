"""Time a piece of work: the best of several runs, after one that warms up."""

from __future__ import annotations

import time
from collections.abc import Callable


def best(work: Callable[[], object], runs: int = 5) -> float:
    """Seconds of the fastest of several runs."""
    work()
    times = []
    for _ in range(runs):
        start = time.perf_counter()
        work()
        times.append(time.perf_counter() - start)
    return min(times)
