"""Which lines a version holds: stretches of line ids, and what of them does not count. Read from the record in one go."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray
from propcache.api import cached_property
from sqlalchemy import Connection, func, select

from lofty_abacus.core.days import day_number
from lofty_abacus.core.statement.ledger import Dimension
from lofty_abacus.store.dimensions import dimensions
from lofty_abacus.store.level_entries import KnownLevel, KnownLevels
from lofty_abacus.store.line_columns import LineColumn, line_columns
from lofty_abacus.store.members import member_counts
from lofty_abacus.store.segment_files import Arrays, Stretch
from lofty_abacus.store.tables import batch, batch_span, exclusion, ledger
from lofty_abacus.store.versions import held_at

#: Ranges of line ids that are looked for one by one.
FEW = 8


@dataclass(frozen=True)
class Control:
    """What the lines of a version must come to: lines, net total in minor units as text, decimals of amounts and quantities."""

    version: int
    lines: int
    amount: str
    scales: tuple[int, int]


@dataclass(frozen=True)
class LeftOut:
    """Lines of a stretch that do not count: those of some days (day numbers), or all of it."""

    stretch: Stretch
    days: tuple[int, int] | None


@dataclass(frozen=True)
class Part:
    """A batch that counts in a version, what it was posted as, and what of it does not count."""

    stretch: Stretch
    mark: str
    out: tuple[LeftOut, ...]

    @property
    def lines(self) -> int:
        """Lines that it was posted with."""
        return self.stretch.last - self.stretch.first + 1


@dataclass(frozen=True)
class VersionLines:
    """A version as the record has it.

    batches: every batch with lines, what it was posted as, and whether it counts in this version; out: what of those that count
    does not. own: the dimensions of the lines, by id. sizes: members of every dimension and level. columns: figures and days of
    the ledger's own. named: the last batch, of this or any version, that may have called members otherwise.
    """

    control: Control
    batches: Mapping[Stretch, tuple[str, bool]]
    out: tuple[LeftOut, ...]
    own: tuple[tuple[int, Dimension], ...]
    levels: Mapping[str, KnownLevel]
    ids: Mapping[str, int]
    sizes: Mapping[str, int]
    columns: tuple[LineColumn, ...] = ()
    named: int = 0

    @property
    def roles(self) -> dict[str, str]:
        """Dimension name by role."""
        return {each.role: each.name for _, each in reversed(self.own) if each.role}

    @cached_property
    def counting(self) -> list[Stretch]:
        """The stretches of the batches that count, in order."""
        return sorted(stretch for stretch, (_, counts) in self.batches.items() if counts)

    @cached_property
    def marks(self) -> dict[int, str]:
        """What each batch was posted as."""
        return {stretch.batch: mark for stretch, (mark, _) in self.batches.items()}

    def out_key(self, holds: Sequence[Stretch]) -> object:
        """What tells which lines of a segment do not count: alike where the same do not."""
        return self._away(holds)

    def _away(self, holds: Sequence[Stretch]) -> tuple[tuple[tuple[int, int], ...], tuple[LeftOut, ...]]:
        """(ranges of ids, lines of some days) that do not count, of a segment with these stretches."""
        here = IdRanges(holds)
        ranges = [each for each, (_, counts) in self.batches.items() if not counts]
        ranges += [each.stretch for each in self.out if each.days is None]
        days = tuple(each for each in self.out if each.days is not None and here.meets(each.stretch))
        return tuple(sorted((each.first, each.last) for each in ranges if here.meets(each))), days

    def out_of(self, holds: Sequence[Stretch], columns: Arrays, first_day: int) -> NDArray[np.uint8] | None:
        """u8[n], 1 for the lines of a segment that do not count; None where all do. holds: its stretches."""
        ranges, left_out = self._away(holds)
        if not ranges and not left_out:
            return None
        ids = columns["line_id"]
        found = np.zeros(len(ids), bool)
        if len(ranges) <= FEW:
            for first, last in ranges:
                found |= (ids >= first) & (ids <= last)
        else:
            starts, ends = (np.array(each, ids.dtype) for each in zip(*ranges, strict=True))
            at = np.searchsorted(starts, ids, side="right") - 1
            found = (at >= 0) & (ids <= ends[np.maximum(at, 0)])
        for each in left_out:
            here = np.flatnonzero((ids >= each.stretch.first) & (ids <= each.stretch.last))
            days = columns["day"][here].astype(np.int32) + first_day
            first_day_out, last_day_out = each.days or (0, -1)
            found[here[(days >= first_day_out) & (days <= last_day_out)]] = True
        return found.astype(np.uint8) if found.any() else None


class IdRanges:
    """The line ids that some stretches hold, as ranges in order that do not touch: a ledger may have thousands of batches."""

    def __init__(self, stretches: Iterable[Stretch]) -> None:
        self._firsts: list[int] = []
        self._lasts: list[int] = []
        for each in sorted(stretches):
            if self._lasts and each.first <= self._lasts[-1] + 1:
                self._lasts[-1] = max(self._lasts[-1], each.last)
            else:
                self._firsts.append(each.first)
                self._lasts.append(each.last)

    def also(self, stretches: Iterable[Stretch]) -> IdRanges:
        """These ids and those of some stretches."""
        mine = (Stretch(first, last, 0) for first, last in zip(self._firsts, self._lasts, strict=True))
        return IdRanges((*mine, *stretches))

    def meets(self, stretch: Stretch) -> bool:
        """Whether any id of a stretch is among them."""
        at = bisect_left(self._lasts, stretch.first)
        return at < len(self._firsts) and self._firsts[at] <= stretch.last

    def missing(self, stretch: Stretch) -> list[Stretch]:
        """The parts of a stretch that are not among them, in order."""
        found, first, at = [], stretch.first, bisect_left(self._lasts, stretch.first)
        while at < len(self._firsts) and self._firsts[at] <= stretch.last:
            if self._firsts[at] > first:
                found.append(Stretch(first, self._firsts[at] - 1, stretch.batch))
            first = self._lasts[at] + 1
            at += 1
        return [*found, Stretch(first, stretch.last, stretch.batch)] if first <= stretch.last else found


def uncovered(wanted: Iterable[Stretch], held: Iterable[Stretch]) -> list[Stretch]:
    """What of some stretches no other covers, in order."""
    ranges = IdRanges(held)
    return [part for each in sorted(wanted) for part in ranges.missing(each)]


def posted_control(connection: Connection, ledger_id: int, version: int | None = None) -> Control:
    """What MariaDB's journal says of a version, the current one if None."""
    row = connection.execute(
        select(ledger.c.version, ledger.c.amount_scale, ledger.c.quantity_scale).where(ledger.c.id == ledger_id)
    ).one()
    at = row.version if version is None else version
    held = held_at(connection, ledger_id, at)
    return Control(at, held.lines, str(int(held.amount.scaleb(row.amount_scale))), (row.amount_scale, row.quantity_scale))


def version_lines(
    connection: Connection, ledger_id: int, version: int, known: KnownLevels, without: Collection[int] = ()
) -> VersionLines:
    """What a version holds, as one transaction sees it.

    known: what lookups said, asked for once. without: batches that came with it and are left out, with what they took the place
    of: a part of what the version did. Its control is then that of the whole.
    """
    found = dimensions(connection, ledger_id, version)
    batches = _batches(connection, ledger_id, version, without)
    sizes = member_counts(connection, [number for number, _ in found])
    return VersionLines(
        control=posted_control(connection, ledger_id, version),
        batches=batches,
        out=_left_out(connection, {each.batch: each for each in batches}, version, without),
        own=tuple((number, each) for number, each in found if each.of is None),
        levels=known.of(connection, ledger_id, found, version, without),
        ids={each.name: number for number, each in found},
        sizes={each.name: sizes[number] for number, each in found},
        columns=line_columns(connection, ledger_id, version),
        named=_last_lookup(connection, ledger_id),
    )


def counting_parts(connection: Connection, ledger_id: int, version: int) -> frozenset[Part]:
    """The batches with lines that count in a version: versions that have the same parts have the same lines."""
    counting = {each: mark for each, (mark, counts) in _batches(connection, ledger_id, version, ()).items() if counts}
    out: dict[int, list[LeftOut]] = {}
    for each in _left_out(connection, {each.batch: each for each in counting}, version, ()):
        out.setdefault(each.stretch.batch, []).append(each)
    return frozenset(
        Part(each, mark, tuple(sorted(out.get(each.batch, ()), key=lambda left: (left.stretch, left.days or (0, 0)))))
        for each, mark in counting.items()
    )


def _last_lookup(connection: Connection, ledger_id: int) -> int:
    """The last batch of a lookup that was ever posted, 0 for none: only those name members."""
    query = select(func.max(batch.c.id)).where(batch.c.ledger_id == ledger_id, batch.c.first_line.is_(None))
    return int(connection.execute(query).scalar_one() or 0)


def _batches(connection: Connection, ledger_id: int, version: int, without: Collection[int]) -> dict[Stretch, tuple[str, bool]]:
    until = batch_span.c.until_version
    counts = (
        select(batch_span.c.id)
        .where(
            batch_span.c.batch_id == batch.c.id,
            batch_span.c.from_version <= version,
            until.is_(None) | (until > version),
        )
        .exists()
    )
    query = select(
        batch.c.id, batch.c.first_line, batch.c.last_line, batch.c.line_count, batch.c.amount_total, batch.c.file_hash, counts
    ).where(batch.c.ledger_id == ledger_id, batch.c.first_line.is_not(None))
    return {
        Stretch(row.first_line, row.last_line, row.id): (
            f"{row.line_count} {row.amount_total.normalize():f} {row.file_hash}",
            bool(row[6]) and row.id not in without,
        )
        for row in connection.execute(query)
    }


def _left_out(
    connection: Connection, by_batch: Mapping[int, Stretch], version: int, without: Collection[int]
) -> tuple[LeftOut, ...]:
    until = exclusion.c.until_version
    rows = connection.execute(
        select(exclusion).where(
            exclusion.c.batch_id.in_(by_batch),
            exclusion.c.by_batch_id.not_in(without),
            exclusion.c.from_version <= version,
            until.is_(None) | (until > version),
        )
    ).mappings()
    return tuple(_one_left_out(by_batch[row["batch_id"]], row) for row in rows)


def _one_left_out(whole: Stretch, row: Mapping[Any, Any]) -> LeftOut:
    line = row["line_id"]
    if line is not None:
        return LeftOut(Stretch(int(line), int(line), whole.batch), None)
    return LeftOut(whole, (day_number(row["first_day"]), day_number(row["last_day"])))
