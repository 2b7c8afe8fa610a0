"""The records as intake needs them."""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterable, Mapping, Sequence
from datetime import date
from typing import Protocol

from lofty_abacus.actions.records import (
    Kept,
    KeptMapping,
    MonthHeld,
    OrderSold,
    PostedFile,
    Posting,
    Progress,
    Replacement,
)
from lofty_abacus.ingest.table import TextColumn


class IntakeBooks(Protocol):
    """The records as intake needs them: mappings, postings, and what is known of members and line ids."""

    def take_back_mapping(self, ledger_id: int, shape: str) -> bool:
        """Keep a mapping again that was forgotten; False where none was for the shape."""
        ...

    def kept_mappings(self, ledger_id: int) -> Kept[KeptMapping]:
        """A ledger's mappings, the latest kept first."""
        ...

    def keep_mapping(self, ledger_id: int, kept: KeptMapping) -> None:
        """Keep a mapping for the next files of its shape, in place of the one before."""
        ...

    def forget_mapping(self, ledger_id: int, shape: str) -> bool:
        """Let no file take a mapping by itself any more; False where none is kept for the shape."""
        ...

    def post(
        self, ledger_id: int, files: Sequence[PostedFile], today: date, progress: Progress, replacement: Replacement, by: str
    ) -> Posting:
        """Post files as one new version, all or nothing, placed as said. Raises RefusedError, RecordsError."""
        ...

    def months_going_out(self, ledger_id: int, replacement: Replacement, feeds: Sequence[str]) -> list[MonthHeld]:
        """Per month, the lines that such a replacement of files of these feeds would take out."""
        ...

    def known_members(self, ledger_id: int, dimension: str) -> list[tuple[str, str]]:
        """(key, label) of a dimension's members, the blank one left out; empty where the ledger has no such dimension."""
        ...

    def members_among(self, ledger_id: int, keys: Mapping[str, Sequence[str]]) -> Mapping[str, Collection[str]]:
        """Those of some keys that are members, by dimension."""
        ...

    def is_listed(self, ledger_id: int, dimension: str) -> bool:
        """Whether `known_members` gives all members of a dimension: of one with too many it gives none."""
        ...

    def mapped_keys(self, ledger_id: int, dimensions: Collection[str]) -> Mapping[str, Mapping[str, Mapping[str, str | None]]]:
        """Per dimension and level, the member key of each key that the current lookups know, on the last of their days."""
        ...

    def line_ids_posted(self, ledger_id: int, pieces: Callable[[], Iterable[TextColumn]]) -> dict[str, tuple[str, int]]:
        """(file, row) of those line ids that count already. pieces: the ids, some at a time, as often as they are asked for."""
        ...

    def orders_sold(self, ledger_id: int, orders: Sequence[str]) -> list[OrderSold]:
        """What the posted lines hold of some orders, per product and (product "") as a whole."""
        ...
