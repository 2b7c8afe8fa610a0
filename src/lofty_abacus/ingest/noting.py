"""What an analyst should know of how a file is read, in sentences."""

from __future__ import annotations

from collections.abc import Iterator

from lofty_abacus.ingest.contents import has_parts_of_one
from lofty_abacus.ingest.dates import has_short_years, read_date, zones_of
from lofty_abacus.ingest.mapping import FileMapping
from lofty_abacus.ingest.table import TextColumn, TextTable


def notes_on(sample: TextTable, mapping: FileMapping, zone: str) -> tuple[str, ...]:
    """Rules that the reading of dates goes by where they matter, and columns that are empty. zone: the ledger's."""
    use = mapping.with_role("date")
    column = sample.column(use.column) if use else None
    dates = tuple(_of_dates(column, use.date_format, zone)) if use and column else ()
    discount = mapping.with_role("discount")
    cut = sample.column(discount.column) if discount else None
    if cut is not None and has_parts_of_one(cut):
        dates = (*dates, f"the column {cut.header!r} has figures below 1 only: if they are rates, say so in the mapping")
    empty = [each.header for each in sample.columns if not any(text.strip() for text in each.texts)]
    return (*dates, *(f"the column {header!r} is empty" for header in empty[:5]))


def _of_dates(column: TextColumn, form: str | None, zone: str) -> Iterator[str]:
    texts = column.texts
    if has_short_years(texts):
        yield "two-digit years are 1970 to 2069"
    if form == "spreadsheet_serial":
        first = next(text for text in texts if text.strip())
        day = read_date(first, "spreadsheet_serial")
        yield f"dates are a spreadsheet's day numbers: {first.strip()} is {day.isoformat() if day else 'no day'}"
    named, bare = zones_of(texts)
    if named:
        yield f"a time that names its zone counts on its day in the ledger's zone, {zone}"
    if named and bare:
        yield f"{bare:,} of {named + bare:,} different times name no zone: they are taken as they stand, in {zone}"
