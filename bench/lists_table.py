"""Long lists: ranked, cut to the first ones, explained and run down, whole columns at a time."""

from __future__ import annotations

import time
from dataclasses import replace

from bench.ledgers import generated
from bench.unasked import unasked
from lofty_abacus.api.answer_json import answer_to_json
from lofty_abacus.core.answer.answering import Answering
from lofty_abacus.core.answer.movers import movers
from lofty_abacus.core.answer.scorecard import scorecard
from lofty_abacus.core.lines import LineColumns
from lofty_abacus.core.statement.ledger import LedgerFacts
from lofty_abacus.core.statement.limits import TopLimit
from lofty_abacus.core.statement.movers import MoversAsked
from lofty_abacus.core.statement.scorecard import CardAsked
from lofty_abacus.core.statement.statement import Goal, Opened, ShownMeasure, Statement
from lofty_abacus.core.windows.as_of import PinnedDay
from lofty_abacus.core.windows.bases import PeriodBase
from lofty_abacus.core.windows.current import ToDate
from lofty_abacus.demo.scenario import AS_OF
from lofty_abacus.telling.told import with_words
from lofty_abacus.wiring import collect_seldom

LINES, CUSTOMERS, MANY_CUSTOMERS = 1_000_000, 15_000, 80_500
#: Rows that come with their cells where a table is large: what the page asks for.
FILLED = 100
_CHANGE = ShownMeasure("net_sales", ("difference", "percent_change"))


def _asked(shown: ShownMeasure, *rows: str, top: TopLimit | None = None) -> Statement:
    limits = (top,) if top else ()
    return Statement((shown,), rows, as_of=PinnedDay(AS_OF), bases=(PeriodBase(1, "year"),), limits=limits)


QUESTIONS: dict[str, tuple[Statement, float]] = {
    "top 1,000 customers by change": (_asked(_CHANGE, "customer", top=TopLimit(1_000, "net_sales.1.difference")), 0.15),
    "top 1,000 customers by % change": (_asked(_CHANGE, "customer", top=TopLimit(1_000, "net_sales.1.percent_change")), 0.15),
    "bridge by rep over customers": (_asked(ShownMeasure("net_sales", ("bridge",)), "rep", "customer"), 0.3),
    "price, volume and mix by rep": (_asked(ShownMeasure("net_sales", ("price_volume_mix",)), "rep"), 0.3),
    "distinct orders down a list of 300 customers": (
        _asked(
            ShownMeasure("orders", ("cumulative", "cumulative_share")), "customer",
            top=TopLimit(300, "orders.0.value", rest=False),
        ),
        0.3,
    ),
}  # fmt: skip


def report() -> str:
    """The table as Markdown."""
    # As the application has it.
    collect_seldom()
    _, columns, facts = generated(LINES, CUSTOMERS)
    lines = [
        f"## Long lists, {LINES:,} lines, {CUSTOMERS:,} customers",
        "",
        "| question | rows | answered (best of 3) | aim |",
        "|---|---|---|---|",
    ]
    for name, (statement, aim) in QUESTIONS.items():
        seconds, rows, _ = _best(columns, facts, statement, None)
        lines.append(f"| {name} | {rows:,} | {seconds:.2f} s | {aim:g} s |")
    _, columns, facts = generated(LINES, MANY_CUSTOMERS)
    every = _asked(ShownMeasure("net_sales", ()), "customer")
    for fill, how in ((FILLED, f"named, the first {FILLED} filled, as the page asks"), (None, "all filled")):
        seconds, rows, size = _best(columns, facts, every, fill)
        lines.append(f"| all customers, {how}, and made into {size / 1e6:.1f} MB of JSON | {rows:,} | {seconds:.2f} s | 1 s |")
    lines += ["", f"## Movers and scorecard, {LINES:,} lines", "", "| page | members | answered (best of 3) |", "|---|---|---|"]
    _, columns, facts = generated(LINES, CUSTOMERS)
    for name, rows in (("who moved, by rep", ("rep", "customer")), ("who moved, by customer", ("customer",))):
        asked = _asked(ShownMeasure("net_sales"), *rows)
        seconds, members = min(_moved(columns, facts, asked) for _ in range(3))
        lines.append(f"| {name} | {members:,} | {seconds:.2f} s |")
    judged = replace(
        _asked(ShownMeasure("net_sales"), "rep"),
        measures=(ShownMeasure("net_sales"), ShownMeasure("orders"), ShownMeasure("return_rate")),
        window=ToDate("month"),
        goals=(Goal("net_sales", "100"), Goal("orders", "100")),
    )
    seconds, members = min(_judged(columns, facts, judged) for _ in range(3))
    lines.append(f"| scorecard by rep with six periods before | {members:,} | {seconds:.2f} s |")
    return "\n".join([*lines, ""])


def _moved(columns: LineColumns, facts: LedgerFacts, statement: Statement) -> tuple[float, int]:
    source, started = unasked(columns), time.perf_counter()
    found = movers(statement, facts, source, AS_OF, MoversAsked())
    return time.perf_counter() - started, found.members


def _judged(columns: LineColumns, facts: LedgerFacts, statement: Statement) -> tuple[float, int]:
    source, started = unasked(columns), time.perf_counter()
    card = scorecard(statement, facts, source, AS_OF, CardAsked())
    return time.perf_counter() - started, len(card.answer.rows)


def _best(columns: LineColumns, facts: LedgerFacts, statement: Statement, fill: int | None) -> tuple[float, int, int]:
    """Seconds, rows and bytes of JSON of the best of three times on a source that remembers nothing of the question."""
    columns.members("customer").name_rank()
    found: list[tuple[float, int, int]] = []
    for _ in range(3):
        source, started = unasked(columns), time.perf_counter()
        answer = Answering(statement, facts, source, AS_OF, Opened(1)).answer(fill)
        size = len(answer_to_json(with_words(answer, statement)))
        found.append((time.perf_counter() - started, len(answer.rows), size))
    return min(found)
