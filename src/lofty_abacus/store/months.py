"""Which months of which feed are posted."""

from __future__ import annotations

from datetime import date

from sqlalchemy import Connection, Engine, select, text

from lofty_abacus.actions.records import PostedMonth
from lofty_abacus.core.calendar.periods import periods_between
from lofty_abacus.core.calendar.settings import CalendarSettings
from lofty_abacus.store.engine import transaction
from lofty_abacus.store.line_tables import counted_lines
from lofty_abacus.store.tables import batch, hole, ledger, mapping


def posted_months(engine: Engine, ledger_id: int) -> list[PostedMonth]:
    """Per feed every month from its first to its last (withdrawn ones and holes count as places), posted or not."""
    with transaction(engine) as connection:
        scale = connection.execute(select(ledger.c.amount_scale).where(ledger.c.id == ledger_id)).scalar_one()
        rows = connection.execute(
            text(
                "SELECT m.name AS feed, DATE_FORMAT(l.day, '%Y-%m') AS month, COUNT(*) AS n, SUM(l.amount) AS amount"
                f" FROM {counted_lines(ledger_id)}"
                " JOIN mapping m ON m.id = b.mapping_id GROUP BY m.name, month"
            )
        )
        known = {(row.feed, row.month): (row.n, f"{row.amount:.{scale}f}") for row in rows}
        holes = _holes(connection, ledger_id)
        found = []
        for feed, (first, last) in _stretches(connection, ledger_id).items():
            for each in periods_between(first, last, "month", CalendarSettings()):
                lines, amount = known.get((feed, each.key), (0, f"{0:.{scale}f}"))
                declared = any(a <= each.last and each.first <= b for name, a, b in holes if name == feed)
                found.append(PostedMonth(feed, each.key, lines, amount, declared))
        return found


def _stretches(connection: Connection, ledger_id: int) -> dict[str, tuple[date, date]]:
    """First and last day of each feed's files, withdrawn ones included, in the order of their first posting."""
    rows = connection.execute(
        select(mapping.c.name, batch.c.first_day, batch.c.last_day)
        .join(mapping, mapping.c.id == batch.c.mapping_id)
        .where(batch.c.ledger_id == ledger_id, batch.c.first_day.is_not(None))
        .order_by(batch.c.id)
    )
    found: dict[str, tuple[date, date]] = {}
    for name, first, last in rows:
        before = found.get(name, (first, last))
        found[name] = (min(first, before[0]), max(last, before[1]))
    return found


def _holes(connection: Connection, ledger_id: int) -> list[tuple[str, date, date]]:
    rows = connection.execute(
        select(mapping.c.name, hole.c.first_day, hole.c.last_day)
        .join(batch, batch.c.id == hole.c.batch_id)
        .join(mapping, mapping.c.id == batch.c.mapping_id)
        .where(batch.c.ledger_id == ledger_id, hole.c.until_version.is_(None))
    )
    return [(row[0], row[1], row[2]) for row in rows]
