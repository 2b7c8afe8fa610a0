"""Rods, beads and charts of a brief as inline SVG. Lengths are for the eye only: floats are enough for them."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass

from markupsafe import Markup

from lofty_abacus.core.answer.answer import Cell
from lofty_abacus.core.answer.movers import Step
from lofty_abacus.export.showing import exact

#: Heights of a rod's picture and of its bead, and the least width of a bead in parts of the rod.
TALL, THICK, LEAST = 14, 11, 0.012
#: Colours of windows and directions; they stand at every shape, since paper and mail know no style sheet inside pictures.
COLOURS = {
    "w0": "#0f5e63",
    "w1": "#b8832a",
    "w2": "#7d5a8f",
    "w3": "#4f6fa0",
    "w4": "#8c4a3c",
    "favourable": "#3b6418",
    "adverse": "#a2361f",
    "still": "#948a72",
}
_ROD, _WOOD, _QUIET, _AXIS = "#a58f6c", "#4b382c", "#625d53", "#ddd5c4"
#: How much of the width the steps of a bridge have at least, before its axis is broken.
_SEEN = 0.25
#: How far from its goal a bead is still drawn where it is: half as much again.
_REACH = 0.5
_EDGE = 0.06


def length(cell: Cell | None) -> float:
    """A figure as a length; 0 where there is none."""
    value = exact(cell) if cell is not None else None
    return float(value) if value is not None else 0.0


@dataclass(frozen=True)
class Rod:
    """A rod with one bead on it: from where to where, as parts of its width."""

    start: float
    end: float
    broken: bool = False


def bridge_rods(steps: Sequence[Step]) -> list[Rod]:
    """Where the beads of a bridge stand. The axis is broken where the steps would be too small to see."""
    outer = (0, len(steps) - 1)
    ends = [length(each.ends) for each in steps]
    ends += [length(each.starts) for at, each in enumerate(steps) if at not in outer]
    low, high = min(ends), max(ends)
    whole = max(high, 0) - min(low, 0)
    broken = low > 0 and high - low < _SEEN * whole
    start = low - ((high - low) or 1) * _SEEN if broken else min(low, 0)
    wide = (max(high, 0.0) - start) or 1.0

    def at(value: float) -> float:
        return (value - start) / wide

    edge = 0.0 if broken else at(0)
    found = []
    for number, step in enumerate(steps):
        one, other = (edge if number in outer else at(length(step.starts))), at(length(step.ends))
        found.append(Rod(min(one, other), max(one, other), broken and number in outer))
    return found


def rod(found: Rod, colour: str) -> Markup:
    """A rod with its bead. colour: one of COLOURS by its name."""
    wide = max(found.end - found.start, LEAST)
    x = min(found.start, 1 - wide)
    gap = Markup('<rect fill="#fff" x="5%" y="0" width="2%" height="{}"/>').format(TALL) if found.broken else Markup("")
    return Markup(
        '<svg class="rod" width="100%" height="{tall}" aria-hidden="true">'
        '<rect fill="{rod}" x="0" y="{mid}" width="100%" height="1"/>'
        '<rect fill="{colour}" x="{x}%" y="{top}" width="{wide}%" height="{thick}" rx="5"/>{gap}</svg>'
    ).format(
        tall=TALL,
        rod=_ROD,
        mid=TALL // 2,
        colour=COLOURS[colour],
        x=round(x * 100, 2),
        top=(TALL - THICK) / 2,
        wide=round(wide * 100, 2),
        thick=THICK,
        gap=gap,
    )


def moved(size: float, largest: float) -> Rod:
    """A change to the left or to the right of the middle."""
    part = 0.5 * size / largest if largest else 0.0
    return Rod(min(0.5, 0.5 + part), max(0.5, 0.5 + part))


def goal_place(cell: Cell, *, of_base: bool) -> float | None:
    """Where a bead stands on its rod, from 0 to 1: the goal is in the middle. None where nothing can be told."""
    value = exact(cell)
    if value is None or not cell.target:
        return None
    target = float(cell.target) / 100 if of_base else 1.0
    if not target:
        return None
    return min(max(0.5 + ((float(value) / target - 1) / _REACH) * 0.5, _EDGE), 1 - _EDGE)


def goal_bead(cell: Cell, *, of_base: bool) -> Markup:
    """A bead on a rod with its goal marked: full where it is met, hollow where it is missed."""
    place = goal_place(cell, of_base=of_base)
    mark = Markup("")
    if cell.target:
        line = '<path d="M35 1V17" stroke="{}" stroke-width="2" stroke-dasharray="4 3" fill="none"/>'
        mark = Markup(line).format(_WOOD)
    bead = Markup("")
    if place is not None:
        edge = _QUIET if cell.met is None else COLOURS["favourable" if cell.met else "adverse"]
        bead = Markup('<rect fill="{}" stroke="{}" stroke-width="2" x="{}" y="4" width="15" height="10" rx="5"/>').format(
            edge if cell.met else "#fff", edge, round(place * 70 - 7.5, 1)
        )
    return Markup(
        '<svg class="goal-bead" viewBox="0 0 70 18" width="44" height="12" aria-hidden="true">'
        '<path d="M0 9H70" stroke="{}" stroke-width="1" fill="none"/>{}{}</svg>'
    ).format(_ROD, mark, bead)


@dataclass(frozen=True)
class Series:
    """One line or row of bars: its name, the class of its colour, and a figure for each place (None: there is none)."""

    name: str
    colour: str
    values: tuple[float | None, ...]
    line: bool = False


#: Units of a chart's picture, and the room for its axes.
WIDE, HALF, HIGH, LEFT, BELOW, ABOVE = 900, 440, 210, 64, 26, 14
#: Units that the name of a place takes.
_PLACE = 60
_TEXT = Markup('font-size="12" fill="#625d53" font-family="Source Sans 3 Variable, Source Sans 3, Segoe UI, sans-serif"')


def chart(labels: Sequence[str], series: Sequence[Series], ticks: Sequence[tuple[float, str]], *, wide: int = WIDE) -> Markup:
    """A chart of bars and lines over the same places. ticks: figures of the axis with their words, from low to high."""
    low, high = ticks[0][0], ticks[-1][0]
    room = (high - low) or 1.0

    def y(value: float) -> float:
        return round(ABOVE + (HIGH - ABOVE - BELOW) * (1 - (value - low) / room), 1)

    step = (wide - LEFT) / max(len(labels), 1)
    parts = [
        Markup('<path d="M{} {}H{}" stroke="{}" fill="none"/><text text-anchor="end" {} x="{}" y="{}">{}</text>').format(
            LEFT, y(value), wide, _AXIS, _TEXT, LEFT - 8, y(value) + 4, words
        )
        for value, words in ticks
    ]
    bars = [each for each in series if not each.line]
    thick = step * 0.72 / max(len(bars), 1)
    for number, each in enumerate(bars):
        for at, value in enumerate(each.values):
            if value is None:
                continue
            x = LEFT + step * at + step * 0.14 + thick * number
            top, foot = y(max(value, 0)), y(min(value, 0))
            parts.append(
                Markup('<rect fill="{}" x="{}" y="{}" width="{}" height="{}" rx="2"/>').format(
                    COLOURS[each.colour], round(x, 1), top, round(max(thick - 1, 1), 1), round(max(foot - top, 0.5), 1)
                )
            )
    for each in series:
        if each.line:
            parts.append(_line(each, step, y))
    every = max(1, math.ceil(len(labels) * _PLACE / (wide - LEFT)))
    for at, label in enumerate(labels):
        if at % every == 0:
            parts.append(
                Markup('<text text-anchor="middle" {} x="{}" y="{}">{}</text>').format(
                    _TEXT, round(LEFT + step * (at + 0.5), 1), HIGH - 8, shortened(label, step * every)
                )
            )
    return Markup('<svg class="chart" viewBox="0 0 {} {}" role="img" aria-label="{}">{}</svg>').format(
        wide, HIGH, ", ".join(each.name for each in series), Markup("").join(parts)
    )


def _line(each: Series, step: float, place: Callable[[float], float]) -> Markup:
    points: list[str] = []
    begun = False
    for at, value in enumerate(each.values):
        if value is None:
            begun = False
            continue
        points.append(f"{'L' if begun else 'M'}{round(LEFT + step * (at + 0.5), 1)} {place(value)}")
        begun = True
    dots = Markup("").join(
        Markup('<circle fill="{}" cx="{}" cy="{}" r="3"/>').format(
            COLOURS[each.colour], round(LEFT + step * (at + 0.5), 1), place(value)
        )
        for at, value in enumerate(each.values)
        if value is not None
    )
    return Markup('<path stroke="{}" stroke-width="2.5" fill="none" d="{}"/>{}').format(
        COLOURS[each.colour], " ".join(points), dots
    )


def nice_ticks(low: float, high: float, most: int = 5) -> list[float]:
    """Round figures from below the lowest to above the highest, 0 among them."""
    low, high = min(low, 0.0), max(high, 0.0)
    if low == high:
        high = 1.0
    rough = (high - low) / (most - 1)
    power = 10.0 ** math.floor(math.log10(rough))
    step = next(each * power for each in (1, 2, 2.5, 5, 10) if each * power >= rough * (1 - 1e-9))
    return [number * step for number in range(math.floor(low / step), math.ceil(high / step) + 1)]


def shortened(label: str, room: float) -> str:
    """As much of a name as there is room for, at about seven units a letter."""
    most = max(int(room / 7), 3)
    return label if len(label) <= most else label[: most - 1].rstrip() + "…"
