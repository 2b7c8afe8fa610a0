"""Rows that are no lines: totals below a table, and headings that come again."""

from __future__ import annotations

import re

import numpy as np
from numpy.typing import NDArray

from lofty_abacus.ingest.problems import Problem
from lofty_abacus.ingest.table import TextTable

_WORDS = r"((grand|sub)[- ]?)?total\b.*|sum|summe|gesamt(summe)?|zwischensumme|total g[eé]n[eé]ral|suma|totale?|totaal"
_TOTAL = re.compile(_WORDS, re.IGNORECASE)
_TOTAL_IN_LINES = re.compile(rf"^\s*(?:{_WORDS})\s*$", re.IGNORECASE | re.MULTILINE)


def says_total(text: str) -> bool:
    """Whether a field is the word that a totals row has."""
    return _TOTAL.fullmatch(text.strip()) is not None


def may_say_total(texts: str) -> bool:
    """Whether any of some texts, joined by line ends, may say so: where this is False, none does."""
    return _TOTAL_IN_LINES.search(texts) is not None


def set_aside(table: TextTable, undated: NDArray[np.bool_]) -> tuple[TextTable, list[Problem]]:
    """The table without such rows, and the rows as a list.

    A totals row says so in some field and has no readable date; a repeated heading has the heading's own texts.
    undated: bool[n], the rows without a readable date; only they come into question.
    """
    listed: list[Problem] = []
    aside: list[int] = []
    for at in np.flatnonzero(undated).tolist():
        fields = [text.strip() for text in table.fields(at)]
        total = next((field for field in fields if says_total(field)), None)
        if total is None and fields != [column.header for column in table.columns]:
            continue
        why = "a repeated heading" if total is None else "a totals row"
        listed.append(Problem(table.file, int(table.rows[at]), "", total or "the heading", why))
        aside.append(at)
    if not aside:
        return table, []
    return table.taken(np.delete(np.arange(len(table)), aside)), listed
