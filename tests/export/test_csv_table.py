from __future__ import annotations

import csv
import io
from datetime import date

from lofty_abacus.core.answer.answering import answer
from lofty_abacus.core.statement.levels import TimeLevel
from lofty_abacus.core.statement.limits import MembersLimit, StatusLimit, TopLimit, ValueLimit
from lofty_abacus.core.statement.statement import CountedFilter, Opened, ShownMeasure, Statement
from lofty_abacus.core.windows.as_of import PinnedDay
from lofty_abacus.core.windows.bases import PeriodBase
from lofty_abacus.export.csv_table import csv_table
from lofty_abacus.export.harmless import harmless
from tests.ledgers import Line, SmallLedger


def test_what_is_seen_is_written_exactly_with_reasons() -> None:
    ledger = SmallLedger(
        [
            Line(date(2026, 3, 1), 10_00, region="North", rep="=1+1"),
            Line(date(2025, 3, 1), 3_00, region="South", rep="Bo"),
        ]
    )
    statement = Statement(
        (ShownMeasure("net_sales", ("percent_change",)),),
        ("region", "rep"),
        as_of=PinnedDay(date(2026, 3, 1)),
        bases=(PeriodBase(1, "year"),),
    )
    found = answer(statement, ledger.facts, ledger.source, ledger.today, Opened(2))
    rows = list(csv.reader(io.StringIO(csv_table(found, statement))))
    assert rows[0][-6:] == ["as of", "ledger", "version", "windows", "limited to", "marks"]
    windows = "2026-01-01..2026-03-01; 2025-01-01..2025-03-01"
    assert {tuple(row[-6:-1]) for row in rows[1:]} == {("2026-03-01", "small", "1", windows, "")}
    assert all("months posted in 2025" in row[-1] for row in rows[1:]), "what is half covered is marked in its row"
    rows = [row[:-6] for row in rows]
    assert rows[0] == [
        "region",
        "rep",
        "status",
        "Net sales, this year",
        "Net sales, 2025",
        "Net sales, % change on 2025",
        "Net sales, % change on 2025: reason",
    ]
    assert rows[1:] == [
        ["North", "(all)", "new", "10.00", "0.00", "", "The base is 0, so there is no ratio to it (base_is_zero)"],
        ["North", "'=1+1", "new", "10.00", "0.00", "", "The base is 0, so there is no ratio to it (base_is_zero)"],
        ["South", "(all)", "lost", "0.00", "3.00", "-1", ""],
        ["South", "Bo", "lost", "0.00", "3.00", "-1", ""],
        ["(all)", "(all)", "kept", "10.00", "3.00", "2.33333333333333", ""],
    ]


def test_every_line_says_what_is_counted_and_shown() -> None:
    ledger = SmallLedger([Line(date(2026, 3, 1), 10_00, region="North", rep=rep) for rep in ("Ada", "Bo", "=Cy")])
    limits = (
        TopLimit(1, "net_sales.0.value", bottom=True, rest=False), ValueLimit("net_sales.0.value", "1", "99"),
        StatusLimit(("kept", "new")), MembersLimit("rep", ("Ada", "=Cy")),
    )  # fmt: skip
    statement = Statement(
        (ShownMeasure("net_sales"),), ("rep",), as_of=PinnedDay(date(2026, 3, 1)), bases=(PeriodBase(1, "year"),), limits=limits,
        filters=(CountedFilter("region", ("North", ""), exclude=True), CountedFilter("rep", ("Bo",), exclude=True)),
    )  # fmt: skip
    found = answer(statement, ledger.facts, ledger.source, ledger.today, Opened(1))
    rows = list(csv.reader(io.StringIO(csv_table(found, statement))))
    assert {row[rows[0].index("limited to")] for row in rows[1:]} == {
        "where region is not North or blank and rep is not Bo; showing the bottom 1 by net sales (this year), without the rest"
        " and net sales (this year) from 1 up to 99 and only kept or new and only rep Ada, =Cy"
    }


def test_a_series_says_its_days_and_how_fair_each_comparison_is() -> None:
    lines = [Line(date(2026, month, 5), month * 100, region="North") for month in (1, 2, 3)]
    ledger = SmallLedger([*lines, Line(date(2025, 1, 1), 1, region="South")])
    statement = Statement(
        (ShownMeasure("net_sales", ("difference",)),), (TimeLevel("month"),), as_of=PinnedDay(date(2026, 3, 5)),
        bases=(PeriodBase(1, "period"),), across=("region",),
    )  # fmt: skip
    found = answer(statement, ledger.facts, ledger.source, ledger.today, Opened(1))
    rows = list(csv.reader(io.StringIO(csv_table(found, statement))))
    assert rows[0][:8] == [
        "month", "status", "days", "base 1 days", "base 1 fairness", "Net sales", "Net sales: reason", "Net sales, month before",
    ]  # fmt: skip
    assert "North: net sales, change on month before" in rows[0]
    assert [row[:5] for row in rows[2:4]] == [
        ["2026-02", "", "2026-02-01..2026-02-28", "2026-01-01..2026-01-31", "whole periods"],
        ["2026-03", "", "2026-03-01..2026-03-05", "2026-02-01..2026-02-05", "equal days"],
    ]
    assert (
        rows[4][rows[0].index("Net sales: reason")] == "The window lies after the as-of date (after_as_of)" and rows[4][5] == ""
    )


def test_text_that_a_spreadsheet_would_run_is_made_harmless() -> None:
    assert [harmless(text) for text in ("=A1", "+1", "-1", "@x", "plain")] == ["'=A1", "'+1", "'-1", "'@x", "plain"]
