"""The figures that a block shows, each by where it is proved: to be held against the same figures of another version."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from lofty_abacus.core.answer.answer import AnsweredColumn, Cell, Row
from lofty_abacus.core.answer.movers import Mover
from lofty_abacus.core.saying import say
from lofty_abacus.export.briefs.composed import ComposedFigures
from lofty_abacus.export.briefs.written import cell_text, decimals_of, mover_column
from lofty_abacus.export.layout import laid_out
from lofty_abacus.telling.movers import ToldMovers
from lofty_abacus.telling.names import capital
from lofty_abacus.telling.told import ToldAnswer, told_of

#: Columns that say where a row stands among others: they change with any of them, and are no figures of their own.
_PLACES = ("rank", "cumulative", "cumulative_share")


@dataclass(frozen=True)
class FigureKey:
    """Where a figure of a block stands: the row's path (rest: of the rest of a list in it), and its column."""

    path: tuple[str | None, ...]
    column: str
    rest: bool = False


@dataclass(frozen=True)
class ShownFigure:
    """A figure as a block shows it. row, heading: what stands beside and over it."""

    key: FigureKey
    row: str
    heading: str
    cell: Cell
    column: AnsweredColumn
    text: str


def shown_figures(block: ComposedFigures) -> Iterator[ShownFigure]:
    """Every figure of a block, in its order; a figure that stands in two pictures of it comes once."""
    seen: set[FigureKey] = set()
    for each in _all(block):
        if each.key not in seen and each.column.kind not in _PLACES:
            seen.add(each.key)
            yield each


def _all(block: ComposedFigures) -> Iterator[ShownFigure]:
    if block.movers is not None:
        yield from _of_movers(block, block.movers)
    elif block.card is not None:
        yield from _of_answer(block, block.card.answer)
    elif block.answer is not None:
        yield from _of_answer(block, block.answer)


def _of_answer(block: ComposedFigures, answer: ToldAnswer) -> Iterator[ShownFigure]:
    found = laid_out(answer, block.layout) if block.kind == "table" else answer
    told = answer.told if found.columns == answer.columns else told_of(found, block.statement)
    columns = [decimals_of(each, found.total.cells[at], block.layout) for at, each in enumerate(found.columns)]
    names: dict[tuple[str | None, ...], str] = {}

    def of(row: Row, name: str) -> Iterator[ShownFigure]:
        for at, cell in enumerate(row.cells):
            key = FigureKey(row.path, columns[at].id, row.rest is not None)
            yield ShownFigure(key, name, told.columns[at].plain, cell, columns[at], cell_text(cell, columns[at], block.layout))

    yield from of(found.total, told.total if block.statement.rows else "")
    for row in found.rows:
        above = names.get(row.path[:-1], "")
        name = f"{above} › {row.label}" if above and row.rest is None else row.label
        if row.rest is None:
            names[row.path] = name
        yield from of(row, name)


def _of_movers(block: ComposedFigures, movers: ToldMovers) -> Iterator[ShownFigure]:
    listed = (*movers.ups.movers, *movers.downs.movers)
    for mover in (movers.total, *listed):
        if mover.path is not None:
            yield from _of_mover(block, movers, mover)


def _of_mover(block: ComposedFigures, movers: ToldMovers, mover: Mover) -> Iterator[ShownFigure]:
    told = movers.told
    changes = {"difference": say("change"), "percent_change": say("% change")}
    headings = {"value": told.current_heading, "base": told.base_heading, **changes}
    for shown in ("value", "base", "difference", "percent_change"):
        cell = mover.shown.get(shown)
        if cell is None:
            continue
        column = mover_column(movers, shown)
        heading = f"{capital(told.measure)}, {headings[shown]}"
        yield ShownFigure(
            FigureKey(mover.path or (), column.id), mover.label, heading, cell, column, cell_text(cell, column, block.layout)
        )
