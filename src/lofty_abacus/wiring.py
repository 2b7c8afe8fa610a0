"""The only file that joins real parts."""

from __future__ import annotations

import logging
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from datetime import UTC, datetime
from threading import Event, Thread

from lofty_abacus.actions.errors import ActionError
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.watch_inbox import Inbox
from lofty_abacus.server import mariadb
from lofty_abacus.settings import Settings
from lofty_abacus.store.books import MariaDbBooks
from lofty_abacus.store.other_database import ReadOnlyDatabase

_log = logging.getLogger(__name__)
LOOK_SECONDS = 2.0


@contextmanager
def open_office(settings: Settings, say: Callable[[str], None] = lambda _: None) -> Iterator[Office]:
    """The office on the private MariaDB, which is started or adopted, and stopped by the last command that uses it.

    Raises ServerError.
    """
    with mariadb.in_use(settings.mariadb, say) as running:
        say("Bringing the tables up to date")
        books = MariaDbBooks(running.url, settings.columns)
        for folder in (settings.staging, settings.inbox):
            folder.mkdir(parents=True, exist_ok=True)
        try:
            yield Office(books, lambda: datetime.now(UTC), settings.staging, settings.inbox, ReadOnlyDatabase(), settings.person)
        finally:
            books.engine.dispose()


@contextmanager
def watching_inbox(office: Office) -> Iterator[None]:
    """Look into the inbox again and again meanwhile, in a thread of its own."""
    inbox, ended = Inbox(office), Event()

    def watch() -> None:
        while not ended.wait(LOOK_SECONDS):
            try:
                inbox.look()
            except ActionError:
                _log.exception("the inbox could not be looked into")

    thread = Thread(target=watch, name="inbox", daemon=True)
    thread.start()
    try:
        yield
    finally:
        ended.set()
        thread.join(LOOK_SECONDS * 5)
