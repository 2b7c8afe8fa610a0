"""What the steps of migrations ask of the tables.

MariaDB ends a transaction at each change of a table, so a migration may be cut off between any two of its steps: every step
looks whether it was done before, and a migration that is begun again comes to the same end.
"""

from __future__ import annotations

from alembic import op
from sqlalchemy import text


def has_column(table: str, column: str) -> bool:
    """Whether a table of this database has a column."""
    query = (
        "SELECT 1 FROM information_schema.COLUMNS WHERE TABLE_SCHEMA = DATABASE()"
        " AND TABLE_NAME = :table AND COLUMN_NAME = :column"
    )
    return op.get_bind().execute(text(query), {"table": table, "column": column}).first() is not None


def has_index(table: str, index: str) -> bool:
    """Whether a table of this database has an index of that name."""
    query = (
        "SELECT 1 FROM information_schema.STATISTICS WHERE TABLE_SCHEMA = DATABASE()"
        " AND TABLE_NAME = :table AND INDEX_NAME = :index LIMIT 1"
    )
    return op.get_bind().execute(text(query), {"table": table, "index": index}).first() is not None


def tables_of_lines() -> list[str]:
    """The tables of ledgers' lines, by their names."""
    query = (
        "SELECT TABLE_NAME FROM information_schema.TABLES WHERE TABLE_SCHEMA = DATABASE() AND TABLE_NAME REGEXP '^line_[0-9]+$'"
    )
    return sorted(op.get_bind().execute(text(query)).scalars())
