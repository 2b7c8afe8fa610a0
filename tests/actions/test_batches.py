"""Batches taken out, put back and replaced; earlier versions read again; what survives a kill."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from datetime import date
from fractions import Fraction
from pathlib import Path

import pytest

from lofty_abacus.actions.errors import NotFoundError, RefusedError
from lofty_abacus.actions.figures.answer_statement import answer_statement
from lofty_abacus.actions.figures.check_table import check_table
from lofty_abacus.actions.intake.post_files import post_files
from lofty_abacus.actions.intake.stage_files import stage_files
from lofty_abacus.actions.ledgers.describe_ledger import describe_ledger, list_batches, list_ledgers
from lofty_abacus.actions.ledgers.withdraw_batch import restore_batch, withdraw_batch
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import Posting, Replacement
from lofty_abacus.core.statement.statement import Opened, ShownMeasure, Statement
from lofty_abacus.core.windows.as_of import PinnedDay
from lofty_abacus.core.windows.bases import PeriodBase
from lofty_abacus.core.windows.current import ToDate
from tests.cells import value
from tests.conftest import quiet

Write = Callable[..., tuple[str, Path]]
NET = Statement((ShownMeasure("net_sales"),), ("rep",), as_of=PinnedDay(date(2026, 3, 31)))
HEADER = "date,line id,rep,amount"


def post(office: Office, ledger: str, *files: tuple[str, Path], replaces: tuple[int, ...] = ()) -> Posting:
    return post_files(office, stage_files(office, ledger, files).id, quiet, Replacement(replaces))


def net(office: Office, ledger: str, version: int | None = None) -> Fraction | str:
    return value(answer_statement(office, ledger, NET, Opened(), version), "net_sales.0.value")


@pytest.fixture
def months(office: Office, ledger: str, csv_file: Write) -> dict[int, int]:
    """Three months posted one by one: the batch of each month."""
    found = {}
    for month in (1, 2, 3):
        file = csv_file(
            f"m{month}.csv", HEADER, f"2026-0{month}-01,A{month},Ada,{month}00", f"2026-0{month}-28,B{month},Bo,{month}"
        )
        (found[month],) = post(office, ledger, file).batches
    return found


def test_a_batch_is_withdrawn_and_restored(office: Office, ledger: str, months: dict[int, int]) -> None:
    assert net(office, ledger) == 606
    assert withdraw_batch(office, ledger, months[2], leave_hole=False) == 4
    assert net(office, ledger) == 404
    assert [batch.active for batch in list_batches(office, ledger)] == [True, False, True]
    assert next(each for each in list_ledgers(office) if each.name == ledger).lines == 4
    assert check_table(office, ledger, NET).agrees
    assert restore_batch(office, ledger, months[2]) == 5
    assert net(office, ledger) == 606
    with pytest.raises(RefusedError, match="is not withdrawn"):
        restore_batch(office, ledger, months[2])
    with pytest.raises(NotFoundError, match="no batch 0"):
        withdraw_batch(office, ledger, 0, leave_hole=False)


def test_every_version_can_be_read_again(office: Office, ledger: str, months: dict[int, int]) -> None:
    withdraw_batch(office, ledger, months[1], leave_hole=False)
    restore_batch(office, ledger, months[1])
    assert [net(office, ledger, version) for version in (1, 2, 3, 4, 5)] == [101, 303, 606, 505, 606]
    with pytest.raises(NotFoundError, match="no version 6: it is at version 5"):
        net(office, ledger, 6)


def test_the_days_of_a_withdrawn_batch_become_a_hole_if_asked(office: Office, ledger: str, months: dict[int, int]) -> None:
    february = replace(NET, window=ToDate("month"), as_of=PinnedDay(date(2026, 3, 28)), bases=(PeriodBase(1, "month"),), rows=())

    def base() -> Fraction | str:
        return value(answer_statement(office, ledger, february, Opened()), "net_sales.1.value")

    assert base() == 202
    withdraw_batch(office, ledger, months[2], leave_hole=False)
    assert base() == 0, "a quiet month is 0"
    restore_batch(office, ledger, months[2])
    withdraw_batch(office, ledger, months[2], leave_hole=True)
    assert base() == "not_posted", "a declared hole is undefined, never 0"
    restore_batch(office, ledger, months[2])
    assert base() == 202


def test_a_corrected_month_takes_the_old_ones_place_in_one_version(
    office: Office, ledger: str, months: dict[int, int], csv_file: Write
) -> None:
    corrected = csv_file("m2-corrected.csv", HEADER, "2026-02-01,A2,Ada,150", "2026-02-28,B2,Bo,2", "2026-02-27,C2,Cy,1")
    with pytest.raises(RefusedError, match="line id A2 is posted already"):
        post(office, ledger, corrected)
    assert post(office, ledger, corrected, replaces=(months[2],)).version == 4
    assert net(office, ledger) == 404 + 153
    assert net(office, ledger, 3) == 606
    with pytest.raises(RefusedError, match=r"Line id [AB]2 counts already in m2-corrected\.csv"):
        restore_batch(office, ledger, months[2])
    assert describe_ledger(office, ledger).version == 4, "a refusal changes nothing"


def test_a_replacement_that_fails_leaves_the_old_batch(
    office: Office, ledger: str, months: dict[int, int], csv_file: Write
) -> None:
    clash = csv_file("clash.csv", HEADER, "2026-02-01,A1,Ada,150")
    with pytest.raises(RefusedError, match="line id A1"):
        post(office, ledger, clash, replaces=(months[2],))
    assert net(office, ledger) == 606
    with pytest.raises(RefusedError, match="withdrawn already"):
        withdraw_batch(office, ledger, months[2], leave_hole=False)
        withdraw_batch(office, ledger, months[2], leave_hole=False)
    assert describe_ledger(office, ledger).version == 4


def test_a_lookup_is_withdrawn_and_restored_like_any_file(office: Office, ledger: str, csv_file: Write) -> None:
    post(office, ledger, csv_file("s.csv", "date,rep,amount", "2026-03-01,Ada,5", "2026-03-02,Bo,7"))
    posting = post(office, ledger, csv_file("reps.csv", "rep,team", "Ada,One", "Bo,Two"))
    teams = replace(NET, rows=("team",))

    def found(version: int | None = None) -> list[str]:
        return [row.label for row in answer_statement(office, ledger, teams, Opened(), version).rows]

    assert found() == ["One", "Two"]
    withdraw_batch(office, ledger, posting.batches[0], leave_hole=False)
    assert found() == ["(not mapped)"]
    assert found(2) == ["One", "Two"], "the version before keeps its lookup"
    restore_batch(office, ledger, posting.batches[0])
    assert found() == ["One", "Two"]
