"""The parts of adding up: shares of threads, cuts at the bounds of windows, cells and their ancestors, lines behind a figure."""

from __future__ import annotations

from datetime import date, timedelta

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lofty_abacus.core.answer.answering import answer
from lofty_abacus.core.days import day_number
from lofty_abacus.core.grouping import blocks, distinct
from lofty_abacus.core.grouping import cells as grouping_cells
from lofty_abacus.core.grouping import cuts as grouping_cuts
from lofty_abacus.core.grouping.additive import sums_by_cut, sums_by_segment
from lofty_abacus.core.grouping.cells import grids_of
from lofty_abacus.core.grouping.cuts import cut_at_bounds
from lofty_abacus.core.grouping.request import LinesExtent, LinesRequest, MemberFilter
from lofty_abacus.core.segments import Segments
from lofty_abacus.core.statement.statement import Opened, ShownMeasure, Statement
from lofty_abacus.core.windows.as_of import PinnedDay
from lofty_abacus.core.windows.ranges import DayRange, DaySet, day_set
from tests.ledgers import Line, SmallLedger, cut

START = date(2026, 1, 1)


def day(number: int) -> date:
    return START + timedelta(number)


slices = st.lists(st.tuples(st.integers(0, 500), st.integers(0, 500)), max_size=6).map(
    lambda pairs: [(min(pair), max(pair)) for pair in pairs]
)


@given(slices)
def test_threads_share_every_line_once(given_slices: list[tuple[int, int]]) -> None:
    kept, blocks.WORTH_SHARING = blocks.WORTH_SHARING, 1
    try:
        parts = blocks.shares(given_slices, blocks.Workers(3, blocks.one_by_one))
    finally:
        blocks.WORTH_SHARING = kept
    for number, (start, stop) in enumerate(given_slices):
        found = sorted((a, b) for part in parts for at, a, b in part if at == number)
        assert [line for a, b in found for line in range(a, b)] == list(range(start, stop))
    sizes = [sum(b - a for _, a, b in part) for part in parts]
    assert max(sizes, default=0) <= -(-sum(sizes) // 3) + 1


@given(st.lists(st.tuples(st.integers(0, 60), st.integers(0, 30)), min_size=1, max_size=5))
def test_cuts_are_disjoint_and_make_up_every_window(pairs: list[tuple[int, int]]) -> None:
    columns = SmallLedger([Line(day(n), 100 + n) for n in range(0, 90, 2)]).columns
    windows = [DaySet((DayRange(day(first), day(first + length)),)) for first, length in pairs]
    cuts = cut_at_bounds(windows)
    for (_, stop), (start, _) in zip(cuts.days, cuts.days[1:], strict=False):
        assert stop < start
    ones = np.array([b - a for a, b in cuts.slices(columns)], np.int64).reshape(-1, 1)
    counted = cuts.combine(ones)[:, 0].tolist()
    assert counted == [sum(first <= n <= first + length for n in range(0, 90, 2)) for first, length in pairs]


@given(st.lists(st.tuples(st.integers(0, 60), st.integers(0, 30)), min_size=1, max_size=5), st.integers(1, 5), st.booleans())
def test_what_each_segment_gives_is_what_it_gives_alone(pairs: list[tuple[int, int]], workers: int, many: bool) -> None:
    """However many threads share the segments, and whether windows are added up one by one or by running sums."""
    lines = [Line(day(n), 100 + n, region="NS"[n % 2]) for n in range(0, 90, 2)]
    segments = cut(SmallLedger(lines).columns, 7)
    windows = [DaySet((DayRange(day(first), day(first + length)),)) for first, length in pairs]
    cuts, one = cut_at_bounds(windows), ("amount", ())
    _, grids = grids_of(segments, ("region",), ())
    sharing, additions = blocks.WORTH_SHARING, grouping_cuts.MOST_ADDITIONS
    blocks.WORTH_SHARING, grouping_cuts.MOST_ADDITIONS = 1, 0 if many else additions
    try:
        found = sums_by_segment(grids, cuts, {one: 2}, blocks.Workers(workers, blocks.one_by_one))
        alone = [cuts.combine(sums_by_cut([grid], cuts, {one: 2}, blocks.ALONE)[one]) for grid in grids]
    finally:
        blocks.WORTH_SHARING, grouping_cuts.MOST_ADDITIONS = sharing, additions
    assert len(found) == len(grids) == 7
    for each, wanted in zip(found, alone, strict=True):
        assert each[one].tolist() == wanted.tolist()


@pytest.mark.parametrize("dense", [True, False])
def test_cells_know_their_ancestors(dense: bool, monkeypatch: pytest.MonkeyPatch) -> None:
    lines = [Line(START, 100, region=region, rep=rep) for region, rep in (("N", "a"), ("N", "b"), ("S", "a"), ("N", "a"))]
    if not dense:
        monkeypatch.setattr(grouping_cells, "LEAST_DENSE", 0)
        monkeypatch.setattr(grouping_cells, "MOST_DENSE", 0)
    plan, [grid] = grids_of(Segments((SmallLedger(lines).columns,)), ("region", "rep"), ())
    assert plan.is_dense == dense
    cells = np.empty(4, np.int32)
    grid.fill(cells, 0, 4)
    names = plan.codes(2, plan.keys[cells])
    assert sorted(map(tuple, names.tolist())) == [(1, 1), (1, 1), (1, 2), (2, 1)]
    keys, up = plan.ancestors(1)
    assert sorted(plan.codes(1, keys[up[cells]])[:, 0].tolist()) == [1, 1, 1, 2]
    assert up[-1] == len(keys), "lines that do not count have no ancestor that does"


@settings(max_examples=40, deadline=None)
@given(
    st.lists(st.tuples(st.integers(0, 20), st.integers(0, 9)), min_size=1, max_size=60),
    st.integers(1, 12),
    st.integers(1, 5),
)
def test_orders_are_counted_once_whatever_the_threads_and_holes(lines: list[tuple[int, int]], hole: int, length: int) -> None:
    """Orders that span days, parts of threads that end inside an order, and a hole in the middle of an order."""
    made = [Line(day(n), 100, f"O{order}", rep=f"R{n % 2}") for n, order in lines]
    holes = day_set([DayRange(day(hole), day(hole + length))])
    ledger = SmallLedger(made, DayRange(START, day(40)), holes)
    statement = Statement((ShownMeasure("orders"),), ("rep",), as_of=PinnedDay(day(30)))
    kept = (blocks.WORTH_SHARING, blocks.BLOCK, distinct.BLOCK, distinct.MANY_WINDOWS)
    blocks.WORTH_SHARING = 1
    try:
        found = answer(statement, ledger.facts, ledger.source, ledger.today, Opened(1))
    finally:
        blocks.WORTH_SHARING = kept[0]
    counted = [(n, order) for n, order in lines if not hole <= n <= hole + length]
    assert found.total.cells[0].value == str(len({order for _, order in counted}))
    for row in found.rows:
        mine = {order for n, order in counted if f"R{n % 2}" == row.path[0]}
        assert row.cells[0].value == str(len(mine))


def test_the_lines_behind_a_figure() -> None:
    ledger = SmallLedger(
        [
            Line(day(0), 100, rep="a"),
            Line(day(1), -50, rep="a"),
            Line(day(2), 70, rep="b", quantity=None),
            Line(day(9), 5, rep="a"),
        ]
    )
    source = ledger.source
    rep = MemberFilter("rep", frozenset({source.members("rep").codes["a"]}))
    days = day_set([DayRange(day(0), day(2))])
    assert source.lines(LinesRequest(days, (), "all")).ids.tolist() == [0, 1, 2]
    assert source.lines(LinesRequest(days, (rep,), "all")).ids.tolist() == [0, 1]
    assert source.lines(LinesRequest(days, (), "sale")).ids.tolist() == [0, 2]
    assert source.lines(LinesRequest(days, (), "return")).ids.tolist() == [1]
    assert source.lines(LinesRequest(days, (), "all", ("quantity",))).ids.tolist() == [0, 1]
    assert source.extent(LinesRequest(days, (rep,), "all")) == LinesExtent(2, day_number(day(0)), day_number(day(1)))
    assert source.extent(LinesRequest(days, (), "sale")) == LinesExtent(2, day_number(day(0)), day_number(day(2)))
    nothing = LinesRequest(day_set([DayRange(day(4), day(5))]), (), "all")
    assert source.lines(nothing).ids.tolist() == [] and source.extent(nothing) == LinesExtent(0, None, None)
