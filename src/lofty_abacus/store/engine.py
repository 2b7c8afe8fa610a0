"""The connection to MariaDB, and its errors in our words."""

from __future__ import annotations

import errno
import time
from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

from sqlalchemy import Connection, Engine, create_engine, event
from sqlalchemy.exc import DisconnectionError, InterfaceError, InternalError, OperationalError

from lofty_abacus.actions.errors import FullDiskError, RecordsError, UnreachableError
from lofty_abacus.core.patience import heed

_GONE = {2002, 2003, 2006, 2013, 1053, 1927, 1158, 1159, 1160, 1161}
#: Nothing could be written any more.
_FULL = {3, 1021, 1114, 1030}
#: A table was changed after the moment as of which it is read.
_CHANGED = 1412


class ChangedMeanwhileError(RecordsError):
    """What is read was laid out anew meanwhile: to be asked again."""


#: Connections that are kept, and as many more in need: making one takes longer than most questions.
MOST_CONNECTIONS = 24
#: After so long a connection is asked whether it is still there before it is used.
QUIET_SECONDS = 0.5


def connect(url: str) -> Engine:
    """An engine whose connections are checked before use and see only committed work."""
    engine = create_engine(
        url,
        pool_recycle=1800,
        pool_size=MOST_CONNECTIONS,
        max_overflow=MOST_CONNECTIONS,
        isolation_level="READ COMMITTED",
        connect_args={"ssl_disabled": True},
    )
    event.listen(engine, "checkout", _ask_after_a_while)
    event.listen(engine, "checkin", _remember)
    return engine


def _remember(connection: Any, record: Any) -> None:
    record.info["used"] = time.monotonic()


def _ask_after_a_while(connection: Any, record: Any, proxy: Any) -> None:
    """Whether the server still hears a connection that nobody used for a while: asking each time is a way of its own."""
    used = record.info.get("used")
    if used is None or time.monotonic() - used < QUIET_SECONDS:
        return
    try:
        connection.ping(reconnect=False)
    except Exception as error:
        raise DisconnectionError from error


@contextmanager
def transaction(engine: Engine) -> Iterator[Connection]:
    """One transaction: committed at the end, rolled back on any error. Driver errors become RecordsError.

    Each is a step of its work: what stands aside for others does so before it (`core.patience`).
    """
    heed()
    try:
        with engine.begin() as connection:
            yield connection
    except OSError as error:
        if error.errno == errno.ENOSPC:
            raise FullDiskError("the folder of the records") from error
        raise
    except (OperationalError, InterfaceError, InternalError) as error:
        code = getattr(error.orig, "args", None) or (0,)
        code = code[0]
        if code in _GONE or isinstance(error, InterfaceError):
            raise UnreachableError from error
        if code in _FULL or "No space left" in str(error.orig) or "Errcode: 28" in str(error.orig):
            raise FullDiskError("the folder of the records") from error
        if code == _CHANGED:
            raise ChangedMeanwhileError("The ledger's columns were changed meanwhile: try again.") from error
        raise RecordsError(f"The database refused: {error.orig}") from error


@contextmanager
def snapshot(engine: Engine) -> Iterator[Connection]:
    """One transaction that reads everything as of its first reading, whatever is committed meanwhile."""
    with transaction(engine.execution_options(isolation_level="REPEATABLE READ")) as connection:
        yield connection


def bare_url(url: str) -> str:
    """The address as the bulk reader takes it."""
    return url.replace("mysql+pymysql", "mysql").split("?")[0]
