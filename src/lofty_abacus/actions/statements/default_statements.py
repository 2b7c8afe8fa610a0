"""The common questions on any ledger, put together from the columns that it has."""

from __future__ import annotations

from lofty_abacus.actions.records import SavedStatement
from lofty_abacus.core.statement.ledger import LedgerFacts
from lofty_abacus.core.statement.levels import RowLevel, TimeLevel
from lofty_abacus.core.statement.statement import Opened, Show, ShownMeasure, Statement
from lofty_abacus.core.windows.as_of import AsOfPolicy
from lofty_abacus.core.windows.bases import PeriodBase
from lofty_abacus.core.windows.current import ToDate
from lofty_abacus.core.windows.stretches import RunningTotal

_WANTED = ("region", "rep", "channel", "customer", "product")
_CHANGE: tuple[Show, ...] = ("difference", "percent_change")
FOLDER = "Common questions"


def first_statement(ledger: LedgerFacts, as_of: AsOfPolicy) -> Statement:
    """What a ledger opens with: its year to date against the same dates last year, by its first dimensions."""
    net = ShownMeasure("net_sales", (*_CHANGE, "share_of_all"))
    return Statement((net, *_orders(ledger)), tuple(_known(ledger)[:2]), ToDate("year"), as_of, (PeriodBase(1, "year"),))


def _known(ledger: LedgerFacts) -> list[str]:
    """The dimensions that reports go by, else those that are no order."""
    names = [each.name for each in ledger.dimensions]
    return [name for name in _WANTED if name in names] or [each.name for each in ledger.dimensions if each.role != "order"]


def _orders(ledger: LedgerFacts) -> tuple[ShownMeasure, ...]:
    return (ShownMeasure("orders", ("percent_change",)),) if ledger.with_role("order") else ()


def default_statements(ledger: LedgerFacts, as_of: AsOfPolicy) -> tuple[SavedStatement, ...]:
    """Year to date, month over month, quarter to date, running total, shares, same period last year: what the lines can give."""
    known = _known(ledger)
    rows: tuple[RowLevel, ...] = tuple(known[:2])
    outer, inner = rows[:1], tuple(known[1:2])
    net = (ShownMeasure("net_sales", _CHANGE), *_orders(ledger))
    months: tuple[RowLevel, ...] = (TimeLevel("month"),)
    running = ShownMeasure("net_sales", _CHANGE, RunningTotal("year"))
    year, before = PeriodBase(1, "year"), PeriodBase(1, "period")
    found = [
        ("Year to date", Statement(net, rows, ToDate("year"), as_of, (year,))),
        ("Same period last year", Statement(net, outer, ToDate("month"), as_of, (year,))),
        ("Quarter to date", Statement(net, outer, ToDate("quarter"), as_of, (PeriodBase(1, "quarter"),))),
        ("Month over month", Statement(net, months, ToDate("year"), as_of, (before,))),
        (
            "Running total this year",
            Statement((ShownMeasure("net_sales"), running), months, ToDate("year"), as_of, (year,)),
        ),
    ]
    if outer and inner:
        shares = (ShownMeasure("net_sales", ("share_of_parent", "share_of_all", "rank")),)
        found.append((f"Shares in {outer[0]}", Statement(shares, (*outer, *inner), ToDate("year"), as_of)))
    if ledger.line_grain == "week":
        # Lines of whole weeks are not cut into months.
        found = [(name, each) for name, each in found if each.rows != months and each.window == ToDate("year")]
    return tuple(SavedStatement(name, each, Opened(max(len(each.rows), 1)), FOLDER) for name, each in found)
