"""What is said beside figures: how names sort, what is posted of a window, how many periods a moving figure took."""

from __future__ import annotations

from datetime import date

from hypothesis import given
from hypothesis import strategies as st

from lofty_abacus.core.answer.answer import Answer, Posted
from lofty_abacus.core.answer.answering import answer
from lofty_abacus.core.lines import Members
from lofty_abacus.core.statement.levels import TimeLevel
from lofty_abacus.core.statement.limits import TopLimit
from lofty_abacus.core.statement.statement import Opened, ShownMeasure, Statement
from lofty_abacus.core.windows.as_of import PinnedDay
from lofty_abacus.core.windows.bases import PeriodBase
from lofty_abacus.core.windows.stretches import Moving
from lofty_abacus.telling.windows import cut_words, mark_words, row_marks
from tests.ledgers import Line, SmallLedger


def ask(ledger: SmallLedger, statement: Statement, depth: int = 1) -> Answer:
    return answer(statement, ledger.facts, ledger.source, ledger.today, Opened(depth))


def test_names_sort_as_people_expect() -> None:
    names = ["Customer 10", "Customer 2", "customer 3", "Émile", "Zoe", "Customer 2b", "Eric", "7", "30"]
    ledger = SmallLedger([Line(date(2026, 3, 1), 100, customer=name) for name in names])
    found = ask(ledger, Statement((ShownMeasure("net_sales"),), ("customer",), as_of=PinnedDay(date(2026, 3, 1))))
    assert [row.label for row in found.rows] == [
        "7", "30", "Customer 2", "Customer 2b", "customer 3", "Customer 10", "Émile", "Eric", "Zoe",
    ]  # fmt: skip


def test_members_of_one_name_show_their_keys() -> None:
    keys: list[str | None] = ["", "17", "4", "9", None]
    members = Members(5, lambda: (keys, ["(blank)", "Smith", "Smith", "Jones", "(not mapped)"]))
    assert [members.name(code) for code in range(5)] == ["(blank)", "Smith (17)", "Smith (4)", "Jones", "(not mapped)"]


def test_the_largest_changes_in_either_direction_are_one_limit() -> None:
    lines = [
        Line(date(year, 3, 1), amount, region=region)
        for region, was, now in (("up", 100, 900), ("down", 900, 50), ("still", 500, 501), ("little", 10, 20))
        for year, amount in ((2025, was), (2026, now))
    ]
    statement = Statement(
        (ShownMeasure("net_sales", ("difference",)),), ("region",), as_of=PinnedDay(date(2026, 3, 1)),
        bases=(PeriodBase(1, "year"),), limits=(TopLimit(2, "net_sales.1.difference", rest=False, size=True),),
    )  # fmt: skip
    assert {row.label for row in ask(SmallLedger(lines), statement).rows} == {"up", "down"}


def test_a_moving_figure_says_of_how_many_periods_it_is() -> None:
    ledger = SmallLedger([Line(date(2026, month, 2), 100 * month) for month in range(1, 6)])
    moving = ShownMeasure("net_sales", along=Moving(3, "sum", as_many=True))
    found = ask(ledger, Statement((moving,), (TimeLevel("month"),), as_of=PinnedDay(date(2026, 5, 31))))
    assert [row.cells[0].of for row in found.rows[:5]] == [1, 2, None, None, None]
    assert [row.cells[0].value for row in found.rows[:3]] == ["1.00", "3.00", "6.00"]


def test_what_is_posted_of_a_window_is_told_where_it_is_less_than_asked() -> None:
    lines = [Line(date(2024, month, 15), 100) for month in range(2, 13)] + [
        Line(date(2025, month, 15), 100) for month in range(1, 13)
    ]
    ledger = SmallLedger([*lines, Line(date(2024, 2, 1), 1), Line(date(2025, 12, 31), 1)])
    statement = Statement(
        (ShownMeasure("net_sales"),), ("region",), as_of=PinnedDay(date(2025, 12, 31)), bases=(PeriodBase(1, "year"),),
    )  # fmt: skip
    found = ask(ledger, statement)
    assert found.windows[0].posted is None and found.windows[1].posted == Posted(11, 12, "month")
    assert mark_words(found.windows, 1) == "11 of 12 months posted in 2024"
    assert row_marks(found, found.total) == row_marks(found, found.rows[0]) == ("11 of 12 months posted in 2024",)


def test_a_cut_period_is_named_with_its_end() -> None:
    ledger = SmallLedger([Line(date(2026, 5, day), 100) for day in (1, 20)])
    statement = Statement((ShownMeasure("net_sales"),), (TimeLevel("month"),), as_of=PinnedDay(date(2026, 5, 20)))
    found = ask(ledger, statement)
    said = {row.path[0]: cut_words(found.periods[row.slot or 0].windows[0]) for row in found.rows}
    assert said["2026-05"] == "to the 20th" and said["2026-04"] == ""


LABELS = st.lists(st.sampled_from(["", "Smith", "smith", "Émile", "C-2", "C-10", "C-1", "Z"]) | st.text(max_size=4), max_size=12)


@given(LABELS, LABELS, LABELS)
def test_further_members_take_their_places_among_those_that_stand_in_order(
    first: list[str], more: list[str], last: list[str]
) -> None:
    def all_of(labels: list[str]) -> Members:
        keys = [None if at == 1 else str(at) for at in range(len(labels))]
        return Members(len(labels), lambda: (keys, labels))

    labels, known = list(first), all_of(first)
    for further in (more, last):
        _ = known.name_rank(), [known.name(code) for code in range(known.size)]
        labels += further
        anew = all_of(labels)
        known = known.extended(len(labels), anew.load)
        assert known.name_rank().tolist() == anew.name_rank().tolist()
        assert [known.name(code) for code in range(known.size)] == [anew.name(code) for code in range(anew.size)]


def test_rows_of_members_are_kept_for_further_ones_as_long_as_they_are_called_the_same() -> None:
    def extended(members: Members, *labels: str) -> Members:
        keys, known = members.known or ([], [])
        whole = ([*keys, *labels], [*known, *labels])
        return members.extended(len(whole[0]), lambda: whole)

    begun = Members(3, lambda: (["", "17", "4"], ["(blank)", "Smith", "Jones"]))
    assert begun.name(1) == "Smith"
    begun.rows["closed"] = {1: "the row of Smith"}
    more = extended(begun, "Miller")
    assert more.rows == {"closed": {1: "the row of Smith"}} and more.rows["closed"] is not begun.rows["closed"]
    # A second Smith: both are called by their keys from now on.
    assert extended(more, "Smith").rows == {}
