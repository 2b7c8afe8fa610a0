"""The rows and the columns across as trees: members by their lines, periods by time."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray
from propcache.api import cached_property

from lofty_abacus.core.answer.evaluation import Evaluation, Spot
from lofty_abacus.core.answer.slots import TimePath
from lofty_abacus.core.lines import Members
from lofty_abacus.core.statement.levels import RowLevel


class Node(NamedTuple):
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
class Siblings:
    """The nodes directly below one, in some order: made only where they are asked for.

    codes: of their members of a dimension, i64[n], or keys of their periods.
    """

    parent: Node
    members: Members | None
    codes: NDArray[np.int64]
    keys: tuple[str, ...] = ()
    dimension: str = ""

    def __len__(self) -> int:
        return len(self.keys) if self.members is None else len(self.codes)

    def __getitem__(self, at: int) -> Node:
        above = self.parent
        if self.members is None:
            key = self.keys[at]
            return Node((*above.path, key), above.spot, (*above.time, key))
        code = int(self.codes[at])
        return Node((*above.path, self.members.key(code)), above.spot.and_((self.dimension,), (code,)), above.time)

    def __iter__(self) -> Iterator[Node]:
        if self.members is None:
            yield from (self[at] for at in range(len(self)))
            return
        # As `self[at]` makes them, with what they share made once: a list may have tens of thousands.
        path, spot, time, key = self.parent.path, self.parent.spot, self.parent.time, self.members.key
        dimensions = (*spot.dimensions, self.dimension)
        for code in self.codes.tolist():
            yield Node((*path, key(code)), Spot(dimensions, (*spot.codes, code)), time)

    @property
    def is_time(self) -> bool:
        """Whether they are periods."""
        return self.members is None

    def take(self, places: NDArray[np.int64]) -> Siblings:
        """Some of them, by place, in that order."""
        if self.members is None:
            return replace(self, keys=tuple(self.keys[at] for at in places.tolist()))
        return replace(self, codes=self.codes[places])

    def places_of(self, rows: Sequence[Node]) -> NDArray[np.int64]:
        """The places of some rows among these, i64[rows]; -1 for one that is not among them."""
        if self.members is None:
            at = {key: place for place, key in enumerate(self.keys)}
            return np.array([at.get(row.time[-1], -1) if row.time else -1 for row in rows], np.int64)
        place = {code: at for at, code in enumerate(self.codes.tolist())}
        return np.array([place.get(row.spot.codes[-1], -1) if row.spot.codes else -1 for row in rows], np.int64)

    def find(self, node: Node) -> int | None:
        """The place of one row among these; None where it is not among them."""
        if not node.depth or node.path[:-1] != self.parent.path:
            return None
        at = int(self.places_of((node,))[0])
        return None if at < 0 else at

    def named(self, key: str | None) -> Node | None:
        """The one of a key; None where there is none."""
        if self.members is None:
            return self[self.keys.index(key)] if key in self.keys else None
        code = self.members.codes.get(key)
        return None if code is None or code not in self.codes else self[int(np.flatnonzero(self.codes == code)[0])]

    def members_of(self, keys: Collection[str | None]) -> NDArray[np.int64]:
        """The places of those whose keys are among some."""
        if self.members is None:
            return np.array([at for at, key in enumerate(self.keys) if key in keys], np.int64)
        codes = [self.members.codes[key] for key in keys if key in self.members.codes]
        return np.flatnonzero(np.isin(self.codes, codes)).astype(np.int64)


#: The total's own list: itself alone.
ALONE = Siblings(Node(), None, np.empty(0, np.int64))


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

    @cached_property
    def levels(self) -> tuple[RowLevel, ...]:
        """The levels from the outside in."""
        statement = self.evaluation.resolved.statement
        return statement.rows if self.down else statement.across

    @cached_property
    def _members(self) -> tuple[Members | None, ...]:
        """The members of each level; None of one of periods."""
        source = self.evaluation.resolved.source
        return tuple(source.members(level) if isinstance(level, str) else None for level in self.levels)

    def below(self, node: Node) -> Siblings:
        """The nodes directly below one: periods in time order, members in order of code."""
        level = self.levels[node.depth]
        if not isinstance(level, str):
            return Siblings(node, None, np.empty(0, np.int64), tuple(self._periods[node.time]))
        return Siblings(node, self.evaluation.resolved.source.members(level), self._codes(node, level), dimension=level)

    def count(self, node: Node) -> int:
        """How many nodes are directly below one, without making them."""
        level = self.levels[node.depth]
        return len(self._codes(node, level)) if isinstance(level, str) else len(self._periods[node.time])

    def _codes(self, node: Node, level: str) -> NDArray[np.int64]:
        """Codes of the members directly below a node, ascending."""
        lined = self.evaluation.members_at(node.spot, level, self._windows(node.time))
        if not (self.down and self.evaluation.resolved.statement.all_members):
            return lined
        members = self.evaluation.resolved.source.members(level)
        return np.union1d(lined, np.array([code for code in range(members.size) if members.key(code)], np.int64))

    def by_name(self, siblings: Siblings) -> Siblings:
        """Siblings in the order of their names, or of time."""
        if siblings.members is None:
            return siblings
        ranks = siblings.members.name_rank(self.evaluation.resolved.names)[siblings.codes]
        return siblings.take(np.argsort(ranks, kind="stable"))

    def label(self, node: Node) -> str:
        """What a node is called: its member's name, or its period's key."""
        members = self._members[node.depth - 1]
        return node.time[-1] if members is None else members.name(node.spot.codes[-1])

    def is_time(self, depth: int) -> bool:
        """Whether the nodes at a depth (1 the outermost) are periods."""
        return not isinstance(self.levels[depth - 1], str)

    @property
    def has_time(self) -> bool:
        """Whether any of the nodes are periods."""
        return any(not isinstance(level, str) for level in self.levels)

    def walk(self, node: Node = ROOT) -> Iterator[Node]:
        """Every node below one, a parent before its children."""
        if node.depth < len(self.levels):
            for child in self.by_name(self.below(node)):
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
