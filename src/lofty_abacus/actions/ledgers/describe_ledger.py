"""What a ledger holds and what can be asked of it."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime

from lofty_abacus.actions.errors import NotFoundError
from lofty_abacus.actions.figures.answer_statement import name_order
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import BatchRecord, LedgerRecord, PostedMonth, VersionRecord
from lofty_abacus.actions.statements.default_statements import first_statement
from lofty_abacus.actions.work.watch_inbox import inbox_of
from lofty_abacus.core.calendar.settings import GRAINS, CalendarSettings
from lofty_abacus.core.errors import QuestionError, nearest
from lofty_abacus.core.grouping.request import LineConventions
from lofty_abacus.core.measures.describing import described
from lofty_abacus.core.measures.table import Kind, Polarity, Unit
from lofty_abacus.core.statement.checking import unavailable
from lofty_abacus.core.statement.ledger import FurtherDay
from lofty_abacus.core.statement.levels import period_level
from lofty_abacus.core.statement.statement import Statement
from lofty_abacus.core.windows.as_of import AsOfPolicy
from lofty_abacus.ingest.mapping import LineGrain
from lofty_abacus.telling.told import descriptions


@dataclass(frozen=True)
class LedgerListed:
    """A ledger in the list of ledgers. id: its number, which stays when the name changes. dimensions: by name, without levels.

    alerts: how many are true now.
    """

    id: int
    name: str
    currency: str
    version: int
    lines: int
    dimensions: tuple[str, ...]
    archived_at: datetime | None
    archived_by: str
    alerts: int = 0


@dataclass(frozen=True)
class OfferedMeasure:
    """A measure, and why this ledger cannot give it (null.

    It can). description: what the ledger says of the figures it is made of.
    """

    name: str
    kind: Kind
    unit: Unit
    polarity: Polarity
    decimals: int
    unavailable: str | None
    description: str = ""


@dataclass(frozen=True)
class OfferedDimension:
    """A dimension or level with its number of members."""

    name: str
    role: str | None
    of: str | None
    members: int
    description: str = ""


@dataclass(frozen=True)
class OfferedFigure:
    """A figure of the lines that conditions can be held to: the amount, the quantity, the cost or one of the ledger's own."""

    name: str
    unit: str = ""
    description: str = ""


@dataclass(frozen=True)
class OfferedDay:
    """A further day of the lines, by which a statement can count. first, last: the days that are covered by it."""

    name: str
    first: date | None
    last: date | None
    description: str = ""


@dataclass(frozen=True)
class FeedDays:
    """The stretch of days a feed speaks for."""

    feed: str
    first: date
    last: date
    declared: bool


@dataclass(frozen=True)
class LedgerDescription:
    """A ledger's current version. as_of: the policy that new statements start with; first: the one it opens with.

    inbox: the folder that is watched for its files, within the application's own.
    """

    id: int
    name: str
    currency: str
    time_zone: str
    version: int
    lines: int
    amount_decimals: int
    quantity_decimals: int
    calendar: CalendarSettings
    as_of: AsOfPolicy
    today: date
    line_grain: LineGrain
    first: Statement
    inbox: str
    feeds: tuple[FeedDays, ...]
    measures: tuple[OfferedMeasure, ...]
    dimensions: tuple[OfferedDimension, ...]
    figures: tuple[OfferedFigure, ...]
    days: tuple[OfferedDay, ...]
    usual_day: str


@dataclass(frozen=True)
class MemberListed:
    """A member by key (null: not mapped) and what it is called."""

    key: str | None
    label: str


@dataclass(frozen=True)
class MembersFound:
    """Members whose name or key holds the words searched for, in name order; total: how many there are in all."""

    total: int
    members: tuple[MemberListed, ...]


def list_ledgers(office: Office) -> tuple[LedgerListed, ...]:
    """All ledgers with the number of their lines; one that is thrown away meanwhile is not among them."""
    found = (_listed(office, each) for each in office.books.ledgers())
    return tuple(each for each in found if each is not None)


def _listed(office: Office, record: LedgerRecord) -> LedgerListed | None:
    try:
        held, facts = office.books.holdings(record.id), office.books.facts(record.id)
    except NotFoundError:
        return None
    dimensions = tuple(each.name for each in facts.dimensions if each.of is None)
    return LedgerListed(
        record.id,
        record.name,
        record.currency,
        record.version,
        held.lines,
        dimensions,
        record.archived_at,
        record.archived_by,
        held.alerts,
    )


def describe_ledger(office: Office, ledger: str) -> LedgerDescription:
    """A ledger's dimensions, measures, calendar and coverage. Raises NotFoundError, RecordsError."""
    book = office.books.opened(ledger)
    facts = book.facts
    units = {each.name: each.unit for each in facts.figures}
    meant = {each.name: each.description for each in facts.days}
    return LedgerDescription(
        id=book.record.id,
        name=facts.name,
        currency=facts.currency,
        time_zone=book.record.time_zone,
        version=facts.version,
        lines=book.lines,
        amount_decimals=facts.scales.amount,
        quantity_decimals=facts.scales.quantity,
        calendar=facts.calendar,
        as_of=book.record.as_of,
        today=book.record.today(office.now()),
        line_grain=facts.line_grain,
        first=first_statement(facts, book.record.as_of),
        inbox=inbox_of(office, book.record).relative_to(office.inbox.parent).as_posix(),
        feeds=tuple(FeedDays(each.feed, each.days.first, each.days.last, each.declared) for each in facts.feeds),
        measures=tuple(
            OfferedMeasure(
                each.name,
                each.kind,
                each.unit,
                each.polarity,
                each.decimals,
                unavailable(each, facts),
                " ".join(described(each, facts.descriptions)),
            )
            for each in facts.measures().values()
        ),
        dimensions=tuple(
            OfferedDimension(each.name, each.role, each.of, book.source.members(each.name).size, each.description)
            for each in facts.dimensions
        )
        + tuple(
            OfferedDimension(f"{day}.{grain}", None, None, 0, meant.get(day, ""))
            for day in facts.day_names
            for grain in reversed(GRAINS)
        ),
        figures=tuple(
            OfferedFigure(name, units.get(name, ""), facts.descriptions.get(name, ""))
            for name in ("amount", "quantity", "cost", *units)
            if name == "amount" or name in facts.has
        ),
        days=tuple(_offered_day(each) for each in facts.days),
        usual_day=facts.usual_day,
    )


def _offered_day(day: FurtherDay) -> OfferedDay:
    spans = [each.days for each in day.feeds]
    first, last = min((each.first for each in spans), default=None), max((each.last for each in spans), default=None)
    return OfferedDay(day.name, first, last, day.description)


def descriptions_of(office: Office, ledger: str) -> dict[str, str]:
    """What a ledger says of its dimensions and of the measures' figures, by name. Raises NotFoundError."""
    return descriptions(office.books.facts(office.books.ledger(ledger).id))


def list_versions(office: Office, ledger: str) -> tuple[VersionRecord, ...]:
    """The journal of a ledger's versions, the latest first. Raises NotFoundError."""
    return tuple(office.books.versions(office.books.ledger(ledger).id))


def list_batches(office: Office, ledger: str) -> tuple[BatchRecord, ...]:
    """All posted files, withdrawn ones too. Raises NotFoundError."""
    return tuple(office.books.batches(office.books.ledger(ledger).id))


def list_months(office: Office, ledger: str) -> tuple[PostedMonth, ...]:
    """Which months of which feed are posted. Raises NotFoundError."""
    return tuple(office.books.posted_months(office.books.ledger(ledger).id))


def find_members(office: Office, ledger: str, dimension: str, search: str, limit: int) -> MembersFound:
    """Members of a dimension by part of their name. Raises NotFoundError, RecordsError, QuestionError."""
    book = office.books.opened(ledger)
    if book.facts.dimension(dimension) is None:
        known = [each.name for each in book.facts.dimensions]
        raise QuestionError("dimension", f"this ledger has no dimension {dimension!r}.", nearest(dimension, known))
    level = period_level(dimension, book.facts.day_names)
    source = book.source
    if level is not None:
        source = source.read_by(LineConventions(0, periods=(level,), calendar=book.facts.calendar))
    members = source.members(dimension)
    words = search.casefold()
    found = []
    for code in members.name_rank(name_order(office)).argsort().tolist():
        key, label = members.key(code), members.label(code)
        if words in label.casefold() or (key is not None and words in key.casefold()):
            found.append(MemberListed(key, label))
    return MembersFound(len(found), tuple(found[:limit]))
