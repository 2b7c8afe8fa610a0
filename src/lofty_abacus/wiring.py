"""The only file that joins real parts."""

from __future__ import annotations

import logging
import os
from collections.abc import Callable, Iterator
from contextlib import ExitStack, contextmanager
from datetime import UTC, datetime
from logging.handlers import RotatingFileHandler
from pathlib import Path
from threading import Event, Thread

from lofty_abacus.actions.errors import ActionError
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.watch_inbox import Inbox
from lofty_abacus.server import mariadb
from lofty_abacus.server.errors import ServerError
from lofty_abacus.server.folder import prepare_folder
from lofty_abacus.settings import Settings
from lofty_abacus.store import backing_up
from lofty_abacus.store.books import MariaDbBooks
from lofty_abacus.store.other_database import ReadOnlyDatabase

_log = logging.getLogger(__name__)
LOOK_SECONDS = 2.0
ALIVE_SECONDS = 0.5
#: How often the files that are kept beside the record are read again.
VERIFY_SECONDS = 600.0
LOG_BYTES, LOGS_KEPT = 5 << 20, 5


@contextmanager
def open_office(settings: Settings, say: Callable[[str], None] = lambda _: None) -> Iterator[Office]:
    """The office on the private MariaDB, which is started or adopted, and stopped by the last command that uses it.

    A MariaDB that dies meanwhile is started again. Before tables are changed by a newer version a backup is taken.
    Raises ServerError.
    """
    private_folders(settings)
    keep_log(settings)
    with ExitStack() as stack:
        running = stack.enter_context(mariadb.in_use(settings.mariadb, say))
        stack.enter_context(_alive(settings.mariadb, running.port))
        say("Bringing the tables up to date")
        place = settings.backups / f"before-upgrade-{datetime.now(UTC):%Y%m%d-%H%M%S}.sql.gz"
        books = MariaDbBooks(
            running.url,
            settings.columns,
            lambda: backing_up.back_up(running.url, settings.mariadb, place, backing_up.BEFORE_UPGRADE),
        )
        stack.callback(books.engine.dispose)
        stack.enter_context(_again_and_again("columns", VERIFY_SECONDS, books.verify_columns))
        yield Office(books, lambda: datetime.now(UTC), settings.staging, settings.inbox, ReadOnlyDatabase(), settings.person)


def private_folders(settings: Settings) -> None:
    """Make the folders that hold sales data, for their owner's eyes only, whatever they were before. Raises FolderError."""
    for folder in (settings.home, settings.columns, settings.staging, settings.inbox, settings.backups, settings.log):
        prepare_folder(folder)
        if folder.stat().st_uid == os.geteuid():
            folder.chmod(0o700)


def keep_log(settings: Settings) -> None:
    """Write what goes wrong into files that take turns, with its traces."""
    path = settings.log / "lofty.log"
    root = logging.getLogger()
    if any(isinstance(each, RotatingFileHandler) and Path(each.baseFilename) == path for each in root.handlers):
        return
    handler = RotatingFileHandler(path, maxBytes=LOG_BYTES, backupCount=LOGS_KEPT, encoding="utf-8")
    handler.setFormatter(logging.Formatter("%(asctime)s %(levelname)s %(name)s: %(message)s"))
    root.addHandler(handler)


@contextmanager
def watching_inbox(office: Office) -> Iterator[None]:
    """Look into the inbox again and again meanwhile, in a thread of its own."""
    with _again_and_again("inbox", LOOK_SECONDS, Inbox(office).look):
        yield


@contextmanager
def _alive(folder: Path, port: int) -> Iterator[None]:
    """Start the MariaDB of a folder again, where it was, whenever it ends without being told to."""

    def look() -> None:
        if not mariadb.runs(folder):
            _log.error("MariaDB ended without being told to: it is started again")
            mariadb.start(folder, port=port)

    with _again_and_again("database", ALIVE_SECONDS, look):
        yield


@contextmanager
def _again_and_again(name: str, seconds: float, work: Callable[[], object]) -> Iterator[None]:
    """Do some work now and then meanwhile, in a thread of its own; what goes wrong is in the log, and it is done again."""
    ended = Event()

    def run() -> None:
        while not ended.wait(seconds):
            try:
                work()
            except (ActionError, ServerError, OSError):
                _log.exception("%s: what is done now and then failed", name)

    thread = Thread(target=run, name=name, daemon=True)
    thread.start()
    try:
        yield
    finally:
        ended.set()
        thread.join(max(LOOK_SECONDS * 5, 1))
