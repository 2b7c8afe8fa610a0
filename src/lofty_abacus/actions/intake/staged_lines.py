"""The lines of a staged file, added up once and read again as often as needed."""

from __future__ import annotations

from dataclasses import dataclass, replace

from lofty_abacus.actions.errors import NotFoundError
from lofty_abacus.actions.intake.stage_files import no_progress, table_of
from lofty_abacus.actions.intake.stagings import Staging, file_in, path_of
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import Progress
from lofty_abacus.ingest.applying import corrected
from lofty_abacus.ingest.exchanging import stage_rates
from lofty_abacus.ingest.fitting import check_mapping
from lofty_abacus.ingest.lines_of_file import LinesOfFile, added_up
from lofty_abacus.ingest.mapping import Rate
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

    def work() -> LinesOfFile:
        table = table_of(office, staging, file)
        check_mapping(table, mapping)
        return added_up(
            table,
            mapping,
            staged.corrections,
            record.time_zone,
            record.currency,
            lambda rows: progress(f"Checking {staged.name}", rows, staged.rows),
        )

    return office.files_added_up.get(key, work)


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
