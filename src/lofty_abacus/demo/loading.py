"""Load the demo ledger through intake, with the decisions an analyst would take."""

from __future__ import annotations

import tempfile
from dataclasses import replace
from pathlib import Path

from lofty_abacus.actions.briefs.keep_briefs import keep_brief
from lofty_abacus.actions.briefs.publish_brief import Publishing, publish_brief
from lofty_abacus.actions.intake.post_files import post_files
from lofty_abacus.actions.intake.stage_files import map_file, stage_files
from lofty_abacus.actions.intake.stagings import staging_of
from lofty_abacus.actions.ledgers.make_ledger import make_ledger
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import NewLedger, Posting, Progress, Replacement
from lofty_abacus.core.windows.as_of import PinnedDay
from lofty_abacus.demo.briefs import AUTHOR, FIRST_ISSUE, LATE_FILE, MISSING, demo_brief, demo_handing
from lofty_abacus.demo.files import WrittenFile, write_demo_files
from lofty_abacus.demo.scenario import AS_OF, FIRST_DAY, LEDGER_NAME


def has_demo(office: Office) -> bool:
    """Whether the demo ledger is there with its lines."""
    return any(each.name == LEDGER_NAME and each.version > 0 for each in office.books.ledgers())


def load_demo(office: Office, progress: Progress) -> Posting:
    """Make the demo ledger (unless a start that was broken off left it empty) and post its files."""
    return _load(office, progress, early=False)


def load_demo_with_briefs(office: Office, progress: Progress) -> None:
    """The same as time went by: one file was incomplete when an issue was published, and replaced after it.

    In the end the ledger holds the same lines. Where a start was broken off, what is missing is made.
    """
    if not has_demo(office):
        _load(office, progress, early=True)
    record = office.books.ledger(LEDGER_NAME)
    early = next(
        (each for each in office.books.batches(record.id) if each.file == LATE_FILE and each.active and each.version == 1), None
    )
    if record.version != 1 or early is None or early.reason:
        return
    progress("Publishing the demo's first issue", 0, 0)
    briefs = office.books.briefs.briefs(record.id).rows
    kept = briefs[0] if briefs else keep_brief(office, LEDGER_NAME, demo_brief(), demo_handing())
    if not office.books.briefs.issues(kept.id):
        office = replace(office, person=office.person or AUTHOR)
        publish_brief(office, kept.id, Publishing(day=FIRST_ISSUE))
    _replace_early_file(office, early.id, progress)


def _load(office: Office, progress: Progress, *, early: bool) -> Posting:
    if not any(each.name == LEDGER_NAME for each in office.books.ledgers()):
        make_ledger(office, NewLedger(LEDGER_NAME, "EUR", "UTC", as_of=PinnedDay(AS_OF)))
    progress("Writing the demo files", 0, 0)
    with tempfile.TemporaryDirectory(prefix="lofty-demo-") as folder:
        files = write_demo_files(Path(folder))
        if early:
            late = Path(folder) / LATE_FILE
            late.write_text("".join(late.read_text().splitlines(keepends=True)[:-MISSING]))
        staging = stage_files(office, LEDGER_NAME, [(file.path.name, file.path) for file in files])
    for at, file in enumerate(files):
        _decide(office, staging.id, at, file)
    return post_files(office, staging.id, progress)


def _replace_early_file(office: Office, batch: int, progress: Progress) -> None:
    with tempfile.TemporaryDirectory(prefix="lofty-demo-") as folder:
        write_demo_files(Path(folder))
        staging = stage_files(office, LEDGER_NAME, [(LATE_FILE, Path(folder) / LATE_FILE)])
    _decide(office, staging.id, 0, WrittenFile(Path(LATE_FILE), "sales"))
    post_files(office, staging.id, progress, Replacement(replaces=(batch,)))


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
