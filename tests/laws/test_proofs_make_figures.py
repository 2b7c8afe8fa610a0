"""Proofs of numbers of every kind: the operands make the number by its formula, and their days add up to the operands."""

from __future__ import annotations

from datetime import date, timedelta
from fractions import Fraction

from hypothesis import given, settings
from hypothesis import strategies as st

from lofty_abacus.core.answer.answer import AnsweredColumn
from lofty_abacus.core.calendar.settings import CalendarSettings
from lofty_abacus.core.measures.table import MEASURES, DefinedMeasure
from lofty_abacus.core.proof.days import days_behind
from lofty_abacus.core.proof.finding import Found, find, lines_behind
from lofty_abacus.core.proof.proof import Operand, OperandDays, Proof
from lofty_abacus.core.proof.proving import prove
from lofty_abacus.core.statement.levels import TimeLevel
from lofty_abacus.core.statement.statement import Goal, ShownMeasure, Sort, Statement
from lofty_abacus.core.windows.as_of import PinnedDay
from lofty_abacus.core.windows.bases import PeriodBase
from lofty_abacus.core.windows.current import LastPeriods, ToDate
from lofty_abacus.core.windows.stretches import Along, Moving, RunningTotal
from tests.cells import exact
from tests.laws.test_answers_against_loops import CALENDARS, COVERED, START, answered, some_lines, statements
from tests.ledgers import Line, SmallLedger
from tests.plain import measure

OWN = (
    DefinedMeasure("net_by_order", "net_sales / orders"),
    DefinedMeasure("kept", "net_sales - cost - 3 * orders"),
    DefinedMeasure("margin_or_none", "margin_percent otherwise 0", "percent"),
)
IDS = {"orders": "order", "active_customers": "customer", "active_products": "product"}
ADDS_UP = {name for name, each in MEASURES.items() if each.kind == "additive"} | set(IDS)


@st.composite
def lists(draw: st.DrawFn) -> Statement:
    """Statements with what runs along time or down a list, steps of changes, goals and measures of one's own."""
    name = draw(st.sampled_from([*sorted(MEASURES), *(each.name for each in OWN)]))
    kind = MEASURES[name].kind if name in MEASURES else "derived"
    show = ["difference", "percent_change", "rank", "cumulative"]
    show += [] if kind == "derived" else ["cumulative_share", "contribution", "share_change", "share_of_parent"]
    show += ["bridge", "price_volume_mix"] if name == "net_sales" else []
    timed = draw(st.booleans())
    along: Along | None = draw(
        st.sampled_from([None, RunningTotal("quarter"), RunningTotal(None), Moving(3, "mean", True), Moving(2, "sum")])
    )
    return Statement(
        (ShownMeasure(name, tuple(show), along if timed else None),),  # type: ignore[arg-type]
        draw(st.sampled_from([("region", "rep"), ("rep",), ("product", "region")])),
        LastPeriods(4, "month") if timed else draw(st.sampled_from([ToDate("year"), ToDate("quarter")])),
        PinnedDay(START + timedelta(draw(st.integers(420, 900)))),
        (PeriodBase(1, "year"), PeriodBase(1, "period")),
        sort=None if timed else Sort(f"{name}.0.value", draw(st.booleans())),
        across=(TimeLevel("month"),) if timed else (),
        defined=OWN,
        goals=() if timed or kind == "derived" else (Goal(name, "90"),),
    )


def some_cell(data: st.DataObject, statement: Statement, ledger: SmallLedger) -> tuple[Found, str] | None:
    found = answered(statement, ledger)
    if found is None:
        return None
    row = data.draw(st.sampled_from([*found.rows, found.total]))
    at = data.draw(st.integers(0, len(found.columns) - 1))
    cell = find(statement, ledger.facts, ledger.source, ledger.today, row.path, found.columns[at].id)
    assert prove(cell).result == row.cells[at]
    return cell, f"{found.columns[at].id} of {row.path}"


@settings(max_examples=150, deadline=None)
@given(
    lines=some_lines, statement=st.one_of(statements(), lists()), calendar=st.sampled_from(CALENDARS), data=st.data()
)  # fmt: skip
def test_operands_make_the_number_and_their_days_the_operands(
    lines: list[Line], statement: Statement, calendar: CalendarSettings, data: st.DataObject
) -> None:
    chosen = some_cell(data, statement, SmallLedger(lines, COVERED, calendar=calendar))
    if chosen is None:
        return
    cell, named = chosen
    proof = prove(cell)
    check_formula(proof, named)
    days = days_behind(cell)
    assert len(days) == len(proof.operands)
    for at, (operand, listed) in enumerate(zip(proof.operands, days, strict=True)):
        behind = [lines[int(each)] for each in lines_behind(cell, at).ids]
        check_days(operand, listed, proof.column, behind)
        check_stretches(operand, proof.column, behind)


def check_formula(proof: Proof, named: str) -> None:
    result = exact(proof.result)
    if isinstance(result, str):
        return
    kind, values = proof.column.kind, [exact(each.cell) for each in proof.operands]
    facts = {fact.name: fact.value for fact in proof.facts}
    if kind == "rank":
        assert result == int(facts["ahead"]) + 1 and int(facts["ahead"]) < int(facts["siblings"])
        return
    if kind in ("bridge", "price_volume_mix"):
        assert sum(Fraction(value) for value in facts.values()) == values[0] - values[1], named  # type: ignore[operator]
        return
    assert result == made_of(kind, values), named  # type: ignore[arg-type]


def made_of(kind: str, values: list[Fraction]) -> Fraction:
    """The formulas as they are written down (sections 8 to 11)."""
    match kind, values:
        case (("value" | "scope" | "cumulative"), [only]):
            return only
        case "difference", [current, base]:
            return current - base
        case "percent_change", [current, base]:
            return (current - base) / base
        case (("attainment" | "goal"), [current, base]):
            return current / base
        case "index", [current, base]:
            return 100 * current / base
        case (("share" | "share_of_all" | "share_of_parent" | "cumulative_share"), [part, scope]):
            return part / scope
        case "share_change", [part, scope, base, base_scope]:
            return part / scope - base / base_scope
        case "contribution", [current, base, scope]:
            return (current - base) / scope
    raise AssertionError(f"no formula makes {kind} of {len(values)} operands")


def check_days(operand: Operand, listed: OperandDays, column: AnsweredColumn, behind: list[Line]) -> None:
    if not listed.days:
        assert operand.reason is not None or operand.cell.reason is not None
        return
    counted = [each for each in listed.days if each.counted]
    assert len(counted) == operand.counted_days
    assert all(each.cells == () or exact(each.cells[0]) in (0, "not_given") for each in listed.days if not each.counted)
    assert listed.days[-1].so_far == operand.cell, "what is counted by the last day is the figure"
    for at, each in enumerate(listed.columns):
        found = [exact(day.cells[at]) for day in listed.days]
        assert sum(value for value in found if not isinstance(value, str)) == (exact(each.sum) if each.sum.value else 0)
    if column.measure in ADDS_UP:
        (only,) = listed.columns
        assert only.name == column.measure
        if operand.cell.value is not None:
            assert exact(only.sum) == exact(operand.cell) * operand.divisor  # type: ignore[operator]
    if column.measure in IDS:
        seen: set[str] = {""}
        for day in listed.days:
            here = {getattr(line, IDS[column.measure]) for line in behind if line.day == day.day and not line.returned}
            assert exact(day.cells[0]) == len(here - seen), "an id is counted on its first day"
            seen |= here


def check_stretches(operand: Operand, column: AnsweredColumn, behind: list[Line]) -> None:
    if column.measure in ADDS_UP and operand.cell.value is not None:
        values = [exact(each.cell) for each in operand.stretches]
        assert sum(value for value in values if not isinstance(value, str)) == exact(operand.cell) * operand.divisor  # type: ignore[operator]
    if column.measure in MEASURES and MEASURES[column.measure].kind == "derived":
        for each in operand.stretches:
            here = [line for line in behind if each.first <= line.day <= each.last]
            # Lines that lack what the measure needs are not behind it.
            wanted = {measure(column.measure, here), *([] if here else ["not_given"])}
            assert exact(each.cell) in wanted, "a ratio is that of the stretch's own lines"


def test_an_order_that_repeats_is_new_once_and_a_ratio_has_the_days_of_both_parts() -> None:
    lines = [
        Line(date(2026, 1, 5), 120_00, "O1", rep="Ada"),
        Line(date(2026, 1, 7), 60_00, "O1", rep="Bo"),
        Line(date(2026, 1, 7), 40_00, "O2", rep="Ada"),
        Line(date(2026, 1, 8), -30_00, "O3", rep="Ada"),
    ]
    ledger = SmallLedger(lines, today=date(2026, 1, 8))
    statement = Statement(
        (ShownMeasure("orders"), ShownMeasure("average_order_value")), ("rep",), as_of=PinnedDay(date(2026, 1, 8))
    )

    def days(column: str, *path: str) -> list[list[str | None]]:
        (listed,) = days_behind(find(statement, ledger.facts, ledger.source, ledger.today, path, column))
        found = [[each.day.isoformat()[-2:], *(cell.value for cell in each.cells), each.so_far.value] for each in listed.days]
        return [["", *(each.name for each in listed.columns), ""], *(each for each in found if each[1] != "0" or each[0] > "04")]

    assert days("orders.0.value") == [["", "orders", ""], ["05", "1", "1"], ["06", "0", "1"], ["07", "1", "2"], ["08", "0", "2"]]
    assert days("orders.0.value", "Bo")[3] == ["07", "1", "1"], "new among the lines of the row"
    ratio = days("average_order_value.0.value")
    assert ratio[0] == ["", "amount_sold", "distinct_order", ""]
    assert ratio[-4:] == [
        ["05", "120.00", "1", "120"],
        ["06", "0.00", "0", "120"],
        ["07", "100.00", "1", "110"],
        ["08", "0.00", "0", "110"],
    ]
