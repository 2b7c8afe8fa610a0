"""Propose what a file is and what each column stands for, by names and content."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Literal

import numpy as np

from lofty_abacus.core.measures.table import Polarity
from lofty_abacus.ingest.contents import (
    MOST_NUMBERS_READ,
    MOST_TEXTS_READ,
    day_formats,
    decimals_seen,
    facts_of,
    formats_of,
    has_percent_signs,
    is_unique,
    marks_of,
    values_of,
)
from lofty_abacus.ingest.currencies import currency_of
from lofty_abacus.ingest.dates import month_of, part_of_date
from lofty_abacus.ingest.fitting import TAKEN_NAMES
from lofty_abacus.ingest.headings import (
    ADVERSE_WORDS,
    FURTHER_QUANTITY_WORDS,
    NAME_WORDS,
    NO_SUM_WORDS,
    PART_WORDS,
    RATE_WORDS,
    VALID_WORDS,
    WORDS,
    names_exactly,
    score,
    words_of,
)
from lofty_abacus.ingest.mapping import (
    FURTHER,
    FURTHER_FIGURES,
    LINE_DIMENSIONS,
    NUMBERS,
    ColumnUse,
    FileKind,
    FileMapping,
    Role,
    plain_name,
)
from lofty_abacus.ingest.numbers import RateWritten, decimal_marks, read_number
from lofty_abacus.ingest.proposing_further import further_role, usual_day
from lofty_abacus.ingest.roles import RULES
from lofty_abacus.ingest.table import TextColumn, TextTable

_RETURN_WORDS = ("return", "refund", "credit")
#: Where between a tenth and nine tenths of the returns have negative figures, their sign is asked for.
CLEAR_SHARE = 0.9
MOST_MARKS = 12
_YES = ("y", "yes", "true", "1", "x", "r", "t", "j", "ja", "oui", "si", "sí", "returned")
_MARK_WORDS = ("return", "refund", "credit", "storno", "gutschrift", "retour", "devol", "avoir")


@dataclass(frozen=True)
class Around:
    """What is known beside a file: the ledger, and the other files of its drop. own: roles of figures and days of its own.

    dimensions: names of the ledger's dimensions and levels, and their roles. keys: per heading of a lookup's keys (as a plain
    name) the keys that it has.
    """

    dimensions: Mapping[str, str | None] = field(default_factory=dict)
    keys: Mapping[str, frozenset[str]] = field(default_factory=dict)
    own: Mapping[str, Role] = field(default_factory=dict)

    def own_role(self, column: TextColumn) -> Role | None:
        """What of the ledger's own figures and days a column is that is headed like one of them, if it can be."""
        role = self.own.get(plain_name(column.header))
        is_number, is_date = facts_of(column)
        return role if role is not None and (is_date if role == "further_day" else is_number) else None

    def is_key(self, column: TextColumn) -> bool:
        """Whether a column of numbers is a key rather than a figure: a lookup beside it has it, or the ledger knows it so."""
        name = plain_name(column.header)
        if name in self.keys:
            texts = [text.strip() for text in column.texts[:MOST_TEXTS_READ] if text.strip()]
            return 2 * sum(text in self.keys[name] for text in texts) >= len(texts)
        return name in self.dimensions and not any(names_exactly(column.header, role) for role in NUMBERS if role in WORDS)


def propose(table: TextTable, around: Around | None = None) -> FileMapping:
    """A mapping for a file that none is kept for."""
    around = around or Around()
    kind = kind_of(table)
    if kind == "rates":
        columns = _rate_columns(table)
    else:
        columns = _lookup_columns(table, around.dimensions) if kind == "lookup" else _line_columns(table, around)
    mapping = FileMapping(_feed_name(table.file, kind), kind, _each_name_once(columns))
    marker = mapping.with_role("marker")
    column = table.column(marker.column) if marker else None
    if column is not None:
        mapping = replace(mapping, return_marks=_return_marks(column))
    rate = mapping.with_role("discount_rate")
    if rate is not None:
        mapping = replace(mapping, rates_are=_rate_written(table.column(rate.column)))
    return replace(mapping, returns_are=_sign(table, mapping))


def keys_of(table: TextTable) -> tuple[str, frozenset[str]]:
    """The heading of a lookup's keys as a plain name, and the keys."""
    key = table.columns[0]
    return plain_name(key.header), frozenset(key.stripped)


def _each_name_once(columns: Sequence[ColumnUse]) -> tuple[ColumnUse, ...]:
    """Names of dimensions and levels, each once: of headings that come to the same plain name the later ones are numbered."""
    taken: set[str] = set()
    found = []
    for use in columns:
        if use.role in (*LINE_DIMENSIONS, "level", *FURTHER):
            name, at = use.name, 1
            while name in taken:
                at += 1
                name = f"{use.name[:37]}_{at}"
            taken.add(name)
            use = replace(use, name=name)
        found.append(use)
    return tuple(found)


def _rate_written(column: TextColumn | None) -> RateWritten:
    """As parts of 100 where the heading has a percent sign or a figure lies above 1."""
    if column is None:
        return "fraction"
    marks = marks_of(column)
    values = [read_number(text, marks[0]) for text in column.texts[:MOST_NUMBERS_READ]] if marks else []
    large = any(value and abs(value[0]) > 10 ** value[1] for value in values)
    return "percent" if large or "%" in column.header else "fraction"


def refreshed(mapping: FileMapping, table: TextTable) -> FileMapping:
    """A kept mapping for a new file of its shape: formats are looked at again where the kept ones do not read the column.

    How far the files are complete, and at what rates, is a new question with each of them, so the last answer is not kept.
    """
    columns = []
    for use in mapping.columns:
        column = table.column(use.column)
        if column is not None and use.role in ("date", "valid_from", "further_day"):
            found = formats_of(column)
            # A month without a delivery yet says nothing of how its days are written.
            if use.date_format not in found and any(text.strip() for text in column.texts):
                use = replace(use, date_format=found[0] if len(found) == 1 else None)
        elif column is not None and use.role in NUMBERS:
            marks = marks_of(column)
            if use.decimal_mark not in marks and marks:
                use = replace(use, decimal_mark=marks[0] if len(marks) == 1 else None)
        columns.append(use)
    again = replace(mapping, columns=tuple(columns), covers_through=None, valid_from=None, rates=(), unknown_keys="refuse")
    sign = _sign(table, again) if again.kind == "returns" or again.with_role("marker") else again.returns_are
    return replace(again, returns_are=sign if sign == mapping.returns_are else None)


def _feed_name(file: str, kind: FileKind) -> str:
    """What the files of a feed are called: the file's name without numbers and months, which differ from file to file."""
    stem = file.rsplit("/", 1)[-1].rsplit(".", 1)[0].removesuffix(".csv")
    words = [
        word for word in plain_name(stem).split("_") if not word.isdigit() and word not in ("column", "") and not month_of(word)
    ]
    return " ".join(words) or kind


def kind_of(table: TextTable) -> FileKind:
    """Lines have a date and numbers; a file without a date whose first column never repeats is a lookup.

    So is one whose only date is the day from which its rows hold. A file that is headed like lines is one, whatever its dates
    are.
    """
    if _is_rates(table):
        return "rates"
    dated = [column for column in table.columns if formats_of(column)]
    valid_from = [column for column in dated if plain_name(column.header) in VALID_WORDS]
    has_amount = any(score(column.header, "amount") and marks_of(column) for column in table.columns)
    if len(dated) == len(valid_from) == 1 and not has_amount and dated[0] is not table.columns[0]:
        return "lookup"
    has_date = bool(dated) or len(_date_parts(table)) > 1
    headed = has_amount and any(names_exactly(column.header, "date") for column in table.columns)
    if not has_date and not headed and len(table.columns) > 1 and len(table.columns[0].texts) == len(table):
        return "lookup"
    if any(word in table.file.lower() for word in _RETURN_WORDS):
        return "returns"
    # A column of few values tells returns line by line; a column of figures counts them.
    telling = (column for column in table.columns if len(column.texts) > MOST_MARKS and not marks_of(column))
    return "returns" if any(word in column.header.lower() for column in telling for word in _RETURN_WORDS) else "sales"


def _is_rates(table: TextTable) -> bool:
    """Few columns: one of currencies, one of figures that is headed so, and at most a day or month."""
    if len(table.columns) > 4:
        return False
    currencies = [column for column in table.columns if _says_currency(column)]
    rates = [column for column in table.columns if plain_name(column.header) in RATE_WORDS and marks_of(column)]
    return len(currencies) == 1 and len(rates) == 1


def _says_currency(column: TextColumn) -> bool:
    texts = [text for text in column.texts[:MOST_NUMBERS_READ] if text.strip()]
    return bool(texts) and 3 * sum(currency_of(text) is not None for text in texts) >= 2 * len(texts)


def _rate_columns(table: TextTable) -> tuple[ColumnUse, ...]:
    uses = []
    for column in table.columns:
        if _says_currency(column):
            uses.append(ColumnUse(column.header, "currency"))
        elif plain_name(column.header) in RATE_WORDS and marks_of(column):
            uses.append(_use(column, "rate"))
        else:
            uses.append(_use(column, "date") if formats_of(column) else ColumnUse(column.header, "not_used"))
    return tuple(uses)


def _date_parts(table: TextTable) -> dict[str, Role]:
    """The columns of a date that stands in several.

    Year and month at least, by heading and content; empty where there is none.
    """
    found: dict[str, Role] = {}
    for part, words in PART_WORDS.items():
        for column in table.columns:
            texts = [text for text in column.texts[:1000] if text.strip()]
            if plain_name(column.header) in words and texts and all(part_of_date(text, part) for text in texts):
                found[column.header] = f"date_{part}"  # type: ignore[assignment]
                break
    return found if {"date_year", "date_month"} <= set(found.values()) else {}


def _line_columns(table: TextTable, around: Around) -> tuple[ColumnUse, ...]:
    roles: dict[str, Role] = {} if any(day_formats(column) for column in table.columns) else _date_parts(table)
    keys = {column.header for column in table.columns if around.is_key(column)}
    facts = {column.header: (False, False) if column.header in keys else facts_of(column) for column in table.columns}
    if not roles:
        usual = usual_day(table)
        roles = {usual.header: "date"} if usual is not None else {}
    pairs = sorted(
        ((-score(column.header, role), at, role) for at, column in enumerate(table.columns) for role in WORDS),
        key=lambda pair: (pair[0], pair[1]),
    )
    for points, at, role in pairs:
        header = table.columns[at].header
        elsewhere = role == "date" and "date_year" in roles.values()
        if points == 0 or elsewhere or header in roles or role in roles.values():
            continue
        # The content is looked at last: that takes longer than all headings.
        if _fits(table.columns[at], role, is_number=facts[header][0]):
            roles[header] = role
    for column in table.columns:
        # A discount with percent signs is a rate.
        if roles.get(column.header) == "discount" and "discount_rate" not in roles.values() and has_percent_signs(column):
            roles[column.header] = "discount_rate"
    if "marker" not in roles.values():
        flags = (each for each in table.columns if each.header not in roles and _says_return(each) and _return_marks(each))
        roles.update({each.header: "marker" for each in list(flags)[:1]})
    for column in table.columns:
        own = around.own_role(column)
        if own is not None:
            roles.setdefault(column.header, own)
    _fill_by_content(table, facts, roles)
    named = {column.header: plain_name(column.header) for column in table.columns if column.header in keys}
    return tuple(
        replace(use, name=named[use.column]) if use.role == "dimension" and use.column in named else use
        for use in (_use(column, roles.get(column.header), further=column.header not in keys) for column in table.columns)
    )


def _fits(column: TextColumn, role: Role, *, is_number: bool) -> bool:
    """Whether a column's content can be what its heading says."""
    match role:
        case "marker":
            return bool(_return_marks(column))
        case "date":
            return bool(formats_of(column))
        case "order":
            # The day of an order or invoice is none.
            return not day_formats(column) or is_number
        case "currency":
            return _says_currency(column)
        case "line":
            return is_unique(column)
        case "cost" | "amount":
            # Freight and tax are amounts of their own, whatever is said of them beside.
            return is_number and (names_exactly(column.header, role) or not words_of(column.header) & {*ADVERSE_WORDS})
        case "discount_rate":
            return is_number or has_percent_signs(column)
        case "discount":
            return is_number or has_percent_signs(column)
        case _:
            return is_number if role in NUMBERS else True


def _fill_by_content(table: TextTable, facts: dict[str, tuple[bool, bool]], roles: dict[str, Role]) -> None:
    """Where no name says it: the first date column is the date, the number column with most decimals the amount."""
    free = [column for column in table.columns if column.header not in roles]
    if not {"date", "date_year"} & set(roles.values()):
        dates = [column for column in free if facts[column.header][1]]
        if dates:
            roles[dates[0].header] = "date"
    empty = any(not any(text.strip() for text in column.texts) and names_exactly(column.header, "amount") for column in free)
    # A column of amounts that is empty is to be asked about: no other figure is silently put in its place.
    if "amount" not in roles.values() and not {"quantity", "price"} <= set(roles.values()) and not empty:
        numbers = [column for column in free if facts[column.header][0] and not facts[column.header][1]]
        if numbers:
            roles[max(numbers, key=decimals_seen).header] = "amount"
    if "quantity" not in roles.values():
        counts = [
            column
            for column in free
            if column.header not in roles
            and not score(column.header, "line")
            and not words_of(column.header) & {*NO_SUM_WORDS, *FURTHER_QUANTITY_WORDS, *ADVERSE_WORDS}
            and _looks_counted(column, facts[column.header])
        ]
        if len(counts) == 1:
            roles[counts[0].header] = "quantity"


def _looks_counted(column: TextColumn, facts: tuple[bool, bool]) -> bool:
    """Small whole numbers that come again and again: how many were sold, rather than what they are called."""
    if not facts[0] or facts[1] or len(column.texts) > 1000:
        return False
    values = [read_number(text, "point") for text in column.texts if text.strip()]
    return all(value is not None and value[1] == 0 and abs(value[0]) < 1000 for value in values)


def use_as(column: TextColumn, role: Role) -> ColumnUse:
    """A column in a role: its name by the role's rule, and how its values are written where its content leaves no doubt."""
    rule = RULES[role]
    name = {"itself": plain_name(column.header), "role": role, "nothing": ""}[rule.named]
    date_format = decimal_mark = None
    if rule.written == "date":
        formats = formats_of(column)
        date_format = formats[0] if len(formats) == 1 else None
    elif rule.written == "number":
        # A rate is written with a percent sign or without.
        bare = [text.strip().removesuffix("%") for text in values_of(column)[:MOST_NUMBERS_READ]]
        marks = decimal_marks(bare) if role == "discount_rate" else marks_of(column)
        decimal_mark = marks[0] if len(marks) == 1 else None
    found = ColumnUse(column.header, role, name, date_format, decimal_mark)
    if role not in FURTHER:
        return found
    words = words_of(column.header)
    unit = next((FURTHER_QUANTITY_WORDS[word] for word in words if word in FURTHER_QUANTITY_WORDS), "")
    polarity: Polarity = "more_is_adverse" if words & {*ADVERSE_WORDS} and role in FURTHER_FIGURES else "neutral"
    free = f"{name[:35]}_own" if name in TAKEN_NAMES else name
    return replace(found, name=free, unit=unit if role == "further_quantity" else "", polarity=polarity)


def completed(mapping: FileMapping, before: FileMapping | None, sample: TextTable) -> FileMapping:
    """A mapping in which each column that was given another role has what goes without saying; what it says itself stays."""
    known = {use.column: use.role for use in before.columns} if before else {}
    columns = {column.header: column for column in sample.columns}

    def filled(use: ColumnUse) -> ColumnUse:
        column = columns.get(use.column)
        if column is None or known.get(use.column) == use.role:
            return use
        found = use_as(column, use.role)
        return replace(
            use,
            name=use.name or found.name,
            date_format=use.date_format or found.date_format,
            decimal_mark=use.decimal_mark or found.decimal_mark,
        )

    return replace(mapping, columns=tuple(map(filled, mapping.columns)))


def _use(column: TextColumn, role: Role | None, *, further: bool = False) -> ColumnUse:
    if role is not None:
        return use_as(column, role)
    own = further_role(column) if further and any(text.strip() for text in column.texts) else None
    if own is not None:
        return use_as(column, own)
    if not any(text.strip() for text in column.texts) or (score(column.header, "line") and column_numbers_lines(column)):
        return ColumnUse(column.header, "not_used")
    return use_as(column, "dimension")


def column_numbers_lines(column: TextColumn) -> bool:
    """Whether a column counts the lines of each order: small whole numbers that come again and again."""
    return _looks_counted(column, facts_of(column)) and not is_unique(column)


def _says_return(column: TextColumn) -> bool:
    return any(word in column.header.casefold() for word in _MARK_WORDS)


def _return_marks(column: TextColumn) -> tuple[str, ...]:
    """The texts of a column of few different ones that mean a return; under a heading of returns also a yes."""
    texts = [text.strip() for text in column.texts]
    if len(set(texts)) > MOST_MARKS:
        return ()
    marks = {text for text in texts if any(word in text.casefold() for word in _MARK_WORDS)}
    if not marks and _says_return(column) and len(set(texts)) > 1:
        marks = {text for text in texts if text.casefold() in _YES}
    return tuple(sorted(marks))


def _sign(table: TextTable, mapping: FileMapping) -> Literal["positive", "negative"] | None:
    """Whether returns (a file of their own, or marked lines) are written as positive or negative figures; None: in doubt."""
    use = mapping.with_role("amount")
    column = table.column(use.column) if use else None
    if use is None or column is None or use.decimal_mark is None or not len(column.codes):
        return "positive"
    if mapping.kind != "returns" and not mapping.return_marks:
        return "positive"
    values = np.array([value[0] < 0 if (value := read_number(text, use.decimal_mark)) else False for text in column.texts])
    zero = np.array([not value[0] if (value := read_number(text, use.decimal_mark)) else True for text in column.texts])
    chosen = ~zero[column.codes]
    marker = mapping.with_role("marker")
    marks = table.column(marker.column) if marker else None
    if marks is not None:
        chosen &= np.array([text.strip() in mapping.return_marks for text in marks.texts])[marks.codes]
    negative = values[column.codes][chosen]
    if not len(negative):
        return "positive"
    share = negative.mean()
    return "negative" if share >= CLEAR_SHARE else "positive" if share <= 1 - CLEAR_SHARE else None


def _lookup_columns(table: TextTable, known: Mapping[str, str | None]) -> tuple[ColumnUse, ...]:
    """The first column is the key; '<x> name' names the members of x; every other column is a level."""
    key, *others = table.columns
    key_name = _key_dimension(plain_name(key.header), known)
    uses = [ColumnUse(key.header, "key", name=key_name)]
    stems = {plain_name(key.header), key_name, *(plain_name(column.header) for column in others)}
    for column in others:
        name = plain_name(column.header)
        stem = name.removesuffix("_name")
        formats = formats_of(column) if name in VALID_WORDS else []
        if formats and "valid_from" not in [use.role for use in uses]:
            uses.append(ColumnUse(column.header, "valid_from", date_format=formats[0] if len(formats) == 1 else None))
        elif name in NAME_WORDS or (name != stem and stem in (key_name, plain_name(key.header))):
            uses.append(ColumnUse(column.header, "key_name", name=key_name))
        elif name != stem and stem in stems:
            uses.append(ColumnUse(column.header, "level_name", name=stem))
        else:
            uses.append(ColumnUse(column.header, "level", name=name))
    return tuple(uses)


def _key_dimension(name: str, known: Mapping[str, str | None]) -> str:
    if name in known:
        return name
    for dimension, role in known.items():
        if any(role == each and name in words for each, words in WORDS.items()):
            return dimension
    return next((role for role, words in WORDS.items() if name in words), name)
