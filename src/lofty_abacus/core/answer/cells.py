"""The values of cells, whole columns of them, from the figures that their proof lays open (sections 8 to 11)."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction

import numpy as np
from numpy.typing import NDArray

from lofty_abacus.core.answer.columns import ColumnRecipe
from lofty_abacus.core.answer.down import so_far, sums_down
from lofty_abacus.core.answer.evaluation import Evaluation, Points, Spot
from lofty_abacus.core.answer.frame import key_of
from lofty_abacus.core.answer.kinds import KINDS
from lofty_abacus.core.answer.nodes import ALONE, Axis, Node, Place, Siblings
from lofty_abacus.core.answer.places import Places
from lofty_abacus.core.answer.steps import steps_of
from lofty_abacus.core.calendar.settings import Grain
from lofty_abacus.core.comparing.comparisons import attainment, share
from lofty_abacus.core.comparing.goals import Verdict, judged
from lofty_abacus.core.grouping.request import PathFilter
from lofty_abacus.core.measures.exacts import REASONS, Exacts, Value, codes_of, integers, ranks
from lofty_abacus.core.money import decimal_parts
from lofty_abacus.core.patience import heed
from lofty_abacus.core.statement.levels import grains_of
from lofty_abacus.core.statement.statement import Goal
from lofty_abacus.core.windows.reasons import Reason


@dataclass(frozen=True)
class Figure:
    """A value that cells are made of, of one cell or of many. about: current, base, scope, base_scope or so_far.

    kept: the rows that it covers together, of what runs down a list.
    """

    about: str
    points: Points
    of_rest: bool = False
    kept: PathFilter | None = None

    @property
    def spot(self) -> Spot:
        """The lines of the first cell's figure."""
        return self.points.spot(0)

    @property
    def window(self) -> int:
        """The window of the first cell's figure: its number among the stretches."""
        return int(self.points.windows[0])


class Cells:
    """Evaluates the columns of a statement at its places.

    rest: what 'the others' of a list amount to, in place of a row of its own.
    """

    def __init__(self, evaluation: Evaluation, rest: Evaluation | None = None) -> None:
        self.evaluation = evaluation
        self.rest = rest
        self.resolved = evaluation.resolved
        self.rows = Axis(evaluation, down=True)
        self.across = Axis(evaluation, down=False)
        self._ranked: dict[tuple[object, ...], NDArray[np.int64]] = {}
        self._steps: dict[tuple[object, ...], Mapping[str, int] | Reason] = {}

    def value(self, place: Place, recipe: ColumnRecipe, listed: Siblings = ALONE) -> Value:
        """The value of a column at a place. listed: the row's siblings as they are listed, for what runs down the list."""
        return self.column(Places.of(place), recipe, (listed,)).value(0)

    def column(self, places: Places, recipe: ColumnRecipe, listed: Sequence[Siblings] = ()) -> Exacts:
        """The values of a column at some places. listed: per row its siblings as they are listed, for what runs down the list."""
        heed()
        slots = self.slots(places)
        if (slots < 0).all():
            return Exacts.undefined("not_applicable", len(places))
        match recipe.kind:
            case "rank":
                found = self._ranks(places, recipe)
            case "cumulative" | "cumulative_share":
                found = self._down(places, recipe, slots, listed)
            case "bridge" | "price_volume_mix":
                found = self._split(places, recipe, slots)
            case _:
                found = self._made_of([self.figure(each, recipe) for each in self.figures(places, recipe)], recipe, places, slots)
        if (slots >= 0).all():
            return found
        return found.before_all(np.where(slots < 0, codes_of(["not_applicable"]), 0).astype(np.uint8))

    def slots(self, places: Places) -> NDArray[np.int64]:
        """The slot of each place, i64[n]; -1 where none stands there."""
        across = places.across.time
        at = {time: self.resolved.slot_at.get((time, across), -1) for time in places.different_times}
        if len(at) == 1:
            return np.full(len(places), next(iter(at.values())), np.int64)
        return np.array([at[time] for time in places.times], np.int64)

    def figures(self, places: Places, recipe: ColumnRecipe, listed: Siblings = ALONE) -> list[Figure]:
        """The figures that cells are made of, in the order of their formula. listed: of a single place, as of `value`."""
        slots = np.maximum(self.slots(places), 0)

        def at(window: int) -> NDArray[np.int64]:
            return self._windows(slots, recipe, window)

        def figure(about: str, window: int) -> Figure:
            return Figure(about, places.points(at(window)), self.rest is not None)

        if recipe.kind in ("cumulative", "cumulative_share"):
            down = self._so_far(places, at(0), listed)
            return [down] if recipe.kind == "cumulative" else [down, Figure("scope", self._parent(places, at(0)))]
        parts = ("current",) if recipe.goal is not None and recipe.goal.of == "figure" else KINDS[recipe.kind].parts
        found = []
        for part in parts:
            match part:
                case "own":
                    found.append(figure("base" if recipe.window else "current", recipe.window))
                case "current":
                    found.append(figure("current", 0))
                case "base":
                    found.append(figure("base", recipe.window))
                case "scope":
                    found.append(self._scope(places, recipe, slots, 0))
                case "base_scope":
                    found.append(self._scope(places, recipe, slots, recipe.window))
                case "whole":
                    found.append(Figure("base_scope", self._beside(places, at(recipe.window))))
        return found

    def _windows(self, slots: NDArray[np.int64], recipe: ColumnRecipe, window: int) -> NDArray[np.int64]:
        first = self.resolved.window_at(0, recipe.metric.along, window)
        return first + slots * (self.resolved.window_at(1, 0, 0) - self.resolved.window_at(0, 0, 0))

    def figure(self, figure: Figure, recipe: ColumnRecipe) -> Exacts:
        """The values of one figure."""
        return self.evaluation_of(figure).values(figure.points, recipe.measure)

    def evaluation_of(self, figure: Figure) -> Evaluation:
        """What evaluates a figure: everything, the rest of a list, or the rows that it covers together."""
        if figure.kept is not None:
            return Evaluation(self.resolved, (*self.evaluation.kept, figure.kept))
        return self.rest if figure.of_rest and self.rest is not None else self.evaluation

    def verdict(self, place: Place, recipe: ColumnRecipe) -> Verdict | None:
        """Whether a goal is met, decided exactly; None where it cannot be told."""
        places = Places.of(place)
        if recipe.goal is None or self.slots(places)[0] < 0:
            return None
        target = self.target(place, recipe)
        if not target:
            return Verdict(None, "not_given")
        values = [self.figure(each, recipe).value(0) for each in self.figures(places, recipe)]
        return judged(target, recipe.goal.of, recipe.goal.direction, recipe.measure.polarity, values)

    def target(self, place: Place, recipe: ColumnRecipe) -> str:
        """The target of a goal at a place, as decimal text; '' where it has none."""
        assert recipe.goal is not None, "only goals have targets"
        if not recipe.goal.own:
            return recipe.goal.target
        slot = self.slots(Places.of(place))[0]
        path = place.row.path if self.rest is None else None
        return self._target(recipe.goal, path, int(slot))

    def _target(self, goal: Goal, path: tuple[str | None, ...] | None, slot: int) -> str:
        own = self.resolved.slots[max(slot, 0)]
        period = key_of(own.current.window, own, self.resolved)
        # The others of a list are no row of their own: what holds for all holds for them.
        return goal.target_at(path, period) if path is not None else goal.target

    def _made_of(self, values: list[Exacts], recipe: ColumnRecipe, places: Places, slots: NDArray[np.int64]) -> Exacts:
        rule = KINDS[recipe.kind].rule
        if rule is None:
            return self._attained(values, recipe, places, slots)
        return rule(values, recipe.measure.unit, self.resolved.statement.negative_bases == "divided")

    def _attained(self, values: list[Exacts], recipe: ColumnRecipe, places: Places, slots: NDArray[np.int64]) -> Exacts:
        goal = recipe.goal
        assert goal is not None, "only goals are left"
        if not goal.own:
            targets = [goal.target] * len(places)
        else:
            paths = [None if self.rest is not None else each.path for each in places.rows]
            targets = [self._target(goal, *each) for each in zip(paths, slots.tolist(), strict=True)]
        none = np.array([not each for each in targets], bool)
        if goal.of == "base":
            return attainment(*values).without(none, "not_given")
        exact = [_exactly(each or "0") for each in targets]
        return attainment(values[0], Exacts.of(exact)).before_all(np.where(none, codes_of(["not_given"]), 0).astype(np.uint8))

    def _beside(self, places: Places, windows: NDArray[np.int64]) -> Points:
        """All of the column across."""
        return places.only(range(len(places.row_dimensions), len(places.dimensions)), windows)

    def _parent(self, places: Places, windows: NDArray[np.int64]) -> Points:
        """The rows above, in the same place across."""
        own, every = len(places.row_dimensions), range(len(places.dimensions))
        inner = places.depth and self.rows.is_time(places.depth)
        return places.only([at for at in every if at != own - 1 or inner], windows)

    def _scope(self, places: Places, recipe: ColumnRecipe, slots: NDArray[np.int64], window: int) -> Figure:
        """What shares are a part of: the dimensions that their scope keeps of those that the rows fix."""
        assert recipe.scope is not None, "a share has a scope"
        about = "base_scope" if window else "scope"
        at = self._scope_windows(places, recipe, slots, window)
        if recipe.share_of == "parent":
            return Figure(about, places.points(at) if self.rest is not None else self._parent(places, at))
        if recipe.share_of == "all":
            return Figure(about, self._beside(places, at))
        kept = [at for at, name in enumerate(places.dimensions) if name in recipe.scope.keep]
        return Figure(about, places.only(kept, at))

    def _scope_windows(self, places: Places, recipe: ColumnRecipe, slots: NDArray[np.int64], window: int) -> NDArray[np.int64]:
        """The days of a share's scope: the row's period, the one above it, a level of time that is kept, the range, or ever."""
        assert recipe.scope is not None, "a share has a scope"
        if recipe.scope.period == "ever" and not window:
            return np.full(len(places), self.resolved.ever, np.int64)
        above: Callable[[tuple[str, ...], int], int] | None = None
        across = places.across.time
        if recipe.scope.period == "range":
            slots = slots * 0
        elif recipe.share_of == "parent" and places.depth and self.rows.is_time(places.depth):
            above = lambda time, slot: self.resolved.slot_at.get((time[:-1], across), 0)  # noqa: E731
        elif recipe.scope.time is not None:
            grain = recipe.scope.time
            above = lambda time, slot: self._slot_above(time, across, grain, slot)  # noqa: E731
        if above is not None:
            slots = np.array([above(*each) for each in zip(places.times, slots.tolist(), strict=True)], np.int64)
        return self._windows(slots, recipe, window)

    def _slot_above(self, row: tuple[str, ...], beside: tuple[str, ...], grain: Grain, slot: int) -> int:
        """The period of a grain that a place lies in: found by the levels of time from the outside in."""
        statement = self.resolved.statement
        down, across = grains_of(statement.rows), grains_of(statement.across)
        row = row[: down.index(grain) + 1] if grain in down else ()
        beside = beside[: across.index(grain) + 1] if grain in across else ()
        return self.resolved.slot_at.get((row, beside), slot) if row or beside else slot

    def siblings(self, row: Node) -> Siblings:
        """A row's siblings, itself among them, limited by nothing."""
        if not row.depth:
            return ALONE
        by_time = self.rows.is_time(row.depth)
        spot = row.spot if by_time else row.spot.upto(len(row.spot.codes) - 1)
        return self.rows.below(Node(row.path[:-1], spot, row.time[:-1] if by_time else row.time))

    def _ranks(self, places: Places, recipe: ColumnRecipe) -> Exacts:
        """1 is best by polarity; ties share a place (section 9)."""
        if self.rest is not None or not places.depth:
            return Exacts.undefined("not_applicable", len(places))
        value = ColumnRecipe(recipe.metric, "value", 0)
        found = np.zeros(len(places), np.int64)
        for rows in places.lists():
            every = self.siblings(places.rows[int(rows[0])])
            key = (every.parent.path, places.across.path, recipe.metric.id)
            if key not in self._ranked:
                column = self.column(Places(every, places.across), value)
                self._ranked[key] = ranks(column, descending=recipe.measure.polarity != "more_is_adverse")
            found[rows] = self._ranked[key][every.places_of([places.rows[at] for at in rows.tolist()])] + 1
        return Exacts.sums(found, 0).unless(self.column(places, value).reason)

    def _down(self, places: Places, recipe: ColumnRecipe, slots: NDArray[np.int64], listed: Sequence[Siblings]) -> Exacts:
        """Down the list as it stands: the lines of the rows so far (distinct: their ids), and their share of the parent."""
        windows = self._windows(np.maximum(slots, 0), recipe, 0)
        by_time = places.depth > 0 and self.rows.is_time(places.depth)
        if self.rest is not None or by_time:
            # Along time a running total says it, with its resets.
            return Exacts.undefined("not_applicable", len(places))
        if not places.depth:
            found = self.evaluation.values(places.points(windows), recipe.measure)
        else:
            found = Exacts.undefined("not_applicable", len(places))
            for one in {id(each): each for each in listed}.values():
                at = np.array([place for place, each in enumerate(listed) if each is one], np.int64)
                inside = one.places_of([places.rows[place] for place in at.tolist()])
                at, inside = at[inside >= 0], inside[inside >= 0]
                if len(at):
                    down = sums_down(self.evaluation, Places(one, places.across), recipe.measure, int(windows[at[0]]))
                    found = found.put(at, down.take(inside))
        if recipe.kind == "cumulative":
            return found
        return share(found, self.evaluation.values(self._parent(places, windows), recipe.measure))

    def _so_far(self, places: Places, windows: NDArray[np.int64], listed: Siblings) -> Figure:
        """The rows of a list down to this one, as one figure: of what repeats in several of them, each is counted once."""
        kept = so_far(listed, places.first)
        if kept is None:
            return Figure("so_far", places.points(windows), self.rest is not None)
        return Figure("so_far", self._beside(places, windows), kept=kept)

    def _split(self, places: Places, recipe: ColumnRecipe, slots: NDArray[np.int64]) -> Exacts:
        """A step of the bridge, or of price, volume and mix, over the items under each row."""
        current, base = (self._windows(np.maximum(slots, 0), recipe, window) for window in (0, recipe.window))
        evaluation = self.rest or self.evaluation
        decimals = max(self.resolved.ledger.scales.of(each) for each in recipe.measure.quantities)
        steps: list[int] = []
        reasons: list[Reason | None] = []
        for at, windows in enumerate(zip(current.tolist(), base.tolist(), strict=True)):
            spot = Spot(places.dimensions, tuple(places.codes[at].tolist()))
            why = evaluation.reasons(np.array(windows))
            key = (recipe.kind, recipe.metric.id, spot, windows)
            if why.any():
                self._steps[key] = REASONS[int(why[why != 0][0]) - 1]
            elif key not in self._steps:
                self._steps[key] = steps_of(evaluation, spot, recipe, *windows)
            found = self._steps[key]
            steps.append(0 if isinstance(found, str) else found[recipe.step])
            reasons.append(found if isinstance(found, str) else None)
        return Exacts.sums(integers(steps), decimals).unless(codes_of(reasons))


def _exactly(text: str) -> Value:
    """A target as an exact value."""
    unscaled, decimals = decimal_parts(text)
    return Value(Fraction(unscaled, 10**decimals), None, decimals)
