"""Who moved in the demo ledger against plain SQL: ranks, bridge, concentration, price and volume, every member and step."""

from __future__ import annotations

from dataclasses import replace
from datetime import date
from fractions import Fraction
from itertools import pairwise
from typing import Any

import pytest

from lofty_abacus.actions.figures.answer_movers import answer_movers
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import Posting
from lofty_abacus.core.answer.answer import Cell
from lofty_abacus.core.answer.movers import Movement
from lofty_abacus.core.errors import QuestionError
from lofty_abacus.core.statement.movers import MoversAsked
from lofty_abacus.core.statement.statement import ShownMeasure, Statement
from lofty_abacus.core.windows.as_of import PinnedDay
from lofty_abacus.core.windows.bases import PeriodBase
from lofty_abacus.demo.scenario import LEDGER_NAME
from lofty_abacus.telling.movers import ToldMovers
from tests.cells import exact
from tests.oracle.asking import Asked

NOW = "day BETWEEN '2026-01-01' AND '2026-10-17'"
THEN = "day BETWEEN '2025-01-01' AND '2025-10-17'"
BY_REP = Statement(
    (ShownMeasure("net_sales"),), ("rep", "product"), as_of=PinnedDay(date(2026, 10, 17)), bases=(PeriodBase(1, "year"),)
)


@pytest.fixture(scope="module")
def asked(office: Office, demo: Posting) -> Asked:
    return Asked(office, LEDGER_NAME)


def movers(asked: Asked, statement: Statement = BY_REP, **parts: object) -> ToldMovers:
    return answer_movers(asked.office, asked.ledger, statement, MoversAsked(**parts))  # type: ignore[arg-type]


def by_member(asked: Asked, dimension: str, where: str = "TRUE") -> dict[str, dict[str, Any]]:
    rows = asked.sql(
        f"""
        SELECT {dimension} AS name, SUM(IF({NOW}, amount, 0)) AS now, SUM(IF({THEN}, amount, 0)) AS was,
            SUM(side = 'sale' AND {NOW}) AS sold, SUM(side = 'sale' AND {THEN}) AS had
        FROM {{lines}} WHERE ({NOW} OR {THEN}) AND {where} GROUP BY {dimension}
        """
    )
    return {each["name"]: each for each in rows}


def value(cell: Cell | None) -> Fraction:
    assert cell is not None
    found = exact(cell)
    assert found is not None
    return found


def changes(side: Movement) -> list[tuple[str, Fraction]]:
    return [(each.label, value(each.shown["difference"])) for each in side.movers]


@pytest.mark.parametrize("most", [200, 3])
def test_sides_are_ranked_and_the_rest_is_evaluated_from_its_lines(asked: Asked, most: int) -> None:
    found, wanted = movers(asked, most=most), by_member(asked, "rep")
    moved = {name: each["now"] - each["was"] for name, each in wanted.items()}
    for side, sign in ((found.ups, 1), (found.downs, -1)):
        ranked = sorted(((name, by) for name, by in moved.items() if by * sign > 0), key=lambda each: (-sign * each[1], each[0]))
        assert changes(side) == ranked[:most] and side.count == len(ranked) > 3
        rest = [by for _, by in ranked[most:]]
        assert (side.rest is None) == (not rest)
        if side.rest is not None:
            assert value(side.rest.shown["difference"]) == sum(rest) and side.rest.count == len(rest)
            of_rest = [wanted[name] for name, _ in ranked[most:]]
            now, was, all_now, all_was = (
                sum(each[key] for each in rows) for rows in (of_rest, wanted.values()) for key in ("now", "was")
            )
            assert value(side.rest.shown["percent_change"]) == (now - was) / was
            assert value(side.rest.shown["contribution"]) == (now - was) / all_was
            assert value(side.rest.shown["share_change"]) == now / all_now - was / all_was
        assert value(side.total) == sum(by for _, by in ranked)
    whole = sum(each["was"] for each in wanted.values())
    for mover in (*found.ups.movers, *found.downs.movers):
        row = wanted[mover.label]
        assert value(mover.shown["contribution"]) == moved[mover.label] / whole
        now = sum(each["now"] for each in wanted.values())
        assert value(mover.shown["share_change"]) == row["now"] / now - row["was"] / whole
        if row["was"] > 0:
            assert value(mover.shown["percent_change"]) == moved[mover.label] / row["was"]


def test_how_few_make_most_of_a_movement(asked: Asked) -> None:
    found = movers(asked, replace(BY_REP, rows=("product",)), most=5)
    moved = sorted((each["now"] - each["was"] for each in by_member(asked, "product").values()), reverse=True)
    for side, ranked in ((found.ups, [by for by in moved if by > 0]), (found.downs, [by for by in reversed(moved) if by < 0])):
        few = next(at for at in range(1, len(ranked) + 1) if sum(ranked[:at]) / sum(ranked) >= Fraction(4, 5))
        assert side.few == few and 1 < few < side.count == len(ranked)
        for point in side.shares:
            assert value(point.share) == sum(ranked[: point.members]) / sum(ranked)
        assert side.shares[-1].members == len(ranked) and len(side.shares) <= 60


@pytest.mark.parametrize("rep", [None, "A. Corran"])
def test_the_bridge_leads_from_the_base_to_now_by_kind_and_member_by_member(asked: Asked, rep: str | None) -> None:
    path = () if rep is None else (rep,)
    where = "TRUE" if rep is None else f"rep = '{rep}'"
    dimension = "rep" if rep is None else "product"
    found, wanted = movers(asked, path=path, most=4), by_member(asked, dimension, where)
    kinds: dict[str, list[Fraction]] = {}
    for each in wanted.values():
        by = each["now"] - each["was"]
        kept = "kept_up" if by > 0 else "kept_down" if by < 0 else "still"
        status = kept if each["sold"] and each["had"] else "new" if each["sold"] else "lost" if each["had"] else "returns_only"
        kinds.setdefault(status, []).append(by)
    steps = {each.kind: (each.count, value(each.amount)) for each in found.steps}
    assert steps.pop("base")[1] == sum(each["was"] for each in wanted.values())
    assert steps.pop("current")[1] == sum(each["now"] for each in wanted.values())
    assert steps == {kind: (len(by), sum(by)) for kind, by in kinds.items() if kind != "still"}
    assert found.adds_up is True and found.labels == path
    for way in (found.steps, found.each):
        for before, step in pairwise(way[:-1]):
            assert value(step.starts) == value(before.ends) and value(step.ends) - value(step.starts) == value(step.amount)
        assert value(way[-2].ends) == value(way[-1].amount)
    assert sum(each.count for each in found.each) == sum(len(by) for kind, by in kinds.items()) - found.still
    assert [each.kind for each in found.each].count("rest") == (2 if rep else 1)


def test_price_volume_and_mix_are_those_of_the_items_that_are_listed(asked: Asked) -> None:
    found = movers(asked)
    assert found.split is not None and found.split.dimensions == ("product",)
    steps = {each.kind: value(each.amount) for each in found.split.steps}
    assert sum(steps.values()) == value(found.total.shown["difference"])
    wanted = asked.sql(
        f"""
        SELECT product AS name, SUM(IF({NOW}, amount, 0)) AS s1, SUM(IF({THEN}, amount, 0)) AS s0,
            SUM(IF({NOW}, quantity, 0)) AS q1, SUM(IF({THEN}, quantity, 0)) AS q0
        FROM {{lines}} WHERE {NOW} OR {THEN} GROUP BY product
        """
    )
    ranked = sorted(wanted, key=lambda each: -abs(each["s1"] - each["s0"]))
    assert found.split.more == len(wanted) - len(found.split.items)
    assert [value(each.change) for each in found.split.items] == [
        each["s1"] - each["s0"] for each in ranked[: len(found.split.items)]
    ]
    for item, each in zip(found.split.items, ranked, strict=False):
        expected = each["q1"] * each["s0"] / each["q0"]
        assert item.status == "kept" and abs(value(item.price) - (each["s1"] - expected)) <= Fraction(1, 200)
        assert value(item.price) + value(item.moved) == value(item.change)


def test_small_changes_are_told_as_one_and_kinds_and_names_are_told_apart(asked: Asked) -> None:
    wanted = {name: each["now"] - each["was"] for name, each in by_member(asked, "rep").items()}
    found = movers(asked, hide_under="13246.10")
    small = [by for by in wanted.values() if by and abs(by) < Fraction("13246.10")]
    assert found.small is not None and (found.small.count, value(found.small.shown["difference"])) == (len(small), sum(small))
    listed = {each.label for each in (*found.ups.movers, *found.downs.movers)}
    assert listed == {name for name, by in wanted.items() if abs(by) >= Fraction("13246.10")}
    lost = movers(asked, kinds=("lost",))
    assert [each.label for each in lost.downs.movers] == ["S. Belmore"] and not lost.ups.movers and lost.kinds["lost"] == 1
    assert lost.downs.count == found.downs.count, "what is filtered is still counted"
    assert [each.label for each in movers(asked, search="qUill").ups.movers] == ["J. Quillan"]


def test_a_further_level_and_another_base_and_measure(asked: Asked) -> None:
    statement = replace(
        BY_REP,
        measures=(ShownMeasure("net_sales"), ShownMeasure("return_rate"), ShownMeasure("orders")),
        rows=("rep",),
        bases=(PeriodBase(1, "year"), PeriodBase(2, "year")),
    )
    found = movers(asked, statement, path=("A. Corran",), then=("product",), base=2)
    wanted = asked.sql(
        "SELECT product, SUM(IF(day BETWEEN '2026-01-01' AND '2026-10-17', amount, -amount)) AS by_ FROM {lines} WHERE rep = "
        "'A. Corran' AND (day BETWEEN '2026-01-01' AND '2026-10-17' OR day BETWEEN '2024-01-01' AND '2024-10-17') GROUP BY product"
    )
    assert (found.level, found.levels) == ("product", ("rep", "product"))
    assert found.ups.count == sum(each["by_"] > 0 for each in wanted) and found.downs.count == sum(
        each["by_"] < 0 for each in wanted
    )
    rate = movers(asked, statement, measure="return_rate")
    assert rate.adds_up is None and not rate.steps and rate.split is None and rate.ups.few is None
    assert rate.polarity == "more_is_adverse" and "contribution" not in rate.total.shown
    orders = movers(asked, statement, measure="orders")
    assert not orders.steps and value(orders.total.shown["difference"]) > 0


@pytest.mark.parametrize(
    ("statement", "parts", "said"),
    [
        (replace(BY_REP, bases=()), {}, "nobody moved"),
        (replace(BY_REP, rows=()), {}, "nobody moved"),
        (BY_REP, {"base": 2}, "no base 2"),
        (BY_REP, {"measure": "orders"}, "does not show"),
        (BY_REP, {"path": ("A. Corran", "P-101")}, "no level below"),
        (BY_REP, {"path": ("Nobody",)}, "no line"),
        (BY_REP, {"then": ("colour",)}, "no dimension"),
        (BY_REP, {"hide_under": "much"}, "plain number"),
        (BY_REP, {"hide_under": "-1"}, "never below 0"),
        (BY_REP, {"most": 0}, "cannot be made"),
    ],
)
def test_what_cannot_be_asked_is_refused_with_what_would_work(
    asked: Asked, statement: Statement, parts: dict[str, Any], said: str
) -> None:
    with pytest.raises(QuestionError, match=said):
        movers(asked, statement, **parts)
