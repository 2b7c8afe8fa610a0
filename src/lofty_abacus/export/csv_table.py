"""An answer as CSV: exact values, one column per row dimension, the reason of an undefined cell in a field beside it."""

from __future__ import annotations

import csv
import io
from collections.abc import Mapping

from lofty_abacus.core.answer.answer import Answer, AnsweredColumn, Row
from lofty_abacus.core.statement.statement import Statement
from lofty_abacus.export.harmless import harmless

ALL = "(all)"
NOT_MAPPED = "(not mapped)"


def csv_table(answer: Answer, statement: Statement, descriptions: Mapping[str, str] | None = None) -> str:
    """The shown rows in their order, the total last. Undefined cells are empty; ratios have 15 significant digits.

    descriptions: what the ledger says of its dimensions and measures, by name; they stand in brackets in the headings.
    """
    said = descriptions or {}
    with_reason = [
        at for at in range(len(answer.columns)) if any(row.cells[at].reason is not None for row in (*answer.rows, answer.total))
    ]
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    header = [_described(name, name, said) for name in statement.rows]
    if statement.bases:
        header.append("status")
    for at, column in enumerate(answer.columns):
        header.append(_described(_heading(column, answer), column.measure, said))
        if at in with_reason:
            header.append(f"{_heading(column, answer)}: reason")
    writer.writerow(header)
    for row in (*answer.rows, answer.total):
        writer.writerow(_fields(row, statement, with_reason))
    return out.getvalue()


def _described(heading: str, name: str, said: Mapping[str, str]) -> str:
    return f"{heading} ({said[name]})" if said.get(name) else heading


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
