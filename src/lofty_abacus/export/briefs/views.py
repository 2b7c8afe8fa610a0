"""What each kind of block shows: figures in words with their proofs, ready for the template."""

from __future__ import annotations

from dataclasses import dataclass, replace
from fractions import Fraction

from markupsafe import Markup

from lofty_abacus.core.answer.answer import AnsweredColumn, Cell, Row
from lofty_abacus.core.answer.movers import Movement, Mover, Step
from lofty_abacus.core.money import round_half_away
from lofty_abacus.core.saying import say
from lofty_abacus.core.statement.levels import TimeLevel
from lofty_abacus.core.statement.scorecard import CardAsked
from lofty_abacus.core.statement.statement import Statement
from lofty_abacus.export.briefs import pictures
from lofty_abacus.export.briefs.composed import ComposedFigures
from lofty_abacus.export.briefs.written import Place, cell_text, decimals_of, direction, minus, mover_column, way_of
from lofty_abacus.export.layout import Layout
from lofty_abacus.export.showing import exact, shown_text
from lofty_abacus.telling.briefs import base_line, window_name
from lofty_abacus.telling.movers import ToldMovers
from lofty_abacus.telling.names import capital, measure_name, period_words
from lofty_abacus.telling.scorecard import ScoredMetric, ToldCard
from lofty_abacus.telling.told import ToldAnswer

#: Bars of a chart that stand side by side; of more members the others are left to the table.
MOST_BARS = 16
MOST_WINDOWS = 5
#: Periods of a series that are drawn as bars; more are lines.
MOST_PERIODS = 40
_PLAIN = Layout()


@dataclass(frozen=True)
class Against:
    """A headline's change against one base."""

    changes: Markup
    way: str
    base: str


@dataclass(frozen=True)
class HeadlineView:
    """A figure that stands large. label: its measure and window."""

    label: str
    value: Markup
    against: tuple[Against, ...]


def headline_view(answer: ToldAnswer, statement: Statement, layout: Layout, place: Place) -> HeadlineView:
    """The total of the first measure, with its change and % change against each base."""
    first = answer.columns[0]
    columns = [decimals_of(each, answer.total.cells[at], layout) for at, each in enumerate(answer.columns)]
    cells = answer.total.cells

    def figure(at: int) -> Markup:
        return place.figure(cell_text(cells[at], columns[at], layout), (), columns[at].id)

    against = []
    for window in range(1, len(answer.windows)):
        found = [at for at, each in enumerate(columns) if each.window == window and each.kind in ("difference", "percent_change")]
        way = next((way_of(cells[at], columns[at]) for at in found), "")
        told = [figure(at) for at in found if cells[at].value is not None]
        words = Markup(" · ").join(told) if told else Markup(say("not comparable"))
        if way == "adverse":
            words += Markup("<small>, {}</small>").format(say("adverse"))
        against.append(Against(words, way, base_line(answer.windows[window])))
    label = f"{_measure(answer)}, {window_name(statement, answer.windows)}"
    assert first.kind == "value", "a statement's first column is its first measure's figure"
    return HeadlineView(capital(label), figure(0), tuple(against))


def _measure(answer: ToldAnswer) -> str:
    """What the first measure is called, without its currency."""
    first = answer.columns[0]
    return first.name or capital(measure_name(first.measure))


@dataclass(frozen=True)
class StepView:
    """A step of a bridge: what it is called, its rod and its amount. kind: outer, or the way that it goes."""

    name: str
    rod: Markup
    amount: Markup
    kind: str


def bridge_view(movers: ToldMovers, layout: Layout, place: Place) -> tuple[StepView, ...]:
    """The way from the base to the current figure."""
    steps = movers.each if layout.bridge == "each" else movers.steps
    if not steps:
        return ()
    found = []
    for step, rod in zip(steps, pictures.bridge_rods(steps), strict=True):
        outer = step.kind in ("base", "current")
        column = mover_column(movers, "value" if outer else "difference")
        way = "" if outer else direction(exact(step.amount), movers.polarity) or "still"
        colour = {"base": f"w{min(movers.base, 4)}", "current": "w0"}.get(step.kind, way)
        text = cell_text(step.amount, column, layout)
        proved = step.column or (f"{column.measure}.{movers.base if step.kind == 'base' else 0}.value" if outer else "")
        amount = place.figure(text, step.path or movers.path, proved, way if way != "still" else "")
        found.append(StepView(_step_name(movers, step), pictures.rod(rod, colour), amount, "outer" if outer else way))
    return tuple(found)


def _step_name(movers: ToldMovers, step: Step) -> str:
    told = movers.told
    if step.kind in ("base", "current"):
        return told.base_heading if step.kind == "base" else told.current_heading
    if step.kind == "mover":
        return step.label
    few = told.level if step.count == 1 else told.members
    return f"{told.steps.get(step.kind, step.kind)}: {step.count:,} {few}"


@dataclass(frozen=True)
class MoverView:
    """A member that moved."""

    name: str
    rod: Markup
    change: Markup
    percent: Markup
    now: Markup
    several: bool = False


def movers_view(movers: ToldMovers, layout: Layout, place: Place) -> tuple[tuple[str, tuple[MoverView, ...]], ...]:
    """Those that rose and those that fell, the largest first, the others as one."""
    listed = (*movers.ups.movers, *movers.downs.movers)
    largest = max((abs(pictures.length(each.shown.get("difference"))) for each in listed), default=0.0)

    def view(mover: Mover) -> MoverView:
        def figure(shown: str) -> Markup:
            cell = mover.shown.get(shown)
            if cell is None:
                return Markup("")
            column = mover_column(movers, shown)
            return place.figure(cell_text(cell, column, layout), mover.path, column.id, way_of(cell, column))

        way = direction(exact(mover.shown["difference"]), movers.polarity) or "still"
        rod = pictures.rod(pictures.moved(pictures.length(mover.shown["difference"]), largest), way)
        several = mover.path is None
        name = say("{count} others", count=mover.count) if several else mover.label
        return MoverView(
            name, Markup("") if several else rod, figure("difference"), figure("percent_change"), figure("value"), several
        )

    def side(way: Movement) -> tuple[MoverView, ...]:
        return tuple(view(each) for each in (*way.movers, *([way.rest] if way.rest else [])))

    sides = ((say("Up"), side(movers.ups)), (say("Down"), side(movers.downs)))
    return tuple(each for each in sides if each[1])


@dataclass(frozen=True)
class CardView:
    """A scorecard: its metrics with their goals, and rows of (name, depth, verdicts, n of m)."""

    rows: str
    metrics: tuple[tuple[str, str], ...]
    lines: tuple[tuple[str, int, tuple[tuple[Markup, Markup, str], ...], str, bool], ...]


def card_view(card: ToldCard, asked: CardAsked, layout: Layout, place: Place) -> CardView:
    """Members by metrics, goal met or not, n of m; the total on its own."""
    columns = {each.id: at for at, each in enumerate(card.answer.columns)}
    metrics = card.told.metrics
    bases = {goal.metric: goal.of == "base" for goal in card.statement.goals}

    def verdict(row: Row, goal: str, value: str, *, of_base: bool) -> tuple[Markup, Markup, str]:
        at = columns.get(goal)
        if at is None:
            here = columns[value]
            return Markup(""), place.figure(cell_text(row.cells[here], _own(card, here, layout), layout), row.path, value), ""
        cell, column = _whole(row.cells[at], of_base=of_base), replace(card.answer.columns[at], decimals=0)
        way = "" if cell.met is None else "favourable" if cell.met else "adverse"
        text = cell_text(cell, column, layout) if cell.target else ""
        said = say("no goal") if not cell.target else "" if cell.met is None else "✓" if cell.met else "✗"
        figure = place.figure(text, row.path, column.id, way) if text else Markup("")
        return pictures.goal_bead(cell, of_base=of_base), figure, said

    def line(row: Row, name: str) -> tuple[str, int, tuple[tuple[Markup, Markup, str], ...], str, bool]:
        verdicts = tuple(verdict(row, each.goal, each.value, of_base=bases.get(each.id, True)) for each in metrics)
        met = say("{met} of {defined}", met=row.goals.met, defined=row.goals.defined) if row.goals and row.goals.defined else ""
        return name, max(len(row.path) - 1, 0), verdicts, met, not row.path

    rows = _ordered(card.answer.rows, asked)
    lines = [line(row, row.label) for row in rows if row.rest is None]
    lines.append(line(card.answer.total, card.answer.told.total))
    return CardView(card.told.rows, tuple((each.name, _goal_words(card, each)) for each in metrics), tuple(lines))


def _whole(cell: Cell, *, of_base: bool) -> Cell:
    """A verdict in whole percents; one that would then look like its goal, though it is not there, keeps its decimals."""
    value = exact(cell)
    if value is None or not cell.target:
        return cell
    target = Fraction(cell.target) if of_base else Fraction(100)
    rounded = Fraction(round_half_away(value * 100, 0))
    looks_alike = (rounded >= target) == (value * 100 >= target) and (rounded <= target) == (value * 100 <= target)
    return replace(cell, decimals=0) if looks_alike else cell


def _goal_words(card: ToldCard, metric: ScoredMetric) -> str:
    """At least 100%: of what, the caption says."""
    goal = next((each for each in card.statement.goals if each.metric == metric.id), None)
    if goal is None or goal.of == "figure" or not goal.target:
        return metric.goal_words
    least = metric.direction == "at_least"
    return say("at least {target}%", target=goal.target) if least else say("at most {target}%", target=goal.target)


def _own(card: ToldCard, at: int, layout: Layout) -> AnsweredColumn:
    return decimals_of(card.answer.columns[at], card.answer.total.cells[at], layout)


def _ordered(rows: tuple[Row, ...], asked: CardAsked) -> list[Row]:
    """In the order that is asked, each row before its own."""

    def key(row: Row) -> float:
        if asked.order == "name" or row.goals is None or not row.goals.defined:
            return 2.0 if asked.order != "name" else 0.0
        part = row.goals.met / row.goals.defined
        return part if asked.order == "misses" else -part

    def below(path: tuple[str | None, ...]) -> list[Row]:
        here = sorted((row for row in rows if len(row.path) == len(path) + 1 and row.path[:-1] == path), key=key)
        return [each for row in here for each in (row, *below(row.path))]

    return below(())


@dataclass(frozen=True)
class ChartView:
    """A chart with its key: (colour, name)."""

    picture: Markup
    key: tuple[tuple[str, str], ...]
    left_out: int = 0


def chart_view(answer: ToldAnswer, block: ComposedFigures, *, wide: bool) -> ChartView | None:
    """The first measure in every window: along the periods, or by members of the first level. None where there are no rows."""
    statement, rows = block.statement, [row for row in answer.rows if len(row.path) == 1 and row.rest is None]
    along = bool(statement.rows) and isinstance(statement.rows[0], TimeLevel)
    shown = rows if along else rows[:MOST_BARS]
    if not shown:
        return None
    first = answer.columns[0]
    columns = [
        at
        for at, each in enumerate(answer.columns)
        if each.kind == "value" and not each.across and (each.measure, each.along) == (first.measure, first.along)
    ][:MOST_WINDOWS]
    lines = along and len(shown) > MOST_PERIODS
    series = [
        pictures.Series(
            answer.told.windows[answer.columns[at].window],
            f"w{min(answer.columns[at].window, 4)}",
            tuple(_drawn(row.cells[at]) for row in shown),
            line=lines,
        )
        for at in columns
    ]
    values = [value for each in series for value in each.values if value is not None]
    ticks = pictures.nice_ticks(min(values, default=0.0), max(values, default=0.0))
    labels = [_short(period_words(row.label)) if along else row.label for row in shown]
    written = [(tick, _tick(tick, first)) for tick in ticks]
    picture = pictures.chart(labels, series, written, wide=pictures.WIDE if wide else pictures.HALF)
    return ChartView(picture, tuple((pictures.COLOURS[each.colour], each.name) for each in series), len(rows) - len(shown))


def _drawn(cell: Cell) -> float | None:
    return None if cell.value is None else pictures.length(cell)


def _short(period: str) -> str:
    """A month without its year where it is the place of a chart."""
    word, _, rest = period.partition(" ")
    return word if rest.isdigit() and word.isalpha() else period


def _tick(value: float, column: AnsweredColumn) -> str:
    text = f"{value * 100:g}%" if column.unit == "percent" else f"{value:,.10g}"
    return minus(text)


def words_view(block: ComposedFigures, place: Place) -> tuple[Markup, ...]:
    """What is said of movers and of goals, sentence by sentence."""
    found = block.movers.told.sentences if block.movers else block.card.told.sentences if block.card else ()
    return tuple(place.words(each) for each in found)


def plain_headline(answer: ToldAnswer, layout: Layout = _PLAIN) -> str:
    """A headline in one line of text: Net sales 1,721,338, +13.9% on the same dates last year."""
    columns = [decimals_of(each, answer.total.cells[at], layout) for at, each in enumerate(answer.columns)]
    cells = answer.total.cells
    text = f"{_measure(answer)} {minus(shown_text(cells[0], columns[0], layout))}"
    for at, column in enumerate(columns):
        if column.kind == "percent_change" and column.window == 1 and cells[at].value is not None:
            on = say("on {base}", base=answer.told.names[1])
            return f"{text}, {cell_text(cells[at], column, layout)} {on}"
    return text
