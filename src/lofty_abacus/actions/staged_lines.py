"""The lines of a staged file, added up once and read again as often as needed."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from pathlib import Path
from threading import Lock

import numpy as np
from numpy.typing import NDArray

from lofty_abacus.actions.errors import NotFoundError
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import Progress
from lofty_abacus.actions.stage_files import no_progress, table_of
from lofty_abacus.actions.stagings import Staging, file_in, path_of
from lofty_abacus.ingest.applying import Applying, corrected, stage_lines
from lofty_abacus.ingest.exchanging import stage_rates
from lofty_abacus.ingest.fitting import check_mapping
from lofty_abacus.ingest.mapping import Correction, Mapping, Rate
from lofty_abacus.ingest.problems import MappingError, Problem
from lofty_abacus.ingest.repeats import Repeats
from lofty_abacus.ingest.staged import StagedLines, StagedLookup
from lofty_abacus.ingest.table import FileTable
from lofty_abacus.ingest.tally import Tally

#: Files whose additions are kept for the next step.
MOST_KEPT = 100

_Key = tuple[Path, Mapping, tuple[Correction, ...], str, str]


@dataclass(frozen=True, eq=False)
class LinesOfFile:
    """A staged file's lines under its mapping. suspects: hashes of line ids and of rows that come more than once."""

    table: FileTable
    mapping: Mapping
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


@dataclass(frozen=True)
class RatesOfFile:
    """The rates of a file of rates, and what cannot be read of it."""

    file: str
    rates: tuple[Rate, ...]
    problems: tuple[Problem, ...]


#: What a file came to: lines, a lookup, rates, or the sentence that says why it is none of them.
Content = LinesOfFile | StagedLookup | RatesOfFile | str

_kept: OrderedDict[_Key, LinesOfFile] = OrderedDict()
_lock = Lock()


def lines_of_file(office: Office, staging: Staging, file: int, progress: Progress = no_progress) -> LinesOfFile:
    """A file of lines, added up. Raises NotFoundError, MappingError, UnreadableFileError."""
    staged = file_in(staging, file)
    if staged.error is not None or staged.mapping is None:
        raise MappingError(staged.name, "mapping", "there is none.", "Map the columns.")
    if staged.mapping.kind == "lookup":
        raise NotFoundError(f"{staged.name} is a lookup: it has no lines.")
    if staged.mapping.kind == "rates":
        raise NotFoundError(f"{staged.name} has rates: it has no lines.")
    record = office.books.ledger(staging.ledger)
    mapping = replace(staged.mapping, rates=(*staged.mapping.rates, *rates_of(office, staging)))
    key = (path_of(office, staging, file), mapping, staged.corrections, record.time_zone, record.currency)
    with _lock:
        if key in _kept:
            _kept.move_to_end(key)
            return _kept[key]
    table = table_of(office, staging, file)
    check_mapping(table, mapping)
    found = _added_up(
        table,
        mapping,
        staged.corrections,
        record.time_zone,
        record.currency,
        lambda rows: progress(f"Checking {staged.name}", rows, staged.rows),
    )
    with _lock:
        _kept[key] = found
        while len(_kept) > MOST_KEPT:
            _kept.popitem(last=False)
    return found


def rates_of(office: Office, staging: Staging) -> tuple[Rate, ...]:
    """The rates that files of rates in a staging give for the others. Raises MappingError, UnreadableFileError."""
    found: list[Rate] = []
    for at, each in enumerate(staging.files):
        if each.mapping is not None and each.mapping.kind == "rates":
            found += rates_of_file(office, staging, at).rates
    return tuple(found)


def rates_of_file(office: Office, staging: Staging, file: int) -> RatesOfFile:
    """One file of rates. Raises MappingError, UnreadableFileError."""
    staged = file_in(staging, file)
    if staged.mapping is None:
        raise MappingError(staged.name, "mapping", "there is none.", "Map the columns.")
    table = table_of(office, staging, file)
    check_mapping(table, staged.mapping)
    whole = corrected(table.whole(), (*staged.mapping.corrections, *staged.corrections))
    found, wrong = stage_rates(whole, staged.mapping, office.books.ledger(staging.ledger).currency)
    problems = [Problem(staged.name, int(whole.rows[at]), column, text, why) for at, column, text, why in wrong]
    return RatesOfFile(staged.name, found, (*whole.problems, *problems))


def _added_up(
    table: FileTable,
    mapping: Mapping,
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
