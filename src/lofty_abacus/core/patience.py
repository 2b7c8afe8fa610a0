"""Whether anybody still waits for what is being computed. The core knows no clock: who asks lends it a way to be told to stop."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar

_asked: ContextVar[Callable[[], None] | None] = ContextVar("patience", default=None)


def heed() -> None:
    """Called between the steps of long work; raises what the asker chose to stop it by."""
    stop = _asked.get()
    if stop is not None:
        stop()


@contextmanager
def heeding(stop: Callable[[], None]) -> Iterator[None]:
    """Have the work of this thread ask `stop` now and then: it raises once nobody waits any more."""
    before = _asked.set(stop)
    try:
        yield
    finally:
        _asked.reset(before)
