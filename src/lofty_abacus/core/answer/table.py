"""The table: rows and columns with their cells."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import replace
from fractions import Fraction
from itertools import islice

from lofty_abacus.core.answer.answer import AnsweredColumn, Cell, GoalsMet, Row, cell_of
from lofty_abacus.core.answer.cells import Cells
from lofty_abacus.core.answer.columns import ColumnPlan, how_shown
from lofty_abacus.core.answer.nodes import ROOT, Node, Place
from lofty_abacus.core.answer.rows import MOST_ROWS, Rows, ShownRow, across_id, too_many_rows
from lofty_abacus.core.comparing.whole_shares import adding_up
from lofty_abacus.core.errors import QuestionError
from lofty_abacus.core.patience import heed
from lofty_abacus.core.statement.statement import Opened
from lofty_abacus.core.windows.stretches import Moving

MOST_COLUMNS = 2_000

#: A column of the table: its plan and where it stands across.
Column = tuple[ColumnPlan, Node]


def all_columns(cells: Cells) -> tuple[Column, ...]:
    """Every column: those of the whole first, then those of each member or period across.

    Raises QuestionError beyond MOST_COLUMNS.
    """
    nodes = [ROOT]
    for node in cells.across.walk():
        nodes.append(node)
        if len(nodes) * len(cells.resolved.columns) > MOST_COLUMNS:
            raise QuestionError("across", f"more than {MOST_COLUMNS:,} columns would stand across.", "Take fewer, or filter.")
    return tuple((plan, node) for node in nodes for plan in cells.resolved.columns)


def answered_columns(cells: Cells, columns: tuple[Column, ...]) -> tuple[AnsweredColumn, ...]:
    """What each column is and how its numbers are to be shown."""
    return tuple(answered_column(cells, plan, node) for plan, node in columns)


def answered_column(cells: Cells, plan: ColumnPlan, node: Node = ROOT) -> AnsweredColumn:
    """What one column is."""
    unit, decimals, polarity = how_shown(plan)
    shown = plan.metric.shown
    return AnsweredColumn(
        id=f"{plan.id}@{across_id(node)}" if node.depth else plan.id,
        measure=plan.measure.name,
        kind=plan.kind,
        window=plan.window,
        unit=unit,
        decimals=decimals,
        polarity=polarity,
        measure_kind=plan.measure.kind,
        parts_overlap=plan.kind.startswith("share") and plan.measure.kind == "distinct",
        name=shown.name,
        along=shown.along.name if shown.along else "",
        scope=plan.scope,
        step=plan.step,
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


def listed_rows(rows: Rows, opened: Opened) -> tuple[ShownRow, ...]:
    """The open rows, without cells. Raises QuestionError beyond MOST_ROWS."""
    found = tuple(islice(rows.shown(opened), MOST_ROWS + 1))
    if len(found) > MOST_ROWS:
        raise too_many_rows()
    return found


def shown_rows(rows: Rows, listed: Sequence[ShownRow], columns: tuple[Column, ...]) -> tuple[Row, ...]:
    """All rows with their cells."""
    found = [answered_row(row, columns) for row in listed]
    return tuple(_adding_up(listed, found, columns) if rows.cells.resolved.statement.shares_add_up else found)


def _adding_up(shown: Sequence[ShownRow], rows: list[Row], columns: tuple[Column, ...]) -> list[Row]:
    """The rows with shares of the parent (at the outermost level, of all) that add up as shown, where the list is complete."""
    lists: dict[tuple[str | None, ...], list[int]] = defaultdict(list)
    for at, each in enumerate(shown):
        lists[each.node.path if each.rest is not None else each.node.path[:-1]].append(at)
    for parent, members in lists.items():
        for number, (plan, _) in enumerate(columns):
            if plan.kind != "share_of_parent" and not (plan.kind == "share_of_all" and not parent):
                continue
            exact = [_fraction(rows[at].cells[number]) for at in members]
            parts = [each for each in exact if each is not None and each >= 0]
            if plan.measure.kind != "additive" or len(parts) < len(exact) or sum(parts, Fraction(0)) != 1:
                continue
            for at, text in zip(members, adding_up(parts, how_shown(plan)[1]), strict=True):
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
    return answered_row(ShownRow(ROOT, cells, (ROOT,), is_open=True), columns)


def answered_row(row: ShownRow, columns: tuple[Column, ...]) -> Row:
    """A row with its cells."""
    heed()
    cells = row.cells
    resolved = cells.resolved
    slot = resolved.slot_at.get((row.node.time, ()))
    status = None
    by_time = row.node.depth > 0 and cells.rows.is_time(row.node.depth)
    if row.rest is None and slot is not None and resolved.statement.bases and not by_time:
        status = cells.evaluation.status(row.node.spot, slot)
    return replace(
        named_row(row),
        status=status,
        cells=tuple(answered_cell(cells, Place(row.node, across), plan, row.siblings) for plan, across in columns),
        goals=_goals(row),
    )


def named_row(row: ShownRow) -> Row:
    """A row that is not filled yet."""
    others = "1 other" if row.rest == 1 else f"{row.rest} others"
    return Row(
        path=row.node.path,
        label=others if row.rest is not None else row.cells.rows.label(row.node) if row.node.depth else "",
        status=None,
        can_open=row.can_open,
        is_open=row.is_open,
        cells=(),
        rest=row.rest,
        slot=row.cells.resolved.slot_at.get((row.node.time, ())),
    )


def answered_cell(cells: Cells, place: Place, plan: ColumnPlan, siblings: tuple[Node, ...]) -> Cell:
    """One cell; of a goal with whether it is met. siblings: the row's, as they are listed."""
    found = cell_of(cells.value(place, plan, siblings))
    along = plan.metric.shown.along
    if plan.kind == "value" and isinstance(along, Moving) and found.value is not None:
        slot = cells.resolved.slot_at.get((place.row.time, place.across.time))
        if slot is not None:
            periods = cells.resolved.stretches[cells.resolved.window_at(slot, plan.metric.along, plan.window)].periods
            found = replace(found, of=periods if periods != along.periods else None)
    verdict = None if plan.goal is None else cells.verdict(place, plan)
    return found if verdict is None else replace(found, met=verdict.met, decimals=verdict.decimals)


def _goals(row: ShownRow) -> GoalsMet | None:
    """How many of a row's goals are met, of those that can be told; the others are named (section 11)."""
    plans = [plan for plan in row.cells.resolved.columns if plan.goal is not None]
    if not plans:
        return None
    verdicts = [(plan, row.cells.verdict(Place(row.node, ROOT), plan)) for plan in plans]
    told = [verdict.met for _, verdict in verdicts if verdict is not None and verdict.met is not None]
    undefined = tuple(plan.metric.id for plan, verdict in verdicts if verdict is None or verdict.met is None)
    return GoalsMet(sum(told), len(told), undefined)
