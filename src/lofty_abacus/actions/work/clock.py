"""What is done again and again while the application runs."""

from __future__ import annotations

import logging
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from threading import Event, Thread

_log = logging.getLogger(__name__)
#: Seconds that a piece of work has to end when its time is over.
PATIENCE = 10.0


@contextmanager
def again_and_again(
    name: str, seconds: float, work: Callable[[], object], *, passing: tuple[type[Exception], ...]
) -> Iterator[None]:
    """Do some work every so many seconds meanwhile, in a thread of its own.

    passing: errors after which it is done again; they are in the log.
    """
    ended = Event()

    def run() -> None:
        while not ended.wait(seconds):
            try:
                work()
            except passing:
                _log.exception("%s: what is done now and then failed", name)

    thread = Thread(target=run, name=name, daemon=True)
    thread.start()
    try:
        yield
    finally:
        ended.set()
        thread.join(PATIENCE)
