"""Blocks of lines small enough for the processor's cache, and work shared over threads with private accumulators."""

from __future__ import annotations

import os
from collections.abc import Callable, Iterator, Sequence
from concurrent.futures import ThreadPoolExecutor
from typing import TypeVar

BLOCK = 1 << 16
#: Below this many lines a second thread costs more than it gives.
WORTH_SHARING = 1 << 18
THREADS = max(1, min(4, len(os.sched_getaffinity(0))))

_Result = TypeVar("_Result")
_pool = ThreadPoolExecutor(THREADS, thread_name_prefix="grouping")


def blocks(start: int, stop: int) -> Iterator[tuple[int, int]]:
    """The blocks of [start, stop)."""
    for at in range(start, stop, BLOCK):
        yield at, min(at + BLOCK, stop)


def shares(slices: Sequence[tuple[int, int]], *, alone: bool = False) -> list[list[tuple[int, int, int]]]:
    """Divide slices over the threads into near-equal parts: per thread a list of (slice number, start, stop).

    alone: one part, whatever the number of lines.
    """
    total = sum(stop - start for start, stop in slices)
    count = THREADS if total >= WORTH_SHARING and not alone else 1
    parts: list[list[tuple[int, int, int]]] = [[] for _ in range(count)]
    done = 0
    for number, (start, stop) in enumerate(slices):
        at = start
        while at < stop:
            part = min(done * count // max(total, 1), count - 1)
            room = -(-total * (part + 1) // count) - done
            until = min(stop, at + max(room, 1))
            parts[part].append((number, at, until))
            done += until - at
            at = until
    return parts


def in_threads(tasks: Sequence[Callable[[], _Result]]) -> list[_Result]:
    """Run tasks at the same time; their results in order. A single task runs in the calling thread."""
    if len(tasks) == 1:
        return [tasks[0]()]
    return [future.result() for future in [_pool.submit(task) for task in tasks]]
