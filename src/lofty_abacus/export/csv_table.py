"""An answer as CSV: exact values, one column per row dimension, the reason of an undefined cell in a field beside it."""

from __future__ import annotations

import csv
import io
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from lofty_abacus.core.answer.answer import Answer, AnsweredColumn, AnsweredWindow, Cell, Row
from lofty_abacus.core.statement.levels import RowLevel
from lofty_abacus.core.statement.statement import Statement
from lofty_abacus.export.captions import caption_lines, hidden_words
from lofty_abacus.export.harmless import harmless
from lofty_abacus.export.layout import Layout, laid_out
from lofty_abacus.export.lines import Line, lines_of, slots_of
from lofty_abacus.export.showing import shown_text
from lofty_abacus.telling.headings import LONGEST_INNER, period_label, plain_heading
from lofty_abacus.telling.measures import along_heading
from lofty_abacus.telling.names import capital, level_name, measure_name, period_words, reason_words
from lofty_abacus.telling.sentence import sentence_parts
from lofty_abacus.telling.vocabulary import FAIRNESS, GRAINS, STATUS
from lofty_abacus.telling.windows import cut_words, row_marks

_PLAIN = Layout()
ALL = "(all)"
NOT_MAPPED = "(not mapped)"
#: The heading of what is to be said of a row's windows.
MARKS = "marks"
#: The heading of whether a goal is met, and what stands under it.
VERDICT = "verdict"
MET = {True: "met", False: "missed"}


def csv_table(
    answer: Answer,
    statement: Statement,
    descriptions: Mapping[str, str] | None = None,
    layout: Layout = _PLAIN,
    *,
    formatted: bool = False,
) -> str:
    """The shown rows in their order, the total where the layout puts it.

    Undefined cells are empty; ratios have 15 significant digits.

    descriptions: what the ledger says of its dimensions and measures, by name; they stand in brackets in the headings. formatted:
    figures as they are shown, rounded, in place of the exact ones, and the caption below the table.
    """
    answer = laid_out(answer, layout)
    lines = lines_of(answer, layout)
    heads = headings(answer, statement, layout, descriptions or {}, _period_headings(answer, statement))
    # Of the exact table, for programs, every line says what it stands on; it stays one table.
    facts = [] if formatted else _facts(answer, statement, layout)
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    marked = marks_of(answer)
    writer.writerow([*heads.names, *(name for name, _ in facts), *([MARKS] if marked else [])])
    for line in lines:
        between = heads.between and _period_fields(line.row, answer, statement)
        fields = line_names(line, answer, statement, layout, between, in_words=formatted)
        for place, (at, cell) in enumerate(line.cells()):
            if at is None or cell is None:
                fields.append("")
            else:
                fields.append(shown_text(cell, answer.columns[at], layout) if formatted else cell.value or "")
            if place in heads.with_reason:
                fields.append(reason_words(cell.reason if cell else None))
            if place in heads.with_verdict:
                fields.append(verdict_words(cell))
        writer.writerow([*fields, *(text for _, text in facts), *([marked[id(line.row)]] if marked else [])])
    if formatted:
        # For people: what it shows stands below it.
        writer.writerow([])
        writer.writerows(
            [harmless(left), harmless(right)] for left, right in caption_lines(answer, statement, descriptions or {}, layout)
        )
    return out.getvalue()


def verdict_words(cell: Cell | None) -> str:
    """Whether a goal is met; '' where that cannot be told."""
    return "" if cell is None or cell.met is None else MET[cell.met]


def marks_of(answer: Answer) -> dict[int, str]:
    """What is to be said of the windows of each row, by its identity; empty where there is nothing to be said of any."""
    found = {id(row): "; ".join(row_marks(answer, row)) for row in (*answer.rows, answer.total)}
    return found if any(found.values()) else {}


def _facts(answer: Answer, statement: Statement, layout: Layout) -> list[tuple[str, str]]:
    """What every line of an exact table says: the as-of date, the ledger and its version, what is counted and shown."""
    parts = sentence_parts(statement, answer)
    chosen = [*(each.words for each in parts if each.part in ("day", "filters", "conditions", "limits")), *hidden_words(layout)]
    return [
        ("as of", answer.as_of.isoformat()),
        ("ledger", harmless(answer.ledger)),
        ("version", str(answer.version)),
        ("windows", "; ".join(map(_days, answer.windows))),
        ("limited to", harmless("; ".join(chosen))),
    ]


@dataclass(frozen=True)
class Headings:
    """The headings of an exported table. with_reason, with_verdict: which of the figures have a reason, a verdict beside them, by
    their place."""

    names: list[str]
    with_reason: frozenset[int]
    with_verdict: frozenset[int]
    between: Sequence[str]


def headings(
    answer: Answer, statement: Statement, layout: Layout, said: Mapping[str, str], between: Sequence[str] = ()
) -> Headings:
    """The headings of an exported table. between: more headings before the figures."""
    slots, lines = slots_of(answer, layout), lines_of(answer, layout)
    with_reason = frozenset(
        place for line in lines for place, (_, cell) in enumerate(line.cells()) if cell is not None and cell.reason is not None
    )
    with_verdict = frozenset(place for place, slot in enumerate(slots) if any(answer.columns[at].kind == "goal" for at in slot))
    names = [_described(level_name(level), level, said) for level in statement.rows]
    if layout.measures == "below":
        names.append("measure")
    if statement.bases:
        names.append("status")
    names += between
    beside = layout.measures == "beside"
    own = [harmless(capital(plain_heading(answer.columns[slot[0]], answer, statement, beside=beside))) for slot in slots]
    for place, slot in enumerate(slots):
        column, heading = answer.columns[slot[0]], own[place]
        if own.count(heading) > 1:
            # Two bases of one name are told apart by their number.
            heading = f"{heading} (base {column.window})" if column.window else heading
        called = {layout.headings.get(answer.columns[at].id) for at in slot}
        if called != {None} and len(called) == 1:
            # What the reader calls it comes first, what it is behind it; below each other a name stays with its own measure.
            heading = f"{harmless(called.pop() or '')}: {heading}"
        names.append(_described(heading, column.measure, said) if beside else heading)
        if place in with_reason:
            names.append(f"{heading}: reason")
        if place in with_verdict:
            names.append(f"{heading}: {VERDICT}")
    return Headings(names, with_reason, with_verdict, between)


def line_names(
    line: Line, answer: Answer, statement: Statement, layout: Layout, between: Sequence[str] = (), *, in_words: bool = False
) -> list[str]:
    """What stands before a line's figures: its path, its measure where they stand below each other, its status, and `between`.

    in_words: members by their names and periods in words, in place of their keys.
    """
    path = [NOT_MAPPED if key is None else harmless(key) for key in line.row.path]
    if in_words and path and line.row.rest is None:
        path = [harmless(each) for each in _path_in_words(line.row, answer, statement)]
    if line.row.rest is not None:
        path.append(harmless(f"({line.row.label})"))
    fields = path + [ALL] * (len(statement.rows) - len(path))
    if line.metric is not None:
        column = answer.columns[line.metric]
        renamed = layout.headings.get(column.id, "")
        fields.append(f"{harmless(renamed)}: {_metric_words(column)}" if renamed else _metric_words(column))
    if statement.bases:
        fields.append(STATUS[line.row.status] if line.row.status else "")
    return [*fields, *between]


def _path_in_words(row: Row, answer: Answer, statement: Statement) -> list[str]:
    """A row's own name in words, those above it as they are keyed."""
    found = []
    for level, key in zip(statement.rows, row.path, strict=False):
        if isinstance(level, str):
            found.append(NOT_MAPPED if key is None else key)
        else:
            found.append(
                period_words(key) if key and len(key) > LONGEST_INNER else f"{capital(GRAINS[level.time])} {int(key or 0)}"
            )
    if isinstance(statement.rows[len(row.path) - 1], str):
        found[-1] = period_label(row.label, statement.rows[len(row.path) - 1])
    elif answer.periods and row.slot:
        cut = cut_words(answer.periods[row.slot].windows[0])
        found[-1] += f", {cut}" if cut else ""
    return found


def _described(heading: str, name: RowLevel, said: Mapping[str, str]) -> str:
    return f"{heading} ({said[name]})" if isinstance(name, str) and said.get(name) else heading


def _metric_words(column: AnsweredColumn) -> str:
    name = f"{harmless(column.name)}: " if column.name else ""
    return name + capital(measure_name(column.measure)) + (f", {along_heading(column.along)}" if column.along else "")


def _days(window: AnsweredWindow) -> str:
    return f"{window.asked.first.isoformat()}..{window.asked.last.isoformat()}" if window.asked else ""


def _period_headings(answer: Answer, statement: Statement) -> list[str]:
    """Of a series down the rows: each period's days, and those of its bases with how fair they are."""
    if not any(period.down for period in answer.periods):
        return []
    bases = range(1, len(statement.bases) + 1)
    return ["days", *(heading for at in bases for heading in (f"base {at} days", f"base {at} fairness"))]


def _period_fields(row: Row, answer: Answer, statement: Statement) -> list[str]:
    windows = answer.periods[row.slot].windows if row.slot is not None else answer.periods[0].windows
    return [
        _days(windows[0]),
        *(field for window in windows[1:] for field in (_days(window), FAIRNESS[window.fairness] if window.fairness else "")),
    ]
