"""Rows that are no lines: totals below a table, and headings that come again."""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import replace
from functools import partial

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
    undated = _which(dates, lambda text: read_date(text, form) is None)
    totals, headings = np.zeros(len(table), bool), np.ones(len(table), bool)
    words: dict[int, str] = {}
    for column in table.columns:
        says = _which(column, lambda text: bool(_TOTAL.fullmatch(text.strip()))) & undated
        words |= {int(at): column.texts[column.codes[at]] for at in np.flatnonzero(says)}
        totals |= says
        headings &= _which(column, partial(_is_text, column.header))
    aside = np.flatnonzero(totals | headings)
    if not len(aside):
        return table, []
    listed = []
    for at in aside.tolist():
        why = "a totals row" if totals[at] else "a repeated heading"
        listed.append(Problem(table.file, int(table.rows[at]), "", words.get(at, "the heading"), why))
    kept = np.flatnonzero(~(totals | headings))
    columns = [_kept(column, kept) for column in table.columns]
    return replace(table, columns=columns, rows=table.rows[kept]), listed


def _is_text(wanted: str, text: str) -> bool:
    return text.strip() == wanted


def _which(column: TextColumn, holds: Callable[[str], bool]) -> NDArray[np.bool_]:
    return np.array([holds(text) for text in column.texts], bool)[column.codes]


def _kept(column: TextColumn, kept: NDArray[np.int64]) -> TextColumn:
    """The column at some records, without texts that none of them has."""
    used, codes = np.unique(column.codes[kept], return_inverse=True)
    return TextColumn(column.header, [column.texts[code] for code in used.tolist()], codes.astype(np.uint32))
