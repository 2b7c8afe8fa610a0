"""Ledgers: made, listed, and read as the facts that the core needs."""

from __future__ import annotations

from collections.abc import Mapping as Map
from dataclasses import replace
from datetime import UTC, datetime
from functools import cache
from typing import Any, Literal

from pydantic import TypeAdapter
from sqlalchemy import ColumnElement, Connection, Engine, Select, Table, bindparam, func, select
from sqlalchemy.exc import IntegrityError

from lofty_abacus.actions.errors import NameTakenError, NotFoundError
from lofty_abacus.actions.records import (
    BatchRecord,
    FeedDeclared,
    LedgerRecord,
    LedgerSettings,
    NewLedger,
    VersionRecord,
)
from lofty_abacus.core.calendar.settings import CalendarSettings
from lofty_abacus.core.errors import nearest
from lofty_abacus.core.measures.value import Scales
from lofty_abacus.core.statement.ledger import FurtherDay, LedgerFacts
from lofty_abacus.core.windows.as_of import AsOfPolicy
from lofty_abacus.core.windows.coverage import FeedCoverage, default_coverage
from lofty_abacus.core.windows.ranges import EMPTY, DayRange, DaySet, day_set
from lofty_abacus.store import line_tables
from lofty_abacus.store.dimensions import dimensions
from lofty_abacus.store.engine import transaction
from lofty_abacus.store.line_columns import brought_by, line_columns
from lofty_abacus.store.scales import enter_scales, widen
from lofty_abacus.store.spans import holds_at
from lofty_abacus.store.tables import batch, batch_span, dimension, hole, ledger, ledger_version, line_column, mapping

#: How settings that are data stand in a JSON column.
_CALENDAR = TypeAdapter(CalendarSettings)
_AS_OF: TypeAdapter[AsOfPolicy] = TypeAdapter(AsOfPolicy)


def make_ledger(engine: Engine, new: NewLedger, now: datetime) -> int:
    """Make an empty ledger. Raises NameTakenError."""
    row = {
        "name": new.name,
        "currency": new.currency,
        "time_zone": new.time_zone,
        "amount_scale": 2,
        "quantity_scale": 0,
        "calendar": _CALENDAR.dump_python(new.calendar, mode="json"),
        "as_of": _AS_OF.dump_python(new.as_of, mode="json"),
        "version": 0,
        "created_at": now,
        "line_grain": new.line_grain,
        "column_descriptions": {},
    }
    try:
        with transaction(engine) as connection:
            ledger_id = int(connection.execute(ledger.insert().values(row)).inserted_primary_key[0])  # type: ignore[index]
            line_tables.make_line_table(connection, ledger_id, 2, 0)
    except IntegrityError as error:
        raise NameTakenError(f"There is a ledger {new.name!r} already: choose another name.") from error
    return ledger_id


def ledgers(engine: Engine) -> list[LedgerRecord]:
    """All ledgers, in the order in which they were made."""
    with transaction(engine) as connection:
        return [_record(dict(row)) for row in connection.execute(select(ledger).order_by(ledger.c.id)).mappings()]


def ledger_named(engine: Engine, name: str) -> LedgerRecord:
    """A ledger by name. Raises NotFoundError."""
    known = ledgers(engine)
    for each in known:
        if each.name == name:
            return each
    raise NotFoundError(f"There is no ledger {name!r}. {nearest(name, [each.name for each in known])}".strip())


def batches(engine: Engine, ledger_id: int) -> list[BatchRecord]:
    """All batches, withdrawn ones too, in the order of posting."""
    with transaction(engine) as connection:
        scale = connection.execute(select(ledger.c.amount_scale).where(ledger.c.id == ledger_id)).scalar_one()
        return [
            BatchRecord(
                id=row["id"],
                feed=row["feed"],
                kind=row["kind"],
                file=row["file_name"],
                file_hash=row["file_hash"],
                posted_at=row["posted_at"],
                version=row["posted_version"],
                lines=row["line_count"],
                left_out=row["left_out_count"],
                amount=f"{row['amount_total']:.{scale}f}",
                first_day=row["first_day"],
                last_day=row["last_day"],
                active=row["active"],
                posted_by=row["posted_by"],
                reason=row["reason"],
            )
            for row in _batches(connection, batch.c.ledger_id == ledger_id)
        ]


def facts_at(connection: Connection, ledger_id: int, version: int | None = None) -> LedgerFacts:
    """The ledger's current version, or an earlier one, as the core sees it and as a transaction does. Raises NotFoundError.

    Names and the scale are those of today: they only ever grow.
    """
    row = connection.execute(select(ledger).where(ledger.c.id == ledger_id)).mappings().first()
    if row is None:
        raise NotFoundError(f"There is no ledger {ledger_id}.")
    if version is not None and not 0 <= version <= row["version"]:
        raise NotFoundError(f"{row['name']} has no version {version}: it is at version {row['version']}.")
    at = row["version"] if version is None else version
    counted = active_batches(connection, ledger_id, at)
    feeds = _feeds(connection, counted, at)
    own = line_columns(connection, ledger_id, at)
    brought = brought_by(connection, [each["id"] for each in counted])
    held = {each.name: [one for one in brought.get(each.id, []) if one["line_count"]] for each in own}
    figures = tuple(each.figure for each in own if not each.is_day)
    return LedgerFacts(
        name=row["name"],
        version=at,
        currency=row["currency"],
        scales=Scales(row["amount_scale"], row["quantity_scale"], tuple((each.name, each.decimals) for each in figures)),
        calendar=_CALENDAR.validate_python(row["calendar"]),
        feeds=feeds,
        dimensions=tuple(each for _, each in dimensions(connection, ledger_id, at)),
        has=frozenset(
            [name for name in ("quantity", "cost") if any(each[f"has_{name}"] for each in counted)]
            + [each.name for each in figures if held[each.name]]
        ),
        line_grain=row["line_grain"],
        descriptions=row["column_descriptions"] | {each.name: each.description for each in figures},
        figures=figures,
        usual_day=row["usual_day"] if row["usual_day"] in [each.name for each in own if each.is_day] else "",
        days=tuple(
            FurtherDay(each.name, _feeds_by(feeds, counted, held[each.name]), each.description) for each in own if each.is_day
        ),
    )


def _feeds_by(
    feeds: tuple[FeedCoverage, ...], counted: list[Map[str, Any]], held: list[Map[str, Any]]
) -> tuple[FeedCoverage, ...]:
    """The coverage of the feeds by another day: from the first line's month on, as far as the feed itself goes (section 1).

    What a file says of later days (deliveries to come) is no whole day yet.
    """
    feed_of = {each["id"]: each["feed"] for each in counted}
    found = []
    for feed in feeds:
        mine = [each for each in held if feed_of.get(each["batch_id"]) == feed.feed]
        if not mine:
            continue
        latest = min(max(each["last_day"] for each in mine), feed.days.last) if not feed.declared else feed.days.last
        days = default_coverage(min(each["first_day"] for each in mine), latest)
        found.append(replace(feed, days=days, holes=EMPTY))
    return tuple(found)


def stamped(connection: Connection, which: str | int) -> tuple[LedgerRecord, str] | None:
    """A ledger by name or number, and a stamp of all that its facts are made of beside the lines of a version.

    What people set without a new version is in it: the ledger's own row, what is declared of its feeds, what dimensions mean.
    """
    row = connection.execute(_stamped("name" if isinstance(which, str) else "id"), {"which": which}).mappings().first()
    if row is None or which not in (row["name"], row["id"]):
        return None
    return _record(dict(row)), repr(list(row.values()))


@cache
def _stamped(by: Literal["name", "id"]) -> Select[Any]:
    """What is asked with every question: written once, since that takes longer than asking."""
    feeds = select(_stamp_of(mapping, "covers_from", "covers_through")).where(mapping.c.ledger_id == ledger.c.id)
    meanings = select(_stamp_of(dimension, "name", "role", "description")).where(dimension.c.ledger_id == ledger.c.id)
    own = select(_stamp_of(line_column, "name", "scale", "polarity", "unit", "description")).where(
        line_column.c.ledger_id == ledger.c.id, line_column.c.from_version <= ledger.c.version
    )
    parts = {"feeds": feeds, "meanings": meanings, "own": own}
    query = select(ledger, *(each.scalar_subquery().label(name) for name, each in parts.items()))
    return query.where(ledger.c[by] == bindparam("which"))


def _stamp_of(table: Table, *columns: str) -> ColumnElement[str]:
    """One text of some columns of all rows, in their order; of unlike rows unlike."""
    parts = [func.quote(table.c[name]) for name in ("id", *columns)]
    return func.md5(func.group_concat(func.concat_ws(",", *parts).op("ORDER BY")(table.c.id)))


def active_batches(connection: Connection, ledger_id: int, version: int | None = None) -> list[Map[str, Any]]:
    """The batches of the current version, or an earlier one, with their feed's name and declared coverage, as posted."""
    if version is None:
        return _batches(connection, (batch.c.ledger_id == ledger_id) & batch.c.active)
    span = select(batch_span.c.id).where(batch_span.c.batch_id == batch.c.id, holds_at(batch_span, version)).exists()
    return _batches(connection, (batch.c.ledger_id == ledger_id) & span)


def _batches(connection: Connection, which: ColumnElement[bool]) -> list[Map[str, Any]]:
    query = (
        select(batch, mapping.c.name.label("feed"), mapping.c.kind, mapping.c.covers_from, mapping.c.covers_through)
        .join(mapping, mapping.c.id == batch.c.mapping_id)
        .where(which)
        .order_by(batch.c.id)
    )
    return [dict(row) for row in connection.execute(query).mappings()]


def _feeds(connection: Connection, counted: list[Map[str, Any]], version: int) -> tuple[FeedCoverage, ...]:
    by_feed: dict[str, list[Map[str, Any]]] = {}
    for row in counted:
        if row["line_count"]:
            by_feed.setdefault(row["feed"], []).append(row)
    return tuple(_feed(name, rows, _holes(connection, rows[0]["mapping_id"], version)) for name, rows in by_feed.items())


def _holes(connection: Connection, mapping_id: int, version: int) -> DaySet:
    """The days of a feed that are declared not posted."""
    rows = connection.execute(
        select(hole.c.first_day, hole.c.last_day)
        .join(batch, batch.c.id == hole.c.batch_id)
        .where(batch.c.mapping_id == mapping_id, holds_at(hole, version))
    )
    return day_set(DayRange(first, last) for first, last in rows)


def _feed(name: str, rows: list[Map[str, Any]], holes: DaySet) -> FeedCoverage:
    by_posting = [row["last_day_by_posting"] for row in rows if row["last_day_by_posting"]]
    days = default_coverage(min(row["first_day"] for row in rows), max(by_posting, default=None))
    first, last = rows[0]["covers_from"] or days.first, rows[0]["covers_through"] or days.last
    carries = {"sale" for row in rows if row["sale_lines"]} | {"return" for row in rows if row["return_lines"]}
    declared = rows[0]["covers_through"] is not None
    return FeedCoverage(name, DayRange(first, max(first, last)), frozenset(carries), holes, declared=declared)


def change_settings(engine: Engine, ledger_id: int, settings: LedgerSettings) -> None:
    """Change what a ledger is counted by. Raises NameTakenError, RefusedError; lines are not changed."""
    values = {
        "name": settings.name,
        "currency": settings.currency,
        "time_zone": settings.time_zone,
        "calendar": _CALENDAR.dump_python(settings.calendar, mode="json"),
        "as_of": _AS_OF.dump_python(settings.as_of, mode="json"),
        "line_grain": settings.line_grain,
        "usual_day": settings.usual_day,
    }
    try:
        with transaction(engine) as connection:
            row = connection.execute(select(ledger).where(ledger.c.id == ledger_id).with_for_update()).mappings().one()
            descriptions = row["column_descriptions"] | {
                each.name: each.text for each in settings.descriptions if each.name in ("amount", "quantity", "cost")
            }
            connection.execute(ledger.update().where(ledger.c.id == ledger_id).values(**values, column_descriptions=descriptions))
            scales = (settings.amount_decimals, settings.quantity_decimals)
            if scales != (row["amount_scale"], row["quantity_scale"]):
                widen(connection, ledger_id, *scales)
                enter_scales(connection, ledger_id, *scales)
            for each in settings.descriptions:
                own = (line_column.c.ledger_id == ledger_id) & (line_column.c.name == each.name)
                connection.execute(line_column.update().where(own).values(description=each.text))
                here = (dimension.c.ledger_id == ledger_id) & (dimension.c.name == each.name)
                connection.execute(dimension.update().where(here).values(description=each.text))
            for feed in settings.coverage:
                here = (mapping.c.ledger_id == ledger_id) & (mapping.c.name == feed.feed)
                connection.execute(
                    mapping.update().where(here).values(covers_from=feed.covers_from, covers_through=feed.covers_through)
                )
    except IntegrityError as error:
        raise NameTakenError(f"There is a ledger {settings.name!r} already: choose another name.") from error


def declared_coverage(engine: Engine, ledger_id: int) -> list[FeedDeclared]:
    """What is declared of the feeds of a ledger's lines, in the order in which they came."""
    with transaction(engine) as connection:
        rows = connection.execute(
            select(mapping.c.name, mapping.c.covers_from, mapping.c.covers_through)
            .where(mapping.c.ledger_id == ledger_id, mapping.c.kind != "lookup")
            .order_by(mapping.c.id)
        )
        return [FeedDeclared(row[0], row[1], row[2]) for row in rows]


def versions(engine: Engine, ledger_id: int) -> list[VersionRecord]:
    """The journal, the latest version first."""
    with transaction(engine) as connection:
        scale = connection.execute(select(ledger.c.amount_scale).where(ledger.c.id == ledger_id)).scalar_one()
        rows = connection.execute(
            select(ledger_version)
            .where(ledger_version.c.ledger_id == ledger_id, ledger_version.c.version > 0)
            .order_by(ledger_version.c.version.desc())
        ).mappings()
        return [
            VersionRecord(
                row["version"], row["made_at"], row["made_by"], row["what"], row["line_count"], f"{row['amount_total']:.{scale}f}"
            )
            for row in rows
        ]


def _record(row: Map[str, Any]) -> LedgerRecord:
    policy = _AS_OF.validate_python(row["as_of"])
    archived = row["archived_at"] and row["archived_at"].replace(tzinfo=UTC)
    return LedgerRecord(
        row["id"],
        row["name"],
        row["currency"],
        row["time_zone"],
        policy,
        row["version"],
        row["line_grain"],
        archived,
        row["archived_by"],
    )
