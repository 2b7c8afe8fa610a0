"""An answer as CSV: exact values, one column per row dimension, the reason of an undefined cell in a field beside it."""

from __future__ import annotations

import csv
import io

from lofty_abacus.core.answer.answer import Answer, AnsweredColumn, Row
from lofty_abacus.core.statement.statement import Statement

_RUN_BY_SPREADSHEETS = ("=", "+", "-", "@", "\t", "\r")
ALL = "(all)"
NOT_MAPPED = "(not mapped)"


def csv_table(answer: Answer, statement: Statement) -> str:
    """The shown rows in their order, the total last. Undefined cells are empty; ratios have 15 significant digits."""
    with_reason = [
        at for at in range(len(answer.columns)) if any(row.cells[at].reason is not None for row in (*answer.rows, answer.total))
    ]
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    header = [*statement.rows, "status"] if statement.bases else [*statement.rows]
    for at, column in enumerate(answer.columns):
        header.append(_heading(column, answer))
        if at in with_reason:
            header.append(f"{_heading(column, answer)}: reason")
    writer.writerow(header)
    for row in (*answer.rows, answer.total):
        writer.writerow(_fields(row, statement, with_reason))
    return out.getvalue()


def harmless(text: str) -> str:
    """Text that a spreadsheet would run as a formula, made plain text by an apostrophe."""
    return f"'{text}" if text.startswith(_RUN_BY_SPREADSHEETS) else text


def _heading(column: AnsweredColumn, answer: Answer) -> str:
    window = answer.windows[column.window].asked
    days = f" {window.first.isoformat()}..{window.last.isoformat()}" if window else ""
    kind = "" if column.kind == "value" else f" {column.kind.replace('_', ' ')}"
    against = " against" if column.kind in ("difference", "percent_change", "attainment") else ""
    return f"{column.measure.replace('_', ' ')}{kind}{against}{days}"


def _fields(row: Row, statement: Statement, with_reason: list[int]) -> list[str]:
    path = [NOT_MAPPED if key is None else harmless(key) for key in row.path]
    fields = path + [ALL] * (len(statement.rows) - len(path))
    if statement.bases:
        fields.append(row.status or "")
    for at, cell in enumerate(row.cells):
        fields.append(cell.value or "")
        if at in with_reason:
            fields.append(cell.reason or "")
    return fields
