"""Feeds, and the mappings that are kept for files of a shape."""

from __future__ import annotations

from dataclasses import asdict
from datetime import date, datetime

from sqlalchemy import Connection, Engine, select
from sqlalchemy.dialects.mysql import insert

from lofty_abacus.actions.records import Kept, KeptMapping
from lofty_abacus.ingest.mapping import FileMapping, mapping_from
from lofty_abacus.store.engine import transaction
from lofty_abacus.store.kept_rows import read_each
from lofty_abacus.store.tables import kept_mapping
from lofty_abacus.store.tables import mapping as feed


def kept_mappings(engine: Engine, ledger_id: int) -> Kept[KeptMapping]:
    """A ledger's mappings, the latest kept first."""
    with transaction(engine) as connection:
        rows = connection.execute(
            select(kept_mapping.c.shape, kept_mapping.c.body)
            .where(kept_mapping.c.ledger_id == ledger_id, kept_mapping.c.forgotten_at.is_(None))
            .order_by(kept_mapping.c.kept_at.desc())
        ).mappings()
        return read_each(rows, lambda row: row["shape"], lambda row: KeptMapping(row["shape"], mapping_from(row["body"])))


def keep_mapping(connection: Connection, ledger_id: int, shape: str, mapping: FileMapping, now: datetime) -> None:
    """Keep a mapping for the next files of its shape, in place of the one before."""
    values = {"body": asdict(mapping), "kept_at": now, "forgotten_at": None}
    statement = insert(kept_mapping).values(ledger_id=ledger_id, shape=shape, **values)
    connection.execute(statement.on_duplicate_key_update(**values))


def forget_mapping(connection: Connection, ledger_id: int, shape: str, now: datetime) -> bool:
    """Let no file take a mapping by itself, until it is taken back; False where none is kept for the shape."""
    here = (kept_mapping.c.ledger_id == ledger_id) & (kept_mapping.c.shape == shape)
    gone = kept_mapping.update().where(here, kept_mapping.c.forgotten_at.is_(None)).values(forgotten_at=now)
    return bool(connection.execute(gone).rowcount)


def take_back_mapping(connection: Connection, ledger_id: int, shape: str) -> bool:
    """Keep a mapping again that was forgotten; False where none was for the shape."""
    here = (kept_mapping.c.ledger_id == ledger_id) & (kept_mapping.c.shape == shape)
    back = kept_mapping.update().where(here, kept_mapping.c.forgotten_at.is_not(None)).values(forgotten_at=None)
    return bool(connection.execute(back).rowcount)


def have_feed(connection: Connection, ledger_id: int, mapping: FileMapping) -> int:
    """The feed of a mapping, made if there is none of its name; its id. What the mapping does not declare stays as it was."""
    here = (feed.c.ledger_id == ledger_id) & (feed.c.name == mapping.name)
    days = {"covers_from": _day(mapping.covers_from), "covers_through": _day(mapping.covers_through)}
    known = connection.execute(select(feed.c.id).where(here)).scalar()
    if known is not None:
        declared = {name: day for name, day in days.items() if day is not None}
        connection.execute(feed.update().where(here).values(kind=mapping.kind, **declared))
        return int(known)
    made = connection.execute(feed.insert().values(ledger_id=ledger_id, name=mapping.name, kind=mapping.kind, **days))
    return int(made.inserted_primary_key[0])  # type: ignore[index]


def outgrow_coverage(connection: Connection, feed_id: int, last_day: date) -> None:
    """Lines after the day up to which a feed was declared complete end that declaration: the lines speak again."""
    connection.execute(feed.update().where(feed.c.id == feed_id, feed.c.covers_through < last_day).values(covers_through=None))


def _day(text: str | None) -> date | None:
    return date.fromisoformat(text) if text else None
