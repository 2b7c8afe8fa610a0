"""Running totals, moving figures, ranks, lists, bridges, splits and narrowed totals against plain loops over the lines."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date, timedelta
from fractions import Fraction

from hypothesis import given, settings
from hypothesis import strategies as st

from lofty_abacus.core.answer.answer import Answer, AnsweredWindow, Row
from lofty_abacus.core.answer.answering import answer
from lofty_abacus.core.calendar.settings import CalendarSettings
from lofty_abacus.core.statement.levels import TimeLevel
from lofty_abacus.core.statement.limits import StatusLimit, TopLimit
from lofty_abacus.core.statement.statement import Goal, Opened, ShownMeasure, Sort, Statement
from lofty_abacus.core.windows.as_of import PinnedDay
from lofty_abacus.core.windows.bases import PeriodBase
from lofty_abacus.core.windows.current import LastPeriods, ToDate
from lofty_abacus.core.windows.stretches import Along, Moving, RunningTotal
from tests.cells import exact
from tests.laws.test_answers_against_loops import COVERED, START, some_lines
from tests.ledgers import Line, SmallLedger
from tests.plain import counted, measure

FISCAL = 4


def month_start(day: date, months: int = 0) -> date:
    at = day.year * 12 + day.month - 1 + months
    return date(at // 12, at % 12 + 1, 1)


def first_of(day: date, reset: str) -> date:
    """First day of the fiscal year, quarter or month that holds a day, by counting months from April."""
    since = (day.month - FISCAL) % 12
    return month_start(day, -(since % {"month": 1, "quarter": 3, "year": 12}[reset]))


def over(lines: Iterable[Line], name: str, first: date, last: date, as_of: date) -> Fraction | str:
    """A measure over a stretch, cut by coverage and the as-of date."""
    first, last = max(first, COVERED.first), min(last, COVERED.last, as_of)
    return measure(name, counted(lines, first, last)) if first <= last else "no day"


def ask(lines: list[Line], statement: Statement) -> Answer:
    ledger = SmallLedger(lines, COVERED, calendar=CalendarSettings(fiscal_start_month=FISCAL))
    return answer(statement, ledger.facts, ledger.source, ledger.today, Opened(2))


def cells(found: Answer, row: Row) -> dict[str, Fraction | str]:
    return {column.id: exact(cell) for column, cell in zip(found.columns, row.cells, strict=True)}


def windows_of(found: Answer, row: Row) -> tuple[AnsweredWindow, ...]:
    assert row.slot is not None
    return found.periods[row.slot].windows


@settings(max_examples=80, deadline=None)
@given(
    lines=some_lines,
    as_of=st.integers(420, 900).map(lambda n: START + timedelta(n)),
    grain=st.sampled_from(["month", "quarter"]),
    reset=st.sampled_from([None, "month", "quarter", "year"]),
    name=st.sampled_from(["net_sales", "orders", "average_order_value"]),
)
def test_running_totals(lines: list[Line], as_of: date, grain: str, reset: str | None, name: str) -> None:
    if grain == "quarter" and reset == "month":
        return
    along = RunningTotal(reset)  # type: ignore[arg-type]
    statement = Statement(
        (ShownMeasure(name, (), along),), (TimeLevel(grain), "region"), LastPeriods(5, "quarter"), PinnedDay(as_of),  # type: ignore[arg-type]
        (PeriodBase(1, "year"), PeriodBase(1, "period")),
    )  # fmt: skip
    found = ask(lines, statement)
    whole = found.periods[0].windows
    for row in found.rows:
        mine = [line for line in lines if len(row.path) < 2 or line.region == row.path[1]]
        for at, window in enumerate(windows_of(found, row)):
            value = cells(found, row)[f"{name}~{along.name}.{at}.value"]
            if window.asked is None or window.period is None or whole[at].asked is None or window.asked.first > as_of:
                assert isinstance(value, str)
                continue
            start = whole[at].asked.first if reset is None else first_of(window.period.first, reset)  # type: ignore[union-attr]
            if start > window.asked.last:
                continue
            wanted = over(mine, name, start, window.asked.last, as_of)
            assert value == wanted or (wanted == "no day" and isinstance(value, str)), f"{row.path} base {at}"


@settings(max_examples=80, deadline=None)
@given(
    lines=some_lines,
    as_of=st.integers(420, 900).map(lambda n: START + timedelta(n)),
    periods=st.integers(1, 5),
    of=st.sampled_from(["sum", "mean"]),
    as_many=st.booleans(),
)
def test_moving_figures(lines: list[Line], as_of: date, periods: int, of: str, as_many: bool) -> None:
    along: Along = Moving(periods, of, as_many)  # type: ignore[arg-type]
    statement = Statement(
        (ShownMeasure("net_sales", (), along),), (TimeLevel("month"),), LastPeriods(9, "month", "completed"), PinnedDay(as_of)
    )
    found = ask(lines, statement)
    for row in found.rows:
        last = date.fromisoformat(f"{row.path[0]}-01")
        starts = [month_start(last, -back) for back in range(periods)]
        ends = {start: month_start(start, 1) - timedelta(1) for start in starts}
        counting = [start for start in starts if COVERED.first <= start <= COVERED.last and ends[start] <= as_of]
        value = exact(row.cells[0])
        if not counting or (len(counting) < periods and not as_many):
            assert value == "window_incomplete"
            continue
        total = sum((over(lines, "net_sales", start, ends[start], as_of) for start in counting), Fraction(0))  # type: ignore[misc]
        assert value == (total / len(counting) if of == "mean" else total)


@settings(max_examples=80, deadline=None)
@given(
    lines=some_lines,
    as_of=st.integers(420, 900).map(lambda n: START + timedelta(n)),
    name=st.sampled_from(["net_sales", "returns", "orders"]),
)
def test_ranks_and_lists(lines: list[Line], as_of: date, name: str) -> None:
    shown = ShownMeasure(name, ("rank", "cumulative", "cumulative_share"))
    found = ask(lines, Statement((shown,), ("rep",), ToDate("year"), PinnedDay(as_of), sort=Sort(f"{name}.0.value")))
    window = found.windows[0]
    if window.reason is not None or window.asked is None:
        return
    here = counted(lines, window.counted[0].first, window.counted[-1].last)
    values = {row.label: measure(name, [line for line in here if line.rep == row.path[0]]) for row in found.rows}
    so_far: list[str | None] = []
    for row in found.rows:
        got, mine = cells(found, row), values[row.label]
        assert isinstance(mine, Fraction)
        better = [other for other in values.values() if (other < mine if name == "returns" else other > mine)]  # type: ignore[operator]
        assert got[f"{name}.0.rank"] == len(better) + 1
        so_far.append(row.path[0])
        upto = measure(name, [line for line in here if line.rep in so_far])
        assert got[f"{name}.0.cumulative"] == upto
    order = [values[row.label] for row in found.rows]
    assert order == sorted(order, reverse=True), "by the column, the greatest first"  # type: ignore[type-var]


def rounded(value: Fraction) -> int:
    units = (abs(value.numerator) * 2 + value.denominator) // (2 * value.denominator)
    return -units if value < 0 else units


@settings(max_examples=100, deadline=None)
@given(
    lines=some_lines,
    as_of=st.integers(420, 900).map(lambda n: START + timedelta(n)),
    target=st.sampled_from(["90", "100", "99.5"]),
)
def test_bridges_splits_goals_and_narrowed_totals(lines: list[Line], as_of: date, target: str) -> None:
    if all(line.quantity is None for line in lines):
        return
    shown = (ShownMeasure("net_sales", ("difference", "bridge", "price_volume_mix", "contribution")), ShownMeasure("orders"))
    base = PeriodBase(1, "year")
    statement = Statement(shown, ("region", "rep"), ToDate("year"), PinnedDay(as_of), (base,), goals=(Goal("net_sales", target),))
    found = ask(lines, statement)
    if any(window.reason for window in found.windows):
        return
    now, then = (
        [line for line in lines if any(days.first <= line.day <= days.last for days in window.counted)]
        for window in found.windows
    )
    steps = dict.fromkeys(("lost", "new", "kept_down", "kept_up", "returns_only"), Fraction(0))
    kept_rows: set[tuple[str, str]] = set()
    for key in {(line.region, line.rep) for line in (*now, *then)}:
        sides = [[line for line in side if (line.region, line.rep) == key] for side in (now, then)]
        change = measure("net_sales", sides[0]) - measure("net_sales", sides[1])  # type: ignore[operator]
        sold = [any(not line.returned for line in side) for side in sides]
        if all(sold):
            kept_rows.add(key)
        step = (
            ("kept_up" if change > 0 else "kept_down")
            if all(sold)
            else "new"
            if sold[0]
            else "lost"
            if sold[1]
            else "returns_only"
        )
        steps[step] += change
    got = cells(found, found.total)
    assert {step: got[f"net_sales.1.bridge_{step}"] for step in steps} == steps
    assert {
        step: got[f"net_sales.1.price_volume_mix_{step}"] for step in ("price", "volume", "mix", "new", "lost", "not_split")
    } == split(now, then)
    current, before = measure("net_sales", now), measure("net_sales", then)
    at = [column.kind for column in found.columns].index("goal")
    assert found.total.cells[at].met is (100 * current >= Fraction(target) * before)  # type: ignore[operator]
    narrowed = ask(
        lines,
        Statement(shown[1:], ("region", "rep"), ToDate("year"), PinnedDay(as_of), (base,), limits=(StatusLimit(("kept",)),)),
    )
    left = [line for line in now if (line.region, line.rep) in kept_rows]
    assert exact(narrowed.total.cells[0]) == measure("orders", left)
    top = ask(lines, Statement(shown[1:], ("rep",), ToDate("year"), PinnedDay(as_of), limits=(TopLimit(1, "orders.0.value"),)))
    listed = [row for row in top.rows if row.rest is None]
    others = [line for line in now if line.rep != (listed[0].path[0] if listed else None)]
    for row in top.rows:
        if row.rest is not None:
            assert exact(row.cells[0]) == measure("orders", others) and row.rest == len({line.rep for line in others})


def split(now: list[Line], then: list[Line]) -> dict[str, Fraction]:
    """Price, volume and mix by product, in cents, by the formulas as they are written down."""
    steps = dict.fromkeys(("price", "volume", "mix", "new", "lost", "not_split"), 0)
    items: list[tuple[int, int, int, int]] = []
    for product in {line.product for line in (*now, *then)}:
        sides = [[line for line in side if line.product == product] for side in (now, then)]
        amounts = [sum(line.amount for line in side) for side in sides]
        sold = [any(not line.returned for line in side) for side in sides]
        whole = [all(line.quantity is not None for line in side) for side in sides]
        quantities = [sum(line.quantity or 0 for line in side) for side in sides]
        if all(sold) and all(whole) and min(quantities) > 0 and min(amounts) >= 0:
            items.append((quantities[0], amounts[0], quantities[1], amounts[1]))
        else:
            key = "not_split" if all(sold) or not any(sold) else "new" if sold[0] else "lost"
            steps[key] += amounts[0] - amounts[1]
    if items:
        expected = [rounded(Fraction(q1 * s0, q0)) for q1, _, q0, s0 in items]
        q1, s1, q0, s0 = (sum(item[at] for item in items) for at in range(4))
        steps["price"] = s1 - sum(expected)
        steps["volume"] = rounded(Fraction((q1 - q0) * s0, q0))
        steps["mix"] = sum(expected) - s0 - steps["volume"]
    return {step: Fraction(cents, 100) for step, cents in steps.items()}
