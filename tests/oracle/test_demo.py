"""The demo ledger: every cell of a set of statements equals hand-written SQL, to the last minor unit."""

from __future__ import annotations

from datetime import date

import pytest

from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import Posting
from lofty_abacus.core.statement.statement import CountedFilter
from lofty_abacus.core.windows.bases import PeriodBase
from lofty_abacus.demo.scenario import LEDGER_NAME
from tests.oracle.comparing import Case, compare_all

Y, D = PeriodBase, date
TRADE = (CountedFilter("channel", ("Studio", "Shop")),)
TRADE_SQL = (
    "l.channel_code IN (SELECT code FROM member WHERE dimension_id = (SELECT MAX(id) FROM dimension WHERE name = 'channel'"
    " AND ledger_id = b.ledger_id) AND member_key IN ('Studio', 'Shop'))"
)
NOT_LAKES_SQL = (
    "l.customer_code IN (SELECT v.of_code FROM level_member v JOIN dimension d ON d.id = v.dimension_id AND d.name = 'region'"
    " AND d.ledger_id = b.ledger_id JOIN member m ON m.dimension_id = d.id AND m.code = v.code WHERE m.member_key <> 'Lakes')"
)

CASES = {
    "year to date against last year and the year before": Case(
        "year", D(2026, 10, 17), ("region", "rep"), (Y(1, "year"), Y(2, "year")),
        ((D(2026, 1, 1), D(2026, 10, 17)), (D(2025, 1, 1), D(2025, 10, 17)), (D(2024, 1, 1), D(2024, 10, 17))),
    ),
    "three levels deep": Case(
        "year", D(2026, 10, 17), ("region", "rep", "product"), (Y(1, "year"),),
        ((D(2026, 1, 1), D(2026, 10, 17)), (D(2025, 1, 1), D(2025, 10, 17))),
        measures=("net_sales", "orders", "margin_percent", "active_customers"),
    ),
    "28 February against a leap year": Case(
        "year", D(2025, 2, 28), ("category", "line"), (Y(1, "year"),),
        ((D(2025, 1, 1), D(2025, 2, 28)), (D(2024, 1, 1), D(2024, 2, 29))),
    ),
    "month to date on the 30th of March": Case(
        "month", D(2026, 3, 30), ("channel",), (Y(1, "month"), Y(1, "year")),
        ((D(2026, 3, 1), D(2026, 3, 30)), (D(2026, 2, 1), D(2026, 2, 28)), (D(2025, 3, 1), D(2025, 3, 30))),
    ),
    "quarter to date, filtered": Case(
        "quarter", D(2026, 8, 31), ("region", "city"), (Y(1, "quarter"), Y(3, "quarter")),
        ((D(2026, 7, 1), D(2026, 8, 31)), (D(2026, 4, 1), D(2026, 5, 31)), (D(2025, 10, 1), D(2025, 11, 30))),
        TRADE, TRADE_SQL,
    ),
    "half-year to date without one region": Case(
        "half_year", D(2025, 4, 15), ("district",), (Y(1, "half_year"),),
        ((D(2025, 1, 1), D(2025, 4, 15)), (D(2024, 7, 1), D(2024, 10, 15))),
        (CountedFilter("region", ("Lakes",), exclude=True),), NOT_LAKES_SQL,
    ),
    "week to date against the week before and the same week last year": Case(
        "week", D(2026, 10, 15), ("rep",), (Y(1, "week"), Y(1, "year")),
        ((D(2026, 10, 12), D(2026, 10, 15)), (D(2026, 10, 5), D(2026, 10, 8)), (D(2025, 10, 13), D(2025, 10, 16))),
    ),
    "no rows at all": Case(
        "year", D(2024, 12, 31), (), (), ((D(2024, 1, 1), D(2024, 12, 31)),), measures=("net_sales", "units", "orders"),
    ),
}  # fmt: skip


@pytest.mark.parametrize("name", sorted(CASES))
def test_every_cell_equals_sql(office: Office, demo: Posting, name: str) -> None:
    assert compare_all(office, LEDGER_NAME, CASES[name]) >= 3


def test_the_demo_is_as_it_is_told(office: Office, demo: Posting) -> None:
    assert 58_000 < demo.lines < 62_000
    batches = office.books.batches(office.books.ledger(LEDGER_NAME).id)
    assert len(batches) == 2 + 34 + 1
    assert {batch.kind for batch in batches} == {"lookup", "sales", "returns"}
    repeated = next(batch for batch in batches if batch.file == "sales-2025-08.csv")
    assert repeated.left_out == 12
