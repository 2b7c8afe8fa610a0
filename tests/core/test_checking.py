from __future__ import annotations

from datetime import date

import pytest

from lofty_abacus.core.answer import listed, rows, table
from lofty_abacus.core.answer.answer import Answer
from lofty_abacus.core.answer.answering import answer
from lofty_abacus.core.answer.nodes import Node, Siblings
from lofty_abacus.core.answer.resolve import resolve
from lofty_abacus.core.errors import QuestionError
from lofty_abacus.core.grouping.source import ColumnsSource
from lofty_abacus.core.measures.table import MEASURES
from lofty_abacus.core.proof.finding import find, lines_behind
from lofty_abacus.core.proof.proving import prove
from lofty_abacus.core.statement.levels import TimeLevel
from lofty_abacus.core.statement.limits import TopLimit
from lofty_abacus.core.statement.statement import CountedFilter, Opened, ShownMeasure, Sort, Statement
from lofty_abacus.core.windows.as_of import PinnedDay
from lofty_abacus.core.windows.bases import PeriodBase
from lofty_abacus.core.windows.current import Dates
from tests.cells import value
from tests.ledgers import Line, SmallLedger

DAY = date(2026, 3, 1)
LEDGER = SmallLedger([Line(DAY, 10_00, "O1", "North", "Ada", "P1", "C1"), Line(DAY, 5_00, "O2", "South", "Bo", "P2", "C2", None)])
BARE = SmallLedger([Line(DAY, 10_00, quantity=None)])
NET = (ShownMeasure("net_sales"),)


@pytest.mark.parametrize(
    ("statement", "part", "words"),
    [
        (Statement(()), "measures", "shows nothing"),
        (Statement((ShownMeasure("net_sale"),)), "measures[0]", "Did you mean 'net_sales'"),
        (Statement(NET + NET), "measures", "named 2 times"),
        (Statement(NET, ("regoin",)), "rows[0]", "Did you mean 'region'"),
        (Statement(NET, ("region", "region")), "rows", "named 2 times"),
        (Statement((ShownMeasure("net_sales", ("difference",)),)), "measures[0]", "needs something to compare"),
        (Statement((ShownMeasure("margin_percent", ("share_of_all",)),)), "measures[0]", "no line of this ledger has a cost"),
        (Statement((ShownMeasure("return_rate", ("share_of_all",)),)), "measures[0]", "a share of return_rate means nothing"),
        (Statement((ShownMeasure("net_sales", ("share_of_parent",)),)), "measures[0]", "no parent"),
        (Statement(NET, filters=(CountedFilter("region", ()),)), "filters[0]", "no member is named"),
        (Statement(NET, filters=(CountedFilter("region", ("Nort",)),)), "filters[0]", "Did you mean 'North'"),
        (Statement(NET, filters=(CountedFilter("zone", ("x",)),)), "filters[0]", "no dimension 'zone'"),
        (Statement(NET, sort=Sort("net_sales.3.value")), "sort", "no column"),
        (Statement(NET, bases=(PeriodBase(1, "year"), PeriodBase(1, "year"))), "bases", "named 2 times"),
        (Statement(NET, bases=tuple(PeriodBase(n, "year") for n in range(1, 10))), "bases", "too many"),
    ],
)
def test_what_cannot_be_answered_is_refused_by_part(statement: Statement, part: str, words: str) -> None:
    with pytest.raises(QuestionError, match=words) as caught:
        answer(statement, LEDGER.facts, LEDGER.source, LEDGER.today)
    assert caught.value.part == part
    assert caught.value.way_out


@pytest.mark.parametrize("name", sorted(MEASURES))
def test_every_measure_answers_or_says_what_the_ledger_lacks(name: str) -> None:
    statement = Statement((ShownMeasure(name),), as_of=PinnedDay(DAY))
    if MEASURES[name].given:
        with pytest.raises(QuestionError, match="no line of this ledger has a"):
            answer(statement, BARE.facts, BARE.source, BARE.today)
    else:
        assert answer(statement, BARE.facts, BARE.source, BARE.today).total.cells[0].reason in (None, "base_is_zero")


def test_unknown_rows_columns_and_operands_of_a_proof() -> None:
    statement = Statement(NET, ("region",), as_of=PinnedDay(DAY))
    facts, source, today = LEDGER.facts, LEDGER.source, LEDGER.today
    with pytest.raises(QuestionError, match="no line in any window"):
        prove(find(statement, facts, source, today, ("East",), "net_sales.0.value"))
    with pytest.raises(QuestionError, match="no column"):
        prove(find(statement, facts, source, today, (), "orders.0.value"))
    with pytest.raises(QuestionError, match="1 levels of rows"):
        prove(find(statement, facts, source, today, ("North", "Ada"), "net_sales.0.value"))
    with pytest.raises(QuestionError, match="1 operands"):
        lines_behind(find(statement, facts, source, today, (), "net_sales.0.value"), 4)


def test_rows_sort_by_a_column_within_their_parent_undefined_last() -> None:
    lines = [
        Line(date(2026, 3, 1), 10_00, region="A", rep="a"),
        Line(date(2025, 3, 1), 5_00, region="A", rep="a"),
        Line(date(2026, 3, 1), 30_00, region="B", rep="b"),
        Line(date(2026, 3, 1), 20_00, region="C", rep="c"),
        Line(date(2025, 3, 1), 80_00, region="C", rep="c"),
    ]
    ledger = SmallLedger(lines)
    shown = (ShownMeasure("net_sales", ("percent_change",)),)

    def order(sort: Sort | None) -> list[str | None]:
        statement = Statement(
            shown, ("region", "rep"), as_of=PinnedDay(date(2026, 3, 1)), bases=(PeriodBase(1, "year"),), sort=sort
        )
        found = answer(statement, ledger.facts, ledger.source, ledger.today, Opened(1))
        return [row.path[0] for row in found.rows]

    assert order(None) == ["A", "B", "C"]
    assert order(Sort("net_sales.0.value")) == ["B", "C", "A"]
    assert order(Sort("net_sales.1.percent_change")) == ["A", "C", "B"]
    assert order(Sort("net_sales.1.percent_change", descending=False)) == ["C", "A", "B"]


def test_only_open_rows_are_given_and_paths_open_single_rows() -> None:
    statement = Statement(NET, ("region", "rep"), as_of=PinnedDay(DAY))
    found = answer(statement, LEDGER.facts, LEDGER.source, LEDGER.today, Opened(1, (("South",),)))
    assert [(row.path, row.can_open, row.is_open) for row in found.rows] == [
        (("North",), True, False),
        (("South",), True, True),
        (("South", "Bo"), False, False),
    ]


def test_levels_from_a_lookup_have_a_member_for_unknown_keys() -> None:
    ledger = SmallLedger(
        [Line(DAY, 10_00, product="P1"), Line(DAY, 5_00, product="P9"), Line(DAY, 1_00, product="")],
        levels={"category": ("product", {"P1": "Clays"})},
    )
    statement = Statement(NET, ("category",), as_of=PinnedDay(DAY))
    found = answer(statement, ledger.facts, ledger.source, ledger.today)
    assert {row.path: value(found, "net_sales.0.value", *row.path) for row in found.rows} == {
        ("Clays",): 10,
        (None,): 5,
        ("",): 1,
    }
    assert next(row for row in found.rows if row.path == (None,)).label == "(not mapped)"
    only = Statement(NET, ("category",), as_of=PinnedDay(DAY), filters=(CountedFilter("category", (None,)),))
    assert resolve(only, ledger.facts, ledger.source, ledger.today).filters
    assert value(answer(only, ledger.facts, ledger.source, ledger.today), "net_sales.0.value") == 5


def test_an_empty_ledger_has_a_clear_error() -> None:
    ledger = SmallLedger([])
    with pytest.raises(QuestionError, match="nothing is posted"):
        answer(Statement(NET), ledger.facts, ledger.source, ledger.today)
    pinned = answer(Statement(NET, as_of=PinnedDay(DAY)), ledger.facts, ledger.source, ledger.today)
    assert pinned.total.cells[0].reason == "before_coverage"


def test_more_rows_than_are_shown_are_refused_before_they_are_made(monkeypatch: pytest.MonkeyPatch) -> None:
    lines = [Line(DAY, 100 * n, f"O{n}", "North", f"Rep {n % 3}") for n in range(1, 9)]
    ledger = SmallLedger(lines)
    monkeypatch.setattr(rows, "MOST_ROWS", 5)
    monkeypatch.setattr(listed, "MOST_ROWS", 5)
    made: list[Node] = []
    node_at = Siblings.__getitem__
    monkeypatch.setattr(Siblings, "__getitem__", lambda few, at: made.append(node := node_at(few, at)) or node)

    def asked(statement: Statement, depth: int = 1) -> Answer:
        return answer(statement, ledger.facts, ledger.source, ledger.today, Opened(depth))

    with pytest.raises(QuestionError, match="more than 5 rows are open") as caught:
        asked(Statement(NET, ("order",), as_of=PinnedDay(DAY)))
    assert not made and caught.value.way_out
    with pytest.raises(QuestionError, match="more than 5 rows"):
        asked(Statement(NET, ("rep", "order"), as_of=PinnedDay(DAY)), 2)
    few = asked(Statement(NET, ("order",), as_of=PinnedDay(DAY), limits=(TopLimit(3, "net_sales.0.value"),)))
    assert [row.label for row in few.rows] == ["O8", "O7", "O6", "5 others"], "a limit leaves few of many"


def test_more_columns_than_are_shown_are_refused_before_anything_is_added_up(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(table, "MOST_COLUMNS", 40)
    monkeypatch.setattr(ColumnsSource, "totals", lambda *_: pytest.fail("nothing is added up"))
    statement = Statement(NET, ("rep",), Dates(date(2026, 1, 1)), PinnedDay(DAY), across=(TimeLevel("day"),))
    with pytest.raises(QuestionError, match="more than 40 columns would stand across"):
        answer(statement, LEDGER.facts, LEDGER.source, LEDGER.today)
