"""An answer as a workbook that a manager can check: figures with formats, live formulas where they say it all, and a caption.

Differences, % changes, attainment, shares of what stands on the sheet and the totals of additive measures are formulas; all other
figures are values, and the caption says so.
"""

from __future__ import annotations

import io
from collections.abc import Mapping
from dataclasses import dataclass
from decimal import Decimal
from fractions import Fraction

from openpyxl import Workbook
from openpyxl.cell import WriteOnlyCell
from openpyxl.styles import Alignment, Font
from openpyxl.utils import get_column_letter
from openpyxl.worksheet._write_only import WriteOnlyWorksheet

from lofty_abacus.core.answer.answer import Answer, AnsweredColumn, Cell, Row
from lofty_abacus.core.statement.limits import StatusLimit
from lofty_abacus.core.statement.statement import Statement
from lofty_abacus.export.captions import caption_lines
from lofty_abacus.export.csv_table import ALL, NOT_MAPPED, headings, in_order
from lofty_abacus.export.harmless import harmless
from lofty_abacus.export.layout import Layout, laid_out
from lofty_abacus.export.showing import SIGNED

#: A workbook keeps 15 digits of a number; longer ones are written as text.
DIGITS = 15
_BOLD = Font(bold=True)
_PLAIN = Layout()
#: What stands for zero in a number format; '' leaves it a figure.
_ZEROS = {"figure": "", "dash": '"-"', "blank": '""'}


@dataclass(frozen=True)
class _Sheet:
    """Where things stand on the sheet: the letter of each column, the row numbers of the answer's rows, the total last."""

    answer: Answer
    statement: Statement
    letters: tuple[str, ...]
    first_row: int
    children: Mapping[int | None, tuple[int, ...]]
    """Rows directly under each row (None: under the total), by position, where all of them stand on the sheet."""
    layout: Layout

    def number(self, at: int) -> int:
        """The sheet's row of a row of the answer; len(rows) is the total."""
        if self.layout.totals != "above":
            return self.first_row + at
        return self.first_row if at == len(self.answer.rows) else self.first_row + 1 + at


def workbook(
    answer: Answer, statement: Statement, descriptions: Mapping[str, str] | None = None, layout: Layout = _PLAIN
) -> bytes:
    """The shown rows in their order, the total where the layout puts it, and a sheet that says what they are. Undefined cells are
    empty, their reason stands in a column beside."""
    answer = laid_out(answer, layout)
    book = Workbook(write_only=True)
    figures = book.create_sheet("Figures")
    header, with_reason = headings(answer, statement, descriptions or {})
    figures.freeze_panes = f"{get_column_letter(len(statement.rows) + 1)}2"
    before = len(statement.rows) + (1 if statement.bases else 0)
    letters = _letters(answer, before, with_reason)
    sheet = _Sheet(answer, statement, letters, 2, _children(answer, statement), layout)
    figures.append([_heading(figures, text) for text in header])
    for row in in_order(answer, layout):
        at = len(answer.rows) if row is answer.total else answer.rows.index(row)
        figures.append(_row(figures, sheet, at, row, with_reason))
    caption = book.create_sheet("What this shows")
    for left, right in caption_lines(answer, statement):
        caption.append([harmless(left), harmless(right)])
    caption.append(["Formulas", "Changes, shares and totals of sums that stand on the sheet; all other figures are values."])
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def _letters(answer: Answer, before: int, with_reason: frozenset[int]) -> tuple[str, ...]:
    letters, place = [], before
    for at in range(len(answer.columns)):
        place += 1
        letters.append(get_column_letter(place))
        place += at in with_reason
    return tuple(letters)


def _children(answer: Answer, statement: Statement) -> dict[int | None, tuple[int, ...]]:
    """Rows by their parent, where no limit hides one and no level is a period cut by its parent."""
    if any(not isinstance(limit, StatusLimit) for limit in statement.limits) or statement.all_members:
        return {}
    found: dict[int | None, list[int]] = {}
    stack: list[int] = []
    for at, row in enumerate(answer.rows):
        while stack and len(answer.rows[stack[-1]].path) >= len(row.path):
            stack.pop()
        found.setdefault(stack[-1] if stack else None, []).append(at)
        stack.append(at)
    return {parent: tuple(rows) for parent, rows in found.items()}


def _heading(figures: WriteOnlyWorksheet, text: str) -> WriteOnlyCell:
    cell = WriteOnlyCell(figures, harmless(text))
    cell.font, cell.alignment = _BOLD, Alignment(wrap_text=True, vertical="top")
    return cell


def _row(figures: WriteOnlyWorksheet, sheet: _Sheet, at: int, row: Row, with_reason: frozenset[int]) -> list[object]:
    path: list[object] = [NOT_MAPPED if key is None else harmless(key) for key in row.path]
    if row.rest is not None:
        path.append(harmless(f"({row.label})"))
    fields: list[object] = path + [ALL] * (len(sheet.statement.rows) - len(path))
    if sheet.statement.bases:
        fields.append(row.status or "")
    for number, (column, cell) in enumerate(zip(sheet.answer.columns, row.cells, strict=True)):
        written = WriteOnlyCell(figures, _content(sheet, at, row, number, column, cell))
        written.number_format = _format(column, sheet.layout)
        if at == len(sheet.answer.rows):
            written.font = _BOLD
        fields.append(written)
        if number in with_reason:
            fields.append(cell.reason or "")
    return fields


def _content(sheet: _Sheet, at: int, row: Row, number: int, column: AnsweredColumn, cell: Cell) -> object:
    if cell.value is None:
        return None
    return _formula(sheet, at, row, number, column) or _number(cell)


def _number(cell: Cell) -> Decimal | str:
    value = Decimal(cell.value or "0")
    return value if len(value.as_tuple().digits) <= DIGITS else str(cell.value)


def _formula(sheet: _Sheet, at: int, row: Row, number: int, column: AnsweredColumn) -> str | None:
    """What a figure is, told by other cells of the sheet; None where it is more than that."""
    here = sheet.number(at)
    if column.kind == "value":
        return _sum_of_rows(sheet, at, number, column)
    current = _operand(sheet, row, column, 0)
    if current is None:
        return None
    if column.kind in ("difference", "percent_change", "attainment"):
        base = _operand(sheet, row, column, column.window)
        if base is None:
            return None
        c, b = f"{current}{here}", f"{base}{here}"
        return {"difference": f"={c}-{b}", "percent_change": f"=({c}-{b})/{b}", "attainment": f"={c}/{b}"}[column.kind]
    if column.kind == "share_of_all" and not column.across and sheet.layout.totals != "off":
        return f"={current}{here}/{current}{sheet.number(len(sheet.answer.rows))}" if row.slot == 0 else None
    return None


def _operand(sheet: _Sheet, row: Row, column: AnsweredColumn, window: int) -> str | None:
    """The letter of the column that holds a metric's value in a window, if its cell here is a number."""
    for at, each in enumerate(sheet.answer.columns):
        same = (each.measure, each.along, each.across) == (column.measure, column.along, column.across)
        if same and each.kind == "value" and each.window == window:
            return sheet.letters[at] if isinstance(_number(row.cells[at]), Decimal) else None
    return None


def _sum_of_rows(sheet: _Sheet, at: int, number: int, column: AnsweredColumn) -> str | None:
    """A total of an additive measure, where the rows that it is the sum of all stand below it."""
    if column.measure_kind != "additive" or column.along:
        return None
    rows = sheet.answer.rows
    below = sheet.children.get(at if at < len(rows) else None, ())
    cells = [rows[each].cells[number] for each in below]
    if not below or any(each.value is None for each in cells):
        return None
    mine = sheet.answer.total.cells[number] if at == len(rows) else rows[at].cells[number]
    if sum((Fraction(each.value or 0) for each in cells), Fraction(0)) != Fraction(mine.value or 0):
        return None
    if any(not isinstance(_number(each), Decimal) for each in (*cells, mine)):
        return None
    letter = sheet.letters[number]
    return f"=SUM({','.join(_runs(letter, [sheet.number(each) for each in below]))})"


def _runs(letter: str, numbers: list[int]) -> list[str]:
    """Cells of one column, neighbours as one range."""
    found: list[list[int]] = []
    for number in numbers:
        if found and number == found[-1][1] + 1:
            found[-1][1] = number
        else:
            found.append([number, number])
    return [f"{letter}{first}" if first == last else f"{letter}{first}:{letter}{last}" for first, last in found]


def _format(column: AnsweredColumn, layout: Layout) -> str:
    """The number format: thousands separated, the sign of a change shown, percentages and points from fractions."""
    zeros = "." + "0" * column.decimals if column.decimals else ""
    if column.unit == "percent":
        body = f"0{zeros}%"
    elif column.unit == "points":
        body = f'0{zeros}%" pt"'
    else:
        body = f"#,##0{zeros}"
    if column.kind not in SIGNED and layout.negatives == "minus" and layout.zeros == "figure":
        return body
    positive = f"+{body}" if column.kind in SIGNED else body
    negative = f"({body})" if layout.negatives == "brackets" else f"-{body}"
    return f"{positive};{negative};{_ZEROS[layout.zeros] or body}"
