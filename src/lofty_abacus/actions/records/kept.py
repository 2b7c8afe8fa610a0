"""What is kept beside lines: statements and mappings, and what of them cannot be read any more."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import datetime
from typing import Generic, TypeVar

from lofty_abacus.core.statement.statement import Opened, Statement
from lofty_abacus.export.layout import Layout
from lofty_abacus.ingest.mapping import FileMapping

Row = TypeVar("Row")


@dataclass(frozen=True)
class Unreadable:
    """Something kept that this build cannot read any more: by its name, and why."""

    name: str
    why: str


@dataclass(frozen=True)
class Kept(Generic[Row]):
    """What is kept of a kind: what can be read, and what cannot."""

    rows: tuple[Row, ...]
    unreadable: tuple[Unreadable, ...] = ()


@dataclass(frozen=True)
class KeptMapping:
    """A mapping and the shape of the files that it is for."""

    shape: str
    mapping: FileMapping


@dataclass(frozen=True)
class EarlierStatement:
    """What a saved statement was before it was saved again."""

    statement: Statement
    opened: Opened
    layout: Layout
    saved_by: str
    saved_at: datetime


@dataclass(frozen=True)
class SavedStatement:
    """A statement under a name, with the rows that are open; saved_at: None of one that is offered, not saved.

    earlier: what was kept under the name before, the latest first. id: its number, which stays when the name changes; 0: none.
    """

    name: str
    statement: Statement
    opened: Opened = Opened()
    folder: str = ""
    description: str = ""
    layout: Layout = field(default_factory=Layout)
    saved_by: str = ""
    saved_at: datetime | None = None
    earlier: tuple[EarlierStatement, ...] = ()
    id: int = 0
