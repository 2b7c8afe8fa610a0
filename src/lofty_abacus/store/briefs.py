"""Briefs and their issues in the record."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from datetime import UTC, datetime
from typing import Any

from pydantic import TypeAdapter
from sqlalchemy import Connection, Engine, func, select
from sqlalchemy.dialects.mysql import insert

from lofty_abacus.actions.errors import NameTakenError, NotFoundError, RefusedError
from lofty_abacus.actions.records import Kept
from lofty_abacus.actions.records.briefs import (
    CopyRecord,
    Handing,
    IssueContent,
    IssueRecord,
    KeptBrief,
    NewIssue,
    NewMail,
)
from lofty_abacus.export.briefs.brief import Brief
from lofty_abacus.store.engine import transaction
from lofty_abacus.store.kept_rows import read_each
from lofty_abacus.store.outbox import add_mails
from lofty_abacus.store.tables import brief, issue, issue_copy, restatement

_LONGEST = 400
_BRIEF, _HANDING = TypeAdapter(Brief), TypeAdapter(Handing)


class MariaDbBriefs:
    """Briefs and issues kept in MariaDB. now: the clock, without a zone, in UTC."""

    def __init__(self, engine: Engine, now: Callable[[], datetime]) -> None:
        self._engine, self._now = engine, now

    def briefs(self, ledger_id: int) -> Kept[KeptBrief]:
        """A ledger's briefs by name."""
        with transaction(self._engine) as connection:
            query = select(brief).where(brief.c.ledger_id == ledger_id, brief.c.forgotten_at.is_(None)).order_by(brief.c.name)
            return read_each(connection.execute(query).mappings(), lambda row: str(row["name"]), _read)

    def brief(self, brief_id: int) -> KeptBrief:
        """A brief by number, also one that is kept no more. Raises NotFoundError."""
        with transaction(self._engine) as connection:
            row = connection.execute(select(brief).where(brief.c.id == brief_id)).mappings().first()
        if row is None:
            raise NotFoundError(f"There is no brief {brief_id}.")
        return _read(row)

    def keep_brief(self, ledger_id: int, kept: Brief, handing: Handing, by: str, brief_id: int | None = None) -> int:
        """Keep a brief, in place of that number if one is given; its number. Raises NameTakenError, NotFoundError."""
        now = self._now()
        values = {
            "name": kept.name,
            "body": _BRIEF.dump_python(kept, mode="json"),
            "handing": _HANDING.dump_python(handing, mode="json"),
            "saved_by": by,
            "saved_at": now,
            "trouble": "",
        }
        here = brief.c.ledger_id == ledger_id
        with transaction(self._engine) as connection:
            taken = here & (brief.c.name == kept.name) & brief.c.forgotten_at.is_(None)
            if connection.execute(select(brief.c.id).where(taken, brief.c.id != (brief_id or 0)).with_for_update()).scalar():
                raise NameTakenError(f"There is a brief {kept.name!r} already: choose another name.")
            if brief_id is None:
                command = insert(brief).values(ledger_id=ledger_id, scheduled_to=now, **values)
                return int(connection.execute(command).inserted_primary_key[0])  # type: ignore[index]
            before = connection.execute(select(brief.c.handing).where(here, brief.c.id == brief_id).with_for_update()).scalar()
            if before is None:
                raise NotFoundError(f"There is no brief {brief_id} in this ledger.")
            if before.get("schedule") != values["handing"]["schedule"] or before.get("paused") != handing.paused:
                # What would have been due under another schedule, or while it was paused, is not made up for.
                values["scheduled_to"] = now
            connection.execute(brief.update().where(brief.c.id == brief_id).values(forgotten_at=None, **values))
            return brief_id

    def forget_brief(self, brief_id: int, *, forgotten: bool) -> bool:
        """Keep a brief no more (its issues stay), or again; False where there is none."""
        with transaction(self._engine) as connection:
            at = self._now() if forgotten else None
            known = connection.execute(select(brief.c.id).where(brief.c.id == brief_id)).scalar()
            connection.execute(brief.update().where(brief.c.id == brief_id).values(forgotten_at=at, scheduled_to=self._now()))
            return known is not None

    def scheduled(self, brief_id: int, at: datetime, trouble: str = "") -> None:
        """A brief's schedule was looked at up to a moment. trouble: why no issue came of it, '' where none was due."""
        values = {"scheduled_to": _plain(at), "trouble": trouble[:_LONGEST]}
        with transaction(self._engine) as connection:
            connection.execute(brief.update().where(brief.c.id == brief_id).values(**values))

    def publish(self, new: NewIssue, mails: Sequence[NewMail], scheduled_to: datetime | None = None) -> int:
        """Keep an issue with all its copies and the mail that hands it out, all or nothing; its number in the records.

        scheduled_to: the moment up to which the brief's schedule is done with it. Raises RefusedError where another issue took
        its number meanwhile.
        """
        with transaction(self._engine) as connection:
            # Whoever publishes the same brief waits here.
            row = connection.execute(select(brief.c.ledger_id).where(brief.c.id == new.brief_id).with_for_update()).first()
            if row is None:
                raise NotFoundError(f"There is no brief {new.brief_id}.")
            last = connection.execute(select(func.max(issue.c.number)).where(issue.c.brief_id == new.brief_id)).scalar()
            if (last or 0) + 1 != new.number:
                raise RefusedError(f"Issue {new.number} was published meanwhile: look at it before another one is.")
            command = insert(issue).values(
                brief_id=new.brief_id,
                number=new.number,
                title=new.title,
                as_of=new.as_of,
                version=new.version,
                published_at=self._now(),
                author=new.author,
                headline=new.headline,
                checksum=new.checksum,
                body=_BRIEF.dump_python(new.brief, mode="json"),
            )
            number = int(connection.execute(command).inserted_primary_key[0])  # type: ignore[index]
            for place, copy in enumerate(new.copies):
                connection.execute(
                    insert(issue_copy).values(
                        issue_id=number,
                        place=place,
                        member_key=copy.member,
                        label=copy.label,
                        answers=copy.answers,
                        html=copy.html,
                        pdf=copy.pdf,
                        checksum=copy.checksum,
                    )
                )
            done: dict[str, Any] = {"trouble": ""}
            if scheduled_to is not None:
                done["scheduled_to"] = _plain(scheduled_to)
            connection.execute(brief.update().where(brief.c.id == new.brief_id).values(**done))
            add_mails(connection, row[0], [_of_issue(each, number) for each in mails], self._now())
            return number

    def issues(self, brief_id: int) -> list[IssueRecord]:
        """The issues of a brief, the latest first."""
        with transaction(self._engine) as connection:
            return _issues(connection, issue.c.brief_id == brief_id)

    def issue(self, issue_id: int) -> IssueRecord:
        """An issue. Raises NotFoundError."""
        with transaction(self._engine) as connection:
            found = _issues(connection, issue.c.id == issue_id)
        if not found:
            raise NotFoundError(f"There is no issue {issue_id}.")
        return found[0]

    def content(self, issue_id: int, place: int) -> IssueContent:
        """The content of a copy of an issue. Raises NotFoundError."""
        columns = (issue_copy.c.answers, issue_copy.c.html, issue_copy.c.pdf, issue_copy.c.checksum)
        with transaction(self._engine) as connection:
            here = (issue_copy.c.issue_id == issue_id) & (issue_copy.c.place == place)
            row = connection.execute(select(*columns).where(here)).first()
        if row is None:
            raise NotFoundError(f"There is no copy {place} of issue {issue_id}.")
        return IssueContent(*row)

    def restatement(self, issue_id: int) -> tuple[int, str] | None:
        """The version up to which it is known what was restated of an issue, and what, as JSON; None: nothing is known."""
        with transaction(self._engine) as connection:
            query = select(restatement.c.version, restatement.c.body).where(restatement.c.issue_id == issue_id)
            row = connection.execute(query).first()
        return None if row is None else (row[0], row[1])

    def keep_restatement(self, issue_id: int, version: int, figures: int, body: str) -> None:
        """Keep what was restated of an issue, in place of what was known before."""
        values = {"version": version, "figures": figures, "body": body, "found_at": self._now()}
        with transaction(self._engine) as connection:
            command = insert(restatement).values(issue_id=issue_id, **values)
            connection.execute(command.on_duplicate_key_update(**values))


def _read(row: Any) -> KeptBrief:
    to = row["scheduled_to"]
    return KeptBrief(
        row["id"],
        row["ledger_id"],
        _BRIEF.validate_python(row["body"]),
        _HANDING.validate_python(row["handing"]),
        row["saved_by"],
        row["saved_at"].replace(tzinfo=UTC),
        to.replace(tzinfo=UTC) if to else None,
        row["trouble"],
    )


def _issues(connection: Connection, which: Any) -> list[IssueRecord]:
    query = (
        select(issue, restatement.c.figures, restatement.c.version.label("restated_version"))
        .outerjoin(restatement, restatement.c.issue_id == issue.c.id)
        .where(which)
        .order_by(issue.c.number.desc())
    )
    rows = list(connection.execute(query).mappings())
    columns = (issue_copy.c.issue_id, issue_copy.c.place, issue_copy.c.member_key, issue_copy.c.label, issue_copy.c.checksum)
    copies: dict[int, list[CopyRecord]] = {}
    here = issue_copy.c.issue_id.in_([row["id"] for row in rows])
    for row in connection.execute(select(*columns).where(here).order_by(issue_copy.c.issue_id, issue_copy.c.place)):
        copies.setdefault(row[0], []).append(CopyRecord(*row[1:]))
    return [
        IssueRecord(
            row["id"],
            row["brief_id"],
            row["number"],
            row["title"],
            row["as_of"],
            row["version"],
            row["published_at"].replace(tzinfo=UTC),
            row["author"],
            row["headline"],
            row["checksum"],
            tuple(copies.get(row["id"], ())),
            row["figures"],
            row["restated_version"],
        )
        for row in rows
    ]


def _of_issue(mail: NewMail, issue_id: int) -> NewMail:
    """A message of the issue that is being published: its number is known only now."""
    return replace(mail, issue_id=issue_id, message_id=mail.message_id.format(issue=issue_id))


def _plain(at: datetime) -> datetime:
    return at.astimezone(UTC).replace(tzinfo=None)
