"""A brief of twelve blocks: composed anew, rendered, and laid out on paper."""

from __future__ import annotations

import time
from dataclasses import replace
from pathlib import Path

from bench.ledger_table import office_of
from bench.unasked import unasked
from lofty_abacus.actions.briefs.compose_brief import compose
from lofty_abacus.core.lines import LineColumns
from lofty_abacus.core.statement.ledger import LedgerFacts
from lofty_abacus.core.statement.levels import TimeLevel
from lofty_abacus.core.statement.statement import Goal, Opened, ShownMeasure, Statement
from lofty_abacus.core.windows.as_of import PinnedDay
from lofty_abacus.core.windows.bases import PeriodBase
from lofty_abacus.core.windows.current import RunningPeriod, ToDate
from lofty_abacus.demo.scenario import AS_OF
from lofty_abacus.export.briefs.brief import Block, Brief, FigureBlock
from lofty_abacus.export.briefs.fonts import Fonts
from lofty_abacus.export.briefs.page import page
from lofty_abacus.export.briefs.pdf import pdf
from lofty_abacus.export.layout import Layout

FONTS = Fonts(Path(__file__).resolve().parents[1] / "web" / "dist" / "assets")
TIMES = 5
_YEAR, _MONTH = PeriodBase(1, "year"), PeriodBase(1, "month")
_NET = ShownMeasure("net_sales", ("difference", "percent_change"))


def twelve() -> Brief:
    """A brief with two or more blocks of every kind."""
    year = Statement((_NET,), ("region",), ToDate("year"), bases=(_YEAR,))
    month = replace(year, window=RunningPeriod("month"), bases=(_MONTH,))
    orders = ShownMeasure("orders")
    goals = replace(month, measures=(ShownMeasure("net_sales"), orders), goals=(Goal("net_sales", "100"), Goal("orders", "100")))
    months = replace(year, rows=(TimeLevel("month"),), measures=(ShownMeasure("net_sales"),))
    blocks: tuple[Block, ...] = (
        FigureBlock("headline", year),
        FigureBlock("headline", replace(month, measures=(orders,))),
        FigureBlock("headline", replace(month, measures=(ShownMeasure("units"),))),
        FigureBlock("bridge", year, layout=Layout(bridge="each"), width="half"),
        FigureBlock("scorecard", goals, width="half"),
        FigureBlock("table", replace(year, rows=("region", "rep")), Opened(2)),
        FigureBlock("table", replace(month, rows=("product",))),
        FigureBlock("chart", months, width="half"),
        FigureBlock("chart", year, width="half"),
        FigureBlock("movers", replace(year, rows=("rep",)), width="half"),
        FigureBlock("movers", replace(month, rows=("region",)), width="half"),
        FigureBlock("words", replace(year, rows=("rep",))),
    )
    return Brief("Twelve", as_of=PinnedDay(AS_OF), blocks=blocks)


def report(columns: LineColumns, facts: LedgerFacts) -> str:
    """The table as Markdown."""
    composing, rendering, laying = [], [], []
    for _ in range(TIMES):
        # Nothing is remembered of the ledger from the time before.
        office = office_of(facts, unasked(columns))
        start = time.perf_counter()
        found = compose(office, "bench", twelve())
        composing.append(time.perf_counter() - start)
        start = time.perf_counter()
        html = page(found)
        rendering.append(time.perf_counter() - start)
        start = time.perf_counter()
        pdf(html, FONTS)
        laying.append(time.perf_counter() - start)
    aim = "<= 1.5 s on the demo, 4 s at 10 million"
    rows = (
        ("twelve blocks composed anew, nothing remembered", composing, aim),
        ("rendered as HTML", rendering, ""),
        ("laid out as PDF", laying, "<= 5 s"),
    )
    lines = [f"| {what} | {_spread(each)} | {target} |" for what, each, target in rows]
    return (
        f"## A brief on {len(columns):,} lines\n\n| what | median (least, most) | target |\n|---|---|---|\n"
        + "\n".join(lines)
        + "\n"
    )


def _spread(seconds: list[float]) -> str:
    ordered = sorted(seconds)
    return f"{ordered[len(ordered) // 2]:.2f} s ({ordered[0]:.2f}, {ordered[-1]:.2f})"
