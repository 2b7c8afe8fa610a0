"""What lookups say is read once for all versions that have the same ones, and anew wherever another has the last word."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import pytest

from lofty_abacus.actions.intake.post_files import post_files
from lofty_abacus.actions.intake.stage_files import stage_files
from lofty_abacus.actions.ledgers.withdraw_batch import restore_batch, withdraw_batch
from lofty_abacus.actions.ports import Office
from lofty_abacus.core.grouping.source import ColumnsSource
from lofty_abacus.store import level_entries
from tests.conftest import quiet

Write = Callable[..., tuple[str, Path]]


@pytest.fixture
def read(monkeypatch: pytest.MonkeyPatch) -> list[int]:
    """The versions of which lookups were read."""
    found: list[int] = []
    histories = level_entries.histories

    def watched(connection: object, level_id: int, version: int, *more: object) -> object:
        found.append(version)
        return histories(connection, level_id, version, *more)  # type: ignore[arg-type]

    monkeypatch.setattr(level_entries, "histories", watched)
    return found


def post(office: Office, ledger: str, csv_file: Write, name: str, *rows: str) -> int:
    return post_files(office, stage_files(office, ledger, [csv_file(name, *rows)]).id, quiet).batches[0]


def teams(office: Office, ledger: str, version: int | None = None) -> list[str | None]:
    """The team of each rep, in the order in which reps came."""
    source = office.books.opened(ledger, version).source
    assert isinstance(source, ColumnsSource)
    level = source.segments.each[0].levels["team"]
    return [level.members.key(int(code)) for code in level.mapping[1:3]]


def test_versions_with_the_same_lookups_have_them_read_once(
    office: Office, ledger: str, csv_file: Write, read: list[int]
) -> None:
    head = "date,order,line,rep,amount"
    post(office, ledger, csv_file, "a.csv", head, "2026-03-01,O1,L1,Ada,1.00", "2026-03-01,O2,L2,Bo,2.00")
    first = post(office, ledger, csv_file, "teams.csv", "rep,team", "Ada,Red", "Bo,Red")
    assert teams(office, ledger) == ["Red", "Red"]
    read.clear()
    for at in range(3, 6):
        post(office, ledger, csv_file, f"{at}.csv", head, f"2026-03-01,O{at},L{at},Ada,1.00")
        assert teams(office, ledger) == ["Red", "Red"]
    assert not read, "lines say nothing of levels"
    second = post(office, ledger, csv_file, "later.csv", "rep,team", "Ada,Blue")
    assert teams(office, ledger) == ["Blue", "Red"] and set(read) == {6}
    withdraw_batch(office, ledger, first, leave_hole=False)
    assert teams(office, ledger) == ["Blue", None]
    restore_batch(office, ledger, first)
    # Restored, it is said once more, after what came meanwhile.
    assert teams(office, ledger) == ["Red", "Red"]
    withdraw_batch(office, ledger, second, leave_hole=False)
    assert [teams(office, ledger, version) for version in (5, 6, 7, 8, 9)] == [
        ["Red", "Red"],
        ["Blue", "Red"],
        ["Blue", None],
        ["Red", "Red"],
        ["Red", "Red"],
    ]
