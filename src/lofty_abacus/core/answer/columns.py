"""The columns of a statement, before they have cells."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

from lofty_abacus.core.answer.kinds import KINDS, ColumnKind
from lofty_abacus.core.comparing.change import BRIDGE_STEPS, SPLIT_STEPS
from lofty_abacus.core.measures.table import Measure, Polarity, Unit
from lofty_abacus.core.statement.statement import Goal, ShareScope, ShownMeasure, Statement


@dataclass(frozen=True)
class Metric:
    """A measure as it is shown. along: its number among what figures run along, 0 for the period's own."""

    shown: ShownMeasure
    measure: Measure
    along: int

    @property
    def id(self) -> str:
        """Its name in the ids of columns."""
        return self.shown.id


@dataclass(frozen=True)
class ColumnRecipe:
    """A column: which metric, kind and window (0 current, k the k-th base); of what scope, which step, which goal."""

    metric: Metric
    kind: ColumnKind
    window: int
    scope: ShareScope | None = None
    step: str = ""
    goal: Goal | None = None
    share_of: Literal["all", "parent", "scope"] = "scope"

    @property
    def measure(self) -> Measure:
        """Its measure."""
        return self.metric.measure

    @property
    def id(self) -> str:
        """Its name in sort orders, addresses and proof: metric.window.kind."""
        return f"{self.metric.id}.{self.window}.{self.kind}{_of_scope(self)}{'_' + self.step if self.step else ''}"


def _of_scope(recipe: ColumnRecipe) -> str:
    if recipe.scope is None or recipe.kind in ("share_of_all", "share_of_parent"):
        return ""
    if recipe.share_of != "scope":
        return "_of_parent" if recipe.share_of == "parent" else ""
    kept = [*recipe.scope.keep, *([recipe.scope.time] if recipe.scope.time else [])]
    return f"[{'+'.join(kept)}]" + ("" if recipe.scope.period == "own" else f"_of_{recipe.scope.period}")


def columns_of(statement: Statement, metrics: tuple[Metric, ...]) -> tuple[ColumnRecipe, ...]:
    """Per metric: the current value, then per base its value and the comparisons with it, then shares and places."""
    return tuple(column for metric in metrics for column in _of_metric(statement, metric))


def scopes_of(shown: ShownMeasure) -> Iterator[tuple[ColumnKind, ShareScope, Literal["all", "parent", "scope"]]]:
    """The scopes of a metric's shares. The parent's is found by the row; 'all' is all of the column across."""
    if "share_of_all" in shown.show:
        yield "share_of_all", ShareScope(), "all"
    if "share_of_parent" in shown.show:
        yield "share_of_parent", ShareScope(), "parent"
    for scope in shown.shares:
        yield "share", scope, "scope"


def _of_metric(statement: Statement, metric: Metric) -> Iterator[ColumnRecipe]:
    shown, goal = metric.shown, next((each for each in statement.goals if each.metric == metric.id), None)
    bases = range(1, len(statement.bases) + 1) if shown.bases is None else shown.bases
    yield ColumnRecipe(metric, "value", 0)
    for window in bases:
        yield ColumnRecipe(metric, "value", window)
        for kind in shown.show:
            if KINDS[kind].against:
                yield ColumnRecipe(metric, kind, window)
        if "share_change" in shown.show:
            yield from (ColumnRecipe(metric, "share_change", window, scope, share_of=of) for _, scope, of in scopes_of(shown))
        for kind, steps in (("bridge", BRIDGE_STEPS), ("price_volume_mix", SPLIT_STEPS)):
            if kind in shown.show:
                yield from (ColumnRecipe(metric, kind, window, step=step) for step in steps)
        if goal is not None and goal.of == "base" and goal.base == window:
            yield ColumnRecipe(metric, "goal", window, goal=goal)
    if goal is not None and goal.of == "figure":
        yield ColumnRecipe(metric, "goal", 0, goal=goal)
    for share, scope, of in scopes_of(shown):
        yield ColumnRecipe(metric, share, 0, scope, share_of=of)
        if "scope" in shown.show:
            yield ColumnRecipe(metric, "scope", 0, scope, share_of=of)
    for kind in ("rank", "cumulative", "cumulative_share"):
        if kind in shown.show:
            yield ColumnRecipe(metric, kind, 0)


def how_shown(recipe: ColumnRecipe) -> tuple[Unit | Literal["points"], int, Polarity]:
    """Unit, decimals and polarity of a column's numbers. 'points': percentage points, the exact fraction times 100."""
    measure, kind = recipe.measure, KINDS[recipe.kind]
    unit = kind.unit or ("points" if recipe.kind == "difference" and measure.unit == "percent" else measure.unit)
    return unit, measure.decimals if kind.decimals is None else kind.decimals, measure.polarity if kind.judged else "neutral"
