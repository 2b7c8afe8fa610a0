"""Whether goals are met, now and in earlier periods, against plain SQL on the demo ledger; targets of rows, periods and plans."""

from __future__ import annotations

from dataclasses import replace
from datetime import date
from fractions import Fraction
from pathlib import Path
from typing import Any

import pytest

from lofty_abacus.actions.figures.answer_scorecard import answer_scorecard
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import NewLedger, Posting
from lofty_abacus.core.answer.answer import Row
from lofty_abacus.core.errors import QuestionError
from lofty_abacus.core.statement.levels import TimeLevel
from lofty_abacus.core.statement.scorecard import CardAsked
from lofty_abacus.core.statement.statement import Goal, OwnTarget, ShownMeasure, Statement
from lofty_abacus.core.windows.as_of import PinnedDay
from lofty_abacus.core.windows.bases import LedgerBase, PeriodBase
from lofty_abacus.core.windows.current import Dates, RunningPeriod, ToDate
from lofty_abacus.core.windows.stretches import Moving, RunningTotal
from lofty_abacus.demo.scenario import LEDGER_NAME
from lofty_abacus.telling.scorecard import ToldCard
from tests.oracle.asking import Asked, cells_of, post_rows

SEPTEMBER = RunningPeriod("month", back=1)
CARD = Statement(
    (ShownMeasure("net_sales"), ShownMeasure("orders"), ShownMeasure("return_rate")),
    ("region",),
    window=SEPTEMBER,
    as_of=PinnedDay(date(2026, 10, 17)),
    bases=(PeriodBase(1, "period"),),
    goals=(Goal("net_sales", "100"), Goal("orders", "100"), Goal("return_rate", "100")),
)


@pytest.fixture(scope="module")
def asked(office: Office, demo: Posting) -> Asked:
    return Asked(office, LEDGER_NAME)


def card(asked: Asked, statement: Statement = CARD, **parts: object) -> ToldCard:
    return answer_scorecard(asked.office, asked.ledger, statement, CardAsked(**parts))  # type: ignore[arg-type]


def of_month(asked: Asked, month: str) -> dict[str, dict[str, Any]]:
    """Figures of a month by region, with those of all under ''."""
    measures = (
        "SUM(amount) AS net, COUNT(DISTINCT IF(side = 'sale', NULLIF(`order`, ''), NULL)) AS orders, "
        "-SUM(IF(side = 'return', amount, 0)) AS returned, SUM(IF(side = 'sale', amount, 0)) AS gross"
    )
    within = f"day BETWEEN '{month}-01' AND LAST_DAY('{month}-01')"
    rows = asked.sql(f"SELECT region AS name, {measures} FROM {{lines}} WHERE {within} GROUP BY region")
    [whole] = asked.sql(f"SELECT '' AS name, {measures} FROM {{lines}} WHERE {within}")
    return {each["name"]: each for each in (*rows, whole)}


def verdicts(now: dict[str, Any], then: dict[str, Any], net: int = 100) -> tuple[bool, bool, bool]:
    rates = [each["returned"] / each["gross"] for each in (now, then)]
    return now["net"] * 100 >= then["net"] * net, now["orders"] >= then["orders"], rates[0] <= rates[1]


def met(found: ToldCard, row: Row) -> tuple[bool | None, ...]:
    return tuple(cell.met for column, cell in zip(found.answer.columns, row.cells, strict=True) if column.kind == "goal")


def test_every_row_and_the_total_are_judged_on_their_own(asked: Asked) -> None:
    found, now, then = card(asked), of_month(asked, "2026-09"), of_month(asked, "2026-08")
    assert [row.label for row in found.answer.rows] == sorted(name for name in now if name)
    for row in (*found.answer.rows, found.answer.total):
        assert met(found, row) == verdicts(now[row.label], then[row.label])
        assert row.goals is not None and (row.goals.met, row.goals.defined) == (sum(map(bool, met(found, row))), 3)
        cells = cells_of(found.answer, row)
        assert cells["net_sales.1.goal"] == now[row.label]["net"] / then[row.label]["net"]
    assert [each.goal_words for each in found.told.metrics] == [
        "at least 100% of Aug 2026", "at least 100% of Aug 2026", "at most 100% of Aug 2026",
    ]  # fmt: skip


def test_history_judges_each_period_as_of_its_own_end(asked: Asked) -> None:
    found = card(asked, history=4)
    months = ["2026-08", "2026-07", "2026-06", "2026-05", "2026-04"]
    assert [each.key for each in found.history] == months[:4] and found.told.periods[0] == "Aug 2026"
    for period, before in zip(found.history, months[1:], strict=True):
        now, then = of_month(asked, period.key), of_month(asked, before)
        assert period.total.met == verdicts(now[""], then[""])
        assert {each.path[0]: each.met for each in period.rows} == {name: verdicts(now[name], then[name]) for name in now if name}
    assert card(asked, replace(CARD, window=Dates(date(2026, 9, 1), date(2026, 9, 30)))).history == ()


def test_a_year_to_date_is_judged_at_the_ends_of_the_years_before(asked: Asked) -> None:
    found = card(
        asked, replace(CARD, window=ToDate("year"), bases=(PeriodBase(1, "year"),), goals=(Goal("net_sales", "105"),)), history=3
    )
    assert [(each.key, each.as_of) for each in found.history][:2] == [
        ("2025", date(2025, 12, 31)),
        ("2024", date(2024, 12, 31)),
    ]
    [years] = [asked.sql("SELECT YEAR(day) AS y, SUM(amount) AS net FROM {lines} GROUP BY YEAR(day)")]
    net = {int(each["y"]): each["net"] for each in years}
    assert found.history[0].total.met == (net[2025] * 100 >= net[2024] * 105,)
    assert found.history[-1].total.met in ((None,), (True,), (False,))


def test_the_target_that_says_most_holds_and_what_has_none_is_not_judged(asked: Asked) -> None:
    own = (
        OwnTarget("150", ("Lakes",)),
        OwnTarget("50", ("Harbour",)),
        OwnTarget("500", ("Harbour",), "2026-09"),
        OwnTarget("1", None, "2026-08"),
        OwnTarget("99", ()),
    )
    found = card(asked, replace(CARD, goals=(Goal("net_sales", "100", own=own),)), history=1)
    now, then = of_month(asked, "2026-09"), of_month(asked, "2026-08")
    targets = {row.label: cell.target for row in (*found.answer.rows, found.answer.total)
               for column, cell in zip(found.answer.columns, row.cells, strict=True) if column.kind == "goal"}  # fmt: skip
    assert targets == {"Harbour": "500", "Lakes": "150", "Plains": "100", "Uplands": "100", "": "99"}
    for row in found.answer.rows:
        assert met(found, row) == (verdicts(now[row.label], then[row.label], int(targets[row.label] or 0))[0],)
    # In August rows keep targets of their own, all others have that of the period.
    before = of_month(asked, "2026-07")
    wanted = {"Lakes": 150, "Harbour": 50, "Plains": 1, "Uplands": 1}
    for each in found.history[0].rows:
        name = each.path[0] or ""
        assert each.met == (verdicts(then[name], before[name], wanted[name])[0],)
    alone = card(
        asked, replace(CARD, goals=(Goal("net_sales", "", own=(OwnTarget("60000", ("Lakes",)),), of="figure"),)), history=0
    )
    judged = {row.label: (met(alone, row), row.goals and row.goals.defined) for row in alone.answer.rows}
    assert judged["Plains"] == ((None,), 0) and judged["Lakes"] == ((now["Lakes"]["net"] >= 60_000,), 1)
    assert cells_of(alone.answer, alone.answer.rows[1])["net_sales.0.goal"] == now["Lakes"]["net"] / Fraction(60_000)
    assert "three have no goal that can be told" in alone.told.text


def test_words_count_rows_and_name_those_that_miss(asked: Asked) -> None:
    text = card(asked).told.text
    now, then = of_month(asked, "2026-09"), of_month(asked, "2026-08")
    whole = sum(all(verdicts(now[name], then[name])) for name in now if name)
    assert text.startswith({1: "One of four regions meets", 2: "Two of four regions meet"}[whole] + " all goals.")
    assert text.endswith("Together they meet all goals." if all(verdicts(now[""], then[""])) else ".")
    assert card(asked, replace(CARD, goals=())).told.sentences == ()


def test_two_levels_and_no_level(asked: Asked) -> None:
    found = card(asked, replace(CARD, rows=("region", "rep", "product")), history=1)
    assert found.statement.rows == ("region", "rep") and {len(row.path) for row in found.answer.rows} == {1, 2}
    assert len(found.history[0].rows) > 4
    bare = card(asked, replace(CARD, rows=()))
    assert not bare.answer.rows and bare.told.text.startswith("Together they meet")


def test_running_and_moving_metrics_are_judged_in_the_last_period(asked: Asked) -> None:
    metrics = (
        ShownMeasure("net_sales", along=RunningTotal("quarter")),
        ShownMeasure("net_sales", along=Moving(3, "mean")),
        ShownMeasure("orders", along=Moving(12, "sum")),
    )
    series = replace(
        CARD,
        measures=metrics,
        rows=("region", TimeLevel("month")),
        window=ToDate("year"),
        as_of=PinnedDay(date(2026, 9, 30)),
        bases=(PeriodBase(1, "year"),),
        goals=tuple(Goal(each.id, "102") for each in metrics),
    )
    found = card(asked, series, history=2)
    sums = {"net": "SUM(IF(day BETWEEN {} , amount, 0))", "orders":
            "COUNT(DISTINCT IF(side = 'sale' AND day BETWEEN {}, NULLIF(`order`, ''), NULL))"}  # fmt: skip
    days = [
        ("net", "'{y}-07-01' AND '{y}-09-30'"),
        ("net", "'{y}-07-01' AND '{y}-09-30'"),
        ("orders", "'{b}-10-01' AND '{y}-09-30'"),
    ]
    columns = ", ".join(
        f"{sums[kind].format(within.format(y=year, b=year - 1))} AS c{at}_{year}"
        for at, (kind, within) in enumerate(days) for year in (2026, 2025)
    )  # fmt: skip
    wanted = {each["name"]: each for each in asked.sql(f"SELECT region AS name, {columns} FROM {{lines}} GROUP BY region")}
    assert found.statement.rows == ("region",) and [row.label for row in found.answer.rows] == sorted(wanted)
    for row in found.answer.rows:
        cells, of = cells_of(found.answer, row), wanted[row.label]
        for at, (metric, by) in enumerate(zip(metrics, (1, 3, 1), strict=True)):
            now, then = of[f"c{at}_2026"] / by, of[f"c{at}_2025"] / by
            assert (cells[f"{metric.id}.0.value"], cells[f"{metric.id}.1.value"]) == (now, then)
            assert met(found, row)[at] == (now * 100 >= then * 102)
    # The same card's own statement says by which periods they run, so that its numbers are proved as any other.
    assert {each.along.by for each in found.statement.measures if each.along} == {"month"}
    assert [each.key for each in found.history] == ["2025", "2024"]
    assert "mean of the last 3 months of net sales" in found.answer.told.sentence
    # A running month has not ended: a mean of whole months is not known yet, and is not judged.
    running = card(asked, replace(series, as_of=PinnedDay(date(2026, 10, 17))), history=0)
    at = [column.id for column in running.answer.columns].index(f"{metrics[1].id}.1.goal")
    assert {row.cells[at].met for row in running.answer.rows} == {None}


def test_attainment_of_a_plan_is_what_sql_says_of_both_ledgers(asked: Asked, office: Office, tmp_path: Path) -> None:
    months = [f"2026-{month:02},{region},{amount}" for month in range(1, 13)
              for region, amount in (("Lakes", 91_000 + month * 31), ("Harbour", f"{70_000 + month * 7}.55"), ("Plains", 45_000))]  # fmt: skip
    plan = post_rows(
        office,
        NewLedger("Plan of the demo", line_grain="month"),
        tmp_path,
        ["month,region,amount", *months],
        ("2026-01-01", "2026-12-31"),
    )
    found = card(
        asked,
        replace(CARD, window=ToDate("year"), measures=(ShownMeasure("net_sales"),), bases=(LedgerBase(plan.ledger),),
                goals=(Goal("net_sales", "100"),)),
        history=1,
    )  # fmt: skip
    sold = asked.sql(
        "SELECT region AS name, SUM(amount) AS net FROM {lines} WHERE day BETWEEN '2026-01-01' AND '2026-10-17' GROUP BY 1"
    )
    # Seventeen of October's 31 days: in minor units, the remainder one each to the first days (section 11).
    planned = plan.sql(
        "SELECT region AS name, SUM(CASE WHEN day < '2026-10-01' THEN amount WHEN day < '2026-11-01' THEN "
        "(FLOOR(amount * 100 / 31) * 17 + LEAST(17, MOD(amount * 100, 31))) / 100 ELSE 0 END) AS whole FROM {lines} GROUP BY 1"
    )
    target = {each["name"]: each["whole"] for each in planned}
    verdict = found.answer.columns.index(next(each for each in found.answer.columns if each.kind == "goal"))
    for row in found.answer.rows:
        net, of = next(each["net"] for each in sold if each["name"] == row.label), target.get(row.label)
        cells = cells_of(found.answer, row)
        if of is None:
            assert row.label == "Uplands" and row.cells[verdict].met is None
            continue
        assert (cells["net_sales.0.value"], cells["net_sales.1.value"]) == (net, of)
        assert cells["net_sales.1.goal"] == net / of and row.cells[verdict].met == (net >= of)
    assert found.told.metrics[0].goal_words == f"at least 100% of the ledger {plan.ledger}"


@pytest.mark.parametrize(
    ("goal", "said"),
    [
        (Goal("net_sales", "", own=()), "plain number"),
        (Goal("net_sales", "100", own=(OwnTarget("x", ("Lakes",)),)), "plain number"),
        (Goal("net_sales", "100", own=(OwnTarget("1", ("Lakes",)), OwnTarget("2", ("Lakes",)))), "of its own already"),
        (Goal("net_sales", "100", own=(OwnTarget("1", ("Lakes", "Rep")),)), "levels deep"),
    ],
)
def test_targets_that_mean_nothing_are_refused(asked: Asked, goal: Goal, said: str) -> None:
    with pytest.raises(QuestionError, match=said):
        card(asked, replace(CARD, goals=(goal,)))
    with pytest.raises(QuestionError, match="no history"):
        card(asked, history=25)
