"""The value of every cell, from the figures that its proof lays open (sections 8 to 11)."""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction
from itertools import accumulate

from lofty_abacus.core.answer.columns import ColumnPlan
from lofty_abacus.core.answer.evaluation import TOTAL, Evaluation, Spot, counted
from lofty_abacus.core.answer.nodes import Axis, Node, Place
from lofty_abacus.core.answer.resolve import Resolved
from lofty_abacus.core.calendar.settings import Grain
from lofty_abacus.core.comparing.change import Item, Side, bridge, split_by_unit
from lofty_abacus.core.comparing.comparisons import attainment, difference, percent_change, share
from lofty_abacus.core.comparing.goals import Verdict, judged
from lofty_abacus.core.grouping.request import PathFilter
from lofty_abacus.core.measures.sums import LineSum
from lofty_abacus.core.measures.table import Measure
from lofty_abacus.core.measures.value import Value, undefined
from lofty_abacus.core.money import decimal_parts
from lofty_abacus.core.patience import heed
from lofty_abacus.core.statement.levels import grains_of


@dataclass(frozen=True)
class Figure:
    """One value that a cell is made of. about: current, base, scope, base_scope or so_far.

    window: its number among the stretches. kept: the rows that it covers together, of what runs down a list.
    """

    about: str
    spot: Spot
    window: int
    of_rest: bool = False
    kept: PathFilter | None = None


class Cells:
    """Evaluates the columns of a statement at its places.

    rest: what 'the others' of a list amount to, in place of a row of its own. in_order: a row's siblings as they are listed.
    """

    def __init__(self, evaluation: Evaluation, rest: Evaluation | None = None) -> None:
        self.evaluation = evaluation
        self.rest = rest
        self.resolved = evaluation.resolved
        self.rows = Axis(evaluation, down=True)
        self.across = Axis(evaluation, down=False)
        self._siblings: dict[tuple[str | None, ...], list[Node]] = {}
        self._ranked: dict[tuple[object, ...], list[Fraction]] = {}
        self._summed: dict[tuple[object, ...], dict[Node, Value]] = {}

    def value(self, place: Place, plan: ColumnPlan, in_order: Sequence[Node] = ()) -> Value:
        """The value of a column at a place. in_order: the row's siblings as listed, for what runs down the list."""
        slot = self.resolved.slot_at.get((place.row.time, place.across.time))
        if slot is None:
            return undefined("not_applicable")
        heed()
        match plan.kind:
            case "rank":
                return self._rank(place, plan, slot)
            case "cumulative" | "cumulative_share":
                return self._cumulative(place, plan, slot, in_order)
            case "bridge" | "price_volume_mix":
                return self._step(place, plan, slot)
            case _:
                return self._made_of([self.figure(each, plan) for each in self.figures(place, plan, slot)], plan)

    def figures(self, place: Place, plan: ColumnPlan, slot: int, in_order: Sequence[Node] = ()) -> list[Figure]:
        """The figures that a cell is made of, in the order of its formula. in_order: as of `value`."""

        def at(window: int) -> int:
            return self.resolved.window_at(slot, plan.metric.along, window)

        def figure(about: str, window: int) -> Figure:
            return Figure(about, place.spot, at(window), self.rest is not None)

        match plan.kind:
            case "value" | "rank":
                return [figure("base" if plan.window else "current", plan.window)]
            case "share" | "share_of_all" | "share_of_parent":
                return [figure("current", 0), self._scope(place, plan, slot, 0)]
            case "scope":
                return [self._scope(place, plan, slot, 0)]
            case "share_change":
                scope, base_scope = self._scope(place, plan, slot, 0), self._scope(place, plan, slot, plan.window)
                return [figure("current", 0), scope, figure("base", plan.window), base_scope]
            case "contribution":
                return [
                    figure("current", 0),
                    figure("base", plan.window),
                    Figure("base_scope", place.across.spot, at(plan.window)),
                ]
            case "goal" if plan.goal is not None and plan.goal.of == "figure":
                return [figure("current", 0)]
            case "cumulative":
                return [self._so_far(place, at(0), in_order)]
            case "cumulative_share":
                return [self._so_far(place, at(0), in_order), Figure("scope", self._parent(place), at(0))]
            case _:
                return [figure("current", 0), figure("base", plan.window)]

    def figure(self, figure: Figure, plan: ColumnPlan) -> Value:
        """The value of one figure."""
        return self.evaluation_of(figure).value(figure.spot, plan.measure, figure.window)

    def evaluation_of(self, figure: Figure) -> Evaluation:
        """What evaluates a figure: everything, the rest of a list, or the rows that it covers together."""
        if figure.kept is not None:
            return Evaluation(self.resolved, (*self.evaluation.kept, figure.kept))
        return self.rest if figure.of_rest and self.rest is not None else self.evaluation

    def verdict(self, place: Place, plan: ColumnPlan) -> Verdict | None:
        """Whether a goal is met, decided exactly; None where it cannot be told."""
        slot = self.resolved.slot_at.get((place.row.time, place.across.time))
        if plan.goal is None or slot is None:
            return None
        values = [self.figure(each, plan) for each in self.figures(place, plan, slot)]
        return judged(plan.goal.target, plan.goal.of, plan.goal.direction, plan.measure.polarity, values)

    def _made_of(self, values: list[Value], plan: ColumnPlan) -> Value:
        divided = self.resolved.statement.negative_bases == "divided"
        match plan.kind:
            case "value" | "scope":
                return values[0]
            case "difference":
                return difference(*values)
            case "percent_change":
                return percent_change(values[0], values[1], plan.measure.unit, divided=divided)
            case "attainment":
                return attainment(values[0], values[1], divided=divided)
            case "index":
                ratio = attainment(values[0], values[1], divided=divided)
                return ratio if ratio.exact is None else Value(ratio.exact * 100)
            case "share" | "share_of_all" | "share_of_parent":
                return share(values[0], values[1])
            case "share_change":
                return difference(share(values[0], values[1]), share(values[2], values[3]))
            case "contribution":
                return attainment(difference(values[0], values[1]), values[2])
            case _:
                return self._attained(values, plan)

    def _attained(self, values: list[Value], plan: ColumnPlan) -> Value:
        assert plan.goal is not None, "only goals are left"
        if plan.goal.of == "base":
            return attainment(*values)
        unscaled, decimals = decimal_parts(plan.goal.target)
        return attainment(values[0], Value(Fraction(unscaled, 10**decimals)))

    def _scope(self, place: Place, plan: ColumnPlan, slot: int, window: int) -> Figure:
        """What a share is a part of: the dimensions that its scope keeps of those that the row fixes."""
        assert plan.scope is not None, "a share has a scope"
        about = "base_scope" if window else "scope"
        at = self._scope_window(place, plan, slot, window)
        if plan.share_of == "parent":
            if self.rest is not None:
                return Figure(about, place.spot, at)
            inner = place.row.depth and self.rows.is_time(place.row.depth)
            parent = place.row.spot.upto(len(place.row.spot.codes) - (0 if inner else 1)) if place.row.spot.codes else TOTAL
            return Figure(about, parent.and_(place.across.spot.dimensions, place.across.spot.codes), at)
        kept = [
            (name, code) for name, code in zip(place.spot.dimensions, place.spot.codes, strict=True) if name in plan.scope.keep
        ]
        if plan.share_of == "all":
            kept = list(zip(place.across.spot.dimensions, place.across.spot.codes, strict=True))
        return Figure(about, Spot(tuple(name for name, _ in kept), tuple(code for _, code in kept)), at)

    def _scope_window(self, place: Place, plan: ColumnPlan, slot: int, window: int) -> int:
        """The days of a share's scope: the row's period, the one above it, a level of time that is kept, the range, or ever."""
        assert plan.scope is not None, "a share has a scope"
        if plan.scope.period == "ever" and not window:
            return self.resolved.ever
        if plan.scope.period == "range":
            slot = 0
        elif plan.share_of == "parent" and place.row.depth and self.rows.is_time(place.row.depth):
            slot = self.resolved.slot_at.get((place.row.time[:-1], place.across.time), 0)
        elif plan.scope.time is not None:
            slot = self._slot_above(place, plan.scope.time, slot)
        return self.resolved.window_at(slot, plan.metric.along, window)

    def _slot_above(self, place: Place, grain: Grain, slot: int) -> int:
        """The period of a grain that a place lies in: found by the levels of time from the outside in."""
        statement = self.resolved.statement
        down, across = grains_of(statement.rows), grains_of(statement.across)
        row = place.row.time[: down.index(grain) + 1] if grain in down else ()
        beside = place.across.time[: across.index(grain) + 1] if grain in across else ()
        return self.resolved.slot_at.get((row, beside), slot) if row or beside else slot

    def siblings(self, place: Place) -> list[Place]:
        """The places of a row's siblings, itself among them."""
        node = place.row
        if not node.depth:
            return [place]
        above = node.path[:-1]
        if above not in self._siblings:
            by_time = self.rows.is_time(node.depth)
            spot = node.spot if by_time else node.spot.upto(len(node.spot.codes) - 1)
            self._siblings[above] = self.rows.children(Node(above, spot, node.time[:-1] if by_time else node.time))
        return [Place(each, place.across) for each in self._siblings[above]]

    def _rank(self, place: Place, plan: ColumnPlan, slot: int) -> Value:
        """1 is best by polarity; ties share a place (section 9)."""
        if self.rest is not None or not place.row.depth:
            return undefined("not_applicable")
        value = ColumnPlan(plan.metric, "value", 0)
        mine = self.value(place, value)
        if mine.exact is None:
            return mine
        key = (place.row.path[:-1], place.row.time, place.across.path, plan.metric.id)
        if key not in self._ranked:
            others = (self.value(each, value).exact for each in self.siblings(place))
            self._ranked[key] = sorted(other for other in others if other is not None)
        ranked = self._ranked[key]
        adverse = plan.measure.polarity == "more_is_adverse"
        better = bisect_left(ranked, mine.exact) if adverse else len(ranked) - bisect_right(ranked, mine.exact)
        return counted(better + 1)

    def _cumulative(self, place: Place, plan: ColumnPlan, slot: int, in_order: Sequence[Node]) -> Value:
        """Down the list as it stands: the lines of the rows so far (distinct: their ids), and their share of the parent."""
        by_time = place.row.depth > 0 and self.rows.is_time(place.row.depth)
        if self.rest is not None or by_time:
            # Along time a running total says it, with its resets.
            return undefined("not_applicable")
        window = self.resolved.window_at(slot, plan.metric.along, 0)
        if plan.measure.kind == "additive" or not place.row.depth:
            summed = self._sums_down(place, plan.measure, window, in_order)
            if place.row not in summed:
                return undefined("not_applicable")
            found = summed[place.row]
        elif place.row not in in_order:
            return undefined("not_applicable")
        else:
            found = self.figure(self._so_far(place, window, in_order), plan)
        if plan.kind == "cumulative":
            return found
        return share(found, self.evaluation.value(self._parent(place), plan.measure, window))

    def _sums_down(self, place: Place, measure: Measure, window: int, in_order: Sequence[Node]) -> dict[Node, Value]:
        """Down a list the sum of the rows so far, of each of its rows."""
        key = (place.row.depth, place.row.path[:-1], place.across.path, measure, window)
        if key not in self._summed:
            values = [self.evaluation.value(Place(each, place.across).spot, measure, window) for each in in_order]
            self._summed[key] = dict(zip(in_order, accumulate(values, _added), strict=True))
        return self._summed[key]

    def _so_far(self, place: Place, window: int, in_order: Sequence[Node]) -> Figure:
        """The rows of a list down to this one, as one figure: of what repeats in several of them, each is counted once."""
        spot = place.row.spot
        if not spot.codes or place.row not in in_order:
            return Figure("so_far", place.spot, window, self.rest is not None)
        upto = in_order[: in_order.index(place.row) + 1]
        kept = PathFilter(spot.dimensions, frozenset(each.spot.codes for each in upto))
        return Figure("so_far", place.across.spot, window, kept=kept)

    def _parent(self, place: Place) -> Spot:
        """The row above, in the same place across."""
        spot, across = place.row.spot, place.across.spot
        return spot.upto(len(spot.codes) - 1).and_(across.dimensions, across.codes)

    def _step(self, place: Place, plan: ColumnPlan, slot: int) -> Value:
        """A step of the bridge, or of price, volume and mix, over the items under a row."""
        evaluation = self.rest or self.evaluation
        current, base = (self.resolved.window_at(slot, plan.metric.along, window) for window in (0, plan.window))
        reason = self.resolved.windows[current].reason or self.resolved.windows[base].reason
        if reason is not None:
            return undefined(reason)
        items = self.items(evaluation, place, plan, current, base)
        if isinstance(items, Value):
            return items
        steps = bridge(items) if plan.kind == "bridge" else split_by_unit(items)
        decimals = _decimals(plan, self.resolved)
        return Value(Fraction(steps[plan.step], 10**decimals), None, decimals)  # type: ignore[index]

    def items(self, evaluation: Evaluation, place: Place, plan: ColumnPlan, current: int, base: int) -> list[Item] | Value:
        """The items under a place: rows of the deepest level, or what price, volume and mix are named over."""
        unit = self.resolved.statement.unit_of_measure if plan.kind == "price_volume_mix" else None
        spot = place.spot
        named = (name for name in self._item_dimensions(plan) if name not in spot.dimensions and name != unit)
        # The unit comes last, also where the row fixes it: an item is of one unit.
        dimensions = (*spot.dimensions, *named, *([unit] if unit and unit not in spot.dimensions else []))
        unit = unit if unit not in spot.dimensions else None
        table = evaluation.table(dimensions)
        quantity_side = "sale" if plan.measure.name == "gross_sales" else "all"
        units = 10 ** _decimals(plan, self.resolved)
        by_quantity = plan.kind == "price_volume_mix"
        found = []
        for cell in table.under(spot.codes):
            heed()
            at = Spot(dimensions, table.paths[cell])
            sides = []
            for window in (current, base):
                value = evaluation.value(at, plan.measure, window)
                if value.exact is None:
                    return value
                quantity = _quantity(evaluation, at, window, quantity_side) if by_quantity else None
                sides.append(Side(int(value.exact * units), evaluation.quantity(at, LineSum("lines", "sale"), window), quantity))
            found.append(Item(sides[0], sides[1], table.paths[cell][-1] if unit else 0))
        return found

    def _item_dimensions(self, plan: ColumnPlan) -> tuple[str, ...]:
        statement = self.resolved.statement
        if plan.kind == "bridge":
            return self.resolved.rows
        product = self.resolved.ledger.with_role("product")
        return statement.items or ((product.name,) if product else self.resolved.rows)


def _quantity(evaluation: Evaluation, spot: Spot, window: int, side: str) -> int | None:
    """An item's quantity; None where one of its lines has none."""
    lines = evaluation.quantity(spot, LineSum("lines", side), window)  # type: ignore[arg-type]
    having = evaluation.quantity(spot, LineSum("lines", side, ("quantity",)), window)  # type: ignore[arg-type]
    return None if having < lines else evaluation.quantity(spot, LineSum("quantity", side, ("quantity",)), window)  # type: ignore[arg-type]


def _decimals(plan: ColumnPlan, resolved: Resolved) -> int:
    return max(resolved.ledger.scales.of(each) for each in plan.measure.quantities)


def _added(one: Value, other: Value) -> Value:
    """A sum of values; undefined from the first one on that is."""
    if one.exact is None or other.exact is None:
        return one if one.exact is None else other
    return Value(one.exact + other.exact, None, max(one.decimals or 0, other.decimals or 0))
