"""A mapping: what each column of a file stands for. Kept per ledger, and applied to the next file of the same shape."""

from __future__ import annotations

import hashlib
import re
import unicodedata
from dataclasses import dataclass
from typing import Any, Literal

from lofty_abacus.core.measures.table import Polarity
from lofty_abacus.ingest.dates import DateFormat, grain_of
from lofty_abacus.ingest.numbers import DecimalMark, RateWritten

FileKind = Literal["sales", "returns", "lookup", "rates"]
LineGrain = Literal["day", "week", "month", "quarter", "year"]
Role = Literal[
    "date",
    "date_year",
    "date_month",
    "date_day",
    "order",
    "line",
    "rep",
    "region",
    "product",
    "customer",
    "channel",
    "dimension",
    "quantity",
    "amount",
    "cost",
    "further_amount",
    "further_quantity",
    "further_day",
    "unit_cost",
    "price",
    "discount",
    "discount_rate",
    "currency",
    "rate",
    "marker",
    "key",
    "key_name",
    "level",
    "level_name",
    "valid_from",
    "not_used",
]
LINE_DIMENSIONS: tuple[Role, ...] = ("order", "rep", "region", "product", "customer", "channel", "dimension")
#: Figures and days of the ledger's own, each under a name of its own (semantics, section 1).
FURTHER_FIGURES: tuple[Role, ...] = ("further_amount", "further_quantity")
FURTHER: tuple[Role, ...] = (*FURTHER_FIGURES, "further_day")
NUMBERS: tuple[Role, ...] = (
    "quantity", "amount", "cost", "unit_cost", "price", "discount", "discount_rate", "rate", *FURTHER_FIGURES,
)  # fmt: skip
DATE_PARTS: tuple[Role, ...] = ("date_year", "date_month", "date_day")


@dataclass(frozen=True)
class ColumnUse:
    """What one column stands for.

    name: the dimension's or level's name; for `key` the dimension that the lookup's keys belong to; for `level_name` the level
    whose members it names. date_format, decimal_mark: null while the analyst must choose. description: what the dimension or
    figure means in this ledger (whose region: the customer's or the rep's). unit: what a quantity of the ledger's own is counted
    in. polarity: whether more of a figure of its own is good, bad or neither.
    """

    column: str
    role: Role
    name: str = ""
    date_format: DateFormat | None = None
    decimal_mark: DecimalMark | None = None
    description: str = ""
    unit: str = ""
    polarity: Polarity = "neutral"


@dataclass(frozen=True)
class Reading:
    """How a file's bytes become a table, where that is not left to what they look like (null). quote: "" for none.

    sheet: of a workbook; null: the first that is not hidden. heading_row: as a spreadsheet counts.
    """

    encoding: str | None = None
    separator: str | None = None
    quote: str | None = None
    sheet: str | None = None
    heading_row: int | None = None


@dataclass(frozen=True)
class Correction:
    """A text of a column that is read as another: in one row of one file, or (row null) wherever it stands."""

    column: str
    text: str
    to: str
    row: int | None = None


@dataclass(frozen=True)
class Merge:
    """A member of a dimension that is posted as another one, by key."""

    dimension: str
    member: str
    into: str


@dataclass(frozen=True)
class Rate:
    """What one unit of a currency comes to in the ledger's, as decimal text: on some days (ISO), or (null) on all.

    last_day: null: until the next rate of the currency, some days at most.
    """

    currency: str
    rate: str
    first_day: str | None = None
    last_day: str | None = None


@dataclass(frozen=True)
class FileMapping:
    """The use of every column. name: the feed's name.

    returns_are: how a returns file, or marked lines, write their figures; null while the analyst must choose.
    covers_from, covers_through: days (ISO) between which the files of this mapping are complete; null: by the lines themselves.
    repeated: what happens to a line whose line id came before; identical: to a row that is the same as one before in every field.
    unreadable: what happens to a line with a value that cannot be read. round_to: decimals to which an amount computed from
    quantity, price and discount is rounded; null: not at all. return_marks: texts of the marker column that mean a return.
    corrections: texts read as others, wherever they stand. merges: members posted as others.
    conflicts: which row counts where a lookup's key comes twice with other values. valid_from: the day (ISO) from which a lookup
    without days of its own holds; null: it holds for all days, those of the past too. unknown_keys: whether a lookup of which no
    key stands on any line is refused, or kept for lines to come. rates_are: how rates of discount without a percent sign are
    written. currency: what the figures of the file are in where it does not say so itself; null: the ledger's own. rates: at
    which amounts in other currencies are taken, those of this file alone.
    """

    name: str
    kind: FileKind
    columns: tuple[ColumnUse, ...]
    returns_are: Literal["positive", "negative"] | None = "positive"
    covers_from: str | None = None
    covers_through: str | None = None
    repeated: Literal["refuse", "leave_out"] = "refuse"
    identical: Literal["keep", "leave_out"] = "keep"
    unreadable: Literal["refuse", "leave_out"] = "refuse"
    round_to: int | None = None
    return_marks: tuple[str, ...] = ()
    reading: Reading = Reading()
    corrections: tuple[Correction, ...] = ()
    merges: tuple[Merge, ...] = ()
    conflicts: Literal["refuse", "first", "last"] = "refuse"
    valid_from: str | None = None
    unknown_keys: Literal["refuse", "keep"] = "refuse"
    rates_are: RateWritten = "fraction"
    currency: str | None = None
    rates: tuple[Rate, ...] = ()

    def with_role(self, role: Role) -> ColumnUse | None:
        """The first column of a role."""
        return next((each for each in self.columns if each.role == role), None)

    @property
    def grain(self) -> LineGrain:
        """What a line's date tells: its day, or only its week or month (section 7)."""
        use = self.with_role("date")
        if use is not None:
            return grain_of(use.date_format) if use.date_format else "day"
        return "month" if self.with_role("date_month") and not self.with_role("date_day") else "day"


def mapping_from(body: dict[str, Any]) -> FileMapping:
    """A mapping from its JSON form, those kept by earlier versions too. Raises TypeError, KeyError for what is none."""
    plain = dict(body)
    sheet = plain.pop("sheet", None)
    reading = Reading(**plain.pop("reading")) if "reading" in plain else Reading(sheet=sheet)
    return FileMapping(
        **{
            **plain,
            "reading": reading,
            "columns": tuple(ColumnUse(**each) for each in plain["columns"]),
            "return_marks": tuple(plain.get("return_marks", ())),
            "corrections": tuple(Correction(**each) for each in plain.get("corrections", ())),
            "merges": tuple(Merge(**each) for each in plain.get("merges", ())),
            "rates": tuple(Rate(**each) for each in plain.get("rates", ())),
        }
    )


def shape_of(headers: list[str]) -> str:
    """A fingerprint of a file's headings: files of the same shape take the same mapping."""
    return hashlib.sha256("\x1f".join(headers).encode()).hexdigest()


def plain_name(text: str) -> str:
    """A dimension name from a heading: lower case letters, digits and single underscores, at most 40 characters; accents go."""
    bare = unicodedata.normalize("NFKD", text).encode("ascii", "ignore").decode()
    name = re.sub(r"[^0-9a-z]+", "_", bare.lower()).strip("_")[:40].strip("_")
    return name if name and not name[0].isdigit() else f"column_{name}".strip("_")
