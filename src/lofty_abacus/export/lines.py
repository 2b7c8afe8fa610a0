"""The lines of an exported table: one a row; or, with measures below each other, one a row and metric."""

from __future__ import annotations

from dataclasses import dataclass

from lofty_abacus.core.answer.answer import Answer, AnsweredColumn, Cell, Row
from lofty_abacus.export.layout import Layout


@dataclass(frozen=True)
class Line:
    """A row, or one metric of it.

    columns: positions among the answer's columns, one for each heading; None where the metric has no such column. metric: the
    position of its first column, None where measures stand beside each other. place: which line of its row it is.
    """

    row: Row
    columns: tuple[int | None, ...]
    metric: int | None = None
    place: int = 0

    def cells(self) -> list[tuple[int | None, Cell | None]]:
        """Position and cell under each heading."""
        return [(at, None if at is None else self.row.cells[at]) for at in self.columns]


def slots_of(answer: Answer, layout: Layout) -> tuple[tuple[int, ...], ...]:
    """What stands under each heading: positions of a column, or of that column of every metric that has it."""
    if layout.measures == "beside":
        return tuple((at,) for at in range(len(answer.columns)))
    found: dict[tuple[object, ...], list[int]] = {}
    for at, column in enumerate(answer.columns):
        says = (column.across, column.kind, column.window, column.step, column.scope)
        found.setdefault(says, []).append(at)
    return tuple(tuple(each) for each in found.values())


def lines_of(answer: Answer, layout: Layout) -> list[Line]:
    """The lines of all rows in their order, with the total where the layout puts it."""
    slots, rows = slots_of(answer, layout), in_order(answer, layout)
    if layout.measures == "beside":
        columns = tuple(slot[0] for slot in slots)
        return [Line(row, columns) for row in rows]
    kinds = []
    for place, (name, first) in enumerate(_metrics(answer).items()):
        held = tuple(next((at for at in slot if _metric(answer.columns[at]) == name), None) for slot in slots)
        kinds.append((held, first, place))
    return [Line(row, *kind) for row in rows for kind in kinds]


def in_order(answer: Answer, layout: Layout) -> tuple[Row, ...]:
    """The rows with the total where the layout puts it."""
    if layout.totals == "off":
        return answer.rows
    return (answer.total, *answer.rows) if layout.totals == "above" else (*answer.rows, answer.total)


def _metric(column: AnsweredColumn) -> tuple[str, str]:
    return column.measure, column.along


def _metrics(answer: Answer) -> dict[tuple[str, str], int]:
    """Each metric and the position of its first column."""
    found: dict[tuple[str, str], int] = {}
    for at, column in enumerate(answer.columns):
        found.setdefault(_metric(column), at)
    return found
