"""The table: rows and columns with their cells."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import replace
from fractions import Fraction

import numpy as np

from lofty_abacus.core.answer.answer import AnsweredColumn, Cell, GoalsMet, Row, cells_of
from lofty_abacus.core.answer.cells import Cells
from lofty_abacus.core.answer.columns import ColumnRecipe, how_shown
from lofty_abacus.core.answer.evaluation import Points
from lofty_abacus.core.answer.nodes import ROOT, Node, Place
from lofty_abacus.core.answer.places import Places
from lofty_abacus.core.answer.rows import MOST_ROWS, ClosedRows, Rows, ShownRow, across_id
from lofty_abacus.core.comparing.status import Status
from lofty_abacus.core.comparing.whole_shares import adding_up
from lofty_abacus.core.errors import QuestionError
from lofty_abacus.core.saying import say
from lofty_abacus.core.windows.stretches import Moving

MOST_COLUMNS = 2_000
#: Rows of members alone that are kept of a dimension.
MOST_BARE = 2 * MOST_ROWS

#: A column of the table: its plan and where it stands across.
Column = tuple[ColumnRecipe, Node]


def all_columns(cells: Cells) -> tuple[Column, ...]:
    """Every column: those of the whole first, then those of each member or period across.

    Raises QuestionError beyond MOST_COLUMNS.
    """
    nodes = [ROOT]
    for node in cells.across.walk():
        nodes.append(node)
        if len(nodes) * len(cells.resolved.columns) > MOST_COLUMNS:
            raise QuestionError(
                "across",
                say("more than {most_columns:,} columns would stand across.", most_columns=MOST_COLUMNS),
                say("Take fewer, or filter."),
            )
    return tuple((recipe, node) for node in nodes for recipe in cells.resolved.columns)


def answered_columns(cells: Cells, columns: tuple[Column, ...]) -> tuple[AnsweredColumn, ...]:
    """What each column is and how its numbers are to be shown."""
    return tuple(answered_column(cells, recipe, node) for recipe, node in columns)


def answered_column(cells: Cells, recipe: ColumnRecipe, node: Node = ROOT) -> AnsweredColumn:
    """What one column is."""
    unit, decimals, polarity = how_shown(recipe)
    shown = recipe.metric.shown
    return AnsweredColumn(
        id=f"{recipe.id}@{across_id(node)}" if node.depth else recipe.id,
        measure=recipe.measure.name,
        kind=recipe.kind,
        window=recipe.window,
        unit=unit,
        decimals=decimals,
        polarity=polarity,
        measure_kind=recipe.measure.kind,
        parts_overlap=recipe.kind.startswith("share") and recipe.measure.kind == "distinct",
        name=shown.name,
        along=shown.along.name if shown.along else "",
        scope=recipe.scope,
        step=recipe.step,
        across=node.path,
        across_labels=_labels(cells, node),
    )


def _labels(cells: Cells, node: Node) -> tuple[str, ...]:
    found: list[str] = []
    spot, time = 0, 0
    for level in cells.across.levels[: node.depth]:
        if isinstance(level, str):
            found.append(cells.resolved.source.members(level).label(node.spot.codes[spot]))
            spot += 1
        else:
            found.append(node.time[time])
            time += 1
    return tuple(found)


def shown_rows(rows: Rows, listed: Sequence[ShownRow], columns: tuple[Column, ...]) -> tuple[Row, ...]:
    """All rows with their cells."""
    found = answered_rows(listed, columns)
    return tuple(_adding_up(listed, found, columns) if rows.cells.resolved.statement.shares_add_up else found)


def _adding_up(shown: Sequence[ShownRow], rows: list[Row], columns: tuple[Column, ...]) -> list[Row]:
    """The rows with shares of the parent (at the outermost level, of all) that add up as shown, where the list is complete."""
    lists: dict[tuple[str | None, ...], list[int]] = defaultdict(list)
    for at, each in enumerate(shown):
        lists[each.node.path if each.rest is not None else each.node.path[:-1]].append(at)
    for parent, members in lists.items():
        for number, (recipe, _) in enumerate(columns):
            if recipe.kind != "share_of_parent" and not (recipe.kind == "share_of_all" and not parent):
                continue
            exact = [_fraction(rows[at].cells[number]) for at in members]
            parts = [each for each in exact if each is not None and each >= 0]
            if recipe.measure.kind != "additive" or len(parts) < len(exact) or sum(parts, Fraction(0)) != 1:
                continue
            for at, text in zip(members, adding_up(parts, how_shown(recipe)[1]), strict=True):
                cells = list(rows[at].cells)
                cells[number] = replace(cells[number], shown=text)
                rows[at] = replace(rows[at], cells=tuple(cells))
    return rows


def _fraction(cell: Cell) -> Fraction | None:
    if cell.numerator is None or cell.denominator is None:
        return None
    return Fraction(int(cell.numerator), int(cell.denominator))


def total_row(cells: Cells, columns: tuple[Column, ...]) -> Row:
    """The row that covers everything."""
    return answered_rows([ShownRow(ROOT, cells, is_open=True)], columns)[0]


def answered_rows(listed: Sequence[ShownRow], columns: tuple[Column, ...]) -> list[Row]:
    """Rows with their cells: a column at a time, of all rows that stand at one depth."""
    found: dict[int, Row] = {}
    groups: dict[tuple[int, int], list[int]] = defaultdict(list)
    for at, row in enumerate(listed):
        groups[id(row.cells), row.node.depth].append(at)
    for places in groups.values():
        rows = [listed[at] for at in places]
        judged = bool(rows[0].cells.resolved.statement.goals)
        # What stands in one column across stands at the same places, whatever it shows.
        nodes = [row.node for row in rows]
        at_across = {across.path: Places(nodes, across) for _, across in columns}
        filled = zip(*(_filled(rows, recipe, at_across[across.path]) for recipe, across in columns), strict=True)
        for at, cells, status in zip(places, filled, _statuses(rows), strict=True):
            found[at] = named_row(listed[at], cells, status, _goals(listed[at]) if judged else None)
    return [found[at] for at in range(len(listed))]


def _statuses(rows: Sequence[ShownRow]) -> list[Status | None]:
    """The statuses of rows of one depth."""
    cells, depth = rows[0].cells, rows[0].node.depth
    by_time = depth > 0 and cells.rows.is_time(depth)
    found: list[Status | None] = [None] * len(rows)
    if rows[0].rest is not None or not cells.resolved.statement.bases or by_time:
        return found
    places = Places([row.node for row in rows])
    slots = cells.slots(places)
    for slot in set(slots.tolist()) - {-1}:
        here = np.flatnonzero(slots == slot)
        points = Points(places.dimensions, places.codes[here], here * 0)
        for at, status in zip(here.tolist(), cells.evaluation.statuses(points, slot), strict=True):
            found[at] = status
    return found


def bare_rows(closed: ClosedRows) -> list[Row]:
    """Rows that are not filled yet: of members alone the same objects for all answers, since a list may have many thousands."""
    siblings, can_open = closed.siblings, closed.can_open
    members, parent = siblings.members, siblings.parent
    if members is None:
        return [named_row(closed.at(place)) for place in range(closed.end - closed.first)]
    slot = closed.cells.resolved.slot_at.get((parent.time, ()))

    def made(code: int) -> Row:
        path = (*parent.path, members.key(code))
        return Row(path, members.name(code), None, can_open, is_open=False, cells=(), slot=slot)

    codes = siblings.codes[closed.first : closed.end].tolist()
    if parent.depth:
        return [made(code) for code in codes]
    kept: dict[int, Row] = members.rows.setdefault((can_open, slot), {})
    if len(kept) > MOST_BARE:
        kept.clear()
    return [kept.get(code) or kept.setdefault(code, made(code)) for code in codes]


def named_row(row: ShownRow, cells: tuple[Cell, ...] = (), status: Status | None = None, goals: GoalsMet | None = None) -> Row:
    """A row with its name; one that is not filled yet has no cells."""
    if row.rest is not None:
        label = "1 other" if row.rest == 1 else f"{row.rest} others"
    else:
        label = row.cells.rows.label(row.node) if row.node.depth else ""
    slot = row.cells.resolved.slot_at.get((row.node.time, ()))
    return Row(row.node.path, label, status, row.can_open, row.is_open, cells, row.rest, slot, goals)


def answered_column_of(rows: Sequence[ShownRow], recipe: ColumnRecipe, across: Node = ROOT) -> list[Cell]:
    """The cells of a column in rows of one depth; of a goal with whether it is met."""
    return _filled(rows, recipe, Places([row.node for row in rows], across))


def _filled(rows: Sequence[ShownRow], recipe: ColumnRecipe, places: Places) -> list[Cell]:
    cells, across = rows[0].cells, places.across
    found = cells_of(cells.column(places, recipe, [row.siblings for row in rows]))
    along = recipe.metric.shown.along
    if recipe.kind == "value" and isinstance(along, Moving):
        for at, slot in enumerate(cells.slots(places).tolist()):
            if slot >= 0 and found[at].value is not None:
                window = cells.resolved.window_at(slot, recipe.metric.along, recipe.window)
                periods = cells.resolved.stretches[window].periods
                found[at] = replace(found[at], of=periods if periods != along.periods else None)
    if recipe.goal is not None:
        for at, row in enumerate(rows):
            place = Place(row.node, across)
            verdict = cells.verdict(place, recipe)
            if verdict is not None:
                target = cells.target(place, recipe) or None
                found[at] = replace(found[at], met=verdict.met, decimals=verdict.decimals, target=target)
    return found


def _goals(row: ShownRow) -> GoalsMet:
    """How many of a row's goals are met, of those that can be told; the others are named (section 11)."""
    plans = [recipe for recipe in row.cells.resolved.columns if recipe.goal is not None]
    verdicts = [(recipe, row.cells.verdict(Place(row.node, ROOT), recipe)) for recipe in plans]
    told = [verdict.met for _, verdict in verdicts if verdict is not None and verdict.met is not None]
    undefined = tuple(recipe.metric.id for recipe, verdict in verdicts if verdict is None or verdict.met is None)
    return GoalsMet(sum(told), len(told), undefined)
