"""Ledgers that are archived and deleted, and addresses kept under short names."""

from __future__ import annotations

import re

from sqlalchemy import Connection, Engine, func, select, text
from sqlalchemy.dialects.mysql import insert

from lofty_abacus.actions.records import LedgerHoldings
from lofty_abacus.store import line_tables
from lofty_abacus.store.engine import transaction
from lofty_abacus.store.line_columns import of_ledger
from lofty_abacus.store.posting import one_at_a_time
from lofty_abacus.store.signed import Signed
from lofty_abacus.store.tables import (
    alert,
    alert_event,
    batch,
    batch_column,
    batch_span,
    brief,
    dimension,
    exclusion,
    hole,
    issue,
    issue_copy,
    kept_mapping,
    ledger,
    ledger_version,
    level_member,
    line_column,
    line_id_piece,
    lookup_entry,
    mapping,
    member,
    member_key_piece,
    outbox,
    restatement,
    saved_statement,
    short_link,
)

_LINES = re.compile(r"line_(\d+)")


def archive(engine: Engine, ledger_id: int, signed: Signed) -> None:
    """Set a ledger aside; its lines and statements stay."""
    with transaction(engine) as connection:
        here = (ledger.c.id == ledger_id) & ledger.c.archived_at.is_(None)
        connection.execute(ledger.update().where(here).values(archived_at=signed.at, archived_by=signed.by))


def take_from_archive(engine: Engine, ledger_id: int) -> None:
    """Take a ledger out of the archive."""
    with transaction(engine) as connection:
        connection.execute(ledger.update().where(ledger.c.id == ledger_id).values(archived_at=None, archived_by=""))


def holdings(engine: Engine, ledger_id: int) -> LedgerHoldings:
    """What a ledger holds, in numbers."""
    with transaction(engine) as connection:

        def count(table: object, *where: object) -> int:
            query = select(func.count()).select_from(table).where(table.c.ledger_id == ledger_id, *where)  # type: ignore
            return int(connection.execute(query).scalar_one())

        lines = connection.execute(
            select(func.coalesce(func.sum(batch.c.line_count), 0)).where(batch.c.ledger_id == ledger_id, batch.c.active)
        ).scalar_one()
        return LedgerHoldings(
            lines=int(lines),
            files=count(batch),
            versions=count(ledger_version, ledger_version.c.version > 0),
            statements=count(saved_statement, saved_statement.c.forgotten_at.is_(None)),
            mappings=count(kept_mapping, kept_mapping.c.forgotten_at.is_(None)),
            briefs=count(brief, brief.c.forgotten_at.is_(None)),
            issues=int(
                connection.execute(
                    select(func.count()).select_from(issue.join(brief)).where(brief.c.ledger_id == ledger_id)
                ).scalar_one()
            ),
            alerts=count(alert, alert.c.forgotten_at.is_(None), alert.c.true_since.is_not(None)),
        )


def delete_ledger(engine: Engine, ledger_id: int) -> None:
    """Throw a ledger away with all that belongs to it. A posting that runs ends first."""
    with one_at_a_time(engine, ledger_id):
        with transaction(engine) as connection:
            batches = select(batch.c.id).where(batch.c.ledger_id == ledger_id)
            connection.execute(batch_column.delete().where(of_ledger(ledger_id)))
            connection.execute(line_column.delete().where(line_column.c.ledger_id == ledger_id))
            dimensions = select(dimension.c.id).where(dimension.c.ledger_id == ledger_id)
            for each in (exclusion, hole, batch_span, line_id_piece):
                connection.execute(each.delete().where(each.c.batch_id.in_(batches)))
            for each in (lookup_entry, level_member, member_key_piece, member):
                connection.execute(each.delete().where(each.c.dimension_id.in_(dimensions)))
            connection.execute(
                dimension.delete().where(dimension.c.ledger_id == ledger_id, dimension.c.of_dimension_id.is_not(None))
            )
            briefs = select(brief.c.id).where(brief.c.ledger_id == ledger_id)
            issues = select(issue.c.id).where(issue.c.brief_id.in_(briefs))
            alerts = select(alert.c.id).where(alert.c.ledger_id == ledger_id)
            connection.execute(outbox.delete().where(outbox.c.ledger_id == ledger_id))
            for each in (restatement, issue_copy):
                connection.execute(each.delete().where(each.c.issue_id.in_(issues)))
            connection.execute(issue.delete().where(issue.c.brief_id.in_(briefs)))
            connection.execute(alert_event.delete().where(alert_event.c.alert_id.in_(alerts)))
            for each in (brief, alert):
                connection.execute(each.delete().where(each.c.ledger_id == ledger_id))
            for each in (dimension, batch, mapping, kept_mapping, saved_statement, ledger_version):
                connection.execute(each.delete().where(each.c.ledger_id == ledger_id))
            connection.execute(ledger.delete().where(ledger.c.id == ledger_id))
        # A change of tables ends a transaction: the lines go last, and at the next start if this is cut off.
        with transaction(engine) as connection:
            line_tables.drop_lines(connection, ledger_id)


def drop_what_nobody_owns(engine: Engine) -> None:
    """Lines of ledgers that were deleted when the process ended."""
    with transaction(engine) as connection:
        known = set(connection.execute(select(ledger.c.id)).scalars())
        for number in _line_tables(connection) - known:
            line_tables.drop_lines(connection, number)


def _line_tables(connection: Connection) -> set[int]:
    query = "SELECT TABLE_NAME FROM information_schema.TABLES WHERE TABLE_SCHEMA = DATABASE()"
    return {int(found[1]) for name in connection.execute(text(query)).scalars() if (found := _LINES.fullmatch(name))}


def keep_link(engine: Engine, number: str, address: str, signed: Signed) -> None:
    """Keep an address under a short name; the same address has the same name."""
    with transaction(engine) as connection:
        command = insert(short_link).values(id=number, address=address, made_by=signed.by, made_at=signed.at)
        connection.execute(command.on_duplicate_key_update(id=number))


def link(engine: Engine, number: str) -> str | None:
    """The address under a short name; None where there is none."""
    with transaction(engine) as connection:
        return connection.execute(select(short_link.c.address).where(short_link.c.id == number)).scalar()
