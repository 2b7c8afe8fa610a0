"""What was worked out for one step and is wanted for the next: bounded, and the office's own."""

from __future__ import annotations

from collections.abc import Callable, Hashable
from threading import Lock
from typing import Generic, TypeVar

from cachetools import LRUCache

Value = TypeVar("Value")


class AtHand(Generic[Value]):
    """The values that were asked for last, by their keys. most: how many are kept."""

    def __init__(self, most: int) -> None:
        self._kept: LRUCache[Hashable, Value] = LRUCache(most)
        self._lock = Lock()

    def __len__(self) -> int:
        return len(self._kept)

    def __contains__(self, key: Hashable) -> bool:
        return key in self._kept

    def get(self, key: Hashable, make: Callable[[], Value]) -> Value:
        """The value of a key, made where there is none. Nobody waits while one is made; an error keeps nothing."""
        with self._lock:
            if key in self._kept:
                return self._kept[key]
        made = make()
        with self._lock:
            self._kept[key] = made
        return made
