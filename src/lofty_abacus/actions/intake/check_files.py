"""Check staged files: what posting them would bring, and everything that stands in its way."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass, replace

import numpy as np

from lofty_abacus.actions.intake.check_lines import Surroundings, check_lines, nano_of, rows_found
from lofty_abacus.actions.intake.check_lookup import check_lookup, lines_left_out, rows_of_lookup
from lofty_abacus.actions.intake.check_names import check_names
from lofty_abacus.actions.intake.check_returns import check_returns, odd_returns
from lofty_abacus.actions.intake.checks import FileCheck, Finding, FindingCode, StagingCheck
from lofty_abacus.actions.intake.stage_files import no_progress, table_of
from lofty_abacus.actions.intake.staged_lines import Content, RatesOfFile, lines_of_file, rates_of_file
from lofty_abacus.actions.intake.stagings import SampleRow, Staging, file_in, staging_of
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import LedgerRecord, Progress
from lofty_abacus.core.money import MAX_SCALE, decimal_text
from lofty_abacus.ingest.applying import Applying
from lofty_abacus.ingest.lines_of_file import LinesOfFile
from lofty_abacus.ingest.lookups import stage_lookup
from lofty_abacus.ingest.problems import MappingError, Problem, UnreadableFileError
from lofty_abacus.ingest.staged import StagedLookup
from lofty_abacus.ingest.table import FileTable
from lofty_abacus.ingest.tally import SHOWN

#: What is shown of a posted line.
POSTED_HEADERS = ("file", "day", "sale or return", "amount")


@dataclass(frozen=True)
class RowsPage:
    """Some rows of a file as they stand in it, or posted lines. total: how many there are in all."""

    total: int
    offset: int
    headers: tuple[str, ...]
    rows: tuple[SampleRow, ...]


def check_files(
    office: Office, number: str, progress: Progress = no_progress, replacing: frozenset[int] = frozenset()
) -> StagingCheck:
    """Check every file of a staging. replacing: batches that the posting would take out. Raises NotFoundError."""
    staging = staging_of(office, number)
    record = office.books.ledger(staging.ledger)
    # What was found stays true as long as the files, what was decided of them, and the ledger are as they were.
    key = (staging, record, office.books.facts(record.id), replacing, record.today(office.now()), office.language)
    found: StagingCheck = office.checked.get(key, lambda: _checked(office, staging, record, progress, replacing))
    return found


def _checked(
    office: Office, staging: Staging, record: LedgerRecord, progress: Progress, replacing: frozenset[int]
) -> StagingCheck:
    posted = {each.file_hash: each.file for each in office.books.batches(record.id) if each.active and each.id not in replacing}
    hashes = Counter(each.file_hash for each in staging.files)
    read = [_read(office, staging, at, progress) for at in range(len(staging.files))]
    around = _surroundings(office, record, read)
    returns = _returns(office, record, read)
    named = check_names(office, record, read)
    checks = []
    for at, (file, content) in enumerate(zip(staging.files, read, strict=True)):
        blocking = list(named.blocking[at])
        if file.file_hash in posted:
            blocking.append(f"The same content was posted before, as {posted[file.file_hash]}: leave this file out.")
        if hashes[file.file_hash] > 1:
            blocking.append("The same content is in this drop twice: leave one of the two out.")
        if isinstance(content, LinesOfFile):
            check = check_lines(office, around, file, content, blocking)
            checks.append(replace(check, findings=(*named.findings[at], *check.findings, *returns.get(at, ()))))
        elif isinstance(content, StagedLookup):
            check = check_lookup(office, staging.ledger, content, blocking)
            checks.append(replace(check, findings=(*named.findings[at], *check.findings)))
        elif isinstance(content, RatesOfFile):
            checks.append(_check_rates(content, blocking, read))
        else:
            checks.append(_empty(file.name, file.mapping.kind if file.mapping else "unreadable", [*blocking, content]))
    nano = sum(nano_of(each.amount) for each in checks)
    scale = max((each.tally.amount_scale for each in read if isinstance(each, LinesOfFile)), default=0)
    amount = decimal_text(nano // int(10 ** (MAX_SCALE - scale)), scale)
    lines = sum(each.lines for each in checks if each.kind != "rates")
    return StagingCheck(not any(each.blocking for each in checks), lines, amount, tuple(checks))


def lookup_of_file(office: Office, staging: Staging, file: int) -> StagedLookup:
    """A staged lookup. Raises MappingError, UnreadableFileError."""
    staged = file_in(staging, file)
    if staged.mapping is None:
        raise MappingError(staged.name, "mapping", "there is none.", "Map the columns.")
    return stage_lookup(table_of(office, staging, file), staged.mapping, Applying(corrections=staged.corrections))


def rows_of_finding(
    office: Office, number: str, file: int, code: FindingCode, about: str, member: str | None, offset: int, limit: int
) -> RowsPage:
    """The rows that a finding of a file is about, as they stand there. about: the dimension of a finding about members.

    Raises NotFoundError, MappingError, UnreadableFileError.
    """
    staging = staging_of(office, number)
    record = office.books.ledger(staging.ledger)
    staged = file_in(staging, file)
    if staged.mapping is not None and staged.mapping.kind == "lookup":
        table = table_of(office, staging, file)
        lookup = lookup_of_file(office, staging, file)
        if code == "lookup_leaves_out":
            return _posted_page(office, staging.ledger, lookup.of, member or "", offset, limit)
        return _page(table, rows_of_lookup(office, record.id, table, lookup, code, about), offset, limit)
    if staged.mapping is not None and staged.mapping.kind == "rates":
        told = rates_of_file(office, staging, file).problems if code == "unreadable" else ()
        return _page(table_of(office, staging, file), np.array([each.row for each in told], np.int64), offset, limit)
    lines = lines_of_file(office, staging, file)
    if member is not None:
        wanted = _rows_of_member(lines, about, member)
    elif code.startswith("returns_") and code != "returns_sign":
        # Orders may be sold in another file of the same drop.
        read = {at: _read(office, staging, at, no_progress) for at in range(len(staging.files))}
        of_lines = {at: each for at, each in read.items() if isinstance(each, LinesOfFile)}
        odd = dict(zip(of_lines, odd_returns(office, record.id, list(of_lines.values())), strict=True))
        wanted = np.array([each.row for each, _ in odd[file].get(code, [])], np.int64)
    else:
        around = Surroundings(record, record.today(office.now()), {})
        wanted = rows_found(office, lines, code, around, about)
    return _page(lines.table, wanted, offset, limit)


def problems_of_file(office: Office, number: str, file: int) -> list[Problem]:
    """Every value of a file that cannot be read, to be saved. Raises NotFoundError, MappingError, UnreadableFileError."""
    lines = lines_of_file(office, staging_of(office, number), file)
    return [each for piece in lines.pieces() for each in piece.problems]


def _read(office: Office, staging: Staging, at: int, progress: Progress) -> Content:
    """A file's content, or the sentence that says why there is none."""
    file = staging.files[at]
    if file.error is not None or file.mapping is None:
        return file.error or "There is no mapping."
    try:
        if file.mapping.kind == "lookup":
            return lookup_of_file(office, staging, at)
        if file.mapping.kind == "rates":
            return rates_of_file(office, staging, at)
        return lines_of_file(office, staging, at, progress)
    except (MappingError, UnreadableFileError) as error:
        return str(error)


def _surroundings(office: Office, record: LedgerRecord, read: list[Content]) -> Surroundings:
    levels: dict[str, dict[str, frozenset[str]]] = {}
    for each in read:
        if isinstance(each, StagedLookup):
            own = levels.setdefault(each.of, {})
            for level, entries in each.entries.items():
                own[level] = own.get(level, frozenset()) | {entry.key for entry in entries}
    return Surroundings(record, record.today(office.now()), levels)


def _returns(office: Office, record: LedgerRecord, read: list[Content]) -> dict[int, tuple]:  # type: ignore[type-arg]
    of_lines = [(at, each) for at, each in enumerate(read) if isinstance(each, LinesOfFile)]
    found = check_returns(office, record.id, [each for _, each in of_lines])
    return {at: tuple(findings) for (at, _), findings in zip(of_lines, found, strict=True)}


def _rows_of_member(lines: LinesOfFile, dimension: str, member: str) -> np.ndarray:
    found = []
    for piece in lines.pieces():
        if dimension not in piece.dimensions:
            continue
        _, column = piece.dimensions[dimension]
        if member in column.texts:
            found.append(piece.rows[column.codes == column.texts.index(member)])
    return np.concatenate(found) if found else np.empty(0, np.int64)


def _page(table: FileTable, wanted: np.ndarray, offset: int, limit: int) -> RowsPage:
    wanted = np.unique(wanted)
    return RowsPage(len(wanted), offset, table.headers, tuple(_rows(table, wanted[offset : offset + limit])))


def _posted_page(office: Office, ledger: str, dimension: str, member: str, offset: int, limit: int) -> RowsPage:
    """Posted lines, where a finding is about what is posted."""
    record, ids = lines_left_out(office, ledger, dimension, member)
    lines = office.books.read_lines(record.id, ids[offset : offset + limit])
    rows = tuple(SampleRow(each.row, (each.file, each.day.isoformat(), each.side, each.amount)) for each in lines)
    return RowsPage(len(ids), offset, POSTED_HEADERS, rows)


def _rows(table: FileTable, wanted: np.ndarray) -> list[SampleRow]:
    found: list[SampleRow] = []
    if not len(wanted):
        return found
    wide = {each.row: each for piece in table.pieces() for each in piece.problems}
    for piece in table.pieces():
        for at in np.flatnonzero(np.isin(piece.rows, wanted)).tolist():
            found.append(SampleRow(int(piece.rows[at]), tuple(piece.fields(at))))
        if len(piece) and piece.rows[-1] >= wanted[-1]:
            break
    known = {each.row for each in found}
    found += [SampleRow(row, (wide[row].text,)) for row in wanted.tolist() if row in wide and row not in known]
    return sorted(found, key=lambda each: each.row)


def _check_rates(content: RatesOfFile, blocking: list[str], read: list[Content]) -> FileCheck:
    """The check of a file of rates: it is kept with the files of lines that it is dropped with."""
    findings: list[Finding] = []
    if content.problems:
        findings.append(Finding("unreadable", "stop", len(content.problems), problems=content.problems[:SHOWN]))
        blocking = [*blocking, f"{len(content.problems)} rows cannot be read: correct them, or the file."]
    if not any(isinstance(each, LinesOfFile) for each in read):
        blocking = [*blocking, "Rates are kept with the lines that they are for: drop both together."]
    found = _empty(content.file, "rates", blocking)
    return replace(found, lines=len(content.rates), findings=tuple(findings))


def _empty(file: str, kind: str, blocking: list[str]) -> FileCheck:
    return FileCheck(file, kind, 0, "0", 0, 0, "0", None, None, 0, 0, (), (), tuple(blocking))
