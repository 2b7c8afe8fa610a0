"""Many rows at once: written to a file and loaded by MariaDB within the running transaction."""

from __future__ import annotations

import os
import tempfile
from collections.abc import Iterable, Sequence
from pathlib import Path

from sqlalchemy import Connection

_ESCAPES = str.maketrans({"\\": "\\\\", "\t": "\\t", "\n": "\\n", "\r": "\\r", "\0": "\\0"})


def field(value: object) -> str:
    """A value as a field of MariaDB's load format."""
    return "\\N" if value is None else str(value).translate(_ESCAPES)


def load_rows(connection: Connection, table: str, columns: Sequence[str], rows: Iterable[Sequence[object]]) -> int:
    """Insert rows; returns how many. The table's name is ours, not a user's."""
    descriptor, name = tempfile.mkstemp(prefix="lofty-load-")
    count = 0
    try:
        with os.fdopen(descriptor, "w", encoding="utf-8", newline="") as file:
            for row in rows:
                file.write("\t".join(map(field, row)))
                file.write("\n")
                count += 1
        if count:
            load_file(connection, table, columns, Path(name))
    finally:
        Path(name).unlink()
    return count


def load_file(connection: Connection, table: str, columns: Sequence[str], path: Path, fields: str = "") -> None:
    """Load a file of tab-separated fields. fields: how they are written, where not by `field`."""
    connection.exec_driver_sql(
        f"LOAD DATA LOCAL INFILE '{path}' INTO TABLE {table} CHARACTER SET utf8mb4 {fields} ({', '.join(columns)})"
    )
