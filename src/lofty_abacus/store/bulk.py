"""Many rows at once: written to a file and loaded by MariaDB within the running transaction."""

from __future__ import annotations

import os
import secrets
import tempfile
from collections.abc import Iterable, Mapping, Sequence
from pathlib import Path

from sqlalchemy import Connection

#: Fields of files that are written column by column: texts in quotes, a quote in them doubled, NULL bare.
FIELDS = "FIELDS TERMINATED BY '\\t' OPTIONALLY ENCLOSED BY '\"' ESCAPED BY ''"
_ESCAPES = str.maketrans({"\\": "\\\\", "\t": "\\t", "\n": "\\n", "\r": "\\r", "\0": "\\0"})


def field(value: object) -> str:
    """A value as a field of MariaDB's load format."""
    return "\\N" if value is None else str(value).translate(_ESCAPES)


def loading_folder(connection: Connection) -> Path:
    """Where files lie that MariaDB is to load: in the folder that it reads from itself, if it has one here."""
    folder = _own_folder(connection)
    return Path(folder if folder and os.access(folder, os.W_OK) else tempfile.gettempdir())


def _own_folder(connection: Connection) -> str | None:
    """The folder that MariaDB reads files from itself, asked once a connection."""
    if "folder" not in connection.info:
        connection.info["folder"] = connection.exec_driver_sql("SELECT @@secure_file_priv").scalar()
    found: str | None = connection.info["folder"]
    return found


def load_rows(connection: Connection, table: str, columns: Sequence[str], rows: Iterable[Sequence[object]]) -> int:
    """Insert rows; returns how many. The table's name is ours, not a user's."""
    folder = loading_folder(connection)
    path = folder / f"lofty-load-{secrets.token_hex(8)}"
    count = 0
    try:
        with path.open("x", encoding="utf-8", newline="") as file:
            for row in rows:
                file.write("\t".join(map(field, row)))
                file.write("\n")
                count += 1
        if count:
            load_file(connection, table, columns, path)
    finally:
        path.unlink()
    return count


def load_file(
    connection: Connection,
    table: str,
    columns: Sequence[str],
    path: Path,
    fields: str = "",
    throughout: Mapping[str, int | str] | None = None,
) -> None:
    """Load a file of tab-separated fields in the `loading_folder`. fields: how they are written, where not by `field`.

    throughout: what further columns hold in every row: a number, or the same as a column that is named.

    A file in MariaDB's own folder is read by MariaDB itself, so that Python can work meanwhile.
    """
    own = _own_folder(connection)
    local = "" if own and path.parent == Path(own) else "LOCAL "
    further = ", ".join(f"{column} = {value}" for column, value in (throughout or {}).items())
    connection.exec_driver_sql(
        f"LOAD DATA {local}INFILE '{path}' INTO TABLE {table} CHARACTER SET utf8mb4 {fields} ({', '.join(columns)})"
        f"{' SET ' if further else ''}{further}"
    )
