"""Alerts in the record: the conditions, since when they are true, and when they began and ended."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from datetime import UTC, datetime
from typing import Any

from pydantic import TypeAdapter
from sqlalchemy import Engine, select
from sqlalchemy.dialects.mysql import insert

from lofty_abacus.actions.errors import NameTakenError, NotFoundError
from lofty_abacus.actions.records import Kept
from lofty_abacus.actions.records.briefs import Alert, AlertEvent, AlertFound, KeptAlert, NewMail
from lofty_abacus.store.engine import transaction
from lofty_abacus.store.kept_rows import read_each
from lofty_abacus.store.outbox import add_mails
from lofty_abacus.store.tables import alert, alert_event

_ALERT, _FOUND = TypeAdapter(Alert), TypeAdapter(AlertFound)
#: Events of an alert that are listed.
_MOST_EVENTS = 20
_LONGEST = 400


class MariaDbAlerts:
    """Alerts kept in MariaDB. now: the clock, without a zone, in UTC."""

    def __init__(self, engine: Engine, now: Callable[[], datetime]) -> None:
        self._engine, self._now = engine, now

    def alerts(self, ledger_id: int) -> Kept[KeptAlert]:
        """A ledger's alerts by name, with their latest events."""
        with transaction(self._engine) as connection:
            here = (alert.c.ledger_id == ledger_id) & alert.c.forgotten_at.is_(None)
            rows = list(connection.execute(select(alert).where(here).order_by(alert.c.name)).mappings().all())
            events: dict[int, list[Any]] = {}
            for row in rows:
                query = select(alert_event).where(alert_event.c.alert_id == row["id"]).order_by(alert_event.c.id.desc())
                events[row["id"]] = list(connection.execute(query.limit(_MOST_EVENTS)).mappings())
        return read_each(rows, lambda row: str(row["name"]), lambda row: _read(row, events[row["id"]]))

    def keep_alert(self, ledger_id: int, kept: Alert, by: str, alert_id: int | None = None) -> int:
        """Keep an alert, in place of that number if one is given; its number. Raises NotFoundError, NameTakenError."""
        values = {
            "name": kept.name,
            "body": _ALERT.dump_python(kept, mode="json"),
            "saved_by": by,
            "saved_at": self._now(),
            # A new condition is looked at anew.
            "looked_version": None,
            "trouble": "",
        }
        here = alert.c.ledger_id == ledger_id
        with transaction(self._engine) as connection:
            taken = here & (alert.c.name == kept.name) & alert.c.forgotten_at.is_(None) & (alert.c.id != (alert_id or 0))
            if connection.execute(select(alert.c.id).where(taken).with_for_update()).scalar():
                raise NameTakenError(f"There is an alert {kept.name!r} already: choose another name.")
            if alert_id is None:
                done = connection.execute(insert(alert).values(ledger_id=ledger_id, **values))
                return int(done.inserted_primary_key[0])  # type: ignore[index]
            if connection.execute(select(alert.c.id).where(here, alert.c.id == alert_id)).scalar() is None:
                raise NotFoundError(f"There is no alert {alert_id} in this ledger.")
            connection.execute(alert.update().where(alert.c.id == alert_id).values(**values))
            return alert_id

    def forget_alert(self, ledger_id: int, alert_id: int) -> bool:
        """Keep an alert no more; False where there is none."""
        here = (alert.c.ledger_id == ledger_id) & (alert.c.id == alert_id) & alert.c.forgotten_at.is_(None)
        with transaction(self._engine) as connection:
            return bool(connection.execute(alert.update().where(here).values(forgotten_at=self._now())).rowcount)

    def looked(self, known: KeptAlert, version: int, found: AlertFound | None, trouble: str, mails: Sequence[NewMail]) -> None:
        """An alert was looked at: keep what was found; where it begins or ends, the event with the mail that tells it."""
        now = self._now()
        values: dict[str, Any] = {"looked_at": now, "looked_version": version, "trouble": trouble[:_LONGEST]}
        with transaction(self._engine) as connection:
            row = connection.execute(select(alert.c.true_since).where(alert.c.id == known.id).with_for_update()).first()
            if row is None:
                return
            was = row[0] is not None
            if found is not None and was != bool(found.count):
                values["true_since"] = now if found.count else None
                event = {"alert_id": known.id, "happened_at": now, "began": bool(found.count), "version": version}
                connection.execute(insert(alert_event).values(**event, body=_FOUND.dump_json(found).decode()))
                add_mails(connection, known.ledger_id, mails, now)
            connection.execute(alert.update().where(alert.c.id == known.id).values(**values))


def _read(row: Any, events: Sequence[Any]) -> KeptAlert:
    def zoned(at: datetime | None) -> datetime | None:
        return at.replace(tzinfo=UTC) if at else None

    return KeptAlert(
        row["id"],
        row["ledger_id"],
        _ALERT.validate_python(row["body"]),
        row["saved_by"],
        row["saved_at"].replace(tzinfo=UTC),
        zoned(row["looked_at"]),
        row["looked_version"],
        zoned(row["true_since"]),
        row["trouble"],
        tuple(
            AlertEvent(each["id"], each["happened_at"].replace(tzinfo=UTC), each["began"], _FOUND.validate_json(each["body"]))
            for each in events
        ),
    )
