"""Post files: all or nothing, in one transaction that makes a new ledger version."""

from __future__ import annotations

import secrets
from collections.abc import Iterator, Sequence
from concurrent.futures import Future
from contextlib import contextmanager
from dataclasses import asdict, dataclass, field
from datetime import date
from decimal import Decimal
from functools import partial

import numpy as np
from sqlalchemy import Connection, Engine, select, text

from lofty_abacus.actions.errors import RecordsError, RefusedError
from lofty_abacus.actions.records import PostedFile, Posting, Progress, Replacement
from lofty_abacus.core.days import day_number, day_of
from lofty_abacus.core.lines import NO_DAY
from lofty_abacus.core.measures.value import Scales
from lofty_abacus.core.money import MAX_SCALE, decimal_text
from lofty_abacus.ingest.staged import Numbers, StagedLines, StagedLookup
from lofty_abacus.store import bulk, line_files, line_tables, members
from lofty_abacus.store.dimensions import dimensions
from lofty_abacus.store.engine import transaction
from lofty_abacus.store.exclusions import Exclusion, exclude, hand_over_exclusions, held_by
from lofty_abacus.store.level_entries import derive_levels, levels_of_batch, write_entries
from lofty_abacus.store.line_columns import BroughtColumn, LineColumn, enter_brought, enter_decimals, line_columns
from lofty_abacus.store.line_ids import counts_twice, ids_on_lines
from lofty_abacus.store.loading import Loading
from lofty_abacus.store.mappings import have_feed, keep_mapping, outgrow_coverage
from lofty_abacus.store.member_codes import MemberCodes, SomeCodes, member_codes
from lofty_abacus.store.preparing import clear_leftovers, describe, leaving_nothing, make_view, prepare_tables
from lofty_abacus.store.scales import enter_scales
from lofty_abacus.store.signed import Signed
from lofty_abacus.store.spans import take_out
from lofty_abacus.store.tables import batch, batch_span
from lofty_abacus.store.tables import mapping as mapping_table
from lofty_abacus.store.versions import Held, enter_version, next_version

LOCK_SECONDS = 600
#: Pieces that are made ready ahead of MariaDB.
MOST_WAITING = 4


def post(
    engine: Engine,
    ledger_id: int,
    files: Sequence[PostedFile],
    today: date,
    progress: Progress,
    replacement: Replacement,
    signed: Signed,
) -> Posting:
    """Post files as one new version, placed as said. Raises RefusedError (nothing changed) and RecordsError.

    progress: called with what is being done, and how many lines of how many are loaded; it may raise to stop the posting.
    """
    with one_at_a_time(engine, ledger_id):
        _refuse_known_content(engine, ledger_id, files, replacement)
        progress("Preparing the ledger", 0, 0)
        with leaving_nothing(engine, ledger_id):
            scales = prepare_tables(engine, ledger_id, files)
            with (
                engine.connect().execution_options(isolation_level="AUTOCOMMIT") as asked,
                engine.connect() as beside,
                transaction(engine) as connection,
                Loading(connection, beside, asked) as loading,
            ):
                posting = _Posting(connection, ledger_id, today, progress, signed, loading, scales)
                posted = posting.write(files, replacement)
        with transaction(engine) as connection:
            make_view(connection, ledger_id, anew=False)
        return posted


@contextmanager
def one_at_a_time(engine: Engine, ledger_id: int) -> Iterator[None]:
    """Hold the ledger's posting lock: two postings wait for each other."""
    name = f"lofty_post_{ledger_id}"
    with engine.connect() as connection:
        if not connection.execute(text("SELECT GET_LOCK(:n, :s)"), {"n": name, "s": LOCK_SECONDS}).scalar():
            raise RecordsError("Another posting to this ledger is still running: try again when it has ended.")
        try:
            yield
        finally:
            connection.execute(text("SELECT RELEASE_LOCK(:n)"), {"n": name})


def settle(engine: Engine, ledger_id: int, *, anew: bool) -> None:
    """Clear away what a posting that was killed had prepared, unless one runs; make the ledger's view if it needs it."""
    with engine.connect() as lock:
        name = {"n": f"lofty_post_{ledger_id}"}
        if not lock.execute(text("SELECT GET_LOCK(:n, 0)"), name).scalar():
            return
        try:
            with transaction(engine) as connection:
                cleared = clear_leftovers(connection, ledger_id)
                make_view(connection, ledger_id, anew=cleared or anew)
        finally:
            lock.execute(text("SELECT RELEASE_LOCK(:n)"), name)


def _refuse_known_content(engine: Engine, ledger_id: int, files: Sequence[PostedFile], replacement: Replacement) -> None:
    with transaction(engine) as connection:
        for each in files:
            found = connection.execute(
                select(batch.c.file_name, batch.c.id).where(
                    batch.c.ledger_id == ledger_id,
                    batch.c.active,
                    batch.c.file_hash == each.file_hash,
                    batch.c.id.not_in(replacement.replaces),
                )
            ).first()
            if found is not None:
                raise RefusedError(
                    f"{each.name} was posted before, as {found[0]} (batch {found[1]}): leave it out of this posting."
                )


@dataclass
class _AddedOwn:
    """What the pieces of a file came to of a figure or a day of the ledger's own. minor: at the figure's own decimals."""

    lines: int = 0
    minor: int = 0
    days: list[int] = field(default_factory=list)

    def add_figure(self, numbers: Numbers, decimals: int) -> None:
        """More figures."""
        self.lines += int((~numbers.missing).sum())
        self.minor += numbers.total * int(10 ** (decimals - numbers.scale))

    def add_days(self, days: np.ndarray) -> None:
        """More days: day numbers, i32[n]."""
        given = days[days != NO_DAY]
        self.lines += len(given)
        self.days += [int(given.min()), int(given.max())] if len(given) else []


@dataclass
class _Added:
    """What the pieces of a file came to."""

    lines: int = 0
    left_out: int = 0
    minor: int = 0
    sale_lines: int = 0
    return_lines: int = 0
    days: list[int] = field(default_factory=list)
    by_posting: int | None = None
    has_quantity: bool = False
    has_cost: bool = False
    #: Of figures and days of the ledger's own, by name.
    own: dict[str, _AddedOwn] = field(default_factory=dict)

    def brought(self, column: LineColumn) -> BroughtColumn:
        """What they came to of a column of the ledger's own."""
        found = self.own[column.name]
        first, last = (day_of(each(found.days)) if found.days else None for each in (min, max))
        total = "0" if column.is_day else decimal_text(found.minor, column.decimals)
        return BroughtColumn(found.lines, total, first, last)


class _Posting:
    """One posting within its transaction. MariaDB loads some pieces while the next is made ready."""

    def __init__(
        self,
        connection: Connection,
        ledger_id: int,
        today: date,
        progress: Progress,
        signed: Signed,
        loading: Loading,
        scales: tuple[int, int],
    ) -> None:
        self._connection = connection
        self._ledger_id = ledger_id
        self._today = today
        self._progress = progress
        self._signed = signed
        self._loading = loading
        self._version = next_version(connection, ledger_id)
        self._amount_scale, self._quantity_scale = scales
        enter_scales(connection, ledger_id, *scales)
        enter_decimals(connection, ledger_id, line_columns(connection, ledger_id, self._version))
        self._own = line_columns(connection, ledger_id, self._version)
        self._numbers = {each.name: number for number, each in dimensions(connection, ledger_id, self._version)}
        self._counts = members.member_counts(connection, list(self._numbers.values()))
        self._codes: dict[str, MemberCodes | SomeCodes] = {}
        self._next_line = line_tables.last_line(connection, ledger_id) + 1
        self._folder = bulk.loading_folder(connection)

    def write(self, files: Sequence[PostedFile], replacement: Replacement) -> Posting:
        """Write everything, the new version last."""
        total = sum(each.line_count for each in files)
        touched = set(replacement.replaces) | self._in_stretch(files, replacement)
        before = held_by(self._connection, self._ledger_id, touched)
        levels = {level for old in replacement.replaces for level in levels_of_batch(self._connection, old)}
        gone = [take_out(self._connection, self._ledger_id, old, self._version)["file_name"] for old in replacement.replaces]
        made: list[int] = []
        lines = minor = 0
        for each in files:
            keep_mapping(self._connection, self._ledger_id, each.shape, each.mapping, self._signed.at)
            mapping_id = have_feed(self._connection, self._ledger_id, each.mapping)
            number = self._insert_batch(each, mapping_id)
            made.append(number)
            if each.lookup is not None:
                self._write_lookup(number, each.lookup)
                continue
            if replacement.first_day and replacement.last_day:
                stretch = [
                    Exclusion(old, replacement.first_day, replacement.last_day)
                    for old in self._of_feeds([each], replacement.first_day, replacement.last_day)
                    if old not in made
                ]
                exclude(self._connection, self._ledger_id, number, self._version, stretch)
            added = self._write_lines(number, each, lines, total)
            if added.by_posting is not None and each.mapping.covers_through is None:
                outgrow_coverage(self._connection, mapping_id, day_of(added.by_posting))
            lines, minor = lines + added.lines, minor + added.minor
        self._loading.settle()
        for number, each in zip(made, files, strict=True):
            if each.lookup is None and each.mapping.with_role("line"):
                self._refuse_repeated(number, each.name)
        lost = before - held_by(self._connection, self._ledger_id, touched)
        change = Held(lines, Decimal(minor).scaleb(-self._amount_scale)) - lost
        for name, known in self._codes.items():
            number = self._numbers[name]
            if len(known) > self._counts[number]:
                members.settle_members(self._connection, number, len(known))
        what = ", ".join(each.name for each in files)
        levels |= {self._numbers[level] for each in files if each.lookup for level in each.lookup.entries}
        for old in replacement.replaces:
            hand_over_exclusions(self._connection, old, made[0], self._version)
        derive_levels(self._connection, self._ledger_id, levels, self._version)
        describe(self._connection, self._ledger_id, files)
        enter_version(self._connection, self._ledger_id, self._version, change, self._signed, posted_words(what, ", ".join(gone)))
        self._progress("Posted", total, total)
        return Posting(self._version, tuple(made), lines, decimal_text(minor, self._amount_scale))

    def _in_stretch(self, files: Sequence[PostedFile], replacement: Replacement) -> set[int]:
        if replacement.first_day is None or replacement.last_day is None:
            return set()
        return self._of_feeds(files, replacement.first_day, replacement.last_day)

    def _of_feeds(self, files: Sequence[PostedFile], first: date, last: date) -> set[int]:
        """Batches that count, of the feeds of some files, with lines in a stretch of days."""
        names = {each.mapping.name for each in files if each.lookup is None}
        query = (
            select(batch.c.id)
            .join(mapping_table, mapping_table.c.id == batch.c.mapping_id)
            .where(
                batch.c.ledger_id == self._ledger_id,
                batch.c.active,
                mapping_table.c.name.in_(names),
                batch.c.first_day <= last,
                batch.c.last_day >= first,
            )
        )
        return set(self._connection.execute(query).scalars())

    def _insert_batch(self, file: PostedFile, mapping_id: int) -> int:
        made = self._connection.execute(
            batch.insert().values(
                ledger_id=self._ledger_id,
                mapping_id=mapping_id,
                posted_version=self._version,
                posted_at=self._signed.at,
                posted_by=self._signed.by,
                reason=file.reason,
                file_name=file.name,
                file_hash=file.file_hash,
                active=True,
                line_count=0,
                left_out_count=0,
                amount_total=0,
                sale_lines=0,
                return_lines=0,
                has_quantity=False,
                has_cost=False,
                rates=[asdict(each) for each in file.mapping.rates] or None,
            )
        )
        number = int(made.inserted_primary_key[0])  # type: ignore[index]
        self._connection.execute(batch_span.insert().values(batch_id=number, from_version=self._version))
        return number

    def _write_lookup(self, number: int, lookup: StagedLookup) -> None:
        keys = list({entry.key for entries in lookup.entries.values() for entry in entries} | set(lookup.names))
        of = self._codes_for(lookup.of, keys)
        members.set_labels(self._connection, self._numbers[lookup.of], {of[key]: name for key, name in lookup.names.items()})
        for name, entries in lookup.entries.items():
            level = self._numbers[name]
            codes = self._codes_for(name, [entry.member for entry in entries])
            write_entries(
                self._connection, number, level, [(of[each.key], each.valid_from, codes[each.member]) for each in entries]
            )
            labels = lookup.level_names.get(name, {})
            members.set_labels(self._connection, level, {codes[key]: label for key, label in labels.items()})

    def _codes_for(self, name: str, keys: Sequence[str]) -> dict[str, int]:
        """The code of each key, new keys becoming members."""
        known = self._known(name)
        first, different = len(known), list(dict.fromkeys(keys))
        codes, fresh = known.codes(different)
        self._loading.add_members(self._numbers[name], first, fresh).result()
        # What a lookup says of them is written over the posting's own connection, which is to see them.
        self._loading.settle()
        return dict(zip(different, codes.tolist(), strict=True))

    def _known(self, name: str) -> MemberCodes | SomeCodes:
        """A dimension's members: read once, before this posting adds any, and kept up by it."""
        if name not in self._codes:
            number = self._numbers[name]
            self._codes[name] = member_codes(self._connection, number, self._counts[number], self._loading.asked)
        return self._codes[name]

    def _write_lines(self, number: int, file: PostedFile, done: int, total: int) -> _Added:
        assert file.pieces is not None, "a file of lines has pieces"
        added = _Added()
        self._progress(f"Posting {file.name}", done, total)
        first = self._next_line
        # A loading that broke is raised by result(); the transaction then ends with everything else.
        waiting: list[list[Future[None]]] = []
        for piece in file.pieces():
            self._add(added, piece)
            if not len(piece):
                continue
            # Some pieces are loaded or lie ready while the next one is prepared: the connections are the loading's alone.
            waiting.append(self._load(number, piece))
            if len(waiting) > MOST_WAITING:
                _wait_for(waiting.pop(0))
            self._progress(f"Posting {file.name}", done + added.lines, total)
        for each in waiting:
            _wait_for(each)
        self._connection.execute(
            batch.update()
            .where(batch.c.id == number)
            .values(
                line_count=added.lines,
                left_out_count=added.left_out,
                amount_total=decimal_text(added.minor, self._amount_scale),
                sale_lines=added.sale_lines,
                return_lines=added.return_lines,
                first_day=day_of(min(added.days)) if added.days else None,
                last_day=day_of(max(added.days)) if added.days else None,
                last_day_by_posting=None if added.by_posting is None else day_of(added.by_posting),
                has_quantity=added.has_quantity,
                has_cost=added.has_cost,
                first_line=first if added.lines else None,
                last_line=first + added.lines - 1 if added.lines else None,
            )
        )
        enter_brought(self._connection, number, {each.id: added.brought(each) for each in self._own if each.name in added.own})
        return added

    def _add(self, added: _Added, piece: StagedLines) -> None:
        added.left_out += piece.left_out
        added.lines += len(piece)
        if not len(piece):
            return
        added.minor += piece.amount.total * int(10 ** (self._amount_scale - piece.amount.scale))
        added.sale_lines += int((~piece.is_return).sum())
        added.return_lines += int(piece.is_return.sum())
        added.days += [int(piece.day.min()), int(piece.day.max())]
        until_today = piece.day[piece.day <= day_number(self._today)]
        if len(until_today):
            latest = int(until_today.max())
            added.by_posting = latest if added.by_posting is None else max(latest, added.by_posting)
        added.has_quantity |= piece.quantity is not None and not bool(piece.quantity.missing.all())
        added.has_cost |= piece.cost is not None and not bool(piece.cost.missing.all())
        decimals = {each.name: each.decimals for each in self._own}
        for name, numbers in piece.figures.items():
            added.own.setdefault(name, _AddedOwn()).add_figure(numbers, decimals[name])
        for name, days in piece.days.items():
            added.own.setdefault(name, _AddedOwn()).add_days(days)

    def _refuse_repeated(self, number: int, file: str) -> None:
        found = counts_twice(self._connection, self._ledger_id, number)
        if found is not None:
            again, other = found
            raise RefusedError(
                f"{file}, row {again.row}: line id {again.text} is posted already ({other.file}, row {other.row})."
                " Nothing was posted."
            )

    def _load(self, number: int, piece: StagedLines) -> list[Future[None]]:
        """Make a piece ready and have it loaded, with the members that it brings."""
        codes: list[np.ndarray] = []
        loading: list[Future[None]] = []
        for name, (_, column) in piece.dimensions.items():
            known = self._known(name)
            first = len(known)
            mine, new = known.codes(column.texts)
            codes.append(mine[column.codes])
            if new:
                loading.append(self._loading.add_members(self._numbers[name], first, new))
        path = self._folder / f"lines-{secrets.token_hex(8)}"
        line_files.write_lines(path, piece, self._next_line, codes, self._scales)
        load = partial(
            line_files.load_lines,
            ledger_id=self._ledger_id,
            batch_id=number,
            own=line_files.own_columns(piece),
            dimensions=list(piece.dimensions),
            path=path,
            given=piece.given is not None,
        )
        loading.append(self._loading.add_lines(len(piece), load))
        ids = self._next_line + np.arange(len(piece), dtype=np.int64)
        self._next_line += len(piece)
        kept = None if piece.line_ids is None else ids_on_lines(number, ids, piece.line_ids)
        return loading if kept is None else [*loading, self._loading.add_ids(kept)]

    @property
    def _scales(self) -> Scales:
        further = tuple((each.name, each.decimals) for each in self._own if not each.is_day)
        return Scales(self._amount_scale, self._quantity_scale, further)


def _wait_for(loading: Sequence[Future[None]]) -> None:
    for each in loading:
        each.result()


assert MAX_SCALE == 9, "amount_total holds nine decimals"


def posted_words(posted: str, gone: str) -> str:
    """How a version was made, in words."""
    if not gone:
        return f"posted {posted}"
    return f"replaced {gone}" if gone == posted else f"replaced {gone} by {posted}"
