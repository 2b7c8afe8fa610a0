"""Laws of segments: whatever the lines are cut into, and whatever lies among them that does not count, answers are the same."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, timedelta
from itertools import permutations
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lofty_abacus.core import segments
from lofty_abacus.core.answer.answering import answer
from lofty_abacus.core.calendar.settings import CalendarSettings
from lofty_abacus.core.days import day_number
from lofty_abacus.core.grouping import cells, cube, distinct, kept_parts
from lofty_abacus.core.grouping.partials import merged
from lofty_abacus.core.grouping.request import (
    DayFilter,
    FigureFilter,
    Filter,
    GivenFilter,
    LineConventions,
    LineSort,
    LinesRequest,
    MemberFilter,
    PathFilter,
    Spread,
    TotalsRequest,
)
from lofty_abacus.core.grouping.source import ColumnsSource, levels_of
from lofty_abacus.core.lines import EVER, Level, LineColumns, dated_codes
from lofty_abacus.core.measures.sums import DistinctIds, LineSum
from lofty_abacus.core.segments import Segments, joined, small_ones_joined
from lofty_abacus.core.statement.levels import TimeLevel
from lofty_abacus.core.statement.statement import Opened, ShownMeasure, Statement
from lofty_abacus.core.windows.as_of import PinnedDay
from lofty_abacus.core.windows.bases import PeriodBase
from lofty_abacus.core.windows.ranges import DayRange, DaySet, day_set
from tests.laws.test_totals_laws import START, as_ofs, ledger_of, lines_of_any_kind
from tests.ledgers import CUTS, Line, cut, members_of

seeds = st.integers(0, 2**31)
DAYS = DaySet((DayRange(START, START + timedelta(1000)),))
HOLED = day_set([DayRange(START + timedelta(300), START + timedelta(420))])
WINDOWS = (
    DAYS,
    DaySet((DayRange(START, START + timedelta(299)), DayRange(START + timedelta(421), START + timedelta(900)))),
    HOLED,
)
EVERYTHING = frozenset(
    {
        LineSum("amount", "all"), LineSum("amount", "sale"), LineSum("quantity", "all"), LineSum("cost", "all"),
        LineSum("amount", "all", ("cost",)), DistinctIds("order"), DistinctIds("customer"), DistinctIds("product"),
    }
)  # fmt: skip


def with_a_dated_level(columns: LineColumns) -> LineColumns:
    """A team per rep, two of which change their team in the middle."""
    middle, keys = day_number(START) + 500, ["", None, "Red", "Blue"]
    size = columns.dimensions["rep"].members.size
    changes = np.array([row for code in range(1, size) for row in ((code, EVER, 2), (code, middle + code, 3))], np.int32)
    mapping = np.array([0, *([3] * (size - 1))], np.int32)
    level = Level("rep", mapping, members_of(keys), changes=changes)
    days = columns.day.astype(np.int32) + columns.first_day
    found = dated_codes(mapping, changes, columns.dimensions["rep"].codes, days).astype(np.uint8)
    return replace(columns, levels={"team": replace(level, codes=found)})


def same(one: Any, other: Any) -> None:
    assert len(one) == len(other)
    for mine, yours in zip(one, other, strict=True):
        assert mine.codes.tolist() == yours.codes.tolist()
        assert {key: table.tolist() for key, table in mine.values.items()} == {
            key: table.tolist() for key, table in yours.values.items()
        }


@settings(max_examples=60, deadline=None)
@given(
    lines_of_any_kind,
    seeds,
    st.sampled_from([*CUTS, 3]),
    st.sampled_from([(), ("region",), ("rep", "team"), ("product", "customer")]),
)
def test_totals_do_not_depend_on_segments(lines: list[Line], seed: int, into: int, rows: tuple[str, ...]) -> None:
    whole = with_a_dated_level(ledger_of(lines).columns)
    request = TotalsRequest(WINDOWS, rows, (), EVERYTHING)
    for how in (
        LineConventions(day_number(START) + 700),
        LineConventions(day_number(START) + 700, levels="as_it_is_now"),
        LineConventions(day_number(START) + 700, returns="sale_day"),
        LineConventions(day_number(START) + 700, returns="sale_day", refunds="not_allocated", levels="as_it_is_now"),
        LineConventions(day_number(START) + 700, spread=Spread("month", CalendarSettings(), working=True)),
    ):
        one = ColumnsSource(whole).read_by(how)
        cut_up = ColumnsSource(cut(whole, into, seed)).read_by(how)
        same(one.totals(request), cut_up.totals(request))
        assert one.unplaced == cut_up.unplaced and len(one) == len(cut_up)
        known = replace(request, known_by=(day_number(START) + 500, None, day_number(START) + 650))
        same(one.totals(known), cut_up.totals(known))


@settings(max_examples=30, deadline=None)
@given(lines_of_any_kind, seeds, st.integers(0, 30))
def test_small_segments_that_are_joined_in_memory_change_no_answer(lines: list[Line], seed: int, most: int) -> None:
    parts = cut(with_a_dated_level(ledger_of(lines).columns), 7, seed)
    kept, segments.MOST_JOINED = segments.MOST_JOINED, most
    try:
        fewer = small_ones_joined(parts)
    finally:
        segments.MOST_JOINED = kept
    assert len(fewer) == len(parts) and len(fewer.each) <= len(parts.each)
    for request in (TotalsRequest(WINDOWS, ("rep", "team"), (), EVERYTHING), TotalsRequest(WINDOWS, (), (), EVERYTHING)):
        same(ColumnsSource(fewer).totals(request), ColumnsSource(parts).totals(request))
    listed = LinesRequest(WINDOWS[1], (), "all")
    assert ColumnsSource(fewer).lines(listed).ids.tolist() == ColumnsSource(parts).lines(listed).ids.tolist()


@settings(max_examples=40, deadline=None)
@given(lines_of_any_kind, seeds, st.sampled_from(CUTS), st.sampled_from(["day", "amount", "order", "product", "posted"]))
def test_lines_and_what_is_counted_down_a_list_do_not_depend_on_segments(
    lines: list[Line], seed: int, into: int, sort: LineSort
) -> None:
    whole = ledger_of(lines).columns
    one, cut_up = ColumnsSource(whole), ColumnsSource(cut(whole, into, seed))
    for side in ("all", "sale", "return"):
        request = LinesRequest(WINDOWS[1], (), side, ("cost",) if side == "sale" else (), sort=sort)  # type: ignore[arg-type]
        ids = one.lines(request).ids.tolist()
        assert ids == cut_up.lines(request).ids.tolist()
        assert one.extent(request) == cut_up.extent(request) and one.extent(request).lines == len(ids)
    for wanted in (DistinctIds("order"), DistinctIds("customer")):
        assert one.first_days(request, wanted).tolist() == cut_up.first_days(request, wanted).tolist()
        listed = np.arange(one.members("product").size, dtype=np.int64)[::-1]
        down = [each.ids_down(request, wanted, "product", listed).tolist() for each in (one, cut_up)]
        assert down[0] == down[1]
    days = DayRange(START - timedelta(3), START + timedelta(1003))
    assert one.day_counts(days).tolist() == cut_up.day_counts(days).tolist()


@settings(max_examples=30, deadline=None)
@given(lines_of_any_kind, seeds, as_ofs)
def test_answers_in_1_2_7_and_40_segments_are_one_answer(lines: list[Line], seed: int, as_of: date) -> None:
    ledger = ledger_of(lines)
    statement = Statement(
        (ShownMeasure("net_sales", ("percent_change", "contribution", "rank")), ShownMeasure("orders"), ShownMeasure("active_customers")),
        ("rep",), across=(TimeLevel("quarter"),), as_of=PinnedDay(as_of), bases=(PeriodBase(1, "year"),),
        returns="sale_day", returns_within="same_time",
    )  # fmt: skip
    found = [answer(statement, ledger.facts, ledger.source_in(into, seed), ledger.today, Opened(1)) for into in CUTS]
    assert all(each == found[0] for each in found)


@settings(max_examples=40, deadline=None)
@given(lines_of_any_kind, seeds, st.booleans())
def test_partial_totals_are_merged_in_any_order_and_grouping(lines: list[Line], seed: int, sparse: bool) -> None:
    """Each part by itself, with cells of its own where combinations are numbered, as another process would hold it."""
    whole = ledger_of(lines).columns
    parts = cut(whole, 3, seed)
    kept = (cells.LEAST_DENSE, cells.MOST_DENSE, distinct.MOST_MARKS)
    if sparse:
        cells.LEAST_DENSE = cells.MOST_DENSE = distinct.MOST_MARKS = 0
    try:
        # Which orders span parts is known to whoever cuts: each process is told.
        scattered = parts.scattered_orders
        request = TotalsRequest(WINDOWS, ("region", "rep"), (), EVERYTHING - {LineSum("quantity", "all"), LineSum("cost", "all")})
        found = []
        for each in parts:
            alone = Segments((each,))
            alone.__dict__.update(scattered_orders=scattered, one_word=parts.one_word)
            found.append(ColumnsSource(alone).partial(request))
        plan, _ = ColumnsSource(whole).partial(request)
        wanted = ColumnsSource(whole).totals(request)
        for order in permutations([partial for _, partial in found]):
            same(levels_of(plan, merged(order), request), wanted)
        first, second, third = (partial for _, partial in found)
        same(levels_of(plan, first.merged(second.merged(third)), request), wanted)
    finally:
        cells.LEAST_DENSE, cells.MOST_DENSE, distinct.MOST_MARKS = kept


@settings(max_examples=40, deadline=None)
@given(lines_of_any_kind, seeds, st.sampled_from(CUTS))
def test_segments_merged_again_are_the_lines_in_one_piece(lines: list[Line], seed: int, into: int) -> None:
    whole = ledger_of(lines).columns
    again = joined(cut(whole, into, seed).each)
    days = [each.day.astype(np.int64) + each.first_day for each in (whole, again)]
    assert days[0].tolist() == days[1].tolist() and again.out is None
    for name in ("side", "amount", "line_id"):
        assert getattr(whole, name).tolist() == getattr(again, name).tolist()
    for name, column in whole.dimensions.items():
        assert column.codes.tolist() == again.dimensions[name].codes.tolist()
    for name in ("quantity", "cost"):
        given_, left = (None if each.missing(name) is None else each.missing(name).tolist() for each in (whole, again))  # type: ignore[union-attr]
        assert (given_ or [0] * len(whole)) == (left or [0] * len(whole))


def test_ids_that_are_ticked_off_are_not_merged_with_listed_ones() -> None:
    columns = ledger_of([Line(START, 100, "O1", "North", "Ada", "P1", "C1")]).columns
    request = TotalsRequest((DAYS,), (), (), frozenset({DistinctIds("customer")}))
    ticked = ColumnsSource(columns).partial(request)[1]
    kept = distinct.MOST_MARKS
    distinct.MOST_MARKS = 0
    try:
        listed = ColumnsSource(columns).partial(request)[1]
    finally:
        distinct.MOST_MARKS = kept
    with pytest.raises(ValueError, match="told apart"):
        ticked.merged(listed)


#: A window that no line lies in.
LATER = DaySet((DayRange(date(2040, 1, 1), date(2040, 12, 31)),))
FILTERS = (
    (),
    (MemberFilter("team", frozenset({2})),),
    (PathFilter(("region", "team"), frozenset({(1, 2), (1, 3), (2, 3)})), GivenFilter("cost", True)),
    (FigureFilter("amount", 0, 5_000), DayFilter("day", ((day_number(START), day_number(START) + 600),))),
)


@settings(max_examples=30, deadline=None)
@given(
    lines_of_any_kind,
    seeds,
    st.lists(st.tuples(st.integers(1, 4), st.integers(0, 2), st.integers(0, 2)), min_size=2, max_size=4),
    st.sampled_from([(), ("team",), ("rep", "team")]),
    st.sampled_from(FILTERS),
    st.booleans(),
)
def test_what_segments_gave_before_changes_no_answer(
    lines: list[Line],
    seed: int,
    versions: list[tuple[int, int, int]],
    rows: tuple[str, ...],
    filters: tuple[Filter, ...],
    by_day: bool,
) -> None:
    """Versions of some segments, of lines that count and of what levels say, each asked until answers come from what is kept."""
    whole = with_a_dated_level(ledger_of(lines).columns)
    parts = cut(whole, 4, seed).each
    chance = np.random.default_rng(seed)
    outs = [[None, *(chance.integers(0, 2, len(each)).astype(np.uint8) for _ in range(2))] for each in parts]
    # Teams as they are told by lines, and two tellings by rep alone: of the last one only some members are others.
    plain = [
        replace(whole.levels["team"], codes=None, changes=None, mapping=whole.levels["team"].mapping.copy()) for _ in range(2)
    ]
    plain[1].mapping[-1:] = 2
    left = (kept_parts.LEAST_LINES, kept_parts.ROOM, kept_parts.ROOM_OF_ONE, cube.LINES_A_SUM)
    kept_parts.LEAST_LINES, kept_parts.ROOM, kept_parts.ROOM_OF_ONE = 1, 1 << 20, 1 << 18
    cube.LINES_A_SUM = 0 if by_day else 1 << 40
    try:
        for count, flags, telling in [*versions, *versions]:
            some = [replace(each, out=out[flags]) for each, out in zip(parts[:count], outs, strict=False)]
            if telling:
                some = [replace(each, levels={"team": plain[telling - 1]}) for each in some]
            fresh = ColumnsSource(Segments(tuple(replace(each, remembered={}) for each in some)))
            for windows in (WINDOWS, WINDOWS[1:], WINDOWS[:1], (*WINDOWS[:1], LATER), (LATER, *WINDOWS[:1], LATER)):
                request = TotalsRequest(windows, rows, filters, EVERYTHING)
                wanted = fresh.totals(request)
                for _ in range(3):
                    same(ColumnsSource(Segments(tuple(some))).totals(request), wanted)
                listed = LinesRequest(windows[0], filters, "sale", ("cost",))
                assert ColumnsSource(Segments(tuple(some))).extent(listed).lines == len(fresh.lines(listed).ids)
        asked = [each for each in parts[: max(count for count, _, _ in versions)] if len(each)]
        assert all(each.remembered["parts"]._found for each in asked)
    finally:
        kept_parts.LEAST_LINES, kept_parts.ROOM, kept_parts.ROOM_OF_ONE, cube.LINES_A_SUM = left
