"""Check names: a level belongs to the dimension whose lookup brought it, and no two things of a ledger are called alike
(semantics, section 12)."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from lofty_abacus.actions.intake.checks import Finding, MemberFound
from lofty_abacus.actions.intake.staged_lines import Content
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import MOST_DIMENSIONS, MOST_OWN_COLUMNS, LedgerRecord, too_many_own
from lofty_abacus.ingest.lines_of_file import LinesOfFile
from lofty_abacus.ingest.mapping import FURTHER, LINE_DIMENSIONS, plain_name
from lofty_abacus.ingest.staged import StagedLookup

#: Members of a finding that are shown.
MOST_SHOWN = 200


@dataclass(frozen=True)
class Named:
    """What a drop does to the names of a ledger: per file its findings and sentences that stop it."""

    findings: Sequence[Sequence[Finding]]
    blocking: Sequence[Sequence[str]]


def check_names(office: Office, record: LedgerRecord, contents: Sequence[Content]) -> Named:
    """Names that are taken by another dimension, lookups whose keys stand on no line, more columns than go."""
    facts = office.books.facts(record.id)
    owners: dict[str, str | None] = {each.name: each.of for each in facts.dimensions}
    own = {each.name for each in facts.figures} | {each.name for each in facts.days}
    findings: list[list[Finding]] = [[] for _ in contents]
    blocking: list[list[str]] = [[] for _ in contents]

    def have(at: int, name: str, owner: str | None) -> None:
        if name not in owners:
            owners[name] = owner
        elif owners[name] != owner:
            proposed = _free(
                f"{owner} {name}" if owner and owner != name else f"{name} of line" if owner is None else f"{name} level", owners
            )
            taken = f"a level of {said(owners[name])}" if owners[name] else "a column of the lines"
            findings[at].append(Finding("name_taken", "stop", 1, about=name, proposed=proposed))
            blocking[at].append(f"“{said(name)}” is {taken} already: call this one “{said(proposed)}”, or otherwise.")

    for at, content in enumerate(contents):
        if isinstance(content, LinesOfFile):
            for use in content.mapping.columns:
                if use.role in LINE_DIMENSIONS:
                    have(at, use.name, None)
                elif use.role in FURTHER:
                    own.add(use.name)
    lookups = [(at, each) for at, each in enumerate(contents) if isinstance(each, StagedLookup)]
    for at, lookup in _owners_first(lookups, owners):
        owners.setdefault(lookup.of, None)
        for level in lookup.entries:
            have(at, level, lookup.of)
        finding = _unknown_keys(office, record, lookup, contents)
        if finding is not None:
            findings[at].append(finding)
            if finding.weight == "stop":
                blocking[at].append(
                    f"None of its {lookup.keys:,} keys is a known {said(lookup.of)}, so it maps no line: choose what its keys"
                    " are, or keep it for lines to come."
                )
    if len(owners) > MOST_DIMENSIONS and contents:
        blocking[0].append(
            f"The ledger would have {len(owners)} dimensions and levels; it can have {MOST_DIMENSIONS}: leave some columns out."
        )
    if len(own) > MOST_OWN_COLUMNS and contents:
        blocking[0].append(too_many_own(len(own)))
    return Named(findings, blocking)


def said(name: str | None) -> str:
    """A name as people read it."""
    return (name or "").replace("_", " ")


def _free(wanted: str, owners: Mapping[str, str | None]) -> str:
    """A plain name that nothing has yet."""
    name = plain_name(wanted)
    return next(
        each for at in range(1, len(owners) + 2) if (each := plain_name(f"{name[:36]} {at}") if at > 1 else name) not in owners
    )


def _owners_first(lookups: list[tuple[int, StagedLookup]], owners: Mapping[str, str | None]) -> list[tuple[int, StagedLookup]]:
    """Lookups, each after the one that brings the level that its keys belong to."""
    ordered: list[tuple[int, StagedLookup]] = []
    waiting = list(lookups)
    while waiting:
        coming = {level for _, each in waiting for level in each.entries} - set(owners)
        ready = [each for each in waiting if each[1].of not in coming] or waiting[:1]
        ordered += ready
        waiting = [each for each in waiting if each not in ready]
    return ordered


def _unknown_keys(office: Office, record: LedgerRecord, lookup: StagedLookup, contents: Sequence[Content]) -> Finding | None:
    """Keys of a lookup that stand on no line, posted or of this drop; to be decided where none of them does."""
    keys = {entry.key for entries in lookup.entries.values() for entry in entries} | set(lookup.names)
    known = {key for key, _ in office.books.known_members(record.id, lookup.of)}
    for content in contents:
        if isinstance(content, LinesOfFile) and lookup.of in content.tally.members:
            on_lines = content.tally.members[lookup.of]
            if on_lines is None:
                return None
            known |= on_lines.keys()
        elif isinstance(content, StagedLookup) and lookup.of in content.entries:
            known |= {entry.member for entry in content.entries[lookup.of]}
    unknown = sorted(keys - known)
    if not unknown or not office.books.is_listed(record.id, lookup.of):
        return None
    none_known = len(unknown) == len(keys)
    members = tuple(MemberFound(key, 0, "0") for key in unknown[:MOST_SHOWN])
    return Finding(
        "lookup_maps_nothing" if none_known else "lookup_keys_unknown",
        "stop" if none_known and lookup.mapping.unknown_keys == "refuse" else "look",
        len(unknown),
        about=lookup.of,
        members=members,
        of=len(keys),
    )
