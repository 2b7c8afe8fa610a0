"""One at a time for each of many things: a lock for a thing is there as long as somebody holds or wants it."""

from __future__ import annotations

from collections.abc import Hashable, Iterator
from contextlib import contextmanager
from threading import Lock

from lofty_abacus.core.patience import heed

#: How often somebody who waits looks whether they still want to.
LOOK_SECONDS = 0.1


class Alone:
    """Locks by what they are for."""

    def __init__(self) -> None:
        self._busy: dict[Hashable, tuple[Lock, int]] = {}
        self._lock = Lock()

    @contextmanager
    def holding(self, key: Hashable) -> Iterator[None]:
        """Do something that nobody else does with this key meanwhile. Raises what the asker is stopped by while they wait."""
        with self._lock:
            lock, wanted = self._busy.get(key, (Lock(), 0))
            self._busy[key] = (lock, wanted + 1)
        try:
            while not lock.acquire(timeout=LOOK_SECONDS):
                heed()
            try:
                yield
            finally:
                lock.release()
        finally:
            with self._lock:
                lock, wanted = self._busy[key]
                if wanted == 1:
                    del self._busy[key]
                else:
                    self._busy[key] = (lock, wanted - 1)
