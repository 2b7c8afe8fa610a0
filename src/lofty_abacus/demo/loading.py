"""Load the demo ledger through intake, with the decisions an analyst would take."""

from __future__ import annotations

import tempfile
from dataclasses import replace
from pathlib import Path

from lofty_abacus.actions.intake.post_files import post_files
from lofty_abacus.actions.intake.stage_files import map_file, stage_files
from lofty_abacus.actions.intake.stagings import staging_of
from lofty_abacus.actions.ledgers.make_ledger import make_ledger
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import NewLedger, Posting, Progress
from lofty_abacus.core.windows.as_of import PinnedDay
from lofty_abacus.demo.files import WrittenFile, write_demo_files
from lofty_abacus.demo.scenario import AS_OF, FIRST_DAY, LEDGER_NAME


def has_demo(office: Office) -> bool:
    """Whether the demo ledger is there with its lines."""
    return any(each.name == LEDGER_NAME and each.version > 0 for each in office.books.ledgers())


def load_demo(office: Office, progress: Progress) -> Posting:
    """Make the demo ledger (unless a start that was broken off left it empty) and post its files."""
    if not any(each.name == LEDGER_NAME for each in office.books.ledgers()):
        make_ledger(office, NewLedger(LEDGER_NAME, "EUR", "UTC", as_of=PinnedDay(AS_OF)))
    progress("Writing the demo files", 0, 0)
    with tempfile.TemporaryDirectory(prefix="lofty-demo-") as folder:
        files = write_demo_files(Path(folder))
        staging = stage_files(office, LEDGER_NAME, [(file.path.name, file.path) for file in files])
    for at, file in enumerate(files):
        _decide(office, staging.id, at, file)
    return post_files(office, staging.id, progress)


def _decide(office: Office, number: str, at: int, file: WrittenFile) -> None:
    """What the demo's analyst says of a file: how far it is complete, and that repeated lines are left out."""
    if file.manner == "lookup":
        return
    mapping = staging_of(office, number).files[at].mapping
    assert mapping is not None, f"{file.path.name} is written to be readable"
    mapping = replace(mapping, covers_from=FIRST_DAY.isoformat(), covers_through=AS_OF.isoformat())
    if file.manner == "repeated":
        mapping = replace(mapping, repeated="leave_out")
    map_file(office, number, at, mapping)
