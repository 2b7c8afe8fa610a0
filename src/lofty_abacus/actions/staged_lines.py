"""The lines of a staged file, added up once and read again as often as needed."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from pathlib import Path
from threading import Lock

import numpy as np
from numpy.typing import NDArray

from lofty_abacus.actions.errors import NotFoundError
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import Progress
from lofty_abacus.actions.stage_files import no_progress, table_of
from lofty_abacus.actions.stagings import Staging, file_in, path_of
from lofty_abacus.ingest.applying import Applying, stage_lines
from lofty_abacus.ingest.fitting import check_mapping
from lofty_abacus.ingest.mapping import Correction, Mapping
from lofty_abacus.ingest.problems import MappingError
from lofty_abacus.ingest.repeats import Repeats
from lofty_abacus.ingest.staged import StagedLines
from lofty_abacus.ingest.table import FileTable
from lofty_abacus.ingest.tally import Tally

#: Files whose additions are kept for the next step.
MOST_KEPT = 100

_Key = tuple[Path, Mapping, tuple[Correction, ...], str]


@dataclass(frozen=True, eq=False)
class LinesOfFile:
    """A staged file's lines under its mapping. suspects: hashes of line ids and of rows that come more than once."""

    table: FileTable
    mapping: Mapping
    corrections: tuple[Correction, ...]
    zone: str
    tally: Tally
    suspects: tuple[NDArray[np.int64], NDArray[np.int64]]

    def pieces(self) -> Iterator[StagedLines]:
        """The lines, piece by piece."""
        known = [Repeats(each, gather=False) for each in self.suspects]
        applying = Applying(self.zone, self.corrections, known[0], known[1])
        for piece in self.table.pieces():
            yield stage_lines(piece, self.mapping, applying)


_kept: OrderedDict[_Key, LinesOfFile] = OrderedDict()
_lock = Lock()


def lines_of_file(office: Office, staging: Staging, file: int, progress: Progress = no_progress) -> LinesOfFile:
    """A file of lines, added up. Raises NotFoundError, MappingError, UnreadableFileError."""
    staged = file_in(staging, file)
    if staged.error is not None or staged.mapping is None:
        raise MappingError(staged.name, "mapping", "there is none.", "Map the columns.")
    if staged.mapping.kind == "lookup":
        raise NotFoundError(f"{staged.name} is a lookup: it has no lines.")
    zone = office.books.ledger(staging.ledger).time_zone
    key = (path_of(office, staging, file), staged.mapping, staged.corrections, zone)
    with _lock:
        if key in _kept:
            _kept.move_to_end(key)
            return _kept[key]
    table = table_of(office, staging, file)
    check_mapping(table, staged.mapping)
    found = _added_up(
        table, staged.mapping, staged.corrections, zone, lambda rows: progress(f"Checking {staged.name}", rows, staged.rows)
    )
    with _lock:
        _kept[key] = found
        while len(_kept) > MOST_KEPT:
            _kept.popitem(last=False)
    return found


def _added_up(
    table: FileTable, mapping: Mapping, corrections: tuple[Correction, ...], zone: str, progress: Callable[[int], None]
) -> LinesOfFile:
    """One pass; a second one only where line ids or rows come more than once."""
    applying: Applying | None = Applying(zone, corrections)
    while applying is not None:
        tally, last, rows = Tally(), applying, 0
        for piece in table.pieces():
            tally.add(stage_lines(piece, mapping, applying))
            rows += len(piece)
            progress(rows)
        applying = applying.again()
    return LinesOfFile(table, mapping, corrections, zone, tally, (last.line_ids.known, last.rows.known))
