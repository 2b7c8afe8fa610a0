"""Check a lookup: conflicts in itself, and what it changes of the lookups that are posted."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date

import numpy as np
from numpy.typing import NDArray

from lofty_abacus.actions.intake.checks import FileCheck, Finding, FindingCode, MemberFound
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import LedgerRecord
from lofty_abacus.core.errors import QuestionError
from lofty_abacus.core.grouping.request import LinesRequest, MemberFilter, TotalsRequest
from lofty_abacus.core.measures.sums import LineSum
from lofty_abacus.core.money import decimal_text
from lofty_abacus.core.windows.ranges import DayRange, DaySet
from lofty_abacus.ingest.figures import column_of
from lofty_abacus.ingest.problems import Problem
from lofty_abacus.ingest.staged import LookupEntry, StagedLookup
from lofty_abacus.ingest.table import FileTable
from lofty_abacus.ingest.tally import SHOWN

_LINES, _NET = LineSum("lines", "all"), LineSum("amount", "all")
_EVER = DaySet((DayRange(date.min, date.max),))


def check_lookup(office: Office, ledger: str, staged: StagedLookup, blocking: list[str]) -> FileCheck:
    """The check of a lookup file."""
    findings = []
    if staged.problems:
        findings.append(Finding("unreadable", "stop", len(staged.problems), problems=tuple(staged.problems[:SHOWN])))
        blocking = [*blocking, f"{len(staged.problems)} rows cannot be read: correct them, or the file."]
    if staged.conflicts:
        findings.append(Finding("lookup_conflicts", "stop", len(staged.conflicts), problems=tuple(staged.conflicts[:SHOWN])))
        blocking = [
            *blocking,
            f"{len(staged.conflicts)} keys come twice with other values: say which row counts, or correct the file.",
        ]
    record = office.books.ledger(ledger)
    findings += _changes(office, record.id, staged)
    findings += _left_out(office, ledger, record.id, staged)
    return FileCheck(
        file=staged.file,
        kind="lookup",
        lines=len(staged),
        amount="0",
        sale_lines=0,
        return_lines=0,
        returned="0",
        first_day=None,
        last_day=None,
        left_out=0,
        blank_rows=staged.blank_rows,
        months=(),
        findings=tuple(findings),
        blocking=tuple(blocking),
    )


def _changes(office: Office, ledger_id: int, staged: StagedLookup) -> list[Finding]:
    """Keys that get another member of a level for all days: their history is rewritten, unless they hold from a day on."""
    posted = office.books.mapped_keys(ledger_id, [staged.of])[staged.of]
    found = []
    for level in staged.entries:
        known = posted.get(level, {})
        changed = _changed(staged, level, known)
        if changed:
            problems = tuple(
                Problem(
                    staged.file, 0, level, each.key, f"was {known[each.key] or '(blank)'}, becomes {each.member or '(blank)'}"
                )
                for each in changed[:SHOWN]
            )
            found.append(Finding("lookup_changes", "look", len(changed), about=level, problems=problems))
    return found


def _changed(staged: StagedLookup, level: str, known: Mapping[str, str | None]) -> list[LookupEntry]:
    """Entries of a level, for all days, that give a known key another member."""
    return [
        each for each in staged.entries[level] if each.valid_from is None and each.key in known and known[each.key] != each.member
    ]


def rows_of_lookup(
    office: Office, ledger_id: int, table: FileTable, staged: StagedLookup, code: FindingCode, about: str
) -> NDArray[np.int64]:
    """Rows of a lookup file that a finding is about: of a conflict all rows of its key."""
    if code == "unreadable":
        return np.array([each.row for each in staged.problems], np.int64)
    if code == "lookup_conflicts":
        keys = {each.text for each in staged.conflicts}
    else:
        posted = office.books.mapped_keys(ledger_id, [staged.of])[staged.of]
        keys = {each.key for each in _changed(staged, about, posted.get(about, {}))}
    use = staged.mapping.with_role("key")
    assert use is not None, "the mapping was checked"
    found = []
    for piece in table.pieces():
        column = column_of(piece, use)
        wanted = np.array([text.strip() in keys for text in column.texts], bool)
        found.append(piece.rows[wanted[column.codes]])
    return np.concatenate(found)


def lines_left_out(office: Office, ledger: str, dimension: str, member: str) -> tuple[LedgerRecord, list[int]]:
    """Ids of the posted lines of a member that a lookup leaves out, latest first."""
    book = office.books.opened(ledger)
    code = book.source.members(dimension).codes.get(member)
    filters = (MemberFilter(dimension, frozenset(() if code is None else (code,))),)
    return book.record, book.source.lines(LinesRequest(_EVER, filters, "all")).ids[::-1].tolist()


def _left_out(office: Office, ledger: str, ledger_id: int, staged: StagedLookup) -> list[Finding]:
    """Members with posted lines that neither this lookup nor a posted one knows: they are shown as not mapped."""
    known = dict(office.books.known_members(ledger_id, staged.of))
    posted = office.books.mapped_keys(ledger_id, [staged.of])[staged.of]
    found = []
    for level, entries in staged.entries.items():
        keys = {each.key for each in entries} | set(posted.get(level, {}))
        missing = sorted(key for key in known if key not in keys)
        if missing:
            members = _with_amounts(office, ledger, staged.of, missing)
            found.append(Finding("lookup_leaves_out", "look", len(missing), about=level, members=members))
    return found


def _with_amounts(office: Office, ledger: str, dimension: str, keys: list[str]) -> tuple[MemberFound, ...]:
    book = office.books.opened(ledger)
    try:
        members = book.source.members(dimension)
    except (KeyError, QuestionError):
        return tuple(MemberFound(key, 0, "0") for key in keys[:SHOWN])
    totals = book.source.totals(TotalsRequest((_EVER,), (dimension,), (), frozenset({_LINES, _NET})))[1]
    lines = dict(zip(totals.codes[:, 0].tolist(), totals.values[_LINES][0].tolist(), strict=True))
    minor = dict(zip(totals.codes[:, 0].tolist(), totals.values[_NET][0].tolist(), strict=True))
    codes = {key: members.codes.get(key, -1) for key in keys}
    ordered = sorted(keys, key=lambda key: (-abs(minor.get(codes[key], 0)), key))
    return tuple(
        MemberFound(key, lines.get(codes[key], 0), decimal_text(minor.get(codes[key], 0), book.facts.scales.amount))
        for key in ordered[:SHOWN]
    )
