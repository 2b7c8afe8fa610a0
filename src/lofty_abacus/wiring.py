"""The only file that joins real parts."""

from __future__ import annotations

import gc
import logging
import os
import sys
from collections.abc import Callable, Iterator
from contextlib import AbstractContextManager, ExitStack, contextmanager
from dataclasses import replace
from datetime import UTC, datetime
from pathlib import Path

from lofty_abacus.actions.briefs.watch_briefs import Briefs
from lofty_abacus.actions.errors import ActionError
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.ports.mail import MailAbout
from lofty_abacus.actions.work.clock import again_and_again
from lofty_abacus.actions.work.watch_inbox import Inbox
from lofty_abacus.export.briefs.fonts import Fonts
from lofty_abacus.logs import log_to_files
from lofty_abacus.mail.catching import catching
from lofty_abacus.mail.sending import Server, SmtpRoad, server_of
from lofty_abacus.server import mariadb
from lofty_abacus.server.errors import ServerError
from lofty_abacus.server.folder import prepare_folder
from lofty_abacus.settings import Settings, SettingsError
from lofty_abacus.store import backing_up, keeping
from lofty_abacus.store.books import MariaDbBooks
from lofty_abacus.store.migrating import migrate
from lofty_abacus.store.other_database import ReadOnlyDatabase
from lofty_abacus.store.posting import settle
from lofty_abacus.workers import threads

_log = logging.getLogger(__name__)
LOOK_SECONDS = 2.0
BRIEFS_SECONDS = 2.0
ALIVE_SECONDS = 0.5
#: How often the files that are kept beside the record are read again.
VERIFY_SECONDS = 600.0
#: How long a thread computes before it lets another one go on.
SWITCH_SECONDS = 0.001
#: Objects made, and lookings at the younger ones, between two lookings for rings.
SELDOM = (200_000, 20, 50)
_PASSING = (ActionError, ServerError, OSError)


@contextmanager
def open_office(
    settings: Settings, say: Callable[[str], None] = lambda _: None, longest_reading: float | None = None
) -> Iterator[Office]:
    """The office on the private MariaDB, which is started or adopted, and stopped by the last command that uses it.

    longest_reading: seconds that a question waits for lines that nobody has read yet; None: as long as it takes.

    A MariaDB that dies meanwhile is started again. Before tables are changed by a newer version a backup is taken.
    Raises ServerError.
    """
    private_folders(settings)
    log_to_files(settings.log)
    collect_seldom()
    with ExitStack() as stack:
        running = stack.enter_context(mariadb.in_use(settings.mariadb, say, settings.redo_megabytes))
        stack.enter_context(_alive(settings, running.port))
        say("Bringing the tables up to date")
        place = settings.backups / f"before-upgrade-{now():%Y%m%d-%H%M%S}.sql.gz"
        books = open_books(
            running.url,
            settings.columns,
            now,
            lambda: backing_up.back_up(running.url, settings.mariadb, place, backing_up.BEFORE_UPGRADE, now()),
        )
        books.longest_reading = longest_reading
        stack.callback(books.close)
        stack.enter_context(again_and_again("columns", VERIFY_SECONDS, books.verify_columns, passing=_PASSING))
        yield Office(
            books,
            now,
            settings.staging,
            settings.inbox,
            ReadOnlyDatabase(),
            settings.person,
            settings.language,
            settings.work,
            Fonts(settings.web / "assets"),
            handed=settings.handed,
        )


def now() -> datetime:
    """The clock of this machine: the only one that is looked at."""
    return datetime.now(UTC)


def open_books(
    url: str, columns: Path, clock: Callable[[], datetime], before_upgrade: Callable[[], object] = lambda: None
) -> MariaDbBooks:
    """The records in a MariaDB, with tables of this build and nothing left of what was broken off.

    before_upgrade: called before tables that hold something are changed. Raises RecordsError.
    """
    books = MariaDbBooks(url, columns, clock, threads())
    try:
        migrated = migrate(books.engine, before_upgrade)
        keeping.drop_what_nobody_owns(books.engine)
        for each in books.ledgers():
            settle(books.engine, each.id, anew=migrated)
    except BaseException:
        books.engine.dispose()
        raise
    return books


def collect_seldom() -> None:
    """Look for rings among objects a hundred times less often: an answer of many rows is a great many objects that form none.

    What is there by now stays, and is looked at no more.
    """
    # A thread that comes back from the database waits this long for one that computes: many short ways, many such waits.
    sys.setswitchinterval(SWITCH_SECONDS)
    gc.collect()
    gc.freeze()
    gc.set_threshold(*SELDOM)


def private_folders(settings: Settings) -> None:
    """Make the folders that hold sales data, for their owner's eyes only, whatever they were before. Raises FolderError."""
    kept = (
        settings.columns,
        settings.staging,
        settings.inbox,
        settings.backups,
        settings.log,
        settings.work,
        settings.handed,
        settings.caught,
    )
    for folder in (settings.home, *kept):
        prepare_folder(folder)
        if folder.stat().st_uid == os.geteuid():
            folder.chmod(0o700)


@contextmanager
def posting_mail(office: Office, settings: Settings) -> Iterator[Office]:
    """The office with a way for its mail: over the mail server of the settings, else into a folder of this machine.

    Raises SettingsError for a mail server that is not written as one.
    """
    if settings.mail:
        try:
            server = server_of(settings.mail)
        except ValueError as error:
            raise SettingsError(f"LOFTY_MAIL: {error}") from error
        about = MailAbout(True, f"{server.host}:{server.port}", settings.mail_from)
        yield replace(office, mail=SmtpRoad(server, about))
        return
    with catching(settings.caught) as port:
        about = MailAbout(False, str(settings.caught), settings.mail_from or "lofty-abacus@localhost")
        yield replace(office, mail=SmtpRoad(Server("smtp", "127.0.0.1", port), about))


@contextmanager
def watching_briefs(office: Office, aside: Callable[[], AbstractContextManager[None]]) -> Iterator[None]:
    """Publish what is due, send mail, look at alerts and at what was restated again and again meanwhile.

    aside: within which it stands aside for whoever asks.
    """
    briefs = Briefs(office)

    def look() -> None:
        with aside():
            briefs.look()

    with again_and_again("briefs", BRIEFS_SECONDS, look, passing=_PASSING):
        yield


@contextmanager
def watching_inbox(office: Office) -> Iterator[None]:
    """Look into the inbox again and again meanwhile, in a thread of its own."""
    with again_and_again("inbox", LOOK_SECONDS, Inbox(office).look, passing=_PASSING):
        yield


@contextmanager
def _alive(settings: Settings, port: int) -> Iterator[None]:
    """Start the MariaDB of a folder again, where it was, whenever it ends without being told to."""

    def look() -> None:
        if not mariadb.runs(settings.mariadb):
            _log.error("MariaDB ended without being told to: it is started again")
            mariadb.start(settings.mariadb, port=port, redo_megabytes=settings.redo_megabytes)

    with again_and_again("database", ALIVE_SECONDS, look, passing=_PASSING):
        yield
