"""Small ledgers for tests: plain lines, and the same lines as columns."""

from __future__ import annotations

import zlib
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from datetime import date

import numpy as np

from lofty_abacus.core.calendar.settings import CalendarSettings
from lofty_abacus.core.days import day_number
from lofty_abacus.core.grouping.source import ColumnsSource
from lofty_abacus.core.lines import NO_DAY, DimensionColumn, Figure, Level, LineColumns, Members, day_column
from lofty_abacus.core.measures.table import FurtherFigure
from lofty_abacus.core.measures.value import Scales
from lofty_abacus.core.segments import Segments, segments_of
from lofty_abacus.core.statement.ledger import Dimension, FurtherDay, LedgerFacts
from lofty_abacus.core.windows.coverage import FeedCoverage, default_coverage
from lofty_abacus.core.windows.ranges import EMPTY, DayRange, DaySet
from lofty_abacus.workers import threads

WORKERS = threads()
#: Into how many segments the lines of tests are cut.
CUTS = (1, 2, 7, 40)

FIGURES = ("quantity", "cost", "freight", "weight")
ROLES = {"order": "order", "customer": "customer", "product": "product", "rep": "rep", "region": "region"}


@dataclass(frozen=True)
class Line:
    """A line as a person would write it down; amounts, costs and freights in minor units (cents), weights in tenths."""

    day: date
    amount: int
    order: str = ""
    region: str = ""
    rep: str = ""
    product: str = ""
    customer: str = ""
    quantity: int | None = 1
    cost: int | None = None
    is_return: bool | None = None
    freight: int | None = None
    weight: int | None = None
    delivery: date | None = None

    @property
    def returned(self) -> bool:
        if self.is_return is not None:
            return self.is_return
        return self.amount < 0 or (self.amount == 0 and (self.quantity or 0) < 0)


@dataclass(frozen=True)
class SmallLedger:
    """Lines with the facts that the core needs. levels: per level its dimension and key-to-member map."""

    lines: Sequence[Line]
    coverage: DayRange | None = None
    holes: DaySet = EMPTY
    calendar: CalendarSettings = CalendarSettings()
    levels: dict[str, tuple[str, dict[str, str]]] = field(default_factory=dict)
    today: date = date(2026, 6, 30)

    @property
    def facts(self) -> LedgerFacts:
        days = [line.day for line in self.lines]
        known = [day for day in days if day <= self.today]
        covered = self.coverage or (default_coverage(min(days), max(known, default=None)) if days else None)
        feeds = (FeedCoverage("lines", covered, frozenset({"sale", "return"}), self.holes),) if covered else ()
        has = {name for name in FIGURES if any(getattr(line, name) is not None for line in self.lines)}
        delivered = [line.delivery for line in self.lines if line.delivery is not None]
        by_delivery = [
            replace(feed, days=default_coverage(min(delivered), min(max(delivered), feed.days.last)), holes=EMPTY)
            for feed in feeds
            if delivered
        ]
        return LedgerFacts(
            name="small",
            version=1,
            currency="EUR",
            scales=Scales(2, 0, (("freight", 2), ("weight", 1))),
            calendar=self.calendar,
            feeds=feeds,
            dimensions=tuple(Dimension(name, role) for name, role in ROLES.items())
            + tuple(Dimension(name, None, of) for name, (of, _) in self.levels.items()),
            has=frozenset(has),
            figures=(
                FurtherFigure("freight", "amount", 2, polarity="more_is_adverse"),
                FurtherFigure("weight", "quantity", 1, "kg"),
            ),
            days=(FurtherDay("delivery", tuple(by_delivery)),) if delivered else (),
        )

    @property
    def columns(self) -> LineColumns:
        """All lines as one segment."""
        return columns_of(self.lines, self.levels)

    @property
    def source(self) -> ColumnsSource:
        """The lines in 1, 2, 7 or 40 segments, with others among them that do not count: no answer may depend on it."""
        number = zlib.crc32(repr(self.lines).encode())
        return self.source_in(CUTS[number % len(CUTS)], number)

    def source_in(self, segments: int, seed: int = 0) -> ColumnsSource:
        """The lines in so many segments."""
        return ColumnsSource(cut(self.columns, segments, seed), workers=WORKERS)

    def with_lines(self, lines: Sequence[Line]) -> SmallLedger:
        return replace(self, lines=lines, coverage=self.facts.feeds[0].days if self.facts.feeds else None)


def cut(columns: LineColumns, into: int, seed: int = 0) -> Segments:
    """The same lines in so many segments, at random, with further lines in some of them that do not count.

    Now and then a segment lacks what none of its lines has: quantities, costs, a dimension.
    """
    if into == 1 and seed % 2 == 0:
        return Segments((columns,))
    random = np.random.default_rng(seed)
    place = random.integers(0, into, len(columns))
    parts = []
    for at in range(into):
        own = np.flatnonzero(place == at)
        spare = random.choice(len(columns), min(len(columns), 3), replace=False) if len(columns) and at % 3 == 1 else own[:0]
        lines = np.sort(np.concatenate([own, np.setdiff1d(spare, own)]))
        part = columns.taken(lines)
        out = np.isin(lines, own, invert=True).astype(np.uint8)
        parts.append(_without_what_none_has(replace(part, out=out if out.any() else None)))
    return segments_of(parts, {name: each.members for name, each in columns.dimensions.items()})


def _without_what_none_has(part: LineColumns) -> LineColumns:
    figures = {name: each for name, each in part.figures.items() if each.missing is None or not each.missing.all()}
    days = {name: each for name, each in part.days.items() if (each.numbers() != NO_DAY).any()}
    # A dimension that levels are reached from, or whose ids are counted, came with the first lines.
    needed = {level.of for level in part.levels.values()} | {"order", "customer", "product"}
    kept = {name: each for name, each in part.dimensions.items() if name in needed or each.codes.any()}
    return replace(part, dimensions=kept, figures=figures, days=days)


def members_of(keys: Sequence[str | None]) -> Members:
    labels = ["(not mapped)" if key is None else key or "(blank)" for key in keys]
    return Members(len(keys), lambda: (list(keys), labels))


def columns_of(lines: Sequence[Line], levels: dict[str, tuple[str, dict[str, str]]] | None = None) -> LineColumns:
    """Columns as the store would derive them: sorted by (day, order code), codes given out in order of appearance."""
    keys = {name: list(dict.fromkeys(["", *(getattr(line, name) for line in lines)])) for name in ROLES}
    codes = {name: {key: code for code, key in enumerate(known)} for name, known in keys.items()}
    at = sorted(range(len(lines)), key=lambda i: (lines[i].day, codes["order"][lines[i].order], i))
    ordered = [lines[i] for i in at]
    numbers = [day_number(line.day) for line in ordered]
    first = numbers[0] if numbers else 0

    def figure(values: list[int | None]) -> Figure:
        missing = np.array([value is None for value in values], np.uint8)
        return Figure(np.array([value or 0 for value in values], np.int64), missing if missing.any() else None)

    figures = {name: [getattr(line, name) for line in ordered] for name in FIGURES}
    delivered = np.array([NO_DAY if line.delivery is None else day_number(line.delivery) for line in ordered], np.int32)
    found_levels = {}
    for name, (of, mapping) in (levels or {}).items():
        level_keys: list[str | None] = ["", None, *dict.fromkeys(mapping.values())]
        table = [0 if not key else level_keys.index(mapping[key]) if key in mapping else 1 for key in keys[of]]
        found_levels[name] = Level(of, np.array(table, np.int32), members_of(level_keys))
    return LineColumns(
        first_day=first,
        day=np.array([number - first for number in numbers], np.uint16),
        side=np.array([line.returned for line in ordered], np.uint8),
        amount=np.array([line.amount for line in ordered], np.int64),
        line_id=np.array(at, np.uint64),
        dimensions={
            name: DimensionColumn(
                np.array([codes[name][getattr(line, name)] for line in ordered], np.uint16), members_of(keys[name])
            )
            for name in ROLES
        },
        levels=found_levels,
        roles=dict(ROLES),
        figures={name: figure(values) for name, values in figures.items() if any(each is not None for each in values)},
        days={"delivery": day_column(delivered)} if (delivered != NO_DAY).any() else {},
    )
