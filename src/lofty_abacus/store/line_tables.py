"""The table of a ledger's lines, and the view that reads like the ledger. The only place with table definitions by name."""

from __future__ import annotations

import re

from sqlalchemy import Connection, text

from lofty_abacus.actions.errors import RecordsError

_PLAIN = re.compile(r"[a-z][0-9a-z_]{0,39}")


def line_table(ledger_id: int) -> str:
    """Name of a ledger's table of lines."""
    return f"line_{int(ledger_id)}"


def counted_lines(ledger_id: int) -> str:
    """The lines that count now, as `l` joined with their batch `b`, for questions about most of them.

    Reading the table once in its own order costs a fraction of fetching lines batch by batch.
    """
    return f"{line_table(ledger_id)} l STRAIGHT_JOIN batch b ON b.id = l.batch_id AND b.active AND l.excluded = 0"


def code_column(dimension: str) -> str:
    """Name of a dimension's column of member codes. Raises RecordsError for a name that is not plain."""
    if not _PLAIN.fullmatch(dimension):
        raise RecordsError(f"{dimension!r} cannot be a dimension's name: use lower case letters, digits and _.")
    return f"{dimension}_code"


def make_line_table(connection: Connection, ledger_id: int, amount_scale: int, quantity_scale: int) -> None:
    """Make the table of a new ledger's lines."""
    connection.execute(
        text(
            f"CREATE TABLE IF NOT EXISTS {line_table(ledger_id)} ("
            " id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,"
            " batch_id INT NOT NULL,"
            " file_row INT UNSIGNED NOT NULL COMMENT 'row in the file; the heading is row 1',"
            " day DATE NOT NULL,"
            " is_return TINYINT NOT NULL COMMENT '0 sale, 1 return',"
            " line_ref VARCHAR(255) COMMENT 'line id in the file',"
            f" amount DECIMAL(19,{int(amount_scale)}) NOT NULL,"
            f" quantity DECIMAL(19,{int(quantity_scale)}),"
            f" cost DECIMAL(19,{int(amount_scale)}),"
            " excluded TINYINT NOT NULL DEFAULT 0 COMMENT '1: another batch took its place',"
            " KEY by_ref (line_ref)"
            ") ENGINE=InnoDB CHARSET=utf8mb4 COLLATE utf8mb4_nopad_bin"
        )
    )


def add_dimension_column(connection: Connection, ledger_id: int, dimension: str) -> None:
    """Give the lines a column of member codes; lines posted before have the blank member (0)."""
    connection.execute(
        text(
            f"ALTER TABLE {line_table(ledger_id)} ADD COLUMN IF NOT EXISTS"
            f" {code_column(dimension)} INT UNSIGNED NOT NULL DEFAULT 0"
        )
    )


def raise_scales(connection: Connection, ledger_id: int, amount_scale: int, quantity_scale: int) -> None:
    """Give amounts and quantities more decimals: exact, no digit changes."""
    connection.execute(
        text(
            f"ALTER TABLE {line_table(ledger_id)} MODIFY amount DECIMAL(19,{int(amount_scale)}) NOT NULL,"
            f" MODIFY quantity DECIMAL(19,{int(quantity_scale)}), MODIFY cost DECIMAL(19,{int(amount_scale)})"
        )
    )


def make_view(connection: Connection, ledger_id: int, dimensions: list[tuple[int, str, int | None, str | None]]) -> None:
    """Make the view `ledger_N_lines` anew: one row per posted line with names instead of codes.

    dimensions: (id, name, id of the dimension it is a level of or None, name of that dimension or None).
    """
    columns = ["l.id", "l.day", "IF(l.is_return, 'return', 'sale') AS side"]
    joins = ["JOIN batch b ON b.id = l.batch_id AND b.active AND l.excluded = 0"]
    for number, name, of, of_name in dimensions:
        code = f"l.{code_column(name)}"
        if of is not None and of_name is not None:
            joins.append(
                f"LEFT JOIN level_member v{number} ON v{number}.dimension_id = {number}"
                f" AND v{number}.of_code = l.{code_column(of_name)}"
                f" AND l.day >= v{number}.valid_from AND l.day < v{number}.valid_until"
            )
            code = f"COALESCE(v{number}.code, IF(l.{code_column(of_name)} = 0, 0, 1))"
        joins.append(f"LEFT JOIN member m{number} ON m{number}.dimension_id = {number} AND m{number}.code = {code}")
        columns.append(f"m{number}.label AS `{name}`")
    columns += ["l.quantity", "l.amount", "l.cost", "l.line_ref", "b.file_name", "l.file_row", "b.posted_version"]
    connection.execute(
        text(
            f"CREATE OR REPLACE VIEW ledger_{int(ledger_id)}_lines AS SELECT {', '.join(columns)}"
            f" FROM {line_table(ledger_id)} l {' '.join(joins)}"
        )
    )
