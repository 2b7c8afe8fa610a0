"""An answer as CSV: exact values, one column per row dimension, the reason of an undefined cell in a field beside it."""

from __future__ import annotations

import csv
import io
from collections.abc import Mapping, Sequence

from lofty_abacus.core.answer.answer import Answer, AnsweredColumn, AnsweredWindow, Row
from lofty_abacus.core.statement.statement import Statement
from lofty_abacus.export.captions import caption_lines
from lofty_abacus.export.harmless import harmless
from lofty_abacus.export.layout import Layout, laid_out
from lofty_abacus.export.showing import shown_text

_PLAIN = Layout()
ALL = "(all)"
NOT_MAPPED = "(not mapped)"


def csv_table(
    answer: Answer,
    statement: Statement,
    descriptions: Mapping[str, str] | None = None,
    layout: Layout = _PLAIN,
    *,
    formatted: bool = False,
) -> str:
    """The shown rows in their order, the total where the layout puts it.

    Undefined cells are empty; ratios have 15 significant digits.

    descriptions: what the ledger says of its dimensions and measures, by name; they stand in brackets in the headings. formatted:
    figures as they are shown, rounded, in place of the exact ones, and the caption below the table.
    """
    answer = laid_out(answer, layout)
    header, with_reason = headings(answer, statement, descriptions or {}, _period_headings(answer, statement))
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(header)
    for row in in_order(answer, layout):
        texts = [shown_text(cell, column, layout) for cell, column in zip(row.cells, answer.columns, strict=True)]
        exact = [cell.value or "" for cell in row.cells]
        writer.writerow(_fields(row, answer, statement, with_reason, texts if formatted else exact))
    if formatted:
        # For people: what it shows stands below it. The exact one is for programs, and stays one table.
        writer.writerow([])
        writer.writerows([harmless(left), harmless(right)] for left, right in caption_lines(answer, statement))
    return out.getvalue()


def in_order(answer: Answer, layout: Layout) -> tuple[Row, ...]:
    """The rows with the total where the layout puts it."""
    if layout.totals == "off":
        return answer.rows
    return (answer.total, *answer.rows) if layout.totals == "above" else (*answer.rows, answer.total)


def headings(
    answer: Answer, statement: Statement, said: Mapping[str, str], between: Sequence[str] = ()
) -> tuple[list[str], frozenset[int]]:
    """The headings of an exported table, and the columns with a reason beside them. between: more headings before the figures."""
    rows = (*answer.rows, answer.total)
    with_reason = frozenset(at for at in range(len(answer.columns)) if any(row.cells[at].reason is not None for row in rows))
    header = [
        _described(level, level, said) if isinstance(level, str) else level.time.replace("_", "-") for level in statement.rows
    ]
    if statement.bases:
        header.append("status")
    header += between
    for at, column in enumerate(answer.columns):
        header.append(_described(_heading(column, answer), column.measure, said))
        if at in with_reason:
            header.append(f"{_heading(column, answer)}: reason")
    return header, with_reason


def _described(heading: str, name: str, said: Mapping[str, str]) -> str:
    return f"{heading} ({said[name]})" if said.get(name) else heading


def _heading(column: AnsweredColumn, answer: Answer) -> str:
    """What a column shows, in words: the member or period across, the measure, how it is compared, and over which days."""
    words = [f"{' / '.join(column.across_labels)}:"] if column.across_labels else []
    if column.name:
        words.append(f"{harmless(column.name)}:")
    words.append(column.measure.replace("_", " ") + (f" {column.along.replace('_', ' ')}" if column.along else ""))
    if column.kind != "value":
        words.append(column.kind.replace("_", " "))
    if column.scope is not None and column.scope.keep:
        words.append(f"within {', '.join(column.scope.keep)}")
    if column.step:
        words.append(column.step.replace("_", " "))
    if column.window and column.kind != "value":
        words.append("against")
    if answer.periods:
        return " ".join([*words, *([f"base {column.window}"] if column.window else [])])
    window = answer.windows[column.window]
    words += [_days(window)] if window.asked else []
    return " ".join([*words, *(["(unequal)"] if column.window and window.fairness == "unequal" else [])])


def _days(window: AnsweredWindow) -> str:
    return f"{window.asked.first.isoformat()}..{window.asked.last.isoformat()}" if window.asked else ""


def _period_headings(answer: Answer, statement: Statement) -> list[str]:
    """Of a series down the rows: each period's days, and those of its bases with how fair they are."""
    if not any(period.down for period in answer.periods):
        return []
    bases = range(1, len(statement.bases) + 1)
    return ["days", *(heading for at in bases for heading in (f"base {at} days", f"base {at} fairness"))]


def _period_fields(row: Row, answer: Answer, statement: Statement) -> list[str]:
    if not _period_headings(answer, statement):
        return []
    windows = answer.periods[row.slot].windows if row.slot is not None else answer.periods[0].windows
    return [_days(windows[0]), *(field for window in windows[1:] for field in (_days(window), window.fairness or ""))]


def _fields(row: Row, answer: Answer, statement: Statement, with_reason: frozenset[int], texts: Sequence[str]) -> list[str]:
    path = [NOT_MAPPED if key is None else harmless(key) for key in row.path]
    if row.rest is not None:
        path.append(harmless(f"({row.label})"))
    fields = path + [ALL] * (len(statement.rows) - len(path))
    if statement.bases:
        fields.append(row.status or "")
    fields += _period_fields(row, answer, statement)
    for at, cell in enumerate(row.cells):
        fields.append(texts[at])
        if at in with_reason:
            fields.append(cell.reason or "")
    return fields
