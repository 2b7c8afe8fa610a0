"""The rows and the columns across as trees: members by their lines, periods by time."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from functools import cached_property

from lofty_abacus.core.answer.evaluation import Evaluation, Spot
from lofty_abacus.core.answer.slots import TimePath
from lofty_abacus.core.statement.levels import RowLevel


@dataclass(frozen=True)
class Node:
    """A row or a column across: the codes of its members and the keys of its periods, each from the outside in.

    path: both, in the order of the levels, as member keys and period keys.
    """

    path: tuple[str | None, ...] = ()
    spot: Spot = Spot()
    time: tuple[str, ...] = ()

    @property
    def depth(self) -> int:
        """How many levels it stands below the total."""
        return len(self.path)


ROOT = Node()


@dataclass(frozen=True)
class Place:
    """A cell's place: its row and its column across."""

    row: Node = ROOT
    across: Node = ROOT

    @property
    def spot(self) -> Spot:
        """The lines it covers."""
        return self.row.spot.and_(self.across.spot.dimensions, self.across.spot.codes)


class Axis:
    """One side of the table: its levels, and the nodes below each other."""

    def __init__(self, evaluation: Evaluation, *, down: bool) -> None:
        self.evaluation = evaluation
        self.down = down

    @property
    def levels(self) -> tuple[RowLevel, ...]:
        """The levels from the outside in."""
        statement = self.evaluation.resolved.statement
        return statement.rows if self.down else statement.across

    def children(self, node: Node) -> list[Node]:
        """The nodes directly below one: periods in time order, members in order of code."""
        level = self.levels[node.depth]
        if not isinstance(level, str):
            return [Node((*node.path, key), node.spot, (*node.time, key)) for key in self._periods[node.time]]
        key = self.evaluation.resolved.source.members(level).key
        return [Node((*node.path, key(code)), node.spot.and_((level,), (code,)), node.time) for code in self._codes(node, level)]

    def count(self, node: Node) -> int:
        """How many nodes are directly below one, without making them."""
        level = self.levels[node.depth]
        return len(self._codes(node, level)) if isinstance(level, str) else len(self._periods[node.time])

    def _codes(self, node: Node, level: str) -> list[int]:
        """Codes of the members directly below a node, ascending."""
        lined = self.evaluation.members_at(node.spot, level, self._windows(node.time))
        if not (self.down and self.evaluation.resolved.statement.all_members):
            return lined
        members, having = self.evaluation.resolved.source.members(level), set(lined)
        return [code for code in range(members.size) if code in having or members.key(code)]

    def label(self, node: Node) -> str:
        """What a node is called: its member's name, or its period's key."""
        level = self.levels[node.depth - 1]
        if not isinstance(level, str):
            return node.time[-1]
        return self.evaluation.resolved.source.members(level).name(node.spot.codes[-1])

    def name_rank(self, node: Node) -> int:
        """Where a node stands among its siblings by name, or by time."""
        level = self.levels[node.depth - 1]
        if not isinstance(level, str):
            return self._periods[node.time[:-1]].index(node.time[-1])
        return int(self.evaluation.resolved.source.members(level).name_rank[node.spot.codes[-1]])

    def is_time(self, depth: int) -> bool:
        """Whether the nodes at a depth (1 the outermost) are periods."""
        return not isinstance(self.levels[depth - 1], str)

    def walk(self, node: Node = ROOT) -> Iterator[Node]:
        """Every node below one, a parent before its children."""
        if node.depth < len(self.levels):
            for child in sorted(self.children(node), key=self.name_rank):
                yield child
                yield from self.walk(child)

    def _windows(self, time: tuple[str, ...]) -> list[int] | None:
        """The windows that make a member of a period's row have a line: the period's own and those of periods in it."""
        if not time:
            return None
        resolved = self.evaluation.resolved
        per_slot = len(resolved.alongs) * (len(resolved.statement.bases) + 1)
        slots = [at for at, slot in enumerate(resolved.slots) if self._mine(slot.path)[: len(time)] == time]
        return [slot * per_slot + window for slot in slots for window in range(per_slot)]

    def _mine(self, path: TimePath) -> tuple[str, ...]:
        return path[0] if self.down else path[1]

    @cached_property
    def _periods(self) -> Mapping[tuple[str, ...], list[str]]:
        """The keys of the periods directly below each, in time order."""
        found: dict[tuple[str, ...], list[str]] = defaultdict(list)
        for slot in self.evaluation.resolved.slots:
            mine = self._mine(slot.path)
            if mine and mine[-1] not in found[mine[:-1]]:
                found[mine[:-1]].append(mine[-1])
        return found
