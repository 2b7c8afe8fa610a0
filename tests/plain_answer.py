"""The calculus once more, slow and obvious: every cell of an answer from plain lines, the days of its windows and a few loops.

Takes from the answer only which rows, columns and days it shows; what stands in a cell is worked out here from the lines.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date
from fractions import Fraction

from lofty_abacus.core.answer.answer import Answer, AnsweredColumn, AnsweredWindow, Row
from lofty_abacus.core.statement.statement import Statement
from tests.ledgers import Line
from tests.plain import measure, percent_change

Known = Fraction | str
ADVERSE = {"returns", "returned_units", "cost", "return_rate"}


@dataclass(frozen=True)
class Plain:
    """A statement's cells. Lines have been filtered already."""

    statement: Statement
    answer: Answer
    lines: Sequence[Line]

    def cell(self, row: Row, column: AnsweredColumn) -> Known | None:
        """What the cell must be: a figure, a reason, or None for what is not worked out here."""
        keys = self._keys(row, column)
        slot = self._slot(row, column)
        if slot is None:
            return "not_applicable"
        match column.kind:
            case "value":
                return self._value(column.measure, keys, slot[column.window])
            case "difference":
                return self._minus(*self._pair(column, keys, slot))
            case "percent_change":
                if column.measure in ("margin_percent", "return_rate"):
                    return _first_reason(*self._pair(column, keys, slot)) or "not_applicable"
                return percent_change(*self._pair(column, keys, slot))
            case "attainment":
                return _ratio(*self._pair(column, keys, slot))
            case "index":
                ratio = _ratio(*self._pair(column, keys, slot))
                return ratio if isinstance(ratio, str) else 100 * ratio
            case "contribution":
                return _ratio(
                    self._minus(*self._pair(column, keys, slot)),
                    self._value(column.measure, self._across(column), slot[column.window]),
                )
            case "share_of_all":
                return _ratio(
                    self._value(column.measure, keys, slot[0]), self._value(column.measure, self._across(column), slot[0])
                )
            case "share" if column.scope is not None:
                scope_slot = self._whole() if column.scope.period == "range" else slot
                kept = {name: key for name, key in keys.items() if name in column.scope.keep}
                return _ratio(self._value(column.measure, keys, slot[0]), self._value(column.measure, kept, scope_slot[0]))
            case "share_change" if column.scope is not None:
                of_all = column.id.split("@")[0].endswith("share_change")
                whole = self._whole() if column.scope.period == "range" else slot
                kept = self._across(column) if of_all else {name: key for name, key in keys.items() if name in column.scope.keep}
                shares = [
                    _ratio(self._value(column.measure, keys, slot[at]), self._value(column.measure, kept, whole[at]))
                    for at in (0, column.window)
                ]
                return self._minus(*shares)
            case _:
                return None

    def _keys(self, row: Row, column: AnsweredColumn) -> dict[str, str | None]:
        down = zip(self.statement.rows, row.path, strict=False)
        over = zip(self.statement.across, column.across, strict=False)
        return {level: key for level, key in (*down, *over) if isinstance(level, str)}

    def _across(self, column: AnsweredColumn) -> dict[str, str | None]:
        return {level: key for level, key in zip(self.statement.across, column.across, strict=False) if isinstance(level, str)}

    def _slot(self, row: Row, column: AnsweredColumn) -> Sequence[AnsweredWindow] | None:
        down = tuple(key for level, key in zip(self.statement.rows, row.path, strict=False) if not isinstance(level, str))
        over = tuple(key for level, key in zip(self.statement.across, column.across, strict=False) if not isinstance(level, str))
        if not self.answer.periods:
            return self.answer.windows
        return next((each.windows for each in self.answer.periods if (each.down, each.across) == (down, over)), None)

    def _whole(self) -> Sequence[AnsweredWindow]:
        return self.answer.periods[0].windows if self.answer.periods else self.answer.windows

    def _pair(self, column: AnsweredColumn, keys: dict[str, str | None], slot: Sequence[AnsweredWindow]) -> tuple[Known, Known]:
        return self._value(column.measure, keys, slot[0]), self._value(column.measure, keys, slot[column.window])

    def _value(self, name: str, keys: dict[str, str | None], window: AnsweredWindow) -> Known:
        if window.reason is not None:
            return window.reason
        return self.over(name, keys, [(each.first, each.last) for each in window.counted])

    def over(self, name: str, keys: dict[str, str | None], days: Iterable[tuple[date, date]]) -> Known:
        """A measure over some days and members."""
        ranges = list(days)
        here = [
            line
            for line in self.lines
            if any(first <= line.day <= last for first, last in ranges)
            and all(getattr(line, level) == key for level, key in keys.items())
        ]
        return measure(name, here)

    def _minus(self, a: Known, b: Known) -> Known:
        return _first_reason(a, b) or a - b  # type: ignore[operator]


def _first_reason(*values: Known) -> str | None:
    return next((each for each in values if isinstance(each, str)), None)


def _ratio(top: Known, bottom: Known) -> Known:
    if isinstance(top, str):
        return top
    if isinstance(bottom, str):
        return bottom
    if bottom == 0:
        return "base_is_zero"
    return "base_is_negative" if bottom < 0 else top / bottom
