"""Whether a mapping fits a file: every role that is needed, each once, by columns that are there."""

from __future__ import annotations

from dataclasses import replace
from datetime import date

from lofty_abacus.core.errors import NotExactError
from lofty_abacus.core.lines import DAY
from lofty_abacus.core.measures.expressions import WORDS
from lofty_abacus.core.measures.table import MEASURES
from lofty_abacus.core.money import decimal_parts
from lofty_abacus.core.statement.conditions import AS_OF
from lofty_abacus.ingest.currencies import CODES
from lofty_abacus.ingest.encodings import ENCODINGS
from lofty_abacus.ingest.mapping import (
    DATE_PARTS,
    FURTHER,
    FURTHER_FIGURES,
    LINE_DIMENSIONS,
    NUMBERS,
    FileMapping,
    Role,
    plain_name,
)
from lofty_abacus.ingest.problems import MappingError
from lofty_abacus.ingest.table import FileTable

_ONCE: tuple[Role, ...] = (
    "date",
    *DATE_PARTS,
    "line",
    "marker",
    *(role for role in LINE_DIMENSIONS if role != "dimension"),
    *(role for role in NUMBERS if role not in FURTHER_FIGURES),
    "currency",
    "key",
    "valid_from",
)
#: Characters of a rate of a currency.
LONGEST_RATE = 24
MOST_RATE_DECIMALS = 9
_PLAIN_DESCRIPTION = 400
LONGEST_UNIT = 20
#: What no figure or day of a ledger's own can be called: the measures, the columns of every line, and words of statements.
TAKEN_NAMES = frozenset({*MEASURES, *WORDS, DAY, AS_OF, "amount", "quantity", "cost", "lines", "side", "id"})


def check_choice(table: FileTable, mapping: FileMapping) -> None:
    """Refuse a mapping that cannot fit the file, whatever is decided yet of how dates and numbers are written there."""
    columns = tuple(
        replace(use, date_format=use.date_format or "year_month_day", decimal_mark=use.decimal_mark or "point")
        for use in mapping.columns
    )
    check_mapping(table, replace(mapping, columns=columns))


def check_mapping(table: FileTable, mapping: FileMapping) -> None:
    """Refuse a mapping that does not fit the file. Raises MappingError, which says which column, why and the way out."""
    for use in mapping.columns:
        if use.column not in table.headers:
            raise MappingError(table.file, use.column, "the file has no such column.", "Map the columns anew.")
        if len(use.description) > _PLAIN_DESCRIPTION:
            raise MappingError(table.file, use.column, "its description is too long.", f"Use {_PLAIN_DESCRIPTION} characters.")
    if not mapping.name.strip() or len(mapping.name) > 120:
        raise MappingError(table.file, "name", "a mapping needs a name of at most 120 characters.", "Give it one.")
    for role in _ONCE:
        holders = [use.column for use in mapping.columns if use.role == role]
        if len(holders) > 1:
            raise MappingError(table.file, role, f"stands for both {holders[0]!r} and {holders[1]!r}.", "Choose one.")
    _check_days(table, mapping)
    if mapping.kind == "lookup":
        _check_lookup(table, mapping)
    elif mapping.kind == "rates":
        _check_rates(table, mapping)
    else:
        _check_lines(table, mapping)
    _check_names(table, mapping)
    for each in mapping.corrections:
        if each.column not in table.headers:
            raise MappingError(table.file, each.column, "a correction names a column that is not there.", "Take it back.")


def _check_names(table: FileTable, mapping: FileMapping) -> None:
    if mapping.reading.encoding is not None and mapping.reading.encoding not in ENCODINGS:
        raise MappingError(table.file, "encoding", f"{mapping.reading.encoding!r} is not known.", f"Use {', '.join(ENCODINGS)}.")
    names = [use.name for use in mapping.columns if use.role in (*LINE_DIMENSIONS, "level", *FURTHER)]
    for each in mapping.rates:
        _check_rate(table, each.currency, each.rate)
    if mapping.currency is not None and mapping.currency not in CODES:
        raise MappingError(table.file, "currency", f"{mapping.currency!r} is no currency.", "Use a code such as EUR.")
    for name in names:
        if name != plain_name(name) or names.count(name) > 1:
            why = "is used twice" if names.count(name) > 1 else "is no plain name"
            raise MappingError(table.file, name, f"the name {why}.", "Use letters, digits and _; each once.")
    for use in mapping.columns:
        if use.role in FURTHER and use.name in TAKEN_NAMES:
            raise MappingError(table.file, use.column, f"{use.name!r} means something else already.", "Give it another name.")
        if len(use.unit) > LONGEST_UNIT:
            raise MappingError(table.file, use.column, "its unit is too long.", f"Use {LONGEST_UNIT} characters.")


def _check_rate(table: FileTable, currency: str, rate: str) -> None:
    if currency not in CODES:
        raise MappingError(table.file, "rates", f"{currency!r} is no currency.", "Use a code such as EUR.")
    try:
        unscaled, _ = decimal_parts(rate)
    except NotExactError as error:
        raise MappingError(table.file, "rates", f"{rate!r} is no rate.", "Write it as 0.9135.") from error
    if unscaled <= 0 or len(rate) > LONGEST_RATE:
        raise MappingError(table.file, "rates", f"{rate[:20]!r} is no rate above 0.", "Write it as 0.9135.")


def _check_rates(table: FileTable, mapping: FileMapping) -> None:
    for role in ("currency", "rate"):
        if mapping.with_role(role) is None:
            raise MappingError(table.file, role, "no column is given for it.", f"Say which column is the {role}.")
    for use in mapping.columns:
        if use.role == "date" and use.date_format is None:
            raise MappingError(
                table.file, use.column, "its dates can be read in more than one way.", "Say which number is the day."
            )
        if use.role == "rate" and use.decimal_mark is None:
            raise MappingError(
                table.file, use.column, "its numbers can be read in more than one way.", "Say what the decimal mark is."
            )


def _check_lookup(table: FileTable, mapping: FileMapping) -> None:
    if mapping.with_role("key") is None or (mapping.with_role("level") is None and mapping.with_role("key_name") is None):
        raise MappingError(table.file, "key", "a lookup needs a key and at least one level or name.", "Choose them.")
    use = mapping.with_role("valid_from")
    if use is not None and use.date_format is None:
        raise MappingError(table.file, use.column, "its dates can be read in more than one way.", "Say which number is the day.")
    if use is not None and mapping.valid_from is not None:
        raise MappingError(table.file, use.column, "the file has days of its own.", "Take back the day that it holds from.")


def _check_days(table: FileTable, mapping: FileMapping) -> None:
    days = {"covers_from": mapping.covers_from, "covers_through": mapping.covers_through, "valid_from": mapping.valid_from}
    for name, text in days.items():
        try:
            if text is not None:
                date.fromisoformat(text)
        except ValueError as error:
            raise MappingError(table.file, name, f"{text!r} is no day.", "Write it as 2026-03-31.") from error


def _check_lines(table: FileTable, mapping: FileMapping) -> None:
    computed = mapping.with_role("quantity") is not None and mapping.with_role("price") is not None
    parts = [role for role in DATE_PARTS if mapping.with_role(role)]
    if mapping.with_role("date") is None and parts:
        for role in ("date_year", "date_month"):
            if role not in parts:
                what = role.removeprefix("date_")
                raise MappingError(table.file, role, f"no column is given for the {what}.", f"Say which column is the {what}.")
    elif parts:
        raise MappingError(table.file, parts[0], "there is a whole date beside it.", "Use one or the other.")
    needed: list[Role] = [] if parts else ["date"]
    if not computed:
        needed.append("amount")
    for role in needed:
        if mapping.with_role(role) is None:
            raise MappingError(table.file, role, "no column is given for it.", f"Say which column is the {role}.")
    for use in mapping.columns:
        if use.role in ("date", "further_day") and use.date_format is None:
            raise MappingError(
                table.file, use.column, "its dates can be read in more than one way.", "Say which number is the day."
            )
        if use.role in NUMBERS and use.decimal_mark is None:
            raise MappingError(
                table.file, use.column, "its numbers can be read in more than one way.", "Say what the decimal mark is."
            )
    if mapping.with_role("unit_cost") is not None and mapping.with_role("quantity") is None:
        raise MappingError(table.file, "unit_cost", "a cost of one needs a quantity.", "Say which column is the quantity.")
    if mapping.with_role("unit_cost") is not None and mapping.with_role("cost") is not None:
        raise MappingError(table.file, "unit_cost", "there is a whole cost beside it.", "Use one or the other.")
    if mapping.returns_are is None:
        raise MappingError(
            table.file,
            "returns",
            "some of their figures are positive and some negative.",
            "Say how the file writes a return: as a positive or a negative figure.",
        )
