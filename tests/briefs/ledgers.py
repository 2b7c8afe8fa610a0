"""Small ledgers and briefs for the tests of briefs."""

from __future__ import annotations

import random
from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace
from datetime import date
from pathlib import Path

from lofty_abacus.actions.briefs.keep_briefs import keep_brief
from lofty_abacus.actions.intake.post_files import post_files
from lofty_abacus.actions.intake.stage_files import stage_files
from lofty_abacus.actions.ledgers.withdraw_batch import restore_batch, withdraw_batch
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import Posting, Replacement
from lofty_abacus.actions.records.briefs import Handing, KeptBrief
from lofty_abacus.core.statement.levels import TimeLevel
from lofty_abacus.core.statement.statement import Goal, Opened, ShownMeasure, Statement
from lofty_abacus.core.windows.as_of import PinnedDay
from lofty_abacus.core.windows.bases import PeriodBase
from lofty_abacus.core.windows.current import RunningPeriod, ToDate
from lofty_abacus.export.briefs.brief import Block, Brief, FigureBlock, RestatedBlock, TextBlock
from lofty_abacus.export.layout import Layout
from tests.conftest import quiet

Write = Callable[..., tuple[str, Path]]
HEADER = "date,order,line id,region,rep,product,units,amount"
#: (day, order, line, region, rep, product, units, amount): two years, names that HTML, spreadsheets and files must bear.
LINES = (
    "2025-03-05,O1,L1,North,Ada,P1,2,100.00",
    "2025-03-20,O2,L2,South,Bo & Co,P2,1,50.50",
    "2025-04-02,O3,L3,North,<Cy>,P1,3,75.25",
    "2026-03-04,O4,L4,North,Ada,P1,2,120.10",
    "2026-03-21,O5,L5,South,Bo & Co,P2,4,200.00",
    "2026-03-29,O6,L6,South,=1+1,P3,1,10.00",
    "2026-04-10,O7,L7,Łódź,Ada,P1,1,33.33",
    "2026-05-06,O8,L8,North,Ada,P2,1,-5.00",
)
AS_OF = PinnedDay(date(2026, 5, 31))
YEAR, MONTH = PeriodBase(1, "year"), PeriodBase(1, "month")
NET = ShownMeasure("net_sales", ("difference", "percent_change"))
BY_REGION = Statement((NET,), ("region",), ToDate("year"), bases=(YEAR,))
GOALS = Statement(
    (ShownMeasure("net_sales"), ShownMeasure("orders")),
    ("region",),
    RunningPeriod("month"),
    bases=(MONTH,),
    goals=(Goal("net_sales", "100"), Goal("orders", "95.5")),
)


def posted(
    office: Office, ledger: str, csv_file: Write, *lines: str, name: str = "sales.csv", replaces: tuple[int, ...] = ()
) -> Posting:
    """Lines posted as one file."""
    staging = stage_files(office, ledger, [csv_file(name, HEADER, *lines)])
    return post_files(office, staging.id, quiet, Replacement(replaces))


def posted_together(
    office: Office, ledger: str, csv_file: Write, files: Mapping[str, Sequence[str]], replacement: Replacement | None = None
) -> Posting:
    """Files by name, each with its heading, posted as one version."""
    staging = stage_files(office, ledger, [csv_file(name, *rows) for name, rows in files.items()])
    return post_files(office, staging.id, quiet, replacement)


def made_up(chance: random.Random, order: str) -> list[str]:
    """A few lines of an order, some of them returns."""
    return [
        f"2026-0{chance.randint(1, 5)}-{chance.randint(1, 28):02d},{order},{order}/{n},{chance.choice(('North', 'South', 'West'))},"
        f"{chance.choice(('Ada', 'Bo & Co', 'New'))},P{n},{chance.randint(1, 9)},{chance.randint(-90000, 90000) / 100:.2f}"
        for n in range(chance.randint(1, 4))
    ]


def a_step(
    office: Office, ledger: str, csv_file: Write, chance: random.Random, number: int, batches: list[tuple[int, bool]]
) -> None:
    """Something is posted, withdrawn or restored."""
    if batches and chance.random() < 0.4:
        at = chance.randrange(len(batches))
        batch, active = batches[at]
        (withdraw_batch(office, ledger, batch, leave_hole=False) if active else restore_batch(office, ledger, batch))
        batches[at] = (batch, not active)
        return
    files = {f"s{number}-{part}.csv": (HEADER, *made_up(chance, f"S{number}-{part}")) for part in range(chance.randint(1, 3))}
    gone = [batch for batch, active in batches if active and chance.random() < 0.15]
    batches[:] = [each for each in batches if each[0] not in gone]
    batches += [(each, True) for each in posted_together(office, ledger, csv_file, files, Replacement(tuple(gone))).batches]


def blocks() -> tuple[Block, ...]:
    """A block of every kind."""
    months = replace(BY_REGION, rows=(TimeLevel("month"),), measures=(ShownMeasure("net_sales"),))
    return (
        FigureBlock("headline", BY_REGION),
        FigureBlock("headline", replace(BY_REGION, measures=(ShownMeasure("return_rate"),))),
        FigureBlock("table", replace(BY_REGION, rows=("region", "rep")), Opened(2), title="Regions & reps"),
        FigureBlock("bridge", BY_REGION, layout=Layout(bridge="each"), width="half"),
        FigureBlock("movers", replace(BY_REGION, rows=("rep",)), width="half"),
        FigureBlock("scorecard", GOALS, title="Goals"),
        FigureBlock("chart", months),
        FigureBlock("words", replace(BY_REGION, rows=("rep",))),
        TextBlock("Written **by hand** on {as_of}."),
        RestatedBlock(),
    )


def brief(name: str = "Monthly", **values: object) -> Brief:
    """A brief with a block of every kind."""
    return replace(Brief(name, as_of=AS_OF, blocks=blocks()), **values)  # type: ignore[arg-type]


def kept(office: Office, ledger: str, asked: Brief | None = None, handing: Handing | None = None) -> KeptBrief:
    """A brief that is kept."""
    return keep_brief(office, ledger, asked or brief(), handing or Handing())
