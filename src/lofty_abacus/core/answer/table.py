"""The rows that are shown, in their order, each with its cells."""

from __future__ import annotations

from collections.abc import Iterator
from fractions import Fraction

from lofty_abacus.core.answer.answer import AnsweredColumn, Row, cell_of
from lofty_abacus.core.answer.evaluation import TOTAL, Evaluation, Spot
from lofty_abacus.core.answer.resolve import ColumnPlan
from lofty_abacus.core.errors import QuestionError
from lofty_abacus.core.grouping.request import Source
from lofty_abacus.core.statement.statement import Opened

MOST_ROWS = 50_000


def depth_needed(rows: int, opened: Opened) -> int:
    """How many row dimensions must be added up to show what is open."""
    deepest = max([opened.depth, *(len(path) + 1 for path in opened.paths)])
    return min(rows, deepest)


def answered_columns(plans: tuple[ColumnPlan, ...]) -> tuple[AnsweredColumn, ...]:
    """What each column is and how its numbers are to be shown."""
    return tuple(_column(plan) for plan in plans)


def shown_rows(evaluation: Evaluation, source: Source, opened: Opened) -> tuple[Row, ...]:
    """The open rows from the top down, each parent before its children. Raises QuestionError beyond MOST_ROWS."""
    rows: list[Row] = []
    for row in _walk(evaluation, source, opened, TOTAL, ()):
        rows.append(row)
        if len(rows) > MOST_ROWS:
            raise QuestionError("rows", f"more than {MOST_ROWS:,} rows are open.", "Close some, or filter.")
    return tuple(rows)


def total_row(evaluation: Evaluation) -> Row:
    """The row that covers everything."""
    return _row(evaluation, TOTAL, (), "", can_open=False, is_open=True)


def find_spot(evaluation: Evaluation, source: Source, path: tuple[str | None, ...]) -> Spot:
    """The row of a path of member keys. Raises QuestionError where it has no lines in any window."""
    spot = TOTAL
    for depth, key in enumerate(path):
        name = evaluation.resolved.statement.rows[depth]
        code = source.members(name).codes.get(key)
        codes = evaluation.levels[depth + 1].codes
        found = [child for child in evaluation.children(spot) if int(codes[child.cell, -1]) == code]
        if not found:
            raise QuestionError("row", f"{name} {key!r} has no line in any window here.", "Open the row again.")
        spot = found[0]
    return spot


def _walk(evaluation: Evaluation, source: Source, opened: Opened, parent: Spot, path: tuple[str | None, ...]) -> Iterator[Row]:
    names = evaluation.resolved.statement.rows
    depth = len(path) + 1
    if depth > len(names):
        return
    members = source.members(names[depth - 1])
    codes = evaluation.levels[depth].codes
    for spot in _in_order(evaluation, source, evaluation.children(parent)):
        code = int(codes[spot.cell, -1])
        here = (*path, members.key(code))
        can_open = depth < len(names)
        is_open = can_open and (depth < opened.depth or here in opened.paths)
        yield _row(evaluation, spot, here, members.label(code), can_open=can_open, is_open=is_open)
        if is_open:
            yield from _walk(evaluation, source, opened, spot, here)


def _row(evaluation: Evaluation, spot: Spot, path: tuple[str | None, ...], label: str, *, can_open: bool, is_open: bool) -> Row:
    cells = tuple(cell_of(evaluation.column(spot, plan)) for plan in evaluation.resolved.columns)
    return Row(path, label, evaluation.status(spot), can_open, is_open, cells)


def _in_order(evaluation: Evaluation, source: Source, spots: list[Spot]) -> list[Spot]:
    """Siblings in name order, or by the sort column: undefined last, ties by name (section 9)."""
    if not spots:
        return spots
    depth = spots[0].depth
    rank = source.members(evaluation.resolved.statement.rows[depth - 1]).name_rank
    codes = evaluation.levels[depth].codes
    named = sorted(spots, key=lambda spot: int(rank[codes[spot.cell, -1]]))
    sort = evaluation.resolved.statement.sort
    if sort is None:
        return named
    column = next(plan for plan in evaluation.resolved.columns if plan.id == sort.column)
    sign = -1 if sort.descending else 1

    def key(spot: Spot) -> tuple[bool, Fraction]:
        exact = evaluation.column(spot, column).exact
        return (exact is None, Fraction(0) if exact is None else sign * exact)

    return sorted(named, key=key)


def _column(plan: ColumnPlan) -> AnsweredColumn:
    measure = plan.measure
    if plan.kind == "value":
        unit, decimals = measure.unit, measure.decimals
    elif plan.kind == "difference":
        unit, decimals = ("points" if measure.unit == "percent" else measure.unit), measure.decimals  # type: ignore[assignment]
    else:
        unit, decimals = "percent", 1
    is_share = plan.kind.startswith("share")
    return AnsweredColumn(
        id=plan.id,
        measure=measure.name,
        kind=plan.kind,  # type: ignore[arg-type]
        window=plan.window,
        unit=unit,
        decimals=decimals,
        polarity="neutral" if is_share else measure.polarity,
        measure_kind=measure.kind,
        parts_overlap=is_share and measure.kind == "distinct",
    )
