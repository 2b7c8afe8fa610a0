"""Lay open what a cell was made of."""

from __future__ import annotations

from collections.abc import Iterator

from lofty_abacus.core.answer.answer import cell_of
from lofty_abacus.core.answer.cells import Figure
from lofty_abacus.core.answer.rows import ShownRow
from lofty_abacus.core.answer.table import answered_column, answered_column_of
from lofty_abacus.core.days import day_of
from lofty_abacus.core.measures.sums import LineSum, Quantity, Side
from lofty_abacus.core.measures.table import Measure, Terms
from lofty_abacus.core.money import decimal_text
from lofty_abacus.core.proof.days import stretches_of, term_name
from lofty_abacus.core.proof.finding import Behind, Found, behind, lines_request
from lofty_abacus.core.proof.proof import Fact, Operand, Proof, Term


def prove(found: Found) -> Proof:
    """The evidence for one cell."""
    cells, recipe = found.cells, found.recipe
    bases = () if found.slot is None else cells.resolved.slots[found.slot].bases
    return Proof(
        column=answered_column(cells, recipe, found.place.across),
        path=found.path,
        labels=_labels(found),
        result=answered_column_of([ShownRow(found.place.row, cells, found.siblings)], recipe, found.place.across)[0],
        operands=tuple(_operand(found, each) for each in found.figures),
        month_end_rule_matters=recipe.window > 0 and bool(bases) and bases[recipe.window - 1].month_end_rule_matters,
        unit=recipe.measure.unit,
        facts=tuple(_facts(found)),
    )


def _labels(found: Found) -> tuple[str, ...]:
    spot, source = found.place.row.spot, found.cells.resolved.source
    members = iter(source.members(name).label(code) for name, code in zip(spot.dimensions, spot.codes, strict=True))
    times = iter(found.place.row.time)
    levels = found.cells.rows.levels[: found.place.row.depth]
    return tuple(next(members) if isinstance(level, str) else next(times) for level in levels)


def _facts(found: Found) -> Iterator[Fact]:
    """What else a number rests on: how many stand in its list, the steps of a change with those beside it."""
    cells, recipe, place = found.cells, found.recipe, found.place
    if recipe.kind == "rank":
        rank = cells.value(place, recipe).exact
        if rank is not None:
            yield Fact("ahead", str(int(rank) - 1))
        yield Fact("siblings", str(len(cells.siblings(place.row) or (place,))))
    elif recipe.kind in ("cumulative", "cumulative_share") and (at := found.siblings.find(place.row)) is not None:
        yield Fact("rows_so_far", str(at + 1))
    elif recipe.kind in ("bridge", "price_volume_mix"):
        for other in cells.resolved.columns:
            if other.kind == recipe.kind and other.metric == recipe.metric and other.window == recipe.window:
                value = cells.value(place, other)
                yield Fact(other.step, cell_of(value).value or "", value.reason)
    elif recipe.goal is not None:
        verdict = cells.verdict(place, recipe)
        yield Fact("target", cells.target(place, recipe))
        if verdict is not None and verdict.met is not None:
            yield Fact("met", "yes" if verdict.met else "no")


def _operand(found: Found, figure: Figure) -> Operand:
    where, evaluation = behind(found, figure), found.cells.evaluation_of(figure)
    resolved, measure = found.cells.resolved, found.recipe.measure
    stretch = resolved.stretches[figure.window]
    window = stretch.window
    request = lines_request(found, figure)
    extent = where.source.extent(request)

    def lines(side: Side) -> int:
        return where.evaluation.quantity(where.spot, LineSum("lines", side), figure.window)

    every, sales = lines("all"), lines("sale")
    read = every if request.side == "all" else sales if request.side == "sale" else every - sales
    return Operand(
        about=figure.about,
        window=0 if figure.window == resolved.ever else figure.window % (len(resolved.bases) + 1),
        path=tuple(
            resolved.source.members(name).key(code) for name, code in zip(figure.spot.dimensions, figure.spot.codes, strict=True)
        ),
        cell=cell_of(evaluation.value(figure.spot, measure, figure.window)),
        terms=() if window.reason else tuple(_terms(where, measure, figure.window)),
        days=window.counted.ranges,
        counted_days=window.counted.days,
        lines=extent.lines,
        sale_lines=sales,
        return_lines=every - sales,
        lines_left_out=0 if where.ledger else read - extent.lines,
        first_line_day=None if extent.first_day is None else day_of(extent.first_day),
        last_line_day=None if extent.last_day is None else day_of(extent.last_day),
        reason=window.reason,
        stretches=stretches_of(found, figure),
        dimensions=figure.spot.dimensions,
        divisor=stretch.divisor,
        ledger=where.ledger,
    )


def _terms(where: Behind, measure: Measure, window: int) -> Iterator[Term]:
    """The parts of the value by name: net sales as gross sales less returns, a ratio as its two sides."""

    if measure.formula is not None:
        for part in measure.parts:
            value = where.evaluation.value(where.spot, part, window)
            yield Term(part.name, 1, cell_of(value).value or "", reason=value.reason)
        return

    def text(quantity: Quantity, sign: int = 1) -> str:
        minor = sign * where.evaluation.quantity(where.spot, quantity, window)
        return decimal_text(minor, where.evaluation.resolved.ledger.scales.of(quantity))

    def parts(terms: Terms, *, divides: bool) -> Iterator[Term]:
        for sign, quantity in terms.terms:
            if measure.bottom is None and isinstance(quantity, LineSum) and quantity.side == "all":
                sale = LineSum(quantity.column, "sale", quantity.given)
                back = LineSum(quantity.column, "return", quantity.given)
                yield Term(f"{quantity.column}_sold", sign, text(sale))
                yield Term(f"{quantity.column}_returned", -sign, text(back, -1))
            else:
                yield Term(term_name(quantity), sign, text(quantity), divides)

    yield from parts(measure.top, divides=False)
    if measure.bottom is not None:
        yield from parts(measure.bottom, divides=True)
