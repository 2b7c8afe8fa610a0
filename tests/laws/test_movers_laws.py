"""Laws of movers, on random ledgers: whoever moves, the steps add up, sides and few are what plain loops find."""

from __future__ import annotations

from datetime import date
from fractions import Fraction

from hypothesis import given, settings
from hypothesis import strategies as st

from lofty_abacus.core.answer.answer import Cell
from lofty_abacus.core.answer.movers import Movement, Movers, movers
from lofty_abacus.core.statement.movers import MoversAsked
from lofty_abacus.core.statement.statement import ShownMeasure, Statement
from lofty_abacus.core.windows.as_of import PinnedDay
from lofty_abacus.core.windows.bases import PeriodBase
from lofty_abacus.telling.movers import told_movers
from tests.cells import exact
from tests.laws.test_totals_laws import as_ofs, ledger_of, lines_of_any_kind
from tests.ledgers import Line


def value(cell: Cell | None) -> Fraction:
    found = exact(cell) if cell is not None else None
    assert found is not None
    return found


def asked(lines: list[Line], as_of: date, **parts: object) -> Movers:
    ledger = ledger_of(lines)
    statement = Statement((ShownMeasure("net_sales"),), ("region", "rep"), as_of=PinnedDay(as_of), bases=(PeriodBase(1, "year"),))
    return movers(statement, ledger.facts, ledger.source, as_of, MoversAsked(**parts))  # type: ignore[arg-type]


def listed(side: Movement) -> list[Fraction]:
    return [value(each.shown["difference"]) for each in side.movers]


@settings(max_examples=60, deadline=None)
@given(lines_of_any_kind, as_ofs, st.integers(1, 4))
def test_steps_add_up_and_sides_hold_everybody(lines: list[Line], as_of: date, most: int) -> None:
    found = asked(lines, as_of, most=most)
    assert found.ups.count + found.downs.count + found.still + found.unknown == found.members
    if found.adds_up is None:
        assert found.unknown or not found.members
        return
    assert found.adds_up is True
    change = value(found.total.shown["difference"])
    for way in (found.steps, found.each):
        assert sum((value(each.amount) for each in way[1:-1]), Fraction(0)) == change
    sides = [value(side.total) for side in (found.ups, found.downs) if side.total is not None]
    assert sum(sides, Fraction(0)) == change
    for side, sign in ((found.ups, 1), (found.downs, -1)):
        ranked = listed(side)
        assert ranked == sorted(ranked, key=lambda each: -sign * each) and all(each * sign > 0 for each in ranked)
        assert len(ranked) + (side.rest.count if side.rest else 0) == side.count
    if found.split is not None:
        assert sum(value(each.amount) for each in found.split.steps) == change


@settings(max_examples=60, deadline=None)
@given(lines_of_any_kind, as_ofs)
def test_few_are_as_few_as_can_be(lines: list[Line], as_of: date) -> None:
    found = asked(lines, as_of, most=200)
    for side in (found.ups, found.downs):
        if side.few is None:
            continue
        sizes = sorted((abs(each) for each in listed(side)), reverse=True)
        assert sum(sizes[: side.few]) * 5 >= sum(sizes) * 4
        assert sum(sizes[: side.few - 1]) * 5 < sum(sizes) * 4


@settings(max_examples=40, deadline=None)
@given(lines_of_any_kind, as_ofs, st.decimals(0, 400, places=2))
def test_what_is_hidden_as_small_and_what_is_listed_is_the_whole(lines: list[Line], as_of: date, under: object) -> None:
    found = asked(lines, as_of, most=200, hide_under=str(under))
    if found.adds_up is None:
        return
    hidden = value(found.small.shown["difference"]) if found.small else Fraction(0)
    seen = [*listed(found.ups), *listed(found.downs)]
    assert all(abs(each) >= Fraction(str(under)) for each in seen)
    assert sum(seen, hidden) == value(found.total.shown["difference"])


@settings(max_examples=40, deadline=None)
@given(lines_of_any_kind, as_ofs)
def test_words_say_no_figure_that_is_not_there(lines: list[Line], as_of: date) -> None:
    told = told_movers(asked(lines, as_of)).told
    assert len(told.sentences) <= 5 and "\ue000" not in told.text
    for sentence in told.sentences:
        assert sentence[-1].text.endswith(".")
        assert all(piece.column and piece.path is not None for piece in sentence if piece.number)
