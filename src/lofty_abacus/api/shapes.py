"""What travels over HTTP. Statements and answers are the core's own dataclasses; here they become strict."""

from __future__ import annotations

from collections.abc import Mapping as Mapping_
from dataclasses import dataclass, field, is_dataclass
from typing import Any

from pydantic import ConfigDict, TypeAdapter

from lofty_abacus.actions.checks import FindingCode
from lofty_abacus.actions.keep_mappings import ExportedMapping
from lofty_abacus.actions.prove_number import Number
from lofty_abacus.actions.records import Described, FeedDeclared, LedgerSettings, LineChange, Placing
from lofty_abacus.actions.stagings import Expected
from lofty_abacus.core.answer.answer import Answer, Row
from lofty_abacus.core.calendar.settings import CalendarSettings, WeekYears
from lofty_abacus.core.grouping.request import LineSort
from lofty_abacus.core.measures.table import DefinedMeasure
from lofty_abacus.core.statement.levels import TimeLevel
from lofty_abacus.core.statement.limits import MembersLimit, StatusLimit, TopLimit, ValueLimit
from lofty_abacus.core.statement.statement import CountedFilter, Goal, Opened, ShareScope, ShownMeasure, Sort, Statement
from lofty_abacus.core.windows.as_of import LastCompleted, LastPostedDay, PinnedDay, Today
from lofty_abacus.core.windows.bases import FixedBase, GivenBase, LedgerBase, PeriodBase, ShiftedBase
from lofty_abacus.core.windows.current import Dates, LastPeriods, NamedPeriod, RunningPeriod, ToDate
from lofty_abacus.core.windows.stretches import Moving, Running
from lofty_abacus.export.layout import Layout
from lofty_abacus.ingest.mapping import ColumnUse, Correction, LineGrain, Mapping, Merge, Reading

Path = tuple[str | None, ...]


@dataclass(frozen=True)
class Question:
    """A statement asked of a ledger, which rows are unfolded, and an earlier version to ask it of (null: the current one).

    fill: how many rows come with their cells where the table is large; the others are asked for by place. Null: all.
    """

    ledger: str
    statement: Statement
    opened: Opened = Opened()
    version: int | None = None
    fill: int | None = None


@dataclass(frozen=True)
class AnswerRowsQuestion:
    """Some rows of an answer by their places in it."""

    ledger: str
    statement: Statement
    places: tuple[int, ...]
    opened: Opened = Opened()
    version: int | None = None


@dataclass(frozen=True)
class ExportQuestion:
    """A question whose answer is a file, laid out as it is seen. formatted: figures as they are shown, of CSV.

    title: what the statement is called, for the file's name. words: what the page calls the columns, by id, for the file's
    headings.
    """

    ledger: str
    statement: Statement
    opened: Opened = Opened()
    version: int | None = None
    layout: Layout = field(default_factory=Layout)
    formatted: bool = False
    title: str = ""
    words: Mapping_[str, str] = field(default_factory=dict)


@dataclass(frozen=True)
class Previews:
    """Statements whose windows are asked for, before one of them is chosen."""

    ledger: str
    statements: tuple[Statement, ...]


@dataclass(frozen=True)
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


@dataclass(frozen=True)
class StatementForgotten:
    """A statement that was forgotten and is kept again."""

    ledger: str
    name: str


@dataclass(frozen=True)
class MappingForgotten:
    """A mapping that was forgotten and is kept again."""

    ledger: str
    shape: str


@dataclass(frozen=True)
class LedgerArchived:
    """A ledger that is set aside (archived), or taken back."""

    ledger: str
    archived: bool


@dataclass(frozen=True)
class LedgerDeleted:
    """A ledger that is thrown away for good. typed: its name, as the person wrote it."""

    ledger: str
    typed: str


@dataclass(frozen=True)
class Address:
    """An address of this application: path, query and all."""

    address: str


@dataclass(frozen=True)
class ShortLink:
    """The short name of an address."""

    id: str


@dataclass(frozen=True)
class LinesQuestion(Number):
    """Which lines behind a number: of which operand, from which position on (the latest day first), how many."""

    operand: int = 0
    offset: int = 0
    limit: int = 50
    search: str = ""
    sort: LineSort = "day"
    descending: bool = True


@dataclass(frozen=True)
class NewLedgerShape:
    """A ledger to be made."""

    name: str
    currency: str = "EUR"
    time_zone: str = "UTC"
    calendar: CalendarSettings = CalendarSettings()
    line_grain: LineGrain = "day"


@dataclass(frozen=True)
class Withdrawal:
    """A batch to be taken out; whether its days become a hole (not posted) rather than quiet."""

    ledger: str
    batch: int
    leave_hole: bool = False


@dataclass(frozen=True)
class Restoration:
    """A withdrawn batch to be taken in again."""

    ledger: str
    batch: int


@dataclass(frozen=True)
class NewVersion:
    """The ledger version that a change made."""

    version: int


@dataclass(frozen=True)
class ReadingShape:
    """How a staged file's bytes become a table."""

    file: int
    reading: Reading


@dataclass(frozen=True)
class CorrectionShape:
    """A text of a staged file that is read as another."""

    file: int
    correction: Correction


@dataclass(frozen=True)
class ExpectedShape:
    """What a staged file must hold."""

    file: int
    expected: Expected


@dataclass(frozen=True)
class RowsShape:
    """Which rows of a staged file: those of a finding, or of one member of a dimension that it is about."""

    file: int
    code: FindingCode
    about: str = ""
    member: str | None = None
    offset: int = 0
    limit: int = 50
    rest: bool = False


@dataclass(frozen=True)
class DatabaseShape:
    """A database of somebody else by URL, and a table's name or a SELECT."""

    url: str
    query: str


@dataclass(frozen=True)
class DatabaseStagingShape:
    """The same, to be staged for a ledger."""

    ledger: str
    url: str
    query: str


@dataclass(frozen=True)
class LineCorrection:
    """A posted line that is changed, or (change null) voided, and why."""

    ledger: str
    line: int
    reason: str
    change: LineChange | None = None


@dataclass(frozen=True)
class SettingsShape:
    """A ledger's settings, in place of those it has."""

    ledger: str
    settings: LedgerSettings


@dataclass(frozen=True)
class CalendarShape:
    """Settings to be tried before they are kept, and which year to show: that of the as-of date, or so many ahead."""

    ledger: str
    settings: LedgerSettings
    years_ahead: int = 0


@dataclass(frozen=True)
class MappingImport:
    """A mapping for a ledger, as another one exported it."""

    ledger: str
    exported: ExportedMapping


@dataclass(frozen=True)
class Limits:
    """What may be sent at once: bytes of all files together, and files."""

    bytes: int
    files: int


@dataclass(frozen=True)
class MappingShape:
    """The analyst's mapping for one staged file."""

    file: int
    mapping: Mapping


@dataclass(frozen=True)
class Failure:
    """What went wrong.

    kind: question, mapping, refused, not_found, taken, unreadable, form, stopped, away, full, ours. part: of the statement or
    form.
    """

    kind: str
    message: str
    part: str | None = None
    way_out: str | None = None


#: A field that is not known is an error with a place, not something passed over.
STRICT = (
    Statement,
    ShownMeasure,
    CountedFilter,
    Sort,
    Opened,
    ShareScope,
    Goal,
    TimeLevel,
    Running,
    Moving,
    StatusLimit,
    TopLimit,
    ValueLimit,
    MembersLimit,
    DefinedMeasure,
    PinnedDay,
    Today,
    LastCompleted,
    LastPostedDay,
    PeriodBase,
    ShiftedBase,
    GivenBase,
    FixedBase,
    LedgerBase,
    ToDate,
    RunningPeriod,
    NamedPeriod,
    LastPeriods,
    Dates,
    CalendarSettings,
    WeekYears,
    ColumnUse,
    Mapping,
    Question,
    AnswerRowsQuestion,
    Number,
    LinesQuestion,
    StatementKept,
    NewLedgerShape,
    ExportQuestion,
    Previews,
    Layout,
    MappingShape,
    Withdrawal,
    Restoration,
    Placing,
    Reading,
    Correction,
    Merge,
    Expected,
    LineChange,
    LedgerSettings,
    FeedDeclared,
    Described,
    ExportedMapping,
    ReadingShape,
    CorrectionShape,
    ExpectedShape,
    RowsShape,
    DatabaseShape,
    DatabaseStagingShape,
    LineCorrection,
    SettingsShape,
    CalendarShape,
    MappingImport,
    StatementForgotten,
    MappingForgotten,
    LedgerArchived,
    LedgerDeleted,
    Address,
)
for _shape in STRICT:
    assert is_dataclass(_shape)
    setattr(_shape, "__pydantic_config__", ConfigDict(extra="forbid"))  # noqa: B010 (no part of the core's own types)

_ADAPTERS: dict[type, TypeAdapter[Any]] = {}


def adapter(shape: type) -> TypeAdapter[Any]:
    """The reader and writer of a shape, made once."""
    if shape not in _ADAPTERS:
        _ADAPTERS[shape] = TypeAdapter(shape)
    return _ADAPTERS[shape]


def question_from_json(text: str | bytes) -> Question:
    """A question from its JSON form. Raises pydantic.ValidationError, which names the place."""
    question: Question = adapter(Question).validate_json(text)
    return question


#: What most cells do not have. Inside a JSON text quotes are escaped, so that these can only be such fields.
_NOT_THERE = (
    b',"numerator":null,"denominator":null',
    b',"reason":null,"met":null,"decimals":null,"shown":null',
    b',"of":null',
)


def answer_to_json(answer: Answer) -> bytes:
    """An answer in its JSON form, without the fields that a cell does not have."""
    return _short(adapter(Answer).dump_json(answer))


def rows_to_json(rows: tuple[Row, ...]) -> bytes:
    """Rows in the same form."""
    return _short(adapter(tuple[Row, ...]).dump_json(rows))


def _short(text: bytes) -> bytes:
    for each in _NOT_THERE:
        text = text.replace(each, b"")
    return text
