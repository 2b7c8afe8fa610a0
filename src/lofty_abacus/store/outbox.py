"""Mail on its way, in the record: what is not sent yet outlives a restart, and nothing is sent twice."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from datetime import UTC, datetime
from typing import Any

from sqlalchemy import Connection, Engine, select
from sqlalchemy.dialects.mysql import insert

from lofty_abacus.actions.records.briefs import MailRecord, MailState, NewMail
from lofty_abacus.store.engine import transaction
from lofty_abacus.store.tables import outbox

_LONGEST = 400
#: Messages that are looked at in one go.
_MOST = 100


def add_mails(connection: Connection, ledger_id: int, mails: Sequence[NewMail], now: datetime) -> int:
    """Messages to be sent, within a transaction; one that is there already is not added again. How many were added."""
    added = 0
    for mail in mails:
        values = {
            "ledger_id": ledger_id,
            "message_id": mail.message_id,
            "address": mail.address,
            "name": mail.name,
            "subject": mail.subject[:300],
            "issue_id": mail.issue_id,
            "place": mail.place,
            "body": mail.body,
            "state": "waiting",
            "attempts": 0,
            "made_at": now,
            "next_at": now,
            "said": "",
        }
        added += connection.execute(insert(outbox).prefix_with("IGNORE").values(**values)).rowcount
    return added


class MariaDbOutbox:
    """The outbox kept in MariaDB. now: the clock, without a zone, in UTC."""

    def __init__(self, engine: Engine, now: Callable[[], datetime]) -> None:
        self._engine, self._now = engine, now

    def add(self, ledger_id: int, mails: Sequence[NewMail]) -> int:
        """Messages to be sent; one that is there already is not added again. How many were added."""
        with transaction(self._engine) as connection:
            return add_mails(connection, ledger_id, mails, self._now())

    def due(self, now: datetime) -> list[MailRecord]:
        """Messages whose time has come, the oldest first."""
        with transaction(self._engine) as connection:
            here = (outbox.c.state == "waiting") & (outbox.c.next_at <= _plain(now))
            query = select(outbox).where(here).order_by(outbox.c.next_at, outbox.c.id).limit(_MOST)
            return [_read(row) for row in connection.execute(query).mappings()]

    def claim(self, mail_id: int) -> bool:
        """Take a waiting message to be handed over now; False where somebody else has taken it."""
        here = (outbox.c.id == mail_id) & (outbox.c.state == "waiting")
        with transaction(self._engine) as connection:
            taken = outbox.update().where(here).values(state="sending", attempts=outbox.c.attempts + 1)
            return bool(connection.execute(taken).rowcount)

    def ended(self, mail_id: int, state: MailState, said: str, next_at: datetime | None = None) -> None:
        """What became of a message that was taken."""
        values: dict[str, Any] = {"state": state, "said": said[:_LONGEST]}
        if state == "waiting" and next_at is not None:
            values["next_at"] = _plain(next_at)
        if state != "waiting":
            values["ended_at"] = self._now()
        with transaction(self._engine) as connection:
            connection.execute(outbox.update().where(outbox.c.id == mail_id).values(**values))

    def unsure_after_a_crash(self) -> int:
        """Messages that were being handed over when the process ended: nobody knows whether they arrived. How many."""
        said = "The application ended while this was handed over: it may have arrived. Send it again if it did not."
        with transaction(self._engine) as connection:
            values = {"state": "unsure", "said": said, "ended_at": self._now()}
            return connection.execute(outbox.update().where(outbox.c.state == "sending").values(**values)).rowcount

    def log(self, ledger_id: int, issue_id: int | None = None, limit: int = 200) -> list[MailRecord]:
        """Messages of a ledger, or of an issue, the latest first."""
        with transaction(self._engine) as connection:
            query = select(outbox).where(outbox.c.ledger_id == ledger_id)
            if issue_id is not None:
                query = query.where(outbox.c.issue_id == issue_id)
            return [_read(row) for row in connection.execute(query.order_by(outbox.c.id.desc()).limit(limit)).mappings()]

    def again(self, mail_id: int, now: datetime) -> bool:
        """Send a message that was given up or is unsure once more, since a person asks for it."""
        here = (outbox.c.id == mail_id) & outbox.c.state.in_(("given_up", "unsure"))
        with transaction(self._engine) as connection:
            values = {"state": "waiting", "attempts": 0, "next_at": _plain(now), "ended_at": None}
            return bool(connection.execute(outbox.update().where(here).values(**values)).rowcount)


def _read(row: Any) -> MailRecord:
    mail = NewMail(row["message_id"], row["address"], row["name"], row["subject"], row["body"], row["issue_id"], row["place"])
    ended = row["ended_at"]
    return MailRecord(
        row["id"],
        row["ledger_id"],
        mail,
        row["state"],
        row["attempts"],
        row["made_at"].replace(tzinfo=UTC),
        row["next_at"].replace(tzinfo=UTC),
        ended.replace(tzinfo=UTC) if ended else None,
        row["said"],
    )


def _plain(at: datetime) -> datetime:
    return at.astimezone(UTC).replace(tzinfo=None)
