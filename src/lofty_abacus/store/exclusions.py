"""Lines whose place another batch took: those of a stretch of days, or single ones.

A line counts in a version if its batch does and no exclusion that holds there covers it. The lines of the current version
carry the answer themselves (`excluded`), so that SQL needs no history.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any

from sqlalchemy import Connection, select, text

from lofty_abacus.store.line_tables import line_table
from lofty_abacus.store.tables import batch, exclusion
from lofty_abacus.store.versions import NOTHING, Held


@dataclass(frozen=True)
class Exclusion:
    """What is taken out of a batch: the lines of some days, or one line."""

    batch_id: int
    first_day: date
    last_day: date
    line_id: int | None = None


def exclude(connection: Connection, ledger_id: int, by_batch: int, version: int, what: Sequence[Exclusion]) -> None:
    """Take lines out, in favour of a batch, from a version on."""
    for each in what:
        connection.execute(
            exclusion.insert().values(
                batch_id=each.batch_id,
                line_id=each.line_id,
                first_day=each.first_day,
                last_day=each.last_day,
                by_batch_id=by_batch,
                from_version=version,
            )
        )
        _mark(connection, ledger_id, each.__dict__, excluded=True)


def end_exclusions(connection: Connection, ledger_id: int, by_batch: int, version: int) -> None:
    """Let the lines count again that a batch took the place of, save those that another one covers as well."""
    ended = _current(connection, exclusion.c.by_batch_id == by_batch)
    connection.execute(
        exclusion.update()
        .where(exclusion.c.by_batch_id == by_batch, exclusion.c.until_version.is_(None))
        .values(until_version=version)
    )
    for each in ended:
        _mark(connection, ledger_id, each, excluded=False)
    for number in {each["batch_id"] for each in ended}:
        for other in _current(connection, exclusion.c.batch_id == number):
            _mark(connection, ledger_id, other, excluded=True)


def renew_exclusions(connection: Connection, ledger_id: int, by_batch: int, version: int) -> None:
    """Take the lines out again that a batch had taken the place of when it was last withdrawn."""
    rows = list(
        connection.execute(
            select(exclusion).where(exclusion.c.by_batch_id == by_batch, exclusion.c.until_version.is_not(None))
        ).mappings()
    )
    last = max((row["until_version"] for row in rows), default=None)
    again = [
        Exclusion(row["batch_id"], row["first_day"], row["last_day"], row["line_id"])
        for row in rows
        if row["until_version"] == last
    ]
    exclude(connection, ledger_id, by_batch, version, again)


def hand_over_exclusions(connection: Connection, old: int, new: int, version: int) -> None:
    """Where a batch takes the place of another one, the lines that the other had taken the place of stay out."""
    for each in _current(connection, exclusion.c.by_batch_id == old):
        connection.execute(exclusion.update().where(exclusion.c.id == each["id"]).values(until_version=version))
        kept = {name: each[name] for name in ("batch_id", "line_id", "first_day", "last_day")}
        connection.execute(exclusion.insert().values(**kept, by_batch_id=new, from_version=version))


def excluded_by(connection: Connection, by_batch: int) -> set[int]:
    """The batches of which a batch takes lines out, or once did."""
    return set(connection.execute(select(exclusion.c.batch_id).where(exclusion.c.by_batch_id == by_batch)).scalars())


def held_by(connection: Connection, ledger_id: int, batches: set[int]) -> Held:
    """The lines of some batches that count now: as they were posted, or added up by MariaDB where another took lines' places."""
    found = NOTHING
    for number in sorted(batches):
        whole = connection.execute(
            select(batch.c.active, batch.c.line_count, batch.c.amount_total).where(batch.c.id == number)
        ).first()
        if whole is None or not whole.active:
            continue
        if not _current(connection, exclusion.c.batch_id == number):
            found = found + Held(int(whole.line_count), whole.amount_total)
            continue
        row = connection.execute(
            text(
                f"SELECT COUNT(*), COALESCE(SUM(l.amount), 0) FROM batch b JOIN {line_table(ledger_id)} l"
                " ON l.id BETWEEN b.first_line AND b.last_line AND l.batch_id = b.id"
                " WHERE b.id = :b AND b.active AND l.excluded = 0"
            ),
            {"b": number},
        ).one()
        found = found + Held(int(row[0]), row[1])
    return found


def condition_at(connection: Connection, ledger_id: int, version: int) -> str:
    """SQL that holds for the lines (of batches that count) which no exclusion covers at a version.

    ` AND NOT (...)`, or nothing.
    """
    rows = connection.execute(
        select(exclusion)
        .join(batch, batch.c.id == exclusion.c.batch_id)
        .where(
            batch.c.ledger_id == ledger_id,
            exclusion.c.from_version <= version,
            exclusion.c.until_version.is_(None) | (exclusion.c.until_version > version),
        )
    ).mappings()
    found, single = [], []
    for row in rows:
        if row["line_id"] is not None:
            single.append(int(row["line_id"]))
        else:
            found.append(
                f"(batch_id = {int(row['batch_id'])} AND day BETWEEN '{row['first_day'].isoformat()}'"
                f" AND '{row['last_day'].isoformat()}')"
            )
    if single:
        found.append(f"id IN ({', '.join(map(str, sorted(single)))})")
    return f" AND NOT ({' OR '.join(found)})" if found else ""


def _current(connection: Connection, which: Any) -> list[Mapping[str, Any]]:
    rows = connection.execute(select(exclusion).where(which, exclusion.c.until_version.is_(None))).mappings()
    return [dict(row) for row in rows]


def _mark(connection: Connection, ledger_id: int, what: Mapping[str, Any], *, excluded: bool) -> None:
    only = " AND l.id = :line" if what["line_id"] is not None else ""
    connection.execute(
        text(
            f"UPDATE {line_table(ledger_id)} l JOIN batch b ON b.id = :batch SET l.excluded = :excluded"
            " WHERE l.id BETWEEN b.first_line AND b.last_line AND l.batch_id = b.id"
            f" AND l.day BETWEEN :first AND :last{only}"
        ),
        {
            "batch": what["batch_id"],
            "excluded": int(excluded),
            "first": what["first_day"],
            "last": what["last_day"],
            "line": what["line_id"],
        },
    )
