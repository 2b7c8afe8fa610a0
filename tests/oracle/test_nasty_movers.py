"""Movers and verdicts on nasty generated ledgers against plain SQL: negative totals, blanks, members of one year, odd names."""

from __future__ import annotations

import csv
import io
from dataclasses import replace
from datetime import date
from fractions import Fraction
from pathlib import Path
from typing import Any

import pytest

from lofty_abacus.actions.figures.answer_movers import answer_movers
from lofty_abacus.actions.figures.answer_scorecard import answer_scorecard
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import NewLedger
from lofty_abacus.core.answer.answer import Cell
from lofty_abacus.core.statement.movers import MoversAsked
from lofty_abacus.core.statement.scorecard import CardAsked
from lofty_abacus.core.statement.statement import Goal, ShownMeasure, Statement
from lofty_abacus.core.windows.as_of import PinnedDay
from lofty_abacus.core.windows.bases import LedgerBase, PeriodBase
from lofty_abacus.store.members import BLANK_LABEL
from tests.cells import exact
from tests.oracle.asking import Asked, post_rows
from tests.oracle.test_generated import REPS, write

#: The as-of date with the days counted and those compared with.
WINDOWS = [
    (date(2025, 2, 28), "'2025-01-01' AND '2025-02-28'", "'2024-01-01' AND '2024-02-29'"),
    (date(2026, 12, 31), "'2026-01-01' AND '2026-12-31'", "'2025-01-01' AND '2025-12-31'"),
    (date(2026, 1, 1), "'2026-01-01' AND '2026-01-01'", "'2025-01-01' AND '2025-01-01'"),
]
Sums = dict[str | None, dict[str, Any]]


@pytest.fixture(scope="module", params=[1, 2, 3])
def asked(office: Office, tmp_path_factory: pytest.TempPathFactory, request: pytest.FixtureRequest) -> Asked:
    folder = tmp_path_factory.mktemp("nasty")
    write(folder / "lines.csv", request.param)
    rows = [(folder / "lines.csv").read_text(encoding="utf-8").rstrip("\n")]
    return post_rows(office, NewLedger(f"nasty movers {request.param}"), folder, rows, ("2024-01-01", "2026-12-31"))


def statement(as_of: date, **parts: object) -> Statement:
    measures = (ShownMeasure("net_sales"), ShownMeasure("return_rate"))
    return replace(
        Statement(measures, ("rep", "region"), as_of=PinnedDay(as_of), bases=(PeriodBase(1, "year"),)),
        **parts,  # type: ignore[arg-type]
    )


def sums(asked: Asked, dimension: str, now: str, then: str) -> Sums:
    found = asked.sql(
        f"""
        SELECT {dimension} AS name, SUM(IF(day BETWEEN {now}, amount, 0)) AS now, SUM(IF(day BETWEEN {then}, amount, 0)) AS was,
            SUM(side = 'sale' AND day BETWEEN {now}) AS sold, SUM(side = 'sale' AND day BETWEEN {then}) AS had,
            -SUM(IF(side = 'return' AND day BETWEEN {now}, amount, 0)) AS back,
            SUM(IF(side = 'sale' AND day BETWEEN {now}, amount, 0)) AS gross,
            -SUM(IF(side = 'return' AND day BETWEEN {then}, amount, 0)) AS was_back,
            SUM(IF(side = 'sale' AND day BETWEEN {then}, amount, 0)) AS was_gross
        FROM {{lines}} WHERE day BETWEEN {now} OR day BETWEEN {then} GROUP BY {dimension}
        """
    )
    return {"" if each["name"] == BLANK_LABEL else each["name"]: each for each in found}


def value(cell: Cell | None) -> Fraction:
    found = exact(cell) if cell is not None else None
    assert isinstance(found, Fraction)
    return found


@pytest.mark.parametrize(("as_of", "now", "then"), WINDOWS)
@pytest.mark.parametrize("most", [200, 2])
def test_ranks_bridge_and_how_few(asked: Asked, as_of: date, now: str, then: str, most: int) -> None:
    found = answer_movers(asked.office, asked.ledger, statement(as_of), MoversAsked(most=most))
    wanted = sums(asked, "rep", now, then)
    moved = {name: each["now"] - each["was"] for name, each in wanted.items()}
    assert found.members == len(wanted)
    for side, sign in ((found.ups, 1), (found.downs, -1)):
        changes = sorted((by for by in moved.values() if by * sign > 0), key=lambda by: -sign * by)
        assert [value(each.shown["difference"]) for each in side.movers] == changes[:most]
        assert side.count == len(changes) and all(each.path is not None for each in side.movers)
        for each in side.movers:
            [name] = each.path or ()
            row = wanted[name]
            assert value(each.shown["difference"]) == moved[name]
            assert each.status == (("kept" if row["had"] else "new") if row["sold"] else "lost" if row["had"] else "returns_only")
            percent = exact(each.shown["percent_change"])
            assert percent == ((moved[name] / row["was"]) if row["was"] > 0 else
                               "base_is_zero" if not row["was"] else "base_is_negative")  # fmt: skip
        if changes:
            few = next(at for at in range(1, len(changes) + 1) if sum(changes[:at]) / sum(changes) >= Fraction(4, 5))
            assert (side.few, value(side.total)) == (few, sum(changes))
            assert all(value(point.share) == sum(changes[: point.members]) / sum(changes) for point in side.shares)
    assert found.still == sum(not by for by in moved.values())
    whole = [sum((each[key] for each in wanted.values()), Fraction(0)) for key in ("was", "now")]
    for way in (found.steps, found.each):
        if way:
            assert [value(way[0].amount), value(way[-1].amount)] == whole
            assert sum((value(each.amount) for each in way[1:-1]), Fraction(0)) == whole[1] - whole[0]


@pytest.mark.parametrize(("as_of", "now", "then"), WINDOWS)
def test_verdicts(asked: Asked, as_of: date, now: str, then: str) -> None:
    goals = (Goal("net_sales", "105.5"), Goal("return_rate", "100"))
    card = answer_scorecard(asked.office, asked.ledger, statement(as_of, rows=("region",), goals=goals), CardAsked(0))
    wanted = sums(asked, "region", now, then)
    assert len(card.answer.rows) == len(wanted)
    goals_at = [at for at, column in enumerate(card.answer.columns) if column.kind == "goal"]
    judged = 0
    for row in card.answer.rows:
        each = wanted[row.path[0]]
        met = [row.cells[at].met for at in goals_at]
        # Goals that are a percentage of a base are decided by multiplying, so that bases of 0 and below have a verdict, too.
        assert met[0] == (each["now"] * 1000 >= each["was"] * 1055)
        rates = [each[top] / each[bottom] if each[bottom] > 0 else None
                 for top, bottom in (("back", "gross"), ("was_back", "was_gross"))]  # fmt: skip
        assert met[1] == (None if None in rates else rates[0] <= rates[1])  # type: ignore[operator]
        assert row.goals is not None and row.goals.defined == sum(each is not None for each in met)
        judged += row.goals.defined
    assert judged > len(wanted)


def test_plan_attainment(asked: Asked, office: Office, tmp_path: Path) -> None:
    """A plan by month for odd names, with amounts of 0 and below that divide by no number of days; a day of March is not reached."""
    file = io.StringIO()
    writer = csv.writer(file, lineterminator="\n")
    writer.writerow(["month", "rep", "amount"])
    for at, rep in enumerate(REPS):
        for month in range(1, 5):
            writer.writerow([f"2026-{month:02}", rep, f"{(at - 4) * 12_345 + month * 7 + at}.{at * 7 % 100:02}"])
    new = NewLedger(f"plan of {asked.ledger}", line_grain="month")
    plan = post_rows(office, new, tmp_path, [file.getvalue().rstrip("\n")], ("2026-01-01", "2026-12-31"))
    goals, bases = (Goal("net_sales", "100"),), (LedgerBase(plan.ledger),)
    wanted = statement(date(2026, 3, 30), rows=("rep",), measures=(ShownMeasure("net_sales"),), bases=bases, goals=goals)
    card = answer_scorecard(office, asked.ledger, wanted, CardAsked(0))
    sold = sums(asked, "rep", "'2026-01-01' AND '2026-03-30'", "'1999-01-01' AND '1999-01-01'")
    planned = plan.sql(
        "SELECT rep AS name, SUM(CASE WHEN day < '2026-03-01' THEN amount WHEN day < '2026-04-01' THEN SIGN(amount) * "
        "(FLOOR(ABS(amount) * 100 / 31) * 30 + LEAST(30, MOD(ABS(amount) * 100, 31))) / 100 ELSE 0 END) AS whole FROM {lines} GROUP BY 1"
    )
    target = {"" if each["name"] == BLANK_LABEL else each["name"]: each["whole"] for each in planned}
    at = next(at for at, column in enumerate(card.answer.columns) if column.kind == "goal")
    assert {row.path[0] for row in card.answer.rows} == set(target) and len(target) == len(REPS)
    for row in card.answer.rows:
        name = row.path[0] or ""
        net, of = sold.get(name, {"now": Fraction(0)})["now"], target[name]
        found = {column.id: exact(cell) for column, cell in zip(card.answer.columns, row.cells, strict=True)}
        assert (found["net_sales.0.value"], found["net_sales.1.value"]) == (net, of)
        assert row.cells[at].met == (net >= of)
        assert found["net_sales.1.goal"] == (net / of if of > 0 else "base_is_negative" if of < 0 else "base_is_zero")
