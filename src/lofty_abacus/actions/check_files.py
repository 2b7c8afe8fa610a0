"""Check staged files: what posting them would bring, and everything that stands in its way."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass
from datetime import date
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.stage_files import Staging, staging_of, table_of
from lofty_abacus.core.days import day_number, day_of
from lofty_abacus.core.money import decimal_text
from lofty_abacus.ingest.applying import stage_lines, stage_lookup
from lofty_abacus.ingest.mapping import Mapping
from lofty_abacus.ingest.problems import MappingError, Problem
from lofty_abacus.ingest.staged import StagedLines, StagedLookup
from lofty_abacus.ingest.table import TextTable

SHOWN = 100


@dataclass(frozen=True)
class MonthCheck:
    """Lines and net total of one month (2026-03)."""

    month: str
    lines: int
    amount: str


@dataclass(frozen=True)
class FileCheck:
    """What one file would bring. blocking: sentences that must be dealt with before posting; empty: ready.

    amount: net control total. problems, repeated: the first of them, their number in the count beside.
    """

    file: str
    kind: str
    lines: int
    amount: str
    sale_lines: int
    return_lines: int
    first_day: date | None
    last_day: date | None
    days_without_lines: int
    lines_after_today: int
    left_out: int
    blank_rows: int
    problem_count: int
    problems: tuple[Problem, ...]
    repeated_count: int
    repeated: tuple[Problem, ...]
    set_aside: tuple[Problem, ...]
    months: tuple[MonthCheck, ...]
    blocking: tuple[str, ...]


@dataclass(frozen=True)
class StagingCheck:
    """The check of all files together."""

    ready: bool
    lines: int
    files: tuple[FileCheck, ...]


def check_files(office: Office, number: str) -> StagingCheck:
    """Check every file of a staging. Raises NotFoundError."""
    staging = staging_of(office, number)
    record = office.books.ledger(staging.ledger)
    posted = {each.file_hash: each.file for each in office.books.batches(record.id) if each.active}
    today = record.today(office.now())
    hashes = Counter(each.file_hash for each in staging.files)
    checks = []
    for at, file in enumerate(staging.files):
        blocking = []
        if file.file_hash in posted:
            blocking.append(f"The same content was posted before, as {posted[file.file_hash]}: leave this file out.")
        if hashes[file.file_hash] > 1:
            blocking.append("The same content is in this drop twice: leave one of the two out.")
        checks.append(_check(office, staging, at, today, blocking))
    return StagingCheck(not any(each.blocking for each in checks), sum(each.lines for each in checks), tuple(checks))


def staged_content(office: Office, staging: Staging, file: int) -> StagedLines | StagedLookup:
    """A file's lines or lookup under its mapping. Raises MappingError, UnreadableFileError."""
    mapping = staging.files[file].mapping
    table = table_of(office, staging, file)
    if mapping is None:
        raise MappingError(table.file, "mapping", "there is none.", "Map the columns.")
    return _content(table, mapping, office.books.ledger(staging.ledger).time_zone)


@lru_cache(maxsize=2)
def _content(table: TextTable, mapping: Mapping, zone: str) -> StagedLines | StagedLookup:
    """Kept for a moment: what was checked is what is posted next."""
    return stage_lookup(table, mapping) if mapping.kind == "lookup" else stage_lines(table, mapping, zone)


def _check(office: Office, staging: Staging, at: int, today: date, blocking: list[str]) -> FileCheck:
    file = staging.files[at]
    if file.error is not None or file.mapping is None:
        return _empty(file.name, "unreadable", [*blocking, file.error or "There is no mapping."])
    try:
        staged = staged_content(office, staging, at)
    except MappingError as error:
        return _empty(file.name, file.mapping.kind, [*blocking, str(error)])
    if isinstance(staged, StagedLookup):
        return _lookup_check(staged, blocking)
    return _lines_check(staged, file.mapping, today, blocking)


def _lines_check(staged: StagedLines, mapping: Mapping, today: date, blocking: list[str]) -> FileCheck:
    if staged.problems and mapping.unreadable == "refuse":
        blocking.append(
            f"{len(staged.problems)} values cannot be read: correct the mapping or the file, or leave their lines out."
        )
    if staged.repeated and mapping.repeated == "refuse":
        blocking.append(f"{len(staged.repeated)} lines repeat a line id: leave the repeats out, or correct the file.")
    if not len(staged):
        blocking.append("No line of this file can be posted.")
    days = np.unique(staged.day)
    first, last = (day_of(int(days[0])), day_of(int(days[-1]))) if len(days) else (None, None)
    return FileCheck(
        file=staged.file,
        kind=mapping.kind,
        lines=len(staged),
        amount=decimal_text(_exact_sum(staged.amount.minor), staged.amount.scale),
        sale_lines=int((~staged.is_return).sum()),
        return_lines=int(staged.is_return.sum()),
        first_day=first,
        last_day=last,
        days_without_lines=int(days[-1] - days[0]) + 1 - len(days) if len(days) else 0,
        lines_after_today=int((staged.day > day_number(today)).sum()),
        left_out=staged.left_out,
        blank_rows=staged.blank_rows,
        problem_count=len(staged.problems),
        problems=tuple(staged.problems[:SHOWN]),
        repeated_count=len(staged.repeated),
        repeated=tuple(staged.repeated[:SHOWN]),
        set_aside=tuple(staged.set_aside[:SHOWN]),
        months=_months(staged),
        blocking=tuple(blocking),
    )


def _lookup_check(staged: StagedLookup, blocking: list[str]) -> FileCheck:
    if staged.problems:
        blocking.append(f"{len(staged.problems)} keys or rows contradict others: correct the file.")
    empty = _empty(staged.file, "lookup", blocking)
    return FileCheck(
        **{
            **empty.__dict__,
            "lines": len(staged),
            "blank_rows": staged.blank_rows,
            "problem_count": len(staged.problems),
            "problems": tuple(staged.problems[:SHOWN]),
        }
    )


def _months(staged: StagedLines) -> tuple[MonthCheck, ...]:
    months = (np.datetime64("1970-01-01", "D") + staged.day).astype("datetime64[M]")
    found = []
    for month in np.unique(months):
        here = months == month
        total = decimal_text(_exact_sum(staged.amount.minor[here]), staged.amount.scale)
        found.append(MonthCheck(str(month), int(here.sum()), total))
    return tuple(found)


def _exact_sum(minor: NDArray[np.int64]) -> int:
    return (int((minor >> 32).sum()) << 32) + int((minor & 0xFFFFFFFF).sum())


def _empty(file: str, kind: str, blocking: list[str]) -> FileCheck:
    return FileCheck(file, kind, 0, "0", 0, 0, None, None, 0, 0, 0, 0, 0, (), 0, (), (), (), tuple(blocking))
