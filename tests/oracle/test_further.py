"""Figures and days of a ledger's own, and conditions: the demo and a nasty ledger against hand-written SQL."""

from __future__ import annotations

import random
from collections.abc import Iterator
from dataclasses import replace
from datetime import date, timedelta
from fractions import Fraction
from typing import Any

import pytest

from lofty_abacus.actions.figures.answer_movers import answer_movers
from lofty_abacus.actions.figures.answer_scorecard import answer_scorecard
from lofty_abacus.actions.figures.check_table import check_table
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import NewLedger, Posting
from lofty_abacus.core.answer.scorecard import CardAsked
from lofty_abacus.core.statement.conditions import AS_OF, Condition, DayCompared, DayWithin, FigureBetween, Given, TextLike
from lofty_abacus.core.statement.levels import TimeLevel
from lofty_abacus.core.statement.movers import MoversAsked
from lofty_abacus.core.statement.statement import Goal, ShownMeasure, Statement
from lofty_abacus.core.windows.as_of import PinnedDay
from lofty_abacus.core.windows.bases import PeriodBase
from lofty_abacus.core.windows.current import ToDate
from lofty_abacus.demo.scenario import LEDGER_NAME
from tests.oracle.asking import Asked, cells_of, post_rows

END = date(2026, 10, 17)
YEARS = {0: (date(2026, 1, 1), END), 1: (date(2025, 1, 1), date(2025, 10, 17))}
FIGURES = ("list_amount", "freight", "freight_of_sales")
STATEMENT = Statement(
    tuple(ShownMeasure(name, ("difference",)) for name in ("net_sales", *FIGURES)),
    ("region", "channel"),
    ToDate("year"),
    PinnedDay(END),
    (PeriodBase(1, "year"),),
)
SUMS = (
    "SUM(amount) AS net_sales, SUM(list_amount) AS list_amount, SUM(freight) AS freight,"
    " SUM(IF(side = 'sale', freight, NULL)) AS freight_of_sales, COUNT(list_amount) AS with_list, COUNT(freight) AS with_freight"
)
CONDITIONS: dict[str, tuple[tuple[Condition, ...], str]] = {
    "none": ((), "TRUE"),
    "a range of an amount": ((FigureBetween("amount", "50", "499.99"),), "amount BETWEEN 50 AND 499.99"),
    "a range of a figure of its own": ((FigureBetween("freight", None, "3.5"),), "freight <= 3.5"),
    "late deliveries": ((DayCompared("delivery", "after", "day"),), "delivery > day"),
    "slips of the pen": ((DayCompared("delivery", "before", "day"),), "delivery < day"),
    "open at the as-of date": (
        (DayCompared("delivery", "after", AS_OF, or_blank=True),),
        f"(delivery > '{END}' OR delivery IS NULL)",
    ),
    "delivered in the quarter": ((DayWithin("delivery", ToDate("quarter")),), f"delivery BETWEEN '2026-10-01' AND '{END}'"),
    "fetched, and a name": (
        (Given("delivery", given=False), TextLike("rep", "contains", "an")),
        "delivery IS NULL AND rep LIKE '%an%'",
    ),
    "without a name": ((TextLike("channel", "begins", "st", exclude=True),), "LOWER(channel) NOT LIKE 'st%'"),
}


@pytest.fixture(scope="module")
def demo_asked(office: Office, demo: Posting) -> Asked:
    return Asked(office, LEDGER_NAME)


def expected(asked: Asked, where: str, day: str, levels: str) -> dict[tuple[tuple[Any, ...], int], dict[str, Any]]:
    found: dict[tuple[tuple[Any, ...], int], dict[str, Any]] = {}
    names = [each for each in levels.split(", ") if each]
    for window, (first, last) in YEARS.items():
        for depth in range(len(names) + 1):
            group = ", ".join(f"`{each}`" for each in names[:depth])
            query = f"SELECT {group + ', ' if group else ''}{SUMS} FROM {{lines}} WHERE {day} BETWEEN '{first}' AND '{last}' AND {where}"
            for row in asked.sql(query + (f" GROUP BY {group}" if group else "")):
                found[tuple(row[each] for each in names[:depth]), window] = row
    return found


@pytest.mark.parametrize("day", ["day", "delivery"])
@pytest.mark.parametrize("named", CONDITIONS)
def test_the_demo_by_either_day_under_conditions(demo_asked: Asked, named: str, day: str) -> None:
    conditions, where = CONDITIONS[named]
    statement = replace(STATEMENT, conditions=conditions, day="" if day == "day" else day)
    answer = demo_asked.answer(statement, 2)
    sums = expected(demo_asked, where, day, "region, channel")
    seen = 0
    for row in (answer.total, *answer.rows):
        path = tuple(row.path)
        cells = cells_of(answer, row)
        for window in YEARS:
            told = sums.get((path, window), {})
            for name, has in (("net_sales", None), ("list_amount", "with_list"), ("freight", "with_freight")):
                value = cells[f"{name}.{window}.value"]
                if has is not None and told and not told[has] and told["net_sales"] is not None:
                    assert value == "not_given", (path, name)
                else:
                    assert value == (told.get(name) or 0), (path, name, window)
                seen += 1
    assert seen >= 6
    assert {path for path, window in sums if path and window in YEARS} == {tuple(row.path) for row in answer.rows}
    assert check_table(demo_asked.office, demo_asked.ledger, statement).agrees


def test_orders_of_a_month_by_month_of_delivery(demo_asked: Asked) -> None:
    statement = replace(STATEMENT, rows=("delivery.month",), measures=(ShownMeasure("orders"), ShownMeasure("freight")), bases=())
    answer = demo_asked.answer(replace(statement, window=ToDate("quarter"), as_of=PinnedDay(date(2026, 9, 30))), 1)
    rows = demo_asked.sql(
        "SELECT COALESCE(DATE_FORMAT(delivery, '%Y-%m'), '') AS month, COUNT(DISTINCT IF(side = 'sale', `order`, NULL)) AS orders,"
        " SUM(freight) AS freight FROM {lines} WHERE day BETWEEN '2026-07-01' AND '2026-09-30' GROUP BY month"
    )
    told = {row.path[0]: cells_of(answer, row) for row in answer.rows}
    assert set(told) == {row["month"] for row in rows} and "" in told
    for row in rows:
        cells = told[row["month"]]
        assert cells["orders.0.value"] == row["orders"]
        assert cells["freight.0.value"] == ("not_given" if row["freight"] is None else row["freight"])


def test_movers_and_scorecards_go_by_the_figure_and_the_day(demo_asked: Asked) -> None:
    statement = replace(STATEMENT, measures=(ShownMeasure("freight", ("difference",)),), rows=("region",), day="delivery")
    movers = answer_movers(demo_asked.office, demo_asked.ledger, statement, MoversAsked())
    sums = expected(demo_asked, "TRUE", "delivery", "region")
    for each in (*movers.ups.movers, *movers.downs.movers):
        path = tuple(each.path or ())
        change = sums[path, 0]["freight"] - sums[path, 1]["freight"]
        assert Fraction(each.shown["difference"].value or "nan") == change
    assert movers.ups.movers and movers.polarity == "more_is_adverse"
    goals = replace(statement, measures=(ShownMeasure("freight"),), goals=(Goal("freight", "100"),))
    card = answer_scorecard(demo_asked.office, demo_asked.ledger, goals, CardAsked(0))
    met = {row.path: row.cells[[column.kind for column in card.answer.columns].index("goal")].met for row in card.answer.rows}
    assert met and all(is_met == (sums[path, 0]["freight"] <= sums[path, 1]["freight"]) for path, is_met in met.items())


@pytest.fixture(scope="module")
def nasty(office: Office, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Asked]:
    """Figures of unlike scales and sizes, negative and blank ones, days long before and after, names that SQL must bear."""
    chance = random.Random(17)
    names = ["O'Hara; --", "ÄÖ ß", "", "a,b", "1e5"]

    def row(at: int) -> str:
        day = date(2025, 1, 1) + timedelta(chance.randint(0, 600))
        days = [f"{day + timedelta(chance.randint(-400, 900))}" if chance.random() < 0.7 else "" for _ in range(2)]
        tax = (
            f"{chance.choice([-1, 1]) * chance.randint(0, 10**12)}.{chance.randint(0, 99999):05d}"
            if chance.random() < 0.8
            else ""
        )
        hours = f"{chance.randint(-50, 5000)}.{chance.randint(0, 999999999):09d}" if chance.random() < 0.6 else ""
        amount = f"{chance.choice([-1, 1]) * chance.randint(0, 10**6)}.{chance.randint(0, 99):02d}"
        return f'{day},{days[0]},{days[1]},"{chance.choice(names)}",N{at % 37},{amount},{tax},{hours}'

    rows = ["sale date,dispatch,paid on,rep,order,amount,tax,hours", *(row(at) for at in range(900))]
    yield post_rows(office, NewLedger("nasty further"), tmp_path_factory.mktemp("nasty"), rows, ("2025-01-01", "2026-08-31"))


@pytest.mark.parametrize("day", ["", "dispatch", "paid_on"])
def test_a_nasty_ledger_by_every_day(nasty: Asked, day: str) -> None:
    measures = tuple(map(ShownMeasure, ("net_sales", "tax", "tax_of_returns", "hours", "hours_of_sales", "lines")))
    conditions = (FigureBetween("tax", "-5.00001"), DayCompared("paid_on", "after", "dispatch", or_blank=True))
    statement = Statement(measures, ("rep", TimeLevel("quarter")), ToDate("year"), PinnedDay(date(2026, 8, 31)), day=day)
    for chosen, where in (((), "TRUE"), (conditions, "tax >= -5.00001 AND (paid_on > dispatch OR paid_on IS NULL)")):
        asked = replace(statement, conditions=chosen)
        answer = nasty.answer(asked, 2)
        rows = nasty.sql(
            "SELECT rep, SUM(amount) AS net_sales, SUM(tax) AS tax, -SUM(IF(side = 'return', tax, NULL)) AS tax_of_returns,"
            " SUM(hours) AS hours, SUM(IF(side = 'sale', hours, NULL)) AS hours_of_sales, COUNT(*) AS `lines`"
            f" FROM {{lines}} WHERE {day or 'day'} BETWEEN '2026-01-01' AND '2026-08-31' AND {where} GROUP BY rep"
        )
        told = {row.path[0]: cells_of(answer, row) for row in answer.rows if len(row.path) == 1}
        assert set(told) == {row["rep"] if row["rep"] != "(blank)" else "" for row in rows} and len(rows) > 2
        for row in rows:
            cells = told[row["rep"] if row["rep"] != "(blank)" else ""]
            for name in ("net_sales", "tax", "tax_of_returns", "hours", "hours_of_sales", "lines"):
                assert cells[f"{name}.0.value"] == ("not_given" if row[name] is None else row[name]), (row["rep"], name)
        assert check_table(nasty.office, nasty.ledger, replace(asked, rows=("rep",))).agrees
