"""An issue as files: a workbook with a sheet per block, CSV per block with a description of the tables, JSON."""

from __future__ import annotations

import csv
import io
import json
import re
import zipfile
from collections.abc import Mapping, Sequence
from typing import Any

from lofty_abacus.core.answer.answer import Answer
from lofty_abacus.core.statement.statement import Statement
from lofty_abacus.export.briefs.composed import Composed, ComposedFigures
from lofty_abacus.export.captions import caption_lines
from lofty_abacus.export.csv_table import csv_table
from lofty_abacus.export.workbook import SheetPart, workbook_of

_UNFIT = re.compile(r"[^a-z0-9]+")
_LONGEST = 40
_DAY = re.compile(r"\d{4}-\d\d-\d\d")
_DECIMAL = re.compile(r"-?\d+(\.\d+)?")


def brief_workbook(composed: Composed, descriptions: Mapping[str, str]) -> bytes:
    """A sheet for each block of figures, with live formulas, and one that says what they are."""
    parts = [SheetPart(block.title or block.caption, *found, block.layout) for block, found in _tables(composed)]
    return workbook_of(parts, descriptions)


def brief_csv(composed: Composed, descriptions: Mapping[str, str]) -> bytes:
    """A zip of a CSV for each block of figures, described as a group of tables in the W3C's form (CSV on the Web)."""
    tables: list[dict[str, Any]] = []
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for number, (block, (answer, statement)) in enumerate(_tables(composed), start=1):
            title = block.title or block.caption
            name = f"{number:02d}-{_UNFIT.sub('-', title.casefold()).strip('-')[:_LONGEST].strip('-') or 'figures'}.csv"
            text = csv_table(answer, statement, descriptions, block.layout)
            archive.writestr(name, text)
            tables.append(_described(name, title, block, text, answer, statement, descriptions))
        about = {
            "@context": ["http://www.w3.org/ns/csvw", {"@language": "en"}],
            "dc:title": composed.title,
            "dc:creator": composed.author or composed.masthead or "Lofty Abacus",
            "dc:date": composed.date.isoformat(),
            "tables": tables,
        }
        archive.writestr("csv-metadata.json", json.dumps(about, ensure_ascii=False, indent=1) + "\n")
    return out.getvalue()


def _tables(composed: Composed) -> list[tuple[ComposedFigures, tuple[Any, Statement]]]:
    figures = [each for each in composed.blocks if isinstance(each, ComposedFigures)]
    return [(each, found) for each in figures if (found := each.as_table) is not None]


def _described(
    name: str,
    title: str,
    block: ComposedFigures,
    text: str,
    answer: Answer,
    statement: Statement,
    descriptions: Mapping[str, str],
) -> dict[str, Any]:
    """One table of the group: its columns with what they hold, and its caption as notes."""
    records = list(csv.reader(io.StringIO(text)))
    columns = [
        {"name": f"column_{at + 1}", "titles": head, "datatype": _datatype([record[at] for record in records[1:]])}
        for at, head in enumerate(records[0])
    ]
    notes = [f"{what}: {words}" for what, words in caption_lines(answer, statement, descriptions, block.layout)]
    return {
        "url": name,
        "dc:title": title,
        "dc:description": block.caption,
        "notes": notes,
        "dialect": {"delimiter": ",", "header": True, "encoding": "utf-8", "lineTerminators": ["\n"], "doubleQuote": True},
        "tableSchema": {"columns": columns},
    }


def _datatype(values: Sequence[str]) -> str:
    """What a column holds: a day or exact decimal numbers where all of it is, else text."""
    held = [each for each in values if each]
    if held and all(_DAY.fullmatch(each) for each in held):
        return "date"
    return "decimal" if held and all(_DECIMAL.fullmatch(each) for each in held) else "string"
