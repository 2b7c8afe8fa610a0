"""Threads that are lent to the core to add lines up with."""

from __future__ import annotations

import os
from collections.abc import Callable, Sequence
from concurrent.futures import ThreadPoolExecutor
from typing import Any

from lofty_abacus.core.grouping.blocks import Workers

MOST_THREADS = 4


def threads() -> Workers:
    """As many as this process may use at once, four at most."""
    count = max(1, min(MOST_THREADS, len(os.sched_getaffinity(0))))
    pool = ThreadPoolExecutor(count, thread_name_prefix="grouping")

    def run(tasks: Sequence[Callable[[], Any]]) -> list[Any]:
        return [future.result() for future in [pool.submit(task) for task in tasks]]

    return Workers(count, run)
