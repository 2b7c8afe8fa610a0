"""Propose what a file is and what each column stands for, by names and content."""

from __future__ import annotations

from dataclasses import replace
from typing import Literal

import numpy as np

from lofty_abacus.ingest.dates import DateFormat, date_formats, serial_dates
from lofty_abacus.ingest.mapping import NUMBERS, ColumnUse, FileKind, Mapping, Role, plain_name
from lofty_abacus.ingest.numbers import decimal_marks, read_number
from lofty_abacus.ingest.table import TextColumn, TextTable

#: Words that headings use, by role; an exact word counts more than a part of one.
WORDS: dict[Role, tuple[str, ...]] = {
    "date": ("date", "day", "invoice_date", "order_date", "sale_date", "return_date", "datum", "fecha", "data", "jour"),
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
    "product": ("product", "item", "sku", "article", "product_id", "product_code", "artikel", "produkt", "produit", "producto"),
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
MOST_MARKS = 12
_MARK_WORDS = ("return", "refund", "credit", "storno", "gutschrift", "retour", "devol", "avoir")


def propose(table: TextTable, known_dimensions: dict[str, str | None] | None = None) -> Mapping:
    """A mapping for a file that none is kept for.

    known_dimensions: names of the ledger's line dimensions and their roles, for recognising lookups.
    """
    kind = _kind(table)
    columns = _lookup_columns(table, known_dimensions or {}) if kind == "lookup" else _line_columns(table)
    mapping = Mapping(_feed_name(table.file), kind, columns)
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
        if column is not None and use.role == "date":
            found = _formats(column)
            if use.date_format not in found:
                use = replace(use, date_format=found[0] if len(found) == 1 else None)
        elif column is not None and use.role in NUMBERS:
            marks = decimal_marks(column.texts[:MOST_TEXTS_READ])
            if use.decimal_mark not in marks and marks:
                use = replace(use, decimal_mark=marks[0] if len(marks) == 1 else None)
        columns.append(use)
    return replace(mapping, columns=tuple(columns), covers_through=None)


def _feed_name(file: str) -> str:
    stem = file.rsplit("/", 1)[-1].rsplit(".", 1)[0]
    words = [word for word in plain_name(stem).split("_") if not word.isdigit() and word not in ("column", "")]
    return " ".join(words) or "lines"


def _kind(table: TextTable) -> FileKind:
    """Lines have a date and numbers; a file without a date whose first column never repeats is a lookup."""
    has_date = any(_formats(column) for column in table.columns)
    if not has_date and len(table.columns) > 1 and len(table.columns[0].texts) == len(table):
        return "lookup"
    names = [table.file.lower(), *(column.header.lower() for column in table.columns)]
    return "returns" if any(word in name for name in names for word in _RETURN_WORDS) else "sales"


def _line_columns(table: TextTable) -> tuple[ColumnUse, ...]:
    roles: dict[str, Role] = {}
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
        if score < 0 and fits and header not in roles and role not in roles.values():
            roles[header] = role
    _fill_by_content(table, facts, roles)
    return tuple(_use(column, roles.get(column.header)) for column in table.columns)


def _fill_by_content(table: TextTable, facts: dict[str, tuple[bool, bool]], roles: dict[str, Role]) -> None:
    """Where no name says it: the first date column is the date, the number column with most decimals the amount."""
    free = [column for column in table.columns if column.header not in roles]
    if "date" not in roles.values():
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
    marks = decimal_marks(column.texts[:1000])
    values = [read_number(text, marks[0]) for text in column.texts[:1000]] if marks else []
    return sum(value[1] for value in values if value)


def _use(column: TextColumn, role: Role | None) -> ColumnUse:
    name = plain_name(column.header)
    if role == "date":
        formats = _formats(column)
        return ColumnUse(column.header, role, date_format=formats[0] if len(formats) == 1 else None)
    if role in NUMBERS:
        marks = decimal_marks(column.texts[:MOST_TEXTS_READ])
        return ColumnUse(column.header, role, decimal_mark=marks[0] if len(marks) == 1 else None)
    if role in ("line", "marker"):
        return ColumnUse(column.header, role)
    if role is not None:
        return ColumnUse(column.header, role, name=role)
    return ColumnUse(column.header, "dimension", name=name)


def _formats(column: TextColumn) -> list[DateFormat]:
    """How a column's dates can be read; serial numbers of a spreadsheet count only under a heading that says date."""
    texts = column.texts[:MOST_TEXTS_READ]
    formats = date_formats(texts)
    if not formats and plain_name(column.header) in WORDS["date"] and serial_dates(texts):
        return ["spreadsheet_serial"]
    return formats


def _facts(column: TextColumn) -> tuple[bool, bool]:
    """(is a number column, is a date column)."""
    texts = column.texts[:MOST_TEXTS_READ]
    return bool(decimal_marks(texts)), bool(date_formats(texts))


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


def _sign(table: TextTable, mapping: Mapping) -> Literal["positive", "negative"]:
    """Whether returns (a file of their own, or marked lines) are written as positive or negative figures: by most amounts."""
    use = mapping.with_role("amount")
    column = table.column(use.column) if use else None
    if use is None or column is None or use.decimal_mark is None:
        return "positive"
    values = np.array([value[0] < 0 if (value := read_number(text, use.decimal_mark)) else False for text in column.texts])
    negative = values[column.codes]
    marker = mapping.with_role("marker")
    marks = table.column(marker.column) if marker else None
    if marks is not None:
        negative = negative[np.array([text.strip() in mapping.return_marks for text in marks.texts])[marks.codes]]
    return "negative" if len(negative) and negative.mean() > 0.5 else "positive"


def _lookup_columns(table: TextTable, known: dict[str, str | None]) -> tuple[ColumnUse, ...]:
    """The first column is the key; '<x> name' names the members of x; every other column is a level."""
    key, *others = table.columns
    key_name = _key_dimension(plain_name(key.header), known)
    uses = [ColumnUse(key.header, "key", name=key_name)]
    stems = {plain_name(key.header), key_name, *(plain_name(column.header) for column in others)}
    for column in others:
        name = plain_name(column.header)
        stem = name.removesuffix("_name")
        if name == "name" or (name != stem and stem in (key_name, plain_name(key.header))):
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
