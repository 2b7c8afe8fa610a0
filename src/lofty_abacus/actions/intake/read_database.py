"""Take lines from a database of somebody else: a preview first, then a staging like that of a dropped file."""

from __future__ import annotations

import re
import tempfile
from dataclasses import dataclass
from pathlib import Path

from lofty_abacus.actions.intake.stage_files import no_progress, stage_files
from lofty_abacus.actions.intake.stagings import Staging
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import Progress

PREVIEW_ROWS = 8
_NAME = re.compile(r"(?is)\bfrom\s+[`\"]?([\w$.]+)")


@dataclass(frozen=True)
class DatabasePreview:
    """Headings and the first rows of a query."""

    headers: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]


def preview_database(office: Office, url: str, query: str) -> DatabasePreview:
    """The first rows of a table or a query. Raises RefusedError."""
    headers, rows = office.other_database.preview(url, query, PREVIEW_ROWS)
    return DatabasePreview(headers, tuple(rows))


def stage_database(office: Office, ledger: str, url: str, query: str, progress: Progress = no_progress) -> Staging:
    """Stage the rows of a table or a query; the address and its password are not kept. Raises RefusedError, NotFoundError."""
    office.books.ledger(ledger)
    name = name_of_query(query)
    with tempfile.TemporaryDirectory(prefix="lofty-fetch-", dir=office.staging) as folder:
        # The folder's name has a sign that no staging's number has: nobody takes it for one.
        place = Path(folder) / "rows"
        office.other_database.fetch(url, query, place, lambda rows: progress(f"Fetching {name}: {rows:,} rows", rows, 0))
        return stage_files(office, ledger, [(name, place)], progress, "database")


def name_of_query(query: str) -> str:
    """What the rows of a query are called: after the table that it names first."""
    stripped = query.strip().rstrip(";").strip()
    found = _NAME.search(stripped)
    return found[1] if found else stripped[:80]
