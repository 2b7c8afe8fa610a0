"""The figures of a block on any version of its ledger."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from fractions import Fraction

from lofty_abacus.actions.briefs.figures_of import FigureKey
from lofty_abacus.actions.figures.answer_statement import answer_statement
from lofty_abacus.actions.ports import Office
from lofty_abacus.core.answer.answer import AnsweredColumn
from lofty_abacus.core.statement.statement import Opened, Statement
from lofty_abacus.export.briefs.composed import ComposedFigures
from lofty_abacus.export.showing import exact


@dataclass(frozen=True)
class Values:
    """A block's figures on a version. nothing: ids of the columns that are zero where a row has no lines, and so is not there."""

    cells: Mapping[FigureKey, Fraction | None]
    nothing: frozenset[str] = frozenset()

    def shown(self, key: FigureKey) -> Fraction | None:
        """What stands there; None where the row does not."""
        return self.cells.get(key)

    def amount(self, key: FigureKey) -> Fraction | None:
        """What a difference is taken of: of sums and counts, a row without lines has zero."""
        without_lines = Fraction(0) if key.column in self.nothing and not key.rest else None
        return self.cells.get(key, without_lines)


class BlockAnswers:
    """A block's figures on any version, each version answered once."""

    def __init__(self, office: Office, ledger: str, block: ComposedFigures) -> None:
        self._office, self._ledger, self._block = office, ledger, block
        self._known: dict[tuple[int, tuple[int, ...]], Values] = {}
        self._paths: dict[int, set[tuple[str | None, ...]]] = {}

    def at(self, version: int, without: tuple[int, ...] = ()) -> Values:
        """Its figures on a version, some of the batches that came with it left out. Raises QuestionError."""
        if (version, without) not in self._known:
            self._known[version, without] = self._answered(version, without)
        return self._known[version, without]

    def rows_beyond(self, paths: set[tuple[str | None, ...]], version: int) -> int:
        """How many rows there are on a version beside these, as far down as these go."""
        self.at(version)
        deepest = max(map(len, paths), default=0)
        return len([each for each in self._paths[version] - paths if len(each) <= deepest and each[:-1] in paths])

    def _answered(self, version: int, without: tuple[int, ...]) -> Values:
        opened = Opened(max(len(self._block.statement.rows), 1))
        answer = answer_statement(self._office, self._ledger, _plain(self._block.statement), opened, version, without=without)
        found: dict[FigureKey, Fraction | None] = {}
        ids = [each.id for each in answer.columns]
        for row in (answer.total, *answer.rows):
            for name, cell in zip(ids, row.cells, strict=True):
                found[FigureKey(row.path, name, row.rest is not None)] = exact(cell)
        if not without:
            self._paths[version] = {row.path for row in answer.rows if row.rest is None}
        # Beyond the rows that a limit leaves, nobody knows.
        sums = () if self._block.statement.limits else [each for each in answer.columns if _is_sum(each)]
        return Values(found, frozenset(each.id for each in sums))


def _is_sum(column: AnsweredColumn) -> bool:
    return column.kind in ("value", "difference") and column.measure_kind != "derived"


def _plain(statement: Statement) -> Statement:
    """The same figures in the order of names: only where a row stands may differ."""
    return statement if statement.limits else replace(statement, sort=None)
