"""A ledger is its lines: how they came, in one file or in many, at once or one after the other, changes no figure."""

from __future__ import annotations

import random
from dataclasses import replace
from datetime import date
from pathlib import Path

import pytest

from lofty_abacus.actions.intake.post_files import post_files
from lofty_abacus.actions.intake.stage_files import map_file, stage_files
from lofty_abacus.actions.ledgers.make_ledger import make_ledger
from lofty_abacus.actions.ledgers.withdraw_batch import restore_batch, withdraw_batch
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import NewLedger
from lofty_abacus.core.statement.levels import TimeLevel
from lofty_abacus.core.statement.statement import ShownMeasure, Statement
from lofty_abacus.core.windows.as_of import PinnedDay
from lofty_abacus.core.windows.bases import PeriodBase
from lofty_abacus.core.windows.stretches import RunningTotal
from tests.conftest import quiet
from tests.oracle.asking import Asked, cells_of
from tests.oracle.test_other_rules import COVERS, HEADING, sold_lines

MEASURES = (
    ShownMeasure("net_sales", ("difference", "share_of_all")),
    ShownMeasure("orders"),
    ShownMeasure("net_sales", (), RunningTotal("year")),
)
BY_MONTH = Statement(MEASURES, (TimeLevel("month"), "region"), as_of=PinnedDay(date(2026, 8, 17)), bases=(PeriodBase(1, "year"),))
BY_PRODUCT = replace(BY_MONTH, rows=("region", "product"), measures=MEASURES[:2])
STATEMENTS = (
    BY_MONTH,
    BY_PRODUCT,
    replace(BY_PRODUCT, returns="sale_day"),
    replace(BY_PRODUCT, returns="sale_day", refunds="not_allocated"),
)


def put(office: Office, name: str, folder: Path, parts: list[list[str]], *, at_once: bool) -> Asked:
    """A ledger of these parts, each a file: posted together, or one by one with one of them withdrawn and restored on the way."""
    make_ledger(office, NewLedger(name))
    files = []
    for number, rows in enumerate(parts):
        path = folder / f"part-{number}.csv"
        path.write_text("\n".join([HEADING, *rows]) + "\n")
        files.append((path.name, path))
    batches: list[int] = []
    for group in [files] if at_once else [[each] for each in files]:
        staging = stage_files(office, name, group)
        for at, file in enumerate(staging.files):
            assert file.mapping is not None
            feed = replace(file.mapping, name="sold", covers_from="2023-12-01", covers_through=COVERS[1])
            map_file(office, staging.id, at, feed)
        batches += post_files(office, staging.id, quiet).batches
    if not at_once:
        withdraw_batch(office, name, batches[0], leave_hole=False)
        restore_batch(office, name, batches[0])
    return Asked(office, name)


@pytest.mark.parametrize("seed", [1, 2])
@pytest.mark.parametrize("at_once", [True, False])
def test_lines_in_many_files_give_what_they_give_in_one(office: Office, tmp_path: Path, seed: int, at_once: bool) -> None:
    rows, chance = sold_lines(seed), random.Random(seed)
    cuts = sorted(chance.sample(range(1, len(rows)), 4))
    parts = [rows[first:last] for first, last in zip([0, *cuts], [*cuts, len(rows)], strict=True)]
    whole = put(office, f"whole {seed} {at_once}", tmp_path, [rows], at_once=True)
    split = put(office, f"split {seed} {at_once}", tmp_path, parts, at_once=at_once)
    for statement in STATEMENTS:
        one, many = whole.answer(statement, 2), split.answer(statement, 2)
        assert [row.path for row in one.rows] == [row.path for row in many.rows] != []
        for row, other in zip((*one.rows, one.total), (*many.rows, many.total), strict=True):
            assert cells_of(one, row) == cells_of(many, other), row.path
        assert (one.posted_lines, one.posted_amount) == (many.posted_lines, many.posted_amount)
        assert [each for each in one.notices if each.lines] == [each for each in many.notices if each.lines]
