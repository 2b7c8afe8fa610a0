"""An answer as a workbook that a manager can check: figures with formats, live formulas where they say it all, and a caption.

Differences, % changes, attainment, verdicts of goals, shares of what stands on the sheet and the totals of additive measures are
formulas; all other figures are values, and the caption says so.
"""

from __future__ import annotations

import io
import re
import zipfile
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Context, Decimal
from fractions import Fraction

from openpyxl import Workbook
from openpyxl.cell import WriteOnlyCell
from openpyxl.styles import Alignment, Font
from openpyxl.utils import get_column_letter
from openpyxl.worksheet._write_only import WriteOnlyWorksheet

from lofty_abacus.core.answer.answer import Answer, AnsweredColumn, Cell, Row
from lofty_abacus.core.answer.kinds import KINDS
from lofty_abacus.core.comparing.goals import Direction, direction_of
from lofty_abacus.core.statement.limits import StatusLimit
from lofty_abacus.core.statement.statement import Statement
from lofty_abacus.export.captions import caption_lines
from lofty_abacus.export.csv_table import MARKS, MET, Headings, headings, line_names, marks_of
from lofty_abacus.export.harmless import harmless
from lofty_abacus.export.layout import Layout, laid_out
from lofty_abacus.export.lines import Line, lines_of, slots_of
from lofty_abacus.export.showing import exact
from lofty_abacus.telling.names import reason_words

#: A workbook keeps 15 digits of a number; longer ones are written as text.
DIGITS = 15
_EMPTY_VALUE = re.compile(rb"</f><v ?/>|</f><v></v>")
_SHEET_FILE = re.compile(r"xl/worksheets/sheet(\d+)\.xml")
_NO_SHEET = re.compile(r"[\[\]:*?/\\\x00-\x1f]+")
_LONGEST_SHEET = 31
_CAPTION = "What this shows"
_BOLD = Font(bold=True)
_PLAIN = Layout()
#: What stands for zero in a number format; '' leaves it a figure.
_ZEROS = {"figure": "", "dash": '"-"', "blank": '""'}


@dataclass(frozen=True)
class _Sheet:
    """Where things stand on the sheet: the letter of each of the answer's columns, the line of each of its rows and metrics."""

    answer: Answer
    statement: Statement
    letters: tuple[str, ...]
    numbers: Mapping[tuple[int, int], int]
    """The sheet's line of a row (by its identity) and a place within it: which of the measures below each other."""
    children: Mapping[int, tuple[Row, ...]]
    """Rows directly under each row, by its identity, where all of them stand on the sheet."""
    layout: Layout
    paths: Mapping[tuple[str | None, ...], Row]

    def above(self, row: Row) -> list[Row]:
        """The rows on the sheet that hold a row, from the total inwards."""
        # The rest of a list is named by the row that it stands in.
        depths = range(1, len(row.path) + (row.rest is not None))
        found = [self.paths[row.path[:depth]] for depth in depths if row.path[:depth] in self.paths]
        return found if self.layout.totals == "off" else [self.answer.total, *found]

    def number(self, row: Row, place: int) -> int:
        """The sheet's line of a row of the answer."""
        return self.numbers[id(row), place]

    def direction_of(self, column: AnsweredColumn) -> Direction:
        """Which way the goal of a column is met."""
        goal = next((each for each in self.statement.goals if each.metric == column.id.partition(".")[0]), None)
        return (goal.direction if goal else None) or direction_of(column.polarity)


def workbook(
    answer: Answer,
    statement: Statement,
    descriptions: Mapping[str, str] | None = None,
    layout: Layout = _PLAIN,
) -> bytes:
    """The shown rows in their order, the total where the layout puts it, and a sheet that says what they are.

    Undefined cells are empty, their reason stands in a column beside.
    """
    return workbook_of([SheetPart("Figures", answer, statement, layout)], descriptions or {})


@dataclass(frozen=True)
class SheetPart:
    """A table that stands on a sheet of its own. title: of the sheet."""

    title: str
    answer: Answer
    statement: Statement
    layout: Layout


def workbook_of(parts: Sequence[SheetPart], descriptions: Mapping[str, str]) -> bytes:
    """A sheet for each table, and one that says what they are."""
    book = Workbook(write_only=True)
    names = sheet_names([each.title for each in parts])
    computed = [_figures_sheet(book, name, each, descriptions) for name, each in zip(names, parts, strict=True)]
    caption = book.create_sheet(_CAPTION)
    for name, part in zip(names, parts, strict=True):
        if len(parts) > 1:
            caption.append([_heading(caption, name)])
        for left, right in caption_lines(laid_out(part.answer, part.layout), part.statement, descriptions, part.layout):
            caption.append([harmless(left), harmless(right)])
    caption.append(["Formulas", "Changes, shares and totals of sums that stand on the sheet; all other figures are values."])
    caption.column_dimensions["A"].width, caption.column_dimensions["B"].width = 16, 100
    out = io.BytesIO()
    book.save(out)
    return _with_values(out, computed)


def sheet_names(titles: Sequence[str]) -> list[str]:
    """Names that a workbook takes for its sheets: short, without its own signs, each once."""
    found: list[str] = []
    for title in titles:
        plain = " ".join(_NO_SHEET.sub(" ", title).split()).strip("'")[:_LONGEST_SHEET].strip(" '") or "Figures"
        name, number = plain, 2
        while name.casefold() in {each.casefold() for each in (*found, _CAPTION)}:
            name, number = f"{plain[: _LONGEST_SHEET - 4].rstrip()} {number}", number + 1
        found.append(name)
    return found


def _figures_sheet(book: Workbook, name: str, part: SheetPart, descriptions: Mapping[str, str]) -> list[str]:
    """A table on a sheet of its own; what its formulas come to, in their order."""
    statement, layout = part.statement, part.layout
    answer = laid_out(part.answer, layout)
    figures = book.create_sheet(name)
    heads = headings(answer, statement, layout, descriptions)
    marked = marks_of(answer)
    names = [*heads.names, *([MARKS] if marked else [])]
    lines = lines_of(answer, layout)
    before = len(heads.names) - len(slots_of(answer, layout)) - len(heads.with_reason) - len(heads.with_verdict)
    figures.freeze_panes = f"{get_column_letter(len(statement.rows) + (layout.measures == 'below') + 1)}2"
    numbers = {(id(line.row), line.place): at for at, line in enumerate(lines, start=2)}
    letters = _letters(answer, layout, before, heads)
    paths = {row.path: row for row in answer.rows if row.rest is None}
    sheet = _Sheet(answer, statement, letters, numbers, _children(answer, statement), layout, paths)
    for number, text in enumerate(names, start=1):
        figures.column_dimensions[get_column_letter(number)].width = _width(sheet, number, before, text)
    figures.append([_heading(figures, text) for text in names])
    computed: list[str] = []
    for line in lines:
        marks = [marked[id(line.row)]] if marked else []
        figures.append([*_line(figures, sheet, line, heads, computed), *marks])
    return computed


def _with_values(saved: io.BytesIO, computed: Sequence[list[str]]) -> bytes:
    """The workbook with the value of every formula beside it, for readers that do not calculate. computed: by sheet, in order."""
    out = io.BytesIO()
    with zipfile.ZipFile(saved) as old, zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as new:
        for name in old.namelist():
            content = old.read(name)
            sheet = _SHEET_FILE.fullmatch(name)
            if sheet and int(sheet[1]) <= len(computed):
                own = computed[int(sheet[1]) - 1]
                values = iter(own)
                content, count = _EMPTY_VALUE.subn(lambda _, left=values: f"</f><v>{next(left)}</v>".encode(), content)  # type: ignore[misc]
                assert count == len(own), "every formula has its value"
            new.writestr(name, content)
    return out.getvalue()


def _width(sheet: _Sheet, number: int, before: int, heading: str) -> float:
    """A column as wide as what stands in it, the heading on two or three lines."""
    if number <= len(sheet.statement.rows):
        names = [len(row.label) for row in sheet.answer.rows if len(row.path) == number]
        return float(min(max([12, len(heading) / 2, *names]) + 2, 48))
    if number <= before:
        return 14.0
    return float(min(max(13, len(heading) / 3 + 2), 28))


def _letters(answer: Answer, layout: Layout, before: int, heads: Headings) -> tuple[str, ...]:
    """The letter under which each of the answer's columns stands."""
    letters, place = [""] * len(answer.columns), before
    for number, slot in enumerate(slots_of(answer, layout)):
        place += 1
        for at in slot:
            letters[at] = get_column_letter(place)
        place += (number in heads.with_reason) + (number in heads.with_verdict)
    return tuple(letters)


def _children(answer: Answer, statement: Statement) -> dict[int, tuple[Row, ...]]:
    """Rows by their parent's identity, where no limit hides one and no level is a period cut by its parent."""
    if any(not isinstance(limit, StatusLimit) for limit in statement.limits) or statement.all_members:
        return {}
    found: dict[int, list[Row]] = {}
    stack: list[Row] = []
    for row in answer.rows:
        while stack and len(stack[-1].path) >= len(row.path):
            stack.pop()
        found.setdefault(id(stack[-1] if stack else answer.total), []).append(row)
        stack.append(row)
    return {parent: tuple(rows) for parent, rows in found.items()}


def _heading(figures: WriteOnlyWorksheet, text: str) -> WriteOnlyCell:
    cell = WriteOnlyCell(figures, harmless(text))
    cell.font, cell.alignment = _BOLD, Alignment(wrap_text=True, vertical="top")
    return cell


def _line(figures: WriteOnlyWorksheet, sheet: _Sheet, line: Line, heads: Headings, computed: list[str]) -> list[object]:
    fields: list[object] = list(line_names(line, sheet.answer, sheet.statement, sheet.layout))
    for number, level in enumerate(sheet.statement.rows[: len(line.row.path)]):
        day = None if isinstance(level, str) or line.row.rest is not None else _first_day(line.row.path[number] or "")
        if day is not None:
            period = WriteOnlyCell(figures, day[0])
            period.number_format = day[1]
            fields[number] = period
    for place, (at, cell) in enumerate(line.cells()):
        written = WriteOnlyCell(figures, None)
        if at is not None and cell is not None:
            column = sheet.answer.columns[at]
            written.value = _content(sheet, line, at, column, cell)
            if isinstance(written.value, str) and written.value.startswith("="):
                computed.append(format(_computed(cell), "f"))
            written.number_format = _format(column, sheet.layout)
        if line.row is sheet.answer.total:
            written.font = _BOLD
        fields.append(written)
        if place in heads.with_reason:
            fields.append(reason_words(cell.reason if cell else None))
        if place in heads.with_verdict:
            fields.append(_verdict(figures, sheet, line, at, cell, computed))
    return fields


def _verdict(
    figures: WriteOnlyWorksheet, sheet: _Sheet, line: Line, at: int | None, cell: Cell | None, computed: list[str]
) -> WriteOnlyCell:
    """Whether a goal is met: 1 or 0, shown as met or missed, by a formula where the sheet has all of it."""
    written = WriteOnlyCell(figures, None)
    if at is None or cell is None or cell.met is None:
        return written
    written.number_format = f'"{MET[True]}";"{MET[True]}";"{MET[False]}"'
    column, row, here = sheet.answer.columns[at], line.row, sheet.number(line.row, line.place)
    current = _operand(sheet, row, column, 0)
    base = _operand(sheet, row, column, column.window) if column.window else None
    written.value = Decimal(int(cell.met))
    if current is not None and cell.target is not None and (base is not None or not column.window):
        c = f"{sheet.letters[current]}{here}"
        goal = f"{sheet.letters[base]}{here}*{cell.target}" if base is not None else f"{cell.target}*100"
        sign = ">=" if sheet.direction_of(column) == "at_least" else "<="
        written.value = f"=IF({c}*100{sign}{goal},1,0)"
        computed.append(str(int(cell.met)))
    return written


def _content(sheet: _Sheet, line: Line, at: int, column: AnsweredColumn, cell: Cell) -> Decimal | str | None:
    if cell.value is None:
        return None
    return _formula(sheet, line, at, column) or _number(cell)


def _computed(cell: Cell) -> Decimal:
    """What a formula comes to, with the 15 digits that a workbook keeps."""
    return +Decimal(cell.value or "0").normalize(Context(prec=DIGITS))


def _first_day(key: str) -> tuple[date, str] | None:
    """The first day of a day, month or year, and the format in which a workbook shows it as that period."""
    try:
        match len(key):
            case 10:
                return date.fromisoformat(key), "yyyy-mm-dd"
            case 7 if key[5:].isdecimal():
                return date.fromisoformat(f"{key}-01"), "mmm yyyy"
    except ValueError:
        return None
    return None


def _number(cell: Cell) -> Decimal | str:
    value = Decimal(cell.value or "0")
    return value if len(value.as_tuple().digits) <= DIGITS else str(cell.value)


def _formula(sheet: _Sheet, line: Line, at: int, column: AnsweredColumn) -> str | None:
    """What a figure is, told by other cells of the sheet; None where it is more than that."""
    row, here = line.row, sheet.number(line.row, line.place)
    if column.kind == "value":
        return _sum_of_rows(sheet, line, at, column)
    current = _operand(sheet, row, column, 0)
    if current is None:
        return None
    c = f"{sheet.letters[current]}{here}"
    if column.kind in ("difference", "percent_change", "attainment"):
        base = _operand(sheet, row, column, column.window)
        if base is None:
            return None
        b = f"{sheet.letters[base]}{here}"
        return {"difference": f"={c}-{b}", "percent_change": f"=({c}-{b})/{b}", "attainment": f"={c}/{b}"}[column.kind]
    if column.kind == "goal":
        target = row.cells[at].target
        base = _operand(sheet, row, column, column.window) if column.window else None
        if column.window:
            return None if base is None else f"={c}/{sheet.letters[base]}{here}"
        return None if target is None else f"={c}/{target}"
    if column.kind in ("share_of_all", "share_of_parent", "share"):
        whole = _whole_of_share(sheet, row, current, exact(row.cells[at]))
        return None if whole is None else f"={c}/{sheet.letters[current]}{sheet.number(whole, line.place)}"
    return None


def _whole_of_share(sheet: _Sheet, row: Row, current: int, share: Fraction | None) -> Row | None:
    """The row on the sheet whose figure a share is exactly a part of: one above, or the total; None where none is."""
    mine = exact(row.cells[current])
    for whole in reversed(sheet.above(row)):
        cell = whole.cells[current]
        scope = exact(cell)
        if mine is not None and scope and isinstance(_number(cell), Decimal) and share == mine / scope:
            return whole
    return None


def _operand(sheet: _Sheet, row: Row, column: AnsweredColumn, window: int) -> int | None:
    """The position of the column that holds a metric's value in a window, if its cell here is a number."""
    for at, each in enumerate(sheet.answer.columns):
        same = (each.measure, each.along, each.across) == (column.measure, column.along, column.across)
        if same and each.kind == "value" and each.window == window:
            return at if isinstance(_number(row.cells[at]), Decimal) else None
    return None


def _sum_of_rows(sheet: _Sheet, line: Line, at: int, column: AnsweredColumn) -> str | None:
    """A total of an additive measure, where the rows that it is the sum of all stand below it."""
    if column.measure_kind != "additive" or column.along:
        return None
    below = sheet.children.get(id(line.row), ())
    cells, mine = [row.cells[at] for row in below], line.row.cells[at]
    # Undefined cells (months to come) are empty on the sheet and join no sum.
    if mine.value is None or all(each.value is None for each in cells):
        return None
    if sum((Fraction(each.value or 0) for each in cells), Fraction(0)) != Fraction(mine.value or 0):
        return None
    if any(each.value is not None and not isinstance(_number(each), Decimal) for each in (*cells, mine)):
        return None
    return f"=SUM({','.join(_runs(sheet.letters[at], [sheet.number(row, line.place) for row in below]))})"


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
        # '* ' fills the cell between the sign at its edge and the figure: signs stand below each other.
        sign = f'"{layout.sign}"* ' if layout.sign and column.unit.startswith("currency") else ""
        body = f"#,##0{zeros}"
        return _with_signs(column, layout, body, sign)
    return _with_signs(column, layout, body, "")


def _with_signs(column: AnsweredColumn, layout: Layout, body: str, sign: str) -> str:
    """A number format with the sign of a change, and negatives and zeros as the layout writes them. sign: of the currency."""
    negatives, zeros = layout.negatives_of(column.measure), layout.zeros_of(column.measure)
    if not KINDS[column.kind].signed and negatives == "minus" and zeros == "figure":
        return sign + body
    positive = f"+{body}" if KINDS[column.kind].signed else body
    negative = f"({body})" if negatives == "brackets" else f"-{body}"
    return f"{sign}{positive};{sign}{negative};{_ZEROS[zeros] or sign + body}"
