"""What a check finds: counts, totals, and everything that stands in the way or is worth a look, each with its rows."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import date
from typing import Literal

from lofty_abacus.ingest.mapping import Role
from lofty_abacus.ingest.problems import Problem
from lofty_abacus.telling.findings import finding_note, finding_words

FindingCode = Literal[
    "unreadable",
    "line_ids_repeated",
    "line_ids_posted",
    "rows_identical",
    "set_aside",
    "days_without_lines",
    "weeks_without_lines",
    "after_today",
    "outside_coverage",
    "outlying_amounts",
    "outlying_quantities",
    "new_members",
    "near_members",
    "not_mapped",
    "returns_sign",
    "returns_unmatched",
    "returns_early",
    "returns_large",
    "lookup_conflicts",
    "lookup_changes",
    "lookup_leaves_out",
    "lookup_maps_nothing",
    "lookup_keys_unknown",
    "name_taken",
    "line_ids_useless",
    "other_currencies",
    "days_missing",
    "days_out_of_order",
]


@dataclass(frozen=True)
class MemberFound:
    """A member that a finding is about. lines, amount.

    Of the file (of a lookup: of the posted lines). near: the one it resembles.
    """

    key: str
    lines: int
    amount: str
    near: str | None = None


@dataclass(frozen=True)
class DaysFound:
    """Days from first to last that a finding is about."""

    first: date
    last: date


@dataclass(frozen=True)
class Finding:
    """Something that a check found.

    weight: stop (must be dealt with) or look. count: how many rows, members, days or keys. amount: their net total, where it has
    one. about: the dimension, column or bound that is meant. problems, members, days: the first of them. proposed: of a name that
    is taken, another one. of: of keys that are not known, how many there are in all. words, note: the finding as a heading, and
    the rule behind it or what it means for the figures; they come with every finding.
    """

    code: FindingCode
    weight: Literal["stop", "look"]
    count: int
    amount: str | None = None
    about: str = ""
    problems: tuple[Problem, ...] = ()
    members: tuple[MemberFound, ...] = ()
    days: tuple[DaysFound, ...] = ()
    proposed: str = ""
    of: int = 0
    words: str = field(default="", init=False, compare=False)
    note: str = field(default="", init=False, compare=False)

    def __post_init__(self) -> None:
        """Say it, in the language that is spoken where it is found."""
        said = finding_words(self.code, self.count, self.about, of=self.of, amount=self.amount)
        object.__setattr__(self, "words", said)
        object.__setattr__(self, "note", finding_note(self.code))


@dataclass(frozen=True)
class MonthCheck:
    """Lines and net total of one month (2026-03)."""

    month: str
    lines: int
    amount: str


@dataclass(frozen=True)
class OwnCheck:
    """A figure or day of the ledger's own: how many lines have it, its control total or first and last day."""

    name: str
    role: Role
    lines: int
    total: str | None = None
    first_day: date | None = None
    last_day: date | None = None


@dataclass(frozen=True)
class FileCheck:
    """What one file would bring. blocking: sentences that must be dealt with before posting; empty: ready.

    amount: net control total; returned: the refunds in it, as a positive figure. left_out: rows not taken, by decision or as
    problems. lines of a lookup are its keys. own: figures and days of the ledger's own.
    """

    file: str
    kind: str
    lines: int
    amount: str
    sale_lines: int
    return_lines: int
    returned: str
    first_day: date | None
    last_day: date | None
    left_out: int
    blank_rows: int
    months: tuple[MonthCheck, ...]
    findings: tuple[Finding, ...]
    blocking: tuple[str, ...]
    own: tuple[OwnCheck, ...] = ()

    def finding(self, code: FindingCode) -> Finding | None:
        """The first finding of a code."""
        return next((each for each in self.findings if each.code == code), None)


@dataclass(frozen=True)
class StagingCheck:
    """The check of all files together. amount: net control total of all lines."""

    ready: bool
    lines: int
    amount: str
    files: tuple[FileCheck, ...]
