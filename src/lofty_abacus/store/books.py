"""The records as actions see them."""

from __future__ import annotations

import time
from collections.abc import Callable, Collection, Iterable, Mapping, Sequence
from datetime import UTC, date, datetime
from pathlib import Path

from sqlalchemy import Engine

from lofty_abacus.actions.errors import NotReadyError, RecordsError
from lofty_abacus.actions.ports.figures import OpenedLedger
from lofty_abacus.actions.records import (
    BatchRecord,
    FeedDeclared,
    Kept,
    KeptMapping,
    LedgerHoldings,
    LedgerRecord,
    LedgerSettings,
    LineChange,
    MonthHeld,
    NewLedger,
    OrderSold,
    PostedFile,
    PostedMonth,
    Posting,
    Progress,
    ReadLine,
    Replacement,
    SavedStatement,
    VersionPart,
    VersionRecord,
)
from lofty_abacus.core.grouping.blocks import ALONE, Workers
from lofty_abacus.core.patience import heed
from lofty_abacus.core.statement.ledger import LedgerFacts
from lofty_abacus.ingest.table import TextColumn
from lofty_abacus.store import (
    backing_up,
    collations,
    correcting,
    intake_reads,
    keeping,
    ledgers,
    lines_read,
    mappings,
    months,
    posting,
    statements,
    version_parts,
    withdrawing,
)
from lofty_abacus.store.alerts import MariaDbAlerts
from lofty_abacus.store.briefs import MariaDbBriefs
from lofty_abacus.store.columns_cache import ColumnsCache
from lofty_abacus.store.engine import connect, transaction
from lofty_abacus.store.intake_reads import LinesAtHand
from lofty_abacus.store.kept_sums import KeptSums
from lofty_abacus.store.known_facts import KnownFacts
from lofty_abacus.store.outbox import MariaDbOutbox
from lofty_abacus.store.signed import Signed
from lofty_abacus.store.sql_totals import SqlTotals
from lofty_abacus.store.version_lines import Control, posted_control

#: How long a reader waits for the newest version before the one before it is read.
PATIENCE_SECONDS = 0.1
#: How long it is waited, in one go, for lines that nobody has read yet.
LOOK_SECONDS = 0.2
#: How long whoever made a version waits until it can be read.
READY_SECONDS = 60.0


class MariaDbBooks:
    """Books kept in MariaDB, with columns derived into a folder."""

    def __init__(self, url: str, columns: Path, now: Callable[[], datetime], workers: Workers = ALONE) -> None:
        """The tables are those of this build (`wiring.open_books`). now: the clock, in any zone; workers: who adds lines up."""
        #: How long a question waits for lines that nobody has read yet; without end where it is None.
        self.longest_reading: float | None = None
        self.engine: Engine = connect(url)
        self._now = now
        self._cache = ColumnsCache(self.engine, url, columns, workers)
        self._facts = KnownFacts(self.engine)
        self._kept_sums = KeptSums()
        self.briefs = MariaDbBriefs(self.engine, self._at)
        self.outbox = MariaDbOutbox(self.engine, self._at)
        self.alerts = MariaDbAlerts(self.engine, self._at)

    def close(self) -> None:
        """End what goes on in the background, and let the connections go."""
        self._cache.close()
        self.engine.dispose()

    def _at(self) -> datetime:
        return self._now().astimezone(UTC).replace(tzinfo=None)

    def _signed(self, by: str) -> Signed:
        return Signed(by, self._at())

    def ledgers(self) -> list[LedgerRecord]:
        """All ledgers, in the order in which they were made."""
        return ledgers.ledgers(self.engine)

    def ledger(self, name: str) -> LedgerRecord:
        """A ledger by name. Raises NotFoundError."""
        return ledgers.ledger_named(self.engine, name)

    def make_ledger(self, new: NewLedger) -> LedgerRecord:
        """Make an empty ledger. Raises NameTakenError."""
        ledgers.make_ledger(self.engine, new, self._at())
        return self.ledger(new.name)

    def archive(self, ledger_id: int, by: str) -> None:
        """Set a ledger aside; its lines and statements stay."""
        keeping.archive(self.engine, ledger_id, self._signed(by))

    def take_from_archive(self, ledger_id: int) -> None:
        """Take a ledger out of the archive."""
        keeping.take_from_archive(self.engine, ledger_id)

    def holdings(self, ledger_id: int) -> LedgerHoldings:
        """What a ledger holds, in numbers."""
        return keeping.holdings(self.engine, ledger_id)

    def delete_ledger(self, ledger_id: int) -> None:
        """Throw a ledger away with all that belongs to it."""
        keeping.delete_ledger(self.engine, ledger_id)
        self._cache.forget(ledger_id)

    def keep_link(self, number: str, address: str, by: str) -> None:
        """Keep an address under a short name."""
        keeping.keep_link(self.engine, number, address, self._signed(by))

    def link(self, number: str) -> str | None:
        """The address under a short name; None where there is none."""
        return keeping.link(self.engine, number)

    def take_back_statement(self, ledger_id: int, name: str) -> bool:
        """Keep a statement again that was forgotten; False where none of that name was."""
        with transaction(self.engine) as connection:
            return statements.take_back_statement(connection, ledger_id, name)

    def take_back_mapping(self, ledger_id: int, shape: str) -> bool:
        """Keep a mapping again that was forgotten; False where none was for the shape."""
        with transaction(self.engine) as connection:
            return mappings.take_back_mapping(connection, ledger_id, shape)

    def opened(self, name: str, version: int | None = None, without: Collection[int] = ()) -> OpenedLedger:
        """Facts and lines of one version, the current one if None. Raises NotFoundError, RecordsError.

        without: batches that came with the version and are left out of it.
        While the current one is still being made ready, the newest that is: nobody waits long, and the facts say which it is.
        """
        record, known = self._facts.opened(name, version)
        if version is None:
            ready = self._cache.latest_open(record.id)
            earlier = ready is not None and ready.version < known.control.version
            if ready and earlier and not self._cache.opens_within(record.id, known.control, PATIENCE_SECONDS):
                record, known = self._facts.opened(name, ready.version)
        control = known.control
        self._wait_for_lines(record, control)
        source = self._cache.part(record.id, control, without) if without else self._cache.source(record.id, control)
        return OpenedLedger(record, known.facts, len(source), source)

    def _wait_for_lines(self, record: LedgerRecord, control: Control) -> None:
        """Until the lines of a version can be asked; they go on being read where nobody waits. Raises NotReadyError."""
        if self.longest_reading is None:
            return
        until = time.monotonic() + self.longest_reading
        while not self._cache.opens_within(record.id, control, LOOK_SECONDS):
            heed()
            if time.monotonic() > until:
                raise NotReadyError(record.name, control.lines)

    def verify_columns(self, ledger_id: int | None = None) -> int:
        """Read again what is kept of lines beside the record; what was changed is made anew. How many versions there were."""
        return self._cache.verify(ledger_id)

    def verify(self) -> list[str]:
        """Hold the record, its batches and the columns derived from it against each other; what does not agree, in sentences."""
        said = backing_up.verify(self.engine)
        for each in self.ledgers():
            try:
                with transaction(self.engine) as connection:
                    control = posted_control(connection, each.id, each.version)
                self._cache.source(each.id, control)
            except RecordsError as error:
                said.append(f"{each.name}: {error}")
        return said

    def facts(self, ledger_id: int, version: int | None = None) -> LedgerFacts:
        """What a version of a ledger is, without its lines. Raises NotFoundError."""
        return self._facts.facts(ledger_id, version)

    def batches(self, ledger_id: int) -> list[BatchRecord]:
        """All batches, withdrawn ones too, in the order of posting."""
        return ledgers.batches(self.engine, ledger_id)

    def posted_months(self, ledger_id: int) -> list[PostedMonth]:
        """Per feed every month from its first to its last, posted or not, in time order."""
        return months.posted_months(self.engine, ledger_id)

    def withdraw(self, ledger_id: int, batch_id: int, by: str, *, leave_hole: bool) -> int:
        """Take a batch out as a new version, which is returned. Raises RefusedError, NotFoundError."""
        version = withdrawing.withdraw(self.engine, ledger_id, batch_id, self._signed(by), leave_hole=leave_hole)
        self._make_ready(ledger_id)
        return version

    def restore(self, ledger_id: int, batch_id: int, by: str) -> int:
        """Take a withdrawn batch in again as a new version, which is returned. Raises RefusedError, NotFoundError."""
        version = withdrawing.restore(self.engine, ledger_id, batch_id, self._signed(by))
        self._make_ready(ledger_id)
        return version

    def correct_line(self, ledger_id: int, line_id: int, change: LineChange | None, reason: str, today: date, by: str) -> Posting:
        """Put a changed line (None: nothing) in a posted line's place, as a batch of its own.

        Raises RefusedError, NotFoundError.
        """
        posting = correcting.correct_line(self.engine, ledger_id, line_id, change, reason, today, self._signed(by))
        self._make_ready(ledger_id)
        return posting

    def change_settings(self, ledger_id: int, settings: LedgerSettings) -> None:
        """Change what a ledger is counted by. Raises NameTakenError, RefusedError."""
        ledgers.change_settings(self.engine, ledger_id, settings)

    def declared_coverage(self, ledger_id: int) -> list[FeedDeclared]:
        """What is declared of the feeds of a ledger's lines."""
        return ledgers.declared_coverage(self.engine, ledger_id)

    def versions(self, ledger_id: int) -> list[VersionRecord]:
        """The journal, the latest version first."""
        return ledgers.versions(self.engine, ledger_id)

    def parts_of_version(self, ledger_id: int, version: int) -> tuple[VersionPart, ...]:
        """The batches that came with a version, in the order in which they count."""
        return version_parts.parts_of_version(self.engine, ledger_id, version)

    def kept_mappings(self, ledger_id: int) -> Kept[KeptMapping]:
        """A ledger's mappings, the latest kept first."""
        return mappings.kept_mappings(self.engine, ledger_id)

    def keep_mapping(self, ledger_id: int, kept: KeptMapping) -> None:
        """Keep a mapping for the next files of its shape, in place of the one before."""
        with transaction(self.engine) as connection:
            mappings.keep_mapping(connection, ledger_id, kept.shape, kept.mapping, self._at())

    def forget_mapping(self, ledger_id: int, shape: str) -> bool:
        """Let no file take a mapping by itself any more; False where none is kept for the shape."""
        with transaction(self.engine) as connection:
            return mappings.forget_mapping(connection, ledger_id, shape, self._at())

    def saved_statements(self, ledger_id: int) -> Kept[SavedStatement]:
        """A ledger's statements by folder and name."""
        return statements.saved_statements(self.engine, ledger_id)

    def save_statement(self, ledger_id: int, saved: SavedStatement) -> int:
        """Keep a statement under its name, in place of the one before; its number. Raises NameTakenError."""
        with transaction(self.engine) as connection:
            return statements.save_statement(connection, ledger_id, saved)

    def forget_statement(self, ledger_id: int, name: str) -> bool:
        """Keep a statement no more; False where there is none of that name."""
        with transaction(self.engine) as connection:
            return statements.forget_statement(connection, ledger_id, name, self._at())

    def post(
        self, ledger_id: int, files: Sequence[PostedFile], today: date, progress: Progress, replacement: Replacement, by: str
    ) -> Posting:
        """Post files as one new version, all or nothing, placed as said. Raises RefusedError, RecordsError."""
        posted = posting.post(self.engine, ledger_id, files, today, progress, replacement, self._signed(by))
        self._make_ready(ledger_id)
        return posted

    def _make_ready(self, ledger_id: int) -> None:
        """Open the version that was just made, if earlier ones are read here: whoever posted asks for it next."""
        if self._cache.latest_open(ledger_id) is None:
            return
        with transaction(self.engine) as connection:
            control = posted_control(connection, ledger_id)
        self._cache.opens_within(ledger_id, control, READY_SECONDS)

    def months_going_out(self, ledger_id: int, replacement: Replacement, feeds: Sequence[str]) -> list[MonthHeld]:
        """Per month, the lines that such a replacement of files of these feeds would take out."""
        return intake_reads.months_going_out(self.engine, ledger_id, replacement, feeds)

    def known_members(self, ledger_id: int, dimension: str) -> list[tuple[str, str]]:
        """(key, label) of a dimension's members, the blank one left out; empty where the ledger has no such dimension."""
        return intake_reads.known_members(self.engine, ledger_id, dimension)

    def members_among(self, ledger_id: int, keys: Mapping[str, Sequence[str]]) -> Mapping[str, Collection[str]]:
        """Those of some keys that are members, by dimension."""
        return intake_reads.members_among(self.engine, ledger_id, keys)

    def is_listed(self, ledger_id: int, dimension: str) -> bool:
        """Whether `known_members` gives all members of a dimension: of one with too many it gives none."""
        return intake_reads.is_listed(self.engine, ledger_id, dimension)

    def mapped_keys(self, ledger_id: int, dimensions: Collection[str]) -> Mapping[str, Mapping[str, Mapping[str, str | None]]]:
        """Per dimension and level, the member key of each key that the current lookups know, on the last of their days."""
        return intake_reads.mapped_keys(self.engine, ledger_id, dimensions)

    def line_ids_posted(self, ledger_id: int, pieces: Callable[[], Iterable[TextColumn]]) -> dict[str, tuple[str, int]]:
        """(file, row) of those line ids that count already. pieces: the ids, some at a time, as often as they are asked for."""
        return intake_reads.line_ids_posted(self.engine, ledger_id, pieces)

    def orders_sold(self, ledger_id: int, orders: Sequence[str]) -> list[OrderSold]:
        """What the posted lines hold of some orders, per product and (product "") as a whole."""
        with transaction(self.engine) as connection:
            control = posted_control(connection, ledger_id)
        source = self._cache.at_hand(ledger_id, control)
        at_hand = None if source is None else LinesAtHand(source.segments, control.scales[0])
        return intake_reads.orders_sold(self.engine, ledger_id, orders, at_hand)

    def read_lines(self, ledger_id: int, ids: Sequence[int]) -> list[ReadLine]:
        """Lines by id, in the order of the ids."""
        return lines_read.read_lines(self.engine, ledger_id, ids)

    @property
    def languages(self) -> Collection[str]:
        """The languages, by their codes, whose letters come in an order of their own."""
        return collations.COLLATIONS

    def weigh(self, language: str, texts: Sequence[str]) -> list[bytes]:
        """What texts are sorted by in one of `languages`, whatever their case."""
        return collations.weigh(self.engine, language, texts)

    def posted_totals(self, facts: LedgerFacts, ledger_id: int) -> SqlTotals:
        """The posted lines of a version, added up by MariaDB itself."""
        roles = {each.role: each.name for each in reversed(facts.dimensions) if each.role}
        return SqlTotals(self.engine, ledger_id, facts.version, facts.scales, roles, self._kept_sums)
