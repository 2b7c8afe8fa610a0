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
    """The office on the private MariaDB, which is started or adopted, and stopped by the last command that uses it.

    Raises ServerError.
    """
    with mariadb.in_use(settings.mariadb, say) as running:
        say("Bringing the tables up to date")
        books = MariaDbBooks(running.url, settings.columns)
        settings.staging.mkdir(parents=True, exist_ok=True)
        try:
            yield Office(books, lambda: datetime.now(UTC), settings.staging)
        finally:
            books.engine.dispose()
