"""The lines of a file under its mapping, added up once and read again as often as needed."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from threading import Lock

import numpy as np
from numpy.typing import NDArray

from lofty_abacus.ingest.applying import Applying, corrected, stage_lines
from lofty_abacus.ingest.figures import column_of
from lofty_abacus.ingest.mapping import Correction, FileMapping
from lofty_abacus.ingest.repeats import Repeats
from lofty_abacus.ingest.staged import StagedLines
from lofty_abacus.ingest.table import FileTable, TextColumn
from lofty_abacus.ingest.tally import Tally


class Handover:
    """Pieces that one reading of a file staged, for another one that follows it: no more than `most` at a time, each once."""

    def __init__(self, most: int) -> None:
        self._most = most
        self._pieces: dict[int, StagedLines] = {}
        self._next = 0
        self._lock = Lock()

    def put(self, at: int, piece: StagedLines) -> None:
        """Lay a piece down, unless there is no room, or whoever follows is past it."""
        with self._lock:
            if at >= self._next and len(self._pieces) < self._most:
                self._pieces[at] = piece

    def take(self, at: int) -> StagedLines | None:
        """A piece, where it lies here; one after the other is asked for."""
        with self._lock:
            self._next = at + 1
            return self._pieces.pop(at, None)


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

    def pieces(self, handover: Handover | None = None) -> Iterator[StagedLines]:
        """The lines, piece by piece. handover: where pieces may lie that need not be staged again."""
        known = [Repeats(each, gather=False) for each in self.suspects]
        applying = Applying(self.zone, self.corrections, known[0], known[1], self.currency)
        for at, piece in enumerate(self.table.pieces()):
            ready = None if handover is None else handover.take(at)
            yield stage_lines(piece, self.mapping, applying) if ready is None else ready

    def line_ids(self) -> Iterator[TextColumn]:
        """The line ids, piece by piece, also those of lines that are left out: told from one column alone."""
        use = self.mapping.with_role("line")
        if use is None:
            return
        for piece in self.table.pieces():
            yield column_of(corrected(piece, (*self.mapping.corrections, *self.corrections)), use)


def presumed(
    table: FileTable, mapping: FileMapping, corrections: tuple[Correction, ...], zone: str, currency: str
) -> LinesOfFile:
    """The lines of a file as its first piece lets expect them: as if no line id and no row came twice."""
    tally = Tally()
    first = next(table.pieces(), None)
    if first is not None:
        tally.add(stage_lines(first, mapping, Applying(zone, corrections, currency=currency)))
    nothing = np.empty(0, np.int64)
    return LinesOfFile(table, mapping, corrections, zone, currency, tally, (nothing, nothing))


def added_up(
    table: FileTable,
    mapping: FileMapping,
    corrections: tuple[Correction, ...],
    zone: str,
    currency: str,
    progress: Callable[[int], None],
    handover: Handover | None = None,
) -> LinesOfFile:
    """One pass; a second one only where line ids or rows come more than once. handover: takes the pieces of the first one."""
    applying: Applying | None = Applying(zone, corrections, currency=currency)
    while applying is not None:
        tally, last, rows = Tally(), applying, 0
        for at, piece in enumerate(table.pieces()):
            staged = stage_lines(piece, mapping, applying)
            if handover is not None:
                handover.put(at, staged)
            tally.add(staged)
            rows += len(piece)
            progress(rows)
        applying, handover = applying.again(), None
    return LinesOfFile(table, mapping, corrections, zone, currency, tally, (last.line_ids.known, last.rows.known))
