"""Work one step ahead: what comes next is made while what came last is worked on."""

from __future__ import annotations

from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from typing import TypeVar

Item = TypeVar("Item")


def one_ahead(items: Iterator[Item]) -> Iterator[Item]:
    """The same items in their order, each made on a thread of its own while the one before it is in use.

    What making one raises is raised in its place. An iterator that is given up makes one more at most.
    """
    end = object()
    with ThreadPoolExecutor(1, thread_name_prefix="ahead") as pool:
        waiting = pool.submit(next, items, end)
        while (item := waiting.result()) is not end:
            waiting = pool.submit(next, items, end)
            yield item  # type: ignore[misc]  # it is none but the end
