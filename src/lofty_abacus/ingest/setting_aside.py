"""Rows that are no lines: totals below a table, and headings that come again."""

from __future__ import annotations

import re
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from lofty_abacus.ingest.dates import DateFormat, read_date
from lofty_abacus.ingest.problems import Problem
from lofty_abacus.ingest.table import TextColumn, TextTable

_TOTAL = re.compile(
    r"((grand|sub)[- ]?)?total\b.*|sum|summe|gesamt(summe)?|zwischensumme|total g[eé]n[eé]ral|suma", re.IGNORECASE
)


def set_aside(table: TextTable, date_column: str, form: DateFormat) -> tuple[TextTable, list[Problem]]:
    """The table without such rows, and the rows as a list.

    A totals row says so in some field and has no readable date; a repeated heading has the heading's own texts.
    """
    dates = table.column(date_column)
    if dates is None:
        return table, []
    # Only rows without a readable date come into question: few, whatever the length of the file.
    undated = np.array([read_date(text, form) is None for text in dates.texts], bool)[dates.codes]
    listed: list[Problem] = []
    aside: list[int] = []
    for at in np.flatnonzero(undated).tolist():
        fields = [column.texts[column.codes[at]].strip() for column in table.columns]
        total = next((field for field in fields if _TOTAL.fullmatch(field)), None)
        if total is None and fields != [column.header for column in table.columns]:
            continue
        why = "a repeated heading" if total is None else "a totals row"
        listed.append(Problem(table.file, int(table.rows[at]), "", total or "the heading", why))
        aside.append(at)
    if not aside:
        return table, []
    kept = np.delete(np.arange(len(table)), aside)
    columns = [_kept(column, kept) for column in table.columns]
    return replace(table, columns=columns, rows=table.rows[kept]), listed


def _kept(column: TextColumn, kept: NDArray[np.int64]) -> TextColumn:
    """The column at some records, without texts that none of them has."""
    used, codes = np.unique(column.codes[kept], return_inverse=True)
    return TextColumn(column.header, [column.texts[code] for code in used.tolist()], codes.astype(np.uint32))
