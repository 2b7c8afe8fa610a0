"""The connection to MariaDB, and its errors in our words."""

from __future__ import annotations

import errno
from collections.abc import Iterator
from contextlib import contextmanager

from sqlalchemy import Connection, Engine, create_engine
from sqlalchemy.exc import InterfaceError, InternalError, OperationalError

from lofty_abacus.actions.errors import FullDiskError, RecordsError, UnreachableError

_GONE = {2002, 2003, 2006, 2013, 1053, 1927, 1158, 1159, 1160, 1161}
#: Nothing could be written any more.
_FULL = {3, 1021, 1114, 1030}
#: A table was changed after the moment as of which it is read.
_CHANGED = 1412


class ChangedMeanwhileError(RecordsError):
    """What is read was laid out anew meanwhile: to be asked again."""


def connect(url: str) -> Engine:
    """An engine whose connections are checked before use and see only committed work."""
    return create_engine(url, pool_pre_ping=True, pool_recycle=1800, isolation_level="READ COMMITTED")


@contextmanager
def transaction(engine: Engine) -> Iterator[Connection]:
    """One transaction: committed at the end, rolled back on any error. Driver errors become RecordsError."""
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
