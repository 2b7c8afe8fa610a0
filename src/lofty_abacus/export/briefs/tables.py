"""The table of a block: headings in groups and lines of cells, laid out as the screen has it."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import groupby

from markupsafe import Markup

from lofty_abacus.core.answer.answer import AnsweredColumn, Row
from lofty_abacus.core.saying import say
from lofty_abacus.core.statement.statement import Statement
from lofty_abacus.export.briefs.written import Place, cell_text, decimals_of, way_of
from lofty_abacus.export.layout import Layout, laid_out
from lofty_abacus.export.lines import lines_of, slots_of
from lofty_abacus.telling.headings import ColumnWords
from lofty_abacus.telling.told import ToldAnswer, with_words


@dataclass(frozen=True)
class Group:
    """Headings that stand together under one."""

    name: str
    columns: int


@dataclass(frozen=True)
class TableLine:
    """A line: what it is called, how deep it stands, what kind of row it is, and its cells."""

    label: str
    depth: int
    kind: str
    cells: tuple[Markup, ...]


@dataclass(frozen=True)
class Table:
    """A table to be drawn. rows: over the names. heads: (heading, its base, whether it is the current window)."""

    rows: str
    groups: tuple[Group, ...]
    heads: tuple[tuple[str, str, str], ...]
    lines: tuple[TableLine, ...]

    @property
    def wide(self) -> int:
        """How many columns there are."""
        return len(self.heads)


def table_of(answer: ToldAnswer, statement: Statement, layout: Layout, place: Place) -> Table:
    """The table of an answer as its layout has it."""
    seen = laid_out(answer, layout)
    told = with_words(seen, statement).told
    columns = [decimals_of(each, seen.total.cells[at], layout) for at, each in enumerate(seen.columns)]
    slots = slots_of(seen, layout)
    words = [told.columns[slot[0]] for slot in slots]
    firsts = [seen.columns[slot[0]] for slot in slots]
    below = layout.measures == "below"
    lines = []
    for line in lines_of(seen, layout):
        cells = []
        for at, cell in line.cells():
            if at is None or cell is None:
                cells.append(Markup(""))
                continue
            text = cell_text(cell, columns[at], layout)
            if cell.met is not None:
                text += " ✓" if cell.met else " ✗"
            # The rest of a list, and what several rows stand for, have no proof of their own.
            path = None if line.row.rest is not None else line.row.path
            cells.append(place.figure(text, path, columns[at].id, way_of(cell, columns[at])))
        label = _label(line.row, told.total)
        if below and line.metric is not None:
            label = f"{label} · {told.columns[line.metric].metric}" if not line.place else told.columns[line.metric].metric
        kind = "total" if not line.row.path else "parent" if line.row.can_open and line.row.is_open else ""
        lines.append(TableLine(label, max(len(line.row.path) - 1, 0) + bool(line.place), kind, tuple(cells)))
    heads = tuple(
        (layout.headings.get(seen.columns[slot[0]].id) or each.heading, each.base, f"w{min(seen.columns[slot[0]].window, 4)}")
        for slot, each in zip(slots, words, strict=True)
    )
    return Table(told.rows, _groups(words, firsts, below=below), heads, tuple(lines))


def _groups(words: list[ColumnWords], columns: list[AnsweredColumn], *, below: bool) -> tuple[Group, ...]:
    """Headings of one metric, where it stands across, under its name."""
    keys = [(each.across, "" if below else each.measure, "" if below else each.along) for each in columns]
    names = [", ".join(each for each in (word.across, "" if below else word.metric) if each) for word in words]
    groups, at = [], 0
    for _, found in groupby(keys):
        count = len(list(found))
        groups.append(Group(names[at], count))
        at += count
    return tuple(groups)


def _label(row: Row, total: str) -> str:
    if row.rest is not None:
        return row.label or say("{count} others", count=row.rest)
    return row.label if row.path else total
