"""What actions need of the outside, as protocols by subject; the store fulfils them."""

from __future__ import annotations

import shutil
from collections.abc import Callable
from dataclasses import dataclass, field
from datetime import datetime
from pathlib import Path
from typing import Any, Protocol

from lofty_abacus.actions.ports.at_hand import AtHand
from lofty_abacus.actions.ports.briefs import AlertBooks, BriefBooks, OutboxBooks
from lofty_abacus.actions.ports.figures import FigureBooks
from lofty_abacus.actions.ports.intake import IntakeBooks
from lofty_abacus.actions.ports.large_answers import LargeAnswers
from lofty_abacus.actions.ports.ledgers import LedgerBooks
from lofty_abacus.actions.ports.mail import MailRoad, NoMail
from lofty_abacus.actions.ports.statements import StatementBooks
from lofty_abacus.actions.ports.together import Together
from lofty_abacus.export.briefs.fonts import Fonts
from lofty_abacus.ingest.lines_of_file import LinesOfFile
from lofty_abacus.ingest.table import FileTable

#: Staged files whose tables, and whose additions, are kept for the next step.
MOST_READ = 256
MOST_ADDED_UP = 100
#: Cells of answers that stay at hand.
MOST_CELLS = 40_000


class Books(LedgerBooks, FigureBooks, StatementBooks, IntakeBooks, Protocol):
    """The records: ledgers, batches, lines, mappings, statements; and beside them briefs, mail and alerts."""

    @property
    def briefs(self) -> BriefBooks:
        """Briefs and their issues."""
        ...

    @property
    def outbox(self) -> OutboxBooks:
        """Mail on its way."""
        ...

    @property
    def alerts(self) -> AlertBooks:
        """Alerts and their events."""
        ...


class OtherDatabase(Protocol):
    """Lines that lie in a database of somebody else, which is only ever read."""

    def preview(self, url: str, query: str, rows: int) -> tuple[tuple[str, ...], list[tuple[str, ...]]]:
        """Headings and the first rows of a table's name or a SELECT. Raises RefusedError, UnreachableError."""
        ...

    def fetch(self, url: str, query: str, place: Path, progress: Callable[[int], None]) -> int:
        """Write all rows into a Parquet file, a batch at a time; how many. Raises RefusedError, UnreachableError."""
        ...


def _is_small(answer: Any) -> bool:
    return len(answer.rows) * len(answer.columns) <= MOST_CELLS


@dataclass(frozen=True)
class Office:
    """Everything an action works with: the records, the clock, and the folder for files that are not posted yet.

    language: the reader's, by its code. work: where it stands what runs in the background. fonts: of briefs on paper. mail: the
    way that mail takes. handed: the folder into which issues are put. free: bytes of room that the disk of a folder has left.
    answers_told, checks, checked: answers, checks of them, and checks of staged files that are under way or were made last.
    files_read, files_added_up: staged files as tables and as lines, for the next step.
    """

    books: Books
    now: Callable[[], datetime]
    staging: Path
    inbox: Path
    other_database: OtherDatabase
    person: str = ""
    language: str = ""
    work: Path | None = None
    fonts: Fonts = field(default_factory=Fonts)
    mail: MailRoad = field(default_factory=NoMail)
    handed: Path | None = None
    free: Callable[[Path], int] = lambda folder: shutil.disk_usage(folder).free
    large_answers: LargeAnswers = field(default_factory=LargeAnswers)
    answers_told: Together[Any] = field(default_factory=lambda: Together(_is_small))
    checks: Together[Any] = field(default_factory=Together)
    checked: Together[Any] = field(default_factory=lambda: Together(lambda _: True))
    files_read: AtHand[FileTable] = field(default_factory=lambda: AtHand(MOST_READ))
    files_added_up: AtHand[LinesOfFile] = field(default_factory=lambda: AtHand(MOST_ADDED_UP))
