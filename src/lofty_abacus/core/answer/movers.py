"""Who moved, and what the change is made of: members ranked by their change, a bridge, price and volume, how few make it.

Everything is decided on whole columns of exact values (sections 8 to 10); cells are made of what is listed only.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date

import numpy as np
from numpy.typing import NDArray

from lofty_abacus.core.answer.answer import AnsweredPeriod, AnsweredWindow, Cell, cells_of
from lofty_abacus.core.answer.answering import evaluated, narrowed
from lofty_abacus.core.answer.cells import Cells
from lofty_abacus.core.answer.columns import ColumnRecipe
from lofty_abacus.core.answer.evaluation import Points
from lofty_abacus.core.answer.frame import answered_windows
from lofty_abacus.core.answer.kinds import KINDS
from lofty_abacus.core.answer.nodes import Node, Place, Siblings
from lofty_abacus.core.answer.places import Places
from lofty_abacus.core.answer.resolve import OtherLedgers, resolve
from lofty_abacus.core.answer.rows import Rows
from lofty_abacus.core.answer.steps import SplitItems, split_items
from lofty_abacus.core.comparing.change import BRIDGE_STEPS, SPLIT_STEPS
from lofty_abacus.core.comparing.status import Status
from lofty_abacus.core.grouping.request import Source
from lofty_abacus.core.measures.exacts import Exacts, integers, order, scaled, summed_up, total
from lofty_abacus.core.measures.table import Polarity, Unit
from lofty_abacus.core.money import decimal_parts
from lofty_abacus.core.name_order import PLAIN, NameOrder
from lofty_abacus.core.statement.ledger import LedgerFacts
from lofty_abacus.core.statement.movers import MoversAsked, RankedBy, levels_of, movers_statement, movers_table
from lofty_abacus.core.statement.statement import Statement
from lofty_abacus.core.windows.reasons import Reason

#: The part of all rises, and of all falls, that is said to be made by few: 80 %.
FEW_MAKE = 80
#: Points of the picture of how few make it.
MOST_POINTS = 60
#: Items of price, volume and mix that are listed.
MOST_ITEMS = 12


@dataclass(frozen=True)
class Mover:
    """A member, or several as one, with its change. path: its keys; null stands for several as one.

    status: kept, new, lost or returns only; null of several. shown: by the name of the column (value, base, difference,
    percent_change, contribution, share_change), what the measure has of them.
    """

    label: str
    path: tuple[str | None, ...] | None
    status: Status | None
    shown: Mapping[str, Cell]
    count: int = 1


@dataclass(frozen=True)
class SoFar:
    """What the largest so many members of one way make of all of it."""

    members: int
    share: Cell


@dataclass(frozen=True)
class Movement:
    """Those that moved one way, in order. rest: the others of this way as one. count: how many there are in all.

    total: their changes together, of measures that add up. few: how many of the largest make 80 % of it; shares: of the total,
    by the first, the first two, ... (at most MOST_POINTS of them, evenly spread).
    """

    movers: tuple[Mover, ...]
    rest: Mover | None
    count: int
    total: Cell | None = None
    few: int | None = None
    shares: tuple[SoFar, ...] = ()


@dataclass(frozen=True)
class Step:
    """A step of a bridge: what it is (base, lost, kept_down, ..., current, or mover), how many members make it, where it goes.

    starts, ends: the running total before and after it. path: of a member's step. column: what proves it at the level's path.
    """

    kind: str
    count: int
    amount: Cell
    starts: Cell
    ends: Cell
    label: str = ""
    path: tuple[str | None, ...] | None = None
    column: str = ""


@dataclass(frozen=True)
class SplitItem:
    """An item of price, volume and mix: its change, what of it is price, and what is volume and mix together; null: not split."""

    label: str
    keys: tuple[str | None, ...]
    status: Status
    change: Cell
    price: Cell | None
    moved: Cell | None


@dataclass(frozen=True)
class Split:
    """Price, volume and mix: its steps, its items by the size of their change, how many more there are, and their dimensions."""

    steps: tuple[Step, ...]
    items: tuple[SplitItem, ...]
    more: int
    dimensions: tuple[str, ...]


@dataclass(frozen=True)
class Movers:
    """Who moved at one level of a statement, on one ledger version.

    statement: the one whose figures these are: every number is proved as one of its; table: the same as a table to be handed out,
    of this level only. level: the dimension of the members; path,
    labels: what was opened to get there; levels: those that can be gone down. by: what ranks them. ups, downs: by the sign of
    the change. still: members whose figure did not change; unknown: those whose change is undefined. small: those that are
    hidden as small, as one. steps: the bridge by kind, each: the same member by member, both adding up exactly; null where the
    measure does not add up. split_reason: why there is no price, volume and mix although there could be.
    """

    ledger: str
    version: int
    currency: str
    as_of: date
    statement: Statement
    table: Statement
    windows: tuple[AnsweredWindow, ...]
    measure: str
    unit: Unit
    decimals: int
    polarity: Polarity
    base: int
    by: RankedBy
    level: str
    levels: tuple[str, ...]
    path: tuple[str | None, ...]
    labels: tuple[str, ...]
    total: Mover
    ups: Movement
    downs: Movement
    still: int
    unknown: int
    members: int
    kinds: Mapping[str, int]
    small: Mover | None
    steps: tuple[Step, ...]
    each: tuple[Step, ...]
    adds_up: bool | None
    split: Split | None
    split_reason: Reason | None = None

    @property
    def periods(self) -> tuple[AnsweredPeriod, ...]:
        """None: movers are those of a whole window."""
        return ()


def movers(
    statement: Statement,
    ledger: LedgerFacts,
    source: Source,
    today: date,
    asked: MoversAsked,
    others: OtherLedgers | None = None,
    names: NameOrder = PLAIN,
) -> Movers:
    """The movers of a statement at one level. today: the day in the ledger's zone; others: ledgers that its bases name.

    Raises QuestionError where nothing is compared, or there is no such measure, base, level or member.
    """
    return _Looked(statement, ledger, source, today, asked, others, names).movers()


class _Looked:
    """A level that is looked at: its members in the order of their names, with their columns of exact values."""

    def __init__(
        self,
        statement: Statement,
        ledger: LedgerFacts,
        source: Source,
        today: date,
        asked: MoversAsked,
        others: OtherLedgers | None,
        names: NameOrder,
    ) -> None:
        self.asked, self.ledger, self.source = asked, ledger, source
        self.levels = levels_of(statement, asked)
        self.statement = movers_statement(statement, asked, ledger)
        resolved = resolve(self.statement, ledger, source, today, others, names)
        self.resolved = resolved
        self.rows = Rows(Cells(narrowed(evaluated(resolved, len(self.statement.rows)))))
        self.cells = self.rows.cells
        self.node: Node = self.rows.find(asked.path)
        self.members: Siblings = self.cells.rows.by_name(self.cells.rows.below(self.node))
        self.measure = self.statement.measures[0].measure
        self.recipes = self._recipes()
        places = Places(self.members)
        self.columns = {name: self.cells.column(places, recipe) for name, recipe in self.recipes.items() if len(self.members)}
        self.additive = self.recipes["difference"].measure.kind == "additive"

    def _recipes(self) -> dict[str, ColumnRecipe]:
        found = {}
        for recipe in self.resolved.columns:
            name = "base" if recipe.kind == "value" and recipe.window else str(recipe.kind)
            if recipe.step == "" and name not in ("share_of_all",):
                found[name] = recipe
        return found

    def movers(self) -> Movers:
        change = self.columns.get("difference", Exacts.undefined("not_applicable", 0))
        defined = change.reason == 0
        up, down = defined & np.asarray(change.top > 0, bool), defined & np.asarray(change.top < 0, bool)
        small = self._small(change) & (up | down)
        statuses = self._statuses()
        wanted = self._wanted(statuses)
        one_by_one = np.flatnonzero(small)
        steps, each, adds_up = self._bridge(change, up, down, statuses)
        split, split_reason = self._split()
        head = self.recipes["difference"]
        return Movers(
            ledger=self.ledger.name,
            version=self.ledger.version,
            currency=self.ledger.currency,
            as_of=self.resolved.as_of,
            statement=self.statement,
            table=movers_table(self.statement, self.node.path),
            windows=tuple(replace(each, beads=()) for each in answered_windows(self.resolved, self.resolved.source)),
            measure=self.measure,
            unit=head.measure.unit,
            decimals=head.measure.decimals,
            polarity=head.measure.polarity,
            base=self.asked.base,
            by=self._by,
            level=self.levels[self.node.depth],
            levels=self.levels,
            path=self.node.path,
            labels=self._labels(),
            total=self._as_one(self.node, self.cells, ""),
            ups=self._movement(change, up, wanted & ~small, descending=True),
            downs=self._movement(change, down, wanted & ~small, descending=False),
            still=int((defined & ~up & ~down).sum()),
            unknown=int((~defined).sum()),
            members=len(self.members),
            kinds={kind: int(sum(each == kind for each in statuses)) for kind in ("kept", "new", "lost", "returns_only")},
            small=self._together(one_by_one) if len(one_by_one) else None,
            steps=steps,
            each=each,
            adds_up=adds_up,
            split=split,
            split_reason=split_reason,
        )

    @property
    def _by(self) -> RankedBy:
        return self.asked.by if self.asked.by in self.recipes else "difference"

    def _labels(self) -> tuple[str, ...]:
        node, found = Node(), []
        for key in self.node.path:
            named = self.cells.rows.below(node).named(key)
            assert named is not None, "the path was found before"
            node = named
            found.append(self.cells.rows.label(node))
        return tuple(found)

    def _small(self, change: Exacts) -> NDArray[np.bool_]:
        """Whether each change is smaller than the threshold, in either direction: decided exactly."""
        if not self.asked.hide_under:
            return np.zeros(len(change), bool)
        unscaled, decimals = decimal_parts(self.asked.hide_under)
        size = scaled(np.abs(change.top), 10**decimals)
        return np.asarray(size < scaled(change.bottom, unscaled), bool)

    def _statuses(self) -> list[Status | None]:
        places = Places(self.members)
        if not len(self.members):
            return []
        points = Points(places.dimensions, places.codes, np.zeros(len(places), np.int64))
        return self.cells.evaluation.statuses(points, 0, self.asked.base)

    def _wanted(self, statuses: Sequence[Status | None]) -> NDArray[np.bool_]:
        """Which members are to be listed, by their kind and their name."""
        found = np.ones(len(self.members), bool)
        if self.asked.kinds:
            found &= np.array([each in self.asked.kinds for each in statuses], bool)
        if self.asked.search:
            text = self.asked.search.casefold()
            label = self.cells.rows.label
            found &= np.array([text in label(each).casefold() for each in self.members], bool)
        return found

    def _movement(self, change: Exacts, where: NDArray[np.bool_], wanted: NDArray[np.bool_], *, descending: bool) -> Movement:
        """One way: ranked, its first ones listed, the others as one, and how few of all of it make most of it."""
        listed = np.flatnonzero(where & wanted)
        if len(listed):
            ranked, _ = order(self.columns[self._by].take(listed), descending=descending)
            listed = listed[ranked]
        first, others = listed[: self.asked.most], listed[self.asked.most :]
        movers = self._listed(first)
        moved = Movement(movers, self._together(others) if len(others) else None, int(where.sum()))
        return self._few(moved, change.take(np.flatnonzero(where))) if self.additive and moved.count else moved

    def _few(self, moved: Movement, change: Exacts) -> Movement:
        """How few members make most of one way, by the size of their changes."""
        ranked, _ = order(change, descending=True, by_size=True)
        decimals, top = int(change.decimals[0]), np.abs(change.top[ranked])
        so_far = summed_up(top)
        whole = int(so_far[-1])
        reached = scaled(so_far, 100) >= FEW_MAKE * whole
        few = int(np.flatnonzero(np.asarray(reached, bool))[0]) + 1
        every = np.unique(np.linspace(0, len(top) - 1, min(len(top), MOST_POINTS)).round().astype(np.int64))
        shares = Exacts(
            so_far[every], integers([whole] * len(every)), every.astype(np.uint8) * 0, np.full(len(every), -1, np.int8)
        )
        total_of = Exacts.sums(integers([total(change.top)]), decimals)
        points = tuple(SoFar(*each) for each in zip((every + 1).tolist(), cells_of(shares), strict=True))
        return replace(moved, total=cells_of(total_of)[0], few=few, shares=points)

    def _listed(self, places: NDArray[np.int64]) -> tuple[Mover, ...]:
        if not len(places):
            return ()
        shown = {name: cells_of(column.take(places)) for name, column in self.columns.items()}
        some = self.members.take(places)
        codes = Places(some).codes
        points = Points(Places(some).dimensions, codes, np.zeros(len(codes), np.int64))
        statuses = self.cells.evaluation.statuses(points, 0, self.asked.base)
        return tuple(
            Mover(self.cells.rows.label(node), node.path, statuses[at], {name: cells[at] for name, cells in shown.items()})
            for at, node in enumerate(some)
        )

    def _together(self, places: NDArray[np.int64]) -> Mover:
        """Several members as one: sums of what adds up, else evaluated from their own lines."""
        added = self._added(places)
        if added is not None:
            return Mover("", None, None, added, len(places))
        cells = self.rows.as_one(self.members.take(places))
        found = self._as_one(self.node, cells, "")
        return replace(found, path=None, count=len(places))

    def _added(self, places: NDArray[np.int64]) -> dict[str, Cell] | None:
        """What members come to together where that is the sum of theirs: no line is read again. None where it is not."""
        now, then = self.columns["value"].take(places), self.columns["base"].take(places)
        if not self.additive or now.reason.any() or then.reason.any():
            return None
        place = Places.of(Place(self.node))
        figures = {
            "current": Exacts.sums(integers([total(now.top)]), int(now.decimals[0])),
            "base": Exacts.sums(integers([total(then.top)]), int(then.decimals[0])),
        }
        found = {}
        for name, recipe in self.recipes.items():
            rule = KINDS[recipe.kind].rule
            assert rule is not None, "movers show nothing that is no formula of figures"
            own = "base" if name == "base" else "current"
            of = [
                figures[each.about if name not in ("value", "base") else own]
                if each.about in figures
                else self.cells.figure(each, recipe)
                for each in self.cells.figures(place, recipe)
            ]
            negative = self.statement.negative_bases == "divided"
            found[name] = cells_of(rule(of, recipe.measure.unit, negative))[0]
        return found

    def _as_one(self, node: Node, cells: Cells, label: str) -> Mover:
        place = Place(node)
        shown = {name: cells_of(cells.column(Places.of(place), recipe))[0] for name, recipe in self.recipes.items()}
        return Mover(label, node.path, None, shown, len(self.members))

    def _bridge(
        self, change: Exacts, up: NDArray[np.bool_], down: NDArray[np.bool_], statuses: Sequence[Status | None]
    ) -> tuple[tuple[Step, ...], tuple[Step, ...], bool | None]:
        """From the base to the current figure: by kind, and member by member; and whether both add up exactly."""
        ends = [self.cells.value(Place(self.node), self.recipes[name]) for name in ("base", "value")]
        if not self.additive or not len(change) or change.reason.any() or not all(each.is_defined for each in ends):
            return (), (), None
        decimals = int(change.decimals[0])
        unit = 10**decimals
        base, now = (int(each.exact * unit) for each in ends if each.exact is not None)
        kind = np.array([each or "unknown" for each in statuses], object)
        where = {
            "lost": kind == "lost",
            "kept_down": (kind == "kept") & down,
            "kept_up": (kind == "kept") & up,
            "new": kind == "new",
            "returns_only": kind == "returns_only",
            "unknown": kind == "unknown",
        }
        of_kind = [
            Step(
                name,
                int(where[name].sum()),
                *_of(total(change.top[where[name]])),
                column=f"{self.measure}.{self.asked.base}.bridge_{name}" if name in BRIDGE_STEPS else "",
            )
            for name in where
            if where[name].any()
        ]
        members: list[Step] = []
        for moved, descending in ((down, False), (up, True)):
            places = np.flatnonzero(moved)
            ranked = places[order(change.take(places), descending=descending)[0]]
            first, others = ranked[: self.asked.most], ranked[self.asked.most :]
            for place, node in zip(first.tolist(), self.members.take(first), strict=True):
                label = self.cells.rows.label(node)
                column = f"{self.measure}.{self.asked.base}.difference"
                members.append(Step("mover", 1, *_of(int(change.top[place])), label=label, path=node.path, column=column))
            if len(others):
                members.append(Step("rest", len(others), *_of(total(change.top[others]))))
        found = [_placed(each, base, now, decimals, f"{self.measure}.{{}}.value", self.asked.base) for each in (of_kind, members)]
        by_kind, each = (steps for steps, _ in found)
        return by_kind, each, all(adds for _, adds in found)

    def _split(self) -> tuple[Split | None, Reason | None]:
        recipe = next((each for each in self.resolved.columns if each.kind == "price_volume_mix"), None)
        if recipe is None:
            return None, None
        place = Places.of(Place(self.node))
        steps = [each for each in self.resolved.columns if each.kind == "price_volume_mix"]
        values = {each.step: self.cells.column(place, each).value(0) for each in steps}
        reason = next((each.reason for each in values.values() if each.reason), None)
        if reason is not None:
            return None, reason
        found = [
            Step(name, 0, cell, cell, cell, column=f"{self.measure}.{self.asked.base}.price_volume_mix_{name}")
            for name in SPLIT_STEPS
            for cell in cells_of(Exacts.of([values[name]]))
        ]
        windows = (self.resolved.window_at(0, 0, 0), self.resolved.window_at(0, 0, self.asked.base))
        items = split_items(self.cells.evaluation, self.node.spot, recipe, *windows)
        if isinstance(items, str):
            return None, items
        return self._items(tuple(found), items), None

    def _items(self, steps: tuple[Step, ...], items: SplitItems) -> Split:
        most = np.argsort(np.array([-abs(int(each)) for each in items.change.tolist()], object), kind="stable")[:MOST_ITEMS]
        decimals = items.decimals

        def cell(value: int) -> Cell:
            return cells_of(Exacts.sums(integers([value]), decimals))[0]

        listed = []
        for at in most.tolist():
            members = [self.source.members(name) for name in items.dimensions]
            codes = items.codes[at].tolist()
            split = bool(items.split[at])
            listed.append(
                SplitItem(
                    " / ".join(of.name(code) for of, code in zip(members, codes, strict=True)),
                    tuple(of.key(code) for of, code in zip(members, codes, strict=True)),
                    items.status[at],
                    cell(int(items.change[at])),
                    cell(int(items.price[at])) if split else None,
                    cell(int(items.moved[at])) if split else None,
                )
            )
        return Split(steps, tuple(listed), len(items.change) - len(listed), items.dimensions)


def _of(minor: int) -> tuple[Cell, Cell, Cell]:
    """Amount, start and end of a step before it is placed: the amount in minor units, as text."""
    cell = Cell(str(minor))
    return cell, cell, cell


def _placed(steps: Sequence[Step], base: int, now: int, decimals: int, column: str, window: int) -> tuple[tuple[Step, ...], bool]:
    """Steps in their places between the base and the current figure, in minor units; and whether they lead there exactly."""

    def cell(minor: int) -> Cell:
        return cells_of(Exacts.sums(integers([minor]), decimals))[0]

    at, found = base, [Step("base", 0, cell(base), cell(0), cell(base), column=column.format(window))]
    for step in steps:
        minor = int(step.amount.value or "0")
        found.append(replace(step, amount=cell(minor), starts=cell(at), ends=cell(at + minor)))
        at += minor
    found.append(Step("current", 0, cell(now), cell(0), cell(now), column=column.format(0)))
    return tuple(found), at == now
