"""Measures and columns in words."""

from __future__ import annotations

import re

from lofty_abacus.core.saying import say
from lofty_abacus.core.statement.statement import ShareScope, ShownMeasure, Statement
from lofty_abacus.core.windows.stretches import Along, RunningTotal
from lofty_abacus.telling.framed import Framed, NamedColumn
from lofty_abacus.telling.names import count, dimension_name, measure_name
from lofty_abacus.telling.vocabulary import GRAINS, HEADINGS, STEPS
from lofty_abacus.telling.windows import window_heading


def along_words(along: Along) -> str:
    """What a figure runs along."""
    if isinstance(along, RunningTotal):
        return say("running total, from each {grain}'s start", grain=GRAINS[along.reset]) if along.reset else say("running total")
    mean, size = along.of == "mean", count(along.periods, along.by) if along.by else along.periods
    words = say("mean of the last {periods}", periods=size) if mean else say("sum of the last {periods}", periods=size)
    return words + (say(" or fewer") if along.as_many else "")


def along_heading(along: str) -> str:
    """The same of a column's name for it, over its figures."""
    if along == "running":
        return say("running")
    if along.startswith("running_"):
        reset = along.removeprefix("running_")
        return say("running in the {grain}", grain=GRAINS.get(reset, reset))
    moving = re.match(r"moving_(sum|mean)_(\d+)", along)
    if moving is None:
        return ""
    return say("mean of {periods}", periods=moving[2]) if moving[1] == "mean" else say("sum of {periods}", periods=moving[2])


def metric_words(shown: ShownMeasure) -> str:
    """A metric: its measure, and what it runs along."""
    name, along = measure_name(shown.measure), shown.along
    if along is None:
        return name
    if isinstance(along, RunningTotal) and along.reset:
        return say("running total of {name} from each {grain}'s start", name=name, grain=GRAINS[along.reset])
    return say("{along} of {name}", along=along_words(along), name=name)


def scope_words(scope: ShareScope) -> str:
    """What a share is a part of."""
    kept = say(" and ").join(map(dimension_name, scope.keep))
    period = {"own": "", "range": say(" of the whole range"), "ever": say(" of all that is posted")}[scope.period]
    of = say(" of its {grain}", grain=GRAINS[scope.time]) if scope.time else period
    return (say("share within {kept}", kept=kept) if kept else say("share") if of else say("share of all")) + of


def kind_words(column: NamedColumn) -> str:
    """What kind of figure a column shows; '' for the plain one."""
    if column.kind == "value":
        return ""
    return STEPS[column.step] if column.step else HEADINGS[column.kind]


def column_words(name: str, statement: Statement, answer: Framed | None) -> str:
    """A column by its id: whose, what, against which window; the id itself where there is no such column."""
    column = next((each for each in answer.columns if each.id == name), None) if answer else None
    if column is None or answer is None:
        return name
    called = column.name or measure_name(column.measure)
    window = window_heading(answer, column.window, statement).lower() if len(answer.windows) > 1 else ""
    parts = (called, along_heading(column.along), kind_words(column).lower(), f"({window})" if window else "")
    return " ".join(each for each in parts if each)
