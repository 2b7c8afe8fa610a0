"""Which rows are shown, in which order: sorted, limited, opened (sections 8 and 9)."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from lofty_abacus.core.answer.cells import Cells
from lofty_abacus.core.answer.columns import ColumnRecipe
from lofty_abacus.core.answer.evaluation import Evaluation, Points
from lofty_abacus.core.answer.nodes import ALONE, ROOT, Node, Siblings
from lofty_abacus.core.answer.places import Places
from lofty_abacus.core.errors import QuestionError
from lofty_abacus.core.grouping.request import PathFilter
from lofty_abacus.core.measures.exacts import Exacts, order, within
from lofty_abacus.core.money import decimal_parts
from lofty_abacus.core.saying import say
from lofty_abacus.core.statement.limits import MembersLimit, StatusLimit, TopLimit, ValueLimit
from lofty_abacus.core.statement.statement import Opened

MOST_ROWS = 50_000


def too_many_rows() -> QuestionError:
    """The refusal of more rows than are shown."""
    return QuestionError(
        "rows", say("more than {most_rows:,} rows are open.", most_rows=MOST_ROWS), say("Close some, or filter.")
    )


class ShownRow(NamedTuple):
    """A row to be shown, or the rest of a list under it. siblings: as they are listed. rest: how many the others are."""

    node: Node
    cells: Cells
    siblings: Siblings = ALONE
    rest: int | None = None
    can_open: bool = False
    is_open: bool = False


class ClosedRows(NamedTuple):
    """Rows that follow each other below one, none of them open: made only where they are asked for.

    siblings: as they are listed; these are those from a place on, up to another one.
    """

    cells: Cells
    siblings: Siblings
    can_open: bool
    first: int
    end: int

    def at(self, place: int) -> ShownRow:
        """One of them. place: behind the first."""
        return ShownRow(self.siblings[self.first + place], self.cells, self.siblings, None, self.can_open)

    def all(self) -> Iterator[ShownRow]:
        """Each of them, in their order: as `at` gives them."""
        cells, siblings, can_open, first, end = self
        whole = first == 0 and end == len(siblings)
        for node in siblings if whole else siblings.take(np.arange(first, end)):
            yield ShownRow(node, cells, siblings, None, can_open)


@dataclass(frozen=True)
class Rows:
    """The rows of a statement."""

    cells: Cells

    @property
    def evaluation(self) -> Evaluation:
        """The figures."""
        return self.cells.evaluation

    def shown(self, opened: Opened) -> Iterator[ShownRow | ClosedRows]:
        """The open rows from the top down, each parent before its children, the rest of a list last among them."""
        below: dict[tuple[str | None, ...], set[str | None]] = defaultdict(set)
        for path in filter(None, opened.paths):
            below[path[:-1]].add(path[-1])
        return self._below(ROOT, opened.depth, below)

    def _below(
        self, parent: Node, opened: int, below: Mapping[tuple[str | None, ...], Collection[str | None]]
    ) -> Iterator[ShownRow | ClosedRows]:
        """The rows below one. opened: down to which depth all are open; below: by parent, keys of those that are open, too."""
        levels = self.cells.rows.levels
        depth = parent.depth + 1
        if depth > len(levels):
            return
        if not self.evaluation.resolved.statement.limits and self.cells.rows.count(parent) > MOST_ROWS:
            # Millions of rows are refused before they are made; a limit may leave few of them.
            raise too_many_rows()
        siblings, others = self._listed(parent)
        can_open, closed_from = depth < len(levels), 0
        open_ones: Iterable[tuple[int, Node]] = ()
        if can_open and depth < opened:
            open_ones = enumerate(siblings)
        elif can_open and parent.path in below:
            open_ones = ((place, siblings[place]) for place in siblings.members_of(below[parent.path]).tolist())
        for place, node in open_ones:
            if place > closed_from:
                yield ClosedRows(self.cells, siblings, can_open, closed_from, place)
            yield ShownRow(node, self.cells, siblings, None, can_open, is_open=True)
            yield from self._below(node, opened, below)
            closed_from = place + 1
        if closed_from < len(siblings):
            yield ClosedRows(self.cells, siblings, can_open, closed_from, len(siblings))
        if others:
            yield ShownRow(parent, self.as_one(others), siblings, len(others))

    def rest_of(self, parent: Node) -> Cells:
        """What evaluates 'the others' under a row. Raises QuestionError where there are none."""
        others = self._listed(parent)[1] if parent.depth < len(self.cells.rows.levels) else None
        if not others:
            raise QuestionError("row", say("no rows are listed as others here."), say("Open the row again."))
        return self.as_one(others)

    def as_one(self, others: Siblings) -> Cells:
        """What evaluates some rows below one as one, from their own lines."""
        above = others.parent.spot
        codes = frozenset((*above.codes, code) for code in others.codes.tolist())
        kept = PathFilter((*above.dimensions, others.dimension), codes)
        return Cells(self.evaluation, Evaluation(self.evaluation.resolved, (*self.evaluation.kept, kept)))

    def _listed(self, parent: Node) -> tuple[Siblings, Siblings | None]:
        """The rows below one as they are listed, and those that are 'the others', if any."""
        return self._top(self.in_order(self._limited(self.cells.rows.below(parent))))

    def find(self, path: tuple[str | None, ...]) -> Node:
        """The row of a path of keys. Raises QuestionError where it has no line in any window here."""
        node = ROOT
        levels = self.cells.rows.levels
        if len(path) > len(levels):
            raise QuestionError("row", say("the statement has {number} levels of rows.", number=len(levels)), say("Name fewer."))
        for depth, key in enumerate(path):
            found = self.cells.rows.below(node).named(key)
            if found is None:
                name = levels[depth] if isinstance(levels[depth], str) else "period"
                raise QuestionError(
                    "row", say("{name} {key!r} has no line in any window here.", name=name, key=key), say("Open the row again.")
                )
            node = found
        return node

    def siblings_of(self, node: Node) -> Siblings:
        """A row's siblings as they are listed."""
        return self._listed(self.find(node.path[:-1]))[0] if node.depth else ALONE

    def in_order(self, siblings: Siblings) -> Siblings:
        """Siblings by time, by name, or by the sort column: undefined last, ties by name (section 9)."""
        named = self.cells.rows.by_name(siblings)
        sort = self.evaluation.resolved.statement.sort
        if sort is None or not len(named) or named.is_time:
            return named
        return self._by(named, sort.column, descending=sort.descending)

    def _by(self, siblings: Siblings, column: str, *, descending: bool, size: bool = False) -> Siblings:
        places, _ = order(self._values(siblings, column), descending=descending, by_size=size)
        return siblings.take(places)

    def _values(self, siblings: Siblings, column: str) -> Exacts:
        recipe, across = self.column(column)
        return self.cells.column(Places(siblings, across), recipe)

    def column(self, column: str) -> tuple[ColumnRecipe, Node]:
        """The plan and the node across of a column's id. Raises QuestionError."""
        name, at, key = column.partition("@")
        recipe = next((each for each in self.evaluation.resolved.columns if each.id == name), None)
        node = next((each for each in self.cells.across.walk() if across_id(each) == key), None) if at else ROOT
        if recipe is None or node is None:
            raise QuestionError(
                "column", say("the statement has no column {column!r}.", column=column), say("Take one of those shown.")
            )
        return recipe, node

    def _limited(self, siblings: Siblings) -> Siblings:
        """Without the rows that a limit of what is shown hides; totals are not touched."""
        depth = siblings.parent.depth + 1
        for limit in self.evaluation.resolved.statement.limits:
            if not len(siblings):
                break
            if isinstance(limit, MembersLimit) and self.cells.rows.levels[depth - 1] == limit.dimension:
                siblings = siblings.take(siblings.members_of(limit.members))
            elif isinstance(limit, ValueLimit) and self.level_of(limit.level) == depth:
                bounds = (_exact(text) for text in (limit.at_least, limit.at_most))
                siblings = siblings.take(np.flatnonzero(within(self._values(siblings, limit.column), *bounds)))
        return siblings

    def _top(self, siblings: Siblings) -> tuple[Siblings, Siblings | None]:
        """The rows that are listed, and those that are 'the others'."""
        depth = siblings.parent.depth + 1
        for limit in self.evaluation.resolved.statement.limits:
            if isinstance(limit, TopLimit) and self.level_of(limit.level) == depth and len(siblings) > limit.count:
                named = self.cells.rows.by_name(siblings)
                best = self._by(named, limit.column, descending=not limit.bottom, size=limit.size)
                best = best.take(np.arange(limit.count))
                listed = np.isin(siblings.codes, best.codes)
                others = siblings.take(np.flatnonzero(~listed)) if limit.rest else None
                in_sort_order = self.evaluation.resolved.statement.sort is not None
                return (siblings.take(np.flatnonzero(listed)) if in_sort_order else best), others
        return siblings, None

    def level_of(self, name: str | None) -> int:
        """The depth of a named level of rows; of the deepest dimension where none is named."""
        levels = self.cells.rows.levels
        if name is not None:
            return levels.index(name) + 1
        return max((at for at, level in enumerate(levels, start=1) if isinstance(level, str)), default=0)


def across_id(node: Node) -> str:
    """How a column across is told in the ids of columns: its keys, '(not mapped)' for the member that no lookup knows."""
    return "|".join("(not mapped)" if key is None else key for key in node.path)


def status_filter(evaluation: Evaluation, limit: StatusLimit, dimensions: tuple[str, ...]) -> PathFilter:
    """The rows of a status at a level, as the filter that totals and scopes then are counted under (section 8)."""
    at = dimensions.index(limit.level) + 1 if limit.level is not None else len(dimensions)
    named = dimensions[:at]
    table = evaluation.table(named)
    codes: NDArray[np.int64] = table.totals.codes.astype(np.int64)
    statuses = evaluation.statuses(Points(named, codes, np.zeros(len(codes), np.int64)), 0, limit.base)
    kept = (path for path, status in zip(table.paths, statuses, strict=True) if status in limit.status)
    return PathFilter(named, frozenset(kept))


def _exact(text: str | None) -> Fraction | None:
    if text is None:
        return None
    unscaled, decimals = decimal_parts(text)
    return Fraction(unscaled, 10**decimals)


def names_left_out(evaluation: Evaluation, kept: PathFilter, most: int) -> Sequence[str]:
    """The first rows that a status limit leaves out, as they are called."""
    source = evaluation.resolved.source
    left = [path for path in evaluation.table(kept.rows).paths if path not in kept.codes]
    return [
        " / ".join(source.members(name).label(code) for name, code in zip(kept.rows, path, strict=True)) for path in left[:most]
    ]
