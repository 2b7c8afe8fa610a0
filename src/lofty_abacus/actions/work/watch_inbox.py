"""The inbox: a folder per ledger, whose new files are staged and wait for a person to confirm them."""

from __future__ import annotations

import logging
import shutil
from pathlib import Path

from lofty_abacus.actions.errors import ActionError
from lofty_abacus.actions.intake.stage_files import stage_files
from lofty_abacus.actions.intake.stagings import Staging
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import LedgerRecord
from lofty_abacus.ingest.mapping import plain_name

_log = logging.getLogger(__name__)
#: Where files lie after they were staged, within the inbox.
TAKEN = "taken"

_Seen = dict[Path, tuple[int, int]]


def inbox_of(office: Office, record: LedgerRecord) -> Path:
    """The folder that is watched for a ledger."""
    return office.inbox / f"{plain_name(record.name)}-{record.id}"


class Inbox:
    """Looks again and again; a file is taken when two looks in a row find it the same, so that none is taken half written."""

    def __init__(self, office: Office) -> None:
        self._office = office
        self._seen: _Seen = {}

    def look(self) -> list[Staging]:
        """Stage the files that have arrived since; those that arrived together wait together. Never raises for a file."""
        made: list[Staging] = []
        seen: _Seen = {}
        for record in self._office.books.ledgers():
            if record.archived_at is not None:
                continue
            folder = inbox_of(self._office, record)
            folder.mkdir(parents=True, exist_ok=True)
            ready = []
            for path in sorted(folder.iterdir()):
                if not path.is_file() or path.name.startswith("."):
                    continue
                facts = path.stat()
                seen[path] = (facts.st_size, facts.st_mtime_ns)
                if self._seen.get(path) == seen[path]:
                    ready.append(path)
            if ready:
                made += self._taken(record, ready, seen)
        self._seen = seen
        return made

    def _taken(self, record: LedgerRecord, paths: list[Path], seen: _Seen) -> list[Staging]:
        try:
            staging = stage_files(self._office, record.name, [(path.name, path) for path in paths], arrival="inbox")
        except (ActionError, OSError):
            _log.exception("the inbox of %s could not be staged", record.name)
            return []
        place = paths[0].parent / TAKEN / staging.id
        place.mkdir(parents=True, exist_ok=True)
        for path in paths:
            shutil.move(path, place / path.name)
            del seen[path]
        return [staging]
