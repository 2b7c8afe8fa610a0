"""The table of a ledger's lines, and the view that reads like the ledger. The only place with table definitions by name."""

from __future__ import annotations

import re
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass

from sqlalchemy import Connection, text

from lofty_abacus.actions.errors import RecordsError

_PLAIN = re.compile(r"[a-z][0-9a-z_]{0,39}")
_CODE, _FIGURE, _DATE = "_code", "_figure", "_date"
#: What a line in another currency was given as.
GIVEN_COLUMNS = ("given_amount", "given_currency", "rate")
#: What every ledger's view has beside its dimensions.
VIEW_COLUMNS = ("id", "day", "side", "quantity", "amount", "cost", "line_ref", "file_name", "file_row", "posted_version")


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
    return f"{dimension}{_CODE}"


def make_line_table(connection: Connection, ledger_id: int, amount_scale: int, quantity_scale: int) -> None:
    """Make the table of a new ledger's lines."""
    connection.execute(
        text(
            f"CREATE TABLE IF NOT EXISTS {line_table(ledger_id)} ("
            # Ids are told: counting them up, two connections that load at once would wait for each other at every line.
            " id BIGINT UNSIGNED NOT NULL PRIMARY KEY,"
            " batch_id INT NOT NULL,"
            " file_row INT UNSIGNED NOT NULL COMMENT 'row in the file; the heading is row 1',"
            " day DATE NOT NULL,"
            " is_return TINYINT NOT NULL COMMENT '0 sale, 1 return',"
            " line_ref VARCHAR(255) COMMENT 'line id in the file',"
            f" amount DECIMAL(19,{int(amount_scale)}) NOT NULL,"
            f" quantity DECIMAL(19,{int(quantity_scale)}),"
            f" cost DECIMAL(19,{int(amount_scale)}),"
            " excluded TINYINT NOT NULL DEFAULT 0 COMMENT '1: another batch took its place'"
            ") ENGINE=InnoDB CHARSET=utf8mb4 COLLATE utf8mb4_nopad_bin"
        )
    )


def last_line(connection: Connection, ledger_id: int) -> int:
    """The highest id of a line, 0 where there is none. Whoever posts holds the ledger's posting lock, and goes on from there."""
    return int(connection.execute(text(f"SELECT MAX(id) FROM {line_table(ledger_id)}")).scalar() or 0)


def drop_stray_lines(connection: Connection, ledger_id: int) -> bool:
    """Take away lines whose batch never came to be (`loading.py`); whether there were any. They are the last ones."""
    with_batch = f"{line_table(ledger_id)} l LEFT JOIN batch b ON b.id = l.batch_id"
    last = connection.execute(text(f"SELECT b.id FROM {with_batch} ORDER BY l.id DESC LIMIT 1")).first()
    if last is None or last[0] is not None:
        return False
    known = "SELECT COALESCE(MAX(last_line), 0) FROM batch WHERE ledger_id = :ledger"
    stray = f"DELETE l FROM {with_batch} WHERE b.id IS NULL AND l.id > ({known})"
    connection.execute(text(stray), {"ledger": ledger_id})
    return True


def add_dimension_columns(connection: Connection, ledger_id: int, names: Sequence[str]) -> None:
    """Give the lines columns of member codes; lines posted before have the blank member (0)."""
    if names:
        parts = ", ".join(f"ADD COLUMN IF NOT EXISTS {code_column(name)} INT UNSIGNED NOT NULL DEFAULT 0" for name in names)
        connection.execute(text(f"ALTER TABLE {line_table(ledger_id)} {parts}"))


def figure_column(name: str) -> str:
    """Name of the column of a figure of the ledger's own. Raises RecordsError for a name that is not plain."""
    return f"{_plain(name)}{_FIGURE}"


def date_column(name: str) -> str:
    """Name of the column of a day of the ledger's own. Raises RecordsError for a name that is not plain."""
    return f"{_plain(name)}{_DATE}"


def _plain(name: str) -> str:
    if not _PLAIN.fullmatch(name):
        raise RecordsError(f"{name!r} cannot be a column's name: use lower case letters, digits and _.")
    return name


def have_own_columns(connection: Connection, ledger_id: int, figures: Mapping[str, int], days: Sequence[str]) -> None:
    """Give the lines columns for figures (name and decimals) and days of the ledger's own; lines posted before have none.

    A figure that is there gets room for its decimals. Raises DataError where the lines have none for them.
    """
    if not figures and not days:
        return
    known = line_table_columns(connection, ledger_id).decimals
    parts = [f"ADD COLUMN {date_column(name)} DATE" for name in days if date_column(name) not in known]
    for name, decimals in figures.items():
        column = figure_column(name)
        if column not in known:
            parts.append(f"ADD COLUMN {column} DECIMAL(19,{int(decimals)})")
        elif known[column] != decimals:
            parts.append(f"MODIFY {column} DECIMAL(19,{int(decimals)})")
    if parts:
        connection.execute(text(f"ALTER TABLE {line_table(ledger_id)} {', '.join(parts)}"))


def drop_own_columns(connection: Connection, ledger_id: int, figures: Sequence[str], days: Sequence[str]) -> None:
    """Take columns of figures and days away."""
    parts = [f"DROP COLUMN IF EXISTS {figure_column(name)}" for name in figures]
    parts += [f"DROP COLUMN IF EXISTS {date_column(name)}" for name in days]
    if parts:
        connection.execute(text(f"ALTER TABLE {line_table(ledger_id)} {', '.join(parts)}"))


@dataclass(frozen=True)
class LineTableColumns:
    """The columns that a ledger's table of lines has, with their decimals (None: it is no number)."""

    decimals: Mapping[str, int | None]

    @property
    def dimensions(self) -> set[str]:
        """The dimensions that have a column of member codes."""
        return {name.removesuffix(_CODE) for name in self.decimals if name.endswith(_CODE)}

    @property
    def figures(self) -> dict[str, int]:
        """The figures of the ledger's own, with the decimals that their columns have room for."""
        return {name.removesuffix(_FIGURE): scale or 0 for name, scale in self.decimals.items() if name.endswith(_FIGURE)}

    @property
    def days(self) -> set[str]:
        """The days of the ledger's own."""
        return {name.removesuffix(_DATE) for name in self.decimals if name.endswith(_DATE)}

    @property
    def scales(self) -> tuple[int, int]:
        """The decimals that the columns of amounts and of quantities have room for."""
        return self.decimals["amount"] or 0, self.decimals["quantity"] or 0


def line_table_columns(connection: Connection, ledger_id: int) -> LineTableColumns:
    """The columns of a ledger's table of lines, as MariaDB describes it."""
    query = (
        "SELECT COLUMN_NAME, NUMERIC_SCALE FROM information_schema.COLUMNS"
        " WHERE TABLE_SCHEMA = DATABASE() AND TABLE_NAME = :table"
    )
    return LineTableColumns({row[0]: row[1] for row in connection.execute(text(query), {"table": line_table(ledger_id)})})


def have_given_columns(connection: Connection, ledger_id: int) -> None:
    """Give the lines columns for what amounts in other currencies were given as; the ledger's own have nothing there."""
    connection.execute(
        text(
            f"ALTER TABLE {line_table(ledger_id)} ADD COLUMN IF NOT EXISTS given_amount DECIMAL(28,9),"
            " ADD COLUMN IF NOT EXISTS given_currency CHAR(3), ADD COLUMN IF NOT EXISTS rate DECIMAL(30,12)"
        )
    )


def drop_dimension_columns(connection: Connection, ledger_id: int, names: Sequence[str]) -> None:
    """Take columns of member codes away."""
    if names:
        parts = ", ".join(f"DROP COLUMN IF EXISTS {code_column(name)}" for name in names)
        connection.execute(text(f"ALTER TABLE {line_table(ledger_id)} {parts}"))


def set_scales(
    connection: Connection, ledger_id: int, amount_scale: int, quantity_scale: int, amounts: Sequence[str] = ()
) -> None:
    """Give amounts and quantities more decimals, or take back those that no line has: exact, no digit changes.

    amounts: those of the ledger's own.
    """
    own = "".join(f", MODIFY {figure_column(name)} DECIMAL(19,{int(amount_scale)})" for name in amounts)
    connection.execute(
        text(
            f"ALTER TABLE {line_table(ledger_id)} MODIFY amount DECIMAL(19,{int(amount_scale)}) NOT NULL,"
            f" MODIFY quantity DECIMAL(19,{int(quantity_scale)}), MODIFY cost DECIMAL(19,{int(amount_scale)}){own}"
        )
    )


def make_view(
    connection: Connection,
    ledger_id: int,
    dimensions: Sequence[tuple[int, str, str | None]],
    figures: Sequence[str] = (),
    days: Sequence[str] = (),
) -> None:
    """Make the view `ledger_N_lines` anew: one row per posted line with names instead of codes.

    figures, days: those of the ledger's own.
    dimensions: (id, name, of a level the lines' own dimension that it is reached from). Names are looked up one by one, since
    a join has 61 tables at most; a dimension that is called like a column of every view stands there with `_` behind it.
    """
    columns = []
    for number, name, of in dimensions:
        code = f"l.{code_column(of or name)}"
        if of is not None:
            said = (
                f"(SELECT v.code FROM level_member v WHERE v.dimension_id = {int(number)} AND v.of_code = {code}"
                " AND l.day >= v.valid_from AND l.day < v.valid_until)"
            )
            code = f"COALESCE({said}, IF({code} = 0, 0, 1))"
        columns.append(
            f"(SELECT m.label FROM member m WHERE m.dimension_id = {int(number)} AND m.code = {code}) AS `{_alias(name)}`"
        )
    own = [f"l.{figure_column(name)} AS `{_alias(name)}`" for name in figures]
    own += [f"l.{date_column(name)} AS `{_alias(name)}`" for name in days]
    parts = [
        *("l.id", "l.day", "IF(l.is_return, 'return', 'sale') AS side"),
        *columns,
        *("l.quantity", "l.amount", "l.cost"),
        *own,
        *("l.line_ref", "b.file_name", "l.file_row", "b.posted_version"),
    ]
    connection.execute(
        text(
            f"CREATE OR REPLACE VIEW ledger_{int(ledger_id)}_lines AS SELECT {', '.join(parts)}"
            f" FROM {line_table(ledger_id)} l JOIN batch b ON b.id = l.batch_id AND b.active AND l.excluded = 0"
        )
    )


def _alias(name: str) -> str:
    return f"{name}_" if name in VIEW_COLUMNS else name


def view_has(connection: Connection, ledger_id: int, names: Collection[str]) -> bool:
    """Whether the ledger's view is there and has columns of some names."""
    query = "SELECT COLUMN_NAME FROM information_schema.COLUMNS WHERE TABLE_SCHEMA = DATABASE() AND TABLE_NAME = :view"
    found = set(connection.execute(text(query), {"view": f"ledger_{int(ledger_id)}_lines"}).scalars())
    return bool(found) and all(_alias(name) in found for name in names)


def drop_lines(connection: Connection, ledger_id: int) -> None:
    """Throw a ledger's lines away, with their view."""
    connection.execute(text(f"DROP VIEW IF EXISTS ledger_{int(ledger_id)}_lines"))
    connection.execute(text(f"DROP TABLE IF EXISTS {line_table(ledger_id)}"))
