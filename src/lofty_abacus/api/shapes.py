"""What travels over HTTP. Statements and answers are the core's own dataclasses; the shapes around them make them strict."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import field, is_dataclass
from typing import Any, get_args, get_type_hints

from pydantic import ConfigDict, TypeAdapter
from pydantic.dataclasses import dataclass

from lofty_abacus.actions.figures.prove_number import AskedNumber
from lofty_abacus.actions.intake.checks import FindingCode
from lofty_abacus.actions.intake.keep_mappings import ExportedMapping
from lofty_abacus.actions.intake.stagings import Expected
from lofty_abacus.actions.records import LedgerSettings, LineChange, Replacement
from lofty_abacus.core.calendar.settings import CalendarSettings
from lofty_abacus.core.grouping.request import LineSort
from lofty_abacus.core.statement.movers import MoversAsked
from lofty_abacus.core.statement.scorecard import CardAsked
from lofty_abacus.core.statement.statement import Opened, Statement
from lofty_abacus.export.layout import Layout
from lofty_abacus.ingest.mapping import Correction, FileMapping, LineGrain, Reading
from lofty_abacus.telling.movers import ToldMovers
from lofty_abacus.telling.scorecard import ToldCard

#: A field that is not known is an error with a place, not something passed over: in a shape, and in whatever stands in it.
STRICT = ConfigDict(extra="forbid")


@dataclass(frozen=True, config=STRICT)
class Question:
    """A statement asked of a ledger, which rows are unfolded, and an earlier version to ask it of (null: the current one).

    fill: how many rows come with their cells where the table is large; the others are asked for by place. Null: all.
    """

    ledger: str
    statement: Statement
    opened: Opened = Opened()
    version: int | None = None
    fill: int | None = None


@dataclass(frozen=True, config=STRICT)
class MoversQuestion:
    """Who moved in a statement of a ledger, at which level and how ranked; on an earlier version, if one is named."""

    ledger: str
    statement: Statement
    asked: MoversAsked = MoversAsked()
    version: int | None = None


@dataclass(frozen=True, config=STRICT)
class CardQuestion:
    """Whether the goals of a statement of a ledger are met, now and in earlier periods; on an earlier version if one is named."""

    ledger: str
    statement: Statement
    asked: CardAsked = CardAsked()
    version: int | None = None


@dataclass(frozen=True, config=STRICT)
class AnswerRowsQuestion:
    """Some rows of an answer by their places in it."""

    ledger: str
    statement: Statement
    places: tuple[int, ...]
    opened: Opened = Opened()
    version: int | None = None


@dataclass(frozen=True, config=STRICT)
class ExportQuestion:
    """A question whose answer is a file, laid out as it is seen. formatted: figures as they are shown, of CSV.

    title: what the statement is called, for the file's name.
    """

    ledger: str
    statement: Statement
    opened: Opened = Opened()
    version: int | None = None
    layout: Layout = field(default_factory=Layout)
    formatted: bool = False
    title: str = ""


@dataclass(frozen=True, config=STRICT)
class Telling:
    """A statement that is to be told in words."""

    ledger: str
    statement: Statement


@dataclass(frozen=True, config=STRICT)
class Previews:
    """Statements whose windows are asked for, before one of them is chosen."""

    ledger: str
    statements: tuple[Statement, ...]


@dataclass(frozen=True, config=STRICT)
class StatementKept:
    """A statement to be kept under a name. id: the number of one that is kept already and takes this name; null: by the name."""

    ledger: str
    name: str
    statement: Statement
    opened: Opened = Opened()
    folder: str = ""
    description: str = ""
    layout: Layout = field(default_factory=Layout)
    id: int | None = None


@dataclass(frozen=True, config=STRICT)
class StatementForgotten:
    """A statement that was forgotten and is kept again."""

    ledger: str
    name: str


@dataclass(frozen=True, config=STRICT)
class MappingForgotten:
    """A mapping that was forgotten and is kept again."""

    ledger: str
    shape: str


@dataclass(frozen=True, config=STRICT)
class LedgerArchived:
    """A ledger that is set aside (archived), or taken back."""

    ledger: str
    archived: bool


@dataclass(frozen=True, config=STRICT)
class LedgerDeleted:
    """A ledger that is thrown away for good. typed: its name, as the person wrote it."""

    ledger: str
    typed: str


@dataclass(frozen=True, config=STRICT)
class Address:
    """An address of this application: path, query and all."""

    address: str


@dataclass(frozen=True, config=STRICT)
class ShortLink:
    """The short name of an address."""

    id: str


@dataclass(frozen=True, config=STRICT)
class NumberQuestion(AskedNumber):
    """A number of an answer: its statement, row and column."""


@dataclass(frozen=True, config=STRICT)
class ReplacementShape(Replacement):
    """Where a member stands, or the lines of a file."""


@dataclass(frozen=True, config=STRICT)
class LinesQuestion(AskedNumber):
    """Which lines behind a number: of which operand, from which position on (the latest day first), how many."""

    operand: int = 0
    offset: int = 0
    limit: int = 50
    search: str = ""
    sort: LineSort = "day"
    descending: bool = True


@dataclass(frozen=True, config=STRICT)
class NewLedgerShape:
    """A ledger to be made."""

    name: str
    currency: str = "EUR"
    time_zone: str = "UTC"
    calendar: CalendarSettings = CalendarSettings()
    line_grain: LineGrain = "day"


@dataclass(frozen=True, config=STRICT)
class Withdrawal:
    """A batch to be taken out; whether its days become a hole (not posted) rather than quiet."""

    ledger: str
    batch: int
    leave_hole: bool = False


@dataclass(frozen=True, config=STRICT)
class Restoration:
    """A withdrawn batch to be taken in again."""

    ledger: str
    batch: int


@dataclass(frozen=True, config=STRICT)
class NewVersion:
    """The ledger version that a change made."""

    version: int


@dataclass(frozen=True, config=STRICT)
class ReadingShape:
    """How a staged file's bytes become a table."""

    file: int
    reading: Reading


@dataclass(frozen=True, config=STRICT)
class CorrectionShape:
    """A text of a staged file that is read as another."""

    file: int
    correction: Correction


@dataclass(frozen=True, config=STRICT)
class ExpectedShape:
    """What a staged file must hold."""

    file: int
    expected: Expected


@dataclass(frozen=True, config=STRICT)
class RowsShape:
    """Which rows of a staged file: those of a finding, or of one member of a dimension that it is about."""

    file: int
    code: FindingCode
    about: str = ""
    member: str | None = None
    offset: int = 0
    limit: int = 50
    rest: bool = False


@dataclass(frozen=True, config=STRICT)
class DatabaseShape:
    """A database of somebody else by URL, and a table's name or a SELECT."""

    url: str
    query: str


@dataclass(frozen=True, config=STRICT)
class DatabaseStagingShape:
    """The same, to be staged for a ledger."""

    ledger: str
    url: str
    query: str


@dataclass(frozen=True, config=STRICT)
class LineCorrection:
    """A posted line that is changed, or (change null) voided, and why."""

    ledger: str
    line: int
    reason: str
    change: LineChange | None = None


@dataclass(frozen=True, config=STRICT)
class SettingsShape:
    """A ledger's settings, in place of those it has."""

    ledger: str
    settings: LedgerSettings


@dataclass(frozen=True, config=STRICT)
class CalendarShape:
    """Settings to be tried before they are kept, and which year to show: that of the as-of date, or so many ahead."""

    ledger: str
    settings: LedgerSettings
    years_ahead: int = 0


@dataclass(frozen=True, config=STRICT)
class MappingImport:
    """A mapping for a ledger, as another one exported it."""

    ledger: str
    exported: ExportedMapping


@dataclass(frozen=True, config=STRICT)
class CalendarFile:
    """A calendar file (iCalendar) for a ledger, by its name and its text."""

    ledger: str
    file: str
    text: str


@dataclass(frozen=True, config=STRICT)
class Limits:
    """What may be sent at once: bytes of all files together, and files."""

    bytes: int
    files: int


@dataclass(frozen=True, config=STRICT)
class MappingShape:
    """The analyst's mapping for one staged file."""

    file: int
    mapping: FileMapping


@dataclass(frozen=True, config=STRICT)
class Failure:
    """What went wrong.

    kind: question, mapping, refused, not_found, taken, unreadable, form, stopped, away, full, ours. part: of the statement or
    form.
    """

    kind: str
    message: str
    part: str | None = None
    way_out: str | None = None


def nested(shape: Any) -> Iterator[type]:
    """A shape and every dataclass that stands in it."""
    if is_dataclass(shape) and isinstance(shape, type):
        yield shape
        for each in get_type_hints(shape).values():
            yield from nested(each)
    for each in get_args(shape):
        yield from nested(each)


_ADAPTERS: dict[type, TypeAdapter[Any]] = {}


def adapter(shape: type) -> TypeAdapter[Any]:
    """The reader and writer of a shape, made once."""
    if shape not in _ADAPTERS:
        _ADAPTERS[shape] = TypeAdapter(shape)
    return _ADAPTERS[shape]


def statement_schema() -> dict[str, Any]:
    """The JSON schema of a statement as it is taken."""
    shapes = adapter(Telling).json_schema()["$defs"]
    statement: dict[str, Any] = shapes.pop("Statement")
    return {"$defs": shapes, **statement}


def question_from_json(text: str | bytes) -> Question:
    """A question from its JSON form. Raises pydantic.ValidationError, which names the place."""
    question: Question = adapter(Question).validate_json(text)
    return question


def movers_from_json(text: str | bytes) -> MoversQuestion:
    """A question of movers from its JSON form. Raises pydantic.ValidationError, which names the place."""
    question: MoversQuestion = adapter(MoversQuestion).validate_json(text)
    return question


def movers_to_json(movers: ToldMovers) -> str:
    """Movers in their JSON form."""
    return adapter(ToldMovers).dump_json(movers).decode()


def card_from_json(text: str | bytes) -> CardQuestion:
    """A question of a scorecard from its JSON form. Raises pydantic.ValidationError, which names the place."""
    question: CardQuestion = adapter(CardQuestion).validate_json(text)
    return question


def card_to_json(card: ToldCard) -> bytes:
    """A scorecard in its JSON form, without the fields that a cell does not have."""
    return short(adapter(ToldCard).dump_json(card))


#: What most cells do not have. Inside a JSON text quotes are escaped, so that these can only be such fields.
_NOT_THERE = (
    # A plain sum has none of them: most cells are mended at the first reading, and the others find little left to read.
    b',"numerator":null,"denominator":null,"reason":null,"met":null,"decimals":null,"shown":null,"of":null,"target":null',
    b',"numerator":null,"denominator":null',
    b',"reason":null,"met":null,"decimals":null,"shown":null',
    b',"of":null',
    b',"target":null',
)


def short(text: bytes) -> bytes:
    """A JSON text without the fields that a cell does not have."""
    for each in _NOT_THERE:
        text = text.replace(each, b"")
    return text
