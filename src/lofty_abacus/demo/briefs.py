"""The demo's monthly brief: one published issue, one restatement of it, and the draft of the next."""

from __future__ import annotations

from datetime import date

from lofty_abacus.actions.records.briefs import Handing, Person
from lofty_abacus.core.statement.levels import TimeLevel
from lofty_abacus.core.statement.statement import Goal, Opened, ShownMeasure, Statement
from lofty_abacus.core.windows.as_of import LastPostedDay
from lofty_abacus.core.windows.bases import PeriodBase
from lofty_abacus.core.windows.current import RunningPeriod, ToDate
from lofty_abacus.export.briefs.brief import Block, Brief, FigureBlock, RestatedBlock, TextBlock
from lofty_abacus.export.layout import Layout

#: Who published it, where nobody is named.
AUTHOR = "A. Brandt"
NAME = "Month in figures"
#: The day as of which the first issue is published, and the month whose file is complete only afterwards.
FIRST_ISSUE = date(2026, 9, 30)
LATE_FILE = "sales-2026-09.csv"
#: Lines of that file that are missing at first: those of its last days.
MISSING = 23

_YEAR, _MONTH = PeriodBase(1, "year"), PeriodBase(1, "month")
_NET = ShownMeasure("net_sales", ("difference", "percent_change"))
_TO_DATE = ToDate("year")
_RUNNING = RunningPeriod("month")


def _year(*rows: str) -> Statement:
    return Statement((_NET,), rows, _TO_DATE, bases=(_YEAR,))


def _month(measure: str) -> Statement:
    return Statement((ShownMeasure(measure),), (), _RUNNING, bases=(_MONTH,))


def _goals() -> Statement:
    measures = ("net_sales", "orders", "return_rate")
    goals = tuple(Goal(each, "100") for each in measures)
    return Statement(tuple(map(ShownMeasure, measures)), ("category",), _RUNNING, bases=(_MONTH,), goals=goals)


def _reps() -> Statement:
    measures = (_NET, ShownMeasure("orders", ("percent_change",)))
    return Statement(measures, ("region", "rep"), _TO_DATE, bases=(_YEAR,))


def demo_brief() -> Brief:
    """The brief as the demo's analyst put it together."""
    months = Statement((ShownMeasure("net_sales"),), (TimeLevel("month"),), _TO_DATE, bases=(_YEAR,))
    blocks: tuple[Block, ...] = (
        FigureBlock("headline", _year()),
        FigureBlock("headline", _month("orders")),
        FigureBlock("headline", _month("return_rate")),
        FigureBlock("bridge", _year("region"), title="From last year to this year", layout=Layout(bridge="each"), width="half"),
        FigureBlock("scorecard", _goals(), title="Goals by category", width="half"),
        FigureBlock("table", _reps(), Opened(2), title="Regions and their reps"),
        FigureBlock("chart", months, title="Month by month", width="half"),
        FigureBlock("movers", _year("category"), title="Categories up and down", width="half"),
        TextBlock("Pre-orders for the autumn kiln campaign are dated after this day and are **not** counted."),
        RestatedBlock(),
    )
    return Brief(NAME, masthead="Kiln & Glaze wholesale", as_of=LastPostedDay(), blocks=blocks)


def demo_handing() -> Handing:
    """To whom it goes: nobody by itself; mail of the demo is caught in a folder."""
    return Handing((Person("sales.lead@kiln-and-glaze.example", "Sales lead"),), "{title}: {headline}")
