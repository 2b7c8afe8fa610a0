"""What lookups say of keys: kept as each file said it, and put together for a version (semantics, section 12).

A lookup posted later has the last word on its keys from its own first day on; the days before keep what was said of them.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection, Hashable, Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from threading import Lock

from cachetools import LRUCache
from sqlalchemy import Connection, select

from lofty_abacus.core.lines import BLANK, NOT_MAPPED
from lofty_abacus.store.bulk import load_rows
from lofty_abacus.store.dimensions import Numbered, chain_of, dimensions, with_levels_of
from lofty_abacus.store.spans import holds_at
from lofty_abacus.store.tables import batch, batch_span, level_member, lookup_entry

#: Stand for "for all days" and "still".
ALWAYS, STILL = date(1000, 1, 1), date(9999, 12, 31)

#: So many sets of lookups are remembered, over all ledgers.
MOST_KNOWN = 8

#: (from day, code of the level's member), in the order of days, by code of the dimension.
History = dict[int, list[tuple[date, int]]]


def write_entries(connection: Connection, batch_id: int, level_id: int, entries: Iterable[tuple[int, date | None, int]]) -> None:
    """Keep what a lookup file says: (code of the dimension, valid from, code of the level)."""
    rows = ((batch_id, level_id, of, (day or ALWAYS).isoformat(), code) for of, day, code in entries)
    load_rows(connection, "lookup_entry", ("batch_id", "dimension_id", "of_code", "valid_from", "code"), rows)


def histories(connection: Connection, level_id: int, version: int, without: Collection[int] = ()) -> History:
    """What the lookups of a version say together of a level's keys, some batches left out."""
    rows = connection.execute(
        select(lookup_entry.c.batch_id, lookup_entry.c.of_code, lookup_entry.c.valid_from, lookup_entry.c.code)
        .join(batch_span, batch_span.c.batch_id == lookup_entry.c.batch_id)
        .where(
            lookup_entry.c.dimension_id == level_id,
            holds_at(batch_span, version),
            batch_span.c.batch_id.not_in(without),
        )
        .order_by(batch_span.c.from_version, lookup_entry.c.batch_id, lookup_entry.c.of_code, lookup_entry.c.valid_from)
    ).all()
    by_file: dict[tuple[int, int], list[tuple[date, int]]] = defaultdict(list)
    for batch_id, of, day, code in rows:
        by_file[batch_id, of].append((day, code))
    found: History = {}
    for (_, of), said in by_file.items():
        found[of] = put_together(found.get(of, []), said)
    return found


def put_together(before: Sequence[tuple[date, int]], said: Sequence[tuple[date, int]]) -> list[tuple[date, int]]:
    """A key's history after a later file.

    What was said of the days before its first day stays; stretches of one member are one.
    """
    joined = [*((day, code) for day, code in before if day < said[0][0]), *said]
    return [each for at, each in enumerate(joined) if at == 0 or each[1] != joined[at - 1][1]]


def chained_history(connection: Connection, found: Numbered, name: str, version: int, without: Collection[int] = ()) -> History:
    """What the lookups of a version say of a level's members by the keys of the lines' own dimension, through all between.

    A line is mapped where each step maps it, else not mapped from there on (section 12).
    """
    numbers = {each.name: number for number, each in found}
    history = histories(connection, numbers[name], version, without)
    for owner in chain_of(found, name)[:-1]:
        history = chained(histories(connection, numbers[owner], version, without), history)
    return history


def chained(inner: History, outer: History) -> History:
    """Two lookups after each other: what `outer` says of the members that `inner` gives, day by day."""
    found: History = {}
    for key, said in inner.items():
        ends = [*(day for day, _ in said[1:]), STILL]
        joined: list[tuple[date, int]] = []
        for (start, member), end in zip(said, ends, strict=True):
            if member in (BLANK, NOT_MAPPED):
                joined.append((start, member))
                continue
            before = [code for day, code in outer.get(member, []) if day <= start]
            joined.append((start, before[-1] if before else NOT_MAPPED))
            joined += [(day, code) for day, code in outer.get(member, []) if start < day < end]
        found[key] = put_together([], joined)
    return found


@dataclass(frozen=True)
class KnownLevel:
    """A level as some lookups have it: the lines' own dimension that it is reached from, and its history. Never changed."""

    of: str
    history: History


class KnownLevels:
    """What lookups say together, remembered by the lookups that say it: most versions have those of the one before."""

    def __init__(self) -> None:
        self._known: LRUCache[Hashable, Mapping[str, KnownLevel]] = LRUCache(MOST_KNOWN)
        self._lock = Lock()

    def of(
        self, connection: Connection, ledger_id: int, found: Numbered, version: int, without: Collection[int] = ()
    ) -> Mapping[str, KnownLevel]:
        """All levels of a version, some of its batches left out, by name. found: what dimensions and levels it has."""
        said = [each for each in _lookups(connection, ledger_id, version) if each not in without]
        # What a batch says never changes, and what is said last has the last word.
        key = (ledger_id, tuple((number, each.name, each.of) for number, each in found), tuple(said))
        with self._lock:
            known = self._known.get(key)
        if known is None:
            known = {
                each.name: KnownLevel(
                    chain_of(found, each.name)[-1], chained_history(connection, found, each.name, version, without)
                )
                for _, each in found
                if each.of is not None
            }
            with self._lock:
                self._known[key] = known
        return known


def _lookups(connection: Connection, ledger_id: int, version: int) -> Sequence[int]:
    """The batches of lookups that hold at a version, in the order in which they have the word."""
    return connection.scalars(
        select(batch.c.id)
        .join(batch_span, batch_span.c.batch_id == batch.c.id)
        .where(batch.c.ledger_id == ledger_id, batch.c.first_line.is_(None), holds_at(batch_span, version))
        .order_by(batch_span.c.from_version, batch.c.id)
    ).all()


def derive_levels(connection: Connection, ledger_id: int, levels: Iterable[int], version: int) -> None:
    """Write a version's histories of some levels, and of the levels of those, where SQL reads them."""
    found = dimensions(connection, ledger_id, version)
    names = {number: each.name for number, each in found}
    for level in with_levels_of(found, levels):
        connection.execute(level_member.delete().where(level_member.c.dimension_id == level))
        write_history(connection, "level_member", level, chained_history(connection, found, names[level], version))


def write_history(connection: Connection, table: str, level_id: int, history_of: History) -> None:
    """Write a level's history into a table of the form of `level_member`."""

    def rows() -> Iterable[tuple[object, ...]]:
        for of, history in history_of.items():
            ends = [*(day for day, _ in history[1:]), STILL]
            for (day, code), end in zip(history, ends, strict=True):
                yield level_id, of, day.isoformat(), end.isoformat(), code

    load_rows(connection, table, ("dimension_id", "of_code", "valid_from", "valid_until", "code"), list(rows()))


def levels_of_batch(connection: Connection, batch_id: int) -> list[int]:
    """The levels that a lookup file speaks of."""
    query = select(lookup_entry.c.dimension_id).where(lookup_entry.c.batch_id == batch_id).distinct()
    return [int(each) for each in connection.execute(query).scalars()]
