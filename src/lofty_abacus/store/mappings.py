"""Mappings that are kept: one per feed of a ledger, found again by the shape of a file."""

from __future__ import annotations

from dataclasses import asdict
from datetime import UTC, date, datetime

from sqlalchemy import Connection, Engine, select

from lofty_abacus.actions.records import KeptMapping
from lofty_abacus.ingest.mapping import Mapping, mapping_from
from lofty_abacus.store.engine import transaction
from lofty_abacus.store.tables import mapping as table


def kept_mappings(engine: Engine, ledger_id: int) -> list[KeptMapping]:
    """A ledger's mappings, the latest kept first."""
    with transaction(engine) as connection:
        rows = connection.execute(
            select(table.c.shape, table.c.body)
            .where(table.c.ledger_id == ledger_id, table.c.shape != "")
            .order_by(table.c.kept_at.desc())
        ).all()
        return [KeptMapping(shape, mapping_from(body)) for shape, body in rows]


def keep_mapping(connection: Connection, ledger_id: int, shape: str, mapping: Mapping) -> int:
    """Keep a mapping under its name, in place of the one before; its id."""
    values = {
        "kind": mapping.kind,
        "shape": shape,
        "body": asdict(mapping),
        "covers_from": _day(mapping.covers_from),
        "covers_through": _day(mapping.covers_through),
        "kept_at": datetime.now(UTC).replace(tzinfo=None),
    }
    here = (table.c.ledger_id == ledger_id) & (table.c.name == mapping.name)
    known = connection.execute(select(table.c.id).where(here)).scalar()
    if known is not None:
        connection.execute(table.update().where(here).values(values))
        return int(known)
    made = connection.execute(table.insert().values(ledger_id=ledger_id, name=mapping.name, **values))
    return int(made.inserted_primary_key[0])  # type: ignore[index]


def forget_mapping(connection: Connection, ledger_id: int, name: str) -> bool:
    """Take a mapping's shape away, so that no file takes it by itself any more; False where there is none of that name."""
    here = (table.c.ledger_id == ledger_id) & (table.c.name == name)
    return bool(connection.execute(table.update().where(here).values(shape="")).rowcount)


def _day(text: str | None) -> date | None:
    return date.fromisoformat(text) if text else None
