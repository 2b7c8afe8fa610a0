"""The lines of a staged file, added up once and read again as often as needed."""

from __future__ import annotations

from dataclasses import dataclass, replace
from pathlib import Path

from lofty_abacus.actions.errors import NotFoundError
from lofty_abacus.actions.intake.stage_files import no_progress, table_of
from lofty_abacus.actions.intake.stagings import Staging, file_in, path_of
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import Progress
from lofty_abacus.ingest.applying import corrected
from lofty_abacus.ingest.exchanging import stage_rates
from lofty_abacus.ingest.fitting import check_mapping
from lofty_abacus.ingest.lines_of_file import Handover, LinesOfFile, added_up, presumed
from lofty_abacus.ingest.mapping import Correction, FileMapping, Rate
from lofty_abacus.ingest.problems import MappingError, Problem
from lofty_abacus.ingest.staged import StagedLookup


@dataclass(frozen=True)
class RatesOfFile:
    """The rates of a file of rates, and what cannot be read of it."""

    file: str
    rates: tuple[Rate, ...]
    problems: tuple[Problem, ...]


#: What a file came to: lines, a lookup, rates, or the sentence that says why it is none of them.
Content = LinesOfFile | StagedLookup | RatesOfFile | str


def lines_of_file(
    office: Office, staging: Staging, file: int, progress: Progress = no_progress, handover: Handover | None = None
) -> LinesOfFile:
    """A file of lines, added up. handover: where pieces are laid for whoever follows.

    Raises NotFoundError, MappingError, UnreadableFileError.
    """
    asked = _asked(office, staging, file)
    name, rows = staging.files[file].name, staging.files[file].rows

    def work() -> LinesOfFile:
        table = table_of(office, staging, file)
        check_mapping(table, asked.mapping)
        return added_up(table, *asked.how, lambda read: progress(f"Checking {name}", read, rows), handover)

    return office.files_added_up.get(asked, work)


def lines_presumed(office: Office, staging: Staging, file: int) -> LinesOfFile:
    """The lines of a file as its first piece lets expect them. Raises NotFoundError, MappingError, UnreadableFileError."""
    asked = _asked(office, staging, file)
    table = table_of(office, staging, file)
    check_mapping(table, asked.mapping)
    return presumed(table, *asked.how)


def is_added_up(office: Office, staging: Staging, file: int) -> bool:
    """Whether a file's lines are added up and at hand. Raises NotFoundError, MappingError, UnreadableFileError."""
    return _asked(office, staging, file) in office.files_added_up


@dataclass(frozen=True)
class _Asked:
    """Which file, and how it is read into lines: what `lines_of_file` depends on."""

    place: Path
    mapping: FileMapping
    corrections: tuple[Correction, ...]
    zone: str
    currency: str

    @property
    def how(self) -> tuple[FileMapping, tuple[Correction, ...], str, str]:
        """All but the file."""
        return self.mapping, self.corrections, self.zone, self.currency


def _asked(office: Office, staging: Staging, file: int) -> _Asked:
    staged = file_in(staging, file)
    if staged.error is not None or staged.mapping is None:
        raise MappingError(staged.name, "mapping", "there is none.", "Map the columns.")
    if staged.mapping.kind == "lookup":
        raise NotFoundError(f"{staged.name} is a lookup: it has no lines.")
    if staged.mapping.kind == "rates":
        raise NotFoundError(f"{staged.name} has rates: it has no lines.")
    record = office.books.ledger(staging.ledger)
    mapping = replace(staged.mapping, rates=(*staged.mapping.rates, *rates_of(office, staging)))
    return _Asked(path_of(office, staging, file), mapping, staged.corrections, record.time_zone, record.currency)


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
