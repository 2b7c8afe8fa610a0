"""A mapping: what each column of a file stands for. Kept per ledger, and applied to the next file of the same shape."""

from __future__ import annotations

import hashlib
import re
import unicodedata
from dataclasses import dataclass
from typing import Literal

from lofty_abacus.ingest.dates import DateFormat
from lofty_abacus.ingest.numbers import DecimalMark

FileKind = Literal["sales", "returns", "lookup"]
Role = Literal[
    "date",
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
    "price",
    "discount",
    "marker",
    "key",
    "key_name",
    "level",
    "level_name",
    "not_used",
]
LINE_DIMENSIONS: tuple[Role, ...] = ("order", "rep", "region", "product", "customer", "channel", "dimension")
NUMBERS: tuple[Role, ...] = ("quantity", "amount", "cost", "price", "discount")


@dataclass(frozen=True)
class ColumnUse:
    """What one column stands for.

    name: the dimension's or level's name; for `key` the dimension that the lookup's keys belong to; for `level_name` the level
    whose members it names. date_format, decimal_mark: null while the analyst must choose.
    """

    column: str
    role: Role
    name: str = ""
    date_format: DateFormat | None = None
    decimal_mark: DecimalMark | None = None


@dataclass(frozen=True)
class Mapping:
    """The use of every column. name: the feed's name. returns_are: how a returns file, or marked lines, write their figures.

    covers_from, covers_through: days (ISO) between which the files of this mapping are complete; null: by the lines themselves.
    repeated: what happens to a line whose line id came before. unreadable: what happens to a line with a value that cannot be
    read. round_to: decimals to which an amount computed from quantity, price and discount is rounded; null: not at all.
    return_marks: texts of the marker column that mean a return. sheet: of a workbook; null: the first that is not hidden.
    """

    name: str
    kind: FileKind
    columns: tuple[ColumnUse, ...]
    returns_are: Literal["positive", "negative"] = "positive"
    covers_from: str | None = None
    covers_through: str | None = None
    repeated: Literal["refuse", "leave_out"] = "refuse"
    unreadable: Literal["refuse", "leave_out"] = "refuse"
    round_to: int | None = None
    return_marks: tuple[str, ...] = ()
    sheet: str | None = None

    def with_role(self, role: Role) -> ColumnUse | None:
        """The first column of a role."""
        return next((each for each in self.columns if each.role == role), None)


def shape_of(headers: list[str]) -> str:
    """A fingerprint of a file's headings: files of the same shape take the same mapping."""
    return hashlib.sha256("\x1f".join(headers).encode()).hexdigest()


def plain_name(text: str) -> str:
    """A dimension name from a heading: lower case letters, digits and single underscores, at most 40 characters; accents go."""
    bare = unicodedata.normalize("NFKD", text).encode("ascii", "ignore").decode()
    name = re.sub(r"[^0-9a-z]+", "_", bare.lower()).strip("_")[:40].strip("_")
    return name if name and not name[0].isdigit() else f"column_{name}".strip("_")
