"""Propose what a file is and what each column stands for, by names and content."""

from __future__ import annotations

from dataclasses import replace
from typing import Literal
from weakref import WeakKeyDictionary

import numpy as np

from lofty_abacus.ingest.dates import PERIOD_FORMATS, DateFormat, date_formats, month_of, part_of_date, serial_dates
from lofty_abacus.ingest.mapping import NUMBERS, ColumnUse, FileKind, Mapping, Role, plain_name
from lofty_abacus.ingest.numbers import DecimalMark, decimal_marks, read_number
from lofty_abacus.ingest.setting_aside import says_total
from lofty_abacus.ingest.table import TextColumn, TextTable

#: Words that headings use, by role; an exact word counts more than a part of one.
WORDS: dict[Role, tuple[str, ...]] = {
    "date": (
        "date",
        "day",
        "invoice_date",
        "order_date",
        "sale_date",
        "return_date",
        "datum",
        "fecha",
        "data",
        "jour",
        "period",
        "month",
        "year_month",
        "week",
        "monat",
        "mois",
        "woche",
    ),
    "order": (
        "order",
        "order_id",
        "order_no",
        "order_number",
        "invoice",
        "invoice_no",
        "receipt",
        "document",
        "auftrag",
        "beleg",
        "bon",
        "belegnummer",
        "rechnung",
        "commande",
        "facture",
        "pedido",
        "factura",
    ),
    "line": ("line", "line_id", "line_no", "line_ref", "transaction", "transaction_id", "row_id", "position"),
    "rep": (
        "rep",
        "sales_rep",
        "salesperson",
        "seller",
        "agent",
        "account_manager",
        "representative",
        "vertreter",
        "verkaufer",
        "vendeur",
        "vendedor",
    ),
    "region": ("region", "area", "territory", "sales_area", "gebiet", "zone", "zona"),
    "product": (
        "product",
        "item",
        "sku",
        "article",
        "product_id",
        "product_code",
        "artikel",
        "produkt",
        "produit",
        "producto",
        "ware",
    ),
    "customer": ("customer", "client", "account", "buyer", "customer_id", "customer_no", "kunde", "cliente"),
    "channel": ("channel", "sales_channel", "segment", "kanal", "canal"),
    "quantity": ("quantity", "qty", "units", "pieces", "count", "volume", "menge", "anzahl", "quantite", "cantidad"),
    "amount": (
        "amount",
        "net",
        "net_amount",
        "revenue",
        "sales",
        "total",
        "value",
        "turnover",
        "line_total",
        "umsatz",
        "betrag",
        "montant",
        "importe",
    ),
    "marker": ("type", "kind", "transaction_type", "document_type", "line_type", "sale_or_return", "side", "art", "tipo"),
    "price": ("price", "unit_price", "list_price", "preis", "einzelpreis", "prix", "precio"),
    "discount": ("discount", "rebate", "rabatt", "remise", "descuento"),
    "cost": ("cost", "cost_amount", "cogs", "cost_of_sales", "kosten", "cout", "coste"),
}
_RETURN_WORDS = ("return", "refund", "credit")
MOST_TEXTS_READ = 20_000
MOST_NUMBERS_READ = 5_000
#: Headings of dates that stand in several columns, and of the day from which a row of a lookup holds.
PART_WORDS: dict[Literal["year", "month", "day"], tuple[str, ...]] = {
    "year": ("year", "jahr", "annee", "ano", "anno", "fiscal_year"),
    "month": ("month", "monat", "mois", "mes", "mese", "month_no", "month_number"),
    "day": ("day", "tag", "jour", "dia", "giorno", "day_of_month"),
}
VALID_WORDS = (
    "valid_from",
    "from",
    "since",
    "effective",
    "effective_from",
    "start",
    "starts",
    "gueltig_ab",
    "gultig_ab",
    "desde",
)
#: Where between a tenth and nine tenths of the returns have negative figures, their sign is asked for.
CLEAR_SHARE = 0.9
MOST_MARKS = 12
_MARK_WORDS = ("return", "refund", "credit", "storno", "gutschrift", "retour", "devol", "avoir")


def propose(table: TextTable, known_dimensions: dict[str, str | None] | None = None) -> Mapping:
    """A mapping for a file that none is kept for.

    known_dimensions: names of the ledger's line dimensions and their roles, for recognising lookups.
    """
    kind = _kind(table)
    columns = _lookup_columns(table, known_dimensions or {}) if kind == "lookup" else _line_columns(table)
    mapping = Mapping(_feed_name(table.file, kind), kind, columns)
    marker = mapping.with_role("marker")
    column = table.column(marker.column) if marker else None
    if column is not None:
        mapping = replace(mapping, return_marks=_return_marks(column))
    return replace(mapping, returns_are=_sign(table, mapping))


def refreshed(mapping: Mapping, table: TextTable) -> Mapping:
    """A kept mapping for a new file of its shape: formats are looked at again where the kept ones do not read the column.

    How far the files are complete is a new question with each of them, so the last answer is not kept.
    """
    columns = []
    for use in mapping.columns:
        column = table.column(use.column)
        if column is not None and use.role in ("date", "valid_from"):
            found = _formats(column)
            if use.date_format not in found:
                use = replace(use, date_format=found[0] if len(found) == 1 else None)
        elif column is not None and use.role in NUMBERS:
            marks = _marks(column)
            if use.decimal_mark not in marks and marks:
                use = replace(use, decimal_mark=marks[0] if len(marks) == 1 else None)
        columns.append(use)
    again = replace(mapping, columns=tuple(columns), covers_through=None, valid_from=None)
    sign = _sign(table, again) if again.kind == "returns" or again.with_role("marker") else again.returns_are
    return replace(again, returns_are=sign if sign == mapping.returns_are else None)


def _feed_name(file: str, kind: FileKind) -> str:
    """What the files of a feed are called: the file's name without numbers and months, which differ from file to file."""
    stem = file.rsplit("/", 1)[-1].rsplit(".", 1)[0].removesuffix(".csv")
    words = [
        word for word in plain_name(stem).split("_") if not word.isdigit() and word not in ("column", "") and not month_of(word)
    ]
    return " ".join(words) or kind


def _kind(table: TextTable) -> FileKind:
    """Lines have a date and numbers; a file without a date whose first column never repeats is a lookup.

    So is one whose only date is the day from which its rows hold.
    """
    dated = [column for column in table.columns if _formats(column)]
    valid_from = [column for column in dated if plain_name(column.header) in VALID_WORDS]
    has_amount = any(_score(column.header, "amount") and _marks(column) for column in table.columns)
    if len(dated) == len(valid_from) == 1 and not has_amount and dated[0] is not table.columns[0]:
        return "lookup"
    has_date = bool(dated) or len(_date_parts(table)) > 1
    if not has_date and len(table.columns) > 1 and len(table.columns[0].texts) == len(table):
        return "lookup"
    names = [table.file.lower(), *(column.header.lower() for column in table.columns)]
    return "returns" if any(word in name for name in names for word in _RETURN_WORDS) else "sales"


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


def _line_columns(table: TextTable) -> tuple[ColumnUse, ...]:
    roles: dict[str, Role] = {} if any(_days(column) for column in table.columns) else _date_parts(table)
    facts = {column.header: _facts(column) for column in table.columns}
    pairs = sorted(
        ((-_score(column.header, role), at, role) for at, column in enumerate(table.columns) for role in WORDS),
        key=lambda pair: (pair[0], pair[1]),
    )
    for score, at, role in pairs:
        header = table.columns[at].header
        is_number, is_date = facts[header]
        fits = is_date if role == "date" else is_number if role in NUMBERS else True
        if role == "marker":
            fits = bool(_return_marks(table.columns[at]))
        elif role == "date":
            fits = bool(_formats(table.columns[at]))
        elsewhere = role == "date" and "date_year" in roles.values()
        if score < 0 and fits and not elsewhere and header not in roles and role not in roles.values():
            roles[header] = role
    _fill_by_content(table, facts, roles)
    return tuple(_use(column, roles.get(column.header)) for column in table.columns)


def _fill_by_content(table: TextTable, facts: dict[str, tuple[bool, bool]], roles: dict[str, Role]) -> None:
    """Where no name says it: the first date column is the date, the number column with most decimals the amount."""
    free = [column for column in table.columns if column.header not in roles]
    if not {"date", "date_year"} & set(roles.values()):
        dates = [column for column in free if facts[column.header][1]]
        if dates:
            roles[dates[0].header] = "date"
    if "amount" not in roles.values() and not {"quantity", "price"} <= set(roles.values()):
        numbers = [column for column in free if facts[column.header][0] and not facts[column.header][1]]
        if numbers:
            roles[max(numbers, key=_decimals_seen).header] = "amount"
    if "quantity" not in roles.values():
        counts = [column for column in free if column.header not in roles and _looks_counted(column, facts[column.header])]
        if len(counts) == 1:
            roles[counts[0].header] = "quantity"


def _looks_counted(column: TextColumn, facts: tuple[bool, bool]) -> bool:
    """Small whole numbers that come again and again: how many were sold, rather than what they are called."""
    if not facts[0] or facts[1] or len(column.texts) > 1000:
        return False
    values = [read_number(text, "point") for text in column.texts if text.strip()]
    return all(value is not None and value[1] == 0 and abs(value[0]) < 1000 for value in values)


def _decimals_seen(column: TextColumn) -> int:
    marks = _marks(column)
    values = [read_number(text, marks[0]) for text in column.texts[:1000]] if marks else []
    return sum(value[1] for value in values if value)


def _use(column: TextColumn, role: Role | None) -> ColumnUse:
    name = plain_name(column.header)
    if role == "date":
        formats = _formats(column)
        return ColumnUse(column.header, role, date_format=formats[0] if len(formats) == 1 else None)
    if role in NUMBERS:
        marks = _marks(column)
        return ColumnUse(column.header, role, decimal_mark=marks[0] if len(marks) == 1 else None)
    if role in ("line", "marker", "date_year", "date_month", "date_day"):
        return ColumnUse(column.header, role)
    if role is not None:
        return ColumnUse(column.header, role, name=role)
    if not any(text.strip() for text in column.texts):
        return ColumnUse(column.header, "not_used")
    return ColumnUse(column.header, "dimension", name=name)


def _formats(column: TextColumn) -> list[DateFormat]:
    """How a column's dates can be read; serial numbers and periods count only under a heading that says date or period."""
    texts, formats = _values(column), _days(column)
    if formats or not (_score(column.header, "date") or plain_name(column.header) in VALID_WORDS):
        return formats
    return ["spreadsheet_serial"] if serial_dates(texts) else date_formats(texts, PERIOD_FORMATS)


#: What columns were found to be: several questions about a file ask it again.
_days_found: WeakKeyDictionary[TextColumn, list[DateFormat]] = WeakKeyDictionary()
_marks_found: WeakKeyDictionary[TextColumn, list[DecimalMark]] = WeakKeyDictionary()


def _values(column: TextColumn) -> list[str]:
    """The column's texts without those of totals rows and repeated headings, which are no values of it."""
    texts = column.texts[:MOST_TEXTS_READ]
    return [text for text in texts if text.strip() != column.header and not says_total(text)]


def _days(column: TextColumn) -> list[DateFormat]:
    if column not in _days_found:
        _days_found[column] = date_formats(_values(column))
    return _days_found[column]


def _marks(column: TextColumn) -> list[DecimalMark]:
    if column not in _marks_found:
        _marks_found[column] = decimal_marks(_values(column)[:MOST_NUMBERS_READ])
    return _marks_found[column]


def _facts(column: TextColumn) -> tuple[bool, bool]:
    """(is a number column, is a date column)."""
    return bool(_marks(column)), bool(_days(column))


def _score(header: str, role: Role) -> int:
    name = plain_name(header)
    if name in WORDS[role]:
        return 100 - WORDS[role].index(name)
    parts = set(name.split("_"))
    hits = [len(word) for word in WORDS[role] if word in parts or set(word.split("_")) <= parts]
    return max(hits, default=0)


def _return_marks(column: TextColumn) -> tuple[str, ...]:
    """The texts of a column of few different ones that mean a return."""
    texts = [text.strip() for text in column.texts]
    if len(set(texts)) > MOST_MARKS:
        return ()
    return tuple(sorted({text for text in texts if any(word in text.casefold() for word in _MARK_WORDS)}))


def _sign(table: TextTable, mapping: Mapping) -> Literal["positive", "negative"] | None:
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


def _lookup_columns(table: TextTable, known: dict[str, str | None]) -> tuple[ColumnUse, ...]:
    """The first column is the key; '<x> name' names the members of x; every other column is a level."""
    key, *others = table.columns
    key_name = _key_dimension(plain_name(key.header), known)
    uses = [ColumnUse(key.header, "key", name=key_name)]
    stems = {plain_name(key.header), key_name, *(plain_name(column.header) for column in others)}
    for column in others:
        name = plain_name(column.header)
        stem = name.removesuffix("_name")
        formats = _formats(column) if name in VALID_WORDS else []
        if formats and "valid_from" not in [use.role for use in uses]:
            uses.append(ColumnUse(column.header, "valid_from", date_format=formats[0] if len(formats) == 1 else None))
        elif name == "name" or (name != stem and stem in (key_name, plain_name(key.header))):
            uses.append(ColumnUse(column.header, "key_name", name=key_name))
        elif name != stem and stem in stems:
            uses.append(ColumnUse(column.header, "level_name", name=stem))
        else:
            uses.append(ColumnUse(column.header, "level", name=name))
    return tuple(uses)


def _key_dimension(name: str, known: dict[str, str | None]) -> str:
    if name in known:
        return name
    for dimension, role in known.items():
        if any(role == each and name in words for each, words in WORDS.items()):
            return dimension
    return next((role for role, words in WORDS.items() if name in words), name)
