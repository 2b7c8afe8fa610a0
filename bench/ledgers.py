"""Generated ledgers for measurements, as columns and in MariaDB."""

from __future__ import annotations

import numpy as np

from lofty_abacus.core.calendar.settings import CalendarSettings
from lofty_abacus.core.lines import DimensionColumn, Figure, LineColumns, Members
from lofty_abacus.core.measures.value import Scales
from lofty_abacus.core.statement.ledger import Dimension, LedgerFacts
from lofty_abacus.core.windows.coverage import FeedCoverage
from lofty_abacus.core.windows.ranges import DayRange
from lofty_abacus.demo.generate import Lines, make_lines, make_world
from lofty_abacus.demo.scenario import AS_OF, CITIES, FIRST_DAY, KINDS, REPS

CUSTOMERS = 20_000


def generated(count: int, customers: int = CUSTOMERS) -> tuple[Lines, LineColumns, LedgerFacts]:
    """About `count` lines of the made-up wholesaler as columns, with the facts to ask by."""
    world = make_world(customers)
    lines = make_lines(count, world)
    region_names = sorted({city.region for city in CITIES})
    region_of = np.array([region_names.index(city.region) for city in CITIES])
    orders = int(lines.order[-1])

    def members(size: int, prefix: str) -> Members:
        keys = ["", *(f"{prefix}{at}" for at in range(size))]
        return Members(size + 1, lambda: (keys, keys))

    def many(size: int) -> Members:
        def load() -> tuple[list[str | None], list[str]]:
            keys: list[str | None] = ["", *(f"K-{at}" for at in range(size))]
            return keys, [key or "" for key in keys]

        return Members(size + 1, load)

    columns = LineColumns(
        first_day=int(lines.day[0]),
        day=(lines.day - lines.day[0]).astype(np.uint16),
        side=np.zeros(len(lines), np.uint8),
        amount=lines.amount,
        figures={"quantity": Figure(lines.units), "cost": Figure(lines.cost)},
        line_id=np.arange(1, len(lines) + 1, dtype=np.uint64),
        dimensions={
            "rep": DimensionColumn((lines.rep + 1).astype(np.uint8), members(len(REPS), "Rep ")),
            "region": DimensionColumn(
                (region_of[world.city[lines.customer]] + 1).astype(np.uint8), members(len(region_names), "Region ")
            ),
            "product": DimensionColumn((lines.product + 1).astype(np.uint8), members(sum(kind.products for kind in KINDS), "P-")),
            "customer": DimensionColumn((lines.customer + 1).astype(np.min_scalar_type(customers)), members(customers, "C-")),
            "order": DimensionColumn(lines.order.astype(np.uint32), many(orders)),
        },
        levels={},
        roles={"order": "order", "customer": "customer", "product": "product", "rep": "rep", "region": "region"},
    )
    facts = LedgerFacts(
        name="bench",
        version=1,
        currency="EUR",
        scales=Scales(2, 0),
        calendar=CalendarSettings(),
        feeds=(FeedCoverage("sales", DayRange(FIRST_DAY, AS_OF), frozenset({"sale", "return"})),),
        dimensions=tuple(Dimension(name, name) for name in columns.dimensions),
        has=frozenset({"quantity", "cost"}),
    )
    return lines, columns, facts
