"""Blocks of lines small enough for the processor's cache, and work shared over threads with private accumulators."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from typing import Any, TypeAlias, TypeVar

BLOCK = 1 << 16
#: Below this many lines a second thread costs more than it gives.
WORTH_SHARING = 1 << 18

#: The number of a slice, and a part of it: [start, stop).
Slice: TypeAlias = tuple[int, int, int]
_Result = TypeVar("_Result")


@dataclass(frozen=True)
class Workers:
    """Who does the work: into how many parts it is worth dividing it, and how tasks are run at the same time.

    run: their results in order. The core starts no threads of its own: whoever holds the lines lends some.
    """

    count: int
    run: Callable[[Sequence[Callable[[], Any]]], list[Any]]


def one_by_one(tasks: Sequence[Callable[[], Any]]) -> list[Any]:
    """One task after the other, in the calling thread."""
    return [task() for task in tasks]


ALONE = Workers(1, one_by_one)


def blocks(start: int, stop: int) -> Iterator[tuple[int, int]]:
    """The blocks of [start, stop)."""
    for at in range(start, stop, BLOCK):
        yield at, min(at + BLOCK, stop)


def shares(slices: Sequence[tuple[int, int]], workers: Workers) -> list[list[Slice]]:
    """Divide slices over the workers into near-equal parts: per worker a list of (slice number, start, stop)."""
    total = sum(stop - start for start, stop in slices)
    count = workers.count if total >= WORTH_SHARING else 1
    parts: list[list[Slice]] = [[] for _ in range(count)]
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


def at_once(tasks: Sequence[Callable[[], _Result]], workers: Workers) -> list[_Result]:
    """Run tasks at the same time; their results in order. A single task runs in the calling thread."""
    return one_by_one(tasks) if len(tasks) == 1 else workers.run(tasks)
