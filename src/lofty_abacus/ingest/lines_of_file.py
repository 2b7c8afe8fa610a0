"""The lines of a file under its mapping, added up once and read again as often as needed."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from lofty_abacus.ingest.applying import Applying, corrected, stage_lines
from lofty_abacus.ingest.figures import column_of
from lofty_abacus.ingest.mapping import Correction, FileMapping
from lofty_abacus.ingest.repeats import Repeats
from lofty_abacus.ingest.staged import StagedLines
from lofty_abacus.ingest.table import FileTable
from lofty_abacus.ingest.tally import Tally


@dataclass(frozen=True, eq=False)
class LinesOfFile:
    """A file's lines under its mapping. suspects: hashes of line ids and of rows that come more than once."""

    table: FileTable
    mapping: FileMapping
    corrections: tuple[Correction, ...]
    zone: str
    currency: str
    tally: Tally
    suspects: tuple[NDArray[np.int64], NDArray[np.int64]]

    def pieces(self) -> Iterator[StagedLines]:
        """The lines, piece by piece."""
        known = [Repeats(each, gather=False) for each in self.suspects]
        applying = Applying(self.zone, self.corrections, known[0], known[1], self.currency)
        for piece in self.table.pieces():
            yield stage_lines(piece, self.mapping, applying)

    def line_ids(self) -> Iterator[list[str]]:
        """The different line ids, piece by piece, also those of lines that are left out: told from one column alone."""
        use = self.mapping.with_role("line")
        if use is None:
            return
        for piece in self.table.pieces():
            column = column_of(corrected(piece, (*self.mapping.corrections, *self.corrections)), use)
            yield [text for text in column.stripped if text]


def added_up(
    table: FileTable,
    mapping: FileMapping,
    corrections: tuple[Correction, ...],
    zone: str,
    currency: str,
    progress: Callable[[int], None],
) -> LinesOfFile:
    """One pass; a second one only where line ids or rows come more than once."""
    applying: Applying | None = Applying(zone, corrections, currency=currency)
    while applying is not None:
        tally, last, rows = Tally(), applying, 0
        for piece in table.pieces():
            tally.add(stage_lines(piece, mapping, applying))
            rows += len(piece)
            progress(rows)
        applying = applying.again()
    return LinesOfFile(table, mapping, corrections, zone, currency, tally, (last.line_ids.known, last.rows.known))
