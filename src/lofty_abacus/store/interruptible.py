"""Long questions to MariaDB, which end there as soon as nobody waits for them any more."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from concurrent.futures import ThreadPoolExecutor, wait
from contextlib import suppress
from typing import Any

from sqlalchemy import Connection, Row, TextClause

from lofty_abacus.core.patience import heed
from lofty_abacus.store.engine import MOST_CONNECTIONS

#: How often it is looked whether somebody waits.
LOOK_SECONDS = 0.1
#: Threads that do nothing but wait for MariaDB.
_waiting = ThreadPoolExecutor(2 * MOST_CONNECTIONS, thread_name_prefix="asked")


def rows_of(connection: Connection, query: TextClause, values: Mapping[str, Any]) -> Sequence[Row[Any]]:
    """The rows of a query. Where its asker goes meanwhile (`core.patience`), it is ended in MariaDB, too, and raised as there."""
    # As the driver counts its connections, and MariaDB too.
    number = int(connection.connection.thread_id())
    coming = _waiting.submit(lambda: connection.execute(query, values).all())
    while not wait((coming,), LOOK_SECONDS).done:
        try:
            heed()
        except BaseException:
            with connection.engine.connect() as other:
                other.exec_driver_sql(f"KILL QUERY {number}")
            with suppress(Exception):
                coming.result()
            raise
    return coming.result()
