"""The records as figures need them."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass
from typing import Protocol

from lofty_abacus.actions.records import LedgerRecord, ReadLine
from lofty_abacus.core.grouping.request import Source, Totals
from lofty_abacus.core.statement.ledger import LedgerFacts


@dataclass(frozen=True)
class OpenedLedger:
    """A ledger with the facts and the lines of one and the same version. lines: how many there are."""

    record: LedgerRecord
    facts: LedgerFacts
    lines: int
    source: Source


class FigureBooks(Protocol):
    """The records as figures need them: the lines of a version, and what MariaDB adds up by itself."""

    def opened(self, name: str, version: int | None = None, without: Collection[int] = ()) -> OpenedLedger:
        """A ledger's current version, or an earlier one. Raises NotFoundError, RecordsError.

        without: batches that came with the version and are left out of it.
        """
        ...

    def verify_columns(self, ledger_id: int | None = None) -> int:
        """Read again what is kept of lines (of one ledger, or of all) beside the record; what was changed is made anew.

        How many versions there were.
        """
        ...

    def read_lines(self, ledger_id: int, ids: Sequence[int]) -> list[ReadLine]:
        """Lines by id, in the order of the ids."""
        ...

    @property
    def languages(self) -> Collection[str]:
        """The languages, by their codes, whose letters come in an order of their own."""
        ...

    def weigh(self, language: str, texts: Sequence[str]) -> list[bytes]:
        """What texts are sorted by in one of `languages`, whatever their case."""
        ...

    def posted_totals(self, facts: LedgerFacts, ledger_id: int) -> Totals:
        """The posted lines of a version, added up by the database itself, from the record and nothing that is derived of it."""
        ...
