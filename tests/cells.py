"""Read an answer as a table of exact values."""

from __future__ import annotations

from fractions import Fraction

from lofty_abacus.core.answer.answer import Answer, Cell, Row


def exact(cell: Cell) -> Fraction | str:
    """The cell's exact value, or its reason."""
    if cell.value is None:
        assert cell.reason is not None, "an undefined cell carries its reason"
        return cell.reason
    if cell.numerator is not None and cell.denominator is not None:
        return Fraction(int(cell.numerator), int(cell.denominator))
    return Fraction(cell.value)


def row_of(answer: Answer, *path: str | None) -> Row:
    """The row of a path; no path: the total."""
    if not path:
        return answer.total
    return next(row for row in answer.rows if row.path == path)


def value(answer: Answer, column: str, *path: str | None) -> Fraction | str:
    """A cell by column id and row path."""
    at = [each.id for each in answer.columns].index(column)
    return exact(row_of(answer, *path).cells[at])
