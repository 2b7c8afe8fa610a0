"""What stands over the cells of a table, in words."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from lofty_abacus.core.answer.answer import Answer, AnsweredColumn, Row
from lofty_abacus.core.answer.kinds import KINDS
from lofty_abacus.core.saying import say
from lofty_abacus.core.statement.levels import RowLevel, TimeLevel
from lofty_abacus.core.statement.statement import Statement
from lofty_abacus.telling.measures import along_heading, column_words, kind_words, scope_words
from lofty_abacus.telling.names import capital, is_period_level, level_name, many, measure_name, period_words, range_words
from lofty_abacus.telling.vocabulary import DEFINITIONS, FAIRNESS, GRAINS, HEADINGS, MANY
from lofty_abacus.telling.windows import cut_words, unequal_words, window_heading

#: Keys of periods within others (day 5 of each month) are that short.
LONGEST_INNER = 2


@dataclass(frozen=True)
class ColumnWords:
    """A column in words.

    heading: over its figures. base: what it compares with, under the heading. metric: its measure over a group of columns;
    along: what its figures run along, '' for the periods' own.
    across: where it stands across. plain: all of it in one line, as files without groups have it; short: the same without its
    measure. named: as the sentence names it. definition: what it is.
    """

    heading: str
    base: str
    metric: str
    along: str
    across: str
    plain: str
    short: str
    named: str
    definition: str


def row_heading(statement: Statement) -> str:
    """What stands over the names of rows."""
    return capital(" › ".join(map(level_name, statement.rows))) or say("All")


def total_name(statement: Statement) -> str:
    """What the total row is called."""
    return _all_of(statement.rows[0]) if statement.rows else say("All lines")


def _all_of(level: RowLevel) -> str:
    return say("All {many}", many=many(level)) if isinstance(level, str) else say("All {grains}", grains=MANY[level.time])


def columns_in_words(answer: Answer, statement: Statement, said: Mapping[str, str]) -> tuple[ColumnWords, ...]:
    """Each column of an answer. said: what the ledger says of its measures, by name."""
    return tuple(
        ColumnWords(
            heading=own_heading(column, answer, statement),
            base=heading_base(column, answer, statement),
            metric=metric_heading(column, answer),
            along=along_heading(column.along),
            across=across_heading(column, answer, statement),
            plain=capital(plain_heading(column, answer, statement)),
            short=capital(plain_heading(column, answer, statement, beside=False)),
            named=column_words(column.id, statement, answer),
            definition=definition(column, answer, statement, said),
        )
        for column in answer.columns
    )


def own_heading(column: AnsweredColumn, answer: Answer, statement: Statement) -> str:
    """A column's heading: the window of a plain figure, else what it shows."""
    if column.kind == "value":
        if answer.periods and statement.across and not column.window and not column.across_labels:
            return say("In all")
        return window_heading(answer, column.window, statement)
    if column.kind == "share" and column.scope is not None:
        return capital(scope_words(column.scope))
    return kind_words(column)


def heading_base(column: AnsweredColumn, answer: Answer, statement: Statement) -> str:
    """The base that a column compares with: 'on 2025'; '' where it compares with none."""
    if not column.window or not (column.step or column.kind == "goal" or KINDS[column.kind].against):
        return ""
    return say("on {base}", base=_within_a_line(window_heading(answer, column.window, statement)))


def metric_heading(column: AnsweredColumn, answer: Answer) -> str:
    """What a measure is called over its columns, with its currency."""
    along = f", {along_heading(column.along)}" if column.along else ""
    currency = f", {answer.currency}" if column.unit.startswith("currency") else ""
    return f"{column.name or capital(measure_name(column.measure))}{along}{currency}"


def across_heading(column: AnsweredColumn, answer: Answer, statement: Statement) -> str:
    """Where a column stands across; '' for the whole where nothing stands across."""
    if not statement.across:
        return ""
    if not column.across_labels:
        return _all_of(statement.across[0])
    found = []
    for at, (label, level) in enumerate(zip(column.across_labels, statement.across, strict=False)):
        name = period_label(label, level)
        if isinstance(level, TimeLevel) and at == len(column.across_labels) - 1:
            period = next((each for each in answer.periods if each.across[-1:] == (label,)), None)
            cut = cut_words(period.windows[0]) if period else ""
            name += f", {cut}" if cut else ""
        found.append(name)
    return " › ".join(found)


def period_label(label: str, level: RowLevel) -> str:
    """The name of a member as it is; of a period in words (of a day of the lines, too).

    Of a period inside another (day 5 of each month) what it is there.
    """
    if isinstance(level, str):
        return period_words(label) if is_period_level(level) else label
    return f"{capital(GRAINS[level.time])} {int(label)}" if len(label) <= LONGEST_INNER else period_words(label)


def named_rows(rows: Sequence[Row], levels: Sequence[RowLevel]) -> tuple[Row, ...]:
    """Rows by their names as people read them: periods of a day of the lines in words. levels: those of the rows."""
    if not any(isinstance(each, str) and is_period_level(each) for each in levels):
        return tuple(rows)
    return tuple(
        replace(row, label=period_label(row.label, levels[len(row.path) - 1]))
        if row.path and row.rest is None and isinstance(levels[len(row.path) - 1], str)
        else row
        for row in rows
    )


def plain_heading(column: AnsweredColumn, answer: Answer, statement: Statement, *, beside: bool = True) -> str:
    """All of a column in one line. beside: whether measures stand beside each other; else a line of its own names each."""
    across = f"{across_heading(column, answer, statement)}: " if column.across_labels else ""
    along = along_heading(column.along) if beside else ""
    name = ", ".join(each for each in ((column.name or measure_name(column.measure)) if beside else "", along) if each)
    # In a series every figure is its own period's.
    own_period = bool(answer.periods) and not column.window
    window = "" if own_period else _within_a_line(window_heading(answer, column.window, statement))
    if column.kind == "value":
        what = window
    else:
        kind = own_heading(column, answer, statement)
        against = heading_base(column, answer, statement)
        what = f"{_within_a_line(kind)} {against or window}".strip()
    return across + ", ".join(each for each in (name, what) if each)


def _within_a_line(heading: str) -> str:
    """A period has its capital, words have none within a line."""
    return heading if any(sign.isdigit() for sign in heading) else heading[:1].lower() + heading[1:]


def definition(column: AnsweredColumn, answer: Answer, statement: Statement, said: Mapping[str, str]) -> str:
    """What a column is, whatever its heading was renamed to. said: what the ledger says of its measures, by name."""
    window = answer.windows[column.window]
    days = range_words(window.asked.first, window.asked.last) if window.asked else say("no such period")
    own = next((each for each in statement.defined if each.name == column.measure), None)
    known = f"= {own.expression}" if own else DEFINITIONS.get(column.measure, "")
    also = f" {said[column.measure]}." if said.get(column.measure) else ""
    about = f"{capital(measure_name(column.measure))}: {known}{also}"
    if answer.periods:
        parts = (about, HEADINGS.get(column.kind, ""), heading_base(column, answer, statement))
        return " ".join(each for each in parts if each)
    if column.kind == "value":
        return f"{about} {days}"
    if column.kind.startswith("share"):
        return f"{about} {capital(_share_of(column))}, {days}{say('; parts overlap') if column.parts_overlap else ''}"
    fair = f" ({FAIRNESS[window.fairness]})" if window.fairness else ""
    if window.fairness == "unequal":
        fair = f". {unequal_words(window, answer.windows[0], answer.as_of)}"
    return say("{about} {heading} against {days}{fair}", about=about, heading=HEADINGS[column.kind], days=days, fair=fair)


def _share_of(column: AnsweredColumn) -> str:
    if column.kind == "share_of_all":
        return say("share of all rows")
    return scope_words(column.scope) if column.kind == "share" and column.scope else say("share of the row above")
