"""Statements of every shape on random ledgers, each cell against plain loops over the lines."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, timedelta
from fractions import Fraction

import pytest
from hypothesis import Phase, given, settings
from hypothesis import strategies as st

from lofty_abacus.core.answer import answering
from lofty_abacus.core.answer.answer import Answer, Row
from lofty_abacus.core.answer.answering import answer
from lofty_abacus.core.calendar.settings import CalendarSettings, WeekYears
from lofty_abacus.core.errors import QuestionError
from lofty_abacus.core.measures.table import MEASURES
from lofty_abacus.core.proof.finding import find, lines_behind
from lofty_abacus.core.proof.proving import prove
from lofty_abacus.core.statement.levels import RowLevel, TimeLevel
from lofty_abacus.core.statement.statement import Opened, ShareScope, ShownMeasure, Statement
from lofty_abacus.core.windows.as_of import PinnedDay
from lofty_abacus.core.windows.bases import Base, FixedBase, GivenBase, PeriodBase, ShiftedBase
from lofty_abacus.core.windows.current import CurrentWindow, Dates, LastPeriods, NamedPeriod, RunningPeriod, ToDate
from lofty_abacus.core.windows.ranges import DayRange
from lofty_abacus.core.windows.stretches import RunningTotal
from tests.cells import exact
from tests.ledgers import Line, SmallLedger
from tests.plain import measure
from tests.plain_answer import Plain

START = date(2024, 1, 1)
COVERED = DayRange(date(2024, 2, 10), date(2026, 5, 20))
CALENDARS = [
    CalendarSettings(),
    CalendarSettings(fiscal_start_month=4),
    CalendarSettings(fiscal_start_month=10, fiscal_year_named="start", week_start=6, month_end_rule=False),
    CalendarSettings(week_years=WeekYears("4-5-4", 5, 1, "nearest", "before"), week_start=6),
    CalendarSettings(week_years=WeekYears("5-4-4", 6, 8, "last"), holidays=(date(2025, 12, 25), date(2026, 1, 1))),
]
some_lines = st.lists(
    st.builds(
        Line,
        day=st.integers(0, 900).map(lambda n: START + timedelta(n)),
        amount=st.integers(-40_00, 200_00),
        order=st.sampled_from(["", "O1", "O2", "O3"]),
        region=st.sampled_from(["North", "South"]),
        rep=st.sampled_from(["Ada", "Bo", ""]),
        product=st.sampled_from(["P1", "P2"]),
        customer=st.sampled_from(["C1", "C2", ""]),
        quantity=st.one_of(st.none(), st.integers(-3, 9)),
        cost=st.one_of(st.none(), st.integers(0, 90_00)),
    ),
    min_size=3,
    max_size=40,
)
windows: st.SearchStrategy[CurrentWindow] = st.one_of(
    st.builds(ToDate, st.sampled_from(["month", "quarter", "half_year", "year"])),
    st.builds(ToDate, st.sampled_from(["quarter", "year"]), completed=st.just("month")),
    st.builds(RunningPeriod, st.sampled_from(["week", "month", "quarter", "year"]), st.integers(0, 3)),
    st.sampled_from([NamedPeriod("2025"), NamedPeriod("2025-Q3"), NamedPeriod("2025-H1"), NamedPeriod("2025-W20")]),
    st.builds(
        LastPeriods, st.integers(1, 5), st.sampled_from(["week", "month", "quarter"]), st.sampled_from(["as_of", "completed"])
    ),
    st.builds(lambda n, k: Dates(START + timedelta(n), START + timedelta(n + k)), st.integers(100, 600), st.integers(0, 260)),
)
bases: st.SearchStrategy[Base] = st.one_of(
    st.builds(
        PeriodBase,
        st.sampled_from([1, 2, -1]),
        st.sampled_from(["period", "year"]),
        st.sampled_from(["same_dates", "same_days", "same_weekdays", "whole"]),
    ),
    st.builds(PeriodBase, st.just(1), st.just("period"), st.just("same_working_days")),
    st.builds(
        ShiftedBase,
        st.integers(1, 40),
        st.sampled_from(["day", "week", "month"]),
        st.sampled_from(["same_dates", "same_weekdays"]),
    ),
    st.builds(GivenBase, st.sampled_from([NamedPeriod("2024-Q4"), Dates(date(2024, 3, 3), date(2024, 5, 5))])),
    st.builds(FixedBase, st.sampled_from(["2024", "2025"])),
)
levels: st.SearchStrategy[tuple[tuple[RowLevel, ...], tuple[RowLevel, ...]]] = st.sampled_from(
    [
        ((), ()),
        (("region", "rep"), ()),
        (("rep",), ("region",)),
        ((), ("region", "product")),
        ((TimeLevel("month"),), ()),
        ((TimeLevel("quarter"), TimeLevel("month")), ()),
        ((TimeLevel("month"), "region"), ()),
        (("region", TimeLevel("quarter")), ()),
        (("region",), (TimeLevel("quarter"),)),
        ((TimeLevel("month"),), (TimeLevel("year"),)),
        ((TimeLevel("quarter"),), ("rep",)),
        (("rep", TimeLevel("year")), ("region", TimeLevel("quarter"))),
        ((TimeLevel("week"),), ()),
    ]
)


@st.composite
def statements(draw: st.DrawFn) -> Statement:
    rows, across = draw(levels)
    names = draw(st.lists(st.sampled_from(sorted(MEASURES)), min_size=1, max_size=3, unique=True))
    some_bases = draw(st.lists(bases, max_size=2, unique_by=str))
    dimensions = [level for level in (*rows, *across) if isinstance(level, str)]
    timed = any(isinstance(level, TimeLevel) for level in (*rows, *across))
    measures = []
    for name in names:
        derived = MEASURES[name].kind == "derived"
        show: list[str] = ["difference", "percent_change", "attainment", "index"] if some_bases else []
        show += [] if derived else ["share_of_all"]
        show += ["contribution", "share_change"] if some_bases and not derived else []
        scopes = (
            [ShareScope(tuple(draw(st.lists(st.sampled_from(dimensions), unique=True)))) for _ in range(1)] if dimensions else []
        )
        scopes += [ShareScope((), "range")] if timed else []
        measures.append(ShownMeasure(name, tuple(show), shares=() if derived else tuple(dict.fromkeys(scopes))))  # type: ignore[arg-type]
    cut = draw(st.sampled_from(["as_of", "same_point"])) if timed else "as_of"
    as_of = PinnedDay(START + timedelta(draw(st.integers(420, 900))))
    return Statement(tuple(measures), rows, draw(windows), as_of, tuple(some_bases), across=across, cut=cut)


def answered(statement: Statement, ledger: SmallLedger) -> Answer | None:
    try:
        return answer(statement, ledger.facts, ledger.source, ledger.today, Opened(max(len(statement.rows), 1)))
    except QuestionError as error:
        assert error.part and error.way_out, "a refusal names the part and what would work"
        return None


@settings(max_examples=120, deadline=None, phases=[Phase.explicit, Phase.reuse, Phase.generate])
@given(lines=some_lines, statement=statements(), calendar=st.sampled_from(CALENDARS))
def test_every_cell_is_what_plain_loops_make_of_it(lines: list[Line], statement: Statement, calendar: CalendarSettings) -> None:
    lines = [*lines, Line(COVERED.first, 1_00, "O1", "North", "Ada", "P1", "C1", 1, 50)]
    ledger = SmallLedger(lines, COVERED, calendar=calendar)
    found = answered(statement, ledger)
    if found is None:
        return
    plain = Plain(statement, found, lines)
    for row in (*found.rows, found.total):
        for column, cell in zip(found.columns, row.cells, strict=True):
            wanted = plain.cell(row, column)
            assert wanted is None or exact(cell) == wanted, f"{row.path} {column.id}: {exact(cell)} and by loops {wanted}"


@settings(max_examples=80, deadline=None)
@given(lines=some_lines, statement=statements(), calendar=st.sampled_from(CALENDARS))
def test_windows_keep_the_as_of_date_coverage_and_their_marks(
    lines: list[Line], statement: Statement, calendar: CalendarSettings
) -> None:
    ledger = SmallLedger(lines, COVERED, calendar=calendar)
    found = answered(statement, ledger)
    if found is None:
        return
    groups = [each.windows for each in found.periods] or [found.windows]
    for group in groups:
        for at, window in enumerate(group):
            for days in window.counted:
                assert COVERED.first <= days.first and days.last <= min(COVERED.last, found.as_of)
            assert (window.reason is None) == bool(window.counted_days)
            assert window.counted_days == sum(days.days for days in window.counted)
            if at and window.fairness is not None:
                assert not group[0].reason and not window.reason, "a pair needs both"
                if window.fairness == "equal_days":
                    assert window.counted_days == group[0].counted_days
            if at and not window.reason and not group[0].reason and window.asked and group[0].asked:
                assert window.fairness is not None


@settings(max_examples=80, deadline=None)
@given(lines=some_lines, as_of=st.integers(420, 900), grain=st.sampled_from(["month", "quarter", "week"]))
def test_periods_add_up_to_the_range_and_orders_lie_between(lines: list[Line], as_of: int, grain: str) -> None:
    statement = Statement(
        (ShownMeasure("net_sales"), ShownMeasure("orders")),
        (TimeLevel(grain),),  # type: ignore[arg-type]
        LastPeriods(6, "quarter", "completed"),
        PinnedDay(START + timedelta(as_of)),
    )
    found = answered(statement, SmallLedger(lines, COVERED))
    assert found is not None
    net = [exact(row.cells[0]) for row in found.rows]
    orders = [exact(row.cells[1]) for row in found.rows]
    if found.total.cells[0].value is None:
        return
    counted = [each for each in net if isinstance(each, Fraction)]
    assert sum(counted) == exact(found.total.cells[0])
    some = [each for each in orders if isinstance(each, Fraction)]
    assert max(some) <= exact(found.total.cells[1]) <= sum(some)  # type: ignore[operator]


@settings(max_examples=60, deadline=None)
@given(lines=some_lines, statement=statements(), data=st.data())
def test_proof_finds_every_cell_again_with_its_lines(lines: list[Line], statement: Statement, data: st.DataObject) -> None:
    ledger = SmallLedger(lines, COVERED)
    found = answered(statement, ledger)
    if found is None or found.rows == ():
        return
    row = data.draw(st.sampled_from([*found.rows, found.total]))
    at = data.draw(st.integers(0, len(found.columns) - 1))
    column = found.columns[at]
    source = ledger.source
    proof = prove(find(statement, ledger.facts, source, ledger.today, row.path, column.id))
    assert proof.result == row.cells[at] and proof.column == column and len(proof.labels) == len(row.path)
    by_id = dict(enumerate(lines))
    for number, operand in enumerate(proof.operands):
        ids = lines_behind(find(statement, ledger.facts, source, ledger.today, row.path, column.id), number).ids
        assert len(ids) == operand.lines
        behind = [by_id[int(each)] for each in ids]
        if operand.cell.value is None or MEASURES[column.measure].kind == "derived":
            continue
        assert exact(operand.cell) == measure(column.measure, behind), "the lines that are listed make the figure"
    if column.kind == "difference" and proof.result.value is not None:
        assert exact(proof.operands[0].cell) - exact(proof.operands[1].cell) == exact(proof.result)  # type: ignore[operator]


@settings(max_examples=60, deadline=None)
@given(lines=some_lines, as_of=st.integers(420, 900), split=st.integers(0, 40), grain=st.sampled_from(["month", "quarter"]))
def test_bridges_and_splits_add_up_at_every_row(lines: list[Line], as_of: int, split: int, grain: str) -> None:
    shown = ShownMeasure("net_sales", ("difference", "bridge", "price_volume_mix", "cumulative_share", "rank"))
    statement = Statement(
        (shown,), ("region", "rep"), ToDate(grain), PinnedDay(START + timedelta(as_of)), (PeriodBase(1, "year"),)  # type: ignore[arg-type]
    )  # fmt: skip
    found = answered(statement, SmallLedger(lines, COVERED))
    again = answered(statement, SmallLedger([*lines[split:], *lines[:split]], COVERED))
    if found is None or again is None:
        assert all(line.quantity is None for line in lines), "without quantities there is nothing to split by"
        return
    assert [row.cells for row in found.rows] == [row.cells for row in again.rows], "the order of the lines does not matter"
    for row in (*found.rows, found.total):
        cells = {column.id: exact(cell) for column, cell in zip(found.columns, row.cells, strict=True)}
        change = cells["net_sales.1.difference"]
        for kind in ("bridge", "price_volume_mix"):
            steps = [value for name, value in cells.items() if f".{kind}_" in name]
            if isinstance(change, str):
                assert set(steps) == {change}
            else:
                assert sum(steps) == change, f"{kind} of {row.path}"  # type: ignore[arg-type]


@settings(max_examples=60, deadline=None)
@given(
    lines=some_lines,
    as_of=st.integers(420, 900),
    grain=st.sampled_from(["week", "month", "quarter"]),
    name=st.sampled_from(["net_sales", "orders", "units"]),
)
def test_a_running_total_ends_at_the_to_date_value(lines: list[Line], as_of: int, grain: str, name: str) -> None:
    day = PinnedDay(START + timedelta(as_of))
    running = Statement((ShownMeasure(name, (), RunningTotal("year")),), (TimeLevel(grain),), ToDate("year"), day)  # type: ignore[arg-type]
    to_date = Statement((ShownMeasure(name),), (), ToDate("year"), day)
    ledger = SmallLedger([*lines, Line(COVERED.first, 1_00, "O1", quantity=1)], COVERED)
    along, whole = answered(running, ledger), answered(to_date, ledger)
    assert along is not None and whole is not None
    last = [exact(row.cells[0]) for row in along.rows if row.cells[0].value is not None]
    weeks_of_another_year = grain == "week"
    if last and not weeks_of_another_year and whole.total.cells[0].value is not None:
        assert last[-1] == exact(whole.total.cells[0])
    values = [each for each in last if isinstance(each, Fraction)]
    if name == "orders" and not weeks_of_another_year:
        assert values == sorted(values), "ids of a longer stretch are no fewer"


@settings(max_examples=60, deadline=None)
@given(lines=some_lines, statement=statements(), data=st.data(), fill=st.integers(0, 4))
def test_a_large_answer_is_the_same_one_filled_row_by_row(
    lines: list[Line], statement: Statement, data: st.DataObject, fill: int
) -> None:
    ledger = SmallLedger(lines, COVERED)
    whole = answered(statement, ledger)
    if whole is None:
        return
    asked = (statement, ledger.facts, ledger.source, ledger.today, Opened(max(len(statement.rows), 1)))
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(answering, "MOST_SENT", 0)
        large = answering.Answering(*asked)
        part = large.answer(fill)
    assert part.partial is (fill < len(whole.rows)) and large.answer().rows == whole.rows
    assert replace(part, rows=(), partial=False) == replace(whole, rows=())
    places = data.draw(st.permutations(range(len(whole.rows))))
    assert large.rows(places) == tuple(whole.rows[at] for at in places)
    by_period = [isinstance(level, TimeLevel) for level in statement.rows]
    for at, (row, full) in enumerate(zip(part.rows, whole.rows, strict=True)):
        if at < fill or all(by_period[: len(row.path)]):
            assert row == full, "the first rows, and the periods that a chart is drawn from, are filled"
        else:
            assert row == replace(full, cells=(), status=None, goals=None)
    with pytest.raises(QuestionError, match="there is no row"):
        large.rows([len(whole.rows)])


@settings(max_examples=80, deadline=None)
@given(lines=some_lines, statement=statements(), data=st.data())
def test_rows_are_shown_below_those_that_are_open(lines: list[Line], statement: Statement, data: st.DataObject) -> None:
    ledger, levels = SmallLedger(lines, COVERED), len(statement.rows)
    whole = answered(statement, ledger)
    if whole is None or not levels:
        return
    known = sorted({row.path for row in whole.rows if row.rest is None}, key=repr)
    paths = data.draw(st.sets(st.sampled_from([*known, ("nobody",), ()]))) if known else set()
    opened = Opened(data.draw(st.integers(1, levels)), tuple(paths))

    def is_open(path: tuple[str | None, ...]) -> bool:
        return not path or (len(path) < levels and (len(path) < opened.depth or path in paths))

    def is_shown(row: Row) -> bool:
        above = row.path if row.rest is not None else row.path[:-1]
        return all(is_open(above[:depth]) for depth in range(len(above) + 1))

    expected = tuple(replace(row, is_open=row.rest is None and is_open(row.path)) for row in whole.rows if is_shown(row))
    asked = answering.Answering(statement, ledger.facts, ledger.source, ledger.today, opened)
    assert asked.answer().rows == expected
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(answering, "MOST_SENT", 0)
        bare = asked.answer(0).rows
    assert [replace(row, cells=(), status=None, goals=None) for row in bare] == [
        replace(row, cells=(), status=None, goals=None) for row in expected
    ]
    assert asked.rows(range(len(expected))) == expected
