"""Returns on the day of their sale (semantics, section 1): worked by hand, and against a slow and obvious twin."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from datetime import date, timedelta
from fractions import Fraction

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lofty_abacus.core.answer.answering import answer
from lofty_abacus.core.days import day_number
from lofty_abacus.core.errors import QuestionError
from lofty_abacus.core.money import decimal_text
from lofty_abacus.core.placing.division import divided
from lofty_abacus.core.placing.placing import NOT_ALLOCATED, SEVERAL, placed_on_sale_days
from lofty_abacus.core.proof.finding import find, lines_behind
from lofty_abacus.core.proof.proving import prove
from lofty_abacus.core.statement.statement import Opened, ShownMeasure, Statement
from lofty_abacus.core.windows.as_of import PinnedDay
from lofty_abacus.core.windows.bases import PeriodBase
from lofty_abacus.core.windows.current import ToDate
from tests.ledgers import Line, SmallLedger

JANUARY, MARCH = date(2026, 1, 10), date(2026, 3, 5)
SOLD = (
    Line(JANUARY, 10_000, "A", "North", "Ada", "P1", "C1"),
    Line(JANUARY, 5_000, "A", "North", "Ada", "P2", "C1"),
    Line(JANUARY, 2_500, "B", "South", "Bo", "P1", "C2"),
    Line(MARCH, 800, "C", "South", "Bo", "P2", "C2"),
)
NET = Statement(
    (ShownMeasure("net_sales"), ShownMeasure("returns")),
    ("region",),
    ToDate("month"),
    PinnedDay(date(2026, 1, 31)),
    returns="sale_day",
)


def asked(
    lines: Sequence[Line], statement: Statement, today: date = date(2026, 6, 30)
) -> dict[tuple[str | None, ...], list[str | None]]:
    """Values of every row by its path; the total under ()."""
    ledger = SmallLedger(lines, today=today)
    found = answer(statement, ledger.facts, ledger.source, today, Opened(len(statement.rows)))
    return {row.path: [cell.value for cell in row.cells] for row in (*found.rows, found.total)}


def back(day: date, amount: int, order: str, product: str = "", **more: str) -> Line:
    return Line(day, -amount, order, product=product, is_return=True, **more)


def test_a_return_takes_the_day_and_the_members_of_its_sale() -> None:
    lines = [*SOLD, back(MARCH, 1_000, "A", "P2")]
    later = replace(NET, as_of=PinnedDay(date(2026, 3, 31)), window=ToDate("quarter"))
    found = asked(lines, later)
    assert found[("North",)] == ["140.00", "10.00"]
    placed = placed_on_sale_days(SmallLedger(lines).columns, divide=True)
    at = int(np.flatnonzero(placed.columns.side)[0])
    assert placed.columns.first_day + int(placed.columns.day[at]) == day_number(JANUARY)
    assert placed.own_day[at] == day_number(MARCH)
    members = {name: column.members.key(int(column.codes[at])) for name, column in placed.columns.dimensions.items()}
    assert members == {"order": "A", "region": "North", "rep": "Ada", "product": "P2", "customer": "C1"}


def test_a_return_counts_only_when_its_own_day_has_come() -> None:
    lines = [*SOLD, back(MARCH, 1_000, "A", "P2")]
    assert asked(lines, NET)[()] == ["175.00", "0.00"], "in January nobody knew of it"
    known = replace(NET, as_of=PinnedDay(MARCH), window=ToDate("quarter"))
    assert asked(lines, known)[()] == ["173.00", "10.00"]
    own = replace(known, returns="own_day", window=ToDate("month"))
    assert asked(lines, own)[()] == ["-2.00", "10.00"]


def test_a_refund_known_by_order_only_is_divided_to_the_last_cent() -> None:
    lines = [*SOLD, back(MARCH, 1_001, "A")]
    statement = replace(NET, rows=("product",), as_of=PinnedDay(MARCH), window=ToDate("year"))
    assert asked(lines, statement)[("P1",)][1] == "6.67"
    assert asked(lines, statement)[("P2",)][1] == "3.34"
    kept = replace(statement, refunds="not_allocated")
    assert asked(lines, kept)[(NOT_ALLOCATED,)] == ["-10.01", "10.01"]
    assert asked(lines, kept)[("P1",)][1] == "0.00"


def test_dimensions_in_which_an_order_differs_become_several() -> None:
    mixed = [
        Line(JANUARY, 100, "A", "North", "Ada", "P1", "C1"),
        Line(JANUARY, 100, "A", "South", "Ada", "P2", "C1"),
        back(MARCH, 50, "A", "P9"),
    ]
    statement = replace(NET, as_of=PinnedDay(MARCH), window=ToDate("year"))
    assert asked(mixed, statement)[(SEVERAL,)] == ["-0.50", "0.50"]
    assert asked(mixed, replace(statement, rows=("rep",)))[("Ada",)] == ["1.50", "0.50"]


@pytest.mark.parametrize(
    ("line", "why"),
    [
        (back(MARCH, 100, "Z"), "unknown_order"),
        (back(MARCH, 100, ""), "unknown_order"),
        (back(date(2026, 1, 9), 100, "A", "P1"), "before_its_sale"),
        (back(MARCH, 10_001, "A", "P1"), "larger_than_its_sale"),
        (back(MARCH, 15_001, "A"), "larger_than_its_sale"),
    ],
)
def test_a_return_without_a_sale_that_fits_stays_on_its_day_and_is_told(line: Line, why: str) -> None:
    ledger = SmallLedger([*SOLD, line])
    placed = placed_on_sale_days(ledger.columns, divide=True)
    assert list(placed.unplaced.values()) == [why]
    statement = replace(NET, as_of=PinnedDay(date(2026, 3, 31)), window=ToDate("year"), rows=())
    found = answer(statement, ledger.facts, ledger.source, date(2026, 6, 30))
    notice = next(each for each in found.notices if each.code == "returns_unplaced")
    assert (notice.lines, notice.amount) == (1, decimal_text(line.amount, 2))


def test_a_base_that_had_longer_for_its_returns_is_marked() -> None:
    ledger = SmallLedger(SOLD)
    statement = replace(NET, as_of=PinnedDay(MARCH), bases=(PeriodBase(1, "month"), PeriodBase(-1, "month")), rows=())

    def marked(asked_of: Statement) -> list[int]:
        found = answer(asked_of, ledger.facts, ledger.source, date(2026, 6, 30)).notices
        return [each.window for each in found if each.code == "returns_open"]

    assert marked(statement) == [1]
    assert marked(replace(statement, returns="own_day")) == []


def test_same_time_for_returns_cuts_those_of_the_base() -> None:
    lines = [*SOLD, back(date(2026, 2, 3), 1_000, "A", "P1"), back(MARCH, 300, "A", "P2"), back(date(2026, 3, 8), 50, "C", "P2")]
    statement = replace(NET, as_of=PinnedDay(date(2026, 3, 10)), bases=(PeriodBase(2, "month"),), rows=("region",))
    assert asked(lines, statement)[()][:4] == ["7.50", "162.00", "0.50", "13.00"]
    same = replace(statement, returns_within="same_time")
    found = asked(lines, same)
    # The base ends on 10 January, the current window on the as-of date itself: nothing of January came back on its own day.
    assert found[()][:4] == ["7.50", "175.00", "0.50", "0.00"]
    assert found[("North",)][:4] == ["0.00", "150.00", "0.00", "0.00"]
    ledger = SmallLedger(lines)
    notices = answer(same, ledger.facts, ledger.source, date(2026, 6, 30)).notices
    assert [(each.window, each.about) for each in notices if each.code.startswith("returns_s")] == [(1, "2026-01-10")]
    proof = prove(find(same, ledger.facts, ledger.source, date(2026, 6, 30), (), "net_sales.1.value"))
    assert (proof.operands[0].cell.value, proof.operands[0].lines) == ("175.00", 3)


def test_several_refunds_of_a_sale_add_up() -> None:
    lines = [*SOLD, back(MARCH, 6_000, "A", "P1"), back(MARCH, 5_000, "A", "P1"), back(MARCH, 4_000, "A", "P1")]
    placed = placed_on_sale_days(SmallLedger(lines).columns, divide=True)
    assert list(placed.unplaced.values()) == ["larger_than_its_sale"], "60 and 40 fit into 100, the 50 between them does not"


def test_proof_lists_the_lines_that_were_counted() -> None:
    ledger = SmallLedger([*SOLD, back(MARCH, 1_001, "A")])
    statement = replace(NET, as_of=PinnedDay(MARCH), window=ToDate("year"), rows=())
    found = lines_behind(find(statement, ledger.facts, ledger.source, date(2026, 6, 30), (), "returns.0.value"), 0)
    assert sorted(found.ids.tolist()) == [4, 4], "both parts are the fifth line"


def test_without_orders_there_is_no_day_of_the_sale() -> None:
    ledger = SmallLedger(SOLD)
    facts = replace(ledger.facts, dimensions=tuple(each for each in ledger.facts.dimensions if each.role != "order"))
    with pytest.raises(QuestionError, match="no column of this ledger is its order"):
        answer(NET, facts, ledger.source, date(2026, 6, 30))


@given(amount=st.integers(-(10**12), 10**12), over=st.lists(st.integers(0, 10**9), min_size=1, max_size=12).filter(any))
def test_parts_add_to_the_amount_and_lie_within_a_unit_of_their_share(amount: int, over: list[int]) -> None:
    parts = divided(amount, over)
    assert sum(parts) == amount
    assert all(abs(part - Fraction(amount * each, sum(over))) < 1 for part, each in zip(parts, over, strict=True))


ORDERS, PRODUCTS = ("A", "B", ""), ("P1", "P2", "")
some_lines = st.lists(
    st.builds(
        lambda day, amount, order, product, is_return: Line(
            date(2026, 1, 1) + timedelta(day),
            -amount if is_return else amount,
            order,
            "North",
            "Ada",
            product,
            "C",
            is_return=is_return,
        ),
        st.integers(0, 20),
        st.integers(0, 300),
        st.sampled_from(ORDERS),
        st.sampled_from(PRODUCTS),
        st.booleans(),
    ),
    max_size=14,
)


def plain_returns(lines: Sequence[Line], as_of: date) -> dict[str, int]:
    """Returned cents by product on the sale's day up to a day, by loops over lines as a person would do it."""
    ordered = sorted(enumerate(lines), key=lambda each: (each[1].day, orders_seen(lines).index(each[1].order), each[0]))
    sales = [line for _, line in ordered if not line.returned]
    left: dict[tuple[str, str], int] = {}
    found: dict[str, int] = {}

    def add(product: str, day: date, own: date, amount: int) -> None:
        if day <= as_of and own <= as_of:
            found[product] = found.get(product, 0) + amount

    for _, line in ordered:
        if not line.returned:
            continue
        of_order = [each for each in sales if line.order and each.order == line.order]
        same = [each for each in of_order if line.product and each.product == line.product]
        claims = [((line.order, line.product), same)] if same else []
        claims.append(((line.order, "*"), of_order))
        for key, group in claims:
            left.setdefault(key, sum(each.amount for each in group))
        chosen = same[:1] or of_order
        refund = -line.amount
        if not chosen or line.day < chosen[0].day or any(left[key] < refund for key, _ in claims):
            add(line.product, line.day, line.day, refund)
            continue
        for key, _ in claims:
            left[key] -= refund
        if line.product or len(chosen) == 1:
            add(line.product or chosen[0].product, chosen[0].day, line.day, refund)
            continue
        whole = sum(max(each.amount, 0) for each in chosen)
        if not whole:
            add(NOT_ALLOCATED, chosen[0].day, line.day, refund)
            continue
        shares = [Fraction(refund * max(each.amount, 0), whole) for each in chosen]
        parts = [int(share) for share in shares]
        order = sorted(range(len(chosen)), key=lambda at: (-(shares[at] - parts[at]), at))
        for at in order[: refund - sum(parts)]:
            parts[at] += 1
        for each, part in zip(chosen, parts, strict=True):
            add(each.product, each.day, line.day, part)
    return {product: amount for product, amount in found.items() if amount}


def orders_seen(lines: Sequence[Line]) -> list[str]:
    """Orders in the order of their codes."""
    return list(dict.fromkeys(["", *(line.order for line in lines)]))


@settings(max_examples=300, deadline=None)
@given(lines=some_lines, as_of=st.integers(0, 25))
def test_the_slow_twin_agrees(lines: list[Line], as_of: int) -> None:
    if not lines:
        return
    day = date(2026, 1, 1) + timedelta(as_of)
    ledger = SmallLedger(lines, today=date(2026, 2, 28))
    placed = placed_on_sale_days(ledger.columns, divide=True)
    columns = placed.known_by(day_number(day)).columns
    here = (columns.side == 1) & (columns.day.astype(np.int64) + columns.first_day <= day_number(day))
    product = columns.dimensions["product"]
    found: dict[str, int] = {}
    for at in np.flatnonzero(here).tolist():
        key = product.members.key(int(product.codes[at])) or ""
        found[key] = found.get(key, 0) - int(columns.amount[at])
    assert {key: amount for key, amount in found.items() if amount} == plain_returns(lines, day)
    assert int(placed.columns.amount.sum()) == int(ledger.columns.amount.sum()), "no cent is lost on the way"


@settings(max_examples=200, deadline=None)
@given(lines=some_lines, as_of=st.integers(0, 25), back_by=st.integers(1, 3))
def test_same_time_agrees_with_reading_the_lines_as_they_were_known_then(lines: list[Line], as_of: int, back_by: int) -> None:
    if not lines:
        return
    day = date(2026, 1, 1) + timedelta(as_of)
    ledger = SmallLedger(lines, today=date(2026, 2, 28))
    statement = replace(
        NET, window=ToDate("week"), as_of=PinnedDay(day), bases=(PeriodBase(back_by, "week"),), rows=("product",),
        measures=(ShownMeasure("net_sales"), ShownMeasure("lines")), returns_within="same_time",
    )  # fmt: skip
    found = answer(statement, ledger.facts, ledger.source, date(2026, 2, 28))
    window = found.windows[1].counted
    then = placed_on_sale_days(ledger.columns, divide=True).known_by(day_number(day - timedelta(7 * back_by))).columns
    inside = np.zeros(len(then), bool)
    days = then.day.astype(np.int64) + then.first_day
    for each in window:
        inside |= (days >= day_number(each.first)) & (days <= day_number(each.last))
    expected = decimal_text(int(then.amount[inside].sum()), 2) if window else None
    assert found.total.cells[1].value == expected
    assert found.total.cells[3].value == (str(int(inside.sum())) if window else None)
