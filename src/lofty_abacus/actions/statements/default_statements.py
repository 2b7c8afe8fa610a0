"""The common questions on any ledger, put together from the columns that it has."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

from lofty_abacus.actions.records import SavedStatement
from lofty_abacus.core.calendar.settings import Grain
from lofty_abacus.core.saying import say
from lofty_abacus.core.statement.ledger import LedgerFacts
from lofty_abacus.core.statement.levels import RowLevel, TimeLevel
from lofty_abacus.core.statement.limits import StatusLimit
from lofty_abacus.core.statement.statement import Goal, Opened, Show, ShownMeasure, Sort, Statement
from lofty_abacus.core.windows.as_of import AsOfPolicy
from lofty_abacus.core.windows.bases import FixedBase, PeriodBase, ShiftedBase
from lofty_abacus.core.windows.current import LastPeriods, RunningPeriod, ToDate
from lofty_abacus.core.windows.stretches import Moving, RunningTotal
from lofty_abacus.export.layout import Chart, Layout
from lofty_abacus.telling.names import dimension_name

_WANTED = ("region", "rep", "channel", "customer", "product")
_CHANGE: tuple[Show, ...] = ("difference", "percent_change")
_FINE: tuple[Grain, ...] = ("day", "week", "month", "quarter", "half_year", "year")
#: How many years of a long ledger stand beside each other.
_MOST_YEARS = 10
_YEAR, _BEFORE = PeriodBase(1, "year"), PeriodBase(1, "period")
_TO_DATE = ToDate("year")


@dataclass(frozen=True)
class _Question:
    """folder: under which it is offered. needs: the finest grain of lines that can still be cut into its windows and periods."""

    folder: str
    name: str
    statement: Statement
    needs: Grain = "day"
    layout: Layout = Layout()  # noqa: RUF009 - a layout is frozen


def first_statement(ledger: LedgerFacts, as_of: AsOfPolicy) -> Statement:
    """What a ledger opens with: its year to date against the same dates last year, by its first dimensions."""
    net = ShownMeasure("net_sales", (*_CHANGE, "share_of_all"))
    rows = tuple(_known(ledger)[:2])
    return Statement((net, *_orders(ledger)), rows, _TO_DATE, as_of, (_YEAR,), day=ledger.usual_day)


def _known(ledger: LedgerFacts) -> list[str]:
    """The dimensions that reports go by, else those that are no order."""
    names = [each.name for each in ledger.dimensions]
    return [name for name in _WANTED if name in names] or [each.name for each in ledger.dimensions if each.role != "order"]


def _orders(ledger: LedgerFacts) -> tuple[ShownMeasure, ...]:
    return (ShownMeasure("orders", ("percent_change",)),) if ledger.with_role("order") else ()


def default_statements(ledger: LedgerFacts, as_of: AsOfPolicy) -> tuple[SavedStatement, ...]:
    """One question for each kind that reports ask for, as far as the ledger's columns and the grain of its lines go."""
    questions = (
        *_to_date(ledger, as_of),
        *_over_time(ledger, as_of),
        *_parts(ledger, as_of),
        *_why_and_whether(ledger, as_of),
    )
    return tuple(
        SavedStatement(
            each.name,
            replace(each.statement, day=ledger.usual_day),
            Opened(max(len(each.statement.rows), 1)),
            each.folder,
            layout=each.layout,
        )
        for each in questions
        if _can_be_cut(each, ledger)
    )


def _why_and_whether(ledger: LedgerFacts, as_of: AsOfPolicy) -> Iterator[_Question]:
    folder = say("Parts and movers")
    rows: tuple[RowLevel, ...] = tuple(_known(ledger)[:3])
    net = ShownMeasure("net_sales")
    yield _Question(
        folder,
        say("Who moved this year, and why"),
        Statement((net,), rows, _TO_DATE, as_of, (_YEAR,)),
        "year",
        Layout(page="movers"),
    )
    measures = (net, *(ShownMeasure(each.measure) for each in _orders(ledger)))
    goals = tuple(Goal(each.measure, "100") for each in measures)
    yield _Question(
        folder,
        say("Goals of last month"),
        Statement(measures, rows[:1], RunningPeriod("month", 1), as_of, (_BEFORE,), goals=goals),
        "month",
        Layout(page="scorecard"),
    )


def _can_be_cut(question: _Question, ledger: LedgerFacts) -> bool:
    """Lines of whole weeks are not cut into months; others only into periods that are no finer than they are."""
    if ledger.line_grain == "week":
        return question.needs == "year"
    return _FINE.index(question.needs) >= _FINE.index(ledger.line_grain)


def _to_date(ledger: LedgerFacts, as_of: AsOfPolicy) -> Iterator[_Question]:
    folder = say("Against another period")
    rows: tuple[RowLevel, ...] = tuple(_known(ledger)[:2])
    outer = rows[:1]
    net = (ShownMeasure("net_sales", _CHANGE), *_orders(ledger))
    yield _Question(folder, say("Year to date"), Statement(net, rows, _TO_DATE, as_of, (_YEAR,)), "year")
    yield _Question(folder, say("Same period last year"), Statement(net, outer, ToDate("month"), as_of, (_YEAR,)), "month")
    yield _Question(
        folder, say("This month and the month before"), Statement(net, outer, ToDate("month"), as_of, (_BEFORE,)), "month"
    )
    yield _Question(
        folder, say("Quarter to date"), Statement(net, outer, ToDate("quarter"), as_of, (PeriodBase(1, "quarter"),)), "quarter"
    )
    before_and_after = (PeriodBase(1, "month"), PeriodBase(-1, "month"))
    yield _Question(
        folder,
        say("The month before and after last month"),
        Statement((ShownMeasure("net_sales", _CHANGE),), outer, RunningPeriod("month", 1), as_of, before_and_after),
        "month",
    )
    shifted = (ShiftedBase(1, "year"), ShiftedBase(1, "quarter"), ShiftedBase(1, "month"))
    yield _Question(
        folder,
        say("The last 30 days against a year, a quarter, a month before"),
        Statement((ShownMeasure("net_sales", ("percent_change",)),), outer, LastPeriods(30, "day"), as_of, shifted),
    )
    first = min((each.days.first.year for each in ledger.feeds), default=None)
    if first is not None:
        yield _Question(
            folder,
            say("The year so far against the same part of {year}", year=first),
            Statement(net, outer, _TO_DATE, as_of, (FixedBase(str(first)),)),
            "year",
        )


def _over_time(ledger: LedgerFacts, as_of: AsOfPolicy) -> Iterator[_Question]:
    folder = say("Over time")
    outer: tuple[RowLevel, ...] = tuple(_known(ledger)[:1])
    inner: tuple[RowLevel, ...] = tuple(_known(ledger)[1:2]) or outer
    net = ShownMeasure("net_sales", _CHANGE)
    months, days, years = ((TimeLevel(grain),) for grain in ("month", "day", "year"))
    spans = [each.days for each in ledger.feeds]
    count = min(
        max((each.last.year for each in spans), default=0) - min((each.first.year for each in spans), default=0) + 1, _MOST_YEARS
    )
    all_years = LastPeriods(max(count, 2), "year")
    running = ShownMeasure("net_sales", _CHANGE, RunningTotal("year"))
    yield _Question(
        folder, say("Month over month"), Statement((net, *_orders(ledger)), months, _TO_DATE, as_of, (_BEFORE,)), "month"
    )
    if ledger.with_role("order"):
        orders = ShownMeasure("orders", _CHANGE)
        yield _Question(
            folder, say("Orders month over month"), Statement((orders,), months, _TO_DATE, as_of, (_BEFORE,)), "month"
        )
    yield _Question(
        folder, say("Day over day"), Statement((net,), days, ToDate("month"), as_of, (PeriodBase(1, "period", day_back=1),))
    )
    yield _Question(folder, say("Year by year"), Statement((net,), years, all_years, as_of, (_BEFORE,)), "year")
    yield _Question(
        folder,
        say("The same part of every year"),
        Statement((ShownMeasure("net_sales", ("percent_change",)),), years, all_years, as_of, (_BEFORE,), cut="same_point"),
        "year",
    )
    if outer:
        yield _Question(
            folder,
            say("Months by {dimension}", dimension=dimension_name(str(inner[0]))),
            Statement((ShownMeasure("net_sales"),), inner, _TO_DATE, as_of, across=months),
            "month",
        )
    yield _Question(
        folder,
        say("Running total this year"),
        Statement((ShownMeasure("net_sales"), running), months, _TO_DATE, as_of, (_YEAR,)),
        "month",
    )
    alongs: tuple[Grain, ...] = ("year", "quarter", "month")
    totals = tuple(ShownMeasure("net_sales", (), RunningTotal(each)) for each in alongs)
    yield _Question(
        folder,
        say("Running totals of the year, the quarter, the month"),
        Statement((ShownMeasure("net_sales"), *totals), days, ToDate("quarter"), as_of),
    )
    if outer:
        yield _Question(
            folder,
            say("Running total by {dimension}", dimension=dimension_name(str(outer[0]))),
            Statement((ShownMeasure("net_sales", (), RunningTotal("year")),), months, _TO_DATE, as_of, across=outer),
            "month",
        )
    mean = ShownMeasure("net_sales", (), Moving(3))
    yield _Question(
        folder,
        say("Months with their mean of three"),
        Statement((ShownMeasure("net_sales"), mean), months, LastPeriods(24, "month"), as_of),
        "month",
        Layout(chart=Chart()),
    )


def _parts(ledger: LedgerFacts, as_of: AsOfPolicy) -> Iterator[_Question]:
    folder = say("Parts and movers")
    known = _known(ledger)
    net = ShownMeasure("net_sales", _CHANGE)
    if len(known) > 1:
        shares = (ShownMeasure("net_sales", ("share_of_parent", "share_of_all", "rank")),)
        yield _Question(
            folder,
            say("Shares in {dimension}", dimension=dimension_name(known[0])),
            Statement(shares, tuple(known[:2]), _TO_DATE, as_of),
            "year",
        )
    if not known:
        return
    category = next((each.name for each in ledger.dimensions if each.name == "category"), known[-1])
    yield _Question(
        folder,
        say("Quarter to date by {dimension}, most changed first", dimension=dimension_name(category)),
        Statement((net,), (category,), ToDate("quarter"), as_of, (_YEAR,), sort=Sort("net_sales.1.difference")),
        "quarter",
    )
    customers = next((name for name in ("customer", "product", "rep") if name in known), known[-1])
    yield _Question(
        folder,
        say("Growth of the quarter where both sold, by {dimension}", dimension=dimension_name(customers)),
        Statement((net,), (customers,), ToDate("quarter"), as_of, (_YEAR,), limits=(StatusLimit(("kept",)),)),
        "quarter",
    )
    yield _Question(
        folder,
        say("New and lost by {dimension}", dimension=dimension_name(customers)),
        Statement(
            (ShownMeasure("net_sales", ("difference",)),),
            (customers,),
            _TO_DATE,
            as_of,
            (_YEAR,),
            limits=(StatusLimit(("new", "lost")),),
        ),
        "year",
    )
