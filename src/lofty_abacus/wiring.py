"""The only file that joins real parts."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from datetime import UTC, datetime

from lofty_abacus.actions.ports import Office
from lofty_abacus.server import mariadb
from lofty_abacus.settings import Settings
from lofty_abacus.store.books import MariaDbBooks


@contextmanager
def open_office(settings: Settings, say: Callable[[str], None] = lambda _: None) -> Iterator[Office]:
    """Start (or adopt) the private MariaDB, migrate, and give the office; a MariaDB that was started here is stopped at the end.

    Raises ServerError.
    """
    running = mariadb.start(settings.mariadb, say)
    try:
        say("Bringing the tables up to date")
        books = MariaDbBooks(running.url, settings.columns)
        settings.staging.mkdir(parents=True, exist_ok=True)
        try:
            yield Office(books, lambda: datetime.now(UTC), settings.staging)
        finally:
            books.engine.dispose()
    finally:
        if not running.adopted:
            say("Stopping MariaDB")
            mariadb.stop(settings.mariadb, running)
