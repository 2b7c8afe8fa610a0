"""Lines of which nothing is remembered that any question gave: what is measured is the reading of them."""

from __future__ import annotations

from lofty_abacus.core.grouping.source import ColumnsSource
from lofty_abacus.core.lines import LineColumns
from lofty_abacus.core.segments import Segments
from lofty_abacus.workers import threads

WORKERS = threads()


def unasked(columns: LineColumns | Segments) -> ColumnsSource:
    """The lines as a source that was never asked."""
    for each in columns if isinstance(columns, Segments) else (columns,):
        each.remembered.pop("parts", None)
    return ColumnsSource(columns, workers=WORKERS)
