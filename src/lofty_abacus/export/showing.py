"""Figures as they are shown to people: rounded once from the exact value, with separators, signs and the layout's formats."""

from __future__ import annotations

from fractions import Fraction

from lofty_abacus.core.answer.answer import AnsweredColumn, Cell
from lofty_abacus.core.answer.kinds import KINDS
from lofty_abacus.core.money import round_half_away
from lofty_abacus.export.layout import Layout

#: Marks between thousands and before decimals, of a number written 1,234.50. The space does not break a line.
_MARKS: dict[str, dict[int, int]] = {
    "locale": {},
    "comma_point": {},
    "point_comma": str.maketrans(",.", ".,"),
    "space_comma": str.maketrans(",.", "\u202f,"),
}


def exact(cell: Cell) -> Fraction | None:
    """The exact value of a cell; None where there is none."""
    if cell.value is None:
        return None
    if cell.numerator is not None and cell.denominator is not None:
        return Fraction(int(cell.numerator), int(cell.denominator))
    return Fraction(cell.value)


def shown_text(cell: Cell, column: AnsweredColumn, layout: Layout) -> str:
    """A cell as text: +13.0%, 1,234.50, (12.00); empty where it is undefined."""
    value = exact(cell)
    if value is None:
        return ""
    if cell.shown is not None:
        return f"{cell.shown}%"
    zeros = layout.zeros_of(column.measure)
    if value == 0 and zeros != "figure":
        return "-" if zeros == "dash" else ""
    of_hundred = column.unit in ("percent", "points")
    decimals = column.decimals if cell.decimals is None else cell.decimals
    rounded = round_half_away(value * 100 if of_hundred else value, decimals)
    whole, _, part = rounded.lstrip("-").partition(".")
    unit = {"percent": "%", "points": " pt"}.get(column.unit, "")
    sign = layout.sign if column.unit.startswith("currency") else ""
    body = sign + f"{int(whole):,}{'.' + part if part else ''}".translate(_MARKS[layout.marks]) + unit
    if not rounded.strip("-0."):
        return body
    if rounded.startswith("-"):
        return f"({body})" if layout.negatives_of(column.measure) == "brackets" else f"-{body}"
    return f"+{body}" if KINDS[column.kind].signed else body
