from __future__ import annotations

import csv
import io
from datetime import date

from lofty_abacus.core.answer.answering import answer
from lofty_abacus.core.statement.statement import Opened, ShownMeasure, Statement
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
    assert rows[0] == [
        "region",
        "rep",
        "status",
        "net sales 2026-01-01..2026-03-01",
        "net sales 2025-01-01..2025-03-01",
        "net sales percent change against 2025-01-01..2025-03-01",
        "net sales percent change against 2025-01-01..2025-03-01: reason",
    ]
    assert rows[1:] == [
        ["North", "(all)", "new", "10.00", "0.00", "", "base_is_zero"],
        ["North", "'=1+1", "new", "10.00", "0.00", "", "base_is_zero"],
        ["South", "(all)", "lost", "0.00", "3.00", "-1", ""],
        ["South", "Bo", "lost", "0.00", "3.00", "-1", ""],
        ["(all)", "(all)", "kept", "10.00", "3.00", "2.33333333333333", ""],
    ]


def test_text_that_a_spreadsheet_would_run_is_made_harmless() -> None:
    assert [harmless(text) for text in ("=A1", "+1", "-1", "@x", "plain")] == ["'=A1", "'+1", "'-1", "'@x", "plain"]
