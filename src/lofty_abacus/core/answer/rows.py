"""Which rows are shown, in which order: sorted, limited, opened (sections 8 and 9)."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from fractions import Fraction

from lofty_abacus.core.answer.cells import Cells
from lofty_abacus.core.answer.columns import ColumnPlan
from lofty_abacus.core.answer.evaluation import Evaluation, Spot
from lofty_abacus.core.answer.nodes import ROOT, Node, Place
from lofty_abacus.core.errors import QuestionError
from lofty_abacus.core.grouping.request import PathFilter
from lofty_abacus.core.money import decimal_parts
from lofty_abacus.core.patience import heed
from lofty_abacus.core.statement.limits import MembersLimit, StatusLimit, TopLimit, ValueLimit
from lofty_abacus.core.statement.statement import Opened

MOST_ROWS = 50_000


def too_many_rows() -> QuestionError:
    """The refusal of more rows than are shown."""
    return QuestionError("rows", f"more than {MOST_ROWS:,} rows are open.", "Close some, or filter.")


@dataclass(frozen=True)
class ShownRow:
    """A row to be shown, or the rest of a list under it. siblings: as they are listed. rest: how many the others are."""

    node: Node
    cells: Cells
    siblings: tuple[Node, ...] = ()
    rest: int | None = None
    can_open: bool = False
    is_open: bool = False


@dataclass(frozen=True)
class Rows:
    """The rows of a statement."""

    cells: Cells

    @property
    def evaluation(self) -> Evaluation:
        """The figures."""
        return self.cells.evaluation

    def shown(self, opened: Opened, parent: Node = ROOT) -> Iterator[ShownRow]:
        """The open rows from the top down, each parent before its children, the rest of a list last among them."""
        levels = self.cells.rows.levels
        depth = parent.depth + 1
        if depth > len(levels):
            return
        if not self.evaluation.resolved.statement.limits and self.cells.rows.count(parent) > MOST_ROWS:
            # Millions of rows are refused before they are made; a limit may leave few of them.
            raise too_many_rows()
        nodes = self.in_order(self._limited(self.cells.rows.children(parent), depth), depth)
        nodes, others = self._top(nodes, depth)
        siblings = tuple(nodes)
        for node in nodes:
            heed()
            can_open = depth < len(levels)
            is_open = can_open and (depth < opened.depth or node.path in opened.paths)
            yield ShownRow(node, self.cells, siblings, None, can_open, is_open)
            if is_open:
                yield from self.shown(opened, node)
        if others:
            yield ShownRow(parent, self._as_one(others), siblings, len(others))

    def rest_of(self, parent: Node) -> Cells:
        """What evaluates 'the others' under a row. Raises QuestionError where there are none."""
        depth = parent.depth + 1
        levels = self.cells.rows.levels
        nodes = self.in_order(self._limited(self.cells.rows.children(parent), depth), depth) if depth <= len(levels) else []
        others = self._top(nodes, depth)[1] if nodes else []
        if not others:
            raise QuestionError("row", "no rows are listed as others here.", "Open the row again.")
        return self._as_one(others)

    def _as_one(self, others: list[Node]) -> Cells:
        kept = PathFilter(others[0].spot.dimensions, frozenset(each.spot.codes for each in others))
        return Cells(self.evaluation, Evaluation(self.evaluation.resolved, (*self.evaluation.kept, kept)))

    def find(self, path: tuple[str | None, ...]) -> Node:
        """The row of a path of keys. Raises QuestionError where it has no line in any window here."""
        node = ROOT
        levels = self.cells.rows.levels
        if len(path) > len(levels):
            raise QuestionError("row", f"the statement has {len(levels)} levels of rows.", "Name fewer.")
        for depth, key in enumerate(path):
            found = [child for child in self.cells.rows.children(node) if child.path[-1] == key]
            if not found:
                name = levels[depth] if isinstance(levels[depth], str) else "period"
                raise QuestionError("row", f"{name} {key!r} has no line in any window here.", "Open the row again.")
            node = found[0]
        return node

    def siblings_of(self, node: Node) -> tuple[Node, ...]:
        """A row's siblings as they are listed."""
        if not node.depth:
            return (node,)
        parent = self.find(node.path[:-1])
        listed = self.in_order(self._limited(self.cells.rows.children(parent), node.depth), node.depth)
        return tuple(self._top(listed, node.depth)[0])

    def in_order(self, nodes: list[Node], depth: int) -> list[Node]:
        """Siblings by time, by name, or by the sort column: undefined last, ties by name (section 9)."""
        named = sorted(nodes, key=self.cells.rows.name_rank)
        sort = self.evaluation.resolved.statement.sort
        if sort is None or not nodes or self.cells.rows.is_time(depth):
            return named
        return self._by(named, sort.column, descending=sort.descending)

    def _by(self, nodes: list[Node], column: str, *, descending: bool, size: bool = False) -> list[Node]:
        plan, across = self.column(column)
        sign = -1 if descending else 1

        def key(node: Node) -> tuple[bool, Fraction]:
            heed()
            exact = self.cells.value(Place(node, across), plan).exact
            return (exact is None, Fraction(0) if exact is None else sign * (abs(exact) if size else exact))

        return sorted(nodes, key=key)

    def column(self, column: str) -> tuple[ColumnPlan, Node]:
        """The plan and the node across of a column's id. Raises QuestionError."""
        name, at, key = column.partition("@")
        plan = next((each for each in self.evaluation.resolved.columns if each.id == name), None)
        node = next((each for each in self.cells.across.walk() if across_id(each) == key), None) if at else ROOT
        if plan is None or node is None:
            raise QuestionError("column", f"the statement has no column {column!r}.", "Take one of those shown.")
        return plan, node

    def _limited(self, nodes: list[Node], depth: int) -> list[Node]:
        """Without the rows that a limit of what is shown hides; totals are not touched."""
        levels = self.cells.rows.levels
        for limit in self.evaluation.resolved.statement.limits:
            if isinstance(limit, MembersLimit) and levels[depth - 1] == limit.dimension:
                nodes = [node for node in nodes if node.path[-1] in limit.members]
            elif isinstance(limit, ValueLimit) and self.level_of(limit.level) == depth:
                plan, across = self.column(limit.column)
                nodes = [node for node in nodes if _within(self.cells.value(Place(node, across), plan).exact, limit)]
        return nodes

    def _top(self, nodes: list[Node], depth: int) -> tuple[list[Node], list[Node]]:
        """The rows that are listed, and those that are 'the others'."""
        for limit in self.evaluation.resolved.statement.limits:
            if isinstance(limit, TopLimit) and self.level_of(limit.level) == depth and len(nodes) > limit.count:
                named = sorted(nodes, key=self.cells.rows.name_rank)
                best = self._by(named, limit.column, descending=not limit.bottom, size=limit.size)[: limit.count]
                listed = [node for node in nodes if node in best]
                if self.evaluation.resolved.statement.sort is None:
                    listed = best
                return listed, [node for node in nodes if node not in best] if limit.rest else []
        return nodes, []

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
    codes = frozenset(path for path in table.paths if evaluation.status(Spot(named, path), 0, limit.base) in limit.status)
    return PathFilter(named, codes)


def _within(exact: Fraction | None, limit: ValueLimit) -> bool:
    if exact is None:
        return False
    low, high = (_exact(text) for text in (limit.at_least, limit.at_most))
    return (low is None or exact >= low) and (high is None or exact <= high)


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
